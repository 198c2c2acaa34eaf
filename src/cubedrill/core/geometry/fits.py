"""Tolerances and small parts of fitting solids to the points of a mesh."""

from __future__ import annotations

from typing import Final

import numpy as np

from cubedrill.core.values import Array, Indices

NEAR: Final = 1e-6  # of a mesh's size: how far a vertex may lie from where one map takes it
FLOAT32_TOL: Final = 6 * 2.0**-24  # of the largest coordinate: what is lost where files hold numbers of 32 bits
VOLUME: Final = 1e-4  # of a volume
FLAT: Final = 1e-6  # square of the angle by which faces at a corner are to differ: rounding turns them too
FLATTEST: Final = 1e8  # of a map's largest factor to its least: beyond, all lies in one plane
FEWEST_SIDES: Final = 5  # with fewer it is no round solid but a block or a wedge


def tolerance_of(points: Array) -> float:
    """Return the tolerance for vertices: rounding of 32-bit numbers, or a share of the mesh's size."""
    return max(NEAR * float(np.ptp(points, axis=0).max()), FLOAT32_TOL * float(np.abs(points).max()))


def signed_volume(points: Array, triangles: Indices) -> float:
    """Return the volume that triangles enclose; negative if they face inward."""
    return float(np.linalg.det(points[triangles] - points.mean(axis=0)).sum() / 6)


def evened(columns: Array, near: float) -> Array:
    """Return columns with equal lengths and right angles, if they differ from that by no more than a tolerance.

    Parameters
    ----------
    columns : (3, k) array
    near : float
        Largest difference of the singular values.

    Returns
    -------
    (3, k) array
        The given columns if they differ by more: by look, the turn of an oval counts.
    """
    left, sizes, right = np.linalg.svd(columns, full_matrices=False)
    even: Array = left @ right * sizes.mean()
    return even if np.ptp(sizes) <= near else columns


def nearest_turn(matrix: Array) -> Array:
    """Return the orthogonal matrix nearest to a matrix.

    Parameters
    ----------
    matrix : (3, 3) array

    Returns
    -------
    (3, 3) array
        Its determinant may be −1.

    Notes
    -----
    Source: orthogonal Procrustes problem (Schönemann, 1966).

    Examples
    --------
    >>> nearest_turn(np.diag([2.0, 0.5, 3.0]))
    array([[1., 0., 0.],
           [0., 1., 0.],
           [0., 0., 1.]])
    """
    left, _, right = np.linalg.svd(matrix)
    turn: Array = left @ right
    return turn
