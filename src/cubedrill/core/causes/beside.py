"""Replays beside the reference: with mistakes in it, many together, and only what differs is done again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from operator import attrgetter
from typing import Any, Final

import numpy as np

from cubedrill.core.causes.at_once import Branch, Outcome, changed_between, each_done, scene_beside
from cubedrill.core.causes.common import SAME, Altered, Place, objects_of, same_numbers
from cubedrill.core.errors import CoreError
from cubedrill.core.replay import State, replay
from cubedrill.core.scene import Scene, SceneObject
from cubedrill.core.steps import Step
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.existence import Add
from cubedrill.core.steps.nest import Assemble
from cubedrill.core.values import Flags, Value

Landed = tuple[Scene, frozenset[str]]  # the scene at the end, and which objects lie otherwise than in the target


ANY: Final = "\0 any"  # stands for all objects that no step names

Waves = defaultdict[int, list[Branch]]  # branches by their depth: those of one may begin where those before lead


class Reference:
    """The steps of a reference with their states, and what each step looks at."""

    def __init__(self, steps: Sequence[Step], states: Sequence[State]) -> None:
        self.steps, self.states = tuple(steps), states
        self._before = [_as_before(states[k].scene, states[k + 1].scene) for k in range(len(steps))]

    @property
    def target(self) -> Scene:
        """Where the reference leads."""
        return self.states[-1].scene

    def with_mistake(self, altered: Altered) -> Reference | None:
        """Return the reference with a mistake in it as one of its own; none where it cannot be done."""
        steps = (*self.steps[: altered.first], *altered.steps, *self.steps[altered.end :])
        try:
            return Reference(steps, replay(self.states[0].scene, steps))
        except CoreError:
            return None

    def led(self, plans: Sequence[tuple[Altered, ...]]) -> list[Landed | None]:
        """Return where mistakes lead, each plan for itself, its mistakes one after the other.

        None where a step is refused, so that nobody can have handed it in. Plans that begin with the same mistakes
        share the way there, and all go on together, state by state.
        """
        starting: list[Waves] = [defaultdict(list) for _ in self.states]
        begun: dict[tuple[int, int], Branch | None] = {}
        ends: list[Branch | None] = []
        for plan in plans:
            end: Branch | None = None
            for altered in plan:
                key = (id(end), id(altered))
                if key not in begun:
                    begun[key] = self._planned(altered, end, starting)
                end = begun[key]
            ends.append(end)
        self._go_on(starting)
        landed = iter(self._landed([end for end in ends if end is not None and not end.refused]))
        return [(self.target, frozenset()) if end is None else None if end.refused else next(landed) for end in ends]

    def _planned(self, altered: Altered, end: Branch | None, starting: Sequence[Waves]) -> Branch | None:
        """Plan the parts of a mistake, each a branch from where the one before leads, and return the last one."""
        for part in self._parts(altered):
            end = Branch(part.first, part, end, end.depth + 1 if end else 0)
            starting[part.first][end.depth].append(end)
        return end

    def _parts(self, altered: Altered) -> Iterator[Altered]:
        """The same mistake a step at a time: in the place of another, one more, or left out; without what is right."""
        first, end = altered.first, altered.end
        for at, step in enumerate(altered.steps, first):
            if at >= end:
                yield Altered(end, end, (step,))
            elif step is not self.steps[at]:
                yield Altered(at, at + 1, (step,))
        for at in range(first + len(altered.steps), end):
            yield Altered(at, at + 1, ())

    def _go_on(self, starting: Sequence[Waves]) -> None:
        """Take all branches to the end. starting: those that begin at each state."""
        here: list[list[Branch]] = [[] for _ in self.states]
        for k, (state, waves) in enumerate(zip(self.states, starting, strict=True)):
            for _depth, branches in sorted(waves.items()):
                self._begin(state.scene, branches)
                for branch in branches:
                    here[self._met_at(branch)].append(branch)
            if k < len(self.steps):
                self._forth(k, here[k])
                for branch in here[k]:
                    here[self._met_at(branch)].append(branch)

    def _begin(self, scene: Scene, branches: Sequence[Branch]) -> None:
        """Put in the part of a mistake that each branch begins with, all at one state; scene: its scene."""
        for branch in branches:
            branch.join()
        doing = [branch for branch in branches if branch.part.steps and not branch.refused]
        outcomes = each_done(scene, [(branch.part.steps[0], branch) for branch in doing], None)
        for branch in branches:
            if branch.part.end > branch.part.first:
                self._pass_by(branch)
        for branch, outcome in zip(doing, outcomes, strict=True):
            branch.update(outcome)

    def _forth(self, k: int, branches: Sequence[Branch]) -> None:
        """Do the reference's step k in branches that it meets, once for all in which it meets the same."""
        alike: dict[tuple[int, frozenset[tuple[str, SceneObject | None]]], list[Branch]] = {}
        looks_at = self._looks_at[k]
        for branch in branches:
            met = [(i, item) for i, item in branch.other.items() if looks_at is None or i in looks_at]
            alike.setdefault((id(branch.marker), frozenset(met)), []).append(branch)
        outcomes = each_done(self.states[k].scene, [(self.steps[k], group[0]) for group in alike.values()], looks_at)
        for group, outcome in zip(alike.values(), outcomes, strict=True):
            for branch in group:
                self._pass_by(branch)
                branch.update(outcome)

    def _pass_by(self, branch: Branch) -> None:
        """Go on beside the next state without its step: what that changed stays as it was here."""
        changed, marker = self._before[branch.at]
        for object_id, item in changed.items():
            branch.other.setdefault(object_id, item)
        if branch.marker is None:
            branch.marker = marker
        branch.at += 1

    def _met_at(self, branch: Branch) -> int:
        """Go on to the next state before a step that may hang on what differs, and return which: the end, if none."""
        if branch.refused:
            branch.at = len(self.steps)
        elif branch.marker is None:
            at, known = branch.at, self.states[branch.at].scene.objects
            ahead = len(self.steps)
            for object_id, item in branch.other.items():
                if not _same_parent(item, known.get(object_id)):
                    ahead = at
                    break
                ahead = min(ahead, self._looked_at.get(object_id, self._looked_at[ANY])[at])
            branch.at = ahead
        return branch.at

    @cached_property
    def _looked_at(self) -> dict[str, list[int]]:
        """For each object, for each state, the next one before a step that looks at it; ANY: one not named anywhere."""
        named = {i for looks_at in self._looks_at for i in looks_at or ()}
        found: dict[str, list[int]] = {}
        for object_id in (*named, ANY):
            ahead = [len(self.steps)]
            for k in reversed(range(len(self.steps))):
                looks_at = self._looks_at[k]
                ahead.append(k if looks_at is None or object_id in looks_at else ahead[-1])
            found[object_id] = ahead[::-1]
        return found

    def _landed(self, branches: Sequence[Branch]) -> list[Landed]:
        """Return the scenes at the end, each with what lies otherwise than in the target; rounding does not count."""
        right = self.target.objects
        changed: list[list[str]] = [[] for _ in branches]
        moved: list[tuple[list[str], SceneObject, SceneObject]] = []
        for branch, ids in zip(branches, changed, strict=True):
            for object_id, item in branch.other.items():
                known = right.get(object_id)
                if item is None or known is None or not _same_but_for_place(item, known):
                    ids.extend([object_id] if item is not known else [])
                elif item.parent_from_local is not known.parent_from_local:
                    moved.append((ids, item, known))
        for (ids, item, _known), elsewhere in zip(moved, _lie_elsewhere(moved).tolist(), strict=True):
            if elsewhere:
                ids.append(item.id)
        scenes = [scene_beside(self.target, branch) for branch in branches]
        return [self._with_below(scene, ids) for scene, ids in zip(scenes, changed, strict=True)]

    def _with_below(self, scene: Scene, changed: Sequence[str]) -> Landed:
        tree, right = self.target, self.target.objects
        for object_id in changed:
            if not _same_parent(scene.objects.get(object_id), right.get(object_id)):
                tree = scene
        below = [d for i in changed if tree.children(i) for d in tree.descendants(i)]
        return scene, frozenset([*changed, *below])

    @cached_property
    def _looks_at(self) -> list[frozenset[str] | None]:
        """For each step the objects that its outcome hangs on; none where it may hang on all."""
        return [_looks_at(step, state.scene) for step, state in zip(self.steps, self.states, strict=False)]

    def place(self, k: int) -> Place:
        """Return step k as mistakes are put into it."""
        return Place(self.steps, self.states, k, k + 1 < len(self.steps) and self._commute(k, k + 1))

    def _commute(self, one: int, other: int) -> bool:
        """Tell whether neither step looks at what the other changes."""
        for this, that in ((one, other), (other, one)):
            looks_at = self._looks_at[this]
            if looks_at is None or not looks_at.isdisjoint(touches(self.steps[that])):
                return False
        return True

    def influences(self, ids: Iterable[str]) -> frozenset[str] | None:
        """Return all objects on which the place of these may hang in the end, whatever the order; none for any."""
        found = set(ids)
        before = -1
        while len(found) > before:
            before = len(found)
            found |= {a for i in found for a in self._above.get(i, ())}
            for step, looks_at in zip(self.steps, self._looks_at, strict=True):
                if found.isdisjoint(touches(step)):
                    continue
                if looks_at is None:
                    return None
                found |= looks_at
        return frozenset(found)

    def touched(self, altered: Altered) -> set[str]:
        """Return the objects that a mistake may move otherwise: those of the steps it takes away and puts in."""
        steps = (*altered.steps, *self.steps[altered.first : altered.end])
        return {i for step in steps for i in touches(step)}

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


