"""Whether what rests would tip: its centre of volume against the hull of all that it touches from above."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial import ConvexHull, HalfspaceIntersection, QhullError

from cubedrill.core.geometry.solids import Plate
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.scene.contact import OVER_TOL, faces_of, lift_onto
from cubedrill.core.scene.measure import size_of
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Array

CONTACT_SIDES: Final = 360  # of round solids, whose rim then lies within 4e-5 of its radius
THIN: Final = 1e-6  # of the bodies' size: patches of contact are cut at least so thick
LONG: Final = 4.0  # of the bodies' size: how far what lies above or below is drawn out to be cut
FACE_PLACES: Final = 12  # decimals of a unit normal: those of one flat face are the same


@dataclass(frozen=True)
class Tip:
    """The tipping of an object: direction_world (3,) across up, and how far its centre is beyond the edge."""

    direction_world: Array
    beyond: float


def tips(scene: Scene, object_id: str, tolerance: float) -> Tip | None:
    """Tell which way an object would tip, by its centre of volume and all that it touches from above; none: it stands.

    Its children count with it. What lies within the tolerance below it is touched, the ground included.
    """
    body = [object_id, *scene.descendants(object_id)]
    solids = [i for i in body if scene[i].solid is not None]
    others = [i for i, item in scene.objects.items() if item.solid is not None and i not in body]
    up = scene.conventions.up_index
    across = [(up + 1) % 3, (up + 2) % 3]
    size = size_of(scene, solids)
    patches = [np.zeros((0, 2))]
    for upper in solids:
        patches += [_patch(scene, upper, None, tolerance)]
        patches += [_patch(scene, upper, lower, tolerance) for lower in others]
    edge, middle = np.concatenate(patches), centre_of_volume(scene, solids)[across]
    nearest = _nearest_of_hull(edge, middle) if len(edge) else middle
    beyond = float(np.linalg.norm(middle - nearest))
    if len(edge) and beyond <= OVER_TOL * size:
        return None
    direction = np.zeros(3)
    direction[across] = (middle - nearest) / beyond if beyond > 0 else 0.0
    return Tip(direction, beyond)


def _patch(scene: Scene, upper: str, lower: str | None, tolerance: float) -> Array:
    """(n, 2) corners of where a solid lies on another one, or on the ground, to within a tolerance, seen along up."""
    up = scene.conventions.up_index
    lift = lift_onto(scene, upper, lower or "ground")
    if lift is None or abs(lift) > tolerance + THIN * size_of(scene, [upper]):
        return np.zeros((0, 2))
    size = size_of(scene, [upper] if lower is None else [upper, lower])
    thick = max(tolerance, THIN * size)
    above = _pieces(scene, upper)
    below = [_ground(np.concatenate(above), up, size)] if lower is None else _pieces(scene, lower)
    found = [np.zeros((0, 2))]
    for one, other in itertools.product(above, below):
        if _near(one, other, thick):
            raised = other + thick * np.eye(3)[up]
            found.append(_common(one, _drawn_out(raised, up, -LONG * size), up, LONG * size))
    return np.concatenate(found)


def _near(first: Array, second: Array, most: float) -> bool:
    apart = np.maximum(first.min(axis=0) - second.max(axis=0), second.min(axis=0) - first.max(axis=0))
    return bool(apart.max() <= most)


def _pieces(scene: Scene, object_id: str) -> list[Array]:
    """Return the corners (n, 3) in the world of convex pieces that a solid is made of: itself, or its triangles."""
    solid = scene[object_id].solid
    if solid is None:
        return []
    if not solid.is_convex or isinstance(solid, Plate):  # a flat body that stands upright has no inside to be cut
        return list(faces_of(scene, object_id))
    points, _ = solid.triangulated(scene.conventions.up_index, CONTACT_SIDES)
    return [mapped(scene.world_from_local(object_id), points)]


def _common(upper: Array, lower: Array, up: int, long: float) -> Array:
    """Return (n, 2) corners, seen along up, of what lies in the lower convex body of the upper one or above it."""
    if len(upper) > 3:
        return _cut(_drawn_out(upper, up, long), lower, up)
    return _clipped(upper, _faces_of_hull(lower))[:, [(up + 1) % 3, (up + 2) % 3]]


def _clipped(polygon: Array, faces: Array) -> Array:
    """Return the corners (n, 3) of what of a polygon is inside of all faces (m, 4: outward normal and offset).

    Source: Sutherland and Hodgman, "Reentrant polygon clipping" (1974).
    """
    for face in faces:
        outside = polygon @ face[:3] + face[3]
        kept = []
        for i in range(len(polygon)):
            before, here = outside[i - 1], outside[i]
            if (before > 0) != (here > 0):
                kept.append(polygon[i - 1] + (polygon[i] - polygon[i - 1]) * (before / (before - here)))
            if here <= 0:
                kept.append(polygon[i])
        if not kept:
            return np.zeros((0, 3))
        polygon = np.array(kept)
    return polygon


def _faces_of_hull(points: Array) -> Array:
    """(m, 4) the faces of a hull as outward normals and offsets, each once; one that nothing is inside of if flat."""
    try:
        return np.unique(ConvexHull(points).equations.round(FACE_PLACES), axis=0)
    except QhullError:
        return np.array([[0.0, 0.0, 0.0, 1.0]])  # a flat piece that stands upright has nothing above it


def _drawn_out(points: Array, up: int, length: float) -> Array:
    further = points.copy()
    further[:, up] += length
    return np.concatenate((points, further))


def _ground(points: Array, up: int, size: float) -> Array:
    """Return (8, 3) a block whose top is the ground, wider than some points."""
    least, most = points.min(axis=0) - size, points.max(axis=0) + size
    least[up], most[up] = -LONG * size, 0.0
    return np.array([[(least, most)[i >> axis & 1][axis] for axis in range(3)] for i in range(8)])


def _cut(first: Array, second: Array, up: int) -> Array:
    """Return (n, 2) corners of what two convex bodies, given by their corners, have in common, seen along up."""
    across = [(up + 1) % 3, (up + 2) % 3]
    middle = (first.min(axis=0).clip(second.min(axis=0)) + first.max(axis=0).clip(None, second.max(axis=0))) / 2
    scale = max(float(np.ptp(first, axis=0).max()), 1e-300)
    try:
        faces = np.concatenate([ConvexHull((points - middle) / scale).equations for points in (first, second)])
        inside = _deep_inside(faces)
        if inside is None:
            return np.zeros((0, 2))
        corners = HalfspaceIntersection(faces, inside).intersections
    except QhullError:
        return np.zeros((0, 2))  # they have no more than a sliver in common
    return np.asarray(corners[:, across] * scale + middle[across])


def _deep_inside(faces: Array) -> Array | None:
    """(3,) the point farthest inside of all faces (n, 4: outward normal and offset); none where there is none."""
    from scipy.optimize import linprog  # noqa: PLC0415 - large, and needed only where something is to stand

    norms = np.linalg.norm(faces[:, :3], axis=1)
    found = linprog(
        (0, 0, 0, -1), np.column_stack((faces[:, :3], norms)), -faces[:, 3], bounds=[(None, None)] * 3 + [(0, None)]
    )
    return None if found.x is None or found.x[3] <= 0 else np.asarray(found.x[:3])


def _nearest_of_hull(points: Array, to: Array) -> Array:
    """Return the point (2,) of the convex hull of some points (n, 2) that is nearest to another one (2,)."""
    try:
        hull = ConvexHull(points)
    except QhullError:  # all on one line, or at one spot
        along = np.linalg.svd(points - points.mean(axis=0))[2][0]
        ends = points[[int((points @ along).argmin()), int((points @ along).argmax())]]
        return _nearest_of_edge(ends[0], ends[1], to)
    if (hull.equations[:, :2] @ to + hull.equations[:, 2] <= 0).all():
        return to
    near = [_nearest_of_edge(points[i], points[j], to) for i, j in hull.simplices]
    return min(near, key=lambda point: float(np.linalg.norm(point - to)))


def _nearest_of_edge(first: Array, second: Array, to: Array) -> Array:
    edge = second - first
    square = float(edge @ edge)
    return np.asarray(first + edge * (min(1.0, max(0.0, float((to - first) @ edge) / square)) if square else 0.0))


def centre_of_volume(scene: Scene, ids: Sequence[str]) -> Array:
    """(3,) the common centre of volume in the world of solids; of those without any, of their areas' centres alike."""
    centres = np.array([mapped(scene.world_from_local(i), _own_centre(scene, i)) for i in ids])
    volumes = np.array([_volume(scene, i) for i in ids])
    return np.asarray(np.average(centres, axis=0, weights=volumes if volumes.sum() > 0 else None))


def _volume(scene: Scene, object_id: str) -> float:
    solid = scene[object_id].solid
    return 0.0 if solid is None else solid.volume(scene.world_from_local(object_id)[:3, :3])


def _own_centre(scene: Scene, object_id: str) -> Array:
    solid, up = scene[object_id].solid, scene.conventions.up_index
    return np.zeros(3) if solid is None else solid.centroid(up)
