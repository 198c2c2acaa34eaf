"""The reference of an exercise, and where it leads with mistakes in it: beside it, and only what differs done again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from operator import attrgetter
from typing import Final

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.common import Mutation, StepContext, same_numbers
from cubedrill.core.judging.causes.patched_replay import PatchedReplay, outcome_between
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import State, replay

Landed = tuple[Scene, frozenset[str]]  # the scene at the end, and which objects lie otherwise than in the target


ANY: Final = "\0 any"  # stands for all objects that no step names

Waves = defaultdict[int, list[PatchedReplay]]  # branches by their depth: those of one may begin where those before lead


class Reference:
    """The steps of a reference with their states, and what each step looks at."""

    def __init__(self, steps: Sequence[Step], states: Sequence[State]) -> None:
        self.steps, self.states = tuple(steps), states
        self._taken_back = [outcome_between(states[k + 1].scene, states[k].scene) for k in range(len(steps))]

    @property
    def target(self) -> Scene:
        """The scene at the end of the reference."""
        return self.states[-1].scene

    def with_mistake(self, mutation: Mutation) -> Reference | None:
        """Return the reference with a mistake in it as one of its own; none where it cannot be done."""
        steps = (*self.steps[: mutation.first], *mutation.steps, *self.steps[mutation.end :])
        try:
            return Reference(steps, replay(self.states[0].scene, steps))
        except CoreError:
            return None

    def led(self, plans: Sequence[tuple[Mutation, ...]]) -> list[Landed | None]:
        """Return where mistakes lead, each plan for itself, its mistakes one after the other.

        None where a step is refused, so that nobody can have handed it in. Plans that begin with the same mistakes
        share the way there, and all go on together, state by state.
        """
        starting: list[Waves] = [defaultdict(list) for _ in self.states]
        begun: dict[tuple[int, int], PatchedReplay | None] = {}
        ends: list[PatchedReplay | None] = []
        for plan in plans:
            end: PatchedReplay | None = None
            for mutation in plan:
                key = (id(end), id(mutation))
                if key not in begun:
                    begun[key] = self._planned(mutation, end, starting)
                end = begun[key]
            ends.append(end)
        self._go_on(starting)
        return [(self.target, frozenset()) if end is None else self._landed(end) for end in ends]

    def _planned(
        self, mutation: Mutation, end: PatchedReplay | None, starting: Sequence[Waves]
    ) -> PatchedReplay | None:
        """Plan the parts of a mistake, each a branch from where the one before leads, and return the last one."""
        for part in self._parts(mutation):
            end = PatchedReplay(part.first, part, end, end.depth + 1 if end else 0)
            starting[part.first][end.depth].append(end)
        return end

    def _parts(self, mutation: Mutation) -> Iterator[Mutation]:
        """The same mistake a step at a time: in the place of another, one more, or left out; without what is right."""
        first, end = mutation.first, mutation.end
        for at, step in enumerate(mutation.steps, first):
            if at >= end:
                yield Mutation(end, end, (step,))
            elif step is not self.steps[at]:
                yield Mutation(at, at + 1, (step,))
        for at in range(first + len(mutation.steps), end):
            yield Mutation(at, at + 1, ())

    def _go_on(self, starting: Sequence[Waves]) -> None:
        """Take all branches to the end. starting: those that begin at each state."""
        here: list[list[PatchedReplay]] = [[] for _ in self.states]
        for k, (state, waves) in enumerate(zip(self.states, starting, strict=True)):
            for _depth, branches in sorted(waves.items()):
                self._begin(state.scene, branches)
                for branch in branches:
                    here[self._met_at(branch)].append(branch)
            if k < len(self.steps):
                self._forth(k, here[k])
                for branch in here[k]:
                    here[self._met_at(branch)].append(branch)

    def _begin(self, scene: Scene, branches: Sequence[PatchedReplay]) -> None:
        """Put in the part of a mistake that each branch begins with, all at one state; scene: its scene."""
        for branch in branches:
            branch.join()
            doing = branch.part.steps if not branch.refused else ()
            outcomes = [branch.done(scene, step) for step in doing]
            if branch.part.end > branch.part.first:
                self._pass_by(branch)
            for outcome in outcomes:
                branch.update(outcome)

    def _forth(self, k: int, branches: Sequence[PatchedReplay]) -> None:
        """Do the reference's step k in branches that it meets, once for all in which it meets the same."""
        alike: dict[tuple[int, frozenset[tuple[str, SceneObject | None]]], list[PatchedReplay]] = {}
        looks_at = self._looks_at[k]
        for branch in branches:
            met = [(i, item) for i, item in branch.other.items() if looks_at is None or i in looks_at]
            alike.setdefault((id(branch.marker), frozenset(met)), []).append(branch)
        for group in alike.values():
            outcome = group[0].done(self.states[k].scene, self.steps[k])
            for branch in group:
                self._pass_by(branch)
                branch.update(outcome)

    def _pass_by(self, branch: PatchedReplay) -> None:
        """Go on beside the next state without its step: what that changed stays as it was here."""
        before = self._taken_back[branch.at]
        for object_id, item in before.objects.items():
            branch.other.setdefault(object_id, item)
        if branch.marker is None:
            branch.marker = before.marker
        branch.at += 1

    def _met_at(self, branch: PatchedReplay) -> int:
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

    def _landed(self, branch: PatchedReplay) -> Landed | None:
        """Return the scene at the end, with what lies otherwise than in the target; rounding does not count."""
        if branch.refused:
            return None
        right = self.target.objects
        changed = [i for i, item in branch.other.items() if not _same(item, right.get(i))]
        return self._with_below(branch.scene_beside(self.target), changed)

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
        return [step.looks_at(state.scene) for step, state in zip(self.steps, self.states, strict=False)]

    def context(self, k: int) -> StepContext:
        """Return step k as mistakes are put into it."""
        return StepContext(self.steps, self.states, k, k + 1 < len(self.steps) and self._commute(k, k + 1))

    def _commute(self, one: int, other: int) -> bool:
        """Tell whether neither step looks at what the other changes."""
        for this, that in ((one, other), (other, one)):
            looks_at = self._looks_at[this]
            if looks_at is None or not looks_at.isdisjoint(self.steps[that].touches):
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
                if found.isdisjoint(step.touches):
                    continue
                if looks_at is None:
                    return None
                found |= looks_at
        return frozenset(found)

    def touched(self, mutation: Mutation) -> set[str]:
        """Return the objects that a mistake may move otherwise: those of the steps it removes and puts in."""
        steps = (*mutation.steps, *self.steps[mutation.first : mutation.end])
        return {i for step in steps for i in step.touches}

    @cached_property
    def _above(self) -> dict[str, set[str]]:
        """All that an object is in, in any of the states."""
        above: dict[str, set[str]] = {}
        for state in self.states:
            for object_id in state.changed:
                above.setdefault(object_id, set()).update(state.scene.ancestors(object_id))
        return above

    def last_on(self, object_id: str) -> int:
        """Return the last step on an object or on what it is in, counted from 0; the first where there is none."""
        on = {object_id, *(self.target.ancestors(object_id) if object_id in self.target.objects else ())}
        return max((k for k, step in enumerate(self.steps) if not on.isdisjoint(step.acts_on)), default=0)

    def sentence(self, k: int) -> str:
        """Return a step in words; k: counted from 0."""
        return self.states[k + 1].sentence

    def name(self, object_id: str) -> str:
        """Return the name of an object that is there at the end or on the way."""
        return self._names.get(object_id, object_id or "The scene")

    @cached_property
    def _names(self) -> dict[str, str]:
        scenes = (*(state.scene for state in reversed(self.states)), self.target)
        return {i: item.name for scene in scenes for i, item in scene.objects.items()}


def _same_parent(item: SceneObject | None, known: SceneObject | None) -> bool:
    return item is not None and known is not None and item.parent == known.parent


_LOOKS: Final = attrgetter("parent", "solid", "name", "colour", "opacity", "locked")


def _same(item: SceneObject | None, known: SceneObject | None) -> bool:
    """Tell whether two objects are the same but for rounding, or neither is there."""
    if item is known:
        return True
    return (
        item is not None
        and known is not None
        and bool(_LOOKS(item) == _LOOKS(known))
        and same_numbers(item.pivot, known.pivot)
        and same_numbers(item.parent_from_local, known.parent_from_local)
    )
