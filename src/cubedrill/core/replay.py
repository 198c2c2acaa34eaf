"""Replay: a fold over steps that keeps every state."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from cubedrill.core.errors import CoreError
from cubedrill.core.reading import Reading, read_scene
from cubedrill.core.scene import Scene
from cubedrill.core.steps import Step, apply_step, sentence_of


@dataclass(frozen=True)
class State:
    """The scene after a step, and what was shown before it: Euler angles are read nearest to that."""

    scene: Scene
    before: State | None = None
    step: Step | None = None

    @cached_property
    def sentence(self) -> str:
        """The step that led here, in words; empty at the start."""
        return sentence_of(self.before.scene, self.step) if self.before and self.step else ""

    @cached_property
    def readings(self) -> dict[str, Reading]:
        """Every object in numbers."""
        shown = self.before.readings if self.before else {}
        return read_scene(self.scene, {object_id: reading.euler_rad for object_id, reading in shown.items()})


def replay(start: Scene, steps: Iterable[Step]) -> list[State]:
    """Return the n + 1 states of n steps, the start first.

    Raises the CoreError of the first step that cannot be done, with its number.
    """
    states = [State(start)]
    for step in steps:
        states.append(_after(states[-1], step, len(states)))
    return states


def _after(before: State, step: Step, number: int) -> State:
    try:
        return State(apply_step(before.scene, step), before, step)
    except CoreError as error:
        raise error.at_step(number) from None
