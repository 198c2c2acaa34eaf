"""The least of a function over a whole turn, or over all orientations, where only its values are known."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from typing import Final

import numpy as np
from scipy.spatial.transform import Rotation

from cubedrill.core.values import Array

SAMPLES: Final = 96  # about a turn, at first
FINER: Final = 33  # samples about each place that may be the least, then about the best of them, and so on
_FINER: Final[Array] = np.linspace(-1.0, 1.0, FINER, dtype=np.float64)
FINE: Final = 1e-10  # rad: where a search stops; a value changes by less than its slope times this
FLAT_STEP: Final = 1e-5  # rad: a curved valley rises here by more than TIE, a flat one does not
TIE: Final = 1e-13  # of a value: what rounding may make of two that are the same
FAR: Final = 0.5  # rad: how far about the first orientation is looked at first
MOST_ROUNDS: Final = 40

OfAngles = Callable[[Array], Array]  # angles (n,) in rad → values (n,)


def minimize_over_angle(function: OfAngles, slope: float, below: float) -> tuple[float, float] | None:
    """Return the global minimum of a function over one turn, without derivatives.

    Parameters
    ----------
    function : callable
        Maps angles (n,) in radians to values (n,).
    slope : float
        Upper bound of the change of the value per radian.
    below : float
        Only a minimum of at most this value is of interest.

    Returns
    -------
    tuple of float, or None
        The minimum and its angle in radians; None if nothing is as small as `below`.

    Notes
    -----
    A sample that is no greater than its neighbours may lie beside a minimum. Finer samples around it narrow the
    bracket until its width is at most `FINE`.

    Examples
    --------
    >>> value, angle = minimize_over_angle(lambda angles: 1 - np.cos(angles - 2.0), 1.0, 1.0)
    >>> round(angle, 6)
    2.0
    """
    step = 2 * math.pi / SAMPLES
    angles: Array = np.linspace(0.0, 2 * math.pi, SAMPLES, endpoint=False, dtype=np.float64)
    values = function(angles)
    rounding = TIE * float(values.max())
    lows = (values < np.roll(values, 1) - rounding) & (values <= np.roll(values, -1) + rounding)
    lows[values.argmin()] = True  # of a level stretch the first sample is enough; all may be one
    may_be = lows & (values - slope * step / 2 <= min(float(values.min()), below))
    centres, lowest, half = angles[may_be], values[may_be], step
    while half > FINE and len(centres):
        offsets = half * _FINER
        around = centres[:, None] + offsets
        values = function(around.ravel()).reshape(around.shape)
        best = values.argmin(axis=1)
        centres, lowest = around[np.arange(len(best)), best], values.min(axis=1)
        half = float(offsets[1] - offsets[0])
        may_be = lowest - slope * half <= min(float(lowest.min()), below)
        centres, lowest = centres[may_be], lowest[may_be]
    if not len(centres) or lowest.min() > below:
        return None
    return float(lowest.min()), float(centres[lowest.argmin()])


def towards(function: OfAngles, value: float, angle: float, wanted: float) -> float:
    """Return the angle nearest to a wanted one on the flat stretch of minima around a known one.

    Parameters
    ----------
    function : callable
        Maps angles (n,) in radians to values (n,).
    value : float
        The minimum.
    angle : float
        An angle at which the function has the minimum, in radians.
    wanted : float
        The angle to approach, in radians.

    Returns
    -------
    float
        In radians; `angle` if the minimum is not flat.
    """
    most = value * (1 + TIE)
    way = math.remainder(wanted - angle, 2 * math.pi)
    near, far = 0.0, 1.0
    if abs(way) < FLAT_STEP or function(np.array([angle + math.copysign(FLAT_STEP, way)]))[0] > most:
        return angle
    while (far - near) * abs(way) > FINE:
        shares = np.linspace(near, far, FINER)
        beyond = np.flatnonzero(function(angle + way * shares) > most)
        if not len(beyond):
            return angle + way * far
        first = max(int(beyond[0]), 1)
        near, far = float(shares[first - 1]), float(shares[first])
    return angle + way * near


def least_orientation(function: Callable[[Array], Array], start: Array) -> Array:
    """Return the rotation near a first one at which a function is smallest.

    Parameters
    ----------
    function : callable
        Maps rotations (n, 3, 3) to values (n,).
    start : (3, 3) array

    Returns
    -------
    (3, 3) array

    Notes
    -----
    A pattern search: it tries steps in all directions at once, and a quarter of the step length if none is better.
    """
    best, value, far = start, float(function(start[None])[0]), FAR
    for _ in range(MOST_ROUNDS):
        if far < FINE:
            break
        tried = best @ Rotation.from_rotvec(_WAYS * far).as_matrix()
        values = function(tried)
        if values.min() < value:
            value, best = float(values.min()), tried[values.argmin()]
        else:
            far /= 4
    return best


def _ways() -> Array:
    corners = np.array([w for w in itertools.product((-1.0, 0.0, 1.0), repeat=3) if any(w)])
    ways = corners / np.linalg.norm(corners, axis=1)[:, None]
    twisted = ways @ Rotation.from_rotvec([0.5, 0.3, 0.7]).as_matrix()  # other ways, for valleys between these
    return np.concatenate((ways, twisted / 2))


_WAYS: Final = _ways()
