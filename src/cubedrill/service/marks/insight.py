"""Class mistakes of one assignment: counted causes, misses around the target, how the work was done."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Final

from sqlalchemy.orm import Session

from cubedrill.core.judging.checks.by_hand import BY_HAND
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.separate import Trial, separate
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.lru_cache import LruCache
from cubedrill.service.access import assignment_for
from cubedrill.service.marks.responses import (
    CauseCountResponse,
    CheckInsightResponse,
    DotResponse,
    GivenUpResponse,
    HowResponse,
    InsightResponse,
    OffResponse,
    WhoResponse,
)
from cubedrill.service.prepared import PreparedExercise, version_ready
from cubedrill.store.assignments import exceptions_in
from cubedrill.store.marks import marks
from cubedrill.store.people import classes
from cubedrill.store.tables import Assignment, ExerciseVersion, Mark, Person
from cubedrill.store.work import drafts, submissions

# Where typical mistakes lead in an exercise: of a version, which never changes, and it takes up to seconds.
_TRIALS: Final[LruCache[tuple[int, Any], tuple[Trial, ...]]] = LruCache(50)
HAIR: Final = 1e-9  # a mistake that is off by less is none in that check


def insight(db: Session, person: Person, assignment_id: int) -> InsightResponse:
    """Return what a class gets wrong to an instructor of it: of the students in it, by the assigned version."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    students = {each.id: each for each in classes.students_of(db, assignment.class_id)}
    tallies = marks.tallies_of_assignments(db, [assignment.id], students)
    for (_assignment, who), exception in exceptions_in(db, [assignment.id], students).items():
        if exception.excused and (assignment.id, who) not in tallies:
            del students[who]
    attempts = [row for row in marks.marks_of(db, assignment.id) if row.person_id in students]
    counting = [row for row in attempts if row.submission_id in {tally.counted for tally in tallies.values()}]
    counted = {tally.counted for tally in tallies.values()}
    ready = version_ready(assignment.exercise_version)
    return InsightResponse(
        assignment=assignment.id,
        class_id=assignment.class_id,
        class_name=assignment.classroom.name,
        title=ready.exercise.title,
        version=assignment.exercise_version_id,
        up=ready.exercise.conventions.up,
        due_at=assignment.due_at,
        students=len(students),
        submitted=len(tallies),
        passed=sum(tally.passed for tally in tallies.values()),
        causes=_causes(attempts, counted, students),
        checks=_checks(ready, assignment.exercise_version, counting, students),
        how=_how(db, counted, students),
        given_up=_given_up(db, assignment, {who for _assignment, who in tallies}, students),
    )


def _causes(
    attempts: Sequence[Mark], counted: set[int], students: Mapping[int, Person]
) -> tuple[CauseCountResponse, ...]:
    """Return the causes, the commonest first; each student once in each, with the newest attempt."""
    texts: dict[tuple[str, str], str] = {}
    ever: dict[tuple[str, str], dict[int, int]] = {}
    now: dict[tuple[str, str], dict[int, int]] = {}
    for row in attempts:
        for cause in row.causes:
            key = cause["code"], cause["object"]
            texts[key] = cause["text"]
            ever.setdefault(key, {})[row.person_id] = row.submission_id
            if row.submission_id in counted:
                now.setdefault(key, {})[row.person_id] = row.submission_id

    def who(found: Mapping[int, int]) -> tuple[WhoResponse, ...]:
        rows = (WhoResponse(person=i, name=students[i].name, submission=s) for i, s in found.items())
        return tuple(sorted(rows, key=lambda row: row.name))

    rows = (
        CauseCountResponse(code=key[0], object=key[1], text=texts[key], counted=who(now.get(key, {})), ever=who(found))
        for key, found in ever.items()
    )
    return tuple(sorted(rows, key=lambda row: (-len(row.counted), -len(row.ever), row.text)))


def _checks(
    ready: PreparedExercise, version: ExerciseVersion, rows: Sequence[Mark], students: Mapping[int, Person]
) -> tuple[CheckInsightResponse, ...]:
    """Return the checks of the assigned version, with where those came to whose attempt counts; none by hand."""
    trials = _TRIALS.get((version.id, version.published_at), lambda: _trials_of(ready))
    wanted = _target_results(ready)
    found: dict[str, list[tuple[Mark, Mapping[str, Any]]]] = {
        each.id: [] for each in ready.exercise.checks if each.kind != BY_HAND
    }
    for row in rows:
        for one in row.checks:
            if one["id"] in found and one["verdict"] != "not judged":
                found[one["id"]].append((row, one))
    return tuple(
        CheckInsightResponse(
            id=check_id,
            kind=check.kind,
            label=check.label,
            space=check.space,
            unit=check.unit,
            axes=check.axes,
            tolerance=check.tolerance if isinstance(check.tolerance, tuple) else (check.tolerance,),
            dots=tuple(
                DotResponse(
                    person=row.person_id,
                    name=students[row.person_id].name,
                    submission=row.submission_id,
                    miss=tuple(one["miss"]),
                    off=one["off"],
                    verdict=one["verdict"],
                )
                for row, one in theirs
                if one["miss"] is not None
            ),
            lost=sum(one["miss"] is None for _row, one in theirs),
            passed=sum(one["verdict"] == "pass" for _row, one in theirs),
            mistakes=_mistakes(trials, check_id),
        )
        for check_id, theirs in found.items()
        for check in [wanted[check_id]]
    )


def _target_results(ready: PreparedExercise) -> Mapping[str, CheckResult]:
    """Return label, unit, axes and tolerance of each check."""
    report = judge_loaded(ready.exercise, ready.target, LoadedSubmission(ready.target))
    return {result.id: result for result in report.checks}


def _trials_of(ready: PreparedExercise) -> tuple[Trial, ...]:
    return separate(ready.exercise, ready.start, ready.target, apart=False).trials


def _mistakes(trials: Iterable[Trial], check_id: str) -> tuple[OffResponse, ...]:
    rows = [OffResponse(text=trial.text, off=off) for trial in trials if (off := trial.off.get(check_id, 0.0)) > HAIR]
    return tuple(sorted(rows, key=lambda row: row.off))


def _how(db: Session, counted: Iterable[int], students: Mapping[int, Person]) -> tuple[HowResponse, ...]:
    rows = (
        HowResponse(
            person=each.person,
            name=students[each.person].name,
            submission=each.submission,
            minutes=None if each.begun_at is None else (each.submitted_at - each.begun_at).total_seconds() / 60,
            steps=each.steps,
            typed=each.typed,
            dragged=each.dragged,
        )
        for each in submissions.how_done(db, list(counted))
    )
    return tuple(sorted(rows, key=lambda row: row.name))


def _given_up(
    db: Session, assignment: Assignment, submitted: set[int], students: Mapping[int, Person]
) -> tuple[GivenUpResponse, ...]:
    """List students who have started and not submitted, the last seen first."""
    rows = (
        GivenUpResponse(
            person=who,
            name=students[who].name,
            saved_at=each.saved_at,
            steps=each.steps,
            in_place=each.in_place if assignment.drafts_shown else None,
            checks=each.checks if assignment.drafts_shown else None,
        )
        for (_assignment, who), each in drafts.progress(db, [assignment.id]).items()
        if who in students and who not in submitted
    )
    return tuple(sorted(rows, key=lambda row: row.saved_at, reverse=True))
