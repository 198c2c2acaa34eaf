"""Affine maps: putting them together from translation, rotation and scale, and reading those back.

What takes a map (4, 4) here takes many at once as (n, 4, 4) too, a stack, where its docstring says so.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError, OneByOneError
from cubedrill.core.values import Array, Flags, frozen

SKEW_TOL: Final = 1e-6  # largest dot product of unit columns that still counts as square (the product's definition)
UNIT_QUATERNION_TOL: Final = 1e-6  # a file's rounded quaternion is normalised within this; beyond, it is an error
INVERTIBLE_TOL: Final = 1e-9  # smallest singular value, as a share of the largest
ZERO_LENGTH_TOL: Final = 1e-12  # a given vector shorter than this has no direction
FLAT_TOL: Final = 1e-9  # the projection of a unit direction shorter than this has none
LARGEST: Final = 1e100  # squares and products of a few such numbers stay far inside float64
SMALLEST: Final = 1e-100  # likewise for a matrix whose longest axis is this short
SURELY_INVERTIBLE: Final = 1e-6  # |det| / norm³ is at most smallest / largest singular value; this far above the bound
LAST_ROW: Final = (0.0, 0.0, 0.0, 1.0)


@dataclass(frozen=True)
class Parts:
    """What is read from an affine map: translation (3,), rotation (3, 3) proper, scale (3,), and whether it skews.

    Of a stack: (n, 3), (n, 3, 3), (n, 3), and whether any of them skews.
    """

    translation: Array
    rotation: Array
    scale: Array
    skewed: bool


def parent_from_parts(translation: Array, rotation: Array, scale: Array) -> Array:
    """Affine map of translation · rotation · scale.

    translation (3,) parent lengths; rotation (3, 3) proper; scale (3,) factors, of either sign.
    Returns (4, 4). Source: glTF 2.0, section Transformations (M = T · R · S).
    """
    parent_from_local = np.eye(4)
    parent_from_local[:3, :3] = rotation * scale
    parent_from_local[:3, 3] = translation
    return parent_from_local


def rotation_from_quaternion(quaternion: Array, owner: str) -> Array:
    """Rotation matrix (3, 3) of a quaternion [x, y, z, w].

    Within UNIT_QUATERNION_TOL of unit length it is normalised. owner: the object named in the error.
    Raises CoreError "quaternion-length" otherwise.
    """
    length = float(np.linalg.norm(quaternion))
    if not abs(length - 1) <= UNIT_QUATERNION_TOL:
        raise CoreError("quaternion-length", object=owner, length=f"{length:.6g}")
    return np.asarray(Rotation.from_quat(quaternion).as_matrix())


def parts_of(parent_from_local: Array) -> Parts:
    """Read translation, rotation and scale from an affine map (4, 4), or from each of a stack (n, 4, 4).

    Scale is the column lengths with the sign of the determinant on X; rotation is what remains. Where the columns
    are not square to each other the rotation is the orthogonal factor of the polar decomposition, its X column
    negated for a negative determinant. Source: Higham, "Computing the polar decomposition" (1986), by SVD.
    """
    if parent_from_local.ndim == 3:
        return _parts_of_each(parent_from_local)
    linear = parent_from_local[:3, :3]
    lengths = np.linalg.norm(linear, axis=0)
    columns = linear / lengths
    mirrored = determinant(columns) < 0
    skewed = _skewed(columns)
    if skewed:
        left, _, right = np.linalg.svd(linear)
        rotation = left @ right
    else:
        rotation = columns.copy()
    scale = lengths.copy()
    if mirrored:
        rotation[:, 0] *= -1
        scale[0] *= -1
    return Parts(frozen(parent_from_local[:3, 3].copy()), frozen(rotation), frozen(scale), skewed)


def _parts_of_each(maps: Array) -> Parts:
    linear = maps[:, :3, :3]
    scale = np.linalg.norm(linear, axis=1)
    rotation, mirrored, skewed = _rotations(linear / scale[:, None, :], linear)
    scale[mirrored, 0] *= -1
    return Parts(maps[:, :3, 3].copy(), rotation, scale, bool(skewed.any()))


def rotations_of_each(linear: Array) -> Array:
    """Rotations (n, 3, 3) of many linear maps (n, 3, 3), as `parts_of` reads them."""
    return _rotations(linear / np.linalg.norm(linear, axis=1)[:, None, :], linear)[0]


def _rotations(columns: Array, linear: Array) -> tuple[Array, Flags, Flags]:
    """(n, 3, 3) the rotations of linear maps (n, 3, 3), (n,) which mirror, (n,) which skew; columns: of length 1."""
    mirrored = determinants(columns) < 0
    dots = np.abs(columns.transpose(0, 2, 1) @ columns)
    skewed = np.maximum(np.maximum(dots[:, 0, 1], dots[:, 1, 2]), dots[:, 2, 0]) > SKEW_TOL
    if skewed.any():
        left, _, right = np.linalg.svd(linear[skewed])
        columns[skewed] = left @ right
    columns[mirrored, :, 0] *= -1
    return columns, mirrored, skewed


def is_skewed(parent_from_local: Array) -> bool:
    """Tell whether the columns of an affine map are not square to each other."""
    linear = parent_from_local[:3, :3]
    return _skewed(linear / np.linalg.norm(linear, axis=0))


def _skewed(unit_columns: Array) -> bool:
    (a, b, c), (d, e, f), (g, h, i) = unit_columns.tolist()
    return bool(max(abs(a * b + d * e + g * h), abs(b * c + e * f + h * i), abs(c * a + f * d + i * g)) > SKEW_TOL)


def determinant(linear: Array) -> float:
    """Determinant of a (3, 3) map; below zero where it mirrors."""
    (a, b, c), (d, e, f), (g, h, i) = linear.tolist()
    return float(a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g))


def determinants(linear: Array) -> Array:
    """Determinants (n,) of many maps (n, 3, 3)."""
    first, second, third = linear.transpose(1, 2, 0)
    return np.asarray(
        first[0] * (second[1] * third[2] - second[2] * third[1])
        - first[1] * (second[0] * third[2] - second[2] * third[0])
        + first[2] * (second[0] * third[1] - second[1] * third[0])
    )


def turn(axis_unit: Array, angle_rad: float | Array) -> Array:
    """Rotation (3, 3) about an axis (3,) of length 1, by the convention's hand rule. Source: Rodrigues' formula.

    About many axes (n, 3), or by many angles (n,): (n, 3, 3).
    """
    x, y, z = axis_unit.tolist() if axis_unit.ndim == 1 else axis_unit.T
    one = isinstance(angle_rad, float)
    s, c = (math.sin(angle_rad), math.cos(angle_rad)) if one else (np.sin(angle_rad), np.cos(angle_rad))
    t = 1 - c
    turned = np.array(
        (
            (t * x * x + c, t * x * y - s * z, t * x * z + s * y),
            (t * x * y + s * z, t * y * y + c, t * y * z - s * x),
            (t * x * z - s * y, t * y * z + s * x, t * z * z + c),
        )
    )
    return turned if turned.ndim == 2 else np.moveaxis(turned, -1, 0)


def about(linear: Array, point: Array) -> Array:
    """Affine map (4, 4) that does a linear map (3, 3) and leaves a point (3,) where it is: T(c) · A · T(−c).

    Of a stack of either: (n, 4, 4).
    """
    return affine(linear, point - np.matvec(linear, point))


def affine(linear: Array, translation: Array) -> Array:
    """Affine map (4, 4) of its linear part (3, 3) and its translation (3,); (n, 4, 4) where that is a stack."""
    after = np.zeros((*translation.shape[:-1], 4, 4))
    after[..., :3, :3] = linear
    after[..., :3, 3] = translation
    after[..., 3, 3] = 1
    return after


def unit(direction: Array, code: str, **facts: object) -> Array:
    """Return a direction (3,) with length 1; raise CoreError `code` where it has no length."""
    require_one(direction, 1)
    length = math.hypot(*direction.tolist())
    if not length >= ZERO_LENGTH_TOL:
        raise CoreError(code, **facts)
    if length > LARGEST:
        direction = direction / np.abs(direction).max()
        length = math.hypot(*direction.tolist())
    return np.asarray(direction / length)


def square_to(direction_unit: Array, normal_unit: Array, code: str, **facts: object) -> Array:
    """Return a unit direction (3,) projected onto the plane across a normal, length 1 again.

    Raises CoreError `code` where the direction lies along the normal.
    """
    flat = direction_unit - (direction_unit @ normal_unit) * normal_unit
    length = math.hypot(*flat.tolist())
    if not length >= FLAT_TOL:
        raise CoreError(code, **facts)
    return np.asarray(flat / length)


def moved(parent_from_local: Array, displacement_parent: Array) -> Array:
    """Affine map (4, 4) with its origin moved by a displacement (3,); of a stack of either, (n, 4, 4)."""
    return affine(parent_from_local[..., :3, :3], parent_from_local[..., :3, 3] + displacement_parent)


def inverse(target_from_source: Array) -> Array:
    """Inverse of a map, (4, 4) or its linear part (3, 3), or of each of a stack."""
    return np.asarray(np.linalg.inv(target_from_source), dtype=np.float64)


def mapped(target_from_source: Array, points_source: Array) -> Array:
    """Points (..., 3) taken through an affine map (4, 4); a point (3,) through each of a stack: (n, 3)."""
    if target_from_source.ndim == 3:
        return np.asarray(np.matvec(target_from_source[:, :3, :3], points_source) + target_from_source[:, :3, 3])
    return np.asarray(points_source @ target_from_source[:3, :3].T + target_from_source[:3, 3])


def require_affine(parent_from_local: Array, owner: str, name: str | None = None) -> Array:
    """Return the map (4, 4), or the stack of them, read-only; owner, name: whose it is, for people.

    Raises CoreError "too-large", "bad-matrix" or "not-invertible" where it is none; OneByOneError where one of a
    stack is none.
    """
    if parent_from_local.ndim == 3:
        if not are_affine(parent_from_local).all():
            raise OneByOneError
        return frozen(parent_from_local)
    whose = {"object": owner, "name": name or owner}
    rows = parent_from_local.tolist()
    if not all(-LARGEST <= number <= LARGEST for row in rows for number in row):
        raise CoreError("too-large", **whose)
    if tuple(rows[3]) != LAST_ROW:
        raise CoreError("bad-matrix", **whose)
    linear = parent_from_local[:3, :3]
    size = math.hypot(*rows[0][:3], *rows[1][:3], *rows[2][:3])
    if not size >= SMALLEST:
        raise CoreError("not-invertible", **whose)
    if abs(determinant(linear / size)) < SURELY_INVERTIBLE:
        singular = np.linalg.svd(linear, compute_uv=False)
        if not singular[-1] > INVERTIBLE_TOL * singular[0]:
            raise CoreError("not-invertible", **whose)
    return frozen(parent_from_local)


def are_affine(maps: Array) -> Flags:
    """(n,) which of many maps (n, 4, 4), all with the last row of an affine one, `require_affine` lets pass."""
    linear = maps[:, :3, :3]
    size = np.sqrt(np.einsum("nij,nij->n", linear, linear))
    fine = (np.abs(maps).max(axis=(1, 2)) <= LARGEST) & (size >= SMALLEST)
    sure = np.abs(np.linalg.det(linear)) >= SURELY_INVERTIBLE * size**3
    if not sure.all():
        unsure = fine & ~sure
        singular = np.linalg.svd(linear[unsure], compute_uv=False)
        fine[unsure] = singular[:, -1] > INVERTIBLE_TOL * singular[:, 0]
    return np.asarray(fine)


def require_one(array: Array, dimensions: int) -> None:
    """Raise OneByOneError for an array of more dimensions: what follows is worked out for one scene only."""
    if array.ndim > dimensions:
        raise OneByOneError
