"""Measuring a scene: sizes, areas, angles, distances, overlaps, what is outside the plot."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.box import Box, feature_signs
from cubedrill.core.geometry.closest import Closest, Support, closest_points, overlap_depth
from cubedrill.core.geometry.meshes import closest_of_meshes
from cubedrill.core.geometry.solids import Solid
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.scene.spaces import Frame, Space, frame_of
from cubedrill.core.values import Array


def own_sizes(scene: Scene, object_id: str) -> Array:
    """Return the sizes of an object along its own axes: its local box times the column lengths of its world map.

    Returns
    -------
    (3,) array
        In scene lengths.

    Raises
    ------
    CoreError
        "no-box".
    """
    columns = np.linalg.norm(scene.world_from_local(object_id)[:3, :3], axis=0)
    return np.asarray(scene.require_local_box(object_id).size * columns)


def box_in(scene: Scene, object_id: str, space: Space) -> tuple[Frame, Box]:
    """Return the frame of a space, and the exact box of an object along its axes.

    Returns
    -------
    The frame, and a Box from the frame's origin in scene lengths.

    Raises
    ------
    CoreError
        "unknown-object", "no-box", or the error of the space.
    """
    frame = frame_of(scene, space, object_id)
    axes_from_world = IDENTITY.copy()
    axes_from_world[:3, :3] = frame.world_from_axes.T
    axes_from_world[:3, 3] = -frame.world_from_axes.T @ frame.origin_world
    return frame, scene.require_box(object_id, axes_from_world)


def volume(scene: Scene, object_id: str) -> float:
    """Return the volume of a solid as it stands in the world; raise CoreError "no-solid" for an assembly."""
    return _solid(scene, object_id).volume(scene.world_from_local(object_id)[:3, :3])


def area(scene: Scene, object_id: str) -> float:
    """Return the area of a solid's surface as it stands in the world; raise CoreError "no-solid" for an assembly."""
    linear = scene.world_from_local(object_id)[:3, :3]
    return _solid(scene, object_id).area(scene.conventions.up_index, linear)


def _solid(scene: Scene, object_id: str) -> Solid:
    item = scene[object_id]
    if item.solid is None:
        raise CoreError("no-solid", object=object_id, name=item.name)
    return item.solid


@dataclass(frozen=True)
class Feature:
    """A point, edge or face of an object's box in the world: its middle (3,) and the half extents that span it.

    spans (k, 3): none for a point, one for an edge, two for a face. normal: of a face, outward, length 1.
    """

    middle: Array
    spans: Array
    normal: Array | None


def feature_of(scene: Scene, object_id: str, at: str) -> Feature:
    """Return a feature of an object.

    Parameters
    ----------
    at : str
        ``pivot``, ``centre``, a corner (three signs), an edge (two signs) or a face (one sign).

    Raises
    ------
    CoreError
        "unknown-object" or "no-box".
    """
    world_from_local = scene.world_from_local(object_id)
    if at == "pivot":
        return Feature(scene.pivot_world(object_id), np.zeros((0, 3)), None)
    box = scene.require_local_box(object_id)
    signs = feature_signs(at)
    middle = mapped(world_from_local, box.feature(at))
    if at == "centre":
        return Feature(middle, np.zeros((0, 3)), None)
    open_axes = np.flatnonzero(signs == 0)
    spans = (world_from_local[:3, open_axes] * (box.size[open_axes] / 2)).T
    return Feature(middle, spans, _normal(world_from_local, signs) if len(open_axes) == 2 else None)


def _normal(world_from_local: Array, signs: Array) -> Array:
    """Return the outward (3,) normal of a face: normals go by the inverse transpose."""
    normal = np.linalg.inv(world_from_local[:3, :3]).T @ signs
    return np.asarray(normal / np.linalg.norm(normal))


def distance_between(first: Feature, second: Feature) -> Closest:
    """Return the closest points of two features, and their distance.

    Parameters
    ----------
    first, second : Feature
        A point, a straight edge or a flat face.

    Notes
    -----
    A bounded least-squares problem with at most four unknowns, exact to rounding.
    Source: Ericson, "Real-Time Collision Detection" (2005), section 5.1 (closest points of segments and rectangles).
    """
    spans = np.concatenate((first.spans, -second.spans))
    shares = np.zeros(0)
    if len(spans):
        from scipy.optimize import lsq_linear  # noqa: PLC0415 - slow to import, and needed by few submissions

        shares = lsq_linear(spans.T, second.middle - first.middle, (-1, 1), method="bvls", tol=1e-14).x
    a = first.middle + shares[: len(first.spans)] @ first.spans
    b = second.middle + shares[len(first.spans) :] @ second.spans
    return Closest(a, b, float(np.linalg.norm(a - b)))


def angle_between(first: Feature, second: Feature) -> float | None:
    """Angle in rad between two edges (0 … π/2), two faces (of their outward normals, 0 … π), or an edge and a face.

    Of an edge and a face it is that between the line and the plane (0 … π/2). None where one of them is a point or
    has no extent.
    """
    directions = [_direction(feature) for feature in (first, second)]
    if directions[0] is None or directions[1] is None:
        return None
    a, b = directions[0], directions[1]
    angle = math.atan2(float(np.linalg.norm(np.cross(a, b))), float(a @ b))
    if first.normal is not None and second.normal is not None:
        return angle
    acute = min(angle, math.pi - angle)
    return acute if first.normal is None and second.normal is None else math.pi / 2 - acute


