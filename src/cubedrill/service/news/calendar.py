"""The calendar feed of a person: due dates at a private address."""

from __future__ import annotations

import secrets
from datetime import datetime

from sqlalchemy.orm import Session

from cubedrill.formats.calendar import DueDate, calendar_file
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store import assignments
from cubedrill.store.news import calendars
from cubedrill.store.tables import Person


def calendar_token(db: Session, person: Person) -> str | None:
    """Return the secret part of the address of a person's calendar; None until it has been made."""
    return calendars.token_of(db, person.id)


def renew_calendar(db: Session, person: Person) -> str:
    """Give a person's calendar a new address, and return its secret part; the one before no longer works."""
    token = secrets.token_urlsafe(32)
    calendars.keep_token(db, person.id, token)
    return token


def calendar_of(db: Session, token: str, address: str, now: datetime) -> bytes:
    """Return the due dates of whoever has this calendar: as a student, and of the classes that they teach.

    address: of the product, for links. A student's own due dates count; excused ones and archived classes are left
    out. Raises RefusedError "no-such-calendar".
    """
    person = calendars.owner_of(db, token)
    if person is None:
        raise RefusedError("no-such-calendar")
    dates = []
    mine = assignments.assignments_of(db, person.id, "student")
    exceptions = assignments.exceptions_in(db, [item.id for item in mine], [person.id])
    for item in mine:
        terms = assignments.terms_with(item, exceptions.get((item.id, person.id)))
        if not terms.excused:
            dates.append((item, terms.due_at, f"bench/{item.id}"))
    taught = assignments.assignments_of(db, person.id, "instructor")
    dates += [(item, item.due_at, f"classes/{item.class_id}") for item in taught]
    return calendar_file(
        "Cube Drill",
        [
            DueDate(
                id=f"{address}/assignments/{item.id}",
                title=assigned_exercise(item).exercise.title,
                class_name=item.classroom.name,
                due_at=due_at,
                address=f"{address}/{page}",
            )
            for item, due_at, page in dates
            if item.classroom.archived_at is None
        ],
        now,
    )
