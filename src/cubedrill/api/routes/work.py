"""The start page, the bench, handing in, and looking at what was handed in."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any, Self

from fastapi import APIRouter, Path
from pydantic import BeforeValidator, Field, StringConstraints, model_validator

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.core.judging.submission import Choices, SceneFile
from cubedrill.core.scene.measuring import Asked
from cubedrill.core.scene.spaces import ViewDirections
from cubedrill.core.steps import StepList
from cubedrill.core.values import Identifier, Number, Value
from cubedrill.service import bench, home, marks, measures, review, sheets, text
from cubedrill.service.draft import DraftSteps
from cubedrill.service.views import (
    BenchView,
    DraftView,
    HomeView,
    LinesView,
    LookView,
    MatchesView,
    MeasuresView,
    PreviewView,
    ResultView,
    SaidView,
    SheetSent,
    SheetView,
    SubmissionsView,
    TextView,
)

router = APIRouter(tags=["work"])


def _no_bool(value: Any) -> Any:
    if isinstance(value, bool):
        raise ValueError("a whole number is expected")
    return value


LARGEST_ID = 2**63 - 1
Count = Annotated[int, Field(ge=0, le=LARGEST_ID), BeforeValidator(_no_bool)]
AssignmentId = Annotated[int, Path(ge=1, le=LARGEST_ID)]
SubmissionId = Annotated[int, Path(ge=1, le=LARGEST_ID)]


class WorkBody(Value):
    """All steps, how many of them count, the places of those switched off, counted from 0, and matches by hand."""

    cursor: Count
    steps: StepList
    off: Annotated[tuple[Count, ...], Field(max_length=2000, fail_fast=True)] = ()
    matches: Choices = Field(default_factory=dict)

    @model_validator(mode="after")
    def _places_within(self) -> Self:
        if self.cursor > len(self.steps):
            raise ValueError("the cursor is at most the number of steps")
        if any(place >= len(self.steps) for place in self.off):
            raise ValueError("each place in 'off' is that of a step")
        return self

    def work(self) -> DraftSteps:
        """Return what the service works with."""
        return DraftSteps(self.steps, self.cursor, frozenset(self.off), self.matches)


class SayBody(WorkBody):
    """A line to be read in the scene after some steps; view: where right and up of the camera point."""

    line: Annotated[str, Field(max_length=20_000)]
    view: ViewDirections | None = None


class MeasuresBody(WorkBody):
    """What is to be measured in the scene after some steps."""

    asked: Annotated[tuple[Asked, ...], Field(max_length=50, fail_fast=True)]


class LinesBody(Value):
    """A text, a sentence a line."""

    text: Annotated[str, Field(max_length=2_000_000)]


class SaveDraft(WorkBody):
    """Work, the revision it was made on, and how many leading steps need no answer, since the sender has it."""

    revision: Count
    known: Count = 0


class HandIn(Value):
    """The revision of the draft that is handed in."""

    revision: Count


class HandedIn(Value):
    """The submission that was made, or that was there for this revision already."""

    submission: int


class SaveSheet(Value):
    """A sheet and the revision it was made on."""

    revision: Count
    sheet: SheetSent


class SavedSheet(Value):
    """The revision that was made."""

    revision: int


class ReviewBody(Value):
    """Points for a check with a reason (without points: as the program judged), or a remark without a check."""

    check: Identifier | None = None
    points: Annotated[Number, Field(ge=0)] | None = None
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=5000)]

    @model_validator(mode="after")
    def _points_of_a_check(self) -> Self:
        if self.check is None and self.points is not None:
            raise ValueError("points are those of a check")
        return self


@router.get("/home")
def get_home(person: CurrentPerson, db: Database) -> HomeView:
    """What is set for me, and what I have set."""
    return home.home_of(db, person)


@router.get("/assignments/{assignment}/bench")
def get_bench(assignment: AssignmentId, person: CurrentPerson, db: Database) -> BenchView:
    """The exercise with my draft."""
    return bench.open_bench(db, person, assignment)


@router.put("/assignments/{assignment}/draft")
def put_draft(assignment: AssignmentId, body: SaveDraft, person: PersonWhoChanges, db: Database) -> DraftView:
    """Save my draft; a stale revision is refused with the newer draft in the answer."""
    return bench.save(db, person, assignment, body.revision, bench.Sent(body.work(), body.known))


@router.post("/assignments/{assignment}/look")
def post_look(assignment: AssignmentId, body: WorkBody, person: PersonWhoChanges, db: Database) -> LookView:
    """The scene after some steps: checks and numbers. Nothing is saved."""
    return bench.look(db, person, assignment, body.work())


@router.post("/assignments/{assignment}/preview")
def post_preview(assignment: AssignmentId, body: WorkBody, person: PersonWhoChanges, db: Database) -> PreviewView:
    """What the last of these steps would do. Nothing is saved."""
    return bench.preview(db, person, assignment, body.work())


@router.post("/assignments/{assignment}/say")
def post_say(assignment: AssignmentId, body: SayBody, person: PersonWhoChanges, db: Database) -> SaidView:
    """A line of text read as a step in the scene after these steps. Nothing is saved."""
    return text.say(db, person, assignment, body.work(), (body.line, body.view))


@router.post("/assignments/{assignment}/text")
def post_text(assignment: AssignmentId, body: WorkBody, person: PersonWhoChanges, db: Database) -> TextView:
    """These steps as text."""
    return text.written(db, person, assignment, body.work())


@router.post("/assignments/{assignment}/lines")
def post_lines(assignment: AssignmentId, body: LinesBody, person: PersonWhoChanges, db: Database) -> LinesView:
    """A text read as steps, line by line. Nothing is saved."""
    return text.lines_of(db, person, assignment, body.text)


@router.post("/assignments/{assignment}/measures")
def post_measures(assignment: AssignmentId, body: MeasuresBody, person: PersonWhoChanges, db: Database) -> MeasuresView:
    """What is measured in the scene after these steps. Nothing is saved."""
    return measures.measures(db, person, assignment, body.work(), body.asked)


@router.post("/assignments/{assignment}/submissions", status_code=201)
def post_submission(assignment: AssignmentId, body: HandIn, person: PersonWhoChanges, db: Database) -> HandedIn:
    """Hand in my draft; the same revision twice is one submission."""
    return HandedIn(submission=bench.hand_in(db, person, assignment, body.revision, datetime.now(UTC)))


@router.get("/assignments/{assignment}/sheet")
def get_sheet(assignment: AssignmentId, person: CurrentPerson, db: Database) -> SheetView:
    """The exercise with my sheet of typed values."""
    return sheets.open_sheet(db, person, assignment)


@router.put("/assignments/{assignment}/sheet")
def put_sheet(assignment: AssignmentId, body: SaveSheet, person: PersonWhoChanges, db: Database) -> SavedSheet:
    """Save my sheet; a stale revision is refused."""
    revision = sheets.save_sheet(db, person, assignment, body.revision, body.sheet)
    return SavedSheet(revision=revision)


@router.post("/assignments/{assignment}/sheet/submissions", status_code=201)
def post_sheet(assignment: AssignmentId, body: HandIn, person: PersonWhoChanges, db: Database) -> HandedIn:
    """Hand in my sheet; the same revision twice is one submission."""
    return HandedIn(submission=sheets.hand_in_sheet(db, person, assignment, body.revision, datetime.now(UTC)))


@router.post("/assignments/{assignment}/scene/matches")
def post_matches(assignment: AssignmentId, body: SceneFile, person: PersonWhoChanges, db: Database) -> MatchesView:
    """What would be taken for what in a scene. Nothing is kept."""
    return sheets.matches_of(db, person, assignment, body)


@router.post("/assignments/{assignment}/scene/submissions", status_code=201)
def post_scene(assignment: AssignmentId, body: SceneFile, person: PersonWhoChanges, db: Database) -> HandedIn:
    """Hand in a whole scene; the same scene twice is one submission."""
    return HandedIn(submission=sheets.hand_in_scene(db, person, assignment, body, datetime.now(UTC)))


@router.get("/assignments/{assignment}/submissions")
def get_submissions(assignment: AssignmentId, person: CurrentPerson, db: Database) -> SubmissionsView:
    """What the class handed in."""
    return review.class_submissions(db, person, assignment)


@router.post("/submissions/{submission}/reviews", status_code=204)
def post_review(submission: SubmissionId, body: ReviewBody, person: PersonWhoChanges, db: Database) -> None:
    """Set the points of a check with a reason, take that back, or write a remark."""
    marks.add_review(db, person, submission, body.check, (body.points, body.text))


@router.get("/submissions/{submission}")
def get_submission(submission: SubmissionId, person: CurrentPerson, db: Database) -> ResultView:
    """A checked submission."""
    return review.result_of(db, person, submission)
