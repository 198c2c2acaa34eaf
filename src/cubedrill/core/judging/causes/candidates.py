"""Search the mistakes that lead to a submission: one, one with a fitted value, or two."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from heapq import nsmallest
from typing import Final

import numpy as np

from cubedrill.core.geometry.box import corner_signs
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.judging.causes import fitted
from cubedrill.core.judging.causes.candidate_judge import CandidateJudge, same_place
from cubedrill.core.judging.causes.common import FileMistake, Mutation, Outcome
from cubedrill.core.judging.causes.effort import STEP_COST, OutOfEffortError
from cubedrill.core.judging.causes.found import Found
from cubedrill.core.judging.causes.pairs import Pair, Pairs
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.judging.causes.table import MistakeRun, outcome_of
from cubedrill.core.scene.scene import Scene

APART: Final = 4  # for so many objects, not in each other, that one mistake does not explain, two are looked for
ENOUGH: Final = 6  # so many pairs that explain an object are enough: the commonest come first
ALIKE: Final = 2  # of so many pairs that explain a miss, others in the same two steps are tried too
RAGGED: Final = 200  # steps done again to look for a ragged value beside the mistakes that come nearest


class Candidates:
    """All that may have led to the missed objects of one submission."""

    def __init__(self, view: CandidateJudge, missed: Sequence[str]) -> None:
        self._view, self._missed = view, missed
        self._known = view.known
        self.whole = True

    def all(self) -> list[Found]:
        """Return all that leads to what is missed: single mistakes, values read off it, then two mistakes.

        What was found when as much was tried as may be; `whole` tells whether that was all.
        """
        found: list[Found] = []
        try:
            for each in self._each(found):
                found.append(each)  # what is found decides what is looked for next
        except OutOfEffortError:
            self.whole = False
        return found

    def _each(self, found: Sequence[Found]) -> Iterator[Found]:
        if not self._missed:
            return
        table = self._known.near(self._missed)
        in_a_step, in_all = [outcome for outcome, _altered in table], self._whole_files()
        # They are few, and of what a program wrote they are the likeliest.
        single = in_all + in_a_step if self._view.work.is_file else in_a_step + in_all
        yield from (f for outcome in single if (f := self._led(outcome)))
        for object_id in _not_in(found, self._missed):
            yield from self._fitted(object_id)
        # An object that is only off in depth may have two mistakes as well; these then come first.
        exact = [each for each in found if each.outcome.mistake is not fitted.DEPTH]
        yield from self._pairs(table, exact, _not_in(exact, self._missed))

    def _whole_files(self) -> list[Outcome]:
        """Return the outcomes of mistakes with a whole file that this submission allows, exports first."""
        work = self._view.work
        if work.states is not None:
            return []
        files = [(each, each.mistake) for each in self._known.files if isinstance(each.mistake, FileMistake)]
        made = [(each, mistake) for each, mistake in files if work.is_file or not mistake.exported]
        return [each for each, _mistake in sorted(made, key=lambda pair: not pair[1].exported)]

    def _led(self, outcome: Outcome) -> Found | None:
        """Return the missed objects that an outcome explains, or None."""
        met = [i for i in self._missed if not outcome.changed.isdisjoint(self._known.hangs_on(i))]
        near = {i: n for i in met if (n := self._view.near(outcome.scene, i)) is not None}
        near = {i: n for i, n in near.items() if self._view.fails(outcome, i)}
        if not near:
            return None
        return Found(outcome, frozenset(near), max(near.values()), self._view.against(outcome, near))

    def _fitted(self, object_id: str) -> Iterable[Found]:
        """Yield a cause fitted to the submission: an uneven value, or else an error in depth."""
        reference, view, handed = self._known.reference, self._view, self._view.work.scene
        if reference is None or not reference.steps:
            return
        for mutation in fitted.values_fitted(reference, handed, object_id):
            self._view.effort.spend(STEP_COST * len(reference.steps))
            (landed,) = reference.led([(mutation,)])
            found = self._led(outcome_of(reference, fitted.RAGGED, mutation, landed)) if landed else None
            if found:
                yield found
                return
        words = fitted.right_but_for_depth(
            self._known.target, handed, object_id, lambda scene: not view.misses(object_id, scene)
        )
        if words is not None:
            k = reference.last_on(object_id)
            mutation = Mutation(k, k + 1, (), words, object_id)
            outcome = outcome_of(reference, fitted.DEPTH, mutation, (handed, frozenset({object_id})))
            yield Found(outcome, frozenset({object_id}), 0.0)

    def _pairs(self, table: Sequence[MistakeRun], found: Sequence[Found], left: Sequence[str]) -> Iterator[Found]:
        """Yield pairs of mistakes that move unexplained objects and no object that is right."""
        reference, target = self._known.reference, self._known.target
        apart = [i for i in left if i in target.objects and not set(left).intersection(target.ancestors(i))]
        if reference is None or not reference.steps or not apart:
            return
        astray = {i for i in target.objects if not same_place(target, self._view.work.scene, i)}
        moving = [put for put in table if put[0].changed <= astray]
        pairs = Pairs(reference, self._view.work.scene, moving, {i: self._known.hangs_on(i) for i in apart})
        explaining = {id(each.outcome) for each in found if each.pair is None}
        explained = [put for put in table if id(put[0]) in explaining]

        def both(made: list[Pair]) -> Iterator[Found]:
            return self._both(reference, made, left)

        ways: tuple[Callable[[list[str]], Iterator[Found]], ...] = (
            lambda ids: both(pairs.fitting(ids)),
            lambda ids: both([*pairs.beside(explained, ids), *pairs.done_twice(ids)]),
            lambda ids: both(pairs.likely(ids, True)),
            lambda ids: self._ragged_pairs(reference, moving, ids),
            lambda ids: both(pairs.likely(ids, False)),
        )
        for find in ways:
            here: list[Found] = []
            for each in find(apart[:APART]):
                here.append(each)
                yield each
            for each in both([pair for f in here[:ALIKE] if f.both for pair in pairs.like(f.both)]):
                here.append(each)
                yield each
            apart = _not_in(here, apart)

    def _ragged_pairs(
        self, reference: Reference, moving: Sequence[MistakeRun], apart: Sequence[str]
    ) -> Iterator[Found]:
        """Yield, for each of some objects, a mistake with an uneven value beside it."""
        for object_id in apart:
            most = max(1, RAGGED // (len(reference.steps) * len(apart)))
            yield from self._ragged_beside(reference, moving, object_id, most)

    def _both(self, reference: Reference, pairs: Sequence[Pair], left: Sequence[str]) -> Iterator[Found]:
        """Yield the pairs that explain an object that is left."""
        found = Counter[str]()
        self._view.effort.spend(STEP_COST * len(pairs) * len(reference.steps))
        for pair, landed in zip(pairs, reference.led([p.plan for p in pairs]), strict=True):
            if landed is None or found[pair.object] >= ENOUGH or self._view.near(landed[0], pair.object) is None:
                continue
            led = self._led(replace(pair.first, scene=landed[0], changed=landed[1], fails={}))
            if led is not None and not led.objects.isdisjoint(left):
                found[pair.object] += 1
                yield replace(led, pair=pair.second, both=pair)

    def _ragged_beside(
        self, reference: Reference, moving: Sequence[MistakeRun], object_id: str, most: int
    ) -> Iterator[Found]:
        """A mistake, and a value dragged by submit another step on the same object: beside those that come nearest."""
        handed = self._view.work.scene
        if object_id not in handed.objects:
            return
        on_it = [put for put in moving if put[0].changed & self._known.hangs_on(object_id)]
        for first, mutation in nsmallest(most, on_it, lambda put: _apart(put[0].scene, handed, object_id)):
            self._view.effort.spend(STEP_COST * len(reference.steps))
            beside = reference.with_mistake(mutation)
            for ragged in fitted.values_fitted(beside, handed, object_id) if beside else ():
                (landed,) = beside.led([(ragged,)]) if beside else (None,)
                step = mutation.step_before(ragged.first)
                if step is None and len(mutation.steps) == 2 and mutation.end == mutation.first + 1:
                    step = mutation.first  # it is in one of the two that were done instead of one
                if landed is None or step is None:
                    continue
                led = self._led(replace(first, scene=landed[0], changed=first.changed | landed[1], fails={}))
                if led is not None and object_id in led.objects:
                    second = outcome_of(reference, fitted.RAGGED, ragged._replace(first=step), landed)
                    yield replace(led, pair=second)


def _not_in(found: Sequence[Found], ids: Sequence[str]) -> list[str]:
    """Return the objects that nothing found explains."""
    return [i for i in ids if not any(i in each.objects for each in found)]


def _apart(one: Scene, other: Scene, object_id: str) -> float:
    """Return the largest distance between an object's corners in two scenes; infinity if one lacks it."""
    if object_id not in one.objects or object_id not in other.objects:
        return math.inf
    box = one.local_box(object_id)
    corners = np.zeros((1, 3)) if box is None else box.centre + corner_signs() * box.size / 2
    places = [mapped(scene.world_from_local(object_id), corners) for scene in (one, other)]
    return float(np.linalg.norm(places[0] - places[1], axis=1).max())
