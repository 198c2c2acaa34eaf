"""The surface of a solid under an affine map: area, volume, and triangles to draw it with."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final, assert_never

import numpy as np
from scipy.special import elliprg

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.solids import (
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
from cubedrill.core.geometry.transform import determinant
from cubedrill.core.values import Array, Indices

DEFAULT_SIDES: Final = 20  # common practice, no source: a round solid has 20 sides unless told otherwise
FEWEST_SIDES: Final = 3
CLOSED: Final = 1e-12  # of a profile: what the sine of a whole turn leaves of nothing
AREA_TOL: Final = 1e-13  # relative change at which an integral over whole turns has settled; rounding is about 1e-15
MOST_SAMPLES: Final = 4096  # an integrand still unsettled here belongs to a solid stretched ten thousandfold

Triangles = tuple[Array, Indices]  # points (n, 3) and corners (m, 3) of int


def volume(solid: Solid, linear: Array) -> float:
    """Volume of a solid under a linear map (3, 3); of a mesh, what its triangles enclose.

    Source: Euclid, Elements XII (pyramid, cone), Archimedes, On the Sphere and Cylinder (ball), Pappus (ring); the
    divergence theorem for meshes.
    """
    return abs(determinant(linear)) * _own_volume(solid)


def _own_volume(solid: Solid) -> float:
    match solid:
        case Cuboid():
            return float(np.prod(solid.size))
        case Wedge():
            return float(np.prod(solid.size)) / 2
        case Pyramid():
            return float(np.prod(solid.size)) / 3
        case Sphere():
            return np.pi * solid.diameter**3 / 6
        case Cylinder():
            return np.pi * solid.diameter**2 / 4 * solid.height
        case Cone():
            return np.pi * solid.diameter**2 / 12 * solid.height
        case Tube():
            return np.pi * (solid.diameter**2 - solid.bore**2) / 4 * solid.height
        case Ring():
            # Pappus: the section's area times the way of its centre.
            return (np.pi * solid.thickness**2 / 4) * np.pi * (solid.diameter - solid.thickness)
        case Plate():
            return 0.0
        case Mesh():
            a, b, c = np.moveaxis(solid.points[solid.corners], 1, 0)
            return abs(float(np.einsum("ij,ij->", a, np.cross(b, c)))) / 6
        case _:
            assert_never(solid)


def area(solid: Solid, up: int, linear: Array) -> float:
    """Area of a solid's surface under a linear map (3, 3); a plate counts one side.

    A surface element n dA becomes cof(A) n dA (Nanson's formula). Ellipsoids and elliptic cylinders are Carlson's R_G
    (DLMF 19.33.1 and 19.30.5); cones and rings are integrated over whole turns, where equal steps converge faster
    than any power.
    """
    stretch = _cofactor(linear)
    match solid:
        case Sphere():
            semi = np.linalg.svd(linear, compute_uv=False) * (solid.diameter / 2)
            a, b, c = (semi**2).tolist()
            return float(4 * np.pi * elliprg(a * b, a * c, b * c))
        case Cylinder():
            return _lateral(solid.diameter, solid.height, up, stretch) + 2 * _disc(solid.diameter, up, stretch)
        case Tube():
            walls = sum(_lateral(d, solid.height, up, stretch) for d in (solid.diameter, solid.bore))
            return walls + 2 * (_disc(solid.diameter, up, stretch) - _disc(solid.bore, up, stretch))
        case Cone():
            return _cone_side(solid, up, stretch) + _disc(solid.diameter, up, stretch)
        case Ring():
            return _ring_area(solid, up, stretch)
        case Cuboid() | Wedge() | Pyramid() | Plate() | Mesh():
            points, corners = triangulated(solid, up)
            a, b, c = np.moveaxis((points @ linear.T)[corners], 1, 0)
            return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum()) / 2
        case _:
            assert_never(solid)


def _cofactor(linear: Array) -> Array:
    """(3, 3) what takes an area vector through a linear map: columns are cross products of the map's columns."""
    x, y, z = linear.T
    return np.column_stack((np.cross(y, z), np.cross(z, x), np.cross(x, y)))


def _axes(up: int) -> tuple[int, int]:
    """Return the two axes across up, so that they and up are a right-handed triple of coordinates."""
    return (up + 1) % 3, (up + 2) % 3


def _disc(diameter: float, up: int, stretch: Array) -> float:
    return float(np.pi * diameter**2 / 4 * np.linalg.norm(stretch[:, up]))


def _lateral(diameter: float, height: float, up: int, stretch: Array) -> float:
    """Wall of a cylinder: its height times the perimeter of the ellipse that the stretched normals lie on."""
    across = stretch[:, list(_axes(up))] * (diameter / 2)
    a, b = np.linalg.svd(across, compute_uv=False) ** 2
    return float(height * 8 * elliprg(0.0, a, b))


def _cone_side(cone: Cone, up: int, stretch: Array) -> float:
    radius, first, second = cone.diameter / 2, *_axes(up)

    def size(turn: Array) -> Array:
        """Length of the stretched normal, times the side's area per radian."""
        normals = np.zeros((len(turn), 3))
        normals[:, first], normals[:, second], normals[:, up] = np.cos(turn), np.sin(turn), radius / cone.height
        return np.asarray(np.linalg.norm(normals @ stretch.T, axis=1) * (radius * cone.height / 2))

    return _over_a_turn(size)


def _ring_area(ring: Ring, up: int, stretch: Array) -> float:
    tube, first, second = ring.thickness / 2, *_axes(up)
    way = (ring.diameter - ring.thickness) / 2

    def around(section: float) -> float:
        def size(turn: Array) -> Array:
            normals = np.zeros((len(turn), 3))
            normals[:, first], normals[:, second] = np.cos(turn) * np.cos(section), np.sin(turn) * np.cos(section)
            normals[:, up] = np.sin(section)
            return np.asarray(np.linalg.norm(normals @ stretch.T, axis=1))

        # Farther out there is more of it and farther in as much less, and opposite places are stretched alike.
        return _over_a_turn(size) * tube * way

    return _over_a_turn(np.vectorize(around))


def _over_a_turn(integrand: Callable[[Array], Array]) -> float:
    """Integral over 0 … 2π by equal steps, doubled until it has settled to AREA_TOL."""
    samples, before = 32, np.inf
    while True:
        total = 2 * np.pi * float(np.mean(integrand(2 * np.pi * np.arange(samples) / samples)))
        if abs(total - before) <= AREA_TOL * abs(total) or samples >= MOST_SAMPLES:
            return total
        samples, before = 2 * samples, total


def triangulated(solid: Solid, up: int, sides: int = DEFAULT_SIDES) -> Triangles:
    """Triangles of a solid in its own coordinates, fronts outside in right-handed conventions.

    sides: of round solids, at least FEWEST_SIDES. Returns points (n, 3) and corners (m, 3). Raises CoreError
    "too-few-sides".
    """
    if sides < FEWEST_SIDES:
        raise CoreError("too-few-sides", fewest=FEWEST_SIDES)
    match solid:
        case Cuboid() | Wedge() | Pyramid() | Plate() | Mesh():
            return _flat_sided(solid, up)
        case Sphere():
            rings = max(2, sides // 2)
            polar = np.pi * np.arange(rings + 1) / rings - np.pi / 2
            profile = np.column_stack((np.cos(polar), np.sin(polar))) * (solid.diameter / 2)
            profile[(0, -1), 0] = 0.0  # the poles, which cos(π/2) only nearly reaches
            return lathe(profile, up, sides)
        case Cylinder():
            r, h = solid.diameter / 2, solid.height / 2
            return lathe(np.array(((0, -h), (r, -h), (r, h), (0, h))), up, sides)
        case Cone():
            r, h = solid.diameter / 2, solid.height / 2
            return lathe(np.array(((0, -h), (r, -h), (0, h))), up, sides)
        case Tube():
            r, b, h = solid.diameter / 2, solid.bore / 2, solid.height / 2
            return lathe(np.array(((b, -h), (r, -h), (r, h), (b, h), (b, -h))), up, sides)
        case Ring():
            section = 2 * np.pi * np.arange(sides + 1) / sides
            circle = np.column_stack((np.cos(section), np.sin(section))) * (solid.thickness / 2)
            circle[:, 0] += (solid.diameter - solid.thickness) / 2
            return lathe(circle, up, sides)
        case _:
            assert_never(solid)


def _flat_sided(solid: Cuboid | Wedge | Pyramid | Plate | Mesh, up: int) -> Triangles:
    if isinstance(solid, Mesh):
        return solid.points, solid.corners
    if isinstance(solid, Cuboid):
        box = local_box(solid, up)
        return box.centre + corner_signs() * box.size / 2, _outward(CUBOID_FACES, (0, 1, 2))
    first, second = _axes(up)
    if isinstance(solid, Plate):
        half = local_box(solid, up).size / 2
        points = np.zeros((4, 3))
        points[:, first] = np.array((-1, 1, 1, -1)) * half[first]
        points[:, second] = np.array((-1, -1, 1, 1)) * half[second]
        return points, np.array(((0, 1, 2), (0, 2, 3)), dtype=np.intp)
    faces = WEDGE_FACES if isinstance(solid, Wedge) else PYRAMID_FACES
    return vertices(solid, up), _outward(faces, (0, up, 3 - up))


# Faces over the corners as `vertices` and `corner_signs` list them, fronts outside for axes in the order x, y, z.
CUBOID_FACES: Final = (
    (0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3),
)  # fmt: skip
WEDGE_FACES: Final = ((0, 2, 3, 1), (0, 1, 5, 4), (2, 4, 5, 3), (0, 4, 2), (1, 3, 5))
PYRAMID_FACES: Final = ((0, 2, 3, 1), (0, 1, 4), (1, 3, 4), (3, 2, 4), (2, 0, 4))


def _outward(faces: tuple[tuple[int, ...], ...], order: tuple[int, int, int]) -> Indices:
    """Triangles of faces; turned round where the axes do not stand in the order x, y, z."""
    corners = np.array([(f[0], f[i], f[i + 1]) for f in faces for i in range(1, len(f) - 1)], dtype=np.intp)
    return corners if order == (0, 1, 2) else corners[:, ::-1]


def lathe(profile: Array, up: int, sides: int) -> Triangles:
    """Turn a profile of (radius, height), run from bottom to top on the outside, about the up axis."""
    first, second = _axes(up)
    turn = 2 * np.pi * np.arange(sides) / sides
    points = np.zeros((len(profile), sides, 3))
    points[:, :, first] = profile[:, :1] * np.cos(turn)
    points[:, :, second] = profile[:, :1] * np.sin(turn)
    points[:, :, up] = profile[:, 1:]
    corners = []
    for row in range(len(profile) - 1):
        for i in range(sides):
            j = (i + 1) % sides
            a, b, c, d = row * sides + i, row * sides + j, (row + 1) * sides + j, (row + 1) * sides + i
            if profile[row, 0] > 0:
                corners.append((a, b, c))
            if profile[row + 1, 0] > 0:
                corners.append((a, c, d))
    # Poles are one point, and a profile that comes back to where it began has its first row once: it is closed.
    one = np.arange(len(profile) * sides).reshape(len(profile), sides)
    one[profile[:, 0] == 0] = one[profile[:, 0] == 0][:, :1]
    if np.abs(profile[-1] - profile[0]).max() <= CLOSED * np.abs(profile).max():
        one[-1] = one[0]
    used, at = np.unique(one.ravel()[np.array(corners, dtype=np.intp)], return_inverse=True)
    return points.reshape(-1, 3)[used], np.asarray(at.reshape(-1, 3), dtype=np.intp)
