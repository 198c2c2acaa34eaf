"""Limit the effort to explain a miss by counting, not timing, so that causes are the same on every machine."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from cubedrill.core.geometry.solids import Mesh
from cubedrill.core.judging.checks.common import ObjectCheck
from cubedrill.core.scene.scene import SceneObject

MAX_EFFORT: Final = 5000.0  # about a second on two slow cores
QUICK: Final = 400.0  # about a tenth of one
GLANCE: Final = 0.5  # what it costs to see that an object cannot be there, where a check of its place costs 1
STEP_COST: Final = 0.15  # what a step of a plan costs: many plans share most of theirs
DESCRIBED: Final = 6.0  # what it costs to describe an object anew that is looked at
ROUND: Final = 60.0  # the same of a round one, whose turns are sought; half of what it is, so that enough is tried
VERTICES: Final = 5000  # a mesh of so many costs as much again


class OutOfEffortError(Exception):
    """As much was tried as may be."""


class Effort:
    """The effort that is left, in checks of a placing judged once."""

    def __init__(self, most: float = MAX_EFFORT) -> None:
        self.most, self.spent = most, 0.0

    def spend(self, amount: float) -> None:
        """Count something that is about to be tried; raise OutOfEffortError beyond what may be."""
        self.spent += amount
        if self.spent > self.most:
            raise OutOfEffortError


def cost_of(item: SceneObject, checks: Sequence[ObjectCheck], by_look: bool) -> float:
    """Return the cost of judging an object once by its checks.

    Parameters
    ----------
    by_look : bool
        Whether the object is judged in its canonical pose.

    Returns
    -------
    float
        Relative to one replayed step.
    """
    turns_freely = item.solid is not None and item.solid.free_turns != "none"
    described = (ROUND if turns_freely else DESCRIBED) if by_look else 0.0
    large = len(item.solid.points) / VERTICES if isinstance(item.solid, Mesh) else 0.0
    return (described + sum(check.cost for check in checks)) * (1 + large)
