"""Shared parts of mistakes: the mistake, the step it is put into, and its outcome."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final, NamedTuple

import numpy as np

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import State
from cubedrill.core.values import Array


@dataclass(frozen=True)
class Words:
    """The texts of a mistake. Each may name {object} and {detail}.

    did: what happened to the object, as what follows its name in a sentence. hint: where to look, without saying what
    happened. instructor: `did` with numbers of the reference's steps in it; empty if it is the same.
    """

    did: str
    hint: str
    instructor: str = ""


class Mutation(NamedTuple):
    """The reference with a mistake in it: `steps` in the place of those from `first` to before `end`.

    object: the one that the mistake was put on, where it is not the first that the step acts on.
    """

    first: int
    end: int
    steps: tuple[Step, ...]
    detail: str = ""
    object: str | None = None

    def step_before(self, k: int) -> int | None:
        """Return the reference step of step k of the mutated list, from 0; None if the mistake made it."""
        if k < self.first:
            return k
        after = self.first + len(self.steps)
        return k - after + self.end if k >= after else None


@dataclass(frozen=True)
class StepContext:
    """A step of the reference: all steps, the states between them, and which step it is, counted from 0.

    commutes: whether the order of this step and the next one does not matter.
    """

    steps: Sequence[Step]
    states: Sequence[State]
    k: int
    commutes: bool = False

    @property
    def step(self) -> Step:
        """The step itself."""
        return self.steps[self.k]

    @property
    def before(self) -> Scene:
        """The scene that the step is done in."""
        return self.states[self.k].scene

    @property
    def after(self) -> Scene:
        """The scene that it leads to."""
        return self.states[self.k + 1].scene

    @property
    def conventions(self) -> Conventions:
        """The conventions of the exercise."""
        return self.before.conventions

    def changed(self, detail: str = "", **update: object) -> Mutation:
        """Return the reference with other values in this step."""
        return self.instead([self.step.model_copy(update=update)], detail)

    def instead(self, steps: Iterable[Step], detail: str = "", object_id: str | None = None) -> Mutation:
        """Return the reference with other steps, or none, in the place of this one."""
        return Mutation(self.k, self.k + 1, tuple(steps), detail, object_id)


Alter = Callable[[StepContext], Iterator[Mutation]]
WholeFile = Callable[[Scene], Iterator[tuple[str, Scene]]]


@dataclass(frozen=True)
class Mistake:
    """A typical mistake. common: how often it is made beside the others, from 0 to 1 (common practice, no source).

    late: 0 for one that leads where it leads exactly; above it for what is read off the submission, which comes after.
    """

    code: str
    common: float
    words: Words
    alter: Alter
    late: int = 0


@dataclass(frozen=True)
class FileMistake:
    """A mistake made with a whole file or sheet; alter: from the right scene to changed ones, with a detail each.

    exported: whether only a program that writes a scene makes it, and nobody who types numbers.
    """

    code: str
    common: float
    words: Words
    alter: WholeFile
    late: int = 0
    exported: bool = False


@dataclass(frozen=True, eq=False)
class Outcome:
    """The outcome of a mistake: the scene at the end, and the objects that differ from the right one.

    row: its row in the table, which decides where nothing else does. step: of the reference, counted from 1; 0 for
    a whole file. fails: what is known of objects, whether a check of theirs fails with this in place of a submission.
    """

    mistake: Mistake | FileMistake
    row: int
    step: int
    object: str
    scene: Scene
    changed: frozenset[str]
    words: Mapping[str, str] = field(default_factory=dict)
    fails: dict[str, bool] = field(default_factory=dict, repr=False)

    @property
    def subject(self) -> str:
        """The name that the sentence about it begins with."""
        return self.words.get("object") or "The file"

    @property
    def did(self) -> str:
        """The predicate of the sentence about the object: its name comes before it."""
        return self.mistake.words.did.format(**self.words)

    @property
    def hint(self) -> str:
        """A sentence that says where to look, but not what happened."""
        return self.mistake.words.hint.format(**self.words)

    @property
    def instructor(self) -> str:
        """The whole sentence, with the step of the reference."""
        did = (self.mistake.words.instructor or self.mistake.words.did).format(**self.words)
        done = f" (step {self.step}: {self.words['done']})" if self.step else ""
        return f"{self.subject} {did}{done}."

    @property
    def spot(self) -> tuple[int, int, str]:
        """Return what identifies it: its row in the table, the step, and the detail."""
        return (self.row, self.step, self.words.get("detail", ""))


SAME_PLACE_TOL: Final = 1e-6  # as a share of the coordinates: places that are the same but for rounding


def same_numbers(a: Array, b: Array) -> bool:
    """Tell whether two arrays of coordinates are the same but for rounding."""
    apart = 0.0 if a is b else float(np.abs(a - b).max())
    return apart <= SAME_PLACE_TOL or apart <= SAME_PLACE_TOL * float(np.abs(b).max())
