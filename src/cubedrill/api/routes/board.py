"""A class as a whole: the board, live, and one student."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Path, Request
from fastapi.responses import Response, StreamingResponse
from sqlalchemy.orm import Session

from cubedrill.api.access import CurrentPerson, Database, session_cookie
from cubedrill.api.live import MOST_LOOKING, Hub, Key
from cubedrill.api.problems import busy
from cubedrill.api.routes.classes import ClassId
from cubedrill.api.routes.desk import LARGEST_ID
from cubedrill.api.routes.setting import AssignmentId
from cubedrill.service import accounts, board, insight
from cubedrill.service.access import class_for
from cubedrill.service.board_views import BoardView, ChangedView, InsightView, StudentView
from cubedrill.service.errors import RefusedError

router = APIRouter(prefix="/classes", tags=["board"])
insights = APIRouter(tags=["board"])
StudentId = Annotated[int, Path(ge=1, le=LARGEST_ID)]


@router.get("/{class}/board")
def get_board(class_id: ClassId, person: CurrentPerson, db: Database) -> BoardView:
    """A class: students by what is set."""
    return board.board_of(db, person, class_id)


@router.get("/{class}/students/{student}")
def get_student(class_id: ClassId, student: StudentId, person: CurrentPerson, db: Database) -> StudentView:
    """A student with all that she handed in."""
    return board.student_in(db, person, class_id, student)


def _taught(class_id: ClassId, person: CurrentPerson, db: Database) -> int:
    class_for(db, person, class_id)
    return class_id


@insights.get("/assignments/{assignment}/insight")
def get_insight(assignment: AssignmentId, person: CurrentPerson, db: Database) -> InsightView:
    """What the class gets wrong in one thing set."""
    return insight.insight(db, person, assignment)


@router.get("/{class}/live", response_class=StreamingResponse, responses={200: {"content": {"text/event-stream": {}}}})
async def get_live(class_id: Annotated[int, Depends(_taught)], request: Request) -> Response:
    """What changes on a board, as server-sent events: `again` (ask for all of it) and `cells` (those that changed)."""
    hub: Hub = request.app.state.hub
    if len(hub.looking) >= MOST_LOOKING:
        return busy()
    token, engine = session_cookie(request), request.app.state.engine

    def read(changed: set[Key]) -> ChangedView | None:
        try:
            with Session(engine) as db:
                person = accounts.signed_in(db, token, datetime.now(UTC)).person
                return board.changed_cells(db, person, class_id, changed)
        except RefusedError:
            return None

    headers = {"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    return StreamingResponse(hub.stream(class_id, read), media_type="text/event-stream", headers=headers)
