"""Responses about the start page."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.judging.late import LatePolicy
from cubedrill.core.values import Value
from cubedrill.service.marks.responses import WorkResponse


class AssignedExerciseResponse(Value):
    """A row of a student's start page.

    opens_at: while that is still to come, with no more than title and dates. due_at: the student's own, if own_due.
    attempts_left: None if there is no limit. mark_shown: whether the student sees the mark yet.
    """

    assignment: int
    title: str
    class_name: str
    opens_at: datetime | None
    due_at: datetime
    own_due: bool
    excused: bool
    archived: bool
    attempts_left: int | None
    mark_shown: bool
    late_policy: LatePolicy
    work: WorkResponse


class TaughtExerciseResponse(Value):
    """A row of an instructor's start page.

    not_looked: how many newest submissions no instructor has opened; next_to_look: the one that waits longest. shared:
    the cause that most have, and how many do.
    """

    assignment: int
    title: str
    class_id: int
    class_name: str
    opens_at: datetime | None
    due_at: datetime
    students: int
    submitted: int
    passed: int
    not_reviewed: int
    next_to_review: int | None
    shared: str
    shared_by: int


class TaughtClassResponse(Value):
    """A class that somebody teaches."""

    id: int
    name: str
    students: int


class ClassTotalResponse(Value):
    """A student's total in a class, from 0 to 1, if any mark counts yet."""

    class_id: int
    class_name: str
    total: float | None


class NewsResponse(Value):
    """A change for a student: `remark`, `mark`, `re-checked`, `settings changed` or `exception changed`.

    text: the remark, or what changed.
    """

    what: str
    assignment: int
    submission: int | None
    title: str
    text: str
    at: datetime


class InvitationResponse(Value):
    """A class that somebody is asked to teach, by whom and when."""

    class_id: int
    class_name: str
    by: str
    made_at: datetime


class HomeResponse(Value):
    """The start page: a person's assignments, news, assigned exercises and classes.

    invitations: requests to teach a class.
    """

    teaches: bool
    invitations: tuple[InvitationResponse, ...]
    to_do: tuple[AssignedExerciseResponse, ...]
    news: tuple[NewsResponse, ...]
    taught: tuple[TaughtExerciseResponse, ...]
    classes: tuple[TaughtClassResponse, ...]
    totals: tuple[ClassTotalResponse, ...]
