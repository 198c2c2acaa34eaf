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
from cubedrill.core.steps.bounds import Bounds
from cubedrill.core.values import Array


@dataclass(frozen=True, eq=False)
class State:
    """The scene after a step, with that step and the state before it; the start has neither.

    on: whether the step counts; a step that is switched off changes nothing.
    """

    scene: Scene
    step: Step | None = None
    previous: State | None = None
    on: bool = True

    @property
    def before(self) -> Scene | None:
        """The scene before the step; none at the start."""
        return self.previous.scene if self.previous else None

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

    @cached_property
    def angles_rad(self) -> dict[str, Array]:
        """The angles (3,) shown for every object: nearest to those of the state before, or to those that a step typed.

        Asked for state by state from the start on, each goes back no further than to the one before it.
        """
        if self.previous is None:
            return angles_at_start(self.scene)
        before, shown = self.previous.scene, self.previous.angles_rad
        if self.step is None or not self.on:
            return shown
        return angles_after(before, self.scene, shown, self.step.typed_angles_rad(before))

    @cached_property
    def readings(self) -> dict[str, Reading]:
        """Every object in numbers; those that did not change since an earlier state was read are read as there.

        Raises CoreError "too-large" where a child came to lie beyond all numbers.
        """
        earlier = self.previous
        while earlier is not None and "readings" not in vars(earlier):
            earlier = earlier.previous
        return read_scene(self.scene, self.angles_rad, earlier.readings if earlier else None)


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
    """Replay an edited list from its first difference to what is known, as far as its steps can be done.

    Parameters
    ----------
    start : Scene
    steps : sequence of Step
    off : set of int
        Places of the steps that are switched off, counted from 0.
    known : Replay, optional
        An earlier replay from the same start. States up to the first step that differs are used again.

    Returns
    -------
    Replay
    """
    bounds = Bounds()
    states = [known[0] if known and known[0].scene is start else State(start)]
    for place, step in enumerate(steps):
        on = place not in off
        again = known[place + 1] if place + 1 < len(known) else None
        same = again is not None and again.previous is states[-1] and (again.step, again.on) == (step, on)
        try:
            state = again if again is not None and same else _after(states[-1], step, on)
            bounds.count(states[-1].scene, state.scene, len(step.acts_on))
            states.append(state)
        except CoreError as error:
            return Replayed(states, error.at_step(place + 1))
    return Replayed(states)


def _after(previous: State, step: Step, on: bool) -> State:
    return State(apply_step(previous.scene, step) if on else previous.scene, step, previous, on)


def readings_of(states: Sequence[State], every: bool = True) -> list[dict[str, Reading]]:
    """Return every object in numbers.

    Parameters
    ----------
    states : sequence of Scene
        From the start on.
    every : bool
        Whether to return every state. Otherwise only the last one.

    Raises
    ------
    CoreError
        "too-large", with the number of the step, if a child lies beyond the largest number.
    """
    readings: list[dict[str, Reading]] = []
    for number, state in enumerate(states):
        _ = state.angles_rad  # in order, so that none goes far back
        if every or number == len(states) - 1:
            try:
                readings.append(state.readings)
            except CoreError as error:
                raise error.at_step(number) from None
    return readings