def _direction(feature: Feature) -> Array | None:
    if feature.normal is not None or len(feature.spans) != 1:
        return feature.normal
    length = float(np.linalg.norm(feature.spans[0]))
    return np.asarray(feature.spans[0] / length) if length > 0 else None


@dataclass(frozen=True)
class Sides:
    """Distances (3,) from an origin to the near side, middle and far side of a box, an axis each, with sign."""

    near: Array
    middle: Array
    far: Array


def from_origin(box: Box, origin: Array) -> Sides:
    """Return how far a box's sides are from an origin (3,), both in the same coordinates.

    The near side is the one of smaller absolute distance; of two alike, the lesser.
    """
    least, most = box.least - origin, box.most - origin
    flipped = np.abs(most) < np.abs(least)
    return Sides(np.where(flipped, most, least), box.centre - origin, np.where(flipped, least, most))


def closest(scene: Scene, first: str, second: str) -> Closest:
    """Return the closest points of two objects' solids in the world, and their distance.

    Parameters
    ----------
    scene : Scene
    first, second : str
        Ids. For an assembly, the closest of its solids counts.

    Returns
    -------
    Closest
        The distance is 0 if the solids touch or overlap.

    Raises
    ------
    CoreError
        "unknown-object" or "no-box".

    Notes
    -----
    Exact for convex solids under any affine map. Tubes, rings and meshes are represented by their triangles, with
    `meshes.FINE_SIDES` sides.
    """
    pairs = ((a, b) for a in solid_ids(scene, first) for b in solid_ids(scene, second))
    return min((_closest_solids(scene, a, b) for a, b in pairs), key=lambda found: found.distance)


def _closest_solids(scene: Scene, first: str, second: str) -> Closest:
    if all(_solid(scene, i).is_convex for i in (first, second)):
        return closest_points(support_of(scene, first), support_of(scene, second), size_of(scene, (first, second)))
    up = scene.conventions.up_index
    return closest_of_meshes(*((_solid(scene, i), up, scene.world_from_local(i)) for i in (first, second)))


def overlap(scene: Scene, first: str, second: str) -> float:
    """Return the overlap of two objects: the length of the shortest move that separates their solids.

    Parameters
    ----------
    scene : Scene
    first, second : str
        Ids. For an assembly, the deepest of its solids counts.

    Returns
    -------
    float
        In scene lengths; 0 if they do not overlap.

    Raises
    ------
    CoreError
        "unknown-object" or "no-box".

    Notes
    -----
    Exact for convex solids. A tube, ring or mesh is represented by its hull once its triangles overlap.
    """
    pairs = [(a, b) for a in solid_ids(scene, first) for b in solid_ids(scene, second)]
    return max(_overlap_solids(scene, a, b) for a, b in pairs)


def _overlap_solids(scene: Scene, first: str, second: str) -> float:
    convex = all(_solid(scene, i).is_convex for i in (first, second))
    if not convex and _closest_solids(scene, first, second).distance > 0:
        return 0.0
    return overlap_depth(support_of(scene, first), support_of(scene, second), size_of(scene, (first, second)))


def solid_ids(scene: Scene, object_id: str) -> list[str]:
    """Return an object that is a solid, or else all solids in it; raise CoreError "no-box" where there are none."""
    owners = [object_id] if scene[object_id].solid else scene.descendants(object_id)
    solids = [owner for owner in owners if scene[owner].solid]
    if not solids:
        raise CoreError("no-box", object=object_id, name=scene[object_id].name)
    return solids


def support_of(scene: Scene, object_id: str) -> Support:
    """Return the support mapping of a solid in the world; of one that is not convex, that of its hull."""
    solid, up = _solid(scene, object_id), scene.conventions.up_index
    world_from_local = scene.world_from_local(object_id)
    linear, place = world_from_local[:3, :3], world_from_local[:3, 3]
    return lambda direction_world: linear @ solid.support_point(up, linear.T @ direction_world) + place


def size_of(scene: Scene, ids: Sequence[str]) -> float:
    """Return the longest side of the world boxes of some objects."""
    return max(float(scene.require_box(i, IDENTITY).size.max()) for i in ids)


PLOT_TOL: Final = 1e-9  # scene lengths: a side on the plot's wall is inside


def outside_plot(scene: Scene) -> dict[str, Box]:
    """Return, for each solid that reaches out of the plot, how far it does: a box whose `least` counts beyond min.

    Both are 0 or more: `least` (3,) how far below the plot's min, `most` (3,) how far above its max. Nothing where the
    scene has no plot.
    """
    if scene.plot is None:
        return {}
    found: dict[str, Box] = {}
    for item in scene.objects.values():
        if item.solid is not None:
            box = scene.require_box(item.id, IDENTITY)
            below, above = (np.maximum(d, 0) for d in (scene.plot.least - box.least, box.most - scene.plot.most))
            if max(below.max(), above.max()) > PLOT_TOL:
                found[item.id] = Box(below, above)
    return found
