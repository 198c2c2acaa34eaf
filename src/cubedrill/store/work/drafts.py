"""Steps in progress, a student's or a plan's: opened once, then saved against a revision."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TypeVar

from sqlalchemy import ColumnElement, Select, func, literal, null, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.store.documents import DRAFT
from cubedrill.store.tables import Draft, SheetDraft, StoredDraft

Kept = TypeVar("Kept", bound=StoredDraft)


def get_steps(db: Session, table: type[Kept], **key: int | str) -> Kept:
    """Return the steps under a key, or an empty list of revision 0 that is not in the database."""
    found = db.scalars(_under(table, key)).one_or_none()
    if found is None:
        found = table(**_empty(key))
        found.saved_at = datetime.now(UTC)
    return found


def opened_steps(db: Session, table: type[Kept], **key: int | str) -> Kept:
    """Return the steps under a key; add an empty list of revision 0 if there is none, even if two ask at once."""
    db.execute(insert(table).values(_empty(key)).on_conflict_do_nothing())
    return db.scalars(_under(table, key)).one()


def _empty(key: dict[str, int | str]) -> dict[str, object]:
    return {**key, **_columns(DraftSteps.of()), "revision": 0}


def _columns(draft: DraftSteps) -> dict[str, object]:
    return {"document": DRAFT.written(draft), "shape": DRAFT.number}


def locked_steps(db: Session, table: type[Kept], **key: int | str) -> Kept:
    """Return the steps under a key, held against other writers until the transaction ends."""
    opened_steps(db, table, **key)
    return db.scalars(_under(table, key).with_for_update().execution_options(populate_existing=True)).one()


def save_under(
    db: Session, table: type[Kept], key: dict[str, int | str], revision: int, draft: DraftSteps, **facts: int | None
) -> Kept | None:
    """Save a draft, and other columns of its row, if the row still has this revision; return the row, or None."""
    if revision == 0 and "id" not in key:
        opened_steps(db, table, **key)  # it may not be there yet
    query = update(table).where(*_is(table, key), table.revision == revision)
    query = query.values(**_columns(draft), **facts, revision=revision + 1, saved_at=func.now()).returning(table)
    return db.scalars(query, execution_options={"populate_existing": True}).one_or_none()


def save_steps(db: Session, row: StoredDraft, draft: DraftSteps) -> bool:
    """Save a draft if its row still has the revision that was read; return whether it had."""
    return save_under(db, type(row), {"id": row.id}, row.revision, draft) is not None


def started(db: Session, which: ColumnElement[bool]) -> set[tuple[int, int]]:
    """Drafts that have been worked on, by assignment and person."""
    rows = db.execute(select(Draft.assignment_id, Draft.person_id).where(which, Draft.revision > 0))
    return {(assignment, person) for assignment, person in rows}


def drafts_of(db: Session, assignment_id: int) -> Sequence[Draft]:
    """Return the drafts on one assignment that have been worked on."""
    return db.scalars(select(Draft).where(Draft.assignment_id == assignment_id, Draft.revision > 0)).all()


@dataclass(frozen=True)
class Progress:
    """Progress of a draft at its last save; in_place: passing checks of `checks`, if computed."""

    saved_at: datetime
    in_place: int | None
    checks: int | None
    steps: int


def progress(
    db: Session, ids: Collection[int], people: Collection[int] | None = None
) -> dict[tuple[int, int], Progress]:
    """Progress of drafts and sheets of some assignments, by assignment and person; people: of these alone."""
    found: dict[tuple[int, int], Progress] = {}
    columns = (Draft.saved_at, Draft.in_place, Draft.checks, Draft.steps_counting())
    sheet = (SheetDraft.saved_at, null(), null(), literal(0))
    for table, facts in ((SheetDraft, sheet), (Draft, columns)):
        query = select(table.assignment_id, table.person_id, *facts)
        query = query.where(table.assignment_id.in_(ids), table.revision > 0)
        if people is not None:
            query = query.where(table.person_id.in_(people))
        for assignment, person, *rest in db.execute(query):
            key, one = (assignment, person), Progress(*rest)
            found[key] = max(one, found.get(key, one), key=lambda each: each.saved_at)
    return found


def _under(table: type[Kept], key: dict[str, int | str]) -> Select[Kept]:
    return select(table).where(*_is(table, key))


def _is(table: type[StoredDraft], key: dict[str, int | str]) -> list[ColumnElement[bool]]:
    return [getattr(table, name) == value for name, value in key.items()]
