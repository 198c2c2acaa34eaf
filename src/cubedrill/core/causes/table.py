"""Every mistake put into every step of a reference: where each leads, with as little replayed as can be."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Final

from cubedrill.core.causes.common import Altered, FileMistake, Landing, Mistake, Place, objects_of
from cubedrill.core.causes.files import FILES
from cubedrill.core.causes.order import ORDER
from cubedrill.core.causes.spaces import SPACES
from cubedrill.core.causes.values import VALUES
from cubedrill.core.errors import CoreError
from cubedrill.core.replay import State
from cubedrill.core.scene import Scene, SceneObject
from cubedrill.core.steps import Step, apply_step
from cubedrill.core.steps.duplicate import Duplicate
from cubedrill.core.steps.existence import Add
from cubedrill.core.steps.nest import Assemble
from cubedrill.core.values import Array, Value

Landed = tuple[Scene, frozenset[str]]  # the scene at the end, and which objects lie otherwise than in the target

KNOWN: Final = 20_000  # so many outcomes of single steps are remembered

MISTAKES: Final[tuple[Mistake, ...]] = (*VALUES, *SPACES, *ORDER)
FILE_MISTAKES: Final[tuple[FileMistake, ...]] = FILES


@dataclass
class Branch:
    """A scene on its way beside the reference's states: what of it differs from the state it stands beside.

    at: which state. other: the objects that differ; none for one that is not there. marker: where it differs.
    """

    states: Sequence[State]
    at: int
    other: dict[str, SceneObject | None]
    marker: Array | None = None

    def copy(self) -> Branch:
        """Another one like this, to go on with."""
        return replace(self, other=dict(self.other))

    def scene(self) -> Scene:
        """The whole scene."""
        base = self.states[self.at].scene
        if self.marker is not None:
            base = replace(base, marker=self.marker)
        if not self.other:
            return base
        objects = dict(base.objects)
        for object_id, item in self.other.items():
            if item is None:
                objects.pop(object_id, None)
            else:
                objects[object_id] = item
        return replace(base, objects=objects)

    def pass_by(self) -> None:
        """Go on beside the next state without its step: what that changed stays as it was here."""
        before, after = self.states[self.at].scene, self.states[self.at + 1].scene
        for object_id in changed_between(before, after):
            self.other.setdefault(object_id, before.objects.get(object_id))
        if self.marker is None and after.marker is not before.marker:
            self.marker = before.marker
        self.at += 1

    def do(self, step: Step) -> list[str]:
        """Do a step here and return what it changed; raise CoreError where it cannot be done."""
        before = self.scene()
        after = apply_step(before, step)
        changed = changed_between(before, after)
        for object_id in changed:
            self.other[object_id] = after.objects.get(object_id)
        if after.marker is not before.marker:
            self.marker = after.marker
        return changed


def changed_between(before: Scene, after: Scene) -> list[str]:
    """Return the ids of objects that are not the same in both scenes, or are in one of them alone."""
    gone = [i for i in before.objects if i not in after.objects]
    return [*(i for i, item in after.objects.items() if before.objects.get(i) is not item), *gone]


class Reference:
    """The steps of a reference with their states, and what each step looks at."""

    def __init__(self, steps: Sequence[Step], states: Sequence[State]) -> None:
        self.steps, self.states = tuple(steps), states
        # What a step of the reference made of objects that differ: many mistakes go on from the same ones.
        self._landed: dict[tuple[int | str, ...], Landed | None] = {}
        self._known: dict[tuple[int, frozenset[tuple[str, SceneObject | None]]], dict[str, SceneObject | None]] = {}

    @property
    def target(self) -> Scene:
        """Where the reference leads."""
        return self.states[-1].scene

    @cached_property
    def _looks_at(self) -> list[frozenset[str] | None]:
        """For each step the objects that its outcome hangs on; none where it may hang on all."""
        return [_looks_at(step, state.scene) for step, state in zip(self.steps, self.states, strict=False)]

    def branch(self, altered: Altered, beside: Branch | None = None) -> Branch:
        """Replay with a mistake in it; steps that do not meet what it changed are not done again.

        beside: where an earlier mistake led, on its way. Raises CoreError where a step cannot be done.
        """
        branch = beside or Branch(self.states, altered.first, {})
        for step in altered.steps:
            if branch.at < altered.end:
                if step is self.steps[branch.at] and not self._met(branch):
                    branch.at += 1
                    continue
                branch.pass_by()
            branch.do(step)
        while branch.at < altered.end:
            branch.pass_by()
        return branch

    def onward(self, branch: Branch, until: int) -> Branch:
        """Go on with the reference's own steps as far as a state."""
        while branch.at < until:
            if self._met(branch):
                self._redo(branch)
            else:
                branch.at += 1
        return branch

    def _redo(self, branch: Branch) -> None:
        """Do the reference's next step on what differs; the same on the same objects is done once."""
        k, looks_at = branch.at, self._looks_at[branch.at]
        step = self.steps[k]
        if looks_at is None or branch.marker is not None:
            branch.pass_by()
            branch.do(step)
            return
        key = (k, frozenset((i, item) for i, item in branch.other.items() if i in looks_at))
        branch.pass_by()
        if key not in self._known:
            if len(self._known) >= KNOWN:
                self._known.clear()
            before = set(branch.other)
            changed = branch.do(step)
            self._known[key] = {i: branch.other[i] for i in {*changed, *(set(branch.other) - before)}}
        branch.other.update(self._known[key])

    def _met(self, branch: Branch) -> bool:
        """Tell whether the step after this state may hang on what differs here."""
        if branch.marker is not None:
            return True
        looks_at = self._looks_at[branch.at]
        if looks_at is None:
            return bool(branch.other)
        base = branch.states[branch.at].scene.objects
        for object_id, item in branch.other.items():
            known = base.get(object_id)
            if object_id in looks_at or known is None or item is None or item.parent != known.parent:
                return True
        return False

    def landed_once(self, altered: Altered) -> Landed | None:
        """Where a mistake leads; none where a step is refused, so that nobody can have handed it in.

        Several mistakes can be the same steps.
        """
        own = {id(step) for step in self.steps}
        written = (id(step) if id(step) in own else step.model_dump_json() for step in altered.steps)
        key = (altered.first, altered.end, *written)
        if key not in self._landed:
            try:
                self._landed[key] = self.landed(self.branch(altered))
            except CoreError:
                self._landed[key] = None
        return self._landed[key]

    def landed_twice(
        self, altered: Altered, later: Altered, on_the_way: dict[tuple[int, int], Branch]
    ) -> Landed | None:
        """Where two mistakes lead, one after the other; none where a step is refused.

        on_the_way: where earlier calls, with mistakes that are still there, came to before the later one.
        """
        key = (id(altered), later.first)
        try:
            if key not in on_the_way:
                on_the_way[key] = self.onward(self.branch(altered), later.first)
            return self.landed(self.branch(later, on_the_way[key].copy()))
        except CoreError:
            return None

    def touched(self, altered: Altered) -> set[str]:
        """Return the objects that a mistake may move otherwise: those of the steps it takes away and puts in."""
        steps = (*altered.steps, *self.steps[altered.first : altered.end])
        return {i for step in steps for i in _touches(step)}

    def influences(self, ids: Iterable[str]) -> frozenset[str] | None:
        """Return all objects on which the place of these may hang in the end, whatever the order; none for any."""
        found = set(ids)
        before = -1
        while len(found) > before:
            before = len(found)
            found |= {a for i in found for a in self._above.get(i, ())}
            for step, looks_at in zip(self.steps, self._looks_at, strict=True):
                touches = _touches(step)
                if found.isdisjoint(touches):
                    continue
                if looks_at is None:
                    return None
                found |= looks_at
        return frozenset(found)

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
        scenes = (self.target, *(state.scene for state in self.states))
        return next((s.objects[object_id].name for s in scenes if object_id in s.objects), object_id or "The scene")

    def landed(self, branch: Branch) -> Landed:
        """Return the scene at the end, and which objects lie otherwise than in the target."""
        scene = self.onward(branch, len(self.steps)).scene()
        changed = {i for i in branch.other if scene.objects.get(i) is not self.target.objects.get(i)}
        below = {d for i in changed if i in scene.objects for d in scene.descendants(i)}
        return scene, frozenset(changed | below)


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
    below = {d for i in named for d in scene.descendants(i)}
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


