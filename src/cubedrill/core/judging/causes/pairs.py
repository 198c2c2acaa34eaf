"""Two mistakes in two steps: which are tried, and how one is put in beside, or inside, the other."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from heapq import nsmallest
from typing import Final, NamedTuple

from cubedrill.core.judging.causes.common import Altered, Landing
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.judging.causes.table import Put
from cubedrill.core.steps import Step

COMMONEST: Final = 150  # so many mistakes with an object are paired at most
FIRST: Final = 150  # so many pairs are tried for an object at first, the commonest
WORK: Final = 12_000  # so many steps, one for each of the reference's in each pair, are worth it for one submission


class Pair(NamedTuple):
    """Two mistakes, the object that they might explain, and how both are put into the reference."""

    object: str
    first: Landing
    second: Landing
    plan: tuple[Altered, ...]


class Pairs:
    """Pairs of mistakes that both change one of a group of objects, the commonest for each group first."""

    def __init__(self, reference: Reference, moving: Sequence[Put], groups: Mapping[str, frozenset[str]]) -> None:
        """groups: for an object to be explained, those whose change may explain it; moving: mistakes with any."""
        self._reference, self._moving, self._groups = reference, moving, groups
        self._at: dict[int, list[Put]] = {}
        for put in moving:
            self._at.setdefault(put[1].first, []).append(put)
        self._tried: set[tuple[int, int]] = set()

    def likely(self, left: Sequence[str], first: bool) -> list[Pair]:
        """Return pairs for objects that are left unexplained that were not returned before; first: but a few."""
        most = WORK // max(1, len(self._reference.steps) * len(left))
        found: list[Pair] = []
        for object_id in left:
            found += self._new(nsmallest(min(FIRST, most) if first else most, self._of(object_id), _rarity))
        return found

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

    def _of(self, object_id: str) -> Iterator[Pair]:
        touching = [put for put in self._moving if put[0].changed & self._groups[object_id]]
        touching = nsmallest(COMMONEST, touching, lambda put: -put[0].mistake.common)
        for first, one in touching:
            for second, two in touching:
                if two.first >= one.end:
                    yield Pair(object_id, first, second, (one, two))
            yield from self._inside(object_id, first, one)

    def _inside(self, object_id: str, first: Landing, wide: Altered) -> Iterator[Pair]:
        """Yield one that spans several steps, such as two objects exchanged, with another in a step that it changes.

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


def _rarity(pair: Pair) -> float:
    return -pair.first.mistake.common * pair.second.mistake.common


def put_inside(steps: Sequence[Step], wide: Altered, narrow: Altered) -> Altered | None:
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
