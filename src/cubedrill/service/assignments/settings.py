"""Assign a version to a class: dates in the class's time zone, attempts, late work and feedback."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Final, Literal
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from cubedrill.core.judging.late import Counts, LateKind
from cubedrill.core.steps.replay import replay_edited
from cubedrill.service.access import assignment_for, assignment_to_change, class_to_change, version_for
from cubedrill.service.assignments.responses import CarriedResponse, SettingsResponse, VersionChoice
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.classes import note
from cubedrill.service.prepared import assigned_exercise, version_ready
from cubedrill.store import assignments
from cubedrill.store.people import classes
from cubedrill.store.plans import plans
from cubedrill.store.tables import Assignment, ExerciseVersion, Person
from cubedrill.store.work import drafts

FeedbackTime = Literal["at once", "after due"]
FeedbackLevel = Literal["nothing", "check", "hint", "cause"]

# What each part of a setting is called where a change is told.
WORDS: Final[dict[str, str]] = {
    "opens_at": "opening date",
    "due_at": "due date",
    "attempts": "attempts allowed",
    "counts": "attempt that counts",
    "feedback": "feedback",
    "feedback_when": "when feedback is shown",
    "late": "late work",
    "late_per_day": "late work",
    "late_floor": "late work",
    "drafts_shown": "unfinished work on the board",
}


@dataclass(frozen=True)
class AssignmentOptions:
    """The options of an assignment. opens, due: in the class's time zone; the rest as in `Assignment`."""

    due: datetime
    opens: datetime | None = None
    attempts: int | None = None
    counts: Counts = "best"
    feedback: FeedbackLevel | None = None
    feedback_when: FeedbackTime = "at once"
    late: LateKind = "no cost"
    late_per_day: float = 0.1
    late_floor: float = 0.0
    drafts_shown: bool = False

    def columns(self, time_zone: str) -> dict[str, object]:
        """Return what a row keeps.

        Raises RefusedError "no-such-time", "due-before-open", "late-cost" or "late-floor".
        """
        opens, due = moments(self.opens, self.due, time_zone)
        per_day, floor = (self.late_per_day, self.late_floor) if self.late == "per day" else (0.0, 0.0)
        if self.late == "per day" and not 0 < per_day <= 1:
            raise RefusedError("late-cost")
        if floor > 1:
            raise RefusedError("late-floor")
        return {
            "opens_at": opens,
            "due_at": due,
            "attempts": self.attempts,
            "counts": self.counts,
            "feedback": self.feedback,
            "feedback_when": self.feedback_when,
            "late": self.late,
            "late_per_day": per_day,
            "late_floor": floor,
            "drafts_shown": self.drafts_shown,
        }


def moments(opens: datetime | None, due: datetime, time_zone: str) -> tuple[datetime | None, datetime]:
    """Return when an assignment opens and is due; raise RefusedError "no-such-time" or "due-before-open".

    Of an hour that a clock shows twice the kinder one is meant: it opens at the first, and is due at the second.
    """
    opens_at = None if opens is None else moment(opens, time_zone, fold=0)
    due_at = moment(due, time_zone, fold=1)
    if opens_at is not None and opens_at >= due_at:
        raise RefusedError("due-before-open")
    return opens_at, due_at


def moment(shown: datetime, time_zone: str, fold: int) -> datetime:
    """Return the moment at which clocks of a zone show a date and time; fold: which one of two.

    Raises RefusedError "no-such-time" for one that is left out where clocks are put forward (see PEP 495).
    """
    zone = ZoneInfo(time_zone)
    found = shown.replace(tzinfo=zone, fold=fold).astimezone(UTC)
    if found.astimezone(zone).replace(tzinfo=None, fold=0) != shown.replace(fold=0):
        raise RefusedError("no-such-time", when=f"{shown:%d %B %Y %H:%M}", zone=time_zone)
    return found


def assign_to_class(db: Session, person: Person, class_id: int, version_id: int, setting: AssignmentOptions) -> int:
    """Assign a version to a class of the person, and return the id of the assignment.

    Raises RefusedError "not-found", "already-set", "no-such-time" or "due-before-open".
    """
    classroom, version = class_to_change(db, person, class_id), version_for(db, person, version_id)
    assignments.lock_class(db, class_id)
    _require_free(db, class_id, version)
    assignment = Assignment(class_id=class_id, exercise_version_id=version.id, **setting.columns(classroom.time_zone))
    db.add(assignment)
    db.flush()
    note(db, person, "assigned", class_id, assignment=assignment.id, title=_title(version))
    return assignment.id


