"""The start page."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.core.judging.total import TotalItem, total_of
from cubedrill.service.access import is_open, may_make_classes
from cubedrill.service.assignments.exceptions import exceptions_for
from cubedrill.service.assignments.settings import changes_for
from cubedrill.service.disclosure import is_shown
from cubedrill.service.marks.progress import work_of
from cubedrill.service.marks.totals import total_item
from cubedrill.service.news.responses import (
    AssignedExerciseResponse,
    ClassTotalResponse,
    HomeResponse,
    InvitationResponse,
    NewsResponse,
    TaughtClassResponse,
    TaughtExerciseResponse,
)
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store import assignments
from cubedrill.store.assignments import Terms
from cubedrill.store.marks import marks
from cubedrill.store.marks.marks import Tally
from cubedrill.store.news import notices as news
from cubedrill.store.people import classes
from cubedrill.store.tables import Assignment, Draft, Person
from cubedrill.store.work import drafts

NEWS_FOR: Final = timedelta(days=14)
MOST_NEWS: Final = 8
SHARED_FROM: Final = 3  # students who have a cause: fewer is no matter of the class


@dataclass(frozen=True)
class _Assigned:
    """An assignment of a student: what holds for them, their attempts, and whether they see marks yet."""

    item: Assignment
    terms: Terms
    tally: Tally | None
    shown: bool

    @property
    def archived(self) -> bool:
        return self.item.classroom.archived_at is not None


def home_of(db: Session, person: Person) -> HomeResponse:
    """Return a person's assignments and news, and the assignments of the classes they teach."""
    now = datetime.now(UTC)
    mine = _assigned(db, person, now)
    taught_classes = [each for each in classes.classes_taught(db, person.id) if each.archived_at is None]
    students = classes.student_counts(db, [each.id for each in taught_classes])
    return HomeResponse(
        teaches=may_make_classes(db, person),
        invitations=tuple(
            InvitationResponse(
                class_id=each.class_id, class_name=each.classroom.name, by=each.by.name, made_at=each.made_at
            )
            for each in classes.invitations_to(db, person.id)
        ),
        to_do=_to_do_rows(db, person, mine, now),
        news=_news(db, person, mine, now),
        taught=_taught_rows(db, person, students),
        classes=tuple(
            TaughtClassResponse(id=each.id, name=each.name, students=students.get(each.id, 0))
            for each in taught_classes
        ),
        totals=_totals(mine, now),
    )


def _assigned(db: Session, person: Person, now: datetime) -> Sequence[_Assigned]:
    items = assignments.assignments_of(db, person.id, "student")
    tallies = marks.tallies_of_person(db, person.id)
    exceptions = assignments.exceptions_in(db, [item.id for item in items], [person.id])
    found = []
    for item in items:
        terms = assignments.terms_with(item, exceptions.get((item.id, person.id)))
        found.append(_Assigned(item, terms, tallies.get((item.id, person.id)), is_shown(item, terms, now)))
    return found


def _to_do_rows(
    db: Session, person: Person, mine: Sequence[_Assigned], now: datetime
) -> tuple[AssignedExerciseResponse, ...]:
    """Return a student's assignments; of archived classes those with work."""
    started = {assignment for assignment, _person in drafts.started(db, Draft.person_id == person.id)}
    return tuple(
        AssignedExerciseResponse(
            assignment=each.item.id,
            title=assigned_exercise(each.item).exercise.title,
            class_name=each.item.classroom.name,
            opens_at=None if is_open(each.item, now) else each.item.opens_at,
            due_at=each.terms.due_at,
            own_due=each.terms.own_due_at is not None,
            excused=each.terms.excused,
            archived=each.archived,
            attempts_left=each.terms.attempts_left(each.tally.attempts if each.tally else 0),
            mark_shown=each.shown,
            late_policy=each.item.late_policy,
            work=work_of(each.item.id in started, each.tally, mark_shown=each.shown),
        )
        for each in mine
        if each.tally is not None or not each.archived
    )


def _totals(mine: Sequence[_Assigned], now: datetime) -> tuple[ClassTotalResponse, ...]:
    """Return a student's total in each class; a mark that is not shown yet is not in it."""
    by_class: dict[tuple[int, str], list[TotalItem]] = {}
    for each in mine:
        if not each.archived and (each.shown or each.tally is None):
            key = each.item.class_id, each.item.classroom.name
            by_class.setdefault(key, []).append(total_item(each.item, each.terms, each.tally, now))
    return tuple(
        ClassTotalResponse(class_id=class_id, class_name=name, total=total_of(items))
        for (class_id, name), items in by_class.items()
    )


def _news(db: Session, person: Person, mine: Sequence[_Assigned], now: datetime) -> tuple[NewsResponse, ...]:
    """List recent changes for a student that may be shown, the newest first."""
    since = now - NEWS_FOR
    by_id = {each.item.id: each.item for each in mine if not each.archived}
    shown = {each.item.id for each in mine if each.shown and not each.archived}
    class_ids = {item.class_id for item in by_id.values()}
    found: list[tuple[str, int, int | None, str, datetime]] = [
        (
            "mark" if review.points is not None else "remark",
            assignment,
            review.submission_id,
            review.text,
            review.made_at,
        )
        for review, assignment in news.reviews_for(db, person.id, since)
        if assignment in shown
    ]
    found += [
        ("re-checked", assignment, submission, "", at)
        for assignment, submission, at in news.rechecked_for(db, person.id, since)
        if assignment in shown
    ]
    found += [
        ("settings changed", assignment, None, changed, at)
        for assignment, changed, at in changes_for(db, class_ids, since)
        if assignment in by_id
    ]
    found += [
        ("exception changed", assignment, None, changed, at)
        for assignment, changed, at in exceptions_for(db, person.id, class_ids, since)
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
    found = marks.tallies_of_assignments(db, tallies)
    for (assignment, _person), tally in found.items():
        tallies[assignment].append(tally)
    excused = Counter(
        key[0]
        for key, exception in assignments.exceptions_in(db, tallies).items()
        if exception.excused and key not in found
    )
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
                students=students.get(item.class_id, 0) - excused[item.id],
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
