"""What the service answers with of a class as a whole: the board, a student, what the class gets wrong."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.judging.verdict import Verdict
from cubedrill.core.values import Value
from cubedrill.service.views import MarkView


class ColumnView(Value):
    """Something set, as a column of the board."""

    assignment: int
    title: str
    opens_at: datetime | None
    due_at: datetime


class BoardRowView(Value):
    """A student, as a row of the board."""

    person: int
    name: str
    left: bool


class CellView(Value):
    """Where a student stands with something set.

    score, passed, late: of the try that counts. newest: the submission that came last; looked: whether an instructor
    has opened it. at_work: when she saved last, where that is after it; in_place: of so many checks, where that is
    shown.
    """

    assignment: int
    person: int
    tries: int
    score: float | None
    passed: bool
    late: bool
    newest: int | None
    looked: bool
    at_work: datetime | None
    in_place: int | None
    checks: int | None


class BoardView(Value):
    """A class: students by what is set. cells: those in which something was done. now: as the server's clock is."""

    class_id: int
    name: str
    time_zone: str
    columns: tuple[ColumnView, ...]
    rows: tuple[BoardRowView, ...]
    cells: tuple[CellView, ...]
    now: datetime


class ChangedView(Value):
    """Cells of a board that changed."""

    cells: tuple[CellView, ...]
    now: datetime


class StudentTryView(Value):
    """A try of a student, with why it missed."""

    submission: int
    number: int
    handed_in_at: datetime
    late: bool
    mark: MarkView
    causes: tuple[str, ...]


class StudentSetView(Value):
    """Something set, with all tries of a student."""

    assignment: int
    title: str
    due_at: datetime
    tries: tuple[StudentTryView, ...]


class StudentView(Value):
    """A student of a class with all that she handed in."""

    person: int
    name: str
    class_id: int
    class_name: str
    left: bool
    items: tuple[StudentSetView, ...]


class WhoView(Value):
    """A student, and one of her submissions."""

    person: int
    name: str
    submission: int


class CauseCountView(Value):
    """A cause, and who has it: in the try that counts, or in any."""

    code: str
    object: str
    text: str
    counted: tuple[WhoView, ...]
    ever: tuple[WhoView, ...]


class DotView(Value):
    """Where a student came to in a check: from what was wanted, one number an axis; how many tolerances that is off."""

    person: int
    name: str
    submission: int
    miss: tuple[float, ...]
    off: float
    verdict: Verdict


class OffView(Value):
    """A typical mistake, and how far off it is in a check, in the check's unit."""

    text: str
    off: float


class CheckInsightView(Value):
    """A check, and where the class came to in it. mistakes: that are off in it; lost: how many had no number in it."""

    id: str
    kind: str
    label: str
    space: str
    unit: str
    axes: tuple[str, ...]
    tolerance: tuple[float, ...]
    dots: tuple[DotView, ...]
    lost: int
    passed: int
    mistakes: tuple[OffView, ...]


class HowView(Value):
    """How a student's try that counts was done. minutes: from the first opening on; typed, dragged: of its steps."""

    person: int
    name: str
    submission: int
    minutes: float | None
    steps: int
    typed: int
    dragged: int


class GivenUpView(Value):
    """A student who has begun and not handed in."""

    person: int
    name: str
    saved_at: datetime
    steps: int
    in_place: int | None
    checks: int | None


class InsightView(Value):
    """What a class gets wrong in one thing set. students: in the class; handed_in, passed: of them. up: an axis."""

    assignment: int
    class_id: int
    class_name: str
    title: str
    version: int
    up: str
    due_at: datetime
    students: int
    handed_in: int
    passed: int
    causes: tuple[CauseCountView, ...]
    checks: tuple[CheckInsightView, ...]
    how: tuple[HowView, ...]
    given_up: tuple[GivenUpView, ...]


class RecheckedView(Value):
    """A submission whose mark or verdicts would be others. why: it could not be judged so; taken: it counts now."""

    submission: int
    student: str
    number: int
    was: float
    was_of: float
    was_passed: bool
    points: float | None
    of: float | None
    passed: bool
    changed: tuple[str, ...]
    why: str
    taken: bool


class RecheckView(Value):
    """Judging again: how far it is, and what would change. state: `working`, `done`, `cancelled` or `taken`."""

    recheck: int
    assignment: int
    title: str
    version: int
    rules_version: str
    asked_at: datetime
    state: str
    total: int
    done: int
    rows: tuple[RecheckedView, ...]
