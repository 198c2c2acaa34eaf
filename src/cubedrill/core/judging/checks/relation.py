"""Relations to another object or to the scene: they hold wherever the objects are."""

from __future__ import annotations

import math
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks.common import Axes, Case, ObjectCheck, Tolerance, lacks_solid
from cubedrill.core.judging.verdict import LENGTH_GUARD, PURE_GUARD, CheckResult, misses_by
from cubedrill.core.scene import measure, wording
from cubedrill.core.scene.contact import lift_onto
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.scene.spaces import Space, feature_world, frame_of, objects_named
from cubedrill.core.scene.standing import Tip, tips
from cubedrill.core.steps.common import SignedAxis, signed_unit
from cubedrill.core.values import Array, Identifier

ASLANT = 0.38  # of a direction: what leans more than 22.5° to an axis is said to go that way (sin 22.5°)

Relation = Literal["rests_on", "touches", "gap", "centred_on", "flush", "faces", "inside_plot", "clear_of", "row"]

ALONG = ("centred_on", "flush")  # these are measured along the axes of a space, the others in no space

WORDS: dict[str, str] = {
    "rests_on": "rests on", "touches": "touches", "gap": "gap to", "centred_on": "is centred on",
    "flush": "is flush with", "faces": "faces", "inside_plot": "is inside the plot", "clear_of": "is clear of",
    "row": "stand in a straight, even row",
}  # fmt: skip


