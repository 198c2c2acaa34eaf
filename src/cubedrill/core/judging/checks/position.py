"""Position: where a point of an object is, in a space, per axis or as a distance."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.checks.common import Axes, Case, Halo, ObjectCheck, Tolerances, worst_of_each
from cubedrill.core.judging.sheet_batch import SheetBatch
from cubedrill.core.judging.verdict import CheckResult, misses
from cubedrill.core.scene import wording
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import FeatureName, Frame, Space, feature_local, feature_world, frame_of, objects_named
from cubedrill.core.values import Array


class PositionCheck(ObjectCheck):
    """The point of the object must be within the tolerance of where it is in the target."""

    off_in: ClassVar[Literal["length"]] = "length"
    kind: Literal["position"]
    point: FeatureName = "pivot"
    space: Space = "world"
    axes: Axes = "xyz"
    measure: Literal["each", "distance"] = "each"
    tolerance: Tolerances

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
    def looks_at(self) -> tuple[str, ...]:
        """The ids of the objects checked, and of those that its space is given by."""
        return (*self.objects, *objects_named(self.space))

    @property
    def axis_indices(self) -> list[int]:
        """0, 1, 2 for the axes that are checked."""
        return ["xyz".index(axis) for axis in self.axes]

    @property
    def tolerances(self) -> tuple[float, ...]:
        """One tolerance an axis that is checked."""
        return self.tolerance if isinstance(self.tolerance, tuple) else (self.tolerance,) * len(self.axes)

    @property
    def pivot_allowed_world(self) -> tuple[float, float, float]:
        """Return the largest pivot offset along each world axis."""
        most = [math.inf] * 3
        if (self.point, self.space) == ("pivot", "world"):
            for axis, tolerance in zip(self.axis_indices, self.tolerances, strict=True):
                most[axis] = tolerance
        return (most[0], most[1], most[2])

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return _label(self, target, object_id)

    def judge(self, case: Case) -> CheckResult:
        """Compare the point's place in both scenes; of several objects, the one that is off most is judged."""
        return self.as_worst(judge(self, case.target, case.submitted))

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge one object alone."""
        return judge(self.model_copy(update={"object": object_id}), case.target, case.submitted)

    def missed_by_each(self, target: Scene, batch: SheetBatch) -> Array | None:
        """Return (n,) how many tolerances each sheet misses by; none for the centre of an assembly and along a line."""
        return worst_of_each([_missed_by_each(self, object_id, target, batch) for object_id in self.objects])

    def halo(self, object_id: str, target: Scene) -> Halo | None:
        """Return the tolerance as a block to draw around the target, where it has one."""
        return halo(self, object_id, target)


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
    return check.result(
        worst.missed,
        object=worst.object,
        label=_label(check, target, worst.object),
        space=wording.space_name(target, check.space),
        unit=target.conventions.length,
        axes=tuple(check.axes.upper()),
        target=tuple(worst.target.tolist()),
        submitted=None if worst.submitted is None else tuple(worst.submitted.tolist()),
        difference=_difference(check, worst),
        tolerance=check.tolerances if check.measure == "each" else check.tolerances[0],
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
    return Measured(object_id, wanted, found, float(_missed(check, wanted, found)))


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
    return Halo(world_from_axes, feature_world(target, object_id, check.point), half_sizes)


def _coordinates(check: PositionCheck, object_id: str, scene: Scene, frame: Frame) -> Array:
    return frame.coordinates(feature_world(scene, object_id, check.point))[check.axis_indices]


def _missed(check: PositionCheck, wanted: Array, found: Array) -> Array:
    """Return (...) how many tolerances coordinates (..., k) are off those wanted (k,)."""
    largest = np.maximum(np.abs(wanted).max(), np.abs(found).max(axis=-1))
    if check.measure == "distance":
        return misses(np.linalg.norm(found - wanted, axis=-1), check.tolerances[0], largest)
    return np.asarray(misses(found - wanted, check.tolerances, largest[..., None]).max(axis=-1))


def _missed_by_each(check: PositionCheck, object_id: str, target: Scene, batch: SheetBatch) -> Array | None:
    """Return (n,) `measure(...).missed` in each of many sheets."""
    if check.point != "pivot" and target[object_id].solid is None:
        return None
    target_frame = frame_of(target, check.space, object_id)
    frame = target_frame if check.space == "local" else batch.frame(check.space, object_id)
    if frame is None:
        return None
    wanted = _coordinates(check, object_id, target, target_frame)
    points_world = batch.points(object_id, feature_local(batch.scene, object_id, check.point))
    return _missed(check, wanted, frame.coordinates(points_world)[:, check.axis_indices])


def _difference(check: PositionCheck, worst: Measured) -> tuple[float, ...] | float | None:
    if worst.submitted is None:
        return None
    difference = worst.submitted - worst.target
    return tuple(difference.tolist()) if check.measure == "each" else float(np.linalg.norm(difference))


def _label(check: PositionCheck, target: Scene, object_id: str) -> str:
    place = wording.feature_name(check.point)
    return f"{place[:1].upper()}{place[1:]} of {target[object_id].name}"


def _text(check: PositionCheck, target: Scene, worst: Measured) -> str:
    """Return a sentence that says how the number was measured."""
    label, space = _label(check, target, worst.object), wording.space_name(target, check.space)
    unit = target.conventions.length
    if worst.submitted is None:
        return f"{label} cannot be measured, because the object is not in the submitted scene."
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
