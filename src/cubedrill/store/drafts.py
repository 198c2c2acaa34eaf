"""Drafts: opened once, then saved against a revision."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import Select, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.store.shapes import STEPS
from cubedrill.store.tables import Draft


def opened_draft(db: Session, assignment_id: int, person_id: int) -> Draft:
    """Return a person's draft; make an empty one of revision 0 where there is none, even if two ask at once."""
    empty = {"assignment_id": assignment_id, "person_id": person_id, "steps": [], "off": [], "cursor": 0, "revision": 0}
    empty["shape"], empty["matches"] = STEPS.number, {}
    db.execute(insert(Draft).values(empty).on_conflict_do_nothing())
    return db.scalars(_own(assignment_id, person_id)).one()


def locked_draft(db: Session, assignment_id: int, person_id: int) -> Draft:
    """Return a person's draft, held against other writers until the transaction ends."""
    opened_draft(db, assignment_id, person_id)
    return db.scalars(_own(assignment_id, person_id).with_for_update().execution_options(populate_existing=True)).one()


def save_draft(db: Session, draft: Draft, revision: int, work: dict[str, Any]) -> bool:
    """Save work (steps, off, cursor, shape, matches) if the draft still has this revision; return whether it had."""
    query = update(Draft).where(Draft.id == draft.id, Draft.revision == revision)
    query = query.values(**work, revision=revision + 1, saved_at=func.now())
    saved = db.execute(query.returning(Draft.id)).first() is not None
    db.refresh(draft)
    return saved


def drafts_of_assignment(db: Session, assignment_id: int) -> Sequence[Draft]:
    """All drafts of what is set."""
    return db.scalars(select(Draft).where(Draft.assignment_id == assignment_id)).all()


def drafts_of_person(db: Session, person_id: int) -> Sequence[Draft]:
    """All drafts of a person."""
    return db.scalars(select(Draft).where(Draft.person_id == person_id)).all()


def _own(assignment_id: int, person_id: int) -> Select[Draft]:
    return select(Draft).where(Draft.assignment_id == assignment_id, Draft.person_id == person_id)
