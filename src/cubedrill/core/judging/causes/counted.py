"""A number of solids that is off, where every object that is checked is right: which mistake makes just so many."""

from __future__ import annotations

from collections.abc import Iterator

from cubedrill.core.judging.causes.candidate_judge import CandidateJudge
from cubedrill.core.judging.causes.common import same_numbers
from cubedrill.core.judging.causes.found import Found, causes_of
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.judging.checks.sameness import CountCheck
from cubedrill.core.judging.verdict import Cause
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Array


def counted(view: CandidateJudge) -> Iterator[Cause]:
    """Tell of each kind of solid whose number is off the mistake that leads to the same solids in the same places."""
    known, handed = view.known, view.work.scene
    for check in known.exercise.checks:
        if not isinstance(check, CountCheck) or check.judge(Case(known.target, handed)).verdict == "pass":
            continue
        solids = _solids(handed, check.solid)
        found = [
            Found(outcome, frozenset({outcome.object}), 0.0)
            for outcome, _altered in known.near(known.target.objects)
            if _same_places(solids, _solids(outcome.scene, check.solid))
        ]
        if found:
            best = min(found, key=lambda each: each.rank)
            yield from causes_of(view, best, found, all_tried=False)


def _solids(scene: Scene, kind: str) -> list[Array]:
    """Return the placing (4, 4) in the world of each solid of a kind, whatever its name."""
    return [scene.world_from_local(i) for i, item in scene.objects.items() if item.solid and item.solid.kind == kind]


def _same_places(ones: list[Array], others: list[Array]) -> bool:
    """Tell whether each of some places is one of the others, and none is left."""
    left = list(others)
    for one in ones:
        at = next((k for k, other in enumerate(left) if same_numbers(one, other)), None)
        if at is None:
            return False
        del left[at]
    return not left
