"""Taking scenes away as files of any kind: what is given, what is wanted, one's own work, what was handed in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

from pydantic import ValidationError
from sqlalchemy.orm import Session

from cubedrill.core.authoring.plan import UNTITLED
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.submission import SceneSubmission, scene_in
from cubedrill.core.scene.scene import Scene
from cubedrill.formats.converting import converted_scene, written
from cubedrill.formats.limits import UnreadableError
from cubedrill.service.access import assignment_for, plan_for, submission_for
from cubedrill.service.bench import desk_of
from cubedrill.service.disclosure import EVERYTHING, of_own_submission, while_working, work_as_seen
from cubedrill.service.draft import kept_steps
from cubedrill.service.errors import RefusedError
from cubedrill.service.published import exercise_of
from cubedrill.service.workshop import whole_plan
from cubedrill.store.shapes import SUBMISSION
from cubedrill.store.submissions import next_number
from cubedrill.store.tables import Person

Given = Literal["start", "target"]
Own = Literal["start", "target", "work"]


@dataclass(frozen=True)
class As:
    """As what a scene is taken away: how the file's name ends, and conventions by their names, where none are fixed."""

    end: str
    chosen: Mapping[str, str]


@dataclass(frozen=True)
class Taken:
    """A file to be taken away."""

    name: str
    content: bytes


def take_assignment(db: Session, person: Person, assignment_id: int, which: Own, as_: As) -> Taken:
    """Return what a student has before her; raise RefusedError "not-shown" where the target is not to be seen."""
    assignment = assignment_for(db, person, assignment_id, "student")
    desk = desk_of(db, person, assignment_id)
    ready = desk.ready
    if which == "target" and not while_working(ready.exercise.rules).target:
        raise RefusedError("not-shown")
    scene = {"start": lambda: ready.start, "target": lambda: ready.target}.get(
        which, lambda: desk.after(kept_steps(desk.opened())).states[-1].scene
    )()
    return _taken(f"{assignment.exercise_version.exercise}-{which}", scene, as_)


def take_submission(db: Session, person: Person, submission_id: int, as_: As) -> Taken:
    """Return what was handed in, in the axes of the exercise unless others are chosen."""
    submission = submission_for(db, person, submission_id)
    ready = exercise_of(submission)
    document = SUBMISSION.read(submission.document, submission.shape)
    seen = EVERYTHING
    if submission.person_id == person.id:
        assignment, now = submission.assignment, datetime.now(UTC)
        attempts = next_number(db, assignment.id, person.id) - 1
        seen = of_own_submission(assignment, ready.exercise.rules, attempts, now)
    if isinstance(document, SceneSubmission):
        scene = scene_in(ready.target, document.scene)  # under the names that it had
    else:
        scene = work_as_seen(ready, seen, document).scene
    return _taken(f"{ready.exercise.id}-{submission.person.sign_in}-{submission.number}", scene, as_)


def take_plan(db: Session, person: Person, plan_id: int, which: Given, as_: As) -> Taken:
    """Return what a plan gives or wants; raise RefusedError "nothing-there" where there is nothing yet."""
    stored = plan_for(db, person, plan_id)
    plan = whole_plan(db, stored)
    try:
        exercise = plan.model_copy(update={"title": plan.title or UNTITLED}).exercise()
    except ValidationError:
        raise RefusedError("nothing-there") from None
    scene = exercise.start_scene() if which == "start" else exercise.target_scene()
    return _taken(f"{stored.exercise}-{which}", scene, as_)


def _taken(name: str, scene: Scene, as_: As) -> Taken:
    wanted = Conventions.model_validate({**scene.conventions.model_dump(), **as_.chosen})
    try:
        return Taken(f"{name}{as_.end}", written(converted_scene(scene, wanted), as_.end))
    except UnreadableError as error:
        raise RefusedError("unreadable-file", why=f"{name}{as_.end}: {error}") from None