def _same_parent(item: SceneObject | None, known: SceneObject | None) -> bool:
    return item is not None and known is not None and item.parent == known.parent


_LOOKS: Final = attrgetter("parent", "solid", "name", "colour", "opacity", "locked")


def _same_but_for_place(item: SceneObject, known: SceneObject) -> bool:
    if item.pivot is not known.pivot and not same_numbers(item.pivot, known.pivot):
        return False
    return bool(_LOOKS(item) == _LOOKS(known))


def _lie_elsewhere(moved: Sequence[tuple[object, SceneObject, SceneObject]]) -> Flags:
    """(n,) which objects lie elsewhere than others, in their parents: `same_numbers` for many."""
    if not moved:
        return np.zeros(0, dtype=np.bool_)
    here = np.concatenate([item.parent_from_local for _, item, _ in moved]).reshape(-1, 16)
    there = np.concatenate([known.parent_from_local for _, _, known in moved]).reshape(-1, 16)
    reach = np.maximum(1.0, np.abs(there).max(axis=1))
    return np.asarray(np.abs(here - there).max(axis=1) > SAME * reach)


def _as_before(before: Scene, after: Scene) -> Outcome:
    """What takes a step back."""
    changed = {i: before.objects.get(i) for i in changed_between(before, after)}
    return changed, None if after.marker is before.marker else before.marker


def touches(step: Step) -> tuple[str, ...]:
    """Return the objects that a step changes or makes."""
    made = step.ids if isinstance(step, Duplicate) else (step.id,) if isinstance(step, Assemble) else ()
    added = (step.object.id,) if isinstance(step, Add) else ()
    return (*objects_of(step), *made, *added)


def _looks_at(step: Step, scene: Scene) -> frozenset[str] | None:
    words = words_in(step)
    if step.op in ("drop", "assemble", "add", "remove", "duplicate") or "marker" in words:
        return None
    named = words & scene.objects.keys()
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
