"""Replays beside the reference: with mistakes in it, many together, and only what differs is done again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Final

import numpy as np

from cubedrill.core.causes.common import Altered, objects_of
from cubedrill.core.errors import CoreError, OneByOneError
from cubedrill.core.replay import State
from cubedrill.core.scene import Scene, SceneObject
from cubedrill.core.steps import Step, apply_step
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.existence import Add
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.nest import Assemble
from cubedrill.core.steps.rotate import Rotate
from cubedrill.core.steps.scale import Scale
from cubedrill.core.values import Array, Value, frozen

Landed = tuple[Scene, frozenset[str]]  # the scene at the end, and which objects lie otherwise than in the target
Others = dict[str, SceneObject | None]  # objects that are not as in another scene; none for one that is not there
Outcome = tuple[Others, Array | None]  # what a step changed: objects, and the marker

STACKED: Final = (Move, Rotate, Scale)  # the steps that can be done in many scenes at once


@dataclass
class Branch:
    """A scene on its way beside the reference's states. at: which state; other, marker: what differs from it.

    refused: whether a step could not be done.
    """

    at: int
    other: Others = field(default_factory=dict)
    marker: Array | None = None
    refused: bool = False

    def copy(self) -> Branch:
        """Another one like this, to go on with."""
        return replace(self, other=dict(self.other))

    def update(self, outcome: Outcome) -> None:
        """Take over what a step changed."""
        changed, marker = outcome
        self.other.update(changed)
        if marker is not None:
            self.marker = marker


class Reference:
    """The steps of a reference with their states, and what each step looks at."""

    def __init__(self, steps: Sequence[Step], states: Sequence[State]) -> None:
        self.steps, self.states = tuple(steps), states
        self._before = [_as_before(states[k].scene, states[k + 1].scene) for k in range(len(steps))]

    @property
    def target(self) -> Scene:
        """Where the reference leads."""
        return self.states[-1].scene

    def led(self, plans: Sequence[tuple[Altered, ...]]) -> list[Landed | None]:
        """Return where mistakes lead, each plan for itself, its mistakes one after the other.

        None where a step is refused, so that nobody can have handed it in. Plans that begin with the same mistakes
        share the way there, and all go on together, state by state.
        """
        starting: list[dict[tuple[int, ...], Altered]] = [{} for _ in self.states]
        for plan in plans:
            for count, altered in enumerate(plan, 1):
                starting[altered.first][_key(plan[:count])] = altered
        begun: dict[tuple[int, ...], Branch] = {}
        here: list[list[Branch]] = [[] for _ in self.states]
        for k, starts in enumerate(starting):
            for key, altered in starts.items():
                beside = begun[key[:-1]] if key[:-1] else Branch(k)
                begun[key] = branch = self._begun(altered, beside)
                here[branch.at].append(branch)
            if k < len(self.steps):
                self._forth(k, [branch for branch in here[k] if not branch.refused])
                here[k + 1] += here[k]
        ends = (begun[_key(plan)] for plan in plans)
        return [None if branch.refused else self._landed(branch) for branch in ends]

    def _begun(self, altered: Altered, beside: Branch) -> Branch:
        """Go on from a branch with a mistake; steps that do not meet what differs are not done again."""
        branch = beside.copy()
        for step in altered.steps if not branch.refused else ():
            instead = branch.at < altered.end
            if instead and step is self.steps[branch.at] and not self._met(branch):
                branch.at += 1
                continue
            outcome = self._done(step, branch)
            if outcome is None:
                branch.refused = True
                break
            if instead:
                self._pass_by(branch)
            branch.update(outcome)
        while branch.at < altered.end:
            self._pass_by(branch)
        return branch

    def _forth(self, k: int, branches: Iterable[Branch]) -> None:
        """Do the reference's step k in branches, once for all in which it meets the same."""
        alike: dict[tuple[int, frozenset[tuple[str, SceneObject | None]]], list[Branch]] = {}
        looks_at = self._looks_at[k]
        for branch in branches:
            if not self._met(branch):
                branch.at += 1
                continue
            met = ((i, item) for i, item in branch.other.items() if looks_at is None or i in looks_at)
            alike.setdefault((id(branch.marker), frozenset(met)), []).append(branch)
        outcomes = self._done_in_each(k, [group[0] for group in alike.values()])
        for group, outcome in zip(alike.values(), outcomes, strict=True):
            for branch in group:
                self._pass_by(branch)
                if outcome is None:
                    branch.refused = True
                else:
                    branch.update(outcome)

    def _done_in_each(self, k: int, branches: Sequence[Branch]) -> list[Outcome | None]:
        """What the reference's step k changes in each: together where it meets the same objects in other places."""
        stacks: dict[frozenset[str] | int, list[int]] = {}
        for number, branch in enumerate(branches):
            stacks.setdefault(self._elsewhere(k, branch) or number, []).append(number)
        outcomes: list[Outcome | None] = [None] * len(branches)
        for ids, numbers in stacks.items():
            among = [branches[number] for number in numbers]
            together = self._done_together(k, among, ids) if isinstance(ids, frozenset) and len(among) > 1 else None
            for n, number in enumerate(numbers):
                outcomes[number] = together[n] if together else self._done(self.steps[k], among[n])
        return outcomes

    def _elsewhere(self, k: int, branch: Branch) -> frozenset[str] | None:
        """The objects that step k looks at and that differ, where nothing but their places does; else none."""
        looks_at = self._looks_at[k]
        if looks_at is None or branch.marker is not None or not isinstance(self.steps[k], STACKED):
            return None
        known = self.states[k].scene.objects
        ids = frozenset(i for i in branch.other if i in looks_at)
        return ids if all(_differs_in_place_alone(branch.other[i], known.get(i)) for i in ids) else None

    def _done_together(self, k: int, branches: Sequence[Branch], ids: frozenset[str]) -> list[Outcome] | None:
        """Do step k in branches in which these objects lie elsewhere, laid upon each other; none where that fails."""
        base = self.states[k].scene
        own = {i: np.array([item.parent_from_local for b in branches if (item := b.other[i])]) for i in ids}
        laid = base.with_objects([base[i].at(frozen(maps)) for i, maps in own.items()])
        try:
            after = apply_step(laid, self.steps[k])
        except (CoreError, OneByOneError):
            return None
        outcomes: list[Outcome] = [({}, None) for _ in branches]
        for object_id in changed_between(laid, after):
            maps = after[object_id].parent_from_local
            for branch, (changed, _marker), n in zip(branches, outcomes, range(len(branches)), strict=True):
                item = branch.other.get(object_id) or base[object_id]
                changed[object_id] = item.at(maps[n] if maps.ndim == 3 else maps)
        return outcomes

    def _done(self, step: Step, branch: Branch) -> Outcome | None:
        """What a step changes in a branch; none where it is refused."""
        before = self._scene(branch)
        try:
            after = apply_step(before, step)
        except CoreError:
            return None
        changed = {i: after.objects.get(i) for i in changed_between(before, after)}
        return changed, None if after.marker is before.marker else after.marker

    def _pass_by(self, branch: Branch) -> None:
        """Go on beside the next state without its step: what that changed stays as it was here."""
        changed, marker = self._before[branch.at]
        for object_id, item in changed.items():
            branch.other.setdefault(object_id, item)
        if branch.marker is None:
            branch.marker = marker
        branch.at += 1

    def _scene(self, branch: Branch) -> Scene:
        base = self.states[branch.at].scene
        if branch.marker is not None:
            base = replace(base, marker=branch.marker)
        if not branch.other:
            return base
        objects = dict(base.objects)
        for object_id, item in branch.other.items():
            if item is None:
                objects.pop(object_id, None)
            else:
                objects[object_id] = item
        return replace(base, objects=objects)

    def _met(self, branch: Branch) -> bool:
        """Tell whether the step after this state may hang on what differs here."""
        if branch.marker is not None:
            return True
        looks_at = self._looks_at[branch.at]
        if looks_at is None:
            return bool(branch.other)
        base = self.states[branch.at].scene.objects
        for object_id, item in branch.other.items():
            known = base.get(object_id)
            if object_id in looks_at or known is None or item is None or item.parent != known.parent:
                return True
        return False

    def _landed(self, branch: Branch) -> Landed:
        scene, right = self._scene(branch), self.target.objects
        changed = {i for i, item in branch.other.items() if item is not right.get(i)}
        same_tree = all(i in right and item and item.parent == right[i].parent for i, item in branch.other.items())
        tree = self.target if same_tree else scene
        below = {d for i in changed if i in tree.objects for d in tree.descendants(i)}
        return scene, frozenset(changed | below)

    @cached_property
    def _looks_at(self) -> list[frozenset[str] | None]:
        """For each step the objects that its outcome hangs on; none where it may hang on all."""
        return [_looks_at(step, state.scene) for step, state in zip(self.steps, self.states, strict=False)]

    def influences(self, ids: Iterable[str]) -> frozenset[str] | None:
        """Return all objects on which the place of these may hang in the end, whatever the order; none for any."""
        found = set(ids)
        before = -1
        while len(found) > before:
            before = len(found)
            found |= {a for i in found for a in self._above.get(i, ())}
            for step, looks_at in zip(self.steps, self._looks_at, strict=True):
                if found.isdisjoint(_touches(step)):
                    continue
                if looks_at is None:
                    return None
                found |= looks_at
        return frozenset(found)

    def touched(self, altered: Altered) -> set[str]:
        """Return the objects that a mistake may move otherwise: those of the steps it takes away and puts in."""
        steps = (*altered.steps, *self.steps[altered.first : altered.end])
        return {i for step in steps for i in _touches(step)}

    @cached_property
    def _above(self) -> dict[str, set[str]]:
        """All that an object is in, in any of the states."""
        above: dict[str, set[str]] = {}
        for state in self.states:
            for object_id in state.changed:
                above.setdefault(object_id, set()).update(state.scene.ancestors(object_id))
        return above

    def last_on(self, object_id: str) -> int:
        """The last step on an object or on what it is in, counted from 0; the first where there is none."""
        on = {object_id, *(self.target.ancestors(object_id) if object_id in self.target.objects else ())}
        return max((k for k, step in enumerate(self.steps) if on & set(objects_of(step))), default=0)

    def sentence(self, k: int) -> str:
        """A step in words; k: counted from 0."""
        return self.states[k + 1].sentence

    def name(self, object_id: str) -> str:
        """The name of an object that is there at the end or on the way."""
        return self._names.get(object_id, object_id or "The scene")

    @cached_property
    def _names(self) -> dict[str, str]:
        scenes = (*(state.scene for state in reversed(self.states)), self.target)
        return {i: item.name for scene in scenes for i, item in scene.objects.items()}


