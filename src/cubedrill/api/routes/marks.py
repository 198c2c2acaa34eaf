"""A class as a whole: the board, live, and one student."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Request
from fastapi.responses import Response, StreamingResponse
from pydantic import Field
from sqlalchemy.orm import Session

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges, current_person, session_cookie
from cubedrill.api.ids import AssignmentId, ClassId, Id, RecheckId, StudentId
from cubedrill.api.live import MOST_LOOKING, Hub, Key
from cubedrill.api.problems import busy
from cubedrill.api.routes.people.classes import CreatedId
from cubedrill.api.routes.work.files import Bytes, sent
from cubedrill.core.values import Number, Value
from cubedrill.service.access import class_for
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks import board, export, insight, marks, rechecks, totals
from cubedrill.service.marks.responses import (
    BoardResponse,
    ChangedResponse,
    InsightResponse,
    RecheckResponse,
    StudentResponse,
)
from cubedrill.service.people import accounts

router = APIRouter(prefix="/classes", tags=["board"])
insights = APIRouter(tags=["board"])


class AskRecheck(Value):
    """By which version; none: the assigned one."""

    version: Id | None = None


class ApplyRecheck(Value):
    """The submissions to apply, or None for all."""

    submissions: Annotated[tuple[Id, ...], Field(max_length=100_000, fail_fast=True)] | None = None


class WeightBody(Value):
    """The weight of an assignment in the total."""

    assignment: Id
    weight: Annotated[Number, Field(ge=0, le=1000)]


class WeightsBody(Value):
    """Weights of assignments of a class."""

    weights: Annotated[tuple[WeightBody, ...], Field(max_length=1000, fail_fast=True)]


class Counted(Value):
    """For how many it was done."""

    count: int


@router.get("/{class}/board")
def get_board(class_id: ClassId, person: CurrentPerson, db: Database) -> BoardResponse:
    """Return the board of a class: students by assignments."""
    return board.board_of(db, person, class_id)


@router.put("/{class}/weights", status_code=204)
def put_weights(class_id: ClassId, body: WeightsBody, person: PersonWhoChanges, db: Database) -> None:
    """Set weights of assignments in the total."""
    totals.set_weights(db, person, class_id, {each.assignment: each.weight for each in body.weights})


@router.get("/{class}/students/{student}")
def get_student(class_id: ClassId, student: StudentId, person: CurrentPerson, db: Database) -> StudentResponse:
    """Return a student with all submissions."""
    return board.student_in(db, person, class_id, student)


@insights.get("/assignments/{assignment}/insight")
def get_insight(assignment: AssignmentId, person: CurrentPerson, db: Database) -> InsightResponse:
    """Return the class mistakes of one assignment."""
    return insight.insight(db, person, assignment)


@insights.get("/assignments/{assignment}/remarks")
def get_remarks(assignment: AssignmentId, person: CurrentPerson, db: Database) -> list[str]:
    """List earlier remarks on submissions for this assignment, the last used first."""
    return marks.remarks_used(db, person, assignment)


@insights.get("/assignments/{assignment}/recheck")
def get_newest_recheck(assignment: AssignmentId, person: CurrentPerson, db: Database) -> RecheckResponse | None:
    """Return the newest re-check of an assignment."""
    return rechecks.newest_recheck(db, person, assignment)


@insights.post("/assignments/{assignment}/recheck", status_code=201)
def post_recheck(assignment: AssignmentId, body: AskRecheck, person: PersonWhoChanges, db: Database) -> CreatedId:
    """Have everything re-checked that was submitted for an assignment."""
    return CreatedId(id=rechecks.ask(db, person, assignment, body.version))


@insights.get("/rechecks/{recheck}")
def get_recheck(recheck: RecheckId, person: CurrentPerson, db: Database) -> RecheckResponse:
    """Return the progress of a re-check, and what it would change."""
    return rechecks.recheck_of(db, person, recheck)


@insights.delete("/rechecks/{recheck}", status_code=204)
def delete_recheck(recheck: RecheckId, person: PersonWhoChanges, db: Database) -> None:
    """Stop re-checking."""
    rechecks.cancel(db, person, recheck)


@insights.post("/rechecks/{recheck}/acceptance")
def post_acceptance(recheck: RecheckId, body: ApplyRecheck, person: PersonWhoChanges, db: Database) -> Counted:
    """Let what was re-checked count."""
    return Counted(count=rechecks.take(db, person, recheck, body.submissions))


@insights.get("/assignments/{assignment}/marks", response_class=Bytes)
def get_exercise_marks(assignment: AssignmentId, person: CurrentPerson, db: Database) -> Response:
    """Return every check of an assignment as a table."""
    return sent(export.exercise_marks(db, person, assignment))


@router.get("/{class}/marks", response_class=Bytes)
def get_marks(class_id: ClassId, kind: export.Kind, person: CurrentPerson, db: Database) -> Response:
    """Return the marks of a class as a file."""
    return sent(export.class_marks(db, person, class_id, kind))


@router.get("/{class}/live", response_class=StreamingResponse, responses={200: {"content": {"text/event-stream": {}}}})
async def get_live(class_id: ClassId, request: Request) -> Response:
    """Send changes of a board as events: `again` (reload it) and `cells` (the cells that changed)."""
    hub: Hub = request.app.state.hub
    if len(hub.looking) + hub.opening >= MOST_LOOKING:
        return busy()
    token, engine = session_cookie(request), request.app.state.engine

    def may_look() -> None:
        with Session(engine) as db:
            class_for(db, current_person(accounts.signed_in(db, token, datetime.now(UTC))), class_id)

    def read(changed: set[Key]) -> ChangedResponse | None:
        try:
            with Session(engine) as db:
                person = accounts.signed_in(db, token, datetime.now(UTC)).person
                return board.changed_cells(db, person, class_id, changed)
        except RefusedError:
            return None

    await hub.open(may_look)
    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return StreamingResponse(hub.stream(class_id, read), media_type="text/event-stream", headers=headers)
