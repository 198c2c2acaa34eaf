"""Areas of curved surfaces under a linear map, and triangles of what is turned about an axis."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

import numpy as np
from scipy.special import elliprg

from cubedrill.core.values import Array, Indices

DEFAULT_SIDES: Final = 20  # common practice, no source: the sides of a round solid if no number is given
FEWEST_SIDES: Final = 3
CLOSED: Final = 1e-12  # of a profile: what the sine of a whole turn leaves of nothing
AREA_TOL: Final = 1e-13  # relative change at which an integral over whole turns has settled; rounding is about 1e-15
MOST_SAMPLES: Final = 4096  # an integrand still unsettled here belongs to a solid stretched ten thousandfold

Triangles = tuple[Array, Indices]  # points (n, 3) and corners (m, 3) of int


def cofactor(linear: Array) -> Array:
    """Return the cofactor matrix of a linear map, which maps area vectors (Nanson's formula).

    Parameters
    ----------
    linear : (3, 3) array

    Returns
    -------
    (3, 3) array

    Examples
    --------
    >>> cofactor(np.diag([2.0, 3.0, 4.0])).diagonal()
    array([12.,  8.,  6.])
    """
    x, y, z = linear.T
    return np.column_stack((np.cross(y, z), np.cross(z, x), np.cross(x, y)))


def axes_across(up: int) -> tuple[int, int]:
    """Return the two axes across up; with up they are a right-handed triple."""
    return (up + 1) % 3, (up + 2) % 3


def disc_area(diameter: float, up: int, stretch: Array) -> float:
    """Return the area of a disc across the up axis under a linear map.

    Parameters
    ----------
    diameter : float
    up : int
        Index of the up axis.
    stretch : (3, 3) array
        Cofactor matrix of the map.

    Returns
    -------
    float
    """
    return float(np.pi * diameter**2 / 4 * np.linalg.norm(stretch[:, up]))


def wall_area(diameter: float, height: float, up: int, stretch: Array) -> float:
    """Return the area of the wall of a cylinder under a linear map.

    Parameters
    ----------
    diameter, height : float
    up : int
        Index of the up axis.
    stretch : (3, 3) array
        Cofactor matrix of the map.

    Returns
    -------
    float
        The height times the perimeter of the ellipse of stretched normals.

    Notes
    -----
    Source: Carlson's R_G (DLMF 19.30.5).

    Examples
    --------
    >>> round(wall_area(2.0, 3.0, 1, np.eye(3)) / np.pi, 12)
    6.0
    """
    across = stretch[:, list(axes_across(up))] * (diameter / 2)
    a, b = np.linalg.svd(across, compute_uv=False) ** 2
    return float(height * 8 * elliprg(0.0, a, b))


def integral_over_a_turn(integrand: Callable[[Array], Array]) -> float:
    """Return the integral of a periodic function over 0 … 2π.

    Parameters
    ----------
    integrand : callable
        Maps angles (n,) in radians to values (n,).

    Returns
    -------
    float

    Notes
    -----
    The trapezoidal rule with equal steps, which are halved until the relative change is at most `AREA_TOL`.

    Examples
    --------
    >>> round(integral_over_a_turn(lambda angle: np.cos(angle) ** 2) / np.pi, 12)
    1.0
    """
    samples, before = 32, np.inf
    while True:
        total = 2 * np.pi * float(np.mean(integrand(2 * np.pi * np.arange(samples) / samples)))
        if abs(total - before) <= AREA_TOL * abs(total) or samples >= MOST_SAMPLES:
            return total
        samples, before = 2 * samples, total


def lathe(profile: Array, up: int, sides: int) -> Triangles:
    """Return the triangles of a profile that is rotated about the up axis.

    Parameters
    ----------
    profile : (n, 2) array
        Radius and height, from bottom to top on the outside.
    up : int
        Index of the up axis.
    sides : int
        Number of sides.

    Returns
    -------
    Triangles
        Points and corners; fronts outside.
    """
    first, second = axes_across(up)
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