class RelationCheck(ObjectCheck):
    """The object must stand so to another one, to the ground or to the plot, in the submitted scene alone.

    other: an id, or "ground" for rests_on. stable: whether what rests must not tip either. distance: of a gap. axes: of
    centred_on and flush (by default the two across up). side: which sides are flush. axis: the own axis that faces the
    other's centre. Of `row`, `object` lists the solids in their order; spacing: how far apart they are. tolerance: a
    length; of faces an angle.
    """

    cost: ClassVar[float] = 4.0
    kind: Literal["relation"]
    relation: Relation
    other: Identifier | None = None
    stable: bool = False
    distance: Tolerance | None = None
    spacing: Tolerance | None = None
    axes: Axes | None = None
    side: Literal["min", "max"] | None = None
    axis: SignedAxis | None = None
    space: Space = "world"
    tolerance: Tolerance

    @model_validator(mode="after")
    def _says_enough(self) -> Self:
        alone = self.relation in ("inside_plot", "row")
        if alone != (self.other is None):
            raise ValueError(f"'{self.relation}' takes {'no' if alone else 'an'} 'other'")
        needs = {"gap": "distance", "flush": "side", "faces": "axis"}.get(self.relation)
        if needs is not None and getattr(self, needs) is None:
            raise ValueError(f"'{self.relation}' needs '{needs}'")
        if self.relation == "row" and len(self.objects) < 3:
            raise ValueError("a row has at least three objects")
        for name, of in (("stable", "rests_on"), ("spacing", "row")):
            if getattr(self, name) not in (None, False) and self.relation != of:
                raise ValueError(f"'{name}' goes with '{of}' alone")
        return self

    @property
    def looks_at(self) -> tuple[str, ...]:
        """The ids of the objects checked, of the other one, and of those that its space is given by."""
        others = () if self.other in (None, "ground") else (self.other,)
        return (*self.objects, *others, *objects_named(self.space))

    def tolerances_off(self, target: Scene, object_id: str, result: CheckResult) -> float | None:
        """Return how far two scenes differ in this relation; each has a difference of its own."""
        there = self.judge_one(Case(target, target), object_id)
        if _within_but_failed(there) != _within_but_failed(result):
            return None  # one of them would tip
        if there.difference is None or result.difference is None:
            return 0.0 if there.difference == result.difference else None
        apart = abs(float(np.max(there.difference)) - float(np.max(result.difference)))
        if apart > self.tolerance:
            return None
        return apart / self.tolerance if self.tolerance else 0.0

    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""
        name = wording.names(target, self.objects if self.relation == "row" else [object_id])
        other = "" if self.other is None else f" {wording.names(target, [self.other])}"
        return f"{name} {WORDS[self.relation]}{other}"

    def judge(self, case: Case) -> CheckResult:
        """Judge a row as a whole, anything else object by object."""
        if self.relation != "row":
            return super().judge(case)
        missing = [i for i in self.objects if i not in case.submitted.objects]
        return self.gone(case, missing[0]) if missing else self.judge_object(case, self.objects[0])

    def judge_one(self, case: Case, object_id: str) -> CheckResult:
        """Judge one of the objects; of a row, all of it."""
        return self.judge(case) if self.relation == "row" else super().judge_one(case, object_id)

    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge by how far the relation is from holding, in the submitted scene."""
        conventions = case.target.conventions
        label = self.label(case.target, object_id)
        scene = case.submitted
        if self.other not in (None, "ground") and self.other not in scene.objects:
            return self.gone(case, object_id)
        angular = self.relation == "faces"
        unit = conventions.radians_per_unit if angular else 1.0
        try:
            off, largest = self._off(scene, object_id)
        except CoreError as error:
            lacking = next((i for i in self.looks_at if lacks_solid(case, i)), None)
            if lacking is not None:
                return self.without_solid(case, object_id, lacking)
            return self.not_judged(object_id, label, f"{label} cannot be measured: {error.text}")
        guard = PURE_GUARD if angular else LENGTH_GUARD * largest
        missed = float(misses_by(off, self.tolerance * unit, guard))
        mark = ("°" if conventions.angle == "deg" else f" {conventions.angle}") if angular else f" {conventions.length}"
        shown = "not at all" if math.isinf(off) else f"off by {wording.rounded(off / unit, self.tolerance)}{mark}"
        tip = tips(scene, object_id, self.tolerance) if self.stable and missed <= 1 else None
        if tip is not None:
            missed, shown = math.inf, _tipping(tip, conventions, self.tolerance)
        difference = None if math.isinf(off) else off / unit
        space = wording.space_name(case.target, self.space) if self.relation in ALONG else ""
        return self.result(
            missed, object=object_id, label=label, space=space, unit=mark.strip(),
            axes=(), target=(), submitted=None, difference=difference, tolerance=self.tolerance,
            text=f"{label}: {'holds' if missed <= 1 else shown}, wanted within {wording.number(self.tolerance)}{mark}.",
            found=shown,
        )  # fmt: skip

    def _off(self, scene: Scene, object_id: str) -> tuple[float, float]:
        """Return how far the relation is from holding, and the largest coordinate compared."""
        other = self.other or ""
        match self.relation:
            case "rests_on":
                lift = lift_onto(scene, object_id, other)
                if lift is None:
                    return math.inf, 0.0
                return abs(lift), _largest(scene, object_id, *(() if other == "ground" else (other,)))
            case "touches":
                apart = measure.closest(scene, object_id, other).distance
                off = apart if apart > 0 else measure.overlap(scene, object_id, other)
                return off, _largest(scene, object_id, other)
            case "gap":
                apart = measure.closest(scene, object_id, other).distance
                return abs(apart - (self.distance or 0.0)), _largest(scene, object_id, other)
            case "clear_of":
                return measure.overlap(scene, object_id, other), _largest(scene, object_id, other)
            case "centred_on" | "flush":
                return self._along(scene, object_id, other)
            case "faces":
                axis = scene.world_from_local(object_id)[:3, :3] @ signed_unit(self.axis or "+x")
                toward = feature_world(scene, other, "centre") - feature_world(scene, object_id, "centre")
                return math.atan2(float(np.linalg.norm(np.cross(axis, toward))), float(axis @ toward)), 0.0
            case "inside_plot":
                box = scene.require_box(object_id, IDENTITY)
                if scene.plot is None:
                    return 0.0, 0.0
                outside = np.concatenate((scene.plot.least - box.least, box.most - scene.plot.most, (0.0,)))
                return float(outside.max()), _reach(box)
            case "row":
                places = np.array([feature_world(scene, i, "centre") for i in self.objects])
                return off_row(places, self.spacing), float(np.abs(places).max())

    def _along(self, scene: Scene, object_id: str, other: str) -> tuple[float, float]:
        axes = frame_of(scene, self.space, object_id).world_from_axes
        axes_from_world = IDENTITY.copy()
        axes_from_world[:3, :3] = axes.T
        boxes = [scene.require_box(i, axes_from_world) for i in (object_id, other)]
        up = scene.conventions.up
        indices = ["xyz".index(a) for a in self.axes or "xyz".replace(up, "")]
        ends: list[Array] = [
            box.centre if self.relation == "centred_on" else box.least if self.side == "min" else box.most
            for box in boxes
        ]
        return float(np.abs(ends[0] - ends[1])[indices].max()), max(_reach(box) for box in boxes)


def _within_but_failed(result: CheckResult) -> bool:
    return result.tolerances_off <= 1 and result.verdict == "fail"


def off_row(places: Array, spacing: float | None) -> float:
    """Return how far points (n, 3) are from an evenly spaced straight line in their order.

    The larger of unevenness and the greatest distance from the line through the first and the last, and of how far
    the distances are from a spacing, where one is given.
    """
    steps = np.diff(places, axis=0)
    distances = np.linalg.norm(steps, axis=1)
    whole = places[-1] - places[0]
    length = float(np.linalg.norm(whole))
    along = whole / length if length > 0 else np.zeros(3)
    ahead = steps @ along
    if (ahead <= 0).any():  # one stands behind the one before it: no order along the line
        distances = ahead
    away = places - places[0]
    aside = np.linalg.norm(away - np.outer(away @ along, along), axis=1)
    wanted = distances.mean() if spacing is None else spacing
    return float(max(np.abs(distances - distances.mean()).max(), np.abs(distances - wanted).max(), aside.max()))


def _tipping(tip: Tip, conventions: Conventions, tolerance: float) -> str:
    """Return the way it would tip, along the axes it leans to most, and how far its middle is beyond the edge."""
    parts = [
        (abs(way), f"{'+' if way > 0 else '−'}{axis}") for axis, way in zip("XYZ", tip.direction_world, strict=True)
    ]
    towards = [name for size, name in sorted(parts, reverse=True) if size > ASLANT]
    if not towards:
        return "would tip over: nothing below is wide enough to support it"
    beyond = wording.rounded(tip.beyond, tolerance)
    where = f"{beyond} {conventions.length} beyond the edge"
    return f"would tip over towards {wording.listed(towards)}, with its centre {where}"


def _reach(box: Box) -> float:
    return float(max(np.abs(box.least).max(), np.abs(box.most).max()))


def _largest(scene: Scene, *ids: str) -> float:
    return max(_reach(scene.require_box(i, IDENTITY)) for i in ids)
