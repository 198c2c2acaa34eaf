"""Spheres, rings and plates fitted to the points of a mesh: the affine maps that take the solid onto it."""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from scipy.spatial import ConvexHull

from cubedrill.core.geometry.solids import Plate, Ring, Sphere
from cubedrill.core.geometry.transform import affine, mapped
from cubedrill.core.values import Array, Flags, Indices, frozen

NEAR: Final = 1e-6  # of a mesh's size: how far a vertex may lie from where one map takes it
SHORT: Final = 6 * 2.0**-24  # of the largest coordinate: what is lost where files hold numbers of 32 bits
VOLUME: Final = 1e-4  # of a volume
FLAT: Final = 1e-6  # square of the angle by which faces at a corner are to differ: rounding turns them too
FLATTEST: Final = 1e8  # of a map's largest factor to its least: beyond, all lies in one plane
FEWEST_SIDES: Final = 5  # with fewer it is no round solid but a block or a wedge
AROUND: Final = 0.8  # of an ellipsoid's diameters: so far at least reach vertices that go all around it
LEFT_OF_RING: Final = 0.5  # of its volume; five sides each way leave 0.57


def tolerance_of(points: Array) -> float:
    """How far vertices may be off: rounding in a file of numbers of 32 bits, or a share of the mesh's size."""
    return max(NEAR * float(np.ptp(points, axis=0).max()), SHORT * float(np.abs(points).max()))


def signed_volume(points: Array, triangles: Indices) -> float:
    """What triangles enclose, negative where they face inward."""
    return float(np.linalg.det(points[triangles] - points.mean(axis=0)).sum() / 6)


def sphere_maps(ball: Sphere, points: Array) -> list[Array]:
    """The map of a sphere whose vertices, however many, lie on an ellipsoid; its turn is one of many.

    Source: the quadric through points by least squares, x Q x + 2 b x = 1; its centre is −Q⁻¹ b.
    """
    middle, size = points.mean(axis=0), float(np.ptp(points, axis=0).max())
    x, y, z = ((points - middle) / size).T
    terms = np.column_stack((x * x, y * y, z * z, 2 * x * y, 2 * x * z, 2 * y * z, 2 * x, 2 * y, 2 * z))
    if len(points) < terms.shape[1]:
        return []
    found, _, rank, _ = np.linalg.lstsq(terms, np.ones(len(points)), rcond=None)
    a, b, c, d, e, f, *linear = found
    quadric = np.array(((a, d, e), (d, b, f), (e, f, c)))
    if rank < terms.shape[1] or np.linalg.eigvalsh(quadric)[0] <= 0:
        return []
    centre = -np.linalg.solve(quadric, linear)
    values, axes = np.linalg.eigh(quadric / (1 + centre @ quadric @ centre))
    reach = np.ptp(np.column_stack((x, y, z)) @ axes, axis=0) * np.sqrt(values) / 2
    if float(reach.min()) < AROUND:
        return []  # two circles lie on many ellipsoids, and reach to the ends of none
    linear_map = (axes / np.sqrt(values)) @ axes.T * size / (ball.diameter / 2)
    linear_map = _evened(linear_map, 4 * tolerance_of(points) / (ball.diameter / 2))
    target_from_local = np.eye(4)
    target_from_local[:3, :3], target_from_local[:3, 3] = linear_map, middle + centre * size
    radii = np.linalg.norm((points - target_from_local[:3, 3]) @ np.linalg.inv(linear_map).T, axis=1)
    off = np.abs(radii / (ball.diameter / 2) - 1).max() * size
    return [frozen(target_from_local)] if off <= 4 * tolerance_of(points) else []


def ring_maps(ring: Ring, up: int, points: Array, triangles: Indices) -> list[Array]:
    """The map of a ring onto what has all its vertices on one, so many around and so many in a section.

    Its turn about itself is one of many. In the frame in which the vertices' covariance is one, a ring is stretched
    along its axis alone, which is one of the main axes of their fourth moments. Of a stretch a around and b along it,
    (aρ − R)² + (bh)² = r² is linear in a², a and b².
    """
    vertices = np.unique(points, axis=0)
    if len(vertices) < FEWEST_SIDES**2:
        return []
    centre = vertices.mean(axis=0)
    spread = np.cov((vertices - centre).T)
    if np.linalg.cond(spread) > FLATTEST:
        return []
    white = np.linalg.inv(np.linalg.cholesky(spread))
    whitened = (vertices - centre) @ white.T
    fourth = np.einsum("n,ni,nj->ij", (whitened**2).sum(axis=1), whitened, whitened)
    for axis in np.linalg.eigh(fourth)[1].T:
        stretch = _stretch_of_ring(ring, whitened, axis)
        if stretch is not None:
            around, along = stretch
            own = np.linalg.svd(axis[None])[2][1:] / around
            linear: Array = np.linalg.inv(white) @ np.insert(own, up, axis / along, axis=0).T
            flat = [each for each in range(3) if each != up]
            linear[:, flat] = _evened(linear[:, flat], 4 * tolerance_of(points) / (ring.diameter / 2))
            target_from_local = affine(linear, centre)
            if _is_whole_ring(ring, up, target_from_local, points, triangles):
                return [frozen(target_from_local)]
    return []


