"""Rotation, size and shape: how an object is turned, how large it is, and both with its place in one number."""

from __future__ import annotations

import math
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.geometry.symmetry import angle_between
from cubedrill.core.judging.checks.common import (
    Axes,
    Case,
    ObjectCheck,
    Symmetry,
    Tolerance,
    Tolerances,
    is_mirrored,
    lacks_solid,
    mirrored_of_each,
    worst_of_each,
)
from cubedrill.core.judging.sheet_batch import SheetBatch
from cubedrill.core.judging.verdict import PURE_GUARD, CheckResult, misses, misses_by
from cubedrill.core.scene import wording
from cubedrill.core.scene.measure import own_sizes
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import Space, frame_of, objects_named
from cubedrill.core.steps.common import SignedAxis, signed_unit
from cubedrill.core.values import Array

MIRRORED = "it is mirrored"


class RotationCheck(ObjectCheck):
    """The object must be turned as in the target, or one of its own axes must point the same way."""

    off_in: ClassVar[Literal["angle"]] = "angle"
    kind: Literal["rotation"]
    measure: Literal["angle", "axis"] = "angle"
    axis: SignedAxis | None = None
    space: Space = "world"
    symmetry: Symmetry = "strict"
    tolerance: Tolerance

    @model_validator(mode="after")
    def _axis_fits(self) -> Self:
        if (self.measure == "axis") != (self.axis is not None):
            raise ValueError("measure 'axis' and an 'axis' such as '+z' go together")
        return self

    @property
    def looks_at(self) -> tuple[str, ...]:
        """The ids of the objects checked, and of those that its space is given by."""
        return (*self.objects, *objects_named(self.space))

    @property
    def by_look(self) -> bool:
        """Tell whether every orientation counts in which the solid looks the same."""
        return self.symmetry == "look"

    @property
    def tolerances(self) -> tuple[float, ...]:
        """Its one tolerance."""
        return (self.tolerance,)

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        what = "Rotation" if self.axis is None else f"Direction of {wording.axis_name(self.axis)}"
        return f"{what} of {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by the angle of the least rotation from the target, or between the two images of the axis."""
        target, label = case.target, self.label(case.target, object_id)
        if object_id in case.turns_unknown:
            return self.not_judged(object_id, label, f"{label} cannot be read from this file, so it is not judged.")
        angle_rad = self._angle(case, object_id)
        unit = target.conventions.radians_per_unit
        mirrored = is_mirrored(case, object_id)
        missed = math.inf if mirrored else float(misses_by(angle_rad, self.tolerance * unit, PURE_GUARD))
        space = wording.space_name(target, self.space)
        off = wording.rounded(angle_rad / unit, self.tolerance)
        mark = "°" if target.conventions.angle == "deg" else f" {target.conventions.angle}"
        why = f", and {MIRRORED}" if mirrored else ""
        return self.result(
            missed, object=object_id, label=label, space=space, unit=mark.strip(), axes=(), target=(0.0,),
            submitted=(angle_rad / unit,), difference=angle_rad / unit, tolerance=self.tolerance,
            text=f"{label}, in {space}: {off}{mark} off, wanted within {wording.number(self.tolerance)}{mark}{why}.",
            found=MIRRORED if mirrored else "",
        )  # fmt: skip

    def _angle(self, case: Case, object_id: str) -> float:
        wanted, found = (
            _frame(self.space, case, scene, object_id).T @ scene.world_from_local(object_id)[:3, :3]
            for scene in (case.target, case.submitted)
        )
        return float(self._angles(wanted, found))

    def _angles(self, wanted: Array, found: Array) -> Array:
        """(...) angles in rad from one orientation (3, 3), or from its image of the axis, to those of (..., 3, 3)."""
        if self.axis is None:
            return angle_between(wanted, found)
        a, b = wanted @ signed_unit(self.axis), found @ signed_unit(self.axis)
        return np.asarray(np.arctan2(np.linalg.norm(np.cross(a, b), axis=-1), b @ a))

    def missed_by_each(self, target: Scene, batch: SheetBatch) -> Array | None:
        """Return (n,) how many tolerances each sheet misses by; none along a line. Not asked where looks count."""
        return worst_of_each([self._missed_by_each(object_id, target, batch) for object_id in self.objects])

    def _missed_by_each(self, object_id: str, target: Scene, batch: SheetBatch) -> Array | None:
        target_frame = frame_of(target, self.space, object_id)
        frame = target_frame if self.space == "local" else batch.frame(self.space, object_id)
        if frame is None:
            return None
        wanted = target_frame.world_from_axes.T @ target.world_from_local(object_id)[:3, :3]
        found = frame.world_from_axes.swapaxes(-1, -2) @ batch.world_from_local[object_id][:, :3, :3]
        tolerance_rad = self.tolerance * target.conventions.radians_per_unit
        missed = misses_by(self._angles(wanted, found), tolerance_rad, PURE_GUARD)
        return np.where(mirrored_of_each(target, batch, object_id), math.inf, missed)


