"""Register solids to meshes of other programs: the affine maps that take a solid's surface onto a mesh.

Programs triangulate, weld, re-order and split vertices, and bake places into them. What they leave is the shape: the
volume of its hull, whose centre and covariance are blind to all that, and its corners.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product
from typing import Final

import numpy as np
from scipy.spatial import ConvexHull, KDTree, QhullError

from cubedrill.core.geometry.fits import (
    FEWEST_SIDES,
    FLAT,
    FLATTEST,
    VOLUME,
    signed_volume,
    tolerance_of,
)
from cubedrill.core.geometry.solids import Mesh, Solid, Sphere
from cubedrill.core.geometry.surface import Triangles
from cubedrill.core.geometry.transform import affine, mapped
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.values import Array, Indices, frozen

ALIKE: Final = 1e-4  # of a whitened length: corners that are tried as partners, before all are measured
MOST_CORNERS: Final = 400  # of a hull; with more it is too round for corners to tell anything


@dataclass(frozen=True)
class _Shape:
    """A closed surface with its hull: corners (k, 3), centre (3,), and the map (3, 3) that makes its covariance one."""

    points: Array
    triangles: Indices
    corners: Array
    planes: Array
    centre: Array
    white: Array
    is_convex: bool


def maps_onto(solid: Solid, up: int, points: Array, triangles: Indices) -> list[Array]:
    """Return the affine maps that take a solid onto a mesh.

    Parameters
    ----------
    solid : Solid
    up : int
        Index of the solid's up axis.
    points : (n, 3) array
    triangles : (m, 3) array of int

    Returns
    -------
    list of (4, 4) array
        All maps that fit: as many as the solid has symmetries. Empty if the mesh has another shape.

    Notes
    -----
    The order of vertices does not select one of several maps, since a program that sorts vertices may order them as a
    symmetry would. It is used only if the corners do not determine the map.
    """
    if not solid.matched_by_corners:
        return solid.fitted_to(up, points, triangles)
    found = _shape(points, triangles)
    wanted = None if found is None else _shape(*_with_as_many_sides(solid, up, len(found.corners)))
    maps = [] if found is None or wanted is None else _maps(solid, up, wanted, found)
    maps = maps or solid.fitted_to(up, points, triangles)
    if maps:
        return maps
    own = solid.triangulated(up)[0]
    in_order = _fitted(own, points, tolerance_of(points)) if own.shape == points.shape else None
    return [] if in_order is None else [in_order]


def turned_towards(solid: Solid, up: int, target_from_local: Array, wanted: Array) -> Array:
    """Return the map whose rotation is nearest to a wanted one, among those that a solid's free turns allow.

    Parameters
    ----------
    solid : Solid
    up : int
        Index of the solid's up axis.
    target_from_local : (4, 4) array
    wanted : (4, 4) array

    Returns
    -------
    (4, 4) array
        The same map if the solid's corners determine its rotation.
    """
    if solid.corners_tell_turn:
        return target_from_local
    linear = target_from_local[:3, :3]
    turn = solid.free_turn_towards(up, linear, wanted[:3, :3])
    return frozen(affine(linear @ turn, target_from_local[:3, 3]))


def is_as_it_was(solid: Solid, up: int, points: Array, triangles: Indices, near: float | None = None) -> bool:
    """Tell whether a mesh, in its own coordinates, is an unchanged solid with any number of sides.

    Parameters
    ----------
    solid : Solid
    up : int
        Index of the solid's up axis.
    points : (n, 3) array
    triangles : (m, 3) array of int
    near : float, optional
        Largest distance of a vertex from the solid; `tolerance_of` of the points by default.

    Returns
    -------
    bool
    """
    wanted, faces = solid.triangulated(up)
    ends = (np.array((each.min(axis=0), each.max(axis=0))) for each in (wanted, points))
    near = tolerance_of(points) if near is None else near
    if float(np.abs(next(ends) - next(ends)).max()) > near:
        return False
    if solid.free_turns != "none":
        return any(solid.stands(up, each) for each in maps_onto(solid, up, points, triangles))
    volumes = abs(signed_volume(wanted, faces)), abs(signed_volume(points, triangles))
    alike = abs(volumes[0] - volumes[1]) <= VOLUME * max(volumes)
    return alike and _farthest(points, wanted) <= near


def measures_of(points: Array, triangles: Indices) -> tuple[int, Array]:
    """Return measurements of a mesh that no motion, mirroring or triangulation changes.

    Parameters
    ----------
    points : (n, 3) array
    triangles : (m, 3) array of int

    Returns
    -------
    corners : int
        Number of corners of the hull; 0 if it says nothing.
    lengths : (5,) array
        Cube roots of the volumes of the hull and of the mesh, and the deviations of the hull along its principal
        axes. A flat mesh has the square root of its area and a quarter of its perimeter instead of the volumes.

    Notes
    -----
    A mesh whose vertices lie on an ellipsoid is measured as that ellipsoid.
    """
    ball = Sphere(diameter=2).fitted_to(0, points, triangles)
    if ball:
        return 0, _lengths_of_ellipsoid(ball[0])
    shape = _shape(points, triangles)
    return (0 if shape is None else len(shape.corners)), _lengths_of(points, triangles)


def measures_of_solid(solid: Solid, up: int, world_from_local: Array, corners: int) -> Array:
    """Return the five lengths of `measures_of` of a solid in the world, a round one with as many corners."""
    if isinstance(solid, Sphere):
        return _lengths_of_ellipsoid(world_from_local[:3, :3] * solid.diameter / 2)
    points, triangles = _with_as_many_sides(solid, up, corners)
    placed = mapped(world_from_local, points)
    return measures_of(placed, triangles)[1] if isinstance(solid, Mesh) else _lengths_of(placed, triangles)


def _lengths_of_ellipsoid(of_unit_ball: Array) -> Array:
    """Return the lengths of what a map makes of the ball of radius 1, whose deviation along an axis is 1 / √5."""
    radii = np.sort(np.linalg.svd(of_unit_ball[:3, :3], compute_uv=False))
    volume = math.cbrt(4 / 3 * math.pi * float(radii.prod()))
    return np.array((volume, volume, *(radii / math.sqrt(5))))


def _lengths_of(points: Array, triangles: Indices) -> Array:
    try:
        hull = ConvexHull(points)
    except (QhullError, ValueError):
        return _lengths_of_flat(points)
    middle = points[hull.vertices].mean(axis=0)
    volume, _, spread = _moments(points[hull.simplices] - middle)
    own = abs(signed_volume(points, triangles))
    return np.array((math.cbrt(volume), math.cbrt(own), *np.sqrt(np.abs(np.linalg.eigvalsh(spread)))))


def _lengths_of_flat(points: Array) -> Array:
    middle = points.mean(axis=0)
    axes = np.linalg.svd(points - middle, full_matrices=False)[2]
    try:
        hull = ConvexHull((points - middle) @ axes[:2].T)
    except (QhullError, ValueError):
        return np.zeros(5)
    return np.array((0.0, 0.0, math.sqrt(hull.volume), hull.area / 4, 0.0))


def _fitted(source: Array, target: Array, near: float) -> Array | None:
    """The affine map that takes points (n, 3) to points (n, 3), each to within a distance; none where none does."""
    own = np.column_stack((source, np.ones(len(source))))
    solution, _, rank, _ = np.linalg.lstsq(own, target, rcond=None)
    if (
        rank < own.shape[1]
        or float(np.abs(own @ solution - target).max()) > near
        or np.linalg.cond(solution[:3]) > FLATTEST
    ):
        return None
    target_from_source = np.eye(4)
    target_from_source[:3] = solution.T
    return frozen(target_from_source)


def _with_as_many_sides(solid: Solid, up: int, corners: int) -> Triangles:
    """Return the surface of a solid; of a round one with as many sides as the corners of a mesh tell."""
    return solid.triangulated(up, max(solid.sides_from_corners(corners), FEWEST_SIDES))


def _shape(points: Array, triangles: Indices) -> _Shape | None:
    """Return the surface with its hull; none where it is flat."""
    try:
        hull = ConvexHull(points)
    except (QhullError, ValueError):
        return None
    middle = points[hull.vertices].mean(axis=0)
    volume, centre, spread = _moments(points[hull.simplices] - middle)
    corners = points[_corners(hull)]
    if not 4 <= len(corners) <= MOST_CORNERS or np.linalg.eigvalsh(spread)[0] <= 0:
        return None
    white = np.linalg.inv(np.linalg.cholesky(spread))
    own = abs(signed_volume(points, triangles))
    convex = abs(own - volume) <= VOLUME * volume
    return _Shape(points, triangles, corners, hull.equations, centre + middle, white, convex)


def _moments(facets: Array) -> tuple[float, Array, Array]:
    """Return the volume, centre and covariance of what facets (n, 3, 3) around the origin enclose.

    Source: a tetrahedron with a corner at the origin has the second moment V/20 · (Σ aᵢaᵢᵀ + ssᵀ), s the sum of its
    corners; from memory, held by the tests.
    """
    volumes = np.abs(np.linalg.det(facets)) / 6
    sums = facets.sum(axis=1)
    whole = float(volumes.sum())
    centre = np.einsum("n,ni->i", volumes, sums) / 4 / whole
    second = np.einsum("n,nki,nkj->ij", volumes, facets, facets) + np.einsum("n,ni,nj->ij", volumes, sums, sums)
    return whole, centre, second / 20 / whole - np.outer(centre, centre)


def _corners(hull: ConvexHull) -> Indices:
    """Return the vertices of a hull where three independent faces meet: not those that lie within a face or an edge."""
    rows = np.repeat(np.arange(len(hull.simplices)), 3)
    at = hull.simplices.ravel()
    normals = hull.equations[rows, :3]
    grams = np.zeros((len(hull.points), 3, 3))
    np.add.at(grams, at, normals[:, :, None] * normals[:, None, :])
    least = np.linalg.eigvalsh(grams[hull.vertices])[:, 0]
    return np.sort(hull.vertices[least > FLAT])


# Where symmetries take the corners of a solid, by its kind, the axis that is up and the number of its vertices: its
# sizes are none of it, since a map that stretches it takes its symmetries along.
_SYMMETRIES: Final[LruCache[tuple[str, int, int], list[Indices]]] = LruCache(200)


def _maps(solid: Solid, up: int, wanted: _Shape, found: _Shape) -> list[Array]:
    """Return all maps that take a solid's shape onto another: the first one found, after each symmetry of the solid."""
    first = next(_each_map(wanted, found), None)
    if first is None:
        return []

    def own() -> list[Indices]:
        return [places for places, _ in _each_map(wanted, wanted)]

    key = (solid.kind, up, len(wanted.points))
    symmetries = own() if isinstance(solid, Mesh) else _SYMMETRIES.get(key, own)
    corners = np.column_stack((wanted.corners, np.ones(len(wanted.corners))))
    maps = first[1] @ (np.linalg.pinv(corners) @ corners[np.array(symmetries)]).transpose(0, 2, 1)
    return [frozen(affine(each[:3, :3], each[:3, 3])) for each in maps]


