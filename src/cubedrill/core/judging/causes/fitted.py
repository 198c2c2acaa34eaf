"""Mistakes that are read off what was submitted: a ragged value near a clean one, and off in depth."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.transform import parts_of
from cubedrill.core.judging.causes.common import Mistake, Mutation, StepContext, Words
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.scene.reading import euler_nearest
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.rotate import Rotate
from cubedrill.core.steps.scale import Scale
from cubedrill.core.values import Array

NEAR: Final = 0.1  # of the clean value. Common practice, no source: a drag to 100 ends some 6 units off
DIGITS: Final = 9  # significant figures below which there is only rounding


def _nothing(context: StepContext) -> Iterator[Mutation]:
    """Yield nothing: these mistakes are fitted to the submission and not made in advance."""
    del context
    yield from ()


RAGGED: Final = Mistake(
    "ragged-value", 0.5,
    Words(
        "is nearly right, with an uneven value{detail}, as from a drag",
        "Check that each value of {object} is a round number.",
    ),
    _nothing, late=1,
)  # fmt: skip
DEPTH: Final = Mistake(
    "off-in-depth", 0.5,
    Words("looks right {detail} but is off in depth", "Look at {object} from another side."),
    _nothing, late=2,
)  # fmt: skip


def values_fitted(reference: Reference, submitted: Scene, object_id: str) -> Iterator[Mutation]:
    """Yield the reference with one value fitted so that the object comes where it was submitted, last step first.

    Only values within a tenth of the clean one, and written with more figures than it.
    """
    if object_id not in submitted.objects or object_id not in reference.target.objects:
        return
    for k in reversed(range(len(reference.steps))):
        context = reference.context(k)
        ids = context.step.acts_on
        if object_id in ids or set(ids) & set(reference.target.ancestors(object_id)):
            yield from _fits(reference, context, submitted, object_id)


def _fits(reference: Reference, context: StepContext, submitted: Scene, object_id: str) -> Iterator[Mutation]:
    match context.step:
        case Move():
            yield from _fitted_move(reference, context, submitted, object_id)
        case Rotate(to=to) if to is not None:
            yield from _fitted_angles(context, submitted, object_id)
        case Rotate(angle=angle) if angle:
            yield from _fitted_turn(reference, context, submitted, object_id)
        case Scale(by=by) if by is not None:
            yield from _fitted_factors(reference, context, submitted, object_id)


def _fitted_move(reference: Reference, context: StepContext, submitted: Scene, object_id: str) -> Iterator[Mutation]:
    """Yield the step with the missing displacement added: the final position is linear in its numbers."""
    step = context.step
    field = "by" if getattr(step, "by", None) is not None else "to"
    values = list(getattr(step, field))
    axes = [i for i, value in enumerate(values) if value]
    if not axes:
        return
    here = reference.target.pivot_world(object_id)
    columns = []
    for i in axes:
        further = [value + 1.0 if i == j else value for j, value in enumerate(values)]
        moved = _pivot(reference, context.changed("", **{field: tuple(further)}), object_id)
        if moved is None:
            return
        columns.append(moved - here)
    missing = submitted.pivot_world(object_id) - here
    found, *_ = np.linalg.lstsq(np.column_stack(columns), missing, rcond=None)
    anew = list(values)
    for i, more in zip(axes, found, strict=True):
        anew[i] = _clean(values[i] + float(more), values[i])
    yield from _if_ragged(context, field, values, anew)


def _fitted_turn(reference: Reference, context: StepContext, submitted: Scene, object_id: str) -> Iterator[Mutation]:
    """Yield the step with the least rotation that is missing, or too much, added."""
    angle = getattr(context.step, "angle", 0.0)
    target, handed = (parts_of(s.world_from_local(object_id)).rotation for s in (reference.target, submitted))
    off_rad = float(Rotation.from_matrix(handed @ target.T).magnitude())
    for way in (1.0, -1.0):
        anew = _clean(angle + way * off_rad / context.conventions.radians_per_unit, angle)
        if _is_ragged(anew, angle):
            yield context.changed(f" ({_shown(anew)})", angle=anew)


def _fitted_angles(context: StepContext, submitted: Scene, object_id: str) -> Iterator[Mutation]:
    """Yield the step with the submitted angles, if no later step turns the object."""
    step = context.step
    in_world = getattr(step, "space", "world") == "world"
    placed = submitted.world_from_local(object_id) if in_world else submitted[object_id].parent_from_local
    set_to: Sequence[float] = getattr(step, "to", (0.0, 0.0, 0.0))
    typed_rad = np.array(set_to) * context.conventions.radians_per_unit
    rotation = parts_of(placed).rotation
    found = euler_nearest(rotation, context.conventions.euler, typed_rad) / context.conventions.radians_per_unit
    anew = [_clean(float(f), c) if c else c for f, c in zip(found, set_to, strict=True)]
    yield from _if_ragged(context, "to", list(set_to), anew)


def _fitted_factors(reference: Reference, context: StepContext, submitted: Scene, object_id: str) -> Iterator[Mutation]:
    target, handed = (
        np.linalg.norm(s.world_from_local(object_id)[:3, :3], axis=0) for s in (reference.target, submitted)
    )
    by: Sequence[float] = getattr(context.step, "by", (1.0, 1.0, 1.0))
    anew = [_clean(f * float(r), f) if f != 1 else f for f, r in zip(by, handed / target, strict=True)]
    yield from _if_ragged(context, "by", list(by), anew)


def _if_ragged(context: StepContext, field: str, clean: list[float], anew: list[float]) -> Iterator[Mutation]:
    pairs = [(a, c) for a, c in zip(anew, clean, strict=True) if a != c]
    if pairs and all(_is_ragged(a, c) for a, c in pairs):
        yield context.changed(f" ({', '.join(_shown(a) for a, _c in pairs)})", **{field: tuple(anew)})


def _is_ragged(value: float, clean: float) -> bool:
    return value != clean and abs(value - clean) <= NEAR * abs(clean) and _figures(value) > _figures(clean)


def _clean(value: float, clean: float) -> float:
    """Return the value without what is only rounding: the clean one itself where they are the same."""
    return clean if math.isclose(value, clean, rel_tol=1e-9) else float(f"{value:.{DIGITS}g}")


def _figures(value: float) -> int:
    """Return the number of significant figures of a number."""
    mantissa, _, _ = f"{abs(value):.{DIGITS - 1}e}".partition("e")
    return len(mantissa.replace(".", "").rstrip("0"))


def _shown(value: float) -> str:
    return f"{value:.4g}".replace("-", "−")


def _pivot(reference: Reference, mutation: Mutation, object_id: str) -> Array | None:
    (landed,) = reference.led([(mutation,)])
    return landed[0].pivot_world(object_id) if landed else None


def right_but_for_depth(target: Scene, submitted: Scene, object_id: str, passes: Callable[[Scene], bool]) -> str | None:
    """Return from where the object looks right, where its depth from there alone is wrong."""
    if object_id not in submitted.objects or object_id not in target.objects:
        return None
    missing = target.pivot_world(object_id) - submitted.pivot_world(object_id)
    for axis, words in _views(target):
        along = axis * float(axis @ missing)
        if along.any() and passes(submitted.with_objects([submitted.moved_by(object_id, along)])):
            return words
    return None


def _views(target: Scene) -> list[tuple[Array, str]]:
    """Return the directions that one looks along in the elevations, in world, and how each is called."""
    right, up, toward = target.conventions.picture_from_world
    return [(toward, "from the front"), (up, "from above"), (right, "from the side")]
