"""Shared parts of writers: surfaces in world, and notes on what a format without a tree loses."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from cubedrill.core.geometry.transform import mapped
from cubedrill.core.scene.scene import Scene, SceneObject
from cubedrill.core.values import Indices
from cubedrill.formats.imported import Surface


def world_surfaces(scene: Scene) -> Iterator[tuple[SceneObject, Surface]]:
    """Yield each object that has a solid, with its surface in the world, facing outward there too, mirrored or not."""
    for item in scene.objects.values():
        if item.solid is not None:
            world_from_local = scene.world_from_local(item.id)
            points, corners = item.solid.triangulated(scene.conventions.up_index)
            outward = corners if np.linalg.det(world_from_local[:3, :3]) > 0 else corners[:, ::-1]
            yield item, Surface(mapped(world_from_local, points), np.asarray(outward, dtype=np.intp))


def after(count: int, surface: Surface) -> Indices:
    """Return the corners of a surface whose vertices stand after so many others."""
    return np.asarray(surface.corners + count, dtype=np.intp)


def said_of(scene: Scene) -> str:
    """Return the conventions of a scene in words, for a remark in a file that has no other place for them."""
    said = scene.conventions
    return f"{said.up} up, {said.handedness}-handed, in {said.length}"
