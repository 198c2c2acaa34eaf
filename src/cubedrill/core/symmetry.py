"""Symmetries of solids, and how far two placed solids are apart at the most, least over those symmetries.

A solid is its normal shape (a cube, a round bar of height and diameter 2 …) under the half extents of its local box. A
map Q that leaves the normal shape as it is describes a placed solid anew: W · E Q E⁻¹ with E the half extents. For a
cuboid these are the 48 signed exchanges of axes, which include those that make a 2 × 1 × 1 one a 1 × 2 × 1 one; for a
round solid the turns and mirrors about its axis.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from typing import Final

import numpy as np
from scipy.optimize import brentq, minimize_scalar
from scipy.spatial.transform import Rotation

from cubedrill.core.solids import (
    Cone,
    Cuboid,
    Cylinder,
    Mesh,
    Plate,
    Pyramid,
    Ring,
    Solid,
    Sphere,
    Tube,
    Wedge,
    corner_signs,
    local_box,
    vertices,
)
from cubedrill.core.transform import determinant, parts_of, rotations_of_each
from cubedrill.core.values import Array

MESH_TOL: Final = 1e-9  # of a mesh's size: a vertex this near to where a symmetry takes another one counts as it
MOST_FOLD: Final = 12  # meshes are tried for turns of up to a twelfth
ANGLE_TOL: Final = 1e-13  # rad: where the search for the best turn of a round solid stops
TIE_TOL: Final = 1e-9  # of sizes: descriptions whose distances differ by less are told apart by their angle

SAME_EIGENVALUE: Final = 1e-14  # of the largest: axes of an ellipsoid that rounding cannot tell apart

RoundSolid = Cylinder | Cone | Tube | Ring


def half_extents(solid: Solid, up: int) -> Array:
    """(3,) half the local box; 1 along the flat axis of a plate, which has no extent to divide by."""
    half = local_box(solid, up).size / 2
    return np.where(half > 0, half, 1.0)


def symmetries(solid: Solid, up: int) -> list[Array]:
    """Return the finitely many maps (3, 3) of the normal shape onto itself; of a round solid, those at angle 0.

    Of a round solid they are to be followed by any turn about its axis, see `is_round`; of a sphere by any at all.
    """
    third = 3 - up
    match solid:
        case Cuboid():
            return list(_signed_exchanges((0, 1, 2)))
        case Plate():
            return list(_signed_exchanges((0, third)))
        case Pyramid():
            return list(_signed_exchanges((0, third)))
        case Wedge():
            swap = np.eye(3)
            swap[[0, up]] = swap[[up, 0]]
            flip = np.diag([-1.0 if axis == third else 1.0 for axis in range(3)])
            return [np.eye(3), flip, swap, swap @ flip]
        case Sphere():
            return [np.eye(3), -np.eye(3)]
        case Cone():
            return [np.eye(3), _mirror(0)]
        case Cylinder() | Tube() | Ring():
            return [np.eye(3), _mirror(0), _mirror(up), _mirror(0) @ _mirror(up)]
        case Mesh():
            return _of_mesh(vertices(solid, up))


def is_round(solid: Solid) -> bool:
    """Tell whether every turn about the up axis leaves the normal shape as it is."""
    return isinstance(solid, RoundSolid)


def rotation_count(solid: Solid, up: int, linear: Array) -> int | None:
    """How many rotations leave a solid as it is at its present size; none where there are infinitely many.

    linear (3, 3): world from local. Two sizes within MESH_TOL of each other count as equal.
    """
    sized = linear * half_extents(solid, up)
    lengths = np.linalg.norm(sized, axis=0)
    if isinstance(solid, Sphere) or is_round(solid):
        across = np.delete(lengths, up) if is_round(solid) else lengths
        return None if np.ptp(across) <= MESH_TOL * across.max() or _two_alike(lengths, solid) else 4
    kept = 0
    for q in symmetries(solid, up):
        after = q.T @ np.diag(lengths**2) @ q
        if determinant(q) > 0 and np.abs(after - np.diag(lengths**2)).max() <= 2 * MESH_TOL * (lengths**2).max():
            kept += 1
    return kept


def _two_alike(lengths: Array, solid: Solid) -> bool:
    a, b, c = sorted(lengths.tolist())
    return isinstance(solid, Sphere) and min(b - a, c - b) <= MESH_TOL * c


def _signed_exchanges(axes: tuple[int, ...]) -> Iterator[Array]:
    """Yield every exchange and turning round of these axes; the others stay."""
    for order in itertools.permutations(axes):
        for signs in itertools.product((1.0, -1.0), repeat=len(axes)):
            q = np.eye(3)
            for source, target, sign in zip(axes, order, signs, strict=True):
                q[:, source] = 0.0
                q[target, source] = sign
            yield q


def _mirror(axis: int) -> Array:
    return np.diag([-1.0 if i == axis else 1.0 for i in range(3)])


def _of_mesh(points: Array) -> list[Array]:
    """Exchanges of axes, and turns about each by up to a twelfth, that take every vertex to a vertex."""
    centre = (points.min(axis=0) + points.max(axis=0)) / 2
    half = np.ptp(points, axis=0) / 2
    normal = (points - centre) / np.where(half > 0, half, 1.0)
    turns = (
        Rotation.from_rotvec(np.eye(3)[axis] * 2 * math.pi * k / n).as_matrix()
        for axis in range(3)
        for n in range(3, MOST_FOLD + 1)
        for k in range(1, n)
    )
    found: list[Array] = []
    for q in itertools.chain(_signed_exchanges((0, 1, 2)), turns):
        if _keeps(normal, q) and not any(np.allclose(q, known, atol=MESH_TOL) for known in found):
            found.append(q)
    return found


def _keeps(points: Array, q: Array) -> bool:
    nearest = np.linalg.norm(points[:, None] - (points @ q.T)[None], axis=2).min(axis=0)
    return bool(nearest.max() <= 10 * MESH_TOL)


def described_like(solid: Solid, up: int, world_from_target: Array, world_from_submitted: Array) -> Array:
    """(4, 4) local map T by which the submitted solid W is described anew as W · T, as near to the target as it can be.

    Of all descriptions with the target's handedness the one with the least shape distance, then the smaller angle. The
    identity where no description has it.
    """
    centre, half = local_box(solid, up).centre, half_extents(solid, up)
    sign = determinant(world_from_target[:3, :3])
    best: tuple[float, float] | None = None
    chosen = np.eye(3)
    for q in _candidates(solid, up, world_from_target[:3, :3] * half, world_from_submitted[:3, :3] * half):
        linear = half[:, None] * q / half
        after = world_from_submitted @ _about(linear, centre)
        if determinant(after[:3, :3]) * sign <= 0:
            continue
        distance = shape_distance(solid, up, world_from_target, after)
        rank = (distance, angle_between(world_from_target, after))
        if (
            best is None
            or rank[0] < best[0] - TIE_TOL * best[0]
            or (rank[0] <= best[0] * (1 + TIE_TOL) and rank < best)
        ):
            best, chosen = rank, linear
    return _about(chosen, centre)


def _about(linear: Array, centre: Array) -> Array:
    local = np.eye(4)
    local[:3, :3] = linear
    local[:3, 3] = centre - linear @ centre
    return local


def angle_between(world_from_target: Array, world_from_submitted: Array) -> float:
    """Angle in rad of the least rotation between two orientations.

    2 · atan2(|v|, |w|) on the quaternion of the difference, good near 0 and near half a turn. Source: Huynh, "Metrics
    for 3D Rotations" (2009), Φ₆ by another formula.
    """
    first, second = (parts_of(w).rotation for w in (world_from_target, world_from_submitted))
    x, y, z, w = Rotation.from_matrix(second @ first.T).as_quat().tolist()
    return 2 * math.atan2(math.hypot(x, y, z), abs(w))


def angles_from(target: Array, submitted: Array) -> Array:
    """(n,) angles in rad as `angle_between` finds them, from one orientation (3, 3) to each of many (n, 3, 3)."""
    quaternions = Rotation.from_matrix(rotations_of_each(submitted) @ rotations_of_each(target[None])[0].T).as_quat()
    return np.asarray(2 * np.arctan2(np.linalg.norm(quaternions[:, :3], axis=1), np.abs(quaternions[:, 3])))


def _candidates(solid: Solid, up: int, target: Array, submitted: Array) -> Iterator[Array]:
    """Yield maps of the normal shape onto itself; target, submitted (3, 3): half extents in the world, as columns."""
    finite = symmetries(solid, up)
    if isinstance(solid, Sphere):
        right_t, right_s = (np.linalg.svd(sized)[2] for sized in (target, submitted))
        u, _, v = np.linalg.svd(submitted.T @ target)
        for q in finite:
            yield q @ u @ v
        for exchange in _signed_exchanges((0, 1, 2)):  # principal axes upon principal axes
            yield right_s.T @ exchange @ right_t
        return
    if not is_round(solid):
        yield from finite
        return
    first, second = (up + 1) % 3, (up + 2) % 3
    for q in finite:
        k = (submitted @ q).T @ target
        start = math.atan2(k[second, first] - k[first, second], k[first, first] + k[second, second])
        for quarter in range(4):
            yield q @ _turn(up, start + quarter * math.pi / 2)
            yield q @ _turn(up, quarter * math.pi / 2)


def _turn(up: int, angle: float) -> Array:
    return np.asarray(Rotation.from_rotvec(np.eye(3)[up] * angle).as_matrix())


def shape_distance(solid: Solid, up: int, world_from_target: Array, world_from_submitted: Array) -> float:
    """Largest distance between corresponding surface points of one solid placed twice.

    Over vertices for flat-sided solids, over the true surface for round ones. Source: the largest deviation behind
    MSSD, Hodaň et al., BOP challenge (2020). The distance is convex in the point, so it is greatest on the hull's
    extreme points: corners, rims, apex.
    """
    apart = world_from_submitted - world_from_target
    linear, place = apart[:3, :3], apart[:3, 3]
    across = [axis for axis in range(3) if axis != up]

    def rim(height: float, radius: float) -> float:
        return _farthest_on_circle(place + height * linear[:, up], *(radius * linear[:, axis] for axis in across))

    match solid:
        case Cuboid() | Plate():
            points = corner_signs() * local_box(solid, up).size / 2
            return float(np.linalg.norm(points @ linear.T + place, axis=1).max())
        case Wedge() | Pyramid() | Mesh():
            return float(np.linalg.norm(vertices(solid, up) @ linear.T + place, axis=1).max())
        case Cylinder() | Tube():
            return max(rim(side * solid.height / 2, solid.diameter / 2) for side in (1, -1))
        case Cone():
            apex = float(np.linalg.norm(place + linear[:, up] * solid.height / 2))
            return max(apex, rim(-solid.height / 2, solid.diameter / 2))
        case Sphere():
            return _farthest_on_sphere(linear * (solid.diameter / 2), place)
        case Ring():
            section, way = solid.thickness / 2, (solid.diameter - solid.thickness) / 2

            def at(angle: float) -> float:
                centre = place + way * (math.cos(angle) * linear[:, across[0]] + math.sin(angle) * linear[:, across[1]])
                return _farthest_on_sphere(linear * section, centre)

            return -_least_over_a_turn(lambda angle: -at(angle))


def _farthest_on_circle(centre: Array, first: Array, second: Array) -> float:
    """Largest |c + a cos φ + b sin φ|; the extremes of its square are the roots of a quartic."""
    p, q = 2 * float(centre @ first), 2 * float(centre @ second)
    r, s = (float(first @ first) - float(second @ second)) / 2, float(first @ second)
    # derivative: −p sin φ + q cos φ − 2 r sin 2φ + 2 s cos 2φ, with z = e^{iφ} a quartic in z
    quartic = [s + 1j * r, (q + 1j * p) / 2, 0, (q - 1j * p) / 2, s - 1j * r]
    angles = [0.0, math.pi / 2, math.pi, -math.pi / 2]
    if any(abs(c) > 0 for c in quartic):
        angles += (
            np.angle(np.roots(quartic)).tolist() if abs(quartic[0]) > 0 else [math.atan2(q, p), math.atan2(-q, -p)]
        )
    return max(float(np.linalg.norm(centre + first * math.cos(t) + second * math.sin(t))) for t in angles)


def _farthest_on_sphere(linear: Array, place: Array) -> float:
    """Largest |A x + p| over unit x, by the secular equation of the trust-region problem.

    Source: Moré and Sorensen, "Computing a trust region step" (1983), its hard case included: where the pull has no
    part along the longest axis, the rest of x lies along that axis.
    """
    values, vectors = np.linalg.eigh(linear.T @ linear)
    pull = vectors.T @ (linear.T @ place)
    top, size = float(values[-1]), float(np.linalg.norm(pull))
    gaps = top - values
    longest = gaps <= SAME_EIGENVALUE * top
    rest = np.where(longest, 0.0, pull / np.where(longest, 1.0, gaps))
    found = [np.eye(3)[2], -np.eye(3)[2]]
    if (short := 1 - float(rest @ rest)) >= 0:
        found += [rest + sign * math.sqrt(short) * np.eye(3)[2] for sign in (1, -1)]
    low = size * 1e-12 + top * SAME_EIGENVALUE

    def excess(shift: float) -> float:
        return float(np.linalg.norm(pull / (gaps + shift))) - 1

    if low > 0 and excess(low) > 0:
        x = pull / (gaps + float(brentq(excess, low, 2 * size + low, xtol=1e-300, rtol=1e-15)))
        found.append(x / np.linalg.norm(x))
    return max(float(np.linalg.norm(linear @ (vectors @ x) + place)) for x in found)


def _least_over_a_turn(function: Callable[[float], float]) -> float:
    samples = np.linspace(0, 2 * math.pi, 73)
    best = float(min(samples, key=function))
    step = float(samples[1])
    found = minimize_scalar(function, bounds=(best - step, best + step), method="bounded", options={"xatol": ANGLE_TOL})
    return min(float(found.fun), function(best))
