"""Responses about the settings of an assignment."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.values import Value


class VersionChoice(Value):
    """A version of an exercise."""

    version: int
    number: int


class ExceptionResponse(Value):
    """An exception for one student at an assignment.

    due: the due date in the class's time zone. attempts: the number allowed. reason: empty for the student.
    """

    due_at: datetime | None
    due: datetime | None
    attempts: int | None
    excused: bool
    reason: str


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


class CopyRowResponse(Value):
    """An assignment as it would be copied. version: the assigned one; opens, due: in the class's time zone."""

    assignment: int
    title: str
    version: VersionChoice
    newest: VersionChoice
    opens: datetime | None
    due: datetime


class CopyPlanResponse(Value):
    """How a class would be copied. weeks: by how many all dates shift."""

    class_id: int
    name: str
    time_zone: str
    weeks: int
    rows: tuple[CopyRowResponse, ...]


class CarriedResponse(Value):
    """Open drafts under another version: how many can be replayed, and whose cannot."""

    carried: int
    broken: tuple[str, ...]
