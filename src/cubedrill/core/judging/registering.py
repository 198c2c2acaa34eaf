"""Where objects of a handed-in scene really stand: programs bake places into vertices, and centre meshes anew."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.registration import is_as_it_was, maps_onto
from cubedrill.core.geometry.solids import Mesh, local_box
from cubedrill.core.geometry.transform import is_skewed, mapped, require_affine
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.values import Array


@dataclass(frozen=True)
class Registered:
    """A scene with its meshes put where their vertices say they are.

    unknown: ids of those that no map of the target's solid leads to, whose rotation is then not known. several: of
    those that more than one map leads to: which of them it was, nobody can tell.
    """

    scene: Scene
    unknown: frozenset[str] = frozenset()
    several: frozenset[str] = frozenset()


def registered(target: Scene, scene: Scene) -> Registered:
    """Return the scene with each mesh that was made anew as the solid of the target that it is.

    A mesh that is the solid as it was stands where its own place says; so does what is no mesh.
    """
    unknown: set[str] = set()
    several: set[str] = set()
    up = target.conventions.up_index
    for object_id, wanted in target.objects.items():
        item = scene.objects.get(object_id)
        if item is None or wanted.solid is None or not isinstance(item.solid, Mesh) or item.solid == wanted.solid:
            continue
        if is_as_it_was(wanted.solid, up, item.solid.points, item.solid.corners):
            scene = scene.with_objects([replace(item, solid=wanted.solid)])
            continue
        points_world = mapped(scene.world_from_local(object_id), item.solid.points)
        maps = _usable(maps_onto(wanted.solid, up, points_world, item.solid.corners), wanted)
        if not maps:
            unknown.add(object_id)
            continue
        if len(maps) > 1:
            several.add(object_id)
        scene = _placed(scene, wanted, _likeliest(maps, target, object_id))
    return Registered(scene, frozenset(unknown), frozenset(several))


def _usable(maps: Sequence[Array], wanted: SceneObject) -> list[Array]:
    """Those that an object can have as its place."""
    usable = []
    for each in maps:
        try:
            usable.append(require_affine(each, wanted.id, wanted.name))
        except CoreError:
            continue
    return usable


def _likeliest(maps: Sequence[Array], target: Scene, object_id: str) -> Array:
    """The map that is square, and then the one nearest to where the target has the object."""
    solid = target[object_id].solid
    assert solid is not None  # noqa: S101 - only solids are registered
    box = local_box(solid, target.conventions.up_index)
    ends = np.array([[(box.least, box.most)[k >> axis & 1][axis] for axis in range(3)] for k in range(8)])
    wanted = mapped(target.world_from_local(object_id), ends)
    return min(maps, key=lambda each: (is_skewed(each), float(np.abs(mapped(each, ends) - wanted).max())))


def _placed(scene: Scene, wanted: SceneObject, world_from_local: Array) -> Scene:
    """The scene with an object where a map says; what is in it stays where it is in the world."""
    children = [scene.under(child, None) for child in scene.children(wanted.id)]
    scene = scene.with_objects(children)
    moved = replace(scene.placed_in_world(wanted.id, world_from_local), solid=wanted.solid, pivot=wanted.pivot)
    scene = scene.with_objects([moved])
    return scene.with_objects([scene.under(child.id, wanted.id) for child in children])
