"""Errors as RFC 9457 problem details, each with one sentence for people."""

from __future__ import annotations

from typing import Final

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as NoConnectionFreeError
from sqlalchemy.orm import Session
from starlette.exceptions import HTTPException

from cubedrill.core.errors import CoreError
from cubedrill.formats.places import place_of, sentence_of
from cubedrill.service.errors import Code, RefusedError
from cubedrill.service.responses import DraftResponse
from cubedrill.store.tables import Event

STATUS: Final[dict[Code, int]] = {
    "signed-out": 401,
    "sign-in-failed": 401,
    "too-many-sign-ins": 429,
    "not-found": 404,
    "wrong-role": 403,
    "stale-draft": 409,
    "nothing-done": 422,
    "stale-sheet": 409,
    "nothing-typed": 422,
    "not-measured": 422,
    "too-many-lines": 422,
    "unknown-check": 422,
    "too-many-points": 422,
    "stale-plan": 409,
    "unsound": 422,
    "not-yours": 403,
    "view-only": 403,
    "not-invited": 404,
    "own-work": 403,
    "already-set": 409,
    "nothing-there": 422,
    "unreadable-file": 422,
    "newer-file": 409,
    "not-shown": 403,
    "not-open": 403,
    "choose-password": 403,
    "one-time-ended": 401,
    "wrong-password": 422,
    "weak-password": 422,
    "sign-in-taken": 409,
    "no-such-code": 422,
    "no-such-zone": 422,
    "no-such-time": 422,
    "due-before-open": 422,
    "late-cost": 422,
    "late-floor": 422,
    "no-weight": 422,
    "class-archived": 403,
    "copy-row": 422,
    "no-such-place": 422,
    "no-reason": 422,
    "no-such-calendar": 404,
    "not-only-yours": 403,
    "last-instructor": 409,
    "no-attempts-left": 409,
    "judged-already": 409,
    "still-judging": 409,
    "unreadable-roster": 422,
    "name-differs": 422,
}
TITLES: Final = {
    400: "Unreadable request",
    401: "Sign in",
    403: "Not allowed",
    404: "Not found",
    405: "Not found",
    408: "Too slow",
    409: "Changed in another window",
    411: "Length missing",
    413: "Too large",
    422: "Refused",
    429: "Too many attempts",
    500: "Fault",
    503: "Not ready",
}
LONGEST_PATH: Final = 200  # of what is kept of a path
# PostgreSQL's codes for a lock that did not come in time, a deadlock that was ended, a statement that took too long.
WAITED_IN_VAIN: Final = ("55P03", "40P01", "57014")
MEDIA_TYPE: Final = "application/problem+json"


class Problem(BaseModel):
    """Problem details. code: closed; detail: one sentence; place: where in the request; newer: the draft that won."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    place: str | None = None
    step: int | None = None
    object: str | None = None
    newer: DraftResponse | None = None


DECLARED: Final[dict[int | str, dict[str, object]]] = {
    status: {
        "description": TITLES[status],
        "content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
    for status in (400, 401, 403, 404, 408, 409, 411, 413, 422, 429, 500, 503)
}


def problem(status: int, code: str, detail: str, **facts: object) -> JSONResponse:
    """Return a problem as an answer."""
    body = Problem(title=TITLES.get(status, "Error"), status=status, detail=detail, code=code, **facts)
    content = {key: value for key, value in body.model_dump(mode="json").items() if value is not None}
    return JSONResponse(content, status, media_type=MEDIA_TYPE)


def busy() -> JSONResponse:
    """Return the answer of a server that has more to do than it can take on."""
    sentence = "The server is busy. Your work is safe in this browser. Try again in a moment."
    answer = problem(503, "busy", sentence)
    answer.headers["Retry-After"] = "1"
    return answer


def note_refusal(request: Request, code: str) -> None:
    """Record that a signed-in person was refused, or sent no token."""
    person = getattr(request.state, "person", None)
    if person is not None:
        facts = {"code": code, "method": request.method, "path": request.url.path[:LONGEST_PATH]}
        with Session(request.app.state.engine) as db, db.begin():
            db.add(Event(person_id=person, kind="refused", facts=facts))


def add_problem_handlers(app: FastAPI) -> None:
    """Turn every refusal into a problem."""

    @app.exception_handler(RefusedError)
    def refused(request: Request, error: RefusedError) -> JSONResponse:
        if STATUS[error.code] in (403, 404):  # that something of others is there at all is not said, but kept
            note_refusal(request, error.code)
        answer = problem(STATUS[error.code], error.code, error.text, newer=error.newer)
        if "wait" in error.facts:
            answer.headers["Retry-After"] = str(error.facts["wait"])
        return answer

    @app.exception_handler(CoreError)
    def not_done(_: Request, error: CoreError) -> JSONResponse:
        return problem(422, error.code, error.text, step=error.step, object=error.object)

    @app.exception_handler(RequestValidationError)
    def not_valid(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        within, *location = first["loc"]  # body, path, query or header
        place = place_of(location, error.body) if within == "body" else ".".join(str(part) for part in location)
        if first["type"] == "json_invalid":
            return problem(400, "unreadable", "The request is not valid JSON. Send it again.", place=place)
        return problem(422, "not-valid", f"At {place}: {sentence_of(first['msg'])}", place=place)

    @app.exception_handler(HTTPException)
    def other(request: Request, error: HTTPException) -> JSONResponse:
        if error.status_code == 403:
            note_refusal(request, "http-403")
        detail = str(error.detail).rstrip(".") + "."
        return problem(error.status_code, f"http-{error.status_code}", detail)

    @app.exception_handler(NoConnectionFreeError)
    def no_connection(_: Request, __: NoConnectionFreeError) -> JSONResponse:
        return busy()

    @app.exception_handler(OperationalError)
    def not_reached(_: Request, error: OperationalError) -> JSONResponse:
        return _of_database(error)


def _of_database(error: OperationalError) -> JSONResponse:
    """Say what kept the database from doing it: somebody else's work, or that it is away."""
    if getattr(error.orig, "sqlstate", None) in WAITED_IN_VAIN:
        sentence = "Somebody else is changing the same thing. Your work is safe. Try again in a moment."
        return problem(503, "in-use", sentence)
    sentence = "The database does not answer. Your work is safe in this browser. Try again in a moment."
    return problem(503, "no-database", sentence)
