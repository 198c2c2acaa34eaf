"""A class copied for a new term: its assignments with their options, and dates shifted by whole weeks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from cubedrill.service.access import class_for, version_for
from cubedrill.service.assignments.responses import CopyPlanResponse, CopyRowResponse, VersionChoice
from cubedrill.service.assignments.settings import moments
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.classes import make, note
from cubedrill.service.prepared import version_ready
from cubedrill.store import assignments
from cubedrill.store.plans import plans
from cubedrill.store.tables import Assignment, ExerciseVersion, Person

COPIED: Final = (
    "attempts", "counts", "feedback", "feedback_when", "late", "late_per_day", "late_floor", "drafts_shown", "weight",
)  # fmt: skip


@dataclass(frozen=True)
class CopyRow:
    """An assignment to copy: its version in the new class, and its dates in the class's time zone."""

    assignment: int
    version: int
    due: datetime
    opens: datetime | None = None


def weeks_between(first: date, new_first: date) -> int:
    """Return by how many whole weeks dates shift so that the first one is on a day or in the six days after it.

    Examples
    --------
    >>> weeks_between(date(2026, 9, 7), date(2027, 2, 1))
    21
    >>> weeks_between(date(2026, 9, 7), date(2027, 2, 2))
    22
    """
    return -((first - new_first).days // 7)


def copy_plan(db: Session, person: Person, class_id: int, first_day: date) -> CopyPlanResponse:
    """Return how a class would be copied, so that its first date is in the week that begins on a day; copy nothing."""
    classroom = class_for(db, person, class_id)
    items = assignments.assignments_in(db, class_id)
    zone = ZoneInfo(classroom.time_zone)

    def local(at: datetime) -> datetime:
        return at.astimezone(zone).replace(tzinfo=None)

    first = min((local(item.opens_at or item.due_at).date() for item in items), default=first_day)
    weeks = weeks_between(first, first_day)
    shift = timedelta(weeks=weeks)
    newest = _newest_versions(db, person, items)
    return CopyPlanResponse(
        class_id=class_id,
        name=classroom.name,
        time_zone=classroom.time_zone,
        weeks=weeks,
        rows=tuple(
            CopyRowResponse(
                assignment=item.id,
                title=version_ready(item.exercise_version).exercise.title,
                version=_choice(item.exercise_version),
                newest=_choice(newest.get(item.exercise_version.exercise, item.exercise_version)),
                opens=None if item.opens_at is None else local(item.opens_at) + shift,
                due=local(item.due_at) + shift,
            )
            for item in items
        ),
    )


def copy_class(db: Session, person: Person, class_id: int, name: str, rows: Sequence[CopyRow]) -> int:
    """Copy assignments of a class into a new one without people or work; return the new class's id.

    Raises RefusedError "copy-row" with the title of the assignment and what is wrong with it, "not-found" for an
    assignment of another class.
    """
    classroom = class_for(db, person, class_id)
    items = {item.id: item for item in assignments.assignments_in(db, class_id)}
    if not {row.assignment for row in rows} <= set(items):
        raise RefusedError("not-found")
    made = make(db, person, name, classroom.time_zone)
    taken: set[int] = set()
    for row in rows:
        db.add(_copied(db, person, (items[row.assignment], row), (made, name, classroom.time_zone), taken))
    note(db, person, "class copied", made, name=classroom.name)
    return made


def _copied(
    db: Session, person: Person, given: tuple[Assignment, CopyRow], into: tuple[int, str, str], taken: set[int]
) -> Assignment:
    """Return the copy of an assignment. into: the new class with its name and time zone; taken: versions in it."""
    (item, row), (class_id, name, time_zone) = given, into
    title = version_ready(item.exercise_version).exercise.title
    version = item.exercise_version if row.version == item.exercise_version_id else version_for(db, person, row.version)
    if version.exercise != item.exercise_version.exercise:
        raise RefusedError("not-found")
    try:
        if version.id in taken:
            raise RefusedError("already-set", name=name)
        opens_at, due_at = moments(row.opens, row.due, time_zone)
    except RefusedError as error:
        raise RefusedError("copy-row", title=title, why=error.text) from None
    taken.add(version.id)
    options = {option: getattr(item, option) for option in COPIED}
    return Assignment(class_id=class_id, exercise_version_id=version.id, opens_at=opens_at, due_at=due_at, **options)


def _newest_versions(db: Session, person: Person, items: Sequence[Assignment]) -> Mapping[str, ExerciseVersion]:
    """Return the newest version of each exercise that the person may see."""
    wanted = {item.exercise_version.exercise for item in items}
    found: dict[str, ExerciseVersion] = {}
    for version in plans.versions_seen_by(db, person.id):
        if version.exercise in wanted and (
            version.exercise not in found or version.number > found[version.exercise].number
        ):
            found[version.exercise] = version
    return found


def _choice(version: ExerciseVersion) -> VersionChoice:
    return VersionChoice(version=version.id, number=version.number)
