"""Process: which operation, axis, space and pivot took the objects there, in how many steps, with which values."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from cubedrill.core.judging.checks.common import Axes, Case, CheckBase, Objects
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.core.scene import wording
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import Pivot, Space, frame_of, pivots_world
from cubedrill.core.steps import Step
from cubedrill.core.steps.common import topmost
from cubedrill.core.steps.replay import State
from cubedrill.core.values import Array, Positive

Rule = Literal["uses", "avoids", "at_most", "typed", "multiple"]

SAME_LINE = 1e-6  # rad: two axes nearer than this were one line at that moment
SAME_POINT = 1e-9  # of the larger coordinate: two pivots nearer than this were one point
CLEAN = 1e-6  # of the multiple: a value this near to one counts as it


@dataclass(frozen=True)
class Done:
    """A step that counts, with the scene it was done in."""

    step: Step
    before: Scene


class ProcessCheck(CheckBase):
    """A rule for the way there. It is judged for step lists alone; a file does not say how it was made.

    uses, avoids: some step, or no step, with all that is given: `op`, `axis` (one letter, or two for a plane), `space`,
    `pivot`. at_most: `steps`. typed: no step was dragged or nudged. multiple: every value is a multiple of `of`.
    object: only steps on these objects count. declared: the axis and space must have been named so; else whatever was
    the same line, plane or point at that moment counts.
    """

    by_place: ClassVar[bool] = False
    of_outcome: ClassVar[bool] = False
    kind: Literal["process"]
    rule: Rule
    object: Objects | None = None
    op: str | None = None
    axis: Axes | None = None
    space: Space | None = None
    pivot: Pivot | None = None
    declared: bool = False
    steps: int | None = Field(default=None, ge=0)
    of: Positive | None = None

    @model_validator(mode="after")
    def _says_enough(self) -> Self:
        if self.rule in ("uses", "avoids") and not any((self.op, self.axis, self.space, self.pivot)):
            raise ValueError(f"'{self.rule}' needs one of 'op', 'axis', 'space' and 'pivot'")
        if self.rule == "at_most" and self.steps is None:
            raise ValueError("'at_most' needs 'steps'")
        if self.rule == "multiple" and self.of is None:
            raise ValueError("'multiple' needs 'of'")
        return self

    @property
    def objects(self) -> tuple[str, ...]:
        """The ids of the objects whose steps count; none means all."""
        return () if self.object is None else (self.object,) if isinstance(self.object, str) else self.object

    def judge(self, case: Case) -> CheckResult:
        """Judge the steps; a sheet or a scene is not judged."""
        label = self._label(case.target)
        if case.states is None:
            return self.not_judged("", label, f"{label}: a file does not record the steps, so this is not judged.")
        done = [each for each in _done(case.states) if self._counts(each.step)]
        holds, found = self._judged(done)
        text = f"{label}: {found}."
        return self.result(
            0.0 if holds else math.inf, object=self.objects[0] if self.objects else "", label=label, space="", unit="",
            axes=(), target=(), submitted=None, difference=0.0 if holds else 1.0, tolerance=0.0, text=text,
            wanted=label, found=found,
        )  # fmt: skip

    def _counts(self, step: Step) -> bool:
        return not self.objects or not set(self.objects).isdisjoint(step.acts_on)

    def _judged(self, done: list[Done]) -> tuple[bool, str]:
        match self.rule:
            case "at_most":
                return len(done) <= (self.steps or 0), f"{len(done)} steps were done"
            case "typed":
                by_hand = [n for n, each in enumerate(done, 1) if each.step.entry in ("dragged", "nudged")]
                return not by_hand, "all were typed" if not by_hand else f"step {by_hand[0]} was not typed"
            case "multiple":
                ragged = [n for n, each in enumerate(done, 1) if not all(map(self._clean, each.step.values))]
                return not ragged, "all values are" if not ragged else f"step {ragged[0]} has a value that is not"
            case _:
                fits = [n for n, each in enumerate(done, 1) if self._fits(each)]
                found = f"step {fits[0]} does" if fits else "no step does"
                return bool(fits) == (self.rule == "uses"), found

    def _clean(self, value: float) -> bool:
        share = value / (self.of or 1.0)
        return abs(share - round(share)) <= CLEAN

    def _fits(self, each: Done) -> bool:
        step = each.step
        if self.op is not None and step.op != self.op:
            return False
        if self.axis is None and self.space is None and self.pivot is None:
            return True
        if step.axes_of is None:
            return False
        ids = [i for i in topmost(each.before, step.acts_on) if not self.objects or i in self.objects]
        return all(self._same_axis(each.before, step, i) and self._same_pivot(each.before, step, i) for i in ids)

    def _same_axis(self, scene: Scene, step: Step, object_id: str) -> bool:
        if self.axis is None and self.space is None:
            return True
        declared = step.axes_of
        wanted = declared if self.space is None else self.space
        if wanted is None or (self.declared and declared != wanted):
            return False
        lines = step.lines(scene, object_id)
        if lines is None:
            return self.axis is None and declared == wanted
        frame = frame_of(scene, wanted, object_id).world_from_axes
        among = [frame[:, "xyz".index(letter)] for letter in self.axis or "xyz"]
        if self.axis is None:  # each line of the step is one of the space's axes
            return all(any(_parallel(line, axis) for axis in among) for line in lines)
        return all(_within(line, among) for line in lines)

    def _same_pivot(self, scene: Scene, step: Step, object_id: str) -> bool:
        if self.pivot is None:
            return True
        if step.turns_about is None or (self.declared and step.turns_about != self.pivot):
            return False
        ids = topmost(scene, step.acts_on)
        found, wanted = (pivots_world(scene, p, ids)[ids.index(object_id)] for p in (step.turns_about, self.pivot))
        largest = max(1.0, float(np.abs(found).max()), float(np.abs(wanted).max()))
        return bool(np.linalg.norm(found - wanted) <= SAME_POINT * largest)

    def _label(self, target: Scene) -> str:
        if self.rule == "at_most":
            return f"At most {self.steps} steps"
        if self.rule == "typed":
            return "Every value typed"
        if self.rule == "multiple":
            return f"Every value a multiple of {wording.number(self.of or 0)}"
        parts = [self.op or "a step"]
        parts += [f"along {self.axis.upper()}"] if self.axis else []
        parts += [f"of {wording.space_name(target, self.space)}"] if self.space else []
        parts += [f"through {wording.pivot_name(target, self.pivot)}"] if self.pivot else []
        who = f" on {wording.names(target, self.objects)}" if self.objects else ""
        return f"{'Uses' if self.rule == 'uses' else 'Avoids'} {' '.join(parts)}{who}"


def _done(states: Sequence[State]) -> Iterator[Done]:
    for state in states:
        if state.step is not None and state.before is not None and state.on:
            yield Done(state.step, state.before)


def _parallel(line: Array, axis: Array) -> bool:
    return bool(np.linalg.norm(np.cross(line, axis)) <= SAME_LINE)


def _within(line: Array, among: list[Array]) -> bool:
    """Tell whether a line lies along the one axis, or in the plane or space of several."""
    rest = line - sum((line @ axis) * axis for axis in among)
    return bool(np.linalg.norm(rest) <= SAME_LINE)
