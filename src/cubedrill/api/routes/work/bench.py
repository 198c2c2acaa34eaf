"""The start page, the bench, submitting, and looking at what was submitted."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Self

from fastapi import APIRouter, Response
from pydantic import Field, StringConstraints, model_validator

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.api.ids import AssignmentId, SubmissionId
from cubedrill.api.routes.work.editing import Svg, add_editor_routes
from cubedrill.core.values import Count, Identifier, Number, Value
from cubedrill.service.marks import marks, review
from cubedrill.service.marks.responses import RemarkPlace, ResultResponse, SubmissionsResponse
from cubedrill.service.news import home
from cubedrill.service.news.responses import HomeResponse
from cubedrill.service.plans import library
from cubedrill.service.work import bench, sheets
from cubedrill.service.work.editing import StepEditor
from cubedrill.service.work.responses import BenchResponse, SheetResponse, SheetSent

router = APIRouter(tags=["work"])


class SubmitWork(Value):
    """The revision of the draft that is submitted."""

    revision: Count


class SubmittedResponse(Value):
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
    """Points for a check with a reason (without points: as the program judged), or a remark without a check.

    place: what a remark is on; None for the whole. Points for a check by hand need no text.
    """

    check: Identifier | None = None
    points: Annotated[Number, Field(ge=0)] | None = None
    place: RemarkPlace | None = None
    text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=5000)] = ""

    @model_validator(mode="after")
    def _says_enough(self) -> Self:
        if self.check is None and self.points is not None:
            raise ValueError("points are those of a check")
        if self.check is None and not self.text:
            raise ValueError("a remark needs a text")
        return self


@router.get("/home")
def get_home(person: CurrentPerson, db: Database) -> HomeResponse:
    """Return my assignments, and those that I have made."""
    return home.home_of(db, person)


@router.get("/assignments/{assignment}/bench")
def get_bench(assignment: AssignmentId, person: CurrentPerson, db: Database) -> BenchResponse:
    """Return the exercise with my draft."""
    return bench.open_bench(db, person, assignment)


@router.get("/assignments/{assignment}/drawing", response_class=Svg)
def get_drawing(assignment: AssignmentId, person: CurrentPerson, db: Database) -> Response:
    """Return a small drawing of an assignment: the start, and the target if it is visible."""
    return Svg(library.set_drawing(db, person, assignment), headers={"Cache-Control": "private, max-age=3600"})


def _step_editor(assignment: AssignmentId, person: PersonWhoChanges, db: Database) -> StepEditor:
    return bench.step_editor_of(db, person, assignment)


add_editor_routes(router, "/assignments/{assignment}", _step_editor)


@router.post("/assignments/{assignment}/submissions", status_code=201)
def post_submission(
    assignment: AssignmentId, body: SubmitWork, person: PersonWhoChanges, db: Database
) -> SubmittedResponse:
    """Submit my draft; the same revision twice is one submission."""
    return SubmittedResponse(submission=bench.submit(db, person, assignment, body.revision, datetime.now(UTC)))


@router.get("/assignments/{assignment}/sheet")
def get_sheet(assignment: AssignmentId, person: CurrentPerson, db: Database) -> SheetResponse:
    """Return the exercise with my sheet of typed values."""
    return sheets.open_sheet(db, person, assignment)


@router.put("/assignments/{assignment}/sheet")
def put_sheet(assignment: AssignmentId, body: SaveSheet, person: PersonWhoChanges, db: Database) -> SavedSheet:
    """Save my sheet; a stale revision is refused."""
    revision = sheets.save_sheet(db, person, assignment, body.revision, body.sheet)
    return SavedSheet(revision=revision)


@router.post("/assignments/{assignment}/sheet/submissions", status_code=201)
def post_sheet(assignment: AssignmentId, body: SubmitWork, person: PersonWhoChanges, db: Database) -> SubmittedResponse:
    """Submit my sheet; the same revision twice is one submission."""
    return SubmittedResponse(submission=sheets.submit_sheet(db, person, assignment, body.revision, datetime.now(UTC)))


@router.get("/assignments/{assignment}/submissions")
def get_submissions(assignment: AssignmentId, person: CurrentPerson, db: Database) -> SubmissionsResponse:
    """List the submissions of the class."""
    return review.class_submissions(db, person, assignment)


@router.post("/submissions/{submission}/reviews", status_code=204)
def post_review(submission: SubmissionId, body: ReviewBody, person: PersonWhoChanges, db: Database) -> None:
    """Set the points of a check with a reason, take that back, or write a remark."""
    marks.add_review(db, person, submission, marks.Given(body.text, body.check, body.points, body.place))


@router.post("/submissions/{submission}/reviewed", status_code=204)
def post_looked(submission: SubmissionId, person: PersonWhoChanges, db: Database) -> None:
    """I have looked at a submission of my class."""
    marks.note_looked(db, person, submission)


@router.get("/submissions/{submission}")
def get_submission(submission: SubmissionId, person: CurrentPerson, db: Database) -> ResultResponse:
    """Return a checked submission."""
    return review.result_of(db, person, submission)
