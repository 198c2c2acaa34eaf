"""Exceptions for single students: another due date, more attempts, or excused."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from cubedrill.service.access import assignment_to_change
from cubedrill.service.assignments.responses import ExceptionResponse
from cubedrill.service.assignments.settings import moment
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.classes import note
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store.assignments import exceptions_in
from cubedrill.store.people import classes
from cubedrill.store.tables import AssignmentException, Person


@dataclass(frozen=True)
class ExceptionOptions:
    """The terms of an exception; none by default.

    due: in the class's time zone. attempts: the number allowed. reason: for instructors only.
    """

    due: datetime | None = None
    attempts: int | None = None
    excused: bool = False
    reason: str = ""


def set_exceptions(
    db: Session, person: Person, assignment_id: int, people: Collection[int], options: ExceptionOptions
) -> None:
    """Set or replace the exceptions of some students at an assignment; options with nothing in them remove these.

    Raises RefusedError "not-found" if one of the people is no student of the class, "no-such-time",
    "due-before-open" or "class-archived".
    """
    assignment = assignment_to_change(db, person, assignment_id)
    if not set(people) <= {each.id for each in classes.students_of(db, assignment.class_id)}:
        raise RefusedError("not-found")
    due_at = None if options.due is None else moment(options.due, assignment.classroom.time_zone, fold=1)
    if due_at is not None and assignment.opens_at is not None and due_at <= assignment.opens_at:
        raise RefusedError("due-before-open")
    existing = exceptions_in(db, [assignment.id], people)
    title = assigned_exercise(assignment).exercise.title
    differs = due_at is not None or options.attempts is not None or options.excused
    for person_id in sorted(set(people)):
        row = existing.get((assignment.id, person_id))
        if not differs:
            if row is None:
                continue
            db.delete(row)
        else:
            if row is None:
                row = AssignmentException(assignment_id=assignment.id, person_id=person_id)
                db.add(row)
            row.due_at, row.attempts, row.excused = due_at, options.attempts, options.excused
            row.reason, row.by_id = options.reason, person.id
        changed = in_words(due_at, options, assignment.classroom.time_zone)
        facts = {"assignment": assignment.id, "title": title, "person": person_id, "changed": changed}
        note(db, person, "exception changed", assignment.class_id, **facts)


def in_words(due_at: datetime | None, options: ExceptionOptions, time_zone: str) -> str:
    """Return what holds for a student, in words for the student; the reason is not in them."""
    parts = []
    if options.excused:
        parts.append("you are excused")
    if due_at is not None:
        parts.append(f"your due date is {due_at.astimezone(ZoneInfo(time_zone)):%d %B %Y, %H:%M} ({time_zone})")
    if options.attempts is not None:
        parts.append(f"you have {options.attempts} attempt{'' if options.attempts == 1 else 's'}")
    return "; ".join(parts) or "the same as for the rest of the class"


def exception_view(
    exception: AssignmentException | None, time_zone: str, *, private: bool = False
) -> ExceptionResponse | None:
    """Return an exception; private: with the reason and in the class's time zone, for an instructor."""
    if exception is None:
        return None
    due = None if exception.due_at is None else exception.due_at.astimezone(ZoneInfo(time_zone)).replace(tzinfo=None)
    return ExceptionResponse(
        due_at=exception.due_at,
        due=due,
        attempts=exception.attempts,
        excused=exception.excused,
        reason=exception.reason if private else "",
    )


def exceptions_for(
    db: Session, person_id: int, class_ids: Collection[int], since: datetime
) -> list[tuple[int, str, datetime]]:
    """List what changed for one student alone: at which assignment, in words, and when; the newest first."""
    return [
        (event.facts["assignment"], event.facts["changed"], event.happened_at)
        for event in classes.events_of_kind(db, class_ids, "exception changed", since)
        if event.facts["person"] == person_id
    ]
