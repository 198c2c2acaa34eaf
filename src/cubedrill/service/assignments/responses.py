"""Responses about the settings of an assignment."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.values import Value


class VersionChoice(Value):
    """A version of an exercise."""

    version: int
    number: int


class SettingsResponse(Value):
    """The options of an assignment.

    opens, due: in the class's time zone. late_per_day, late_floor: shares of the mark. versions: that could replace its
    version.
    """

    assignment: int
    class_id: int
    class_name: str
    time_zone: str
    title: str
    version: int
    opens: datetime | None
    due: datetime | None
    attempts: int | None
    counts: str
    feedback: str | None
    feedback_by_exercise: str
    feedback_when: str
    late: str
    late_per_day: float
    late_floor: float
    drafts_shown: bool
    versions: tuple[VersionChoice, ...]


class CarriedResponse(Value):
    """Open drafts under another version: how many can be replayed, and whose cannot."""

    carried: int
    broken: tuple[str, ...]
