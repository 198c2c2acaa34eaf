"""Core values as the views that screens get."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Final
from weakref import WeakKeyDictionary

import numpy as np

from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.solids import Mesh
from cubedrill.core.geometry.transform import mapped, parts_of
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.exercise import VIEWS, Exercise
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.matching import Match, adopted, choices_that_fit
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.scene.measure import own_sizes
from cubedrill.core.scene.reading import Reading, angles_of
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps import OPS, Step
from cubedrill.core.steps.replay import Replayed, State, readings_of
from cubedrill.core.values import Array, as_vector
from cubedrill.service.disclosure import Disclosure, as_seen
from cubedrill.service.prepared import PreparedExercise
from cubedrill.service.responses import (
    BoxResponse,
    DraftResponse,
    ExerciseResponse,
    HaloResponse,
    MatchResponse,
    ObjectResponse,
    PlaceResponse,
    PoseResponse,
    PreviewResponse,
    ReadingResponse,
    RefusedStepResponse,
    RestResponse,
    StateResponse,
    StepObjectResponse,
    StepResponse,
)
from cubedrill.store.tables import StoredDraft


def shown_exercise(ready: PreparedExercise, seen: Disclosure) -> ExerciseResponse:
    """Return what a person may see of an exercise, to draw it; of the target, only differences from the start."""
    published = as_seen(ready, seen)
    exercise, start, target = published.exercise, published.start, published.target
    return ExerciseResponse(
        id=exercise.id,
        title=exercise.title,
        brief=exercise.brief,
        conventions=exercise.conventions,
        picture_from_world=_columns(exercise.conventions.picture_from_world),
        objects=shown_objects(start),
        start=shown_poses(start),
        marker=as_vector(start.marker),
        plot=_shown_box(start.plot),
        target=_changed(start, target),
        target_objects=shown_objects(published.target),
        halos=shown_halos(exercise, target),
        gaps_shown=published.gaps_shown,
        measuring=published.exercise.rules.measure == "shown",
        kinds=published.exercise.rules.kinds or OPS,
        views=published.exercise.rules.views or VIEWS,
    )


def shown_poses(scene: Scene) -> dict[str, PoseResponse]:
    """Return where every object of a scene is."""
    return {object_id: _pose(scene, object_id) for object_id in scene.objects}


def shown_steps(states: Sequence[State]) -> tuple[StepResponse, ...]:
    """Return each step with its sentence and what it changed; states: the one before the first step first."""
    return tuple(_shown_step(state, state.step, state.before) for state in states if state.step and state.before)


def _shown_step(state: State, step: Step, before: Scene) -> StepResponse:
    after = state.scene
    return StepResponse(
        step=step,
        on=state.on,
        sentence=state.sentence,
        changed=_changed(before, after),
        objects=tuple(
            _shown_change(before, after, item) for item in after.objects.values() if not _same_object(before, item)
        ),
        gone=tuple(i for i in before.objects if i not in after.objects),
        marker=None if after.marker is before.marker else as_vector(after.marker),
        skewed=state.skewed,
    )


def shown_draft(
    row: StoredDraft, draft: DraftSteps, replayed: Replayed, state: StateResponse, first: int = 0
) -> DraftResponse:
    """Return a draft with its replay and the state at its cursor, without the steps before the one at `first`."""
    states = replayed.states
    done = len(states) - 1
    return DraftResponse(
        revision=row.revision,
        cursor=draft.cursor,
        saved_at=row.saved_at,
        first=min(first, done),
        steps=shown_steps(states[min(first, done) + 1 :]),
        refused=shown_refusal(replayed),
        rest=tuple(RestResponse(step=step, on=done + i not in draft.off) for i, step in enumerate(draft.steps[done:])),
        matches=dict(draft.matches),
        state=state,
    )


def shown_refusal(replayed: Replayed) -> RefusedStepResponse | None:
    """Return why a replay went no further."""
    error = replayed.refused
    return None if error is None else RefusedStepResponse(step=error.step or 0, code=error.code, text=error.text)


def shown_preview(found: Replayed, done: int) -> PreviewResponse:
    """Return what the last of so many steps would do."""
    last = shown_steps(found.states[-1:]) if len(found.states) > done else ()
    return PreviewResponse(step=last[0] if last else None, refused=shown_refusal(found))


def shown_state(
    published: PreparedExercise, states: Sequence[State], chosen: Mapping[str, str | None]
) -> StateResponse:
    """Return the scene at the last of these states; all are needed, since angles are read from one to the next.

    chosen: by hand, what was added for which object of the target.
    """
    scene = states[-1].scene
    gaps: tuple[CheckResult, ...] = ()
    matches: tuple[MatchResponse, ...] = ()
    if published.gaps_shown:
        target = published.target
        called, found = adopted(target, scene, choices_that_fit(target, scene, chosen))
        gaps = judge_loaded(published.exercise, target, LoadedSubmission(called, states)).checks
        matches = shown_matches(found, [item for i, item in target.objects.items() if i not in scene.objects])
    read = readings_of(states, every=False)[-1]
    readings = {i: _shown_once(scene, i, reading) for i, reading in read.items()}
    return StateResponse(gaps=gaps, readings=readings, matches=matches)


def shown_matches(found: Sequence[Match], wanted: Iterable[SceneObject]) -> tuple[MatchResponse, ...]:
    """Return, for each of these objects of the target, what was taken for it."""
    by_target = {match.target: match for match in found}
    pairs = ((item, by_target.get(item.id)) for item in wanted)
    return tuple(
        MatchResponse(
            target=item.id,
            name=item.name,
            submitted=match.submitted if match else None,
            by=match.by if match else None,
        )
        for item, match in pairs
    )


LATER: Final = "The numbers appear once no attempt is left or the exercise is due."


def checks_without_numbers(ready: PreparedExercise, results: Iterable[CheckResult]) -> tuple[CheckResult, ...]:
    """Return which checks passed and which did not, without numbers, and with the names that objects have at the start.

    The label of a check still names an object that only the target has: students could not tell the checks apart.
    """
    pairs = [(ready.target[i].name, item.name) for i, item in ready.start.objects.items() if i in ready.target.objects]
    renamed = sorted(((new, old) for new, old in pairs if new != old), key=lambda names: -len(names[0]))
    found = []
    for result in results:
        label = result.label
        for new, old in renamed:
            label = label.replace(new, old)
        hidden = {"target": (), "submitted": None, "difference": None, "text": LATER, "wanted": "", "found": ""}
        found.append(result.model_copy(update={**hidden, "label": label}))
    return tuple(found)


# A reading that did not change from one step to the next is shown as it was.
_SHOWN: Final[WeakKeyDictionary[Reading, ReadingResponse]] = WeakKeyDictionary()


def _shown_once(scene: Scene, object_id: str, reading: Reading) -> ReadingResponse:
    shown = _SHOWN.get(reading)
    if shown is None:
        shown = _SHOWN[reading] = _shown_reading(scene, object_id, reading)
    return shown


def _shown_reading(scene: Scene, object_id: str, reading: Reading) -> ReadingResponse:
    unit = scene.conventions.radians_per_unit
    world = parts_of(reading.world_from_local)
    position_parent = mapped(reading.item.parent_from_local, reading.item.pivot)
    box = reading.world_box
    return ReadingResponse(
        world=PlaceResponse(
            position=as_vector(reading.pivot_world),
            angles=as_vector(angles_of(world.rotation, scene.conventions.euler) / unit),
            scale=as_vector(world.scale),
            skewed=bool(world.skewed),
        ),
        parent=PlaceResponse(
            position=as_vector(position_parent),
            angles=as_vector(reading.euler_rad / unit),
            scale=as_vector(reading.scale),
            skewed=reading.skewed,
        ),
        size=None if box is None else as_vector(own_sizes(scene, object_id)),
        world_box=_shown_box(box),
    )


def shown_objects(scene: Scene) -> tuple[ObjectResponse, ...]:
    """Return every object of a scene as it is drawn and named."""
    return tuple(_shown_object(scene, item) for item in scene.objects.values())


def _shown_object(scene: Scene, item: SceneObject) -> ObjectResponse:
    return ObjectResponse(
        id=item.id,
        name=item.name,
        solid=item.solid,
        parent=item.parent,
        pivot=as_vector(item.pivot),
        colour=item.colour,
        opacity=item.opacity,
        locked=item.locked,
        local_box=_shown_box(item.solid.local_box(scene.conventions.up_index) if item.solid else None),
    )


def _same_object(before: Scene, item: SceneObject) -> bool:
    """Tell whether nothing but its place differs between an object and that in the scene before."""
    was = before.objects.get(item.id)
    return was is item or (was is not None and _looks(was) == _looks(item))


def _shown_change(before: Scene, after: Scene, item: SceneObject) -> StepObjectResponse:
    """Show an object that was made or changed; a mesh that is there already is named, not sent once more."""
    shown = dict(_shown_object(after, item))
    had = (i for i, other in before.objects.items() if other.solid is item.solid) if _is_large(item) else iter(())
    same = next(had, None)
    if same is not None:
        shown |= {"solid": None, "local_box": None}
    return StepObjectResponse(**shown, solid_of=same)


def _is_large(item: SceneObject) -> bool:
    return isinstance(item.solid, Mesh)


def _looks(item: SceneObject) -> tuple[object, ...]:
    return (item.name, item.parent, item.colour, item.opacity, tuple(item.pivot.tolist()))


def _shown_box(box: Box | None) -> BoxResponse | None:
    return None if box is None else BoxResponse(least=as_vector(box.least), most=as_vector(box.most))


def _pose(scene: Scene, object_id: str) -> PoseResponse:
    return PoseResponse(
        world_from_local=_columns(scene.world_from_local(object_id)),
        pivot_world=as_vector(scene.pivot_world(object_id)),
    )


def _changed(before: Scene, after: Scene) -> dict[str, PoseResponse]:
    """Return where those objects are that stand elsewhere than before, or whose pivot does."""
    return {i: _pose(after, i) for i in after.objects if not _same_place(before, after, i)}


def _same_place(before: Scene, after: Scene, object_id: str) -> bool:
    return (
        object_id in before.objects
        and np.array_equal(before[object_id].pivot, after[object_id].pivot)
        and np.array_equal(before.world_from_local(object_id), after.world_from_local(object_id))
    )


def shown_halos(exercise: Exercise, target: Scene) -> tuple[HaloResponse, ...]:
    """Return the tolerances of an exercise that can be drawn."""
    found = ((check.id, i, check.halo(i, target)) for check in exercise.checks for i in check.objects)
    return tuple(
        HaloResponse(
            check=check_id,
            object=object_id,
            world_from_axes=_columns(halo.world_from_axes),
            centre_world=as_vector(halo.centre_world),
            half_sizes=as_vector(halo.half_sizes),
        )
        for check_id, object_id, halo in found
        if halo is not None
    )


def _columns(matrix: Array) -> tuple[float, ...]:
    return tuple(matrix.ravel(order="F").tolist())
