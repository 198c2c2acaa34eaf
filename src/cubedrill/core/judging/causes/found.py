"""Mistakes that explain a miss: their order by likelihood, and how they are described."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from cubedrill.core.judging.causes.candidate_judge import CandidateJudge
from cubedrill.core.judging.causes.common import Outcome
from cubedrill.core.judging.causes.pairs import Pair
from cubedrill.core.judging.verdict import Cause
from cubedrill.core.scene import wording

NAMED: Final = 4  # so many other mistakes that end at the same place are named
ABREAST: Final = 3  # so many numbers of a rank say what agrees with the submission; the others how likely it is
EXACT: Final = 1e-3  # of a tolerance: nearer than this is exactly there for whoever reads it


Spot = tuple[int, int, str]


@dataclass(frozen=True, eq=False)
class Found:
    """A outcome that leads to missed objects. near: how far off it is, in tolerances, from 0 to 1.

    pair: the second mistake, where there are two; both: how they are put in, where that was planned beforehand.
    """

    outcome: Outcome
    objects: frozenset[str]
    near: float
    against: int = 0
    pair: Outcome | None = None
    both: Pair | None = None

    @property
    def spots(self) -> tuple[Spot, ...]:
        """The keys of its mistakes: one, or two for a pair."""
        return (self.outcome.spot, *((self.pair.spot,) if self.pair else ()))

    def rank_beside(self, known: Collection[Spot]) -> tuple[float, ...]:
        """Return the rank if some mistakes are causes already: among equals, those that need them again come first."""
        before, after = self.rank[:ABREAST], self.rank[ABREAST:]
        return (*before, not any(spot in known for spot in self.spots), *after)

    @property
    def rank(self) -> tuple[float, ...]:
        """The order of what is likely: exact, against nothing seen, of most objects, near, common, by the table."""
        late = max(each.mistake.late for each in (self.outcome, self.pair) if each)
        near = round(self.near, 3)
        # Of two that explain as much, the one mistake in one step is likelier than two, or one with a whole file.
        wide = self.outcome.step == 0 or self.pair is not None
        return (
            late, self.against, -len(self.objects), near, wide, -self.outcome.mistake.common, self.outcome.step,
            self.outcome.row,
        )  # fmt: skip


def causes_of(view: CandidateJudge, best: Found, every: Sequence[Found], *, all_tried: bool) -> list[Cause]:
    """Return the most likely cause, or the two of a pair, with other mistakes that end at the same place.

    Parameters
    ----------
    all_tried : bool
        Whether every typical mistake was examined, so that the text may say that no other one explains the result.

    Returns
    -------
    tuple of Cause
    """
    same = [
        f for f in every
        if (f.pair is None) == (best.pair is None)
        and f.objects >= best.objects and f.against <= best.against
        and all(view.near(best.outcome.scene, i, f.outcome.scene) is not None for i in best.objects)
    ]  # fmt: skip
    same.sort(key=lambda f: f.rank)
    names = wording.names(view.known.target, sorted(best.objects))
    if best.pair is None:
        others = _others(best.outcome, [f.outcome for f in same])
        explaining = {f.outcome.mistake.code for f in every if f.objects >= best.objects}
        alone = all_tried and explaining <= {best.outcome.mistake.code}
        return [_cause(best.outcome, best, others, _proof(names, best, others, alone=alone))]
    firsts = [f.outcome for f in same if f.pair is best.pair]
    seconds = [f.pair for f in same if f.pair and f.outcome.spot == best.outcome.spot]
    found = []
    for outcome, alike in ((best.outcome, firsts), (best.pair, seconds)):
        others = _others(outcome, alike)
        found.append(_cause(outcome, best, others, _proof(names, best, others, alone=False)))
    return found


def _others(outcome: Outcome, same: Iterable[Outcome]) -> list[Outcome]:
    """One outcome of each other mistake, in the order given."""
    first_of: dict[str, Outcome] = {}
    for other in same:
        if other.mistake is not outcome.mistake:
            first_of.setdefault(other.mistake.code, other)
    return list(first_of.values())


def _proof(names: str, found: Found, others: Sequence[Outcome], *, alone: bool) -> str:
    """Say what a cause explains, how exactly, and which other mistakes end at the same place."""
    exactly = "exactly" if found.near < EXACT else f"to within {found.near:.1g} of the tolerance"
    explains = f"Two mistakes together explain {names} {exactly}" if found.pair else f"Explains {names} {exactly}"
    if not others:
        return f"{explains}; no other typical mistake does." if alone else f"{explains}."
    if len(others) == 1:
        return f"{explains}. Both mistakes end at the same place."
    sentences = [f"{other.subject} {other.did}" for other in others[:NAMED]]
    more = "; …" if len(others) > NAMED else ""
    return f"{explains}. {len(others)} other mistakes end at the same place: {'; '.join(sentences)}{more}."


def _cause(outcome: Outcome, found: Found, others: Sequence[Outcome], proof: str) -> Cause:
    """Return a cause in words: with one other mistake of the same place, the sentence names both."""
    text = f"{outcome.subject} {outcome.did}"
    if len(others) == 1:
        (other,) = others
        text += f", or {other.did}" if other.subject == outcome.subject else f", or {other.subject} {other.did}"
    return Cause(
        object=outcome.object or min(found.objects), code=outcome.mistake.code, step=outcome.step, text=f"{text}.",
        near=round(found.near, 6), proof=proof, hint=outcome.hint, instructor=outcome.instructor,
        objects=tuple(sorted(found.objects)), also=tuple(other.mistake.code for other in others),
    )  # fmt: skip
