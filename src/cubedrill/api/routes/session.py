"""Signing in and out."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import Field

from cubedrill.api.access import (
    CurrentSession,
    Database,
    PersonWhoChanges,
    address_of,
    cookie_name,
    same_origin,
    session_cookie,
)
from cubedrill.core.values import Value
from cubedrill.service import accounts
from cubedrill.service.views import PersonView

router = APIRouter(prefix="/session", tags=["session"])


class SignIn(Value):
    """Name and password."""

    sign_in: Annotated[str, Field(min_length=1, max_length=100, pattern=r"^[^\x00]*$")]
    password: Annotated[str, Field(min_length=1, max_length=1000)]


@router.post("", status_code=201, dependencies=[Depends(same_origin)])
def sign_in(body: SignIn, request: Request, response: Response, db: Database) -> PersonView:
    """Sign in: sets the session cookie, answers with the token that changes must carry."""
    token, person = accounts.sign_in(db, body.sign_in, body.password, address_of(request), datetime.now(UTC))
    accounts.end_session(db, session_cookie(request))
    settings = request.app.state.settings
    seconds = int(accounts.SESSION_LENGTH.total_seconds())
    secure = settings.secure_cookies
    response.set_cookie(cookie_name(settings), token, max_age=seconds, httponly=True, samesite="lax", secure=secure)
    return person


@router.get("")
def who(session: CurrentSession) -> PersonView:
    """Who is signed in."""
    return accounts.person_view(session, session.person)


@router.delete("", status_code=204)
def sign_out(session: CurrentSession, _: PersonWhoChanges, request: Request, response: Response, db: Database) -> None:
    """Sign out."""
    accounts.sign_out(db, session)
    settings = request.app.state.settings
    response.delete_cookie(cookie_name(settings), httponly=True, samesite="lax", secure=settings.secure_cookies)


@router.delete("/others", status_code=204)
def end_others(session: CurrentSession, _: PersonWhoChanges, db: Database) -> None:
    """End all other sessions of mine, on whatever machine."""
    accounts.end_others(db, session)
