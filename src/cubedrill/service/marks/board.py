"""A class as a whole: the board, cells of it that changed, and one student."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.service.access import class_for
from cubedrill.service.assignments.exceptions import exception_view
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks.marks import mark_view
from cubedrill.service.marks.responses import (
    BoardResponse,
    BoardRowResponse,
    CellResponse,
    ChangedResponse,
    ColumnResponse,
    StudentAssignmentResponse,
    StudentAttemptResponse,
    StudentResponse,
    TotalResponse,
)
from cubedrill.service.marks.totals import totals_of
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store import assignments
from cubedrill.store.assignments import Key, Terms, terms_with
from cubedrill.store.marks.marks import MarkedAttempt, Tally, attempts_of_person, tallies_of_assignments
from cubedrill.store.people import classes
from cubedrill.store.tables import Assignment, AssignmentException, Membership, Person
from cubedrill.store.work import drafts
from cubedrill.store.work.drafts import Progress

MOST_CHANGED: Final = 2000  # cells that are told one by one; beyond, the board is asked for anew


def board_of(db: Session, person: Person, class_id: int) -> BoardResponse:
    """Return a class's board to an instructor of it."""
    classroom = class_for(db, person, class_id)
    items, now = assignments.assignments_in(db, class_id), datetime.now(UTC)
    members = [each for each in classes.members_of(db, class_id) if each.role == "student"]
    work = _work(db, items)
    worked = {who for _assignment, who in work.tallies}
    students = [each for each in members if each.left_at is None or each.person_id in worked]
    totals = totals_of(items, work.tallies, work.exceptions, [each.person_id for each in students], now)
    return BoardResponse(
        class_id=class_id,
        name=classroom.name,
        time_zone=classroom.time_zone,
        archived=classroom.archived_at is not None,
        columns=tuple(
            ColumnResponse(
                assignment=item.id,
                title=assigned_exercise(item).exercise.title,
                opens_at=item.opens_at,
                due_at=item.due_at,
                weight=item.weight,
                attempts=item.attempts,
            )
            for item in items
        ),
        rows=tuple(
            BoardRowResponse(
                person=each.person_id,
                name=each.person.name,
                left=each.left_at is not None,
                total=totals[each.person_id],
            )
            for each in students
        ),
        cells=_cells(items, work, classroom.time_zone),
        now=now,
    )


def changed_cells(db: Session, person: Person, class_id: int, changed: Collection[tuple[int, int]]) -> ChangedResponse:
    """Return some cells of a board, by assignment and person, to an instructor of the class."""
    classroom, now = class_for(db, person, class_id), datetime.now(UTC)
    items, people = assignments.assignments_in(db, class_id), {who for _assignment, who in changed}
    work = _work(db, items, people)
    totals = totals_of(items, work.tallies, work.exceptions, people, now)
    return ChangedResponse(
        cells=tuple(
            cell for cell in _cells(items, work, classroom.time_zone) if (cell.assignment, cell.person) in changed
        ),
        totals=tuple(TotalResponse(person=who, total=total) for who, total in totals.items()),
        now=now,
    )


def student_in(db: Session, person: Person, class_id: int, student_id: int) -> StudentResponse:
    """Return a student with all that the student submitted, to an instructor of the class."""
    classroom = class_for(db, person, class_id)
    membership = db.get(Membership, (class_id, student_id))
    if membership is None or membership.role != "student":
        raise RefusedError("not-found")
    items = assignments.assignments_in(db, class_id)
    attempts = attempts_of_person(db, student_id, [item.id for item in items])
    work = _work(db, items, [student_id])
    return StudentResponse(
        person=student_id,
        name=membership.person.name,
        class_id=class_id,
        class_name=classroom.name,
        time_zone=classroom.time_zone,
        archived=classroom.archived_at is not None,
        total=totals_of(items, work.tallies, work.exceptions, [student_id], datetime.now(UTC))[student_id],
        left=membership.left_at is not None,
        items=tuple(
            _student_assignment(
                item,
                terms_with(item, work.exceptions.get((item.id, student_id))),
                [each for each in attempts if each.mark.assignment_id == item.id],
            )
            for item in items
        ),
    )


def _student_assignment(item: Assignment, terms: Terms, attempts: Sequence[MarkedAttempt]) -> StudentAssignmentResponse:
    """Return an assignment with all attempts of a student."""
    return StudentAssignmentResponse(
        assignment=item.id,
        title=assigned_exercise(item).exercise.title,
        due_at=terms.due_at,
        weight=item.weight,
        allowed=terms.attempts,
        exception=exception_view(terms.exception, item.classroom.time_zone, private=True),
        attempts=tuple(
            StudentAttemptResponse(
                submission=each.submission,
                number=each.number,
                submitted_at=each.submitted_at,
                late=terms.days_late(each.submitted_at) > 0,
                mark=mark_view(each.mark),
                causes=tuple(cause["text"] for cause in each.mark.causes),
            )
            for each in attempts
        ),
    )


@dataclass(frozen=True)
class _Work:
    """The data of the cells of a board, by assignment and person."""

    tallies: Mapping[Key, Tally]
    drafts: Mapping[Key, Progress]
    exceptions: Mapping[Key, AssignmentException]


def _work(db: Session, items: Sequence[Assignment], people: Collection[int] | None = None) -> _Work:
    ids = [item.id for item in items]
    return _Work(
        tallies_of_assignments(db, ids, people),
        drafts.progress(db, ids, people),
        assignments.exceptions_in(db, ids, people),
    )


def _cells(items: Sequence[Assignment], work: _Work, time_zone: str) -> tuple[CellResponse, ...]:
    by_id = {item.id: item for item in items}
    keys = sorted({*work.tallies, *work.drafts, *work.exceptions})
    return tuple(_cell(key, work, by_id[key[0]], time_zone) for key in keys)


def _cell(key: Key, work: _Work, item: Assignment, time_zone: str) -> CellResponse:
    tally, draft = work.tallies.get(key), work.drafts.get(key)
    working = draft is not None and (tally is None or draft.saved_at > tally.newest_at)
    shown = draft if working and item.drafts_shown else None
    return CellResponse(
        assignment=key[0],
        person=key[1],
        attempts=tally.attempts if tally else 0,
        score=tally.score if tally else None,
        passed=tally.passed if tally else False,
        late=tally.late if tally else False,
        newest=tally.newest if tally else None,
        reviewed=tally.reviewed if tally else False,
        at_work=draft.saved_at if working and draft else None,
        in_place=shown.in_place if shown else None,
        checks=shown.checks if shown else None,
        exception=exception_view(work.exceptions.get(key), time_zone, private=True),
    )
