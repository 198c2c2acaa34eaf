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
    """Return the affine map translation · rotation · scale.

    Parameters
    ----------
    translation : (3,) array
        In parent lengths.
    rotation : (3, 3) array
        Proper.
    scale : (3,) array
        Factors of either sign.

    Returns
    -------
    (4, 4) array

    Notes
    -----
    Source: glTF 2.0, section Transformations (M = T · R · S).

    Examples
    --------
    >>> parent_from_parts(np.array([1.0, 2.0, 3.0]), np.eye(3), np.array([2.0, 2.0, 2.0]))[0]
    array([2., 0., 0., 1.])
    """
    return affine(rotation * scale, translation)


def rotation_from_quaternion(quaternion: Array, owner: str) -> Array:
    """Return the rotation matrix of a quaternion.

    Parameters
    ----------
    quaternion : (4,) array
        [x, y, z, w]. It is normalised if its length is within `UNIT_QUATERNION_TOL` of 1.
    owner : str
        The object to name in the error.

    Returns
    -------
    (3, 3) array

    Raises
    ------
    CoreError
        "quaternion-length" if the length is not near 1.

    Examples
    --------
    >>> rotation_from_quaternion(np.array([0.0, 1.0, 0.0, 0.0]), "hook").diagonal()
    array([-1.,  1., -1.])
    """
    length = float(np.linalg.norm(quaternion))
    if not abs(length - 1) <= UNIT_QUATERNION_TOL:
        raise CoreError("quaternion-length", object=owner, length=f"{length:.6g}")
    return np.asarray(Rotation.from_quat(quaternion).as_matrix())


def parts_of(parent_from_local: Array) -> Parts:
    """Return translation, rotation and scale of affine maps.

    Parameters
    ----------
    parent_from_local : (..., 4, 4) array

    Returns
    -------
    Parts
        Scale is the column lengths, with the sign of the determinant on X; rotation is what remains.

    Notes
    -----
    If the columns are not orthogonal, the rotation is the orthogonal factor of the polar decomposition, with its X
    column negated for a negative determinant.
    Source: Higham, "Computing the polar decomposition" (1986), by SVD.

    Examples
    --------
    >>> parts_of(np.diag([-2.0, 3.0, 4.0, 1.0])).scale
    array([-2.,  3.,  4.])
    """
    rotation, scale, skewed = _read(parent_from_local[..., :3, :3])
    return Parts(frozen(parent_from_local[..., :3, 3].copy()), frozen(rotation), frozen(scale), skewed)


def rotation_of(linear: Array) -> Array:
    """Return the rotations of linear maps, as `parts_of` reads them.

    Parameters
    ----------
    linear : (..., 3, 3) array

    Returns
    -------
    (..., 3, 3) array
    """
    return _read(linear)[0]


def _read(linear: Array) -> tuple[Array, Array, Flags]:
    """Return the rotations, scales, and which skew, of linear maps (..., 3, 3)."""
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
    """Tell whether the columns of an affine map are not orthogonal.

    Parameters
    ----------
    parent_from_local : (4, 4) array

    Returns
    -------
    bool
    """
    linear = parent_from_local[:3, :3]
    return bool(_are_skewed(linear / np.linalg.norm(linear, axis=0)))


def _are_skewed(unit_columns: Array) -> Flags:
    """Return which maps (...) of (..., 3, 3) of unit columns have some that are not square to each other."""
    dots = np.abs(unit_columns.swapaxes(-1, -2) @ unit_columns)
    return np.asarray(np.maximum(np.maximum(dots[..., 0, 1], dots[..., 1, 2]), dots[..., 2, 0]) > SKEW_TOL)


def determinant(linear: Array) -> float:
    """Return the determinant of a linear map.

    Parameters
    ----------
    linear : (3, 3) array

    Returns
    -------
    float
        Negative if the map mirrors.

    Examples
    --------
    >>> determinant(np.diag([-2.0, 3.0, 4.0]))
    -24.0
    """
    (a, b, c), (d, e, f), (g, h, i) = linear.tolist()
    return float(a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g))


def turn(axis_unit: Array, angle_rad: float) -> Array:
    """Return the rotation about an axis.

    Parameters
    ----------
    axis_unit : (3,) array
        Of length 1.
    angle_rad : float
        Its sign follows the hand rule of the conventions.

    Returns
    -------
    (3, 3) array

    Notes
    -----
    Source: Rodrigues' formula.

    Examples
    --------
    >>> turn(np.array([0.0, 0.0, 1.0]), math.pi / 2).round(12) @ np.array([1.0, 0.0, 0.0])
    array([0., 1., 0.])
    """
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
    """Return the affine map T(c) · A · T(−c) of a linear map about a fixed point.

    Parameters
    ----------
    linear : (3, 3) array
        A.
    point : (3,) array
        c.

    Returns
    -------
    (4, 4) array

    Examples
    --------
    >>> mapped(about(2 * np.eye(3), np.array([1.0, 0.0, 0.0])), np.array([1.0, 1.0, 0.0]))
    array([1., 2., 0.])
    """
    return affine(linear, point - linear @ point)


def affine(linear: Array, translation: Array) -> Array:
    """Return the affine map of a linear part and a translation.

    Parameters
    ----------
    linear : (3, 3) array
    translation : (3,) array

    Returns
    -------
    (4, 4) array
    """
    after = _IDENTITY.copy()
    after[:3, :3] = linear
    after[:3, 3] = translation
    return after


def moved(parent_from_local: Array, displacement_parent: Array) -> Array:
    """Return an affine map whose origin is moved by a displacement.

    Parameters
    ----------
    parent_from_local : (4, 4) array
    displacement_parent : (3,) array

    Returns
    -------
    (4, 4) array
    """
    return affine(parent_from_local[:3, :3], parent_from_local[:3, 3] + displacement_parent)


def inverse(target_from_source: Array) -> Array:
    """Return the inverse of maps.

    Parameters
    ----------
    target_from_source : (..., n, n) array
        Affine maps, or linear parts.

    Returns
    -------
    (..., n, n) array
    """
    return np.asarray(np.linalg.inv(target_from_source), dtype=np.float64)


def mapped(target_from_source: Array, points_source: Array) -> Array:
    """Return points under an affine map.

    Parameters
    ----------
    target_from_source : (4, 4) array
    points_source : (..., 3) array

    Returns
    -------
    (..., 3) array

    Examples
    --------
    >>> mapped(affine(np.eye(3), np.array([1.0, 0.0, 0.0])), np.zeros((2, 3)))
    array([[1., 0., 0.],
           [1., 0., 0.]])
    """
    return np.asarray(points_source @ target_from_source[:3, :3].T + target_from_source[:3, 3])


def require_affine(parent_from_local: Array, owner: str, name: str | None = None) -> Array:
    """Return the map made read-only, if it is finite, affine and invertible.

    Parameters
    ----------
    parent_from_local : (4, 4) array
    owner : str
        Id of the object to name in the error.
    name : str, optional
        Its name; the id by default.

    Returns
    -------
    (4, 4) array
        The same array.

    Raises
    ------
    CoreError
        "too-large", "bad-matrix" or "not-invertible".
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
