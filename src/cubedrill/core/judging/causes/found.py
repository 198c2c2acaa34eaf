"""What was found to lead to a miss, how likely it is beside others, and how it is told."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from cubedrill.core.judging.causes.common import Landing
from cubedrill.core.judging.causes.pairs import Pair
from cubedrill.core.judging.causes.view import View
from cubedrill.core.judging.verdict import Cause

NAMED: Final = 4  # so many other mistakes of the same spot are named in short
PAIR: Final = 0.5  # of the confidence, for two mistakes where one would be likelier


@dataclass(frozen=True, eq=False)
class Found:
    """A landing that leads to missed objects. near: how far off it is, in tolerances, from 0 to 1.

    pair: the second mistake, where there are two; both: how they are put in, where that was planned beforehand.
    """

    landing: Landing
    objects: frozenset[str]
    near: float
    against: int = 0
    pair: Landing | None = None
    both: Pair | None = None

    @property
    def rank(self) -> tuple[float, ...]:
        """The order of what is likely: exact, against nothing seen, of most objects, near, common, by the table."""
        late = max(each.mistake.late for each in (self.landing, self.pair) if each)
        near = round(self.near, 3)
        # Of two that explain as much, the one mistake in one step is likelier than two, or one with a whole file.
        wide = self.landing.step == 0 or self.pair is not None
        return (
            late, self.against, -len(self.objects), near, wide, -self.landing.mistake.common, self.landing.step,
            self.landing.row,
        )  # fmt: skip


def told(view: View, best: Found, every: Sequence[Found]) -> list[Cause]:
    """Return the cause, or the two of a pair, with other mistakes of the same spot named beside it."""
    same = [
        f for f in every
        if (f.pair is None) == (best.pair is None)
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
        shorts = list(dict.fromkeys(other.mistake.words.short.format(**other.words) for other in others))
        told = f"{told} Or: {'; '.join(shorts[:NAMED])}{'; or another' if len(shorts) > NAMED else ''}."
    likely = landing.mistake.common
    share *= likely / (likely + sum(o.mistake.common for o in others))
    confidence = share * (1 - found.near / 2) * (0.5 if landing.mistake.late else 1.0)
    first = min(found.objects)
    return Cause(
        object=landing.object or first, code=landing.mistake.code, step=landing.step, text=told,
        confidence=round(max(0.01, min(confidence, 0.99)), 2), hint=words.hint.format(**landing.words),
        instructor=words.instructor.format(**landing.words), objects=tuple(sorted(found.objects)),
        also=tuple(o.mistake.code for o in others),
    )  # fmt: skip
