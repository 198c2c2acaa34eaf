"""Judge one object of a submission against the target, or against the outcome of a mistake."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator

import numpy as np

from cubedrill.core.judging.canonical import canonical_pose
from cubedrill.core.judging.causes.common import SAME_PLACE_TOL, Outcome, same_numbers
from cubedrill.core.judging.causes.effort import GLANCE, Effort, cost_of
from cubedrill.core.judging.causes.known import Known
from cubedrill.core.judging.checks.common import Case, ObjectCheck
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.scene.scene import IDENTITY, Scene


class CandidateJudge:
    """A submission, as the checks of one object see it against a target or against where a mistake leads."""

    def __init__(self, known: Known, work: LoadedSubmission, effort: Effort | None = None) -> None:
        self.known, self.work = known, work
        self.effort = effort or Effort(math.inf)
        self._described: dict[tuple[Scene, str, Scene], Scene] = {}

    def misses(self, object_id: str, submitted: Scene | None = None) -> bool:
        """Tell whether any check of the object is missed against the exercise's own target."""
        results = self.results(self.known.target, object_id, submitted or self.work.scene)
        return any(result.verdict in ("near", "fail") for _check, result in results)

    def near(self, scene: Scene, object_id: str, submitted: Scene | None = None) -> float | None:
        """Return the object's distance from another target in tolerances, or None unless all its checks pass there."""
        handed = submitted or self.work.scene
        there, here = object_id in scene.objects, object_id in handed.objects
        if not there or not here:
            return 0.0 if there == here else None
        if all(_same(scene, handed, i) for i in self.known.hangs_on(object_id)):
            return 0.0
        self.effort.spend(GLANCE)
        if not self.may_meet(scene, object_id, handed):
            return None
        self.effort.spend(cost_of(handed[object_id], self.known.of(object_id), self._by_look(object_id)))
        worst = 0.0
        for check, result in self.results(scene, object_id, handed):
            off = check.tolerances_off(scene, object_id, result)
            if off is None:
                return None
            worst = max(worst, off)
        return worst

    def against(self, outcome: Outcome, explained: Collection[str]) -> int:
        """Count what lies otherwise than the mistake would have it."""
        handed = self.work.scene
        count = 0
        for object_id in {*outcome.changed, *handed.objects}:
            if object_id in explained:
                continue
            if self.known.of(object_id):
                count += object_id in outcome.changed and self.near(outcome.scene, object_id) is None
                continue
            count += not same_place(outcome.scene, handed, object_id)
        return count

    def fails(self, outcome: Outcome, object_id: str) -> bool:
        """Tell whether a check of the object fails with a landing in the place of the submission."""
        if object_id not in outcome.fails:
            cost = cost_of(self.known.target[object_id], self.known.of(object_id), self._by_look(object_id))
            self.effort.spend(cost)
            outcome.fails[object_id] = CandidateJudge(self.known, LoadedSubmission(outcome.scene)).misses(object_id)
        return outcome.fails[object_id]

    def results(
        self, target: Scene, object_id: str, submitted: Scene, but: Collection[ObjectCheck] = ()
    ) -> Iterator[tuple[ObjectCheck, CheckResult]]:
        """Judge one check of an object after the other against a target, as far as asked for; but: not these."""
        checks = self.known.of(object_id)
        if object_id not in target.objects:
            return
        scene = self._as_described(target, object_id, submitted) if self._by_look(object_id) else submitted
        case = Case(target, scene, None, self.work.turns_unknown, self.work.unsaid)
        yield from ((check, check.judge_one(case, object_id)) for check in checks if check not in but)

    def _by_look(self, object_id: str) -> bool:
        """Tell whether the object is judged as it looks, and not as it is turned."""
        seen = object_id in self.work.seen_alone or any(check.by_look for check in self.known.of(object_id))
        return seen and object_id not in self.work.turns_unknown

    def _as_described(self, target: Scene, object_id: str, submitted: Scene) -> Scene:
        key = (target, object_id, submitted)
        if key not in self._described:
            self._described[key] = canonical_pose(target, submitted, [object_id])
        return self._described[key]

    def may_meet(self, scene: Scene, object_id: str, handed: Scene) -> bool:
        """Tell at little cost whether the object can pass against another target, as `near` finds in full.

        Where an object that is looked at lies, no description of it changes.
        """
        if object_id not in scene.objects or object_id not in handed.objects:
            return True
        checks = self.known.of(object_id)
        if not any(check.by_look for check in checks):
            allowed = self.known.allowed(object_id)
            here, there = handed.pivot_world(object_id).tolist(), scene.pivot_world(object_id).tolist()
            return all(
                abs(a - b) <= most + SAME_PLACE_TOL * (1 + abs(a - b))
                for a, b, most in zip(here, there, allowed, strict=True)
            )
        boxes = [s.box(object_id, IDENTITY) for s in (scene, handed)]
        if boxes[0] is None or boxes[1] is None:
            return True
        ends = np.array([[box.least, box.most] for box in boxes if box is not None])
        apart = float(np.abs(ends[0] - ends[1]).max())
        lengths = [max(check.tolerances) for check in checks if check.off_in == "length"]
        return apart <= 2 * sum(lengths) + 0.25 * float(boxes[0].size.max())


def _same(one: Scene, other: Scene, object_id: str) -> bool:
    """Tell whether nothing that can be checked of an object differs."""
    if not same_place(one, other, object_id):
        return False
    if object_id not in one.objects:
        return True
    a, b = one[object_id], other[object_id]
    looks = [(item.parent, item.name, item.colour, item.opacity) for item in (a, b)]
    return a is b or (same_numbers(a.pivot, b.pivot) and looks[0] == looks[1])


def same_place(one: Scene, other: Scene, object_id: str) -> bool:
    """Tell whether an object lies in the same place, or in neither scene."""
    if object_id not in one.objects or object_id not in other.objects:
        return (object_id in one.objects) == (object_id in other.objects)
    a, b = one.world_from_local(object_id), other.world_from_local(object_id)
    return a is b or same_numbers(a, b)
