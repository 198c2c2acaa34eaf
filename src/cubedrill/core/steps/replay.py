"""Replay: a fold over steps that keeps every state."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.transform import is_skewed
from cubedrill.core.scene.reading import Reading, angles_after, angles_at_start, read_scene
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps import Step, apply_step


@dataclass(frozen=True, eq=False)
class State:
    """The scene after a step, with that step and the scene before it; the start has neither.

    on: whether the step counts; a step that is switched off changes nothing.
    """

    scene: Scene
    step: Step | None = None
    before: Scene | None = None
    on: bool = True

    @cached_property
    def sentence(self) -> str:
        """The step that led here, in words; empty at the start."""
        return self.step.sentence(self.before) if self.before and self.step else ""

    @cached_property
    def changed(self) -> tuple[str, ...]:
        """The ids of the objects that the step itself changed or made; what only follows a parent is not among them."""
        before = self.before.objects if self.before else {}
        return tuple(i for i, item in self.scene.objects.items() if before.get(i) is not item)

    @cached_property
    def skewed(self) -> tuple[str, ...]:
        """The ids of the objects that the step left skewed and that were not skewed before it."""
        before = self.before.objects if self.before else {}
        after = ((i, self.scene[i].parent_from_local) for i in self.changed)
        return tuple(
            i for i, m in after if is_skewed(m) and not (i in before and is_skewed(before[i].parent_from_local))
        )


@dataclass(frozen=True, eq=False)
class Replayed:
    """The states as far as the steps can be done, the start first, and why the next one cannot."""

    states: list[State]
    refused: CoreError | None = None


def replay(start: Scene, steps: Iterable[Step]) -> list[State]:
    """Return the n + 1 states of n steps, the start first.

    Raises the CoreError of the first step that cannot be done, with its number.
    """
    replayed = replay_edited(start, list(steps))
    if replayed.refused:
        raise replayed.refused
    return replayed.states


def replay_edited(
    start: Scene, steps: Sequence[Step], off: Collection[int] = (), known: Sequence[State] = ()
) -> Replayed:
    """Replay a list that was edited: from its first difference to what is known, and as far as its steps can be done.

    off: places of the steps that are switched off, counted from 0. known: the states of an earlier replay from the
    same start; those up to the first step that differs are used again.
    """
    states = [State(start)]
    for place, step in enumerate(steps):
        on = place not in off
        again = known[place + 1] if place + 1 < len(known) else None
        if again is not None and again.before is states[-1].scene and (again.step, again.on) == (step, on):
            states.append(again)
            continue
        try:
            states.append(_after(states[-1].scene, step, on))
        except CoreError as error:
            return Replayed(states, error.at_step(place + 1))
    return Replayed(states)


def _after(before: Scene, step: Step, on: bool) -> State:
    return State(apply_step(before, step) if on else before, step, before, on)


def readings_of(states: Sequence[State], every: bool = True) -> list[dict[str, Reading]]:
    """Every object in numbers, a state at a time, or at the last state alone.

    Angles are read nearest to those of the state before, or to those that a step typed. Raises CoreError "too-large",
    with the number of the step, where a child came to lie beyond all numbers.
    """
    angles = angles_at_start(states[0].scene)
    readings: list[dict[str, Reading]] = []
    for number, state in enumerate(states):
        if state.step is not None and state.before is not None and state.on:
            angles = angles_after(state.before, state.scene, angles, state.step.typed_angles_rad(state.before))
        if every or number == len(states) - 1:
            try:
                readings.append(read_scene(state.scene, angles, readings[-1] if readings else None))
            except CoreError as error:
                raise error.at_step(number) from None
    return readings
