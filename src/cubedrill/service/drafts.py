"""The steps of a draft, as they are sent and as they are kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from cubedrill.core.steps import Step
from cubedrill.store.documents import STEPS
from cubedrill.store.tables import StepsKept


@dataclass(frozen=True)
class DraftSteps:
    """All steps of a draft, how many of them count, and the places of those switched off, counted from 0.

    matches: what was added for which object of the target, as chosen by hand.
    """

    steps: tuple[Step, ...]
    cursor: int
    off: frozenset[int] = frozenset()
    matches: Mapping[str, str | None] = field(default_factory=dict)

    def counting(self) -> tuple[Step, ...]:
        """Return the steps that count."""
        return tuple(step for place, step in enumerate(self.steps[: self.cursor]) if place not in self.off)

    def columns(self) -> dict[str, Any]:
        """Return what a row of the draft's table keeps of it."""
        steps = STEPS.written(self.steps)
        return {
            "steps": steps,
            "shape": STEPS.number,
            "off": sorted(self.off),
            "cursor": self.cursor,
            "matches": dict(self.matches),
        }


def kept_steps(draft: StepsKept) -> DraftSteps:
    """Return the steps that a draft keeps."""
    return DraftSteps(STEPS.read(draft.steps, draft.shape), draft.cursor, frozenset(draft.off), draft.matches)
