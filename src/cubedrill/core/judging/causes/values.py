"""Mistakes in the numbers of a step: signs, axes, units, By and To, factors and sizes, angles."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from functools import cache
from typing import Final, get_args

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import AXES, Conventions, ConventionTransform
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import parts_of
from cubedrill.core.judging.causes.common import Mistake, Mutation, StepContext, Words
from cubedrill.core.scene import wording
from cubedrill.core.scene.reading import angles_of
from cubedrill.core.scene.scene import IDENTITY
from cubedrill.core.steps.aim import Aim, Swing
from cubedrill.core.steps.align import Align, Drop
from cubedrill.core.steps.common import SignedAxis
from cubedrill.core.steps.existence import Add
from cubedrill.core.steps.join import Join
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.rotate import Rotate
from cubedrill.core.steps.scale import Scale

Triple = Sequence[float | None]


def _triples(step: Move | Rotate | Scale) -> Iterator[tuple[str, Triple]]:
    """Yield the fields of a step that hold one number for each axis: amounts, or the direction of an axis."""
    for name in ("by", "to", "axis"):
        values = getattr(step, name, None)
        if values is not None and not isinstance(values, str):
            yield name, values


def _with(values: Triple, changes: dict[int, float | None]) -> tuple[float | None, ...]:
    return tuple(changes.get(i, value) for i, value in enumerate(values))


def _letter(context: StepContext, field: str, index: int) -> str:
    """Return the axis of a number: angles stand in the order of the conventions."""
    if isinstance(context.step, Rotate) and field == "to":
        return context.conventions.euler[index].upper()
    return "XYZ"[index]


def signs_flipped(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with the sign of each number flipped, and of all numbers."""
    step = context.step
    if isinstance(step, Rotate) and step.angle:
        yield context.changed(angle=-step.angle)
    if not isinstance(step, Move | Rotate):
        return
    for field, values in _triples(step):
        given = [i for i, value in enumerate(values) if value]
        for i in given:
            flipped = _with(values, {i: -(values[i] or 0.0)})
            yield context.changed(f" along {_letter(context, field, i)}", **{field: flipped})
        if len(given) > 1:
            yield context.changed(" on all axes", **{field: _with(values, {i: -(values[i] or 0.0) for i in given})})


