"""Files as students sent them. One that was not handed in is there until the next one comes."""

from __future__ import annotations

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, undefer

from cubedrill.store.tables import HandedFile, StoredSubmission


def newest_order(db: Session, assignment_id: int, person_id: int) -> int:
    """Return the largest order that a person's files for something set have; 0 if there is none."""
    query = select(func.max(HandedFile.sent_order))
    query = query.where(HandedFile.assignment_id == assignment_id, HandedFile.person_id == person_id)
    return db.scalar(query) or 0


def keep_file(db: Session, file: HandedFile) -> HandedFile:
    """Add a file; it replaces the one that this person sent before for this assignment and did not submit."""
    handed_in = select(StoredSubmission.file_id).where(StoredSubmission.file_id == HandedFile.id)
    own = (HandedFile.assignment_id == file.assignment_id) & (HandedFile.person_id == file.person_id)
    db.execute(delete(HandedFile).where(own, ~handed_in.exists()))
    db.add(file)
    db.flush()
    return file


def file_by_id(db: Session, file_id: int) -> HandedFile | None:
    """Find a file with its content."""
    return db.scalar(
        select(HandedFile)
        .where(HandedFile.id == file_id)
        .options(undefer(HandedFile.content), undefer(HandedFile.imported))
    )
