"""Directions: unit length, and projection onto a plane."""

from __future__ import annotations

import math
from typing import Final

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.transform import LARGEST
from cubedrill.core.values import Array

ZERO_LENGTH_TOL: Final = 1e-12  # a given vector shorter than this has no direction
FLAT_TOL: Final = 1e-9  # the projection of a unit direction shorter than this has none


def unit(direction: Array, code: str, **facts: object) -> Array:
    """Return a direction with length 1.

    Parameters
    ----------
    direction : (3,) array
    code : str
        Of the error.
    **facts : object
        Of the error.

    Returns
    -------
    (3,) array

    Raises
    ------
    CoreError
        `code` if the direction is shorter than `ZERO_LENGTH_TOL`.

    Examples
    --------
    >>> unit(np.array([0.0, 3.0, 4.0]), "direction-zero")
    array([0. , 0.6, 0.8])
    """
    length = math.hypot(*direction.tolist())
    if not length >= ZERO_LENGTH_TOL:
        raise CoreError(code, **facts)
    if length > LARGEST:
        direction = direction / np.abs(direction).max()
        length = math.hypot(*direction.tolist())
    return np.asarray(direction / length)


def square_to(direction_unit: Array, normal_unit: Array, code: str, **facts: object) -> Array:
    """Return a direction projected onto the plane across a normal, with length 1 again.

    Parameters
    ----------
    direction_unit : (3,) array
    normal_unit : (3,) array
    code : str
        Of the error.
    **facts : object
        Of the error.

    Returns
    -------
    (3,) array

    Raises
    ------
    CoreError
        `code` if the direction lies along the normal.

    Notes
    -----
    Projecting twice is enough however little remains of the direction (Parlett, "The Symmetric Eigenvalue Problem",
    1980, section 6.9; from memory).
    """
    flat = direction_unit - (direction_unit @ normal_unit) * normal_unit
    length = math.hypot(*flat.tolist())
    if not length >= FLAT_TOL:
        raise CoreError(code, **facts)
    flat = flat / length
    flat -= (flat @ normal_unit) * normal_unit
    return np.asarray(flat / math.hypot(*flat.tolist()))
