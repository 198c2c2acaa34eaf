"""A scene: a tree of objects with matrices. Values that never change; a step makes a new scene."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, reduce
from itertools import takewhile
from typing import Final

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import Box
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import inverse, mapped, moved, parts_of, require_affine
from cubedrill.core.values import Array, frozen

IDENTITY: Final = frozen(np.eye(4))


@dataclass(frozen=True, eq=False)
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

    def at(self, parent_from_local: Array) -> SceneObject:
        """Return it with another map to its parent, which nobody has to look at any more."""
        return SceneObject(
            self.id, self.name, self.solid, self.parent, parent_from_local, self.pivot, self.colour, self.opacity,
            self.locked,
        )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Scene:
    """Objects by id, in the order of the exercise; with conventions, marker (world) and plot (world)."""

    objects: Mapping[str, SceneObject]
    conventions: Conventions
    marker: Array
    plot: Box | None = None
    # World maps shared by the scenes of a replay; each is used only where both maps it was made from are the same.
    links: dict[str, tuple[Array, Array, Array]] = field(default_factory=dict, repr=False)

    def __getitem__(self, object_id: str) -> SceneObject:
        """Return an object; raise CoreError "unknown-object"."""
        try:
            return self.objects[object_id]
        except KeyError:
            raise CoreError("unknown-object", object=object_id) from None

    @cached_property
    def _worlds(self) -> dict[str, Array]:
        return {}

    def world_from_local(self, object_id: str) -> Array:
        """Return (4, 4) map from an object's coordinates to the world's."""
        worlds = self._worlds
        if object_id not in worlds:
            lacking = [object_id, *takewhile(lambda above: above not in worlds, self.ancestors(object_id))]
            for lacks in reversed(lacking):
                worlds[lacks] = self._linked(self[lacks])
        return worlds[object_id]

    def _linked(self, item: SceneObject) -> Array:
        """Return the product of the parent's world map and the object's own, made once for the same two arrays."""
        if item.parent is None:
            return item.parent_from_local
        above, own = self._worlds[item.parent], item.parent_from_local
        link = self.links.get(item.id)
        if link is None or link[0] is not above or link[1] is not own:
            link = (above, own, frozen(above @ own))
            self.links[item.id] = link
        return link[2]

    def world_from_parent(self, object_id: str) -> Array:
        """(4, 4) map from the coordinates of an object's parent to the world's; the identity without a parent."""
        parent = self[object_id].parent
        return IDENTITY if parent is None else self.world_from_local(parent)

    def parent_from_world(self, object_id: str) -> Array:
        """Return (4, 4) map from the world's coordinates to those of an object's parent; worked out once a parent."""
        parent = self[object_id].parent
        if parent is None:
            return IDENTITY
        if parent not in self._inverses:
            self._inverses[parent] = frozen(inverse(self.world_from_local(parent)))
        return self._inverses[parent]

    @cached_property
    def _inverses(self) -> dict[str, Array]:
        return {}

    def axes_world(self, object_id: str) -> Array:
        """Return (3, 3) an object's own unit directions in world, as columns; worked out once."""
        if object_id not in self._axes:
            self._axes[object_id] = parts_of(self.world_from_local(object_id)).rotation
        return self._axes[object_id]

    @cached_property
    def _axes(self) -> dict[str, Array]:
        return {}

    def pivot_world(self, object_id: str) -> Array:
        """Return (3,) where an object's pivot is: its position."""
        return mapped(self.world_from_local(object_id), self[object_id].pivot)

    def ancestors(self, object_id: str) -> Iterator[str]:
        """Yield the parent, its parent and so on."""
        parent = self[object_id].parent
        while parent is not None:
            yield parent
            parent = self[parent].parent

    @cached_property
    def _children(self) -> dict[str, list[str]]:
        children: dict[str, list[str]] = {}
        for item in self.objects.values():
            if item.parent is not None:
                children.setdefault(item.parent, []).append(item.id)
        return children

    def children(self, object_id: str) -> list[str]:
        """Return the ids of the objects whose parent this is, in the order of the scene."""
        return self._children.get(object_id, [])

    def descendants(self, object_id: str) -> list[str]:
        """Return the ids of all objects below this one, each after its parent."""
        below = list(self.children(object_id))
        for child in below:
            below.extend(self.children(child))
        return below

    def parents_first(self) -> list[str]:
        """Return the ids of all objects, each after its parent."""
        roots = [item.id for item in self.objects.values() if item.parent is None]
        return [i for root in roots for i in (root, *self.descendants(root))]

    def box(self, object_id: str, target_from_world: Array) -> Box | None:
        """Exact box of an object in the coordinates that target_from_world (4, 4) leads to.

        Of its own solid without children; of an assembly, around the solids of all descendants; none where there
        are none. In the world, which is the IDENTITY, it is worked out once.
        """
        if target_from_world is not IDENTITY:
            return self._box(object_id, target_from_world)
        if object_id not in self._boxes_world:
            self._boxes_world[object_id] = self._box(object_id, target_from_world)
        return self._boxes_world[object_id]

    @cached_property
    def _boxes_world(self) -> dict[str, Box | None]:
        return {}

    def _box(self, object_id: str, target_from_world: Array) -> Box | None:
        owners = [object_id] if self[object_id].solid else self.descendants(object_id)
        box: Box | None = None
        for owner in owners:
            solid = self[owner].solid
            if solid is not None:
                target_from_local = target_from_world @ self.world_from_local(owner)
                here = solid.box_under(self.conventions.up_index, target_from_local)
                box = here if box is None else box.with_box(here)
        return box

    def local_box(self, object_id: str) -> Box | None:
        """Box of an object in its own coordinates; none where it has no solid in it."""
        solid = self[object_id].solid
        if solid is not None:
            return solid.local_box(self.conventions.up_index)
        return self.box(object_id, inverse(self.world_from_local(object_id)))

    def require_box(self, object_id: str, target_from_world: Array) -> Box:
        """Return the box of an object, as `box` does; raise CoreError "no-box" where there is none."""
        box = self.box(object_id, target_from_world)
        if box is None:
            raise CoreError("no-box", object=object_id, name=self[object_id].name)
        return box

    def require_local_box(self, object_id: str) -> Box:
        """Return the box of an object in its own coordinates; raise CoreError "no-box" where there is none."""
        box = self.local_box(object_id)
        if box is None:
            raise CoreError("no-box", object=object_id, name=self[object_id].name)
        return box

    def box_around(self, ids: Iterable[str], target_from_world: Array) -> Box:
        """Return the least box around the boxes of several objects; raise CoreError "no-box" where one has none."""
        return reduce(Box.with_box, [self.require_box(object_id, target_from_world) for object_id in ids])

    def with_objects(self, changed: Iterable[SceneObject]) -> Scene:
        """Return the scene with these objects in the place of those of the same id; new ones come last."""
        return self.having({**self.objects, **{item.id: item for item in changed}})

    def having(self, objects: Mapping[str, SceneObject]) -> Scene:
        """Return the scene with these objects and no others."""
        return Scene(objects, self.conventions, self.marker, self.plot, self.links)

    def without(self, ids: Iterable[str]) -> Scene:
        """Return the scene without these objects."""
        gone = set(ids)
        return self.having({i: item for i, item in self.objects.items() if i not in gone})

    def moved_by(self, object_id: str, displacement_world: Array) -> SceneObject:
        """Return an object moved by a world displacement (3,), its rotation and scale untouched to the last bit."""
        if self[object_id].parent is None:
            return self.moved_in_parent_by(object_id, displacement_world)
        linear = self.parent_from_world(object_id)[:3, :3]
        return self.moved_in_parent_by(object_id, linear @ displacement_world)

    def moved_in_parent_by(self, object_id: str, displacement_parent: Array) -> SceneObject:
        """Return an object moved by a displacement (3,) in its parent's own coordinates."""
        return self.placed(object_id, moved(self[object_id].parent_from_local, displacement_parent))

    def placed(self, object_id: str, parent_from_local: Array) -> SceneObject:
        """Return an object with another map to its parent (4, 4); raise CoreError where that is none."""
        item = self[object_id]
        return item.at(require_affine(parent_from_local, object_id, item.name))

    def placed_in_world(self, object_id: str, world_from_local: Array) -> SceneObject:
        """Return an object with another map to the world (4, 4), in the parent it has."""
        if self[object_id].parent is None:
            return self.placed(object_id, world_from_local)
        return self.placed(object_id, self.parent_from_world(object_id) @ world_from_local)

    def placed_by(self, object_id: str, motion_world: Array) -> SceneObject:
        """Return an object after a motion of the world (4, 4): W′ = motion · W."""
        return self.placed_in_world(object_id, motion_world @ self.world_from_local(object_id))

    def under(self, object_id: str, parent: str | None) -> SceneObject:
        """Return an object with another parent, or none, keeping its world position."""
        world_from_local = self.world_from_local(object_id)
        if parent is None:
            parent_from_local = world_from_local.copy()
        else:
            parent_from_local = inverse(self.world_from_local(parent)) @ world_from_local
        return replace(self.placed(object_id, parent_from_local), parent=parent)


def scene_of(objects: Iterable[SceneObject], conventions: Conventions, marker: Array, plot: Box | None = None) -> Scene:
    """Return a scene whose tree of parents is sound.

    Raises
    ------
    CoreError
        "duplicate-id", "unknown-parent" or "parent-loop".
    """
    by_id: dict[str, SceneObject] = {}
    for item in objects:
        if item.id in by_id:
            raise CoreError("duplicate-id", object=item.id)
        by_id[item.id] = item
    for item in by_id.values():
        if item.parent is not None and item.parent not in by_id:
            raise CoreError("unknown-parent", object=item.id, parent=item.parent)
    _require_no_loops(by_id)
    return Scene(by_id, conventions, marker, plot)


def _require_no_loops(by_id: Mapping[str, SceneObject]) -> None:
    sound: set[str] = set()
    for start in by_id:
        path: dict[str, None] = {}
        above: str | None = start
        while above is not None and above not in sound:
            if above in path:
                raise CoreError("parent-loop", object=start)
            path[above] = None
            above = by_id[above].parent
        sound.update(path)
