"""Steps in the making, a student's or a plan's: opened once, then saved against a revision."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, TypeVar

from sqlalchemy import Select, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.store.shapes import STEPS
from cubedrill.store.tables import Draft, StepsKept

Kept = TypeVar("Kept", bound=StepsKept)


def opened_steps(db: Session, table: type[Kept], **key: int | str) -> Kept:
    """Return the steps under a key; make an empty list of revision 0 where there is none, even if two ask at once."""
    empty: dict[str, Any] = {
        **key,
        "steps": [],
        "off": [],
        "cursor": 0,
        "revision": 0,
        "shape": STEPS.number,
        "matches": {},
    }
    db.execute(insert(table).values(empty).on_conflict_do_nothing())
    return db.scalars(_under(table, key)).one()


def locked_steps(db: Session, table: type[Kept], **key: int | str) -> Kept:
    """Return the steps under a key, held against other writers until the transaction ends."""
    opened_steps(db, table, **key)
    return db.scalars(_under(table, key).with_for_update().execution_options(populate_existing=True)).one()


def save_steps(db: Session, draft: StepsKept, revision: int, work: dict[str, Any]) -> bool:
    """Save work (steps, off, cursor, shape, matches) if the draft still has this revision; return whether it had."""
    table = type(draft)
    query = update(table).where(table.id == draft.id, table.revision == revision)
    query = query.values(**work, revision=revision + 1, saved_at=func.now())
    saved = db.execute(query.returning(table.id)).first() is not None
    db.refresh(draft)
    return saved


def drafts_of_assignment(db: Session, assignment_id: int) -> Sequence[Draft]:
    """All drafts of what is set."""
    return db.scalars(select(Draft).where(Draft.assignment_id == assignment_id)).all()


def drafts_of_person(db: Session, person_id: int) -> Sequence[Draft]:
    """All drafts of a person."""
    return db.scalars(select(Draft).where(Draft.person_id == person_id)).all()


def _under(table: type[Kept], key: dict[str, int | str]) -> Select[Kept]:
    return select(table).where(*(getattr(table, name) == value for name, value in key.items()))
