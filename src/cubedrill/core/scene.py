"""A scene: a tree of objects with matrices. Values that never change; a step makes a new scene."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from cubedrill.core.conventions import Conventions
from cubedrill.core.errors import CoreError
from cubedrill.core.solids import Box, Solid, box_under, local_box
from cubedrill.core.transform import inverse, mapped, require_affine
from cubedrill.core.values import Array


@dataclass(frozen=True)
class SceneObject:
    """One solid, or an assembly where `solid` is none. `parent_from_local` (4, 4) is the truth of its place."""

    id: str
    name: str
    solid: Solid | None
    parent: str | None
    parent_from_local: Array
    pivot: Array
    colour: str
    opacity: float
    locked: bool


@dataclass(frozen=True)
class Scene:
    """Objects by id, in the order of the exercise; with conventions, marker (world) and plot (world)."""

    objects: Mapping[str, SceneObject]
    conventions: Conventions
    marker: Array
    plot: Box | None = None

    def __getitem__(self, object_id: str) -> SceneObject:
        """Return an object; raise CoreError "unknown-object"."""
        try:
            return self.objects[object_id]
        except KeyError:
            raise CoreError("unknown-object", object=object_id) from None

    @cached_property
    def _world_from_local(self) -> dict[str, Array]:
        return {}

    def world_from_local(self, object_id: str) -> Array:
        """(4, 4) map from an object's coordinates to the world's."""
        known = self._world_from_local
        if object_id not in known:
            item = self[object_id]
            known[object_id] = self.world_from_parent(item.id) @ item.parent_from_local
        return known[object_id]

    def world_from_parent(self, object_id: str) -> Array:
        """(4, 4) map from the coordinates of an object's parent to the world's; the identity without a parent."""
        parent = self[object_id].parent
        return np.eye(4) if parent is None else self.world_from_local(parent)

    def pivot_world(self, object_id: str) -> Array:
        """(3,) where an object's pivot is: its position."""
        return mapped(self.world_from_local(object_id), self[object_id].pivot)

    def ancestors(self, object_id: str) -> Iterator[str]:
        """Yield the parent, its parent and so on."""
        parent = self[object_id].parent
        while parent is not None:
            yield parent
            parent = self[parent].parent

    def descendants(self, object_id: str) -> list[str]:
        """Return the ids of all objects below this one, in the order of the scene."""
        return [other for other in self.objects if object_id in self.ancestors(other)]

    def box(self, object_id: str, target_from_world: Array) -> Box | None:
        """Exact box of an object in the coordinates that target_from_world (4, 4) leads to.

        Of its own solid without children; of an assembly, around the solids of all descendants; none where there
        are none.
        """
        owners = [object_id] if self[object_id].solid else self.descendants(object_id)
        box: Box | None = None
        for owner in owners:
            solid = self[owner].solid
            if solid is not None:
                target_from_local = target_from_world @ self.world_from_local(owner)
                here = box_under(solid, self.conventions.up_index, target_from_local)
                box = here if box is None else box.with_box(here)
        return box

    def local_box(self, object_id: str) -> Box | None:
        """Box of an object in its own coordinates; none where it has no solid in it."""
        solid = self[object_id].solid
        if solid is not None:
            return local_box(solid, self.conventions.up_index)
        return self.box(object_id, inverse(self.world_from_local(object_id)))

    def with_objects(self, changed: Iterable[SceneObject]) -> Scene:
        """Return the scene with these objects in the place of those of the same id."""
        return replace(self, objects={**self.objects, **{item.id: item for item in changed}})

    def moved_by(self, object_id: str, displacement_world: Array) -> SceneObject:
        """Return an object moved by a world displacement (3,), its rotation and scale untouched to the last bit."""
        world_from_parent = self.world_from_parent(object_id)[:3, :3]
        return self.moved_in_parent_by(object_id, inverse(world_from_parent) @ displacement_world)

    def moved_in_parent_by(self, object_id: str, displacement_parent: Array) -> SceneObject:
        """Return an object moved by a displacement (3,) in its parent's own coordinates."""
        item = self[object_id]
        parent_from_local = item.parent_from_local.copy()
        parent_from_local[:3, 3] += displacement_parent
        return replace(item, parent_from_local=require_affine(parent_from_local, item.id))


def scene_of(objects: Iterable[SceneObject], conventions: Conventions, marker: Array, plot: Box | None = None) -> Scene:
    """Return a scene whose tree is sound.

    Raises CoreError "duplicate-id", "unknown-parent" or "parent-loop".
    """
    by_id: dict[str, SceneObject] = {}
    for item in objects:
        if item.id in by_id:
            raise CoreError("duplicate-id", object=item.id)
        by_id[item.id] = item
    for item in by_id.values():
        if item.parent is not None and item.parent not in by_id:
            raise CoreError("unknown-parent", object=item.id, parent=item.parent)
        _require_no_loop(by_id, item)
    return Scene(by_id, conventions, marker, plot)


def _require_no_loop(by_id: Mapping[str, SceneObject], item: SceneObject) -> None:
    seen = {item.id}
    parent = item.parent
    while parent is not None and parent in by_id:
        if parent in seen:
            raise CoreError("parent-loop", object=item.id)
        seen.add(parent)
        parent = by_id[parent].parent
