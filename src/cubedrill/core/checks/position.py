"""Position: where a point of an object is, in a space, per axis or as a distance."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, StringConstraints, model_validator

from cubedrill.core import wording
from cubedrill.core.errors import CoreError
from cubedrill.core.scene import Scene
from cubedrill.core.spaces import Frame, PlaceName, Space, frame_of, place_world
from cubedrill.core.values import Array, Identifier, Number, Value
from cubedrill.core.verdict import CheckResult, misses, share_of_points, verdict_of

Tolerance = Annotated[Number, Field(ge=0)]
Axes = Annotated[str, StringConstraints(pattern=r"^[xyz]{1,3}$")]


class PositionCheck(Value):
    """The point of the object must be within the tolerance of where it is in the target."""

    id: Identifier
    kind: Literal["position"]
    object: Identifier | Annotated[tuple[Identifier, ...], Field(min_length=1)]
    point: PlaceName = "pivot"
    space: Space = "world"
    axes: Axes = "xyz"
    measure: Literal["each", "distance"] = "each"
    tolerance: Tolerance | tuple[Tolerance, ...]
    points: Annotated[Number, Field(ge=0)] = 1.0
    zero_at: Annotated[Number, Field(ge=1)] = 1.0

    @model_validator(mode="after")
    def _axes_differ(self) -> Self:
        if len(set(self.axes)) < len(self.axes):
            raise ValueError("each letter of 'axes' stands once")
        return self

    @model_validator(mode="after")
    def _tolerances_fit(self) -> Self:
        if isinstance(self.tolerance, tuple) and (self.measure == "distance" or len(self.tolerance) != len(self.axes)):
            raise ValueError("a list of tolerances has one number for each letter of 'axes', and needs measure 'each'")
        return self

    @property
    def objects(self) -> tuple[str, ...]:
        """The ids of the objects that are checked."""
        return (self.object,) if isinstance(self.object, str) else self.object

    @property
    def axis_indices(self) -> list[int]:
        """0, 1, 2 for the axes that are checked."""
        return ["xyz".index(axis) for axis in self.axes]

    @property
    def tolerances(self) -> tuple[float, ...]:
        """One tolerance an axis that is checked."""
        return self.tolerance if isinstance(self.tolerance, tuple) else (self.tolerance,) * len(self.axes)


@dataclass(frozen=True)
class Halo:
    """A tolerance as a block in the world: its directions (3, 3) as columns, centre (3,) and half sizes (3,)."""

    world_from_axes: Array
    centre_world: Array
    half_sizes: Array


@dataclass(frozen=True)
class Measured:
    """One object's place along the checked axes, in the target and as submitted, and how many tolerances it is off."""

    object: str
    target: Array
    submitted: Array | None
    missed: float


def judge(check: PositionCheck, target: Scene, submitted: Scene) -> CheckResult:
    """Compare the point's place in both scenes; of several objects, the one that is off most is judged."""
    worst = max((measure(check, i, target, submitted) for i in check.objects), key=lambda measured: measured.missed)
    share = share_of_points(worst.missed, check.zero_at)
    return CheckResult(
        id=check.id,
        kind=check.kind,
        object=worst.object,
        label=_label(check, target, worst.object),
        space=wording.space_name(target, check.space),
        unit=target.conventions.length,
        axes=tuple(check.axes.upper()),
        target=tuple(worst.target.tolist()),
        submitted=None if worst.submitted is None else tuple(worst.submitted.tolist()),
        difference=_difference(check, worst),
        tolerance=check.tolerances if check.measure == "each" else check.tolerances[0],
        points=check.points * share,
        of=check.points,
        verdict=verdict_of(worst.missed, share),
        text=_text(check, target, worst),
    )


def measure(check: PositionCheck, object_id: str, target: Scene, submitted: Scene) -> Measured:
    """Return where the point is along the checked axes in both scenes.

    Each point is taken in the frame of the space in its own scene, `local` being the target's own axes for both;
    coordinates are scene lengths.
    """
    wanted = _coordinates(check, object_id, target, frame_of(target, check.space, object_id))
    try:
        scene_of_frame = target if check.space == "local" else submitted
        found = _coordinates(check, object_id, submitted, frame_of(scene_of_frame, check.space, object_id))
    except CoreError:
        return Measured(object_id, wanted, None, math.inf)
    return Measured(object_id, wanted, found, _missed(check, wanted, found))


def halo(check: PositionCheck, object_id: str, target: Scene) -> Halo | None:
    """Return the tolerance as a block along the check's axes; none for an object without a box.

    For the pivot or the centre it is the target's box, wider by the tolerance on each side: the object lies in it while
    the check passes and nothing but its place differs. For another point it is the block that the point must lie in;
    along an axis that is not checked it is as long as the object.
    """
    world_from_axes = frame_of(target, check.space, object_id).world_from_axes
    axes_from_world = np.eye(4)
    axes_from_world[:3, :3] = world_from_axes.T
    box = target.box(object_id, axes_from_world)
    if box is None:
        return None
    half_sizes = box.size / 2
    if check.point in ("pivot", "centre"):
        half_sizes[check.axis_indices] += check.tolerances
        return Halo(world_from_axes, world_from_axes @ box.centre, half_sizes)
    half_sizes[check.axis_indices] = check.tolerances
    return Halo(world_from_axes, place_world(target, object_id, check.point), half_sizes)


def _coordinates(check: PositionCheck, object_id: str, scene: Scene, frame: Frame) -> Array:
    return frame.coordinates(place_world(scene, object_id, check.point))[check.axis_indices]


def _missed(check: PositionCheck, wanted: Array, found: Array) -> float:
    largest = float(max(np.abs(wanted).max(), np.abs(found).max()))
    if check.measure == "distance":
        return misses(float(np.linalg.norm(found - wanted)), check.tolerances[0], largest)
    differences = (found - wanted).tolist()
    return max(misses(d, t, largest) for d, t in zip(differences, check.tolerances, strict=True))


def _difference(check: PositionCheck, worst: Measured) -> tuple[float, ...] | float | None:
    if worst.submitted is None:
        return None
    difference = worst.submitted - worst.target
    return tuple(difference.tolist()) if check.measure == "each" else float(np.linalg.norm(difference))


def _label(check: PositionCheck, target: Scene, object_id: str) -> str:
    place = wording.place_name(check.point)
    return f"{place[:1].upper()}{place[1:]} of {target[object_id].name}"


def _text(check: PositionCheck, target: Scene, worst: Measured) -> str:
    """How the number came about, in one sentence."""
    label, space = _label(check, target, worst.object), wording.space_name(target, check.space)
    unit = target.conventions.length
    if worst.submitted is None:
        return f"{label} cannot be measured, since the object is not in the submitted scene."
    if check.measure == "distance":
        off = float(np.linalg.norm(worst.submitted - worst.target))
        within = wording.number(check.tolerances[0])
        return f"{label}, in {space}: {wording.rounded(off, check.tolerances[0])} {unit} away, wanted within {within}."
    rows = zip(check.axes.upper(), worst.submitted, worst.target, check.tolerances, strict=True)
    parts = [_axis_text(axis, unit, *numbers) for axis, *numbers in rows]
    return f"{label}, in {space}: {'; '.join(parts)}."


def _axis_text(axis: str, unit: str, submitted: float, target: float, tolerance: float) -> str:
    found, wanted = (wording.rounded(value, tolerance) for value in (submitted, target))
    return f"{axis} {found} {unit}, wanted {wanted} ± {wording.number(tolerance)}"
