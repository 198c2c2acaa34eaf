"""Responses about submissions, the board and class mistakes."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from cubedrill.core.judging.matching import How
from cubedrill.core.judging.verdict import CheckResult, Verdict
from cubedrill.core.values import Count, Identifier, Number, Value
from cubedrill.service.assignments.responses import ExceptionResponse
from cubedrill.service.responses import ExerciseResponse, PoseResponse, StepResponse

WorkState = Literal["not started", "started", "submitted"]


class WorkResponse(Value):
    """A student's progress in an assignment. score, passed, late: of the attempt that counts, if they may be shown."""

    state: WorkState
    attempts: int
    score: float | None
    passed: bool
    late: bool
    newest_submission: int | None


class MarkResponse(Value):
    """The points that count.

    changed: whether an instructor set some of them. to_come: at most so many more, for what an instructor has yet to
    judge.
    """

    points: float
    of: float
    score: float | None
    passed: bool
    changed: bool
    to_come: float = 0.0


class RemarkView(Value):
    """The view in which a remark was written.

    step: how many of the submitted steps were done in it. eye, middle: where it was seen from and to, in the exercise's
    axes; None for the usual view.
    """

    step: Count
    eye: tuple[Number, Number, Number] | None = None
    middle: tuple[Number, Number, Number] | None = None


class RemarkPlace(Value):
    """The place of a remark: a check, an object or a step (from 1), and the view in which it was written."""

    check: Identifier | None = None
    object: Identifier | None = None
    step: Annotated[Count, Field(ge=1)] | None = None
    view: RemarkView | None = None

    @model_validator(mode="after")
    def _is_one(self) -> Self:
        if sum(part is not None for part in (self.check, self.object, self.step)) > 1:
            raise ValueError("a remark is on a check, an object or a step, not on several")
        return self


class ChangeResponse(Value):
    """A review: points for a check with a reason (None takes them back), or a remark without a check.

    place: what the remark is on, if not on the whole.
    """

    check: str | None
    points: float | None
    text: str
    place: RemarkPlace | None
    by: str
    made_at: datetime


class CauseResponse(Value):
    """Why something was missed, as far as the viewer may know.

    step: of the reference, if that is shown. proof: what is known of it, in a sentence.
    """

    object: str
    text: str
    step: int | None
    code: str | None
    proof: str
    objects: tuple[str, ...]


class AttemptResponse(Value):
    """One of the times that a student handed something in for one exercise."""

    submission: int
    number: int
    submitted_at: datetime
    mark: MarkResponse


class SinceResponse(Value):
    """Against the try before: labels of the checks that have more points now, and of those that have fewer."""

    number: int
    better: tuple[str, ...]
    worse: tuple[str, ...]


class MatchedResponse(Value):
    """An object of the exercise, the handed-in one that was taken for it, and by what."""

    target: str
    submitted: str
    by: How


class ReportResponse(Value):
    """The program's verdict, as far as the one who looks is told; why is told apart."""

    rules_version: str
    score: float | None
    points: float
    of: float
    passed: bool
    checks: tuple[CheckResult, ...]
    matches: tuple[MatchedResponse, ...]


class JudgedResponse(Value):
    """Work as it was checked.

    in_file: names of a scene's objects by their ids in the file. report: the program's, as far as the one who looks is
    told; mark: with what an instructor changed. placed: where everything was submitted. reference: the reference, where
    it is shown. parted: the first own step that leaves it. cancelling: pairs of own steps that cancel each other.
    """

    exercise: ExerciseResponse
    kind: str
    steps: tuple[StepResponse, ...]
    placed: dict[str, PoseResponse]
    report: ReportResponse
    causes: tuple[CauseResponse, ...]
    reference: tuple[StepResponse, ...] | None
    parted: int | None
    cancelling: tuple[tuple[int, int], ...]
    mark: MarkResponse
    in_file: dict[str, str]
    pass_mark: float


class ResultResponse(JudgedResponse):
    """A checked submission.

    feedback_at: until then the student sees no feedback, and report and marks are empty. attempts: all attempts of this
    student at the assignment, the first one first. since: compared with the attempt before, if checks are shown.
    explained: whether the search for causes is finished. file: the name of the submitted file, if any; notes: its
    import notes.
    """

    submission: int
    assignment: int
    class_id: int
    class_name: str
    number: int
    person: int
    student: str
    own: bool
    submitted_at: datetime
    days_late: int
    kept: float | None
    excused: bool
    feedback_at: datetime | None
    attempts: tuple[AttemptResponse, ...]
    since: SinceResponse | None
    points_set: dict[str, float]
    changes: tuple[ChangeResponse, ...]
    may_review: bool
    explained: bool
    file: str | None
    notes: tuple[str, ...]


class StudentRowResponse(Value):
    """A student's row of the submissions page.

    causes: why the newest submission missed, the likeliest first. looked: whether an instructor has opened it.
    """

    person: int
    student: str
    work: WorkResponse
    submitted_at: datetime | None
    late: bool
    reviewed: bool
    exception: ExceptionResponse | None
    causes: tuple[str, ...]


