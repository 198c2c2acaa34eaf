"""Dates of the demo: what is loaded now was done before."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy import update
from sqlalchemy.orm import Session

from cubedrill.store.tables import Draft


def draft_as_of(db: Session, whose: tuple[int, int], when: datetime, minutes: int) -> None:
    """Have a draft saved last at a time, and begun some minutes before; whose: the assignment and the person."""
    which = (Draft.assignment_id == whose[0]) & (Draft.person_id == whose[1])
    db.execute(update(Draft).where(which).values(saved_at=when, begun_at=when - timedelta(minutes=minutes)))
