"""The start page."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from cubedrill.service.access import is_open, may_make_classes
from cubedrill.service.published import exercise_set
from cubedrill.service.setting import is_told
from cubedrill.service.views import HomeView, SetExerciseView, TaughtExerciseView
from cubedrill.service.work import tries_left, work_of
from cubedrill.store import classes, drafts, marks
from cubedrill.store.marks import Key, Tally
from cubedrill.store.tables import Assignment, Draft, Person


def home_of(db: Session, person: Person) -> HomeView:
    """Return what is set for a person and what is set in the classes she teaches."""
    to_do = classes.assignments_of(db, person.id, "student")
    taught = classes.assignments_of(db, person.id, "instructor")
    tallies = marks.tallies_of_assignments(db, [item.id for item in taught])
    students = classes.student_counts(db, {item.class_id for item in taught})
    return HomeView(
        teaches=may_make_classes(db, person),
        to_do=_to_do_rows(db, person, to_do),
        taught=tuple(_taught_row(item, students.get(item.class_id, 0), tallies) for item in taught),
    )


def _to_do_rows(db: Session, person: Person, items: Sequence[Assignment]) -> tuple[SetExerciseView, ...]:
    started = {assignment for assignment, _person in drafts.started(db, Draft.person_id == person.id)}
    tallies = marks.tallies_of_person(db, person.id)
    now = datetime.now(UTC)
    return tuple(
        SetExerciseView(
            assignment=item.id,
            title=exercise_set(item).exercise.title,
            class_name=item.classroom.name,
            opens_at=None if is_open(item, now) else item.opens_at,
            due_at=item.due_at,
            tries_left=tries_left(item, tally),
            told=is_told(item, now),
            work=work_of(item.id in started, tally, told=is_told(item, now)),
        )
        for item in items
        for tally in [tallies.get((item.id, person.id))]
    )


def _taught_row(item: Assignment, students: int, tallies: Mapping[Key, Tally]) -> TaughtExerciseView:
    theirs = [tally for (assignment, _person), tally in tallies.items() if assignment == item.id]
    return TaughtExerciseView(
        assignment=item.id,
        title=exercise_set(item).exercise.title,
        class_name=item.classroom.name,
        due_at=item.due_at,
        students=students,
        handed_in=len(theirs),
        passed=sum(tally.passed for tally in theirs),
    )
