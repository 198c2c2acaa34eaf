"""Files as students sent them. One that was not submitted is there until the next one comes."""

from __future__ import annotations

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, undefer

from cubedrill.store.tables import StoredSubmission, UploadedFile


def newest_order(db: Session, assignment_id: int, person_id: int) -> int:
    """Return the largest order that a person's files for an assignment have; 0 if there is none."""
    query = select(func.max(UploadedFile.sent_order))
    query = query.where(UploadedFile.assignment_id == assignment_id, UploadedFile.person_id == person_id)
    return db.scalar(query) or 0


def keep_file(db: Session, file: UploadedFile) -> UploadedFile:
    """Add a file; it replaces the one that this person sent before for this assignment and did not submit."""
    submitted = select(StoredSubmission.file_id).where(StoredSubmission.file_id == UploadedFile.id)
    own = (UploadedFile.assignment_id == file.assignment_id) & (UploadedFile.person_id == file.person_id)
    db.execute(delete(UploadedFile).where(own, ~submitted.exists()))
    db.add(file)
    db.flush()
    return file


def file_by_id(db: Session, file_id: int) -> UploadedFile | None:
    """Find a file with its content."""
    return db.scalar(
        select(UploadedFile)
        .where(UploadedFile.id == file_id)
        .options(undefer(UploadedFile.content), undefer(UploadedFile.imported))
    )
