"""Shared parts of checks: the case, the base class, and the text of a miss."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, StringConstraints

from cubedrill.core.judging.sheet_batch import SheetBatch
from cubedrill.core.judging.verdict import CheckResult, share_of_points, verdict_of
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps.replay import State
from cubedrill.core.values import Array, Flags, Identifier, Number, Value

Tolerance = Annotated[Number, Field(ge=0)]
Tolerances = Tolerance | Annotated[tuple[Tolerance, ...], Field(min_length=1, max_length=3, fail_fast=True)]
Axes = Annotated[str, StringConstraints(pattern=r"^[xyz]{1,3}$")]
Symmetry = Literal["strict", "look"]
Objects = Identifier | Annotated[tuple[Identifier, ...], Field(min_length=1, max_length=1000, fail_fast=True)]


@dataclass(frozen=True)
class Halo:
    """A tolerance as a block in the world: its directions (3, 3) as columns, centre (3,) and half sizes (3,)."""

    world_from_axes: Array
    centre_world: Array
    half_sizes: Array


@dataclass(frozen=True)
class Case:
    """A submission as it is judged: the target, what was submitted, and how it was done where that is known.

    turns_unknown: ids of the objects whose rotation is not known. unsaid: (kind of check, object) of what the
    submission does not give. Objects that are looked at are described as near to the target as their symmetries allow.
    """

    target: Scene
    submitted: Scene
    states: Sequence[State] | None = None
    turns_unknown: frozenset[str] = frozenset()
    unsaid: frozenset[tuple[str, str]] = frozenset()


class CheckBase(Value, ABC):
    """One thing tested, with its tolerance and points.

    by_place: whether it matters where objects are; where it does not, all sheets of an exercise have the same result.
    of_outcome: whether it is of where things came to, not of the way there.
    cost: what judging it once takes, where a check of a place takes 1.
    off_in: what its tolerance is, where a drag by hand ends so far off: a length or an angle.
    """

    cost: ClassVar[float] = 1.0
    by_place: ClassVar[bool] = True
    of_outcome: ClassVar[bool] = True
    off_in: ClassVar[Literal["length", "angle"] | None] = None
    id: Identifier
    kind: str
    points: Annotated[Number, Field(ge=0)] = 1.0
    zero_at: Annotated[Number, Field(ge=1)] = 1.0

    @property
    def objects(self) -> tuple[str, ...]:
        """The ids of the objects that are checked."""
        return ()

    @property
    def looks_at(self) -> tuple[str, ...]:
        """The ids of all objects that its result hangs on: those checked, and those they are measured against."""
        return self.objects

    @property
    def tolerances(self) -> tuple[float, ...]:
        """Its tolerances, one or one an axis; none where it has none."""
        return ()

    @property
    def by_look(self) -> bool:
        """Tell whether every orientation counts in which the solid looks the same."""
        return False

    @abstractmethod
    def judge(self, case: Case) -> CheckResult:
        """Compare what was submitted with the target in one respect."""

    def missed_by_each(self, target: Scene, batch: SheetBatch) -> Array | None:
        """Return (n,) how many tolerances each sheet misses by, as `judge` finds; none where it is judged one by one.

        Not asked where looks count.
        """
        del target, batch
        return None

    def halo(self, object_id: str, target: Scene) -> Halo | None:
        """Return the tolerance as a block to draw around the target, where it has one."""
        del object_id, target
        return None

    def result(self, missed: float, **facts: object) -> CheckResult:
        """Return the result of a miss of so many tolerances."""
        share = float(share_of_points(missed, self.zero_at))
        verdict = verdict_of(missed, share)
        return CheckResult(
            id=self.id, kind=self.kind, points=self.points * share, of=self.points, verdict=verdict, **facts
        )

    def not_judged(self, object_id: str, label: str, why: str) -> CheckResult:
        """Return a result that leaves the total."""
        return CheckResult(
            id=self.id, kind=self.kind, object=object_id, label=label, space="", unit="", axes=(), target=(),
            submitted=None, difference=None, tolerance=0.0, points=0.0, of=self.points, verdict="not judged", text=why,
        )  # fmt: skip


class ObjectCheck(CheckBase):
    """A check of one object, or of several of which the worst counts."""

    object: Objects

    @property
    def objects(self) -> tuple[str, ...]:
        """The ids of the objects that are checked."""
        return (self.object,) if isinstance(self.object, str) else self.object

    def judge(self, case: Case) -> CheckResult:
        """Judge each object; the one with the fewest points, and of those the one that is off most, is the result."""
        results = [self.judge_one(case, object_id) for object_id in self.objects]
        judged = [result for result in results if result.verdict != "not judged"]
        worst = min(judged, key=lambda result: (result.points, -_size(result))) if judged else results[0]
        return self.as_worst(worst)

    def as_worst(self, result: CheckResult) -> CheckResult:
        """Return a result that says so where it is the worst of several objects'."""
        count = len(self.objects)
        return result if count == 1 else result.model_copy(update={"label": f"{result.label} (the worst of {count})"})

    def judge_one(self, case: Case, object_id: str) -> CheckResult:
        """Judge one of the objects; one that is gone has missed."""
        if object_id not in case.submitted.objects:
            return self.gone(case, object_id)
        if (self.kind, object_id) in case.unsaid:
            label = self.label(case.target, object_id)
            return self.not_judged(object_id, label, f"{label} is not judged, because the submission does not give it.")
        return self.judge_object(case, object_id)

    @property
    def pivot_allowed_world(self) -> tuple[float, float, float]:
        """Return the largest pivot offset along each world axis; infinity if this check does not limit it."""
        return (math.inf, math.inf, math.inf)

    def tolerances_off(self, target: Scene, object_id: str, result: CheckResult) -> float | None:
        """Return how far a passing result is off, in tolerances from 0 to 1, or None if it does not pass."""
        del target, object_id
        return result.tolerances_off if result.verdict in ("pass", "not judged") else None

    @abstractmethod
    def judge_object(self, case: Case, object_id: str) -> CheckResult:
        """Judge one object that is in both scenes."""

    @abstractmethod
    def label(self, target: Scene, object_id: str) -> str:
        """Return what is checked, in words."""

    def gone(self, case: Case, object_id: str) -> CheckResult:
        """Return the result for an object that was not submitted."""
        label = self.label(case.target, object_id)
        text = f"{label} cannot be measured, because the object is not in the submitted scene."
        return self.result(
            math.inf, object=object_id, label=label, space="", unit="", axes=(), target=(), submitted=None,
            difference=None, tolerance=0.0, text=text, found="not there",
        )  # fmt: skip

    def without_solid(self, case: Case, object_id: str, lacking: str) -> CheckResult:
        """Return the result for an object that missed: one that it is measured by lacks the solid of the target."""
        label = self.label(case.target, object_id)
        text = f"{label} cannot be measured, since {case.target[lacking].name} has no solid in the submitted scene."
        return self.gone(case, object_id).model_copy(update={"text": text, "found": "no solid"})

    def compared(self, case: Case, object_id: str, same: bool, wanted: str, found: str) -> CheckResult:
        """Return the result of something that is the same or is not."""
        label = self.label(case.target, object_id)
        text = f"{label}: {found}." if same else f"{label}: {found}, wanted {wanted}."
        return self.result(
            0.0 if same else math.inf, object=object_id, label=label, space="", unit="", axes=(), target=(),
            submitted=None, difference=0.0 if same else 1.0, tolerance=0.0, text=text, wanted=wanted, found=found,
        )  # fmt: skip