def _axes_replaced(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with another axis of its rotation, aim or kept volume."""
    step = context.step
    if isinstance(step, Aim):
        others = [axis for axis in get_args(SignedAxis) if axis[1] != step.axis[1]]
        yield from (context.changed(_replaced("aimed with", step.axis, axis), axis=axis) for axis in others)
    elif isinstance(step, Rotate | Swing) and isinstance(step.axis, str):
        others = [axis for axis in AXES if axis != step.axis]
        yield from (context.changed(_replaced("turned about", step.axis, axis), axis=axis) for axis in others)
    elif isinstance(step, Scale) and step.keep_volume:
        kept = step.keep_volume
        for axis in AXES:
            if axis != kept.axis:
                changed = kept.model_copy(update={"axis": axis})
                yield context.changed(_replaced("scaled along", kept.axis, axis), keep_volume=changed)


def _replaced(done: str, right: str, wrong: str) -> str:
    return f"was {done} {wording.axis_name(wrong)} instead of {wording.axis_name(right)}"


def axes_exchanged(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with another axis, with two numbers swapped, or with all three rotated.

    All three are moved round where another axis was taken for up: X, Y, Z become Y, Z, X or Z, X, Y.
    """
    yield from _axes_replaced(context)
    step = context.step
    if not isinstance(step, Move | Rotate | Scale):
        return
    for field, values in _triples(step):
        for i, j in ((0, 1), (0, 2), (1, 2)):
            if values[i] != values[j]:
                letters = f"has the values of {_letter(context, field, i)} and {_letter(context, field, j)} swapped"
                yield context.changed(letters, **{field: _with(values, {i: values[j], j: values[i]})})
        for way in (1, 2) if len(set(values)) == 3 else ():  # of two alike it is an exchange of two
            moved_round = tuple(values[(i + way) % 3] for i in range(3))
            yield context.changed("has its three values on the wrong axes", **{field: moved_round})


def by_as_to(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with By typed as To; components that are 0 stay."""
    step = context.step
    if isinstance(step, Move) and step.by is not None:
        yield context.changed(by=None, to=tuple(value or None for value in step.by))
    if isinstance(step, Rotate) and step.angle is not None and isinstance(step.axis, str):
        space = "parent" if step.space in ("parent", "local") else "world"
        fields = [i for i, letter in enumerate(context.conventions.euler.lower()) if letter == step.axis]
        for object_id in step.acts_on:
            before = _angles(context, object_id, space)
            for i in fields:  # none, one or two: an order such as ZXZ has a letter twice and lacks another
                to = _with(before, {i: step.angle})
                turned = {"axis": None, "angle": None, "pivot": "own", "space": space, "to": to}
                yield context.instead([step.model_copy(update=turned)])


def _angles(context: StepContext, object_id: str, space: str) -> list[float]:
    """Return the Euler angles of an object before the step, in the exercise's unit."""
    scene = context.before
    placed = scene.world_from_local(object_id) if space == "world" else scene[object_id].parent_from_local
    read = angles_of(parts_of(placed).rotation, context.conventions.euler)
    return [float(value) for value in read / context.conventions.radians_per_unit]


def to_as_by(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with To typed as By."""
    step = context.step
    if isinstance(step, Move) and step.to is not None:
        yield context.changed(to=None, point=None, by=tuple(value or 0.0 for value in step.to))
    if isinstance(step, Rotate) and step.to is not None:
        before = _angles(context, step.acts_on[0], step.space if isinstance(step.space, str) else "world")
        typed = [i for i in range(3) if abs(step.to[i] - before[i]) > 1e-9]
        if len(typed) == 1 and step.to[typed[0]]:
            axis = context.conventions.euler.lower()[typed[0]]
            yield context.changed(to=None, axis=axis, angle=step.to[typed[0]])


def factor_as_size(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with a factor typed as a size; factors of 1 stay."""
    step = context.step
    if isinstance(step, Scale) and step.by is not None and all(f > 0 for f in step.by):
        sizes = tuple(None if factor == 1 else factor for factor in step.by)
        if any(sizes):
            yield context.changed(by=None, to=sizes, space="local")
        if all(sizes) and len(set(sizes)) == 1:
            for i in range(3):
                alone = tuple(size if i == j else None for j, size in enumerate(sizes))
                yield context.changed(f" along {'XYZ'[i]}", by=None, to=alone, uniform=True, space="local")


def size_as_factor(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with a size typed as a factor."""
    step = context.step
    if isinstance(step, Scale) and step.to is not None and any(step.to):
        given = next(value for value in step.to if value is not None)
        factors = (given,) * 3 if step.uniform else tuple(value or 1.0 for value in step.to)
        yield context.changed(to=None, uniform=False, by=factors, space="local")


def _scaled_numbers(context: StepContext, ratio: float, lengths: bool, detail: str) -> Iterator[Mutation]:
    """Yield the step with all lengths, or all angles, times a ratio."""
    step = context.step
    if isinstance(step, Rotate) and not lengths:
        if step.angle:
            yield context.changed(detail, angle=step.angle * ratio)
        if step.to is not None and any(step.to):
            yield context.changed(detail, to=tuple(value * ratio for value in step.to))
    if lengths and (isinstance(step, Move) or (isinstance(step, Scale) and step.to is not None)):
        for field, values in _triples(step):
            if any(values):
                scaled = tuple(None if value is None else value * ratio for value in values)
                yield context.changed(detail, **{field: scaled})


def wrong_angle_unit(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with its angle in another unit."""
    if isinstance(context.step, Rotate):
        for factor, detail in _ratios(context.conventions, "angle", ("deg", "rad", "turn")):
            yield from _scaled_numbers(context, factor, False, detail)


def wrong_length_unit(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with its lengths in another unit."""
    if isinstance(context.step, Move | Scale):
        for factor, detail in _ratios(context.conventions, "length", ("mm", "cm", "m", "in", "ft")):
            yield from _scaled_numbers(context, factor, True, detail)


@cache
def _ratios(own: Conventions, kind: str, units: tuple[str, ...]) -> list[tuple[float, str]]:
    """Return the factors of a number whose unit is confused with another, both ways, with the two units."""
    found: list[tuple[float, str]] = []
    for unit in units:
        if unit != getattr(own, kind):
            other = own.model_copy(update={kind: unit})
            ratio = (
                ConventionTransform(own, other).ratio
                if kind == "length"
                else own.radians_per_unit / other.radians_per_unit
            )
            found += [(factor, f" ({getattr(own, kind)} and {unit} confused)") for factor in (ratio, 1 / ratio)]
    return found


def _resized(ratio: float) -> Callable[[StepContext], Iterator[Mutation]]:
    def alter(context: StepContext) -> Iterator[Mutation]:
        step = context.step
        if isinstance(step, Scale) and step.by is not None:
            scaled = step.by if len(set(step.by)) > 1 else (None,) * 3
            yield context.changed(by=tuple(f if f == 1 and f in scaled else f * ratio for f in step.by))
        if isinstance(step, Scale) and step.to is not None:
            yield context.changed(to=tuple(None if size is None else size * ratio for size in step.to))
        if isinstance(step, Scale) and step.keep_volume:
            kept = step.keep_volume.model_copy(update={"factor": step.keep_volume.factor * ratio})
            yield context.changed(keep_volume=kept)
        if isinstance(step, Add) and step.object.solid is not None:
            smaller = step.object.model_copy(update={"solid": _solid_times(step.object.solid, ratio)})
            yield context.changed(object=smaller)

    return alter


def _solid_times(solid: Solid, ratio: float) -> Solid:
    """Return the solid with its round measures, or all its sizes where it has none, times a ratio."""
    numbers: dict[str, object] = {}
    for name in ("diameter", "bore", "thickness"):
        if hasattr(solid, name):
            numbers[name] = getattr(solid, name) * ratio
    if hasattr(solid, "size"):
        numbers["size"] = tuple(value * ratio for value in solid.size)
    return solid.model_copy(update=numbers)


def one_axis_scaled(context: StepContext) -> Iterator[Mutation]:
    """One axis scaled where all three should be."""
    step = context.step
    if isinstance(step, Scale) and step.by is not None and len(set(step.by)) == 1:
        for i in range(3):
            factors = tuple(factor if i == j else 1.0 for j, factor in enumerate(step.by))
            yield context.changed(f" (only {'XYZ'[i]})", by=factors, space=step.space or "local")
    if isinstance(step, Scale) and step.uniform:
        yield context.changed(uniform=False)


def all_axes_scaled(context: StepContext) -> Iterator[Mutation]:
    """Yield the step with all three axes scaled instead of one or two."""
    step = context.step
    if not isinstance(step, Scale):
        return
    if step.by is not None and len(set(step.by)) > 1:
        for factor in dict.fromkeys(factor for factor in step.by if factor != 1):
            yield context.changed(f" (all by {wording.number(factor)})", by=(factor,) * 3)
    if step.to is not None and not step.uniform:
        for i, size in enumerate(step.to):
            if size is not None:
                alone = tuple(size if i == j else None for j in range(3))
                yield context.changed(f" (all with {'XYZ'[i]})", to=alone, uniform=True)
    if step.keep_volume:
        yield context.changed(keep_volume=None, by=(step.keep_volume.factor,) * 3, space="local")
        along = tuple(step.keep_volume.factor if axis == step.keep_volume.axis else 1.0 for axis in AXES)
        without = ", without keeping the volume"
        yield context.changed(without, keep_volume=None, by=along, space=step.space)


def _other_angle(change: Callable[[float, float], float]) -> Callable[[StepContext], Iterator[Mutation]]:
    """Mistakes that make another angle of each; change: from the angle and a quarter turn, in the exercise's unit."""

    def alter(context: StepContext) -> Iterator[Mutation]:
        step = context.step
        if not isinstance(step, Rotate):
            return
        quarter = math.pi / 2 / context.conventions.radians_per_unit
        if step.angle:
            yield context.changed(angle=change(step.angle, quarter))
        for i, angle in enumerate(step.to or ()):
            if angle:
                other = _with(step.to or (), {i: change(angle, quarter)})
                yield context.changed(f" about {_letter(context, 'to', i)}", to=other)

    return alter


def _complement(angle: float, quarter: float) -> float:
    return math.copysign(quarter, angle) - angle


def _supplement(angle: float, quarter: float) -> float:
    return math.copysign(2 * quarter, angle) - angle


def half_sunk(context: StepContext, way: float) -> Iterator[Mutation]:
    """Yield the step with each object lower or higher by half its height, as if its centre were its base."""
    step = context.step
    if not isinstance(step, _PLACING):
        return
    up = context.conventions.up_index
    for object_id in step.acts_on:
        try:
            box = context.after.require_box(object_id, IDENTITY)
        except CoreError:
            continue
        by = tuple(way * box.size[up] / 2 if axis == up else 0.0 for axis in range(3))
        yield context.instead([step, Move(op="move", objects=(object_id,), by=by)], object_id=object_id)


_PLACING: Final = (Move, Align, Drop, Join)

WHERE: Final = "Check the value that you used for {object}."

VALUES: Final = (
    Mistake(
        "sign-flipped", 0.9,
        Words("has the wrong sign{detail}", "Check the signs of the values for {object}."),
        signs_flipped,
    ),
    Mistake(
        "axis-exchanged", 0.8,
        Words("{detail}", "Check which axis you used for {object}."),
        axes_exchanged,
    ),
    Mistake(
        "by-typed-as-to", 0.6,
        Words("has a value typed as To instead of By", "Check By and To for {object}."),
        by_as_to,
    ),
    Mistake(
        "to-typed-as-by", 0.6,
        Words("has a value typed as By instead of To", "Check By and To for {object}."),
        to_as_by,
    ),
    Mistake(
        "wrong-angle-unit", 0.5,
        Words("has an angle in the wrong unit{detail}", WHERE), wrong_angle_unit,
    ),
    Mistake(
        "wrong-length-unit", 0.5,
        Words("has a length in the wrong unit{detail}", WHERE), wrong_length_unit,
    ),
    Mistake(
        "factor-typed-as-size", 0.5,
        Words("has a factor typed as a size", "Check whether {object} was scaled by a factor or to a size."),
        factor_as_size,
    ),
    Mistake(
        "size-typed-as-factor", 0.5,
        Words("has a size typed as a factor", "Check whether {object} was scaled by a factor or to a size."),
        size_as_factor,
    ),
    Mistake(
        "half-size", 0.6,
        Words("is half the right size", WHERE), _resized(0.5),
    ),
    Mistake(
        "double-size", 0.6,
        Words("is twice the right size", WHERE), _resized(2.0),
    ),
    Mistake(
        "one-axis-scaled", 0.6,
        Words("was scaled along one axis instead of all{detail}", "Check along which axes {object} was scaled."),
        one_axis_scaled,
    ),
    Mistake(
        "all-axes-scaled", 0.6,
        Words("was scaled along too many axes{detail}", "Check along which axes {object} was scaled."),
        all_axes_scaled,
    ),
    Mistake(
        "wrong-way-round", 0.8,
        Words("was turned the wrong way{detail}", "Check which way {object} was turned."),
        _other_angle(lambda angle, _quarter: -angle),
    ),
    Mistake(
        "complementary-angle", 0.5,
        Words("was turned by the complementary angle, 90° minus the right angle{detail}", WHERE),
        _other_angle(_complement),
    ),
    Mistake(
        "supplementary-angle", 0.5,
        Words("was turned by the supplementary angle, 180° minus the right angle{detail}", WHERE),
        _other_angle(_supplement),
    ),
    Mistake(
        "half-sunk", 0.6,
        Words(
            "is sunk by half its height, with its centre where its base should be",
            "Check how high {object} stands.",
        ),
        lambda context: half_sunk(context, -1.0),
    ),
    Mistake(
        "half-floating", 0.5,
        Words("floats by half its height, with its base where its centre should be", "Check how high {object} stands."),
        lambda context: half_sunk(context, 1.0),
    ),
)  # fmt: skip
