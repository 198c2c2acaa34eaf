"""Two mistakes: which pairs are tried, and how one is put in beside, or inside, the other."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from heapq import nsmallest
from itertools import islice
from typing import Final, NamedTuple

import numpy as np

from cubedrill.core.geometry.transform import inverse
from cubedrill.core.judging.causes.common import Mutation, Outcome
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.judging.causes.table import DONE_TWICE, MISTAKES, MistakeRun, outcome_of
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps import Step
from cubedrill.core.values import Array, Indices

COMMONEST: Final = 150  # so many mistakes with an object are paired at most
FIRST: Final = 150  # so many pairs are tried for an object at first, the commonest
FIT: Final = 0.02  # of the largest coordinate: so near a guess of where both lead counts as what was submitted
WORK: Final = 12_000  # so many steps, one for each of the reference's in each pair, are worth it for one submission


class Pair(NamedTuple):
    """Two mistakes, the object that they might explain, and how both are put into the reference."""

    object: str
    first: Outcome
    second: Outcome
    plan: tuple[Mutation, ...]


class Pairs:
    """Pairs of mistakes that both change one of a group of objects, the commonest for each group first."""

    def __init__(
        self, reference: Reference, submitted: Scene, moving: Sequence[MistakeRun], groups: Mapping[str, frozenset[str]]
    ) -> None:
        """groups: for an object to be explained, those whose change may explain it; moving: mistakes with any."""
        self._reference, self._submitted, self._moving, self._groups = reference, submitted, moving, groups
        self._left: dict[str, Iterator[Pair]] = {}
        self._fits: dict[str, int] = {}
        self._at: dict[int, list[MistakeRun]] = {}
        for put in moving:
            self._at.setdefault(put[1].first, []).append(put)
        self._tried: set[tuple[int, int]] = set()
        self._twice: dict[int, Outcome] = {}

    def fitting(self, left: Sequence[str]) -> list[Pair]:
        """Return a few pairs for each object that is left unexplained: those that fit what was submitted."""
        return self._new(pair for i in left for pair in islice(self._ranked(i), min(FIRST, self._fits[i])))

    def likely(self, left: Sequence[str], first: bool) -> list[Pair]:
        """Return pairs for objects that are left unexplained that were not returned before; first: but a few."""
        most = WORK // max(1, len(self._reference.steps) * len(left))
        number = min(FIRST, most) if first else most
        return self._new(pair for object_id in left for pair in islice(self._ranked(object_id), number))

    def beside(self, explained: Sequence[MistakeRun], left: Sequence[str]) -> list[Pair]:
        """Return pairs of a mistake that explains other objects already with any other one that touches these."""
        found: list[Pair] = []
        for object_id in left:
            touching = [put for put in self._moving if put[0].changed & self._groups[object_id]]
            for known in explained:
                found += (
                    Pair(object_id, first[0], second[0], (first[1], second[1]))
                    for put in touching
                    for first, second in [sorted((known, put), key=lambda each: each[1].first)]
                    if second[1].first >= first[1].end
                )
        return self._new(found)

    def done_twice(self, left: Sequence[str]) -> list[Pair]:
        """Return pairs of a mistake in one step with the same step done twice: wrong once, or both times."""
        found: list[Pair] = []
        for object_id in left:
            for first, one in self._moving:
                if not first.changed & self._groups[object_id] or len(one.steps) != 1 or one.end != one.first + 1:
                    continue
                right, wrong = self._reference.steps[one.first], one.steps[0]
                if right.makes or wrong.makes:
                    continue
                twice = self._twice_at(one.first)
                for steps in ((wrong, wrong), (right, wrong), (wrong, right)):
                    found.append(Pair(object_id, first, twice, (one._replace(steps=steps),)))
        return found

    def _twice_at(self, k: int) -> Outcome:
        """Return the landing of a step done twice; where it leads alone does not matter beside another mistake."""
        if k not in self._twice:
            step = self._reference.steps[k]
            mutation = Mutation(k, k + 1, (step, step))
            self._twice[k] = outcome_of(
                self._reference, DONE_TWICE, mutation, (self._reference.target, frozenset()), MISTAKES.index(DONE_TWICE)
            )
        return self._twice[k]

    def like(self, pair: Pair) -> list[Pair]:
        """Return pairs of which one mistake is the same, and the other one in the same step."""
        one, two = pair.plan[0], pair.plan[-1]
        if len(pair.plan) < 2:
            return []
        others = [
            Pair(pair.object, put[0], pair.second, (put[1], two))
            for put in self._at[one.first]
            if put[1].end == one.end
        ]
        return self._new(others + [Pair(pair.object, pair.first, put[0], (one, put[1])) for put in self._at[two.first]])

    def _new(self, pairs: Iterable[Pair]) -> list[Pair]:
        new = {(id(pair.first), id(pair.second)): pair for pair in pairs}
        new = {key: pair for key, pair in new.items() if key not in self._tried}
        self._tried.update(new)
        return list(new.values())

    def _ranked(self, object_id: str) -> Iterator[Pair]:
        """Yield pairs that were not yielded before: those first that fit what was submitted, and then the commonest."""
        if object_id not in self._left:
            self._left[object_id] = self._in_order(object_id)
        return self._left[object_id]

    def _in_order(self, object_id: str) -> Iterator[Pair]:
        touching = [put for put in self._moving if put[0].changed & self._groups[object_id]]
        touching = nsmallest(COMMONEST, touching, lambda put: -put[0].mistake.common)
        inside = [pair for first, one in touching for pair in self._inside(object_id, first, one)]
        places = _in_two_steps(touching)
        misfits = np.concatenate((self._misfits(object_id, touching, places), np.ones(len(inside))))
        common = np.array([put[0].mistake.common for put in touching])
        rarity = np.concatenate((-common[places].prod(axis=1), [_rarity(pair) for pair in inside]))
        self._fits[object_id] = int((misfits == 0).sum())
        order = np.lexsort((rarity, misfits)).tolist()

        def made() -> Iterator[Pair]:
            for n in order:
                if n >= len(places):
                    yield inside[n - len(places)]
                    continue
                (first, one), (second, two) = (touching[place] for place in places[n])
                plan = (one, two) if two.first >= one.end else self._merged(one, two)
                if plan:
                    yield Pair(object_id, first, second, plan)

        return made()

    def _misfits(self, object_id: str, touching: Sequence[MistakeRun], places: Indices) -> Array:
        """Return (n,) how little each pair (n, 2) of `touching` fits what was submitted: 0, 1 or 2.

        Where two mistakes lead together is guessed from where each leads alone: if both steps are motions of the world,
        T⁻¹ between them in one order; if both are in the object's own axes, in the other; or both displacements added
        up. One that fits neither in its axes nor in its place is tried last.
        """
        scenes = [self._reference.target, self._submitted, *(put[0].scene for put in touching)]
        if not len(places) or any(object_id not in scene.objects for scene in scenes):
            return np.ones(len(places))
        target, submitted, *alone = (scene.world_from_local(object_id) for scene in scenes)
        target_pivot, submitted_pivot, *pivots = (scene.pivot_world(object_id) for scene in scenes)
        each, back = np.array(alone), inverse(target)
        first, second = each[places[:, 0]], each[places[:, 1]]
        ways = np.stack((second @ back @ first, first @ back @ second))
        size = float(np.abs(submitted[:3, :3]).max())
        axes = np.abs(ways[..., :3, :3] - submitted[:3, :3]).max(axis=(2, 3)).min(axis=0) <= FIT * size
        moved = np.array(pivots) - target_pivot
        pivot = self._reference.target[object_id].pivot
        added = moved[places[:, 0]] + moved[places[:, 1]] + target_pivot
        at = np.stack((*(way[:, :3, :3] @ pivot + way[:, :3, 3] for way in ways), added))
        reach = FIT * (1 + float(np.abs(submitted_pivot).max()))
        place = np.abs(at - submitted_pivot).max(axis=2).min(axis=0) <= reach
        return np.asarray(2.0 - axes - place)

    def _merged(self, one: Mutation, two: Mutation) -> tuple[Mutation, ...]:
        """Return two mistakes in the same step as one, if they change different values of it."""
        right = self._reference.steps[one.first]
        if any(type(each.steps[0]) is not type(right) for each in (one, two)):
            return ()
        changes = [
            {name: value for name, value in each.steps[0] if value != getattr(right, name)} for each in (one, two)
        ]
        if changes[0].keys() & changes[1].keys():
            return ()
        return (one._replace(steps=(right.model_copy(update={**changes[0], **changes[1]}),)),)

    def _inside(self, object_id: str, first: Outcome, wide: Mutation) -> Iterator[Pair]:
        """Yield a mistake that spans several steps together with another one in a step that it changes.

        What that one changes alone does not count.
        """
        steps = self._reference.steps
        if wide.end == wide.first + 1:
            return
        changed = {k for k, step in enumerate(wide.steps, wide.first) if k < wide.end and step is not steps[k]}
        for second, narrow in (put for k in sorted(changed) for put in self._at.get(k, ())):
            both = put_inside(steps, wide, narrow)
            if both is not None:
                yield Pair(object_id, first, second, (both,))


def _in_two_steps(touching: Sequence[MistakeRun]) -> Indices:
    """(n, 2) places of two mistakes of which the second comes after the first, or both change one value of a step."""
    firsts, ends = (np.array([getattr(put[1], name) for put in touching], dtype=np.intp) for name in ("first", "end"))
    narrow = (ends == firsts + 1) & np.array([len(put[1].steps) == 1 for put in touching], dtype=np.bool_)
    later = firsts[None, :] >= ends[:, None]
    same = np.triu((firsts[None, :] == firsts[:, None]) & narrow[None, :] & narrow[:, None], 1)
    return np.argwhere(later | same)


def _rarity(pair: Pair) -> float:
    return -pair.first.mistake.common * pair.second.mistake.common


def put_inside(steps: Sequence[Step], wide: Mutation, narrow: Mutation) -> Mutation | None:
    """Return a mistake in one step put into another one that spans several, such as an exchanged order; else none.

    The step is where the wide mistake took it, or, where that changed some of its values too, has those of both.
    """
    at = narrow.first
    if narrow.end != at + 1 or not wide.first <= at < wide.end:
        return None
    right = steps[at]
    if any(step is right for step in wide.steps):
        done = tuple(s for step in wide.steps for s in (narrow.steps if step is right else (step,)))
        return wide._replace(steps=done)
    if len(narrow.steps) != 1 or len(wide.steps) != wide.end - wide.first:
        return None
    changed = {name: value for name, value in narrow.steps[0] if value != getattr(right, name, None)}
    other = wide.steps[at - wide.first]
    if type(other) is not type(right) or not changed.keys() <= set(type(other).model_fields):
        return None
    done = tuple(
        step.model_copy(update=changed) if number == at - wide.first else step for number, step in enumerate(wide.steps)
    )
    return wide._replace(steps=done)