def lacks_solid(case: Case, object_id: str) -> bool:
    """Tell whether an object has a box in the target, and none in the submitted scene."""
    here, there = case.submitted, case.target
    if object_id not in here.objects or object_id not in there.objects or here.local_box(object_id) is not None:
        return False
    return there.local_box(object_id) is not None


def _size(result: CheckResult) -> float:
    if result.difference is None:
        return math.inf
    return float(np.abs(result.difference).max())


def worst_of_each(missed: Sequence[Array | None]) -> Array | None:
    """Return the worst (n,) of several objects' misses in each sheet; none where one of them is not known."""
    known = [one for one in missed if one is not None]
    return np.max(known, axis=0) if len(known) == len(missed) else None


def mirrored_of_each(target: Scene, batch: SheetBatch, object_id: str) -> Flags:
    """Return (n,) in which sheets the object has the other handedness than the target's."""
    is_left = float(np.linalg.det(target.world_from_local(object_id)[:3, :3])) < 0
    return np.asarray(batch.mirrored(object_id) != is_left)


def is_mirrored(case: Case, object_id: str) -> bool:
    """Tell whether the submitted object has the other handedness than the target's."""
    one, other = (np.linalg.det(s.world_from_local(object_id)[:3, :3]) < 0 for s in (case.target, case.submitted))
    return bool(one != other)
