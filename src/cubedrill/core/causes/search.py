"""Why did it miss? The mistake that, put into the reference, leads to what was handed in."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from heapq import nsmallest
from typing import Final

import numpy as np

from cubedrill.core.causes import seen
from cubedrill.core.causes.beside import Reference, words_in
from cubedrill.core.causes.common import Altered, Landing
from cubedrill.core.causes.found import PAIR, Found, cause_of, others_of
from cubedrill.core.causes.pairs import Pair, Pairs
from cubedrill.core.causes.table import Put, file_landings, landing_of, landings
from cubedrill.core.causes.view import View, same_place
from cubedrill.core.checks.common import ObjectCheck
from cubedrill.core.checks.position import PositionCheck
from cubedrill.core.errors import CoreError
from cubedrill.core.exercise import Exercise
from cubedrill.core.kept import Keeper
from cubedrill.core.replay import replay
from cubedrill.core.scene import Scene
from cubedrill.core.solids import corner_signs
from cubedrill.core.submission import Handed
from cubedrill.core.transform import mapped
from cubedrill.core.verdict import Cause

MOST: Final = 600  # so many mistakes are looked at for one submission
APART: Final = 4  # for so many objects, not in each other, that one mistake does not explain, two are looked for
ENOUGH: Final = 6  # so many pairs that explain an object are enough: the commonest come first
ALIKE: Final = 2  # of so many pairs that explain a miss, others in the same two steps are tried too
KEPT: Final = 16  # so many sets of objects are remembered with their mistakes
RAGGED: Final = 200  # steps done again to look for a ragged value beside the mistakes that come nearest


class Explainer:
    """What is known of an exercise before anything is handed in: its reference, and where every mistake leads."""

    def __init__(self, exercise: Exercise, start: Scene, target: Scene) -> None:
        self.exercise, self.start, self.target = exercise, start, target
        self.checks = [check for check in exercise.checks if isinstance(check, ObjectCheck)]
        self._near: Keeper[frozenset[str] | None, list[Put]] = Keeper(KEPT)
        self._hangs_on: dict[str, frozenset[str]] = {}
        self._allowed: dict[str, tuple[float, float, float]] = {}

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

    def allowed(self, object_id: str) -> tuple[float, float, float]:
        """How far the pivot may be off along each world axis while every check of it passes that is one in world."""
        found = self._allowed.get(object_id)
        if found is None:
            most = [math.inf] * 3
            for check in self.of(object_id):
                if isinstance(check, PositionCheck) and (check.point, check.space) == ("pivot", "world"):
                    for axis, tolerance in zip(check.axis_indices, check.tolerances, strict=True):
                        most[axis] = min(most[axis], 1.001 * tolerance)
            found = self._allowed[object_id] = (most[0], most[1], most[2])
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

    def _pairs(self, view: View, table: Sequence[Put], left: Sequence[str], missed: Sequence[str]) -> list[Found]:
        """Two mistakes that each move an object that one does not explain, and nothing that lies right."""
        apart = [i for i in left if i in self.target.objects and not set(left).intersection(self.target.ancestors(i))]
        if self.reference is None or not apart:
            return []
        astray = {i for i in self.target.objects if not same_place(self.target, view.work.scene, i)}
        moving = [put for put in table if put[0].changed <= astray]
        pairs = Pairs(self.reference, moving, {i: self.hangs_on(i) for i in apart})
        found: list[Found] = []
        for first in (True, False):
            here = list(self._both(view, pairs.likely(apart[:APART], first), left, missed))
            alike = [pair for f in here[:ALIKE] if f.both for pair in pairs.like(f.both)]
            found += [*here, *self._both(view, alike, left, missed)]
            apart = [i for i in apart if not any(i in f.objects for f in found)]
            if not apart:
                return found
        for object_id in apart[:APART]:
            most = max(1, RAGGED // (len(self.reference.steps) * len(apart[:APART])))
            found += self._ragged_beside(view, moving, object_id, most, missed)
        return found

    def _both(self, view: View, pairs: Sequence[Pair], left: Sequence[str], missed: Sequence[str]) -> Iterator[Found]:
        """The pairs that explain an object that is left."""
        reference, found = self.reference, Counter[str]()
        for pair, landed in zip(pairs, reference.led([p.plan for p in pairs]) if reference else (), strict=True):
            if landed is None or found[pair.object] >= ENOUGH or view.near(landed[0], pair.object) is None:
                continue
            landing = replace(pair.first, scene=landed[0], changed=landed[1], fails={})
            for led in self._explaining(
                view, Found(landing, frozenset(), 0.0, pair=pair.second, both=pair), left, missed
            ):
                found[pair.object] += 1
                yield led

    def _explaining(self, view: View, pair: Found, left: Sequence[str], missed: Sequence[str]) -> Iterator[Found]:
        """A pair with what it explains, where that is more than either does alone."""
        led = self._led(view, pair.landing, missed)
        if led is not None and not led.objects.isdisjoint(left):
            yield replace(led, pair=pair.pair, both=pair.both)

    def _ragged_beside(
        self, view: View, moving: Sequence[Put], object_id: str, most: int, missed: Sequence[str]
    ) -> Iterator[Found]:
        """A mistake, and a value dragged by hand in another step on the same object: beside those that come nearest."""
        handed = view.work.scene
        if self.reference is None or object_id not in handed.objects:
            return
        beside_it = [put for put in moving if put[0].changed & self.hangs_on(object_id)]
        for first, altered in nsmallest(most, beside_it, lambda put: _apart(put[0].scene, handed, object_id)):
            beside = self.reference.with_mistake(altered)
            for ragged in seen.fitted(beside, handed, object_id) if beside else ():
                (landed,) = beside.led([(ragged,)]) if beside else (None,)
                step = altered.step_before(ragged.first)
                if landed is None or step is None:
                    continue
                second = landing_of(self.reference, seen.RAGGED, ragged._replace(first=step), landed)
                landing = replace(first, scene=landed[0], changed=first.changed | landed[1], fails={})
                yield from self._explaining(view, Found(landing, frozenset(), 0.0, pair=second), [object_id], missed)

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
            return [cause_of(best.landing, best, others_of(best.landing, [f.landing for f in same]))]
        firsts = [f.landing for f in same if f.pair is best.pair]
        seconds = [f.pair for f in same if f.pair and f.landing.spot == best.landing.spot]
        return [
            cause_of(best.landing, best, others_of(best.landing, firsts), PAIR),
            cause_of(best.pair, best, others_of(best.pair, seconds), PAIR),
        ]


def _apart(one: Scene, other: Scene, object_id: str) -> float:
    """How far apart an object's corners lie in two scenes at the most; infinitely where it is in one alone."""
    if object_id not in one.objects or object_id not in other.objects:
        return math.inf
    box = one.local_box(object_id)
    corners = np.zeros((1, 3)) if box is None else box.centre + corner_signs() * box.size / 2
    places = [mapped(scene.world_from_local(object_id), corners) for scene in (one, other)]
    return float(np.linalg.norm(places[0] - places[1], axis=1).max())
