"""Measuring on the bench: of one thing or between two, in the scene after some steps. Nothing of it is a step."""

from __future__ import annotations

from collections.abc import Iterable

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.scene.queries import Asked, measured
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import as_vector
from cubedrill.service.errors import RefusedError
from cubedrill.service.work.editing import StepEditor
from cubedrill.service.work.responses import AmountResponse, MeasuredResponse, MeasuresResponse


def measures(editor: StepEditor, draft: DraftSteps, asked: Iterable[Asked]) -> MeasuresResponse:
    """Return what was measured; raise RefusedError "not-measured" where the exercise switches it off."""
    if editor.ready.exercise.rules.measure == "hidden":
        raise RefusedError("not-measured")
    scene = editor.after(draft).states[-1].scene
    return MeasuresResponse(measured=tuple(_shown(scene, each) for each in asked))


def _shown(scene: Scene, asked: Asked) -> MeasuredResponse:
    try:
        found = measured(scene, asked)
    except CoreError as error:
        return MeasuredResponse(amounts=(), points=None, why=error.text)
    amounts = tuple(AmountResponse(what=a.what, value=a.value, unit=a.unit) for a in found.amounts)
    points = None if found.points is None else (as_vector(found.points[0]), as_vector(found.points[1]))
    return MeasuredResponse(amounts=amounts, points=points, why="")
