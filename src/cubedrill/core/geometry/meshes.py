"""Distances of solids that are not convex, by their triangles, with the library coal."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from cubedrill.core.geometry.closest import Closest
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.surface import Triangles
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.values import Array, Indices

FINE_SIDES: Final = 96  # a round side then lies within 0.03 % of its radius

MOST_LIFTS: Final = 200  # so many lifts are tried at most
TOUCHING: Final = 1e-9  # of the solids' size: nearer surfaces touch

Placed = tuple[Solid, int, Array]  # solid, index of the up axis, world_from_local (4, 4)


def closest_of_meshes(first: Placed, second: Placed) -> Closest:
    """Return closest points of two triangulated solids in the world, and their distance; 0 where surfaces cross.

    A solid wholly inside another's hollow has the distance to its wall.
    """
    import coal  # noqa: PLC0415 - large, and needed only where a tube, a ring or a mesh is measured

    points = [_triangles(*placed) for placed in (first, second)]
    scale = max(float(np.ptp(p[0], axis=0).max()) for p in points)
    models = [_model(p / scale, corners) for p, corners in points]  # coal is at its best with sizes of about 1
    request, result = coal.DistanceRequest(), coal.DistanceResult()
    place = coal.Transform3s()
    distance = coal.distance(models[0], place, models[1], place, request, result)
    nearest = (result.getNearestPoint1(), result.getNearestPoint2())
    a, b = (np.asarray(point, dtype=np.float64).ravel() * scale for point in nearest)
    return Closest(a, b, max(float(distance) * scale, 0.0))


def first_free(placed: Sequence[Placed], up: int, lifts: Sequence[float]) -> float:
    """Return the first of some lifts (from the least on) by which the first of two solids is clear of the second.

    Where two surfaces just touch they are clear. The last one where none is.
    """
    import coal  # noqa: PLC0415

    points = [_triangles(*each) for each in placed]
    scale = max(float(np.ptp(p[0], axis=0).max()) for p in points)
    models = [_model(p / scale, corners) for p, corners in points]
    request, still = coal.CollisionRequest(), coal.Transform3s()
    for lift in _few(lifts):
        offset = np.zeros(3)
        offset[up] = lift / scale + TOUCHING
        moved = coal.Transform3s(np.eye(3), offset)
        if not coal.collide(models[0], moved, models[1], still, request, coal.CollisionResult()):
            return lift
    return lifts[-1]


def _few(lifts: Sequence[float]) -> list[float]:
    """So many of the lifts as may be tried: all, or those that divide them evenly, the last one included."""
    if len(lifts) <= MOST_LIFTS:
        return list(lifts)
    return [lifts[round(i * (len(lifts) - 1) / (MOST_LIFTS - 1))] for i in range(MOST_LIFTS)]


def _triangles(solid: Solid, up: int, world_from_local: Array) -> Triangles:
    points, corners = solid.triangulated(up, FINE_SIDES)
    return mapped(world_from_local, points), corners


def _model(points: Array, corners: Indices) -> object:
    import coal  # noqa: PLC0415

    model = coal.BVHModelOBBRSS()
    model.beginModel(len(corners), 0)
    for a, b, c in points[corners]:
        model.addTriangle(a, b, c)
    model.endModel()
    return model
