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
    """The scene after a step, with that step and the scene before it; the start has neither."""

    scene: Scene
    step: Step | None = None
    before: Scene | None = None

    @cached_property
    def sentence(self) -> str:
        """The step that led here, in words; empty at the start."""
        return sentence_of(self.before, self.step) if self.before and self.step else ""


def replay(start: Scene, steps: Iterable[Step]) -> list[State]:
    """Return the n + 1 states of n steps, the start first.

    Raises the CoreError of the first step that cannot be done, with its number.
    """
    states = [State(start)]
    for step in steps:
        states.append(_after(states[-1].scene, step, len(states)))
    return states


def readings_of(states: Iterable[State]) -> list[dict[str, Reading]]:
    """Every object in numbers, a state at a time; angles are read nearest to those of the state before."""
    readings: list[dict[str, Reading]] = []
    for state in states:
        shown = readings[-1] if readings else {}
        readings.append(read_scene(state.scene, {i: reading.euler_rad for i, reading in shown.items()}))
    return readings


def _after(before: Scene, step: Step, number: int) -> State:
    try:
        return State(apply_step(before, step), step, before)
    except CoreError as error:
        raise error.at_step(number) from None