def _each_map(wanted: _Shape, found: _Shape) -> Iterator[tuple[Indices, Array]]:
    """Yield each map that takes one shape onto the other, with the corners that its corners come to.

    Of those that take three of its corners to alike ones.
    """
    if len(wanted.corners) != len(found.corners):
        return
    ours, theirs = ((each.corners - each.centre) @ each.white.T for each in (wanted, found))
    three = _independent(ours)
    lengths = np.linalg.norm(theirs, axis=1)
    partners = [np.flatnonzero(np.abs(lengths - np.linalg.norm(ours[i])) <= ALIKE * (1 + lengths)) for i in three]
    gram, grams = ours[three] @ ours[three].T, theirs @ theirs.T
    tree = KDTree(theirs)
    for first, second in product(partners[0], partners[1]):
        if first == second or abs(grams[first, second] - gram[0, 1]) > ALIKE * (1 + abs(gram[0, 1])):
            continue
        alike = (abs(grams[first, partners[2]] - gram[0, 2]) <= ALIKE * (1 + abs(gram[0, 2]))) & (
            abs(grams[second, partners[2]] - gram[1, 2]) <= ALIKE * (1 + abs(gram[1, 2]))
        )
        for third in partners[2][alike]:
            turned = np.linalg.solve(ours[three], theirs[[first, second, third]])
            places = np.asarray(tree.query(ours @ turned)[1], dtype=np.intp)
            if len(np.unique(places)) < len(places):
                continue
            found_map = _fitted(wanted.corners, found.corners[places], tolerance_of(found.points))
            if found_map is not None and _is_whole(wanted, found, found_map):
                yield places, found_map


