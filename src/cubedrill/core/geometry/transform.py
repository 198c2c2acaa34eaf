"""Affine maps: putting them together from translation, rotation and scale, and reading those back."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
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
_IDENTITY: Final = frozen(np.eye(4))


@dataclass(frozen=True)
class Parts:
    """Parts of affine maps: translation (..., 3), rotation (..., 3, 3), scale (..., 3), and skew (...)."""

    translation: Array
    rotation: Array
    scale: Array
    skewed: Flags


def parent_from_parts(translation: Array, rotation: Array, scale: Array) -> Array:
    """Affine map of translation · rotation · scale.

    translation (3,) parent lengths; rotation (3, 3) proper; scale (3,) factors, of either sign.
    Returns (4, 4). Source: glTF 2.0, section Transformations (M = T · R · S).
    """
    return affine(rotation * scale, translation)


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
    """Read translation, rotation and scale from affine maps (..., 4, 4); skewed: whether axes are not square.

    Scale is the column lengths with the sign of the determinant on X; rotation is what remains. Where the columns
    are not square to each other the rotation is the orthogonal factor of the polar decomposition, its X column
    negated for a negative determinant. Source: Higham, "Computing the polar decomposition" (1986), by SVD.
    """
    rotation, scale, skewed = _read(parent_from_local[..., :3, :3])
    return Parts(frozen(parent_from_local[..., :3, 3].copy()), frozen(rotation), frozen(scale), skewed)


def rotation_of(linear: Array) -> Array:
    """(..., 3, 3) the rotations of linear maps (..., 3, 3), as `parts_of` reads them."""
    return _read(linear)[0]


def _read(linear: Array) -> tuple[Array, Array, Flags]:
    """Rotations, scales, and which skew, of linear maps (..., 3, 3)."""
    scale = np.linalg.norm(linear, axis=-2)
    rotation = linear / scale[..., None, :]
    skewed, mirrored = _are_skewed(rotation), np.linalg.det(rotation) < 0
    if skewed.any():
        left, _, right = np.linalg.svd(linear[skewed])
        rotation[skewed] = left @ right
    sign = np.where(mirrored, -1.0, 1.0)
    rotation[..., 0] *= sign[..., None]
    scale[..., 0] *= sign
    return rotation, scale, skewed


def is_skewed(parent_from_local: Array) -> bool:
    """Tell whether the columns of an affine map (4, 4) are not square to each other."""
    linear = parent_from_local[:3, :3]
    return bool(_are_skewed(linear / np.linalg.norm(linear, axis=0)))


def _are_skewed(unit_columns: Array) -> Flags:
    """(...) which maps (..., 3, 3) of unit columns have some that are not square to each other."""
    dots = np.abs(unit_columns.swapaxes(-1, -2) @ unit_columns)
    return np.asarray(np.maximum(np.maximum(dots[..., 0, 1], dots[..., 1, 2]), dots[..., 2, 0]) > SKEW_TOL)


def determinant(linear: Array) -> float:
    """Determinant of a (3, 3) map; below zero where it mirrors."""
    (a, b, c), (d, e, f), (g, h, i) = linear.tolist()
    return float(a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g))


def turn(axis_unit: Array, angle_rad: float) -> Array:
    """Rotation (3, 3) about an axis (3,) of length 1, by the convention's hand rule. Source: Rodrigues' formula."""
    x, y, z = axis_unit.tolist()
    s, c = math.sin(angle_rad), math.cos(angle_rad)
    t = 1 - c
    return np.array(
        (
            (t * x * x + c, t * x * y - s * z, t * x * z + s * y),
            (t * x * y + s * z, t * y * y + c, t * y * z - s * x),
            (t * x * z - s * y, t * y * z + s * x, t * z * z + c),
        )
    )


def about(linear: Array, point: Array) -> Array:
    """Affine map (4, 4) that does a linear map (3, 3) and leaves a point (3,) where it is: T(c) · A · T(−c)."""
    return affine(linear, point - linear @ point)


def affine(linear: Array, translation: Array) -> Array:
    """Affine map (4, 4) of its linear part (3, 3) and its translation (3,)."""
    after = _IDENTITY.copy()
    after[:3, :3] = linear
    after[:3, 3] = translation
    return after


def unit(direction: Array, code: str, **facts: object) -> Array:
    """Return a direction (3,) with length 1; raise CoreError `code` where it has no length."""
    length = math.hypot(*direction.tolist())
    if not length >= ZERO_LENGTH_TOL:
        raise CoreError(code, **facts)
    if length > LARGEST:
        direction = direction / np.abs(direction).max()
        length = math.hypot(*direction.tolist())
    return np.asarray(direction / length)


def square_to(direction_unit: Array, normal_unit: Array, code: str, **facts: object) -> Array:
    """Return a unit direction (3,) projected onto the plane across a normal, length 1 again.

    Raises CoreError `code` where the direction lies along the normal. Projected twice, which is enough however little
    is left of the direction (Parlett, "The Symmetric Eigenvalue Problem", 1980, section 6.9; from memory).
    """
    flat = direction_unit - (direction_unit @ normal_unit) * normal_unit
    length = math.hypot(*flat.tolist())
    if not length >= FLAT_TOL:
        raise CoreError(code, **facts)
    flat = flat / length
    flat -= (flat @ normal_unit) * normal_unit
    return np.asarray(flat / math.hypot(*flat.tolist()))


def moved(parent_from_local: Array, displacement_parent: Array) -> Array:
    """Affine map (4, 4) with its origin moved by a displacement (3,)."""
    return affine(parent_from_local[:3, :3], parent_from_local[:3, 3] + displacement_parent)


def inverse(target_from_source: Array) -> Array:
    """Inverse of a map, (4, 4) or its linear part (3, 3); of each of (n, 4, 4)."""
    return np.asarray(np.linalg.inv(target_from_source), dtype=np.float64)


def mapped(target_from_source: Array, points_source: Array) -> Array:
    """Points (..., 3) taken through an affine map (4, 4)."""
    return np.asarray(points_source @ target_from_source[:3, :3].T + target_from_source[:3, 3])


def require_affine(parent_from_local: Array, owner: str, name: str | None = None) -> Array:
    """Return the map (4, 4) read-only; owner, name: whose it is, for people.

    Raises CoreError "too-large", "bad-matrix" or "not-invertible" where it is none.
    """
    whose = {"object": owner, "name": name or owner}
    rows = parent_from_local.tolist()
    numbers = [number for row in rows for number in row]
    if not (math.isfinite(sum(numbers)) and min(numbers) >= -LARGEST and max(numbers) <= LARGEST):
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
