"""Scenes of a plan: made from a file, and downloaded as one."""

from __future__ import annotations

from typing import Literal

from pydantic import ValidationError
from sqlalchemy.orm import Session

from cubedrill.core.authoring.plan import UNTITLED
from cubedrill.formats.documents import FormatError, scene_alone
from cubedrill.service.access import plan_for, require_instructor
from cubedrill.service.downloads import Download, ExportFormat, scene_download
from cubedrill.service.errors import RefusedError
from cubedrill.service.plans.plan import Origin, create, whole_plan
from cubedrill.service.plans.responses import ImportedSceneResponse
from cubedrill.store.tables import Person

Given = Literal["start", "target"]


def take_plan(db: Session, person: Person, plan_id: int, which: Given, export: ExportFormat) -> Download:
    """Return what a plan gives or wants; raise RefusedError "nothing-there" where there is nothing yet."""
    stored = plan_for(db, person, plan_id)
    plan = whole_plan(db, stored)
    try:
        exercise = plan.model_copy(update={"title": plan.title or UNTITLED}).exercise()
    except ValidationError:
        raise RefusedError("nothing-there") from None
    scene = exercise.start_scene() if which == "start" else exercise.target_scene()
    return scene_download(f"{stored.exercise}-{which}", scene, export)


def bring_scene(db: Session, person: Person, name: str, content: bytes) -> ImportedSceneResponse:
    """Make a plan with what is in a scene file; raise RefusedError "unreadable-file" where it is none."""
    require_instructor(db, person)
    try:
        scene = scene_alone(content, name)
    except FormatError as error:
        raise RefusedError("unreadable-file", why=str(error)) from None
    return ImportedSceneResponse(plan=create(db, person, Origin(scene=scene)).plan, notes=scene.notes)