def _independent(vectors: Array) -> list[int]:
    """Return three of some vectors that are as far from lying in one plane as a greedy choice finds."""
    first = int(np.argmax(np.linalg.norm(vectors, axis=1)))
    second = int(np.argmax(np.linalg.norm(np.cross(vectors, vectors[first]), axis=1)))
    third = int(np.argmax(np.abs(vectors @ np.cross(vectors[first], vectors[second]))))
    return [first, second, third]


def _is_whole(wanted: _Shape, found: _Shape, found_from_wanted: Array) -> bool:
    """Tell whether it is the whole shape, and not one with the same corners: its inner vertices and its volume."""
    near = tolerance_of(found.points)
    ours = signed_volume(wanted.points, wanted.triangles) * float(np.linalg.det(found_from_wanted[:3, :3]))
    theirs = signed_volume(found.points, found.triangles)
    if abs(abs(ours) - abs(theirs)) > VOLUME * abs(ours):
        return False
    if wanted.is_convex:
        off = found.points @ found.planes[:, :3].T + found.planes[:, 3]
        return bool((np.abs(off).min(axis=1) <= 4 * near).all())
    return _farthest(found.points, mapped(found_from_wanted, wanted.points)) <= 2 * near


def _farthest(points: Array, others: Array) -> float:
    """Return the largest distance from the others to their nearest points."""
    return float(np.max(KDTree(points).query(others)[0]))
