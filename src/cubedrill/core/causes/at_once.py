"""Steps in branches of a replay, at once where that can be: what one changes is an outcome."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np

from cubedrill.core.causes.common import Altered, objects_of
from cubedrill.core.errors import CoreError, OneByOneError
from cubedrill.core.scene import Scene, SceneObject
from cubedrill.core.steps import Step, apply_step
from cubedrill.core.steps.laid import STACKED, Laid, kind_of, laid, numbers_of
from cubedrill.core.steps.move import Move
from cubedrill.core.values import Array, frozen

Others = dict[str, SceneObject | None]  # objects that are not as in another scene; none for one that is not there
Outcome = tuple[Others, Array | None]  # what a step changed: objects, and the marker

ONE: Final = "\0 one for all"  # the id of what stands for several objects; no file can have it
FEW: Final = 3  # as many objects are as quickly done one after the other


@dataclass(slots=True)
class Branch:
    """A scene on its way beside the reference's states. at: which state; other, marker: what differs from it.

    part: the part of a mistake that it begins with; before: where the part before that leads; depth: how many parts
    come before. refused: whether a step could not be done.
    """

    at: int
    part: Altered
    before: Branch | None = None
    depth: int = 0
    other: Others = field(default_factory=dict)
    marker: Array | None = None
    refused: bool = False

    def join(self) -> None:
        """Begin from the branch before, which no step met between where it is and here."""
        if self.before is not None:
            self.other = dict(self.before.other)
            self.marker, self.refused = self.before.marker, self.before.refused

    def update(self, outcome: Outcome | None) -> None:
        """Take over what a step changed; none: it was refused."""
        if outcome is None:
            self.refused = True
            return
        self.other.update(outcome[0])
        if outcome[1] is not None:
            self.marker = outcome[1]


Task = tuple[Step, Branch]


def scene_beside(base: Scene, branch: Branch) -> Scene:
    """Return the whole scene of a branch; base: the one that it is beside."""
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
    return base.having(objects)


def each_done(scene: Scene, tasks: Sequence[Task], looks_at: frozenset[str] | None) -> list[Outcome | None]:
    """What each step changes in its branch; none where it is refused. scene: the one that all branches are beside.

    What is the same is done once, and what can be done at once is. looks_at: the objects that the steps hang on;
    none where they may hang on all.
    """
    steps = {id(step): step for step, _branch in tasks}
    kinds = {key: kind_of(step) for key, step in steps.items()}
    first_of: dict[Hashable, int] = {}
    same_as: list[int] = []
    for number, (step, branch) in enumerate(tasks):
        key: Hashable = number
        if isinstance(step, STACKED) and not branch.other and branch.marker is None:
            key = (kinds[id(step)], step.objects, numbers_of(step))
        same_as.append(first_of.setdefault(key, number))
    outcomes: dict[int, Outcome | None] = {}
    left = list(first_of.values())
    for alike, at_once in ((_laid_alike, _done_laid), (_apart, _done_side_by_side)):
        groups: dict[Hashable, list[int]] = {}
        for number in left:
            step, branch = tasks[number]
            key = alike(scene, step, branch, looks_at) if isinstance(step, STACKED) else None
            groups.setdefault(number if key is None else (kinds[id(step)], key), []).append(number)
        left = []
        for numbers in groups.values():
            done = at_once(scene, [tasks[n] for n in numbers], looks_at) if len(numbers) > 1 else None
            if done is None:
                left += numbers
            else:
                outcomes.update(zip(numbers, done, strict=True))
    outcomes.update((number, _done(scene, *tasks[number])) for number in left)
    return [outcomes[number] for number in same_as]


def _laid_alike(scene: Scene, step: Laid, branch: Branch, looks_at: frozenset[str] | None) -> Hashable:
    """What steps of a kind have in common that can be laid upon each other; none for one that cannot.

    They are done on the same objects, and the same objects lie elsewhere, but do not differ otherwise.
    """
    if branch.marker is not None:
        return None
    if not branch.other:
        return step.objects
    ids = frozenset(i for i in branch.other if looks_at is None or i in looks_at)
    alike = all(_differs_in_place_alone(branch.other[i], scene.objects.get(i)) for i in ids)
    return (step.objects, ids) if alike else None


def _done_laid(scene: Scene, tasks: Sequence[Task], looks_at: frozenset[str] | None) -> list[Outcome] | None:
    """Do steps of a kind on the same objects, each in its branch, laid upon each other; none where that fails."""
    (_, first), branches = tasks[0], [branch for _step, branch in tasks]
    ids = [i for i in first.other if looks_at is None or i in looks_at]
    before = scene.with_objects([_laid(scene[i], [branch.other[i] for branch in branches]) for i in ids])
    try:
        after = apply_step(before, laid([step for step, _branch in tasks]))
    except (CoreError, OneByOneError):
        return None
    outcomes: list[Outcome] = [({}, None) for _ in tasks]
    for object_id in _changed_by(tasks[0][0], before, after):
        maps = after[object_id].parent_from_local
        for n, branch in enumerate(branches):
            item = branch.other.get(object_id) or scene[object_id]
            outcomes[n][0][object_id] = item.at(maps[n] if maps.ndim == 3 else maps)
    return outcomes


def _apart(scene: Scene, step: Laid, branch: Branch, looks_at: frozenset[str] | None) -> Hashable:
    """What steps of a kind have in common that are one step, each on one object, none in another."""
    del looks_at
    object_id = step.objects[0]
    if branch.other or branch.marker is not None or len(step.objects) > 1:
        return None
    if object_id not in scene.objects or scene[object_id].locked:
        return None
    if not isinstance(step, Move) and step.pivot == "selection":  # the middle of all of them
        return None
    return numbers_of(step), len(list(scene.ancestors(object_id)))  # of those as deep none is in another


def _done_side_by_side(scene: Scene, tasks: Sequence[Task], looks_at: frozenset[str] | None) -> list[Outcome] | None:
    """Do one step on the objects of all tasks; none where it is refused."""
    del looks_at
    step, _branch = tasks[0]
    items = [scene[i] for other, _branch in tasks for i in objects_of(other)]
    try:
        maps = _done_as_one(scene, step, items) if items[0].parent is None and len(items) > FEW else None
    except (CoreError, OneByOneError):
        maps = None  # a size or a corner is asked for, or one of them is refused
    if maps is not None:
        return [({item.id: item.at(maps[n])}, None) for n, item in enumerate(items)]
    try:
        after = apply_step(scene, step.model_copy(update={"objects": tuple(item.id for item in items)}))
    except CoreError:
        return None
    return [({item.id: after[item.id]}, None) for item in items]


def _done(scene: Scene, step: Step, branch: Branch) -> Outcome | None:
    """What a step changes in a branch; none where it is refused."""
    before = scene_beside(scene, branch)
    try:
        after = apply_step(before, step)
    except CoreError:
        return None
    changed = {i: after.objects.get(i) for i in _changed_by(step, before, after)}
    return changed, None if after.marker is before.marker else after.marker


def _laid(base: SceneObject, items: Sequence[SceneObject | None]) -> SceneObject:
    """An object in the places that it has in several scenes."""
    if all(item is items[0] for item in items):
        return items[0] or base
    return base.at(frozen(np.array([item.parent_from_local for item in items if item])))


def _differs_in_place_alone(item: SceneObject | None, known: SceneObject | None) -> bool:
    if item is None or known is None:
        return False
    return item.parent == known.parent and item.pivot is known.pivot and item.solid is known.solid


def _done_as_one(scene: Scene, step: Step, items: Sequence[SceneObject]) -> Array:
    """(n, 4, 4) where a step takes objects that are in no other: done on one that lies in their places instead."""
    maps = frozen(np.array([item.parent_from_local for item in items]))
    one = replace(
        items[0], id=ONE, solid=None, parent_from_local=maps, pivot=frozen(np.array([i.pivot for i in items]))
    )
    after = apply_step(scene.with_objects([one]), step.model_copy(update={"objects": (ONE,)}))
    return after[ONE].parent_from_local


def changed_between(before: Scene, after: Scene) -> list[str]:
    """Return the ids of objects that are not the same in both scenes, or are in one of them alone."""
    gone = [i for i in before.objects if i not in after.objects]
    return [*(i for i, item in after.objects.items() if before.objects.get(i) is not item), *gone]


def _changed_by(step: Step, before: Scene, after: Scene) -> list[str]:
    """Return what `changed_between` does, where a step leads from one to the other."""
    if isinstance(step, STACKED):
        return [i for i in dict.fromkeys(step.objects) if after.objects[i] is not before.objects[i]]
    return changed_between(before, after)
