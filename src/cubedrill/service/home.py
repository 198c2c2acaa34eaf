"""The start page."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from sqlalchemy.orm import Session

from cubedrill.service.published import exercise_set
from cubedrill.service.views import HomeView, SetExerciseView, TaughtExerciseView
from cubedrill.service.work import by_person, work_of
from cubedrill.store import classes, drafts, submissions
from cubedrill.store.tables import Assignment, Person, StoredSubmission


def home_of(db: Session, person: Person) -> HomeView:
    """Return what is set for a person and what is set in the classes she teaches."""
    to_do = classes.assignments_of(db, person.id, "student")
    taught = classes.assignments_of(db, person.id, "instructor")
    return HomeView(
        teaches=bool(classes.classes_taught(db, person.id)),
        to_do=_to_do_rows(db, person, to_do),
        taught=tuple(_taught_row(db, item) for item in taught),
    )


def _to_do_rows(db: Session, person: Person, items: Sequence[Assignment]) -> tuple[SetExerciseView, ...]:
    started = {draft.assignment_id: draft for draft in drafts.drafts_of_person(db, person.id)}
    handed_in: dict[int, list[StoredSubmission]] = defaultdict(list)
    for submission in submissions.submissions_of_person(db, person.id):
        handed_in[submission.assignment_id].append(submission)
    return tuple(
        SetExerciseView(
            assignment=item.id,
            title=exercise_set(item).exercise.title,
            class_name=item.classroom.name,
            due_at=item.due_at,
            work=work_of(started.get(item.id), handed_in[item.id]),
        )
        for item in items
    )


def _taught_row(db: Session, item: Assignment) -> TaughtExerciseView:
    handed_in = by_person(submissions.submissions_of_assignment(db, item.id))
    return TaughtExerciseView(
        assignment=item.id,
        title=exercise_set(item).exercise.title,
        class_name=item.classroom.name,
        due_at=item.due_at,
        students=len(classes.students_of(db, item.class_id)),
        handed_in=len(handed_in),
        passed=sum(work_of(None, theirs).passed for theirs in handed_in.values()),
    )
