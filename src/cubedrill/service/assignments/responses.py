"""Responses about the settings of an assignment."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.values import Value


class VersionChoice(Value):
    """A version of an exercise."""

    version: int
    number: int


class SettingResponse(Value):
    """How something is set. opens, due: as clocks of the class show them. versions: that could take its place."""

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
    """What became of open drafts under another version: how many can be done as they are, and whose cannot."""

    carried: int
    broken: tuple[str, ...]