def _evened(columns: Array, near: float) -> Array:
    """Columns of a map, equally long and square where they are that but for so much: by look, an oval's turn counts."""
    left, sizes, right = np.linalg.svd(columns, full_matrices=False)
    even: Array = left @ right * sizes.mean()
    return even if np.ptp(sizes) <= near else columns


def _stretch_of_ring(ring: Ring, whitened: Array, axis: Array) -> tuple[float, float] | None:
    """What takes whitened points to a ring's own size, around an axis and along it; none where they lie on no ring."""
    middle, radius = (ring.diameter - ring.thickness) / 2, ring.thickness / 2
    height = whitened @ axis
    across = np.linalg.norm(whitened - np.outer(height, axis), axis=1)
    terms = np.column_stack((across**2, -2 * middle * across, height**2))
    found, _, rank, _ = np.linalg.lstsq(terms, np.full(len(terms), radius**2 - middle**2), rcond=None)
    return (float(found[1]), math.sqrt(found[2])) if rank == terms.shape[1] and found.min() > 0 else None


def _is_whole_ring(ring: Ring, up: int, target_from_local: Array, points: Array, triangles: Indices) -> bool:
    """Tell whether all vertices lie on a ring, and enclose all of it but what its few sides cut off."""
    middle, radius = (ring.diameter - ring.thickness) / 2, ring.thickness / 2
    local_from_target: Array = np.linalg.inv(target_from_local).astype(np.float64)
    own = mapped(local_from_target, points)
    across = np.linalg.norm(np.delete(own, up, axis=1), axis=1)
    off = np.abs(np.hypot(across - middle, own[:, up]) - radius).max()
    near = 4 * tolerance_of(points) / np.linalg.svd(target_from_local[:3, :3], compute_uv=False)[-1]
    whole = 2 * math.pi**2 * middle * radius**2 * abs(float(np.linalg.det(target_from_local[:3, :3])))
    return bool(off <= near) and LEFT_OF_RING * whole <= abs(signed_volume(points, triangles)) <= (1 + VOLUME) * whole


def plate_maps(plate: Plate, up: int, points: Array, triangles: Indices) -> list[Array]:
    """The eight maps of a plate onto what is flat with four corners; across it nothing is told or stretched."""
    middle = points.mean(axis=0)
    _, spreads, axes = np.linalg.svd(points - middle, full_matrices=False)
    near = tolerance_of(points)
    if len(points) < 4 or float(np.abs((points - middle) @ axes[2]).max()) > near or spreads[1] <= near:
        return []
    hull = ConvexHull((points - middle) @ axes[:2].T)
    around = points[hull.vertices[_turns(hull)]]
    sides = np.cross(
        points[triangles[:, 1]] - points[triangles[:, 0]], points[triangles[:, 2]] - points[triangles[:, 0]]
    )
    covered = float(np.linalg.norm(sides, axis=1).sum()) / 2 / hull.volume  # once, or twice where it has both sides
    if len(around) != 4 or min(abs(covered - 1), abs(covered - 2)) > VOLUME:
        return []
    half = np.array(plate.size) / 2
    own = np.column_stack((np.array(((1, 1), (-1, 1), (-1, -1), (1, -1))) * half, np.ones(4)))
    maps = []
    for way in (around, around[::-1]):
        for first in range(4):
            corners = np.roll(way, first, axis=0)
            solution: Array = np.linalg.lstsq(own, corners, rcond=None)[0].astype(np.float64)
            if float(np.abs(own @ solution - corners).max()) <= near:
                maps.append(_upright(solution, up))
    return maps


def _turns(hull: ConvexHull) -> Flags:
    """Which corners of a flat hull are real ones: there its edge turns."""
    along = np.diff(hull.points[hull.vertices], axis=0, append=hull.points[hull.vertices[:1]])
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    before = np.roll(along, 1, axis=0)
    return np.asarray(np.abs(before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]) > math.sqrt(FLAT))


def _upright(solution: Array, up: int) -> Array:
    """The map of a plate from where its two axes and its middle go; its normal stays one long, and right-handed."""
    target_from_local = np.eye(4)
    flat = [axis for axis in range(3) if axis != up]
    target_from_local[:3, flat], target_from_local[:3, 3] = solution[:2].T, solution[2]
    normal = np.cross(target_from_local[:3, (up + 1) % 3], target_from_local[:3, (up + 2) % 3])
    target_from_local[:3, up] = normal / np.linalg.norm(normal)
    return frozen(target_from_local)
