"""Why did it miss? The mistake that, put into the reference, leads to what was handed in."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from heapq import nsmallest
from typing import Final

import numpy as np

from cubedrill.core.causes import seen
from cubedrill.core.causes.beside import Reference, words_in
from cubedrill.core.causes.common import SAME, Altered, Landing, same_numbers
from cubedrill.core.causes.table import Put, file_landings, landing_of, landings
from cubedrill.core.checks.common import Case, CheckBase, ObjectCheck
from cubedrill.core.checks.form import ShapeCheck
from cubedrill.core.checks.position import PositionCheck
from cubedrill.core.checks.relation import RelationCheck
from cubedrill.core.described import described_anew
from cubedrill.core.errors import CoreError
from cubedrill.core.exercise import Exercise
from cubedrill.core.kept import Keeper
from cubedrill.core.replay import replay
from cubedrill.core.scene import IDENTITY, Scene
from cubedrill.core.submission import Handed
from cubedrill.core.values import Array
from cubedrill.core.verdict import Cause, CheckResult

MOST: Final = 3000  # so many mistakes are looked at for one submission: some seconds' worth
KEPT: Final = 16  # so many sets of objects are remembered with their mistakes
APART: Final = 3  # so many objects, not in each other, may be unexplained: two mistakes do not explain more
PAIRS: Final = 1500  # so many pairs of mistakes are tried at most for one submission
LATE: Final = {"ragged-value": 1, "off-in-depth": 2}  # these come after every mistake that leads there exactly
PAIR: Final = 0.5  # of the confidence, for two mistakes where one would be likelier
NAMED: Final = 3  # so many mistakes of one spot are named together


@dataclass(frozen=True, eq=False)
class Found:
    """A landing that leads to missed objects. near: how far off it is, in tolerances, from 0 to 1."""

    landing: Landing
    objects: frozenset[str]
    near: float
    against: int = 0
    pair: Landing | None = None

    @property
    def rank(self) -> tuple[float, ...]:
        """The order of what is likely: exact, against nothing seen, of most objects, near, common, by the table."""
        late = LATE.get(self.landing.mistake.code, 0)
        near = round(self.near, 3)
        # Of two that explain as much, the one mistake in one step is likelier than two, or one with a whole file.
        wide = self.landing.step == 0 or self.pair is not None
        return (
            late, self.against, -len(self.objects), near, wide, -self.landing.mistake.common, self.landing.step,
            self.landing.place,
        )  # fmt: skip


class Explainer:
    """What is known of an exercise before anything is handed in: its reference, and where every mistake leads."""

    def __init__(self, exercise: Exercise, start: Scene, target: Scene) -> None:
        self.exercise, self.start, self.target = exercise, start, target
        self.checks = [check for check in exercise.checks if isinstance(check, ObjectCheck)]
        self._near: Keeper[frozenset[str] | None, list[Put]] = Keeper(KEPT)
        self._hangs_on: dict[str, frozenset[str]] = {}

    @cached_property
    def reference(self) -> Reference | None:
        """The reference with its states; none where the exercise has none that can be done."""
        if self.exercise.reference is None:
            return None
        try:
            return Reference(self.exercise.reference.steps, replay(self.start, self.exercise.reference.steps))
        except CoreError:
            return None

    @cached_property
    def table(self) -> list[Landing]:
        """Where every single mistake in a step leads."""
        return [landing for landing, _altered in landings(self.reference)] if self.reference else []

    def near(self, ids: Iterable[str]) -> list[Put]:
        """Return where every mistake leads that can touch one of these objects; so many at most."""
        reference = self.reference
        if reference is None:
            return []
        near = reference.influences({j for i in ids for j in self.hangs_on(i)})
        return self._near.get(near, lambda: landings(reference, near, MOST))

    @cached_property
    def files(self) -> list[Landing]:
        """Where every mistake with a whole file leads."""
        return list(file_landings(self.target))

    def of(self, object_id: str) -> list[ObjectCheck]:
        """Return the checks of an object."""
        return self._checks_of.get(object_id, [])

    @cached_property
    def _checks_of(self) -> dict[str, list[ObjectCheck]]:
        found: dict[str, list[ObjectCheck]] = {}
        for check in self.checks:
            for object_id in check.objects:
                found.setdefault(object_id, []).append(check)
        return found

    def hangs_on(self, object_id: str) -> frozenset[str]:
        """Return the objects that the checks of an object look at: itself, and what they measure it against."""
        found = self._hangs_on.get(object_id)
        if found is None:
            named = {word for check in self.of(object_id) for word in words_in(check)}
            found = self._hangs_on[object_id] = frozenset({object_id, *(named & set(self.target.objects))})
        return found

    def explain(self, work: Handed) -> tuple[Cause, ...]:
        """Return the causes of what is missed, the likeliest first; none for what passes, none that is a guess."""
        view = View(self, work)
        missed = [i for i in self._checked() if view.misses(i)]
        left, causes = list(missed), []
        candidates = self._candidates(view, missed)
        while left:
            here = [replace(f, objects=f.objects & set(left)) for f in candidates]
            here = [f for f in here if f.objects]
            if not here:
                break
            best = min(here, key=lambda f: f.rank)
            causes.extend(self._told(view, best, here))
            left = [i for i in left if i not in best.objects]
        return tuple(causes)

    def _checked(self) -> list[str]:
        return list(dict.fromkeys(i for check in self.checks for i in check.objects))

    def _candidates(self, view: View, missed: Sequence[str]) -> list[Found]:
        if not missed:
            return []
        table = self.near(missed)
        single = [*(o for o, _altered in table), *([] if view.work.states is not None else self.files)]
        found = [f for landing in single if (f := self._led(view, landing, missed))]
        unexplained = [i for i in missed if not any(i in f.objects for f in found)]
        found += [f for i in unexplained for f in self._fitted(view, i, missed)]
        unexplained = [i for i in missed if not any(i in f.objects for f in found)]
        return found + self._pairs(view, table, unexplained, missed)

    def _led(self, view: View, landing: Landing, missed: Iterable[str]) -> Found | None:
        met = [i for i in missed if not landing.changed.isdisjoint(self.hangs_on(i))]
        near = {i: n for i in met if (n := view.near(landing.scene, i)) is not None}
        near = {i: n for i, n in near.items() if self.fails(landing, i)}
        if not near:
            return None
        return Found(landing, frozenset(near), max(near.values()), view.against(landing, near))

    def fails(self, landing: Landing, object_id: str) -> bool:
        """Tell whether a check of the object fails with the landing in the place of a submission."""
        fails = landing.fails.get(object_id)
        if fails is None:
            fails = landing.fails[object_id] = View(self, Handed(landing.scene)).misses(object_id)
        return fails

    def _fitted(self, view: View, object_id: str, missed: Sequence[str]) -> Iterable[Found]:
        """A ragged value, or else a place off in depth: fitted to what was handed in."""
        reference = self.reference
        if reference is None or not reference.steps:
            return
        for altered in seen.fitted(reference, view.work.scene, object_id):
            (landed,) = reference.led([(altered,)])
            if landed is None:
                continue
            found = self._led(view, landing_of(reference, seen.RAGGED, altered, landed), missed)
            if found:
                yield found
                return
        handed = view.work.scene
        words = seen.right_but_for_depth(
            self.target, handed, object_id, lambda scene: not view.misses(object_id, scene)
        )
        if words is not None:
            k = reference.last_on(object_id)
            altered = Altered(k, k + 1, (), words, object_id)
            landing = landing_of(reference, seen.DEPTH, altered, (handed, frozenset({object_id})))
            yield Found(landing, frozenset({object_id}), 0.0)

    def _pairs(
        self,
        view: View,
        table: Sequence[Put],
        unexplained: Sequence[str],
        missed: Sequence[str],
    ) -> list[Found]:
        """Two mistakes in two steps that each move an object that one does not explain, and nothing that lies right."""
        left = set(unexplained)
        apart = [i for i in left if i in self.target.objects and left.isdisjoint(self.target.ancestors(i))]
        if self.reference is None or not 0 < len(apart) <= APART:
            return []
        astray = {i for i in self.target.objects if not _same_place(self.target, view.work.scene, i)}
        moving = [(o, a) for o, a in table if o.changed & left and o.changed <= astray]
        pairs = ((one, two) for one in moving for two in moving if two[1].first >= one[1].end)
        likely = nsmallest(PAIRS, pairs, lambda pair: -pair[0][0].mistake.common * pair[1][0].mistake.common)
        found: list[Found] = []
        ends = self.reference.led([(altered, later) for (_first, altered), (_second, later) in likely])
        for ((first, _altered), (second, _later)), landed in zip(likely, ends, strict=True):
            if landed is None:
                continue
            led = self._led(view, replace(first, scene=landed[0], changed=landed[1], fails={}), missed)
            if led is not None and not led.objects.isdisjoint(left):  # else one of the two would do alone
                found.append(replace(led, pair=second))
        return found

    def _told(self, view: View, best: Found, all_found: Sequence[Found]) -> list[Cause]:
        """The cause, or the two of a pair, with other mistakes of the same spot named beside it."""
        same = [
            f for f in all_found
            if f is not best and (f.pair is None) == (best.pair is None)
            and f.objects >= best.objects and f.against <= best.against
            and all(view.near(best.landing.scene, i, f.landing.scene) is not None for i in best.objects)
        ]  # fmt: skip
        same.sort(key=lambda f: f.rank)
        if best.pair is None:
            return [_cause(best.landing, best, _others(best.landing, [f.landing for f in same]))]
        firsts = [f.landing for f in same if f.pair is best.pair]
        seconds = [f.pair for f in same if f.pair and f.landing.spot == best.landing.spot]
        return [
            _cause(best.landing, best, _others(best.landing, firsts), PAIR),
            _cause(best.pair, best, _others(best.pair, seconds), PAIR),
        ]


def _others(landing: Landing, same: Iterable[Landing]) -> list[Landing]:
    """One landing of each other mistake, in the order given."""
    first_of: dict[str, Landing] = {}
    for other in same:
        if other.mistake is not landing.mistake:
            first_of.setdefault(other.mistake.code, other)
    return list(first_of.values())


def _cause(landing: Landing, found: Found, others: Sequence[Landing], share: float = 1.0) -> Cause:
    """A cause in words; share: of the confidence, that which the number of mistakes leaves."""
    words = landing.mistake.words
    told = words.student.format(**landing.words)
    if others:
        more = [o.mistake.words.student.format(**o.words).rstrip(".") for o in others[: NAMED - 1]]
        told = f"{told} Or: {'; or: '.join(more)}."
    likely = landing.mistake.common
    share *= likely / (likely + sum(o.mistake.common for o in others))
    confidence = share * (1 - found.near / 2) * (0.5 if landing.mistake.code in LATE else 1.0)
    first = min(found.objects)
    return Cause(
        object=landing.object or first, code=landing.mistake.code, step=landing.step, text=told,
        confidence=round(max(0.01, min(confidence, 0.99)), 2), hint=words.hint.format(**landing.words),
        instructor=words.instructor.format(**landing.words), objects=tuple(sorted(found.objects)),
        also=tuple(o.mistake.code for o in others),
    )  # fmt: skip


class View:
    """A submission, as the checks of one object see it against a target or against where a mistake leads."""

    def __init__(self, explainer: Explainer, work: Handed) -> None:
        self.explainer, self.work = explainer, work
        self._described: dict[tuple[Scene, str, Scene], Scene] = {}

    def misses(self, object_id: str, submitted: Scene | None = None) -> bool:
        """Tell whether any check of the object is missed against the exercise's own target."""
        results = self.results(self.explainer.target, object_id, submitted or self.work.scene)
        return any(result.verdict in ("near", "fail") for _check, result in results)

    def near(self, scene: Scene, object_id: str, submitted: Scene | None = None) -> float | None:
        """How far the object is from another target, in tolerances, where all its checks pass there; else none."""
        handed = submitted or self.work.scene
        there, here = object_id in scene.objects, object_id in handed.objects
        if not there or not here:
            return 0.0 if there == here else None
        if all(_same(scene, handed, i) for i in self.explainer.hangs_on(object_id)):
            return 0.0
        if not self._may_meet(scene, handed, object_id):
            return None
        worst = 0.0
        for check, result in self.results(scene, object_id, handed):
            if isinstance(check, RelationCheck):
                off = _relation_off(check, scene, result, object_id)
            else:
                off = _off(result) if result.verdict in ("pass", "not judged") else None
            if off is None:
                return None
            worst = max(worst, off)
        return worst

    def against(self, landing: Landing, explained: Collection[str]) -> int:
        """Count what lies otherwise than the mistake would have it."""
        handed = self.work.scene
        count = 0
        for object_id in {*landing.changed, *handed.objects}:
            if object_id in explained:
                continue
            if self.explainer.of(object_id):
                count += object_id in landing.changed and self.near(landing.scene, object_id) is None
                continue
            count += not _same_place(landing.scene, handed, object_id)
        return count

    def results(self, target: Scene, object_id: str, submitted: Scene) -> Iterator[tuple[CheckBase, CheckResult]]:
        """Judge one check of an object after the other against a target, as far as they are asked for."""
        checks = self.explainer.of(object_id)
        if object_id not in target.objects:
            return
        by_look = any(check.by_look for check in checks) and object_id not in self.work.turns_unknown
        scene = self._as_described(target, object_id, submitted) if by_look else submitted
        case = Case(target, scene, None, self.work.turns_unknown)
        yield from ((check, check.judge_one(case, object_id)) for check in checks)

    def _as_described(self, target: Scene, object_id: str, submitted: Scene) -> Scene:
        key = (target, object_id, submitted)
        if key not in self._described:
            self._described[key] = described_anew(target, submitted, [object_id])
        return self._described[key]

    def _may_meet(self, scene: Scene, handed: Scene, object_id: str) -> bool:
        """Tell at little cost whether an object that is looked at can pass: where it lies, no turn of it changes."""
        checks = self.explainer.of(object_id)
        if not any(check.by_look for check in checks):
            away = np.abs(scene.pivot_world(object_id) - handed.pivot_world(object_id))
            return all(_within(check, away) for check in checks if isinstance(check, PositionCheck))
        boxes = [s.box(object_id, IDENTITY) for s in (scene, handed)]
        if boxes[0] is None or boxes[1] is None:
            return True
        ends = np.array([[box.least, box.most] for box in boxes if box is not None])
        apart = float(np.abs(ends[0] - ends[1]).max())
        lengths = [float(np.max(c.tolerance)) for c in checks if isinstance(c, PositionCheck | ShapeCheck)]
        return apart <= 2 * sum(lengths) + 0.25 * float(boxes[0].size.max())


