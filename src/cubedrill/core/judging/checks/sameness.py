"""Pivot, parent, name, look and count: what an object is beside where it is."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from cubedrill.core.geometry.solids import SolidKind
from cubedrill.core.geometry.transform import parts_of
from cubedrill.core.judging.checks.common import Case, CheckBase, ObjectCheck, Tolerance
from cubedrill.core.judging.verdict import CheckResult, misses, misses_by
from cubedrill.core.scene import wording
from cubedrill.core.scene.scene import Scene

SAME_OPACITY = 1e-9


class PivotCheck(ObjectCheck):
    """The pivot must be at the same place of the object, in local coordinates times the target's own scale."""

    by_place: ClassVar[bool] = False
    kind: Literal["pivot"]
    tolerance: Tolerance

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return f"Pivot in {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by the distance between the pivots."""
        scale = np.abs(parts_of(case.target.world_from_local(object_id)).scale)
        wanted, found = (scene[object_id].pivot * scale for scene in (case.target, case.submitted))
        distance = float(np.linalg.norm(found - wanted))
        largest = max(np.abs(wanted).max(), np.abs(found).max())
        missed = float(misses(distance, self.tolerance, largest))
        label, unit = self.label(case.target, object_id), case.target.conventions.length
        off, within = wording.rounded(distance, self.tolerance), wording.number(self.tolerance)
        return self.result(
            missed, object=object_id, label=label, space="its own axes", unit=unit, axes=("X", "Y", "Z"),
            target=tuple(wanted.tolist()), submitted=tuple(found.tolist()), difference=distance,
            tolerance=self.tolerance, text=f"{label}: {off} {unit} away, wanted within {within}.",
        )  # fmt: skip


class ParentCheck(ObjectCheck):
    """The object must be in the same parent; objects that the exercise does not know are looked through."""

    by_place: ClassVar[bool] = False
    kind: Literal["parent"]

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return f"Parent of {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by the nearest ancestor that the target knows."""
        wanted = case.target[object_id].parent
        found = next((above for above in case.submitted.ancestors(object_id) if above in case.target.objects), None)
        names = [case.target[i].name if i else "none" for i in (wanted, found)]
        return self.compared(case, object_id, wanted == found, *names)


class NameCheck(ObjectCheck):
    """The object must be called the same."""

    by_place: ClassVar[bool] = False
    kind: Literal["name"]

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return f"Name of {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by the name, letter by letter."""
        wanted, found = (scene[object_id].name for scene in (case.target, case.submitted))
        return self.compared(case, object_id, wanted == found, wanted, found)


class LookCheck(ObjectCheck):
    """The object must have the same colour and opacity."""

    by_place: ClassVar[bool] = False
    kind: Literal["look"]
    tolerance: Tolerance = 0.0

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        return f"Look of {target[object_id].name}"

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge colour exactly and opacity within the tolerance."""
        items = [scene[object_id] for scene in (case.target, case.submitted)]
        colours = [item.colour.lower() for item in items]
        off = abs(items[0].opacity - items[1].opacity)
        same = colours[0] == colours[1] and bool(misses_by(off, self.tolerance, SAME_OPACITY) <= 1)
        words = [
            f"{colour}, {wording.number(100 * item.opacity)} % opaque"
            for colour, item in zip(colours, items, strict=True)
        ]
        return self.compared(case, object_id, same, *words)


class CountCheck(CheckBase):
    """There must be as many solids of a kind as in the target."""

    by_place: ClassVar[bool] = False
    kind: Literal["count"]
    solid: SolidKind
    tolerance: Tolerance = 0.0

    def judge(self, case: Case) -> CheckResult:
        """Judge by the difference of the two numbers."""
        wanted, found = (self._count(scene) for scene in (case.target, case.submitted))
        label, off = f"Number of solids that are a {self.solid}", float(abs(found - wanted))
        if (self.kind, "") in case.unsaid:
            return self.not_judged("", label, f"{label} is not judged, because a sheet cannot remove solids.")
        return self.result(
            float(misses_by(off, self.tolerance, 0.0)), object="", label=label, space="", unit="", axes=(),
            target=(float(wanted),), submitted=(float(found),), difference=off, tolerance=self.tolerance,
            text=f"{label}: {found}, wanted {wanted}.",
        )  # fmt: skip

    def _count(self, scene: Scene) -> int:
        return sum(item.solid is not None and item.solid.kind == self.solid for item in scene.objects.values())
