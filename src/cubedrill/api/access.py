"""Who is asking: the session cookie, the CSRF token, and a database transaction a request."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Annotated

from fastapi import Cookie, Depends, Header, HTTPException, Request
from sqlalchemy.orm import Session

from cubedrill.service.accounts import signed_in
from cubedrill.store.tables import Person, SignedIn

COOKIE = "cube_drill_session"


def database(request: Request) -> Iterator[Session]:
    """Give a transaction that is committed when the route has answered, and rolled back when it raised."""
    with Session(request.app.state.engine) as db, db.begin():
        yield db


# "function": committed before the answer goes out, so that what is acknowledged is kept.
Database = Annotated[Session, Depends(database, scope="function")]


def same_origin(request: Request, origin: Annotated[str | None, Header(include_in_schema=False)] = None) -> None:
    """Refuse a change that a page of another origin asks for."""
    if origin is not None and origin.split("://")[-1] != request.headers.get("host"):
        raise HTTPException(403, "This request comes from another site; open Cube Drill itself")


def current_session(
    db: Database, cube_drill_session: Annotated[str | None, Cookie(include_in_schema=False)] = None
) -> SignedIn:
    """Return the session of the cookie; raise RefusedError "signed-out"."""
    return signed_in(db, cube_drill_session, datetime.now(UTC))


CurrentSession = Annotated[SignedIn, Depends(current_session)]


def current_person(session: CurrentSession) -> Person:
    """Return who is signed in."""
    return session.person


def person_who_changes(
    session: CurrentSession, _: Annotated[None, Depends(same_origin)], x_csrf_token: Annotated[str, Header()] = ""
) -> Person:
    """Return who is signed in, for a change: the request must carry the session's CSRF token."""
    if not secrets.compare_digest(x_csrf_token.encode(), session.csrf_token.encode()):
        raise HTTPException(403, "This request carries no valid token; load the page again")
    return session.person


CurrentPerson = Annotated[Person, Depends(current_person)]
PersonWhoChanges = Annotated[Person, Depends(person_who_changes)]