def _frame(space: Space, case: Case, scene: Scene, object_id: str) -> Array:
    """Return the axes (3, 3) of a space in its own scene; `local` means the target's own axes."""
    return frame_of(case.target if space == "local" else scene, space, object_id).world_from_axes


class SizeCheck(ObjectCheck):
    """The object must be as large along its own axes as in the target."""

    kind: Literal["size"]
    axes: Axes = "xyz"
    measure: Literal["ratio", "length"] = "ratio"
    symmetry: Symmetry = "strict"
    tolerance: Tolerances

    @model_validator(mode="after")
    def _tolerances_fit(self) -> Self:
        if len(set(self.axes)) < len(self.axes):
            raise ValueError("each letter of 'axes' stands once")
        if isinstance(self.tolerance, tuple) and len(self.tolerance) != len(self.axes):
            raise ValueError("a list of tolerances has one number for each letter of 'axes'")
        return self

    @property
    def by_look(self) -> bool:
        """Tell whether sizes may be exchanged together with the turn that makes it the same shape."""
        return self.symmetry == "look"

    @property
    def tolerances(self) -> tuple[float, ...]:
        """One tolerance an axis that is checked."""
        return self.tolerance if isinstance(self.tolerance, tuple) else (self.tolerance,) * len(self.axes)

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return f"Size of {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by the own size that is off most, as a ratio or as a length."""
        label, unit = self.label(case.target, object_id), case.target.conventions.length
        if lacks_solid(case, object_id):
            return self.without_solid(case, object_id, object_id)
        if case.target.local_box(object_id) is None or case.submitted.local_box(object_id) is None:
            return self.not_judged(object_id, label, f"{label} cannot be measured: there is no solid in it.")
        indices = ["xyz".index(axis) for axis in self.axes]
        wanted, found = (own_sizes(scene, object_id)[indices] for scene in (case.target, case.submitted))
        differences, missed = (each.tolist() for each in self._missed(wanted, found))
        worst = max(range(len(missed)), key=lambda i: (missed[i], differences[i]))
        mirrored = is_mirrored(case, object_id)
        letter, shown = self.axes[worst].upper(), [wording.number(v) for v in (found[worst], wanted[worst])]
        allowed = wording.number(self.tolerances[worst]) + (f" {unit}" if self.measure == "length" else " of it")
        why = f", and {MIRRORED}" if mirrored else ""
        return self.result(
            math.inf if mirrored else missed[worst], object=object_id, label=label, space="its own axes",
            unit="" if self.measure == "ratio" else unit, axes=tuple(self.axes.upper()), target=tuple(wanted.tolist()),
            submitted=tuple(found.tolist()), difference=differences[worst], tolerance=self.tolerance,
            text=f"{label}: {letter} {shown[0]} {unit}, wanted {shown[1]} ± {allowed}{why}.",
            found=MIRRORED if mirrored else "",
        )  # fmt: skip

    def missed_by_each(self, target: Scene, batch: SheetBatch) -> Array | None:
        """Return (n,) how many tolerances each sheet misses by; none of an assembly. Not asked where looks count."""
        return worst_of_each([self._missed_by_each(object_id, target, batch) for object_id in self.objects])

    def _missed_by_each(self, object_id: str, target: Scene, batch: SheetBatch) -> Array | None:
        solid = target[object_id].solid
        if solid is None:
            return None
        indices = ["xyz".index(axis) for axis in self.axes]
        columns = np.linalg.norm(batch.world_from_local[object_id][:, :3, :3], axis=1)
        found = (solid.local_box(target.conventions.up_index).size * columns)[:, indices]
        _off, missed = self._missed(own_sizes(target, object_id)[indices], found)
        return np.where(mirrored_of_each(target, batch, object_id), math.inf, missed.max(axis=1))

    def _missed(self, wanted: Array, found: Array) -> tuple[Array, Array]:
        """Return (..., k) how far sizes (..., k) are off those wanted (k,), in ratios or lengths, and in tolerances."""
        if self.measure == "length":
            off = np.abs(found - wanted)
            largest = np.maximum(wanted.max(), found.max(axis=-1, keepdims=True))
            return off, misses(off, self.tolerance, largest)
        flat = wanted == 0
        ratios = np.abs(found / np.where(flat, 1.0, wanted) - 1)
        off = np.where(flat, np.where(found == 0, 0.0, math.inf), ratios)
        return off, misses_by(off, self.tolerance, PURE_GUARD)