def change_settings(db: Session, person: Person, assignment_id: int, setting: AssignmentOptions) -> None:
    """Change the options of an assignment. Students see what changed."""
    assignment = assignment_to_change(db, person, assignment_id)
    columns = setting.columns(assignment.classroom.time_zone)
    changed = [name for name, value in columns.items() if getattr(assignment, name) != value]
    if not changed:
        return
    for name in changed:
        setattr(assignment, name, columns[name])
    _note_change(db, person, assignment, ", ".join(dict.fromkeys(WORDS[name] for name in changed)))


def settings_of(db: Session, person: Person, assignment_id: int) -> SettingsResponse:
    """Return the options of an assignment, and the versions that could replace its version."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    zone = ZoneInfo(assignment.classroom.time_zone)

    def shown(at: datetime | None) -> datetime | None:
        return None if at is None else at.astimezone(zone).replace(tzinfo=None)

    seen = {each.id for each in plans.versions_seen_by(db, person.id)}
    return SettingsResponse(
        assignment=assignment.id,
        class_id=assignment.class_id,
        class_name=assignment.classroom.name,
        time_zone=assignment.classroom.time_zone,
        title=_title(assignment.exercise_version),
        version=assignment.exercise_version.number,
        opens=shown(assignment.opens_at),
        due=shown(assignment.due_at),
        attempts=assignment.attempts,
        counts=assignment.counts,
        feedback=assignment.feedback,
        feedback_by_exercise=assigned_exercise(assignment).exercise.rules.told,
        feedback_when=assignment.feedback_when,
        late=assignment.late,
        late_per_day=assignment.late_per_day,
        late_floor=assignment.late_floor,
        drafts_shown=assignment.drafts_shown,
        versions=tuple(
            VersionChoice(version=each.id, number=each.number)
            for each in plans.versions_of(db, assignment.exercise_version.exercise)
            if each.id in seen or each.id == assignment.exercise_version_id
        ),
    )


def replace_version(db: Session, person: Person, assignment_id: int, version_id: int) -> CarriedResponse:
    """Replace the version of an assignment with another version of the same exercise.

    Drafts are kept. Return how many of them still work, and whose do not: the bench marks their first step that fails.
    Submissions keep their results. Raises RefusedError "not-found" for a version of
    another exercise, "already-set".
    """
    assignment, version = assignment_to_change(db, person, assignment_id), version_for(db, person, version_id)
    if version.exercise != assignment.exercise_version.exercise:
        raise RefusedError("not-found")
    if version.id == assignment.exercise_version_id:
        return CarriedResponse(carried=0, broken=())
    assignments.lock_class(db, assignment.class_id)
    _require_free(db, assignment.class_id, version)
    assignment.exercise_version = version
    _note_change(db, person, assignment, f"version {version.number} is assigned now")
    kept = drafts.drafts_of(db, assignment.id)
    broken = [draft.person_id for draft in kept if not _can_be_done(version, draft)]
    names = {each.id: each.name for each in classes.students_of(db, assignment.class_id)}
    whose = tuple(sorted(names[i] for i in broken if i in names))
    return CarriedResponse(carried=len(kept) - len(broken), broken=whose)


def _can_be_done(version: ExerciseVersion, draft: Any) -> bool:
    steps = draft.draft
    return replay_edited(version_ready(version).start, steps.steps, steps.off).refused is None


def _note_change(db: Session, person: Person, assignment: Assignment, changed: str) -> None:
    title = _title(assignment.exercise_version)
    note(db, person, "settings changed", assignment.class_id, assignment=assignment.id, title=title, changed=changed)


def _require_free(db: Session, class_id: int, version: ExerciseVersion) -> None:
    existing = assignments.assignment_of(db, class_id, version.id)
    if existing is not None:
        raise RefusedError("already-set", name=existing.classroom.name)


def _title(version: ExerciseVersion) -> str:
    return version_ready(version).exercise.title


def changes_for(db: Session, class_ids: Collection[int], since: datetime) -> list[tuple[int, str, datetime]]:
    """List changes of assignments for students: which one, in words, and when; the newest first."""
    return [
        (event.facts["assignment"], event.facts["changed"], event.happened_at)
        for event in classes.events_of_kind(db, class_ids, "settings changed", since)
    ]
