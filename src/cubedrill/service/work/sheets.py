"""Work that is not done on the bench: values computed on paper and typed in a sheet."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy.orm import Session

from cubedrill.core.judging.submission import SheetSubmission, load_submission
from cubedrill.service.access import assignment_for
from cubedrill.service.disclosure import while_working
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import PreparedExercise, assigned_exercise
from cubedrill.service.rendering import shown_exercise
from cubedrill.service.work.bench import Source, add_submission
from cubedrill.service.work.responses import SheetResponse, SheetSent
from cubedrill.store.assignments import terms_of
from cubedrill.store.documents import SHEET, SheetDocument
from cubedrill.store.news import live
from cubedrill.store.tables import Person, SheetDraft
from cubedrill.store.work import sheets, submissions


def open_sheet(db: Session, person: Person, assignment_id: int) -> SheetResponse:
    """Return the exercise and the student's sheet."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = assigned_exercise(assignment)
    sheet = sheets.get_sheet(db, assignment_id, person.id, _empty(ready))
    return SheetResponse(
        assignment=assignment.id,
        due_at=terms_of(db, assignment, person.id).due_at,
        exercise=shown_exercise(ready, while_working(ready.exercise.rules)),
        revision=sheet.revision,
        saved_at=sheet.saved_at,
        **_facts(sheet),
    )


def save_sheet(db: Session, person: Person, assignment_id: int, revision: int, sent: SheetSent) -> int:
    """Save a sheet against the revision it was made on; return the new one.

    Raises RefusedError "stale-sheet", or the CoreError of a row that cannot be; then nothing is saved.
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = assigned_exercise(assignment)
    document = SheetDocument(conventions=sent.conventions, cells=sent.cells, rows=sent.rows)
    load_submission(ready.start, ready.target, _submission(ready, document))
    sheet = _opened(db, person, assignment_id, ready)
    if sheet.revision != revision:
        raise RefusedError("stale-sheet")
    sheets.save_sheet(db, sheet, document)
    live.tell(db, assignment.class_id, assignment.id, person.id)
    return sheet.revision


def submit_sheet(db: Session, person: Person, assignment_id: int, revision: int, now: datetime) -> int:
    """Submit the sheet as it was saved; the same revision again is the same submission.

    Raises RefusedError "stale-sheet" or "nothing-typed".
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = assigned_exercise(assignment)
    sheet = _opened(db, person, assignment_id, ready)
    if sheet.revision != revision:
        raise RefusedError("stale-sheet")
    existing = submissions.submission_of_revision(db, assignment, person.id, "sheet", revision)
    if existing is not None:
        return existing.id
    document = SHEET.read(sheet.document, sheet.shape)
    if not document.rows:
        raise RefusedError("nothing-typed")
    source = Source(assignment, person.id, sheet.revision)
    return add_submission(db, ready, source, _submission(ready, document), now)


def _opened(db: Session, person: Person, assignment_id: int, ready: PreparedExercise) -> SheetDraft:
    return sheets.opened_sheet(db, assignment_id, person.id, _empty(ready))


def _empty(ready: PreparedExercise) -> SheetDocument:
    return SheetDocument(conventions=ready.exercise.conventions, cells={})


def _facts(sheet: SheetDraft) -> dict[str, object]:
    document = SHEET.read(sheet.document, sheet.shape)
    return {"conventions": document.conventions, "cells": document.cells, "rows": document.rows}


def _submission(ready: PreparedExercise, document: SheetDocument) -> SheetSubmission:
    return SheetSubmission(
        format="cube-drill/submission", version=1, exercise=ready.exercise.id, kind="sheet",
        conventions=document.conventions, rows=document.rows,
    )  # fmt: skip