class SubmissionsResponse(Value):
    """The submissions of a class for an assignment."""

    assignment: int
    class_id: int
    title: str
    class_name: str
    due_at: datetime
    rows: tuple[StudentRowResponse, ...]


class ColumnResponse(Value):
    """An assignment, as a column of the board. weight: in the total; attempts: the number allowed."""

    assignment: int
    title: str
    opens_at: datetime | None
    due_at: datetime
    weight: float
    attempts: int | None


class BoardRowResponse(Value):
    """A student, as a row of the board. total: from 0 to 1, if anything counts yet."""

    person: int
    name: str
    left: bool
    total: float | None


class CellResponse(Value):
    """A student's cell on the board.

    score, passed, late: of the try that counts. newest: the submission that came last; looked: whether an instructor
    has opened it. at_work: the last save, if it is later; in_place: of so many checks, if that is
    shown.
    """

    assignment: int
    person: int
    attempts: int
    score: float | None
    passed: bool
    late: bool
    newest: int | None
    reviewed: bool
    at_work: datetime | None
    in_place: int | None
    checks: int | None
    exception: ExceptionResponse | None


class BoardResponse(Value):
    """A class: students by assignments. cells: those with work or an exception. now: as the server's clock is."""

    class_id: int
    name: str
    time_zone: str
    archived: bool
    columns: tuple[ColumnResponse, ...]
    rows: tuple[BoardRowResponse, ...]
    cells: tuple[CellResponse, ...]
    now: datetime


class TotalResponse(Value):
    """The total of a student, from 0 to 1."""

    person: int
    total: float | None


class ChangedResponse(Value):
    """Cells of a board that changed, and the totals of their students."""

    cells: tuple[CellResponse, ...]
    totals: tuple[TotalResponse, ...]
    now: datetime


class StudentAttemptResponse(Value):
    """A try of a student, with why it missed."""

    submission: int
    number: int
    submitted_at: datetime
    late: bool
    mark: MarkResponse
    causes: tuple[str, ...]


class StudentAssignmentResponse(Value):
    """An assignment, with all attempts of a student. due_at: the student's own. allowed: attempts."""

    assignment: int
    title: str
    due_at: datetime
    weight: float
    allowed: int | None
    exception: ExceptionResponse | None
    attempts: tuple[StudentAttemptResponse, ...]


class StudentResponse(Value):
    """A student of a class with all that the student submitted."""

    person: int
    name: str
    class_id: int
    class_name: str
    time_zone: str
    archived: bool
    total: float | None
    left: bool
    items: tuple[StudentAssignmentResponse, ...]


class WhoResponse(Value):
    """A student and one submission."""

    person: int
    name: str
    submission: int


class CauseCountResponse(Value):
    """A cause, and who has it: in the try that counts, or in any."""

    code: str
    object: str
    text: str
    counted: tuple[WhoResponse, ...]
    ever: tuple[WhoResponse, ...]


class DotResponse(Value):
    """A student's miss in a check: from the target, one number for each axis; and its size in tolerances."""

    person: int
    name: str
    submission: int
    miss: tuple[float, ...]
    off: float
    verdict: Verdict


class OffResponse(Value):
    """A typical mistake, and how far off it is in a check, in the check's unit."""

    text: str
    off: float


class CheckInsightResponse(Value):
    """A check, and where the class came to in it. mistakes: that are off in it; lost: how many had no number in it."""

    id: str
    kind: str
    label: str
    space: str
    unit: str
    axes: tuple[str, ...]
    tolerance: tuple[float, ...]
    dots: tuple[DotResponse, ...]
    lost: int
    passed: int
    mistakes: tuple[OffResponse, ...]


class HowResponse(Value):
    """How the attempt that counts was made. minutes: since the bench was opened; typed, dragged: counts of steps."""

    person: int
    name: str
    submission: int
    minutes: float | None
    steps: int
    typed: int
    dragged: int


class GivenUpResponse(Value):
    """A student who has begun and not submitted."""

    person: int
    name: str
    saved_at: datetime
    steps: int
    in_place: int | None
    checks: int | None


class InsightResponse(Value):
    """Class mistakes of one assignment. students: in the class; submitted, passed: counts of them. up: an axis."""

    assignment: int
    class_id: int
    class_name: str
    title: str
    version: int
    up: str
    due_at: datetime
    students: int
    submitted: int
    passed: int
    causes: tuple[CauseCountResponse, ...]
    checks: tuple[CheckInsightResponse, ...]
    how: tuple[HowResponse, ...]
    given_up: tuple[GivenUpResponse, ...]


class RecheckedResponse(Value):
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


class RecheckResponse(Value):
    """Re-checking: how far it is, and what would change. state: `working`, `done`, `cancelled` or `taken`."""

    recheck: int
    assignment: int
    title: str
    version: int
    rules_version: str
    asked_at: datetime
    state: str
    total: int
    done: int
    rows: tuple[RecheckedResponse, ...]
