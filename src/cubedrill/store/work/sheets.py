"""Sheets in progress: one a student and exercise, saved against a revision."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.store.documents import SHEET, SheetDocument
from cubedrill.store.tables import SheetDraft


def get_sheet(db: Session, assignment_id: int, person_id: int, empty: SheetDocument) -> SheetDraft:
    """Return a person's sheet, or an empty one of revision 0 that is not in the database."""
    query = select(SheetDraft).where(SheetDraft.assignment_id == assignment_id, SheetDraft.person_id == person_id)
    found = db.scalars(query).one_or_none()
    if found is not None:
        return found
    key = {"assignment_id": assignment_id, "person_id": person_id}
    return SheetDraft(**key, **_columns(empty), revision=0, saved_at=datetime.now(UTC))


def opened_sheet(db: Session, assignment_id: int, person_id: int, empty: SheetDocument) -> SheetDraft:
    """Return a person's sheet, held against other writers; add an empty one if there is none."""
    values = {"assignment_id": assignment_id, "person_id": person_id, "revision": 0, **_columns(empty)}
    db.execute(insert(SheetDraft).values(values).on_conflict_do_nothing())
    query = select(SheetDraft).where(SheetDraft.assignment_id == assignment_id, SheetDraft.person_id == person_id)
    return db.scalars(query.with_for_update().execution_options(populate_existing=True)).one()


def save_sheet(db: Session, sheet: SheetDraft, document: SheetDocument) -> None:
    """Save what a held sheet says."""
    query = update(SheetDraft).where(SheetDraft.id == sheet.id)
    db.execute(query.values(**_columns(document), revision=sheet.revision + 1, saved_at=func.now()))
    db.refresh(sheet)


def _columns(document: SheetDocument) -> dict[str, object]:
    return {"document": SHEET.written(document), "shape": SHEET.number}
