"""Find who is asking: the session cookie, the CSRF token, and a database transaction for each request."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from datetime import UTC, datetime
from ipaddress import ip_address
from typing import Annotated
from urllib.parse import urlsplit

from fastapi import Depends, Header, HTTPException, Request
from sqlalchemy.orm import Session

from cubedrill.service.errors import RefusedError
from cubedrill.service.people.accounts import From, hold, signed_in
from cubedrill.settings import Settings
from cubedrill.store.news.live import noted
from cubedrill.store.tables import Person, SignedIn

COOKIE = "cube_drill_session"
# The prefix makes browsers take the cookie from this very host over https alone; without https they would refuse it.
SECURE_COOKIE = "__Host-cube_drill_session"


def cookie_name(settings: Settings) -> str:
    """Return the name of the session's cookie."""
    return SECURE_COOKIE if settings.secure_cookies else COOKIE


def session_cookie(request: Request) -> str | None:
    """Return the secret token that a browser holds, if it does."""
    return request.cookies.get(cookie_name(request.app.state.settings))


def address_of(request: Request) -> str:
    """Return the address that a request came from; empty where it is none."""
    try:
        return str(ip_address(request.client.host if request.client else ""))
    except ValueError:
        return ""


def from_where(request: Request) -> From:
    """Return the address and the browser that a request came from."""
    return From(address_of(request), request.headers.get("user-agent", ""))


CameFrom = Annotated[From, Depends(from_where)]


def database(request: Request) -> Iterator[Session]:
    """Yield a session whose transaction is committed after the route, or rolled back if it raises.

    After a commit, live boards receive the changes.
    """
    with Session(request.app.state.engine) as db:
        with db.begin():
            yield db
        request.app.state.hub.pass_on(noted(db))


# "function": committed before the answer goes out, so that what is acknowledged is kept.
Database = Annotated[Session, Depends(database, scope="function")]


def same_origin(request: Request, origin: Annotated[str | None, Header(include_in_schema=False)] = None) -> None:
    """Refuse a change that a page of another origin asks for."""
    if origin is not None and _origin(origin) != _origin(str(request.base_url)):
        raise HTTPException(403, "This request comes from another site. Open Cube Drill itself")


def _origin(url: str) -> tuple[str, str | None, int | None] | None:
    """Return scheme, host and port of a URL, said or by the scheme; none where it is no URL."""
    try:
        parts = urlsplit(url)
        return parts.scheme, parts.hostname, parts.port or {"http": 80, "https": 443}.get(parts.scheme)
    except ValueError:
        return None


def current_session(request: Request, db: Database) -> SignedIn:
    """Return the session of the cookie; raise RefusedError "signed-out"."""
    session = signed_in(db, session_cookie(request), datetime.now(UTC))
    request.state.person = session.person_id  # for the access log
    return session


CurrentSession = Annotated[SignedIn, Depends(current_session)]


def current_person(session: CurrentSession) -> Person:
    """Return who is signed in; raise RefusedError "choose-password" for who has a one-time password still."""
    if session.person.one_time_until is not None:
        raise RefusedError("choose-password")
    return session.person


def session_that_changes(
    session: CurrentSession, _: Annotated[None, Depends(same_origin)], x_csrf_token: Annotated[str, Header()] = ""
) -> SignedIn:
    """Return the session, for a change: the request must carry its CSRF token."""
    if not secrets.compare_digest(x_csrf_token.encode(), session.csrf_token.encode()):
        raise HTTPException(403, "This request has no valid token. Reload the page")
    return session


SessionThatChanges = Annotated[SignedIn, Depends(session_that_changes)]


def person_who_changes(session: SessionThatChanges, db: Database) -> Person:
    """Return the signed-in person for a change, and keep the person from being erased until it is done."""
    person = current_person(session)
    hold(db, person)
    return person


CurrentPerson = Annotated[Person, Depends(current_person)]
PersonWhoChanges = Annotated[Person, Depends(person_who_changes)]
