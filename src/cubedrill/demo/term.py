"""A term of two more classes: made up from a seed, so that it is the same each time but for its dates.

What students did is the reference, or a typical mistake put into it, or a drag beside the right spot; some tried twice,
some were late, some are at it, and some never came.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from random import Random
from typing import Any, Final

from sqlalchemy.orm import Session

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.separate import way_with
from cubedrill.core.steps import Step
from cubedrill.core.steps.move import Move
from cubedrill.demo.dates import draft_as_of
from cubedrill.service.assignments.exceptions import ExceptionOptions, set_exceptions
from cubedrill.service.marks import marks
from cubedrill.service.people import classes
from cubedrill.service.prepared import PreparedExercise, assigned_exercise
from cubedrill.service.work import bench, editing
from cubedrill.store.assignments import assignments_of
from cubedrill.store.marks.marks import keep_reviewed
from cubedrill.store.people.classes import students_of
from cubedrill.store.plans.versions import newest_version
from cubedrill.store.tables import Assignment, Classroom, Membership, Person, StoredSubmission

HERE: Final = Path(__file__).parent
SEED: Final = "Saltmere Harbour"
# Of a hundred students: so many do it right at once, have a typical mistake, or drag beside the spot.
RIGHT, MISTAKEN, BESIDE = 34, 40, 14
FAVOURITE: Final = 3  # the mistake that most of the mistaken make is one of the first so many


@dataclass(frozen=True)
class Stage:
    """In what the term is played: the database, its random numbers, and now."""

    db: Session
    random: Random
    now: datetime


def load_term(db: Session, people: dict[str, Person], password_hash: str, now: datetime) -> None:
    """Load two classes with their instructor, students and work; people: by sign-in, the new ones are added."""
    world: dict[str, Any] = json.loads((HERE / "term.json").read_text(encoding="utf-8"))
    stage = Stage(db, Random(SEED), now)  # noqa: S311 - made up, and the same each time
    corin = Person(**world["instructor"], password_hash=password_hash, makes_classes=True)
    students = [Person(sign_in=_sign_in(n), name=n, password_hash=password_hash) for n in world["students"]]
    db.add_all([corin, *students])
    db.flush()
    people.update({each.sign_in: each for each in (corin, *students)})
    for row in world["classes"]:
        theirs = students[slice(*row["students"])]
        for assignment in _set_all(stage, row, theirs, people):
            favourite = stage.random.randrange(FAVOURITE)
            for student in theirs:
                _work(stage, assignment, student, favourite)
        instructor = people[row["taught_by"][0]]
        _look_through(stage, instructor)
        for exception in row.get("exceptions", []):
            _except(stage, instructor, theirs, exception)
        if row.get("archived"):
            classes.set_archived(db, instructor, assignment.class_id, True, now)


def _except(stage: Stage, instructor: Person, students: list[Person], row: dict[str, Any]) -> None:
    """Give a student an exception at an assignment; due: in days from today."""
    who = next(each.id for each in students if each.name == row["student"])
    taught = assignments_of(stage.db, instructor.id, "instructor")
    item = next(
        each for each in taught if each.exercise_version.exercise == row["exercise"] and who in _ids(stage.db, each)
    )
    evening = stage.now.replace(hour=19, minute=0, second=0, microsecond=0, tzinfo=None)
    options = ExceptionOptions(
        due=evening + timedelta(days=row["due"]) if "due" in row else None,
        attempts=row.get("attempts"),
        excused=row.get("excused", False),
        reason=row["reason"],
    )
    set_exceptions(stage.db, instructor, item.id, [who], options)


def _ids(db: Session, assignment: Assignment) -> set[int]:
    return {each.id for each in students_of(db, assignment.class_id)}


def _sign_in(name: str) -> str:
    return name.split(maxsplit=1)[0].lower().replace("ë", "e")


def _set_all(
    stage: Stage, row: dict[str, Any], students: list[Person], people: dict[str, Person]
) -> Iterator[Assignment]:
    db = stage.db
    classroom = Classroom(name=row["name"], time_zone=row["time_zone"])
    db.add(classroom)
    db.flush()
    teachers = [(people[name], "instructor") for name in row["taught_by"]]
    for person, role in [*teachers, *((student, "student") for student in students)]:
        db.add(Membership(class_id=classroom.id, person_id=person.id, role=role))
    evening = stage.now.replace(hour=19, minute=0, second=0, microsecond=0)
    for item in row["set"]:
        version = newest_version(db, item["exercise"])
        assert version is not None  # noqa: S101 - it came with the first class
        assignment = Assignment(
            class_id=classroom.id,
            exercise_version_id=version.id,
            opens_at=evening + timedelta(days=item["opens"]),
            due_at=evening + timedelta(days=item["due"]),
            **{name: value for name, value in item.items() if name not in ("exercise", "opens", "due")},
        )
        db.add(assignment)
        db.flush()
        if item["opens"] < 0:
            yield assignment


def _work(stage: Stage, assignment: Assignment, student: Person, favourite: int) -> None:
    """Make up a student's work on an assignment: none, a half, or one or two attempts."""
    ready, random = assigned_exercise(assignment), stage.random
    reference = ready.exercise.reference
    assert reference is not None  # noqa: S101 - every exercise of the demo has one
    assert assignment.opens_at is not None  # noqa: S101 - every one of the term has
    still_open = assignment.due_at > stage.now
    if random.random() < (0.3 if still_open else 0.08):
        return
    end = min(assignment.due_at, stage.now)
    when = assignment.opens_at + (end - assignment.opens_at) * (0.25 + 0.7 * random.random())
    if still_open and random.random() < 0.4:
        half = reference.steps[: max(1, len(reference.steps) // 2)]
        _saved(stage, assignment, student, half, stage.now - timedelta(minutes=random.randrange(1, 40)))
        return
    if not still_open and random.random() < 0.07:
        when = assignment.due_at + timedelta(hours=random.randrange(1, 30))
    lists = [_steps(stage, ready, favourite)]
    if random.random() < 0.35:
        lists.append(_steps(stage, ready, favourite) if random.random() < 0.3 else reference.steps)
    for number, steps in enumerate(lists):
        at = when + timedelta(minutes=number * random.randrange(4, 50))
        if at < stage.now:
            _handed_in(stage, assignment, student, steps, at)


def _steps(stage: Stage, ready: PreparedExercise, favourite: int) -> tuple[Step, ...]:
    """Make up steps: right, with a typical mistake, or dragged off the spot."""
    random, reference = stage.random, ready.exercise.reference
    assert reference is not None  # noqa: S101 - see above
    drawn = random.randrange(100)
    if drawn < RIGHT:
        return reference.steps
    if drawn < RIGHT + MISTAKEN:
        number = favourite if random.random() < 0.6 else random.randrange(8)
        return way_with(ready.exercise, ready.start, ready.target, number) or reference.steps
    if drawn < RIGHT + MISTAKEN + BESIDE:
        thing = next(i for step in reversed(reference.steps) for i in step.acts_on)
        off = tuple(round(random.gauss(0, 0.03), 3) for _ in range(3))
        return (*reference.steps, Move(op="move", objects=(thing,), space="world", by=off, entry="dragged"))
    return reference.steps[:-1] or reference.steps


def _saved(stage: Stage, assignment: Assignment, student: Person, steps: tuple[Step, ...], at: datetime) -> int:
    editor = bench.step_editor_of(stage.db, student, assignment.id)
    revision = editing.save(editor, editor.opened().revision, DraftSteps.of(steps)).revision
    draft_as_of(stage.db, (assignment.id, student.id), at, minutes=stage.random.randrange(3, 55))
    return revision


def _handed_in(stage: Stage, assignment: Assignment, student: Person, steps: tuple[Step, ...], at: datetime) -> None:
    try:
        with stage.db.begin_nested():
            revision = _saved(stage, assignment, student, steps, at)
            bench.submit(stage.db, student, assignment.id, revision, at)
    except CoreError:  # the mistake leads to what cannot be done here, and nobody hands that in
        return


REMARKS: Final = ("Look at it from the side before you submit.", "Type the number; a drag is not exact enough.")


def _look_through(stage: Stage, instructor: Person) -> None:
    """An instructor has opened most of what is due already, and said something of some of it."""
    query = (
        stage.db.query(StoredSubmission).join(Assignment).join(Membership, Membership.class_id == Assignment.class_id)
    )
    theirs = query.filter(Membership.person_id == instructor.id, Assignment.due_at < stage.now)
    for submission in theirs.order_by(StoredSubmission.id):
        if stage.random.random() < 0.85:
            keep_reviewed(stage.db, submission.id, instructor.id)
        if stage.random.random() < 0.08:
            remark = stage.random.choice(REMARKS)
            marks.add_review(stage.db, instructor, submission.id, marks.Given(remark))