def _within(check: PositionCheck, apart: Array) -> bool:
    """Tell whether a check of the pivot in world may pass where it lies so far apart; of others nothing is known."""
    if check.point != "pivot" or check.space != "world":
        return True
    return bool((apart[check.axis_indices] <= np.multiply(check.tolerances, 1.001) + SAME * (1 + apart.max())).all())


def _same(one: Scene, other: Scene, object_id: str) -> bool:
    """Tell whether nothing that can be checked of an object differs."""
    if not _same_place(one, other, object_id):
        return False
    if object_id not in one.objects:
        return True
    a, b = one[object_id], other[object_id]
    looks = [(item.parent, item.name, item.colour, item.opacity) for item in (a, b)]
    return a is b or (same_numbers(a.pivot, b.pivot) and looks[0] == looks[1])


def _same_place(one: Scene, other: Scene, object_id: str) -> bool:
    """Tell whether an object lies in the same place, or in neither scene."""
    if object_id not in one.objects or object_id not in other.objects:
        return (object_id in one.objects) == (object_id in other.objects)
    a, b = one.world_from_local(object_id), other.world_from_local(object_id)
    return a is b or same_numbers(a, b)


def _off(result: CheckResult) -> float:
    """How many tolerances a passing result is off."""
    if result.difference is None:
        return 0.0
    difference, tolerance = np.abs(np.atleast_1d(result.difference)), np.atleast_1d(result.tolerance)
    return float(np.max(np.divide(difference, tolerance, out=np.zeros_like(difference), where=tolerance > 0)))


def _relation_off(check: RelationCheck, scene: Scene, result: CheckResult, object_id: str) -> float | None:
    """A relation holds or not in each scene alone: the two must be off by the same, within the tolerance."""
    there = check.judge_one(Case(scene, scene), object_id)
    if there.difference is None or result.difference is None:
        return 0.0 if there.difference == result.difference else None
    apart = abs(float(np.max(there.difference)) - float(np.max(result.difference)))
    if apart > check.tolerance:
        return None
    return apart / check.tolerance if check.tolerance else 0.0
