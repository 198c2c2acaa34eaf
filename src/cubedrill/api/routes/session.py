"""Signing in and out."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import Field

from cubedrill.api.access import COOKIE, CurrentSession, Database, PersonWhoChanges, same_origin
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
    address = request.client.host if request.client else ""
    token, person = accounts.sign_in(db, body.sign_in, body.password, address, datetime.now(UTC))
    seconds = int(accounts.SESSION_LENGTH.total_seconds())
    secure = request.app.state.settings.secure_cookies
    response.set_cookie(COOKIE, token, max_age=seconds, httponly=True, samesite="lax", secure=secure)
    return person


@router.get("")
def who(session: CurrentSession) -> PersonView:
    """Who is signed in."""
    return accounts.person_view(session, session.person)


@router.delete("", status_code=204)
def sign_out(session: CurrentSession, _: PersonWhoChanges, response: Response, db: Database) -> None:
    """Sign out."""
    accounts.sign_out(db, session)
    response.delete_cookie(COOKIE)
