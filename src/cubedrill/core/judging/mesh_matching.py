"""Find the real placing of submitted meshes: programs bake placings into vertices and centre meshes again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.fits import FLOAT32_TOL
from cubedrill.core.geometry.registration import is_as_it_was, maps_onto, turned_towards
from cubedrill.core.geometry.solids import Mesh
from cubedrill.core.geometry.transform import inverse, is_skewed, mapped, require_affine
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
        if _is_in_place(target, wanted, points_world, item.solid):
            scene = _placed(scene, wanted, target.world_from_local(object_id))
            continue
        maps = _usable(maps_onto(wanted.solid, up, points_world, item.solid.corners), wanted)
        if not maps:
            unknown.add(object_id)
            continue
        if len(maps) == 1:
            maps = [turned_towards(wanted.solid, up, maps[0], target.world_from_local(object_id))]
        if len(maps) > 1 or not wanted.solid.corners_tell_turn:
            several.add(object_id)
        scene = _placed(scene, wanted, _likeliest(maps, target, object_id, _rounding(points_world)))
    return Registered(scene, frozenset(unknown), frozenset(several))


def _usable(maps: Sequence[Array], wanted: SceneObject) -> list[Array]:
    """Return those that an object can have as its place."""
    usable = []
    for each in maps:
        try:
            usable.append(require_affine(each, wanted.id, wanted.name))
        except CoreError:
            continue
    return usable


def _is_in_place(target: Scene, wanted: SceneObject, points_world: Array, mesh: Mesh) -> bool:
    """Tell whether a mesh is the solid just where the target has it: then nobody needs to look for it elsewhere."""
    if wanted.solid is None:
        return False
    linear = target.world_from_local(wanted.id)
    points = mapped(inverse(linear), points_world)
    near = _rounding(points_world) / float(np.linalg.svd(linear[:3, :3], compute_uv=False)[0])
    return is_as_it_was(wanted.solid, target.conventions.up_index, points, mesh.corners, near)


def _rounding(points: Array) -> float:
    """Return how far rounding to 32 bits may move a corner."""
    return FLOAT32_TOL * float(np.abs(points).max())


def _likeliest(maps: Sequence[Array], target: Scene, object_id: str, rounding: float) -> Array:
    """Return the map without skew, or else the one nearest to the target's.

    Differences within the rounding of the file count as zero, so that no tolerance is too narrow for a right scene
    in any format.
    """
    solid = target[object_id].solid
    assert solid is not None  # noqa: S101 - only solids are registered
    box = solid.local_box(target.conventions.up_index)
    ends = np.array([[(box.least, box.most)[k >> axis & 1][axis] for axis in range(3)] for k in range(8)])
    wanted = mapped(target.world_from_local(object_id), ends)
    away = [(is_skewed(each), float(np.abs(mapped(each, ends) - wanted).max())) for each in maps]
    best = min(range(len(maps)), key=away.__getitem__)
    return target.world_from_local(object_id) if away[best][1] <= rounding else maps[best]


def _placed(scene: Scene, wanted: SceneObject, world_from_local: Array) -> Scene:
    """Return the scene with an object where a map says; what is in it stays where it is in the world."""
    children = [scene.under(child, None) for child in scene.children(wanted.id)]
    scene = scene.with_objects(children)
    moved = replace(scene.placed_in_world(wanted.id, world_from_local), solid=wanted.solid, pivot=wanted.pivot)
    scene = scene.with_objects([moved])
    return scene.with_objects([scene.under(child.id, wanted.id) for child in children])
