"""The start page."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime, timedelta
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.service.access import is_open, may_make_classes
from cubedrill.service.assignments.settings import changes_for
from cubedrill.service.disclosure import is_shown
from cubedrill.service.marks.progress import attempts_left, work_of
from cubedrill.service.news.responses import (
    AssignedExerciseResponse,
    HomeResponse,
    InvitationResponse,
    NewsResponse,
    TaughtClassResponse,
    TaughtExerciseResponse,
)
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store import assignments
from cubedrill.store.marks import marks
from cubedrill.store.marks.marks import Tally
from cubedrill.store.news import notices as news
from cubedrill.store.people import classes
from cubedrill.store.tables import Assignment, Draft, Person
from cubedrill.store.work import drafts

NEWS_FOR: Final = timedelta(days=14)
MOST_NEWS: Final = 8
SHARED_FROM: Final = 3  # students who have a cause: fewer is no matter of the class


def home_of(db: Session, person: Person) -> HomeResponse:
    """Return a person's assignments and news, and the assignments of the classes they teach."""
    now = datetime.now(UTC)
    to_do = assignments.assignments_of(db, person.id, "student")
    taught_classes = classes.classes_taught(db, person.id)
    students = classes.student_counts(db, [each.id for each in taught_classes])
    return HomeResponse(
        teaches=may_make_classes(db, person),
        invitations=tuple(
            InvitationResponse(
                class_id=each.class_id, class_name=each.classroom.name, by=each.by.name, made_at=each.made_at
            )
            for each in classes.invitations_to(db, person.id)
        ),
        to_do=_to_do_rows(db, person, to_do, now),
        news=_news(db, person, to_do, now),
        taught=_taught_rows(db, person, students),
        classes=tuple(
            TaughtClassResponse(id=each.id, name=each.name, students=students.get(each.id, 0))
            for each in taught_classes
        ),
    )


def _to_do_rows(
    db: Session, person: Person, items: Sequence[Assignment], now: datetime
) -> tuple[AssignedExerciseResponse, ...]:
    started = {assignment for assignment, _person in drafts.started(db, Draft.person_id == person.id)}
    tallies = marks.tallies_of_person(db, person.id)
    return tuple(
        AssignedExerciseResponse(
            assignment=item.id,
            title=assigned_exercise(item).exercise.title,
            class_name=item.classroom.name,
            opens_at=None if is_open(item, now) else item.opens_at,
            due_at=item.due_at,
            attempts_left=attempts_left(item, tally),
            mark_shown=is_shown(item, now),
            late_policy=item.late_policy,
            work=work_of(item.id in started, tally, mark_shown=is_shown(item, now)),
        )
        for item in items
        for tally in [tallies.get((item.id, person.id))]
    )


def _news(db: Session, person: Person, items: Sequence[Assignment], now: datetime) -> tuple[NewsResponse, ...]:
    """List recent changes for a student that may be shown, the newest first."""
    since = now - NEWS_FOR
    by_id = {item.id: item for item in items}
    found: list[tuple[str, int, int | None, str, datetime]] = [
        (
            "mark" if review.points is not None else "remark",
            assignment,
            review.submission_id,
            review.text,
            review.made_at,
        )
        for review, assignment in news.reviews_for(db, person.id, since)
        if assignment in by_id and is_shown(by_id[assignment], now)
    ]
    found += [
        ("re-checked", assignment, submission, "", at)
        for assignment, submission, at in news.rechecked_for(db, person.id, since)
        if assignment in by_id and is_shown(by_id[assignment], now)
    ]
    found += [
        ("settings changed", assignment, None, changed, at)
        for assignment, changed, at in changes_for(db, {item.class_id for item in items}, since)
        if assignment in by_id
    ]
    found.sort(key=lambda row: row[-1], reverse=True)
    return tuple(
        NewsResponse(
            what=what, assignment=assignment, submission=submission,
            title=assigned_exercise(by_id[assignment]).exercise.title, text=text, at=at,
        )
        for what, assignment, submission, text, at in found[:MOST_NEWS]
    )  # fmt: skip


def _taught_rows(db: Session, person: Person, students: Mapping[int, int]) -> tuple[TaughtExerciseResponse, ...]:
    items = assignments.assignments_of(db, person.id, "instructor")
    tallies: dict[int, list[Tally]] = {item.id: [] for item in items}
    for (assignment, _person), tally in marks.tallies_of_assignments(db, tallies).items():
        tallies[assignment].append(tally)
    shared = _shared_causes(db, [tally.counted for theirs in tallies.values() for tally in theirs])
    rows = []
    for item in items:
        theirs = tallies[item.id]
        waiting = [tally.newest for tally in theirs if not tally.reviewed]
        cause, shared_by = shared.get(item.id, ("", 0))
        rows.append(
            TaughtExerciseResponse(
                assignment=item.id,
                title=assigned_exercise(item).exercise.title,
                class_id=item.class_id,
                class_name=item.classroom.name,
                opens_at=item.opens_at,
                due_at=item.due_at,
                students=students.get(item.class_id, 0),
                submitted=len(theirs),
                passed=sum(tally.passed for tally in theirs),
                not_reviewed=len(waiting),
                next_to_review=min(waiting, default=None),
                shared=cause,
                shared_by=shared_by,
            )
        )
    return tuple(rows)


def _shared_causes(db: Session, counted: Sequence[int]) -> dict[int, tuple[str, int]]:
    """For each assignment the cause that most students have, and how many do, where it is a matter of the class."""
    count: dict[int, Counter[tuple[str, str]]] = {}
    texts: dict[tuple[str, str], str] = {}
    for assignment, causes in marks.causes_of(db, counted):
        for cause in causes:
            key = cause["code"], cause["object"]
            texts[key] = cause["text"]
            count.setdefault(assignment, Counter())[key] += 1
    most = {assignment: causes.most_common(1)[0] for assignment, causes in count.items()}
    return {assignment: (texts[key], many) for assignment, (key, many) in most.items() if many >= SHARED_FROM}