class ShapeCheck(ObjectCheck):
    """Place, turn and size together: the largest distance between corresponding points of the two surfaces."""

    off_in: ClassVar[Literal["length"]] = "length"
    kind: Literal["shape"]
    symmetry: Symmetry = "strict"
    tolerance: Tolerance

    @property
    def by_look(self) -> bool:
        """Tell whether the distance is the least over the solid's symmetries."""
        return self.symmetry == "look"

    @property
    def tolerances(self) -> tuple[float, ...]:
        """Its one tolerance."""
        return (self.tolerance,)

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return f"Shape of {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by the largest distance between corresponding surface points."""
        label = self.label(case.target, object_id)
        wanted, found = case.target[object_id].solid, case.submitted[object_id].solid
        if wanted is None:
            return self.not_judged(object_id, label, f"{label} cannot be measured: there is no solid in it.")
        if found is None or found.kind != wanted.kind:
            return self.compared(case, object_id, False, wanted.kind, found.kind if found else "no solid")
        if object_id in case.turns_unknown:
            return self.not_judged(object_id, label, f"{label} cannot be read from this file, so it is not judged.")
        up, unit = case.target.conventions.up_index, case.target.conventions.length
        world_from_target = case.target.world_from_local(object_id)
        world_from_submitted = case.submitted.world_from_local(object_id).copy()
        world_from_submitted[:3, :3] *= found.half_extents(up) / wanted.half_extents(up)
        distance = wanted.largest_distance(up, world_from_target, world_from_submitted)
        largest = float(max(np.abs(world_from_target).max(), np.abs(world_from_submitted).max()))
        mirrored = is_mirrored(case, object_id)
        missed = math.inf if mirrored else float(misses(distance, self.tolerance, largest))
        off, within = wording.rounded(distance, self.tolerance), wording.number(self.tolerance)
        why = f", and {MIRRORED}" if mirrored else ""
        return self.result(
            missed, object=object_id, label=label, space="World", unit=unit, axes=(), target=(0.0,),
            submitted=(distance,), difference=distance, tolerance=self.tolerance,
            text=f"{label}: its surface is up to {off} {unit} away, wanted within {within}{why}.",
            found=MIRRORED if mirrored else "",
        )  # fmt: skip
