"""A step list in progress."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import Field, model_validator

from cubedrill.core.judging.submission import Choices
from cubedrill.core.steps import Step, StepList
from cubedrill.core.values import Count, Value


class DraftSteps(Value):
    """A step list in progress: as it is edited, sent, saved and replayed.

    Attributes
    ----------
    steps : tuple of Step
        All of them, also those that were undone.
    cursor : int
        How many of them count; the others were undone.
    off : tuple of int
        Places of the steps that are switched off, counted from 0.
    matches : dict
        By hand, for the id of an object of the target, that of the added one that stands for it, or None.
    """

    steps: StepList
    cursor: Count
    off: Annotated[tuple[Count, ...], Field(max_length=2000, fail_fast=True)] = ()
    matches: Choices = Field(default_factory=dict)

    @classmethod
    def of(cls, steps: tuple[Step, ...] = ()) -> DraftSteps:
        """Return a draft in which all these steps count."""
        return DraftSteps(steps=steps, cursor=len(steps))

    @model_validator(mode="after")
    def _places_within(self) -> Self:
        if self.cursor > len(self.steps):
            raise ValueError("the cursor is at most the number of steps")
        if any(place >= len(self.steps) for place in self.off):
            raise ValueError("each place in 'off' is that of a step")
        return self

    def counting(self) -> tuple[Step, ...]:
        """Return the steps that count and are switched on."""
        off = frozenset(self.off)
        return tuple(step for place, step in enumerate(self.steps[: self.cursor]) if place not in off)
