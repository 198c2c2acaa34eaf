"""Responses about the settings of an assignment."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.values import Value


class VersionChoice(Value):
    """A version of an exercise."""

    version: int
    number: int


class SettingResponse(Value):
    """The options of an assignment. opens, due: in the class's time zone. versions: that could replace its version."""

    assignment: int
    class_id: int
    class_name: str
    time_zone: str
    title: str
    version: int
    opens: datetime | None
    due: datetime | None
    tries: int | None
    counts: str
    told: str | None
    told_by_exercise: str
    told_when: str
    late_counts: bool
    drafts_shown: bool
    versions: tuple[VersionChoice, ...]


class CarriedResponse(Value):
    """Open drafts under another version: how many can be replayed, and whose cannot."""

    carried: int
    broken: tuple[str, ...]
