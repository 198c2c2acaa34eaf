"""The steps of a draft, as they are sent and as they are kept."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from cubedrill.core.steps import Step
from cubedrill.store.shapes import STEPS
from cubedrill.store.tables import Draft


@dataclass(frozen=True)
class DraftSteps:
    """All steps of a draft, how many of them count, and the places of those switched off, counted from 0."""

    steps: tuple[Step, ...]
    cursor: int
    off: frozenset[int] = frozenset()

    def counting(self) -> tuple[Step, ...]:
        """Return the steps that count."""
        return tuple(step for place, step in enumerate(self.steps[: self.cursor]) if place not in self.off)

    def columns(self) -> dict[str, Any]:
        """Return what a row of the draft's table keeps of it."""
        steps = STEPS.written(self.steps)
        return {"steps": steps, "shape": STEPS.number, "off": sorted(self.off), "cursor": self.cursor}


def kept_steps(draft: Draft) -> DraftSteps:
    """Return the steps that a draft keeps."""
    return DraftSteps(STEPS.read(draft.steps, draft.shape), draft.cursor, frozenset(draft.off))
