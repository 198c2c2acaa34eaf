"""The calendar feed of a person: its private address, and the file there."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Path, Request
from fastapi.responses import Response

from cubedrill.api.access import CurrentPerson, Database, PersonWhoChanges
from cubedrill.core.values import Value
from cubedrill.service.news import calendar

router = APIRouter(prefix="/calendar", tags=["calendar"])

MEDIA_TYPE = "text/calendar"
Token = Annotated[str, Path(pattern=r"^[A-Za-z0-9_-]{20,100}$")]


class CalendarAddress(Value):
    """The address of a calendar feed; None until it has been made."""

    address: str | None


@router.get("")
def get_address(person: CurrentPerson, db: Database, request: Request) -> CalendarAddress:
    """Return the address of my calendar feed."""
    return CalendarAddress(address=_address(request, calendar.calendar_token(db, person)))


@router.post("", status_code=201)
def post_address(person: PersonWhoChanges, db: Database, request: Request) -> CalendarAddress:
    """Give my calendar feed a new address; the one before ends."""
    return CalendarAddress(address=_address(request, calendar.renew_calendar(db, person)))


@router.get("/{token}.ics", response_class=Response, responses={200: {"content": {MEDIA_TYPE: {}}}})
def get_calendar(token: Token, db: Database, request: Request) -> Response:
    """Return a calendar of due dates to whoever knows its address."""
    content = calendar.calendar_of(db, token, str(request.base_url).rstrip("/"), datetime.now(UTC))
    return Response(content, media_type=MEDIA_TYPE, headers={"Cache-Control": "private, no-cache"})


def _address(request: Request, token: str | None) -> str | None:
    return None if token is None else f"{str(request.base_url).rstrip('/')}/api/calendar/{token}.ics"
