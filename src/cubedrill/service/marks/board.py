"""A class as a whole: the board, cells of it that changed, and one student."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import UTC, datetime
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.service.access import class_for
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks.marks import mark_view
from cubedrill.service.marks.progress import lateness
from cubedrill.service.marks.responses import (
    BoardResponse,
    BoardRowResponse,
    CellResponse,
    ChangedResponse,
    ColumnResponse,
    StudentAssignmentResponse,
    StudentAttemptResponse,
    StudentResponse,
)
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store import assignments
from cubedrill.store.marks.marks import Tally, attempts_of_person, tallies_of_assignments
from cubedrill.store.people import classes
from cubedrill.store.tables import Assignment, Membership, Person
from cubedrill.store.work import drafts
from cubedrill.store.work.drafts import Progress

MOST_CHANGED: Final = 2000  # cells that are told one by one; beyond, the board is asked for anew


def board_of(db: Session, person: Person, class_id: int) -> BoardResponse:
    """Return a class's board to an instructor of it."""
    classroom = class_for(db, person, class_id)
    items = assignments.assignments_in(db, class_id)
    cells = _cells(db, items)
    worked = {cell.person for cell in cells}
    students = [each for each in classes.members_of(db, class_id) if each.role == "student"]
    return BoardResponse(
        class_id=class_id,
        name=classroom.name,
        time_zone=classroom.time_zone,
        columns=tuple(
            ColumnResponse(
                assignment=item.id,
                title=assigned_exercise(item).exercise.title,
                opens_at=item.opens_at,
                due_at=item.due_at,
            )
            for item in items
        ),
        rows=tuple(
            BoardRowResponse(person=each.person_id, name=each.person.name, left=each.left_at is not None)
            for each in students
            if each.left_at is None or each.person_id in worked
        ),
        cells=cells,
        now=datetime.now(UTC),
    )


def changed_cells(db: Session, person: Person, class_id: int, changed: Collection[tuple[int, int]]) -> ChangedResponse:
    """Return some cells of a board, by assignment and person, to an instructor of the class."""
    class_for(db, person, class_id)
    wanted = {assignment for assignment, _person in changed}
    items = [item for item in assignments.assignments_in(db, class_id) if item.id in wanted]
    found = _cells(db, items, {who for _assignment, who in changed})
    return ChangedResponse(cells=tuple(c for c in found if (c.assignment, c.person) in changed), now=datetime.now(UTC))


def student_in(db: Session, person: Person, class_id: int, student_id: int) -> StudentResponse:
    """Return a student with all that the student submitted, to an instructor of the class."""
    classroom = class_for(db, person, class_id)
    membership = db.get(Membership, (class_id, student_id))
    if membership is None or membership.role != "student":
        raise RefusedError("not-found")
    items = assignments.assignments_in(db, class_id)
    attempts = attempts_of_person(db, student_id, [item.id for item in items])
    return StudentResponse(
        person=student_id,
        name=membership.person.name,
        class_id=class_id,
        class_name=classroom.name,
        left=membership.left_at is not None,
        items=tuple(
            StudentAssignmentResponse(
                assignment=item.id,
                title=assigned_exercise(item).exercise.title,
                due_at=item.due_at,
                attempts=tuple(
                    StudentAttemptResponse(
                        submission=each.submission,
                        number=each.number,
                        submitted_at=each.submitted_at,
                        late=lateness(each.submitted_at, item) > 0,
                        mark=mark_view(each.mark),
                        causes=tuple(cause["text"] for cause in each.mark.causes),
                    )
                    for each in attempts
                    if each.mark.assignment_id == item.id
                ),
            )
            for item in items
        ),
    )


def _cells(db: Session, items: Sequence[Assignment], people: Collection[int] | None = None) -> tuple[CellResponse, ...]:
    by_id = {item.id: item for item in items}
    tallies = tallies_of_assignments(db, by_id, people)
    started = drafts.progress(db, by_id, people)
    return tuple(_cell(key, tallies.get(key), started.get(key), by_id[key[0]]) for key in sorted({*tallies, *started}))


def _cell(key: tuple[int, int], tally: Tally | None, draft: Progress | None, item: Assignment) -> CellResponse:
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
    )
