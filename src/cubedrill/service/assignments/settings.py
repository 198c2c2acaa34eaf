"""Setting a version for a class: dates in the class's time zone, tries, what counts, what is told and when."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Final, Literal
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from cubedrill.core.steps.replay import replay_edited
from cubedrill.service.access import assignment_for, class_for, version_for
from cubedrill.service.assignments.responses import CarriedResponse, SettingResponse, VersionChoice
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.classes import note
from cubedrill.service.prepared import exercise_set, version_ready
from cubedrill.store import classes, drafts, plans
from cubedrill.store.tables import Assignment, ExerciseVersion, Person

Counts = Literal["best", "last"]
FeedbackTime = Literal["at once", "after due"]
FeedbackLevel = Literal["nothing", "check", "hint", "cause"]

# What each part of a setting is called where a change is told.
WORDS: Final[dict[str, str]] = {
    "opens_at": "when it opens",
    "due_at": "when it is due",
    "tries": "how many tries there are",
    "counts": "which try counts",
    "told": "what is told",
    "told_when": "when it is told",
    "late_counts": "whether late work counts",
    "drafts_shown": "whether drafts are seen",
}


@dataclass(frozen=True)
class AssignmentOptions:
    """The options of an assignment. opens, due: in the class's time zone; the rest as in `Assignment`."""

    due: datetime
    opens: datetime | None = None
    tries: int | None = None
    counts: Counts = "best"
    told: FeedbackLevel | None = None
    told_when: FeedbackTime = "at once"
    late_counts: bool = True
    drafts_shown: bool = False

    def columns(self, time_zone: str) -> dict[str, Any]:
        """Return what a row keeps; raise RefusedError "no-such-time" or "due-before-open".

        Of an hour that a clock shows twice the kinder one is meant: it opens at the first, and is due at the second.
        """
        opens = None if self.opens is None else moment(self.opens, time_zone, fold=0)
        due = moment(self.due, time_zone, fold=1)
        if opens is not None and opens >= due:
            raise RefusedError("due-before-open")
        return {
            "opens_at": opens,
            "due_at": due,
            "tries": self.tries,
            "counts": self.counts,
            "told": self.told,
            "told_when": self.told_when,
            "late_counts": self.late_counts,
            "drafts_shown": self.drafts_shown,
        }


def moment(shown: datetime, time_zone: str, fold: int) -> datetime:
    """Return the moment at which clocks of a zone show a date and time; fold: which one of two.

    Raises RefusedError "no-such-time" for one that is left out where clocks are put forward (see PEP 495).
    """
    zone = ZoneInfo(time_zone)
    found = shown.replace(tzinfo=zone, fold=fold).astimezone(UTC)
    if found.astimezone(zone).replace(tzinfo=None, fold=0) != shown.replace(fold=0):
        raise RefusedError("no-such-time", when=f"{shown:%d %B %Y %H:%M}", zone=time_zone)
    return found


def set_for_class(db: Session, person: Person, class_id: int, version_id: int, setting: AssignmentOptions) -> int:
    """Set a version for a class that one teaches; return the id of what is set.

    Raises RefusedError "not-found", "already-set", "no-such-time" or "due-before-open".
    """
    classroom, version = class_for(db, person, class_id), version_for(db, person, version_id)
    classes.set_in_turn(db, class_id)
    _require_free(db, class_id, version)
    assignment = Assignment(class_id=class_id, exercise_version_id=version.id, **setting.columns(classroom.time_zone))
    db.add(assignment)
    db.flush()
    note(db, person, "set", class_id, assignment=assignment.id, title=_title(version))
    return assignment.id


def change_setting(db: Session, person: Person, assignment_id: int, setting: AssignmentOptions) -> None:
    """Change how something is set; what changed is written down, for students to see."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    columns = setting.columns(assignment.classroom.time_zone)
    changed = [name for name, value in columns.items() if getattr(assignment, name) != value]
    if not changed:
        return
    for name in changed:
        setattr(assignment, name, columns[name])
    _note_change(db, person, assignment, ", ".join(WORDS[name] for name in changed))


def setting_of(db: Session, person: Person, assignment_id: int) -> SettingResponse:
    """Return how something is set, and the versions of the exercise that could take its place."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    zone = ZoneInfo(assignment.classroom.time_zone)

    def shown(at: datetime | None) -> datetime | None:
        return None if at is None else at.astimezone(zone).replace(tzinfo=None)

    seen = {each.id for each in plans.versions_seen_by(db, person.id)}
    return SettingResponse(
        assignment=assignment.id,
        class_id=assignment.class_id,
        class_name=assignment.classroom.name,
        time_zone=assignment.classroom.time_zone,
        title=_title(assignment.exercise_version),
        version=assignment.exercise_version.number,
        opens=shown(assignment.opens_at),
        due=shown(assignment.due_at),
        tries=assignment.tries,
        counts=assignment.counts,
        told=assignment.told,
        told_by_exercise=exercise_set(assignment).exercise.rules.told,
        told_when=assignment.told_when,
        late_counts=assignment.late_counts,
        drafts_shown=assignment.drafts_shown,
        versions=tuple(
            VersionChoice(version=each.id, number=each.number)
            for each in plans.versions_of(db, assignment.exercise_version.exercise)
            if each.id in seen or each.id == assignment.exercise_version_id
        ),
    )


def take_version(db: Session, person: Person, assignment_id: int, version_id: int) -> CarriedResponse:
    """Put another version of the same exercise in the place of the one that is set.

    Open drafts stay; return how many of them can be done in it as they are, and whose cannot: there the bench marks the
    first step that cannot. What was handed in stays as it was judged. Raises RefusedError "not-found" for a version of
    another exercise, "already-set".
    """
    assignment, version = assignment_for(db, person, assignment_id, "instructor"), version_for(db, person, version_id)
    if version.exercise != assignment.exercise_version.exercise:
        raise RefusedError("not-found")
    if version.id == assignment.exercise_version_id:
        return CarriedResponse(carried=0, broken=())
    classes.set_in_turn(db, assignment.class_id)
    _require_free(db, assignment.class_id, version)
    assignment.exercise_version = version
    _note_change(db, person, assignment, f"version {version.number} is set now")
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
    note(db, person, "setting changed", assignment.class_id, assignment=assignment.id, title=title, changed=changed)


def _require_free(db: Session, class_id: int, version: ExerciseVersion) -> None:
    existing = classes.assignment_of(db, class_id, version.id)
    if existing is not None:
        raise RefusedError("already-set", name=existing.classroom.name)


def _title(version: ExerciseVersion) -> str:
    return version_ready(version).exercise.title


def changes_for(db: Session, class_ids: Collection[int], since: datetime) -> list[tuple[int, str, datetime]]:
    """List changes of assignments for students: which one, in words, and when; the newest first."""
    return [
        (event.facts["assignment"], event.facts["changed"], event.happened_at)
        for event in classes.events_of_kind(db, class_ids, "setting changed", since)
    ]