def landings(reference: Reference, near: frozenset[str] | None = None) -> Iterator[tuple[Landing, Altered]]:
    """Yield where every single mistake leads that changes the outcome, step by step, in the order of the table.

    near: only mistakes that touch one of these objects; see `Reference.influences`.
    """
    for k in range(len(reference.steps)):
        place = Place(reference.steps, reference.states, k)
        for number, mistake in enumerate(MISTAKES):
            for altered in mistake.alter(place):
                if near is not None and near.isdisjoint(reference.touched(altered)):
                    continue
                landed = reference.landed_once(altered)
                if landed is not None and landed[1]:
                    yield landing_of(reference, mistake, altered, landed, number), altered


def landing_of(reference: Reference, mistake: Mistake, altered: Altered, landed: Landed, number: int = 0) -> Landing:
    """Return a landing with its words; number: the mistake's place in the table."""
    k = altered.first
    object_id = altered.object or next(iter(objects_of(reference.steps[k])), "")
    name = reference.name(object_id)
    words = {"step": str(k + 1), "done": reference.sentence(k), "object": name, "detail": altered.detail}
    return Landing(mistake, number, k + 1, object_id, *landed, words)


def file_landings(target: Scene) -> Iterator[Landing]:
    """Yield where every mistake with a whole file leads."""
    for number, mistake in enumerate(FILE_MISTAKES):
        for detail, scene in mistake.alter(target):
            changed = frozenset(changed_between(target, scene))
            words = {"step": "", "done": "", "object": "", "detail": detail}
            yield Landing(mistake, len(MISTAKES) + number, 0, "", scene, changed, words)
