"""Resting: how far an object must move up or down until it just rests on another one.

By the real surfaces: of convex solids by their support mappings, of others by their triangles.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np

from cubedrill.core.geometry.closest import Support, difference_along
from cubedrill.core.geometry.meshes import first_free
from cubedrill.core.geometry.solids import Mesh, Plate
from cubedrill.core.geometry.transform import determinant, mapped
from cubedrill.core.scene.measure import size_of, solid_ids, support_of
from cubedrill.core.scene.scene import IDENTITY, Scene
from cubedrill.core.values import Array, Flags, Indices

OVER_TOL: Final = 1e-9  # scene lengths: what overlaps across by less does not stand over it
CAST_TOL: Final = 1e-13  # of the bodies' size: how far the cast may still come
ASIDE: Final = 1e-13  # of the bodies' size: the line that is cast stands off corners by this
MOST_ROUNDS: Final = 300
FACE_SIDES: Final = 96  # of a tube or a ring, taken by its triangles: its rim then lies within 5e-4 of its radius
NARROW: Final = 1e-9  # sine of an angle: edges that go the same way, seen along up, do not cross
TOGETHER: Final = 128  # so many neighbouring triangles are held against those in their common box
CELLS: Final = 16  # a side: the grid by which triangles are neighbours


def lift_onto(scene: Scene, object_id: str, other: str) -> float | None:
    """Return how far an object must move up to just rest on another one.

    Parameters
    ----------
    scene : Scene
    object_id : str
    other : str
        An id, or ``ground``.

    Returns
    -------
    float, or None
        Negative: down. None if no part of the object is above the other.

    Raises
    ------
    CoreError
        "no-box".
    """
    if other == "ground":
        return -float(scene.require_box(object_id, IDENTITY).least[scene.conventions.up_index])
    lifts = [_lift(scene, a, b) for a in solid_ids(scene, object_id) for b in solid_ids(scene, other)]
    return max((lift for lift in lifts if lift is not None), default=None)


def _lift(scene: Scene, upper: str, lower: str) -> float | None:
    size = size_of(scene, (upper, lower))
    up = scene.conventions.up_index
    if not all(_convex(scene, i) for i in (upper, lower)):
        return _lift_of_meshes(scene, upper, lower)
    return cast_along(support_of(scene, lower), support_of(scene, upper), up, size)


def _convex(scene: Scene, object_id: str) -> bool:
    solid = scene[object_id].solid
    return solid is not None and solid.is_convex


def cast_along(lower: Support, upper: Support, up: int, size: float) -> float | None:
    """Return how far the upper of two convex bodies must move along up to rest on the lower one.

    Parameters
    ----------
    lower, upper : Support
        Maps a direction (3,) in the world to the farthest point of the body.
    up : (3,) array
    size : float
        A length of about the bodies' extent.

    Returns
    -------
    float, or None
        None if the bodies are beside each other.

    Notes
    -----
    This is the largest s with s · up in the difference of the bodies. A triangle of points of that difference,
    crossed by the line along up, moves outward: the farthest point along its normal replaces the corner that leaves
    the line inside, until no point is farther.
    Source: the simplex method with column generation (Dantzig and Wolfe, 1960); as ray casting, van den Bergen
    (2004).
    """
    across = [(up + 1) % 3, (up + 2) % 3]
    corners = _around_the_line(lower, upper, across)
    if corners is None:
        return None
    line = np.array((0.57, 0.31)) * ASIDE * size
    height = -math.inf
    for _ in range(MOST_ROUNDS):
        if abs(_area(corners[:, across])) <= (ASIDE * size) ** 2:
            break  # as narrow as rounding: the line goes through an edge
        weights = _shares(corners[:, across], line)
        height = float(weights @ corners[:, up])
        slope = np.linalg.solve(corners[1:, across] - corners[0, across], corners[1:, up] - corners[0, up])
        normal = np.zeros(3)
        normal[up], normal[across] = 1.0, -slope
        new = difference_along(lower, upper, normal)
        if float(normal @ (new - corners[0])) <= CAST_TOL * size * float(np.abs(normal).max()):
            break
        shares = _shares(corners[:, across], new[across])
        with np.errstate(divide="ignore", invalid="ignore"):
            leaving = int(np.where(shares > 0, weights / shares, np.inf).argmin())
        corners[leaving] = new
    return height


def _area(corners: Array) -> float:
    (a, b), (c, d) = (corners[1:] - corners[0]).tolist()
    return float(a * d - b * c)


def _shares(corners: Array, point: Array) -> Array:
    """Return the weights, which sum to 1, of three points across (3, 2) that give another one (2,), (3,)."""
    edges = (corners[1:] - corners[0]).T
    rest = np.linalg.solve(edges, point - corners[0])
    return np.array((1 - rest.sum(), *rest))


def _around_the_line(lower: Support, upper: Support, across: list[int]) -> Array | None:
    """Return (3, 3) three points of the difference of two bodies whose triangle, seen along up, has the origin inside.

    None where the bodies overlap across by OVER_TOL or less, in whichever direction that is.
    """
    angles = list(np.arange(3) * 2 * math.pi / 3)
    points: list[Array] = []
    for _ in range(MOST_ROUNDS):
        for angle in angles:
            direction = np.zeros(3)
            direction[across] = math.cos(angle), math.sin(angle)
            point = difference_along(lower, upper, direction)
            if float(direction @ point) <= OVER_TOL:
                return None
            points.append(point)
        at = np.array([math.atan2(point[across[1]], point[across[0]]) for point in points])
        order = at.argsort()
        gaps = np.diff(np.append(at[order], at[order[0]] + 2 * math.pi))
        widest = int(gaps.argmax())
        if gaps[widest] < math.pi - ASIDE:
            way = _narrow_way(np.array([points[i] for i in order])[:, across])
            if way is None:
                return np.array([points[i] for i in _three_around(at[order], order)])
            angles = [way]
        else:
            angles = [float(at[order[widest]] + gaps[widest] / 2)]
    return None


def _narrow_way(outline: Array) -> float | None:
    """Return the direction in which a convex outline (n, 2) goes OVER_TOL or less beyond the origin."""
    edges = np.roll(outline, -1, axis=0) - outline
    outward = np.stack((edges[:, 1], -edges[:, 0]), axis=1)
    length = np.linalg.norm(outward, axis=1)
    sides = length > OVER_TOL  # points closer together than that are one corner
    away = np.vecdot(outward[sides], outline[sides]) / length[sides]
    if away.min(initial=math.inf) > OVER_TOL:
        return None
    x, y = outward[sides][away.argmin()]
    return math.atan2(y, x)


def _three_around(sorted_angles: Array, order: Indices) -> list[int]:
    """Return three of some points whose directions, sorted, leave no gap of half a turn: the origin is among them."""
    opposite = sorted_angles[0] + math.pi
    after = int(np.searchsorted(sorted_angles, opposite)) % len(order)
    return [int(order[0]), int(order[after - 1]), int(order[after])]


def _lift_of_meshes(scene: Scene, upper: str, lower: str) -> float | None:
    """`lift_onto` for two solids by their triangles.

    Where it is free it comes down until it meets the other; where it is not, it goes up until it is free.
    """
    up = scene.conventions.up_index
    faces = [_shadows(faces_of(scene, upper, -1.0), up), _shadows(faces_of(scene, lower, 1.0), up)]
    meetings = np.concatenate([np.zeros(0), *_meetings(*faces)])
    if not len(meetings):
        return None
    if meetings.max() <= 0:
        return float(meetings.max())
    placed = [(scene[i].solid, up, scene.world_from_local(i)) for i in (upper, lower)]
    rounding = CAST_TOL * size_of(scene, (upper, lower))
    lifts = np.unique(meetings[meetings > rounding])
    free = first_free([(s, u, w) for s, u, w in placed if s is not None], up, [0.0, *lifts.tolist()])
    if free > 0:
        return free
    below = meetings[meetings <= rounding]
    return float(below.max()) if len(below) else float(meetings.max())


def faces_of(scene: Scene, object_id: str, way: float = 0.0) -> Array:
    """Return the triangles of a solid in the world.

    Parameters
    ----------
    way : int
        1: only those that face up; −1: only those that face down; 0: all. A mesh may have its triangles either way
        round, so all of its triangles are returned.

    Returns
    -------
    (n, 3, 3) array
    """
    solid, up = scene[object_id].solid, scene.conventions.up_index
    if solid is None:
        return np.zeros((0, 3, 3))
    world_from_local = scene.world_from_local(object_id)
    points, corners = solid.triangulated(up, FACE_SIDES)
    faces: Array = mapped(world_from_local, points)[corners]
    if isinstance(solid, Mesh | Plate) or way == 0:
        return faces
    outward = np.cross(faces[:, 1] - faces[:, 0], faces[:, 2] - faces[:, 0])[:, up] * determinant(
        world_from_local[:3, :3]
    )
    return faces[outward * way >= 0]


@dataclass(frozen=True)
class _Shadows:
    """Triangles (n, 3, 3), the last coordinate along up, and the boxes of their shadows across: (n, 2) each."""

    faces: Array
    least: Array
    most: Array

    def some(self, which: Array | Flags | Indices | slice) -> _Shadows:
        return _Shadows(self.faces[which], self.least[which], self.most[which])

    def within(self, other: _Shadows) -> _Shadows:
        """Return those that may lie over or under some of the others."""
        least, most = other.least.min(axis=0, initial=math.inf), other.most.max(axis=0, initial=-math.inf)
        return self.some(((self.least <= most) & (self.most >= least)).all(axis=1))

    def in_cells(self) -> _Shadows:
        """Return them sorted by the cells of a grid, so that neighbours come one after the other."""
        whole = np.maximum((self.most.max(axis=0) - self.least.min(axis=0)) / CELLS, 1e-300)
        return self.some(np.lexsort(np.floor((self.least - self.least.min(axis=0)) / whole).T))


def _shadows(faces: Array, up: int) -> _Shadows:
    turned = faces[:, :, [(up + 1) % 3, (up + 2) % 3, up]]
    return _Shadows(turned, turned[:, :, :2].min(axis=1), turned[:, :, :2].max(axis=1))


def _meetings(upper: _Shadows, lower: _Shadows) -> Iterator[Array]:
    """Yield how far the upper triangles are to be moved up until a corner meets a face, or an edge an edge."""
    upper, lower = upper.within(lower), lower.within(upper)
    if not len(upper.faces) or not len(lower.faces):
        return
    upper = upper.in_cells()
    for first in range(0, len(upper.faces), TOGETHER):
        part = upper.some(slice(first, first + TOGETHER))
        near = lower.within(part)
        over = (part.least[:, None] <= near.most) & (part.most[:, None] >= near.least)
        which, others = np.nonzero(over.all(axis=2))
        a, b = part.faces[which], near.faces[others]
        for corner in range(3):
            yield _on_face(a[:, corner], b)
            yield -_on_face(b[:, corner], a)
            for other in range(3):
                yield _crossing(a[:, [corner, corner - 1]], b[:, [other, other - 1]])


def _on_face(points: Array, faces: Array) -> Array:
    """(k,) how high faces (n, 3, 3) are above points (n, 3), of those that have their point in them, seen along up."""
    edges, away = faces[:, 1:] - faces[:, :1], points - faces[:, 0]
    area = edges[:, 0, 0] * edges[:, 1, 1] - edges[:, 0, 1] * edges[:, 1, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        first = (away[:, 0] * edges[:, 1, 1] - away[:, 1] * edges[:, 1, 0]) / area
        second = (edges[:, 0, 0] * away[:, 1] - edges[:, 0, 1] * away[:, 0]) / area
        upright = np.abs(area) <= NARROW * np.prod(np.linalg.norm(edges[:, :, :2], axis=2), axis=1)
        inside = (first >= 0) & (second >= 0) & (first + second <= 1) & ~upright
        height = first * edges[:, 0, 2] + second * edges[:, 1, 2] - away[:, 2]
    return np.asarray(height[inside])


def _crossing(first: Array, second: Array) -> Array:
    """Return (k,) how high the second edges (n, 2, 3) are above the first, of those that cross, seen along up."""
    a, b, apart = first[:, 1] - first[:, 0], second[:, 1] - second[:, 0], second[:, 0] - first[:, 0]
    area = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        along = (apart[:, 0] * b[:, 1] - apart[:, 1] * b[:, 0]) / area
        beside = (apart[:, 0] * a[:, 1] - apart[:, 1] * a[:, 0]) / area
        beside_it = np.abs(area) <= NARROW * np.linalg.norm(a[:, :2], axis=1) * np.linalg.norm(b[:, :2], axis=1)
        crosses = (along > 0) & (along < 1) & (beside > 0) & (beside < 1) & ~beside_it
        height = apart[:, 2] + beside * b[:, 2] - along * a[:, 2]
    return np.asarray(height[crosses])
