"""Signing in and out, one's password, where one is signed in, and joining a class by a code."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Path, Request, Response
from pydantic import Field, StringConstraints

from cubedrill.api.access import (
    CameFrom,
    CurrentSession,
    Database,
    PersonWhoChanges,
    SessionThatChanges,
    cookie_name,
    same_origin,
    session_cookie,
)
from cubedrill.core.values import Value
from cubedrill.formats.roster import LONGEST, SIGN_IN
from cubedrill.service.people import accounts, classes
from cubedrill.service.people.responses import SessionResponse
from cubedrill.service.responses import PersonResponse

router = APIRouter(prefix="/session", tags=["session"])

Password = Annotated[str, Field(min_length=1, max_length=1000)]
Code = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=20, pattern=r"^[^\x00]*$")]
Name = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=LONGEST, pattern=r"^[^\x00-\x1f\x7f]*$")
]


class ChoosePassword(Value):
    """The password that one has, and the one that one wants."""

    old: Password
    new: Password


class Join(Value):
    """The code of a class."""

    code: Code


class JoinAsNew(Join):
    """The code of a class, and who comes in by it."""

    name: Name
    sign_in: Annotated[
        str, StringConstraints(strip_whitespace=True, pattern=f"^(?i:{SIGN_IN.pattern})$", max_length=100)
    ]
    password: Password


class Joined(Value):
    """The class that one is in now."""

    class_id: int


class SignIn(Value):
    """Name and password."""

    sign_in: Annotated[str, Field(min_length=1, max_length=100, pattern=r"^[^\x00]*$")]
    password: Password


@router.post("", status_code=201, dependencies=[Depends(same_origin)])
def sign_in(body: SignIn, request: Request, response: Response, db: Database, at: CameFrom) -> PersonResponse:
    """Sign in: sets the session cookie, answers with the token that changes must carry."""
    return _begun(accounts.sign_in(db, body.sign_in, body.password, at, datetime.now(UTC)), request, response, db)


def _begun(made: tuple[str, PersonResponse], request: Request, response: Response, db: Database) -> PersonResponse:
    """Set the cookie of a session that begins, and end the one that the browser had."""
    token, person = made
    accounts.end_session(db, session_cookie(request))
    settings = request.app.state.settings
    seconds = int(accounts.SESSION_LENGTH.total_seconds())
    secure = settings.secure_cookies
    response.set_cookie(cookie_name(settings), token, max_age=seconds, httponly=True, samesite="lax", secure=secure)
    return person


@router.get("")
def who(session: CurrentSession, db: Database) -> PersonResponse:
    """Return the person who is signed in."""
    return accounts.person_response(db, session, session.person)


@router.delete("", status_code=204)
def sign_out(session: SessionThatChanges, request: Request, response: Response, db: Database) -> None:
    """Sign out."""
    accounts.sign_out(db, session)
    settings = request.app.state.settings
    response.delete_cookie(cookie_name(settings), httponly=True, samesite="lax", secure=settings.secure_cookies)


@router.delete("/others", status_code=204)
def end_others(session: SessionThatChanges, db: Database) -> None:
    """End all other sessions of mine, on whatever machine."""
    accounts.end_others(db, session)


@router.get("/all")
def get_sessions(session: CurrentSession, db: Database) -> list[SessionResponse]:
    """List my sessions."""
    return list(accounts.sessions_of(db, session, datetime.now(UTC)))


@router.delete("/all/{one}", status_code=204)
def end_one(one: Annotated[str, Path(pattern="^[0-9a-f]{16}$")], session: SessionThatChanges, db: Database) -> None:
    """End one of my sessions."""
    accounts.end_one(db, session, one, datetime.now(UTC))


@router.put("/password", status_code=204)
def put_password(body: ChoosePassword, session: SessionThatChanges, db: Database) -> None:
    """Choose a password of my own; all my other sessions end."""
    accounts.choose_password(db, session, body.old, body.new, datetime.now(UTC))


@router.post("/class", status_code=201)
def join(body: Join, person: PersonWhoChanges, db: Database, at: CameFrom) -> Joined:
    """Join a class by its code."""
    return Joined(class_id=classes.join(db, person, body.code, at, datetime.now(UTC)))


@router.post("/new", status_code=201, dependencies=[Depends(same_origin)])
def join_as_new(body: JoinAsNew, request: Request, response: Response, db: Database, at: CameFrom) -> PersonResponse:
    """Join a class by its code with a new account, and sign in."""
    who = (body.name, body.sign_in, body.password)
    return _begun(classes.join_as_new(db, body.code, who, at, datetime.now(UTC)), request, response, db)
