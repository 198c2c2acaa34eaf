"""Affine maps: putting them together from translation, rotation and scale, and reading those back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.values import Array, frozen

SKEW_TOL: Final = 1e-6  # largest dot product of unit columns that still counts as square (the product's definition)
UNIT_QUATERNION_TOL: Final = 1e-6  # a file's rounded quaternion is normalised within this; beyond, it is an error
INVERTIBLE_TOL: Final = 1e-9  # smallest singular value, as a share of the largest
LAST_ROW: Final = (0.0, 0.0, 0.0, 1.0)


@dataclass(frozen=True)
class Parts:
    """What is read from an affine map: translation (3,), rotation (3, 3) proper, scale (3,), and whether it skews."""

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
    """Read translation, rotation and scale from an affine map (4, 4).

    Scale is the column lengths with the sign of the determinant on X; rotation is what remains. Where the columns
    are not square to each other the rotation is the orthogonal factor of the polar decomposition, its X column
    negated for a negative determinant. Source: Higham, "Computing the polar decomposition" (1986), by SVD.
    """
    linear = parent_from_local[:3, :3]
    lengths = np.linalg.norm(linear, axis=0)
    columns = linear / lengths
    mirrored = bool(np.linalg.det(linear) < 0)
    dots = (columns[:, 0] @ columns[:, 1], columns[:, 1] @ columns[:, 2], columns[:, 2] @ columns[:, 0])
    skewed = bool(max(abs(dot) for dot in dots) > SKEW_TOL)
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


def inverse(target_from_source: Array) -> Array:
    """Inverse of a map, (4, 4) or its linear part (3, 3)."""
    return np.asarray(np.linalg.inv(target_from_source), dtype=np.float64)


def mapped(target_from_source: Array, points_source: Array) -> Array:
    """Points (..., 3) taken through an affine map (4, 4)."""
    return np.asarray(points_source @ target_from_source[:3, :3].T + target_from_source[:3, 3])


def require_affine(parent_from_local: Array, owner: str) -> Array:
    """Return the map read-only; raise CoreError "too-large", "bad-matrix" or "not-invertible" where it is none."""
    if not np.isfinite(parent_from_local).all():
        raise CoreError("too-large", object=owner)
    if tuple(parent_from_local[3]) != LAST_ROW:
        raise CoreError("bad-matrix", object=owner)
    singular = np.linalg.svd(parent_from_local[:3, :3], compute_uv=False)
    if not singular[-1] > INVERTIBLE_TOL * singular[0]:
        raise CoreError("not-invertible", object=owner)
    return frozen(parent_from_local)