def _key(plan: Sequence[Altered]) -> tuple[int, ...]:
    return tuple(id(altered) for altered in plan)


def _differs_in_place_alone(item: SceneObject | None, known: SceneObject | None) -> bool:
    if item is None or known is None:
        return False
    return item.parent == known.parent and item.pivot is known.pivot and item.solid is known.solid


def changed_between(before: Scene, after: Scene) -> list[str]:
    """Return the ids of objects that are not the same in both scenes, or are in one of them alone."""
    gone = [i for i in before.objects if i not in after.objects]
    return [*(i for i, item in after.objects.items() if before.objects.get(i) is not item), *gone]


def _as_before(before: Scene, after: Scene) -> Outcome:
    """What takes a step back."""
    changed = {i: before.objects.get(i) for i in changed_between(before, after)}
    return changed, None if after.marker is before.marker else before.marker


def _touches(step: Step) -> tuple[str, ...]:
    """The objects that a step changes or makes."""
    made = step.ids if isinstance(step, Duplicate) else (step.id,) if isinstance(step, Assemble) else ()
    added = (step.object.id,) if isinstance(step, Add) else ()
    return (*objects_of(step), *made, *added)


def _looks_at(step: Step, scene: Scene) -> frozenset[str] | None:
    if step.op in ("drop", "assemble", "add", "remove", "duplicate") or "marker" in words_in(step):
        return None
    named = {i for i in words_in(step) if i in scene.objects}
    above = {a for i in named for a in scene.ancestors(i)}
    below = {d for i in named if scene[i].solid is None for d in scene.descendants(i)}
    return frozenset(named | above | below)


def words_in(value: Value) -> set[str]:
    """Return all words in a step or a check: the ids it names are among them."""
    found: set[str] = set()
    left: list[Any] = [value.model_dump()]
    while left:
        part = left.pop()
        if isinstance(part, str):
            found.add(part)
        elif isinstance(part, dict):
            left.extend(part.values())
        elif isinstance(part, list | tuple):
            left.extend(part)
    return found
