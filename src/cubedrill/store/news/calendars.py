"""Addresses of calendar feeds."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.store.tables import CalendarFeed, Person


def token_of(db: Session, person_id: int) -> str | None:
    """Return the secret part of the address of a person's calendar."""
    return db.scalar(select(CalendarFeed.token).where(CalendarFeed.person_id == person_id))


def keep_token(db: Session, person_id: int, token: str) -> None:
    """Keep the secret part of the address, in the place of the one before."""
    query = insert(CalendarFeed).values(person_id=person_id, token=token)
    db.execute(query.on_conflict_do_update(index_elements=[CalendarFeed.person_id], set_={"token": token}))


def owner_of(db: Session, token: str) -> Person | None:
    """Find the person whose calendar has this address."""
    query = select(Person).join(CalendarFeed, CalendarFeed.person_id == Person.id)
    return db.scalar(query.where(CalendarFeed.token == token, Person.erased_at.is_(None)))
