"""Core values as the views that screens get."""

from __future__ import annotations

from collections.abc import Sequence
from typing import cast

import numpy as np

from cubedrill.core.checks import halo_of
from cubedrill.core.exercise import Exercise
from cubedrill.core.judge import judge_scene
from cubedrill.core.replay import State, replay
from cubedrill.core.scene import Scene
from cubedrill.core.steps import Step
from cubedrill.core.values import Array
from cubedrill.service.published import Published
from cubedrill.service.views import (
    DraftView,
    ExerciseView,
    HaloView,
    ObjectView,
    PoseView,
    StepView,
    Vec3,
)
from cubedrill.store.tables import Draft


def shown_exercise(published: Published) -> ExerciseView:
    """Return an exercise as it is drawn; of the target, only what differs from the start."""
    exercise, start, target = published.exercise, published.start, published.target
    return ExerciseView(
        id=exercise.id,
        title=exercise.title,
        brief=exercise.brief,
        conventions=exercise.conventions,
        picture_from_world=_columns(exercise.conventions.picture_from_world),
        objects=tuple(_shown_object(start, object_id) for object_id in start.objects),
        target=_changed(start, target),
        halos=_halos(exercise, target),
    )


def shown_steps(states: Sequence[State]) -> tuple[StepView, ...]:
    """Return each step with its sentence and the objects that it changed; states: the start first."""
    return tuple(
        StepView(step=state.step, sentence=state.sentence, changed=_changed(state.before, state.scene))
        for state in states
        if state.step is not None and state.before is not None
    )


def shown_draft(published: Published, draft: Draft, steps: Sequence[Step]) -> DraftView:
    """Return a draft replayed, with the checks as they stand at its cursor. Raises the CoreError of a refused step."""
    states = replay(published.start, steps)
    report = judge_scene(published.exercise, published.target, states[draft.cursor].scene)
    return DraftView(
        revision=draft.revision,
        cursor=draft.cursor,
        saved_at=draft.saved_at,
        steps=shown_steps(states),
        gaps=report.checks,
    )


def _shown_object(scene: Scene, object_id: str) -> ObjectView:
    item = scene[object_id]
    return ObjectView(
        id=item.id,
        name=item.name,
        solid=item.solid,
        parent=item.parent,
        pivot=_three(item.pivot),
        colour=item.colour,
        opacity=item.opacity,
        locked=item.locked,
        start=_pose(scene, object_id),
    )


def _pose(scene: Scene, object_id: str) -> PoseView:
    world_from_local = scene.world_from_local(object_id)
    return PoseView(world_from_local=_columns(world_from_local), pivot_world=_three(scene.pivot_world(object_id)))


def _changed(before: Scene, after: Scene) -> dict[str, PoseView]:
    """Return where those objects are that stand elsewhere than before."""
    return {i: _pose(after, i) for i in after.objects if not _same_place(before, after, i)}


def _same_place(before: Scene, after: Scene, object_id: str) -> bool:
    return object_id in before.objects and np.array_equal(
        before.world_from_local(object_id), after.world_from_local(object_id)
    )


def _halos(exercise: Exercise, target: Scene) -> tuple[HaloView, ...]:
    found = ((check.id, i, halo_of(check, i, target)) for check in exercise.checks for i in check.objects)
    return tuple(
        HaloView(
            check=check_id,
            object=object_id,
            world_from_axes=_columns(halo.world_from_axes),
            centre_world=_three(halo.centre_world),
            half_sizes=_three(halo.half_sizes),
        )
        for check_id, object_id, halo in found
        if halo is not None
    )


def _columns(matrix: Array) -> tuple[float, ...]:
    return tuple(matrix.ravel(order="F").tolist())


def _three(values: Array) -> Vec3:
    return cast(Vec3, tuple(values.tolist()))
