"""Closest points and overlap of two convex bodies, each given by its support mapping.

Exact for round solids under any affine map, which no library of collision shapes covers: a sphere becomes an ellipsoid,
a cylinder an oblique elliptic one. Sources: Gilbert, Johnson and Keerthi (1988) for the distance; van den Bergen,
"Proximity Queries and Penetration Depth Computation" (2001), for the expanding polytope.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from cubedrill.core.values import Array

Support = Callable[[Array], Array]  # direction (3,) in world → farthest point (3,) in world

GAP_TOL: Final = 1e-12  # of the squared distance: the bound that the nearest plane leaves below it
TOUCH_SHARE: Final = 1e-11  # of the bodies' size: closer than this they touch
DEPTH_TOL: Final = 1e-10  # of the bodies' size: how far the polytope may still grow
MOST_ROUNDS: Final = 200

_FACES: Final = [
    list(subset) for size in range(1, 5) for subset in itertools.combinations(range(4), size)
]  # fmt: skip


@dataclass(frozen=True)
class Closest:
    """Two points (3,) in world, one on each body, and how far apart they are; 0 where the bodies touch or overlap."""

    first: Array
    second: Array
    distance: float


def closest_points(first: Support, second: Support, size: float) -> Closest:
    """Return the closest points of two convex bodies.

    Parameters
    ----------
    first, second : Support
        Maps a direction (3,) in the world to the farthest point of the body.
    size : float
        A length of about the bodies' extent. It scales the tolerances.

    Returns
    -------
    Closest
        Points in the world, and their distance: 0 if the bodies touch or overlap.

    Notes
    -----
    The simplex of differences shrinks to the face nearest to the origin until no plane through that point leaves a
    relative gap above `GAP_TOL`.
    Source: Gilbert, Johnson and Keerthi (1988).

    Examples
    --------
    >>> ball = lambda centre: lambda direction: centre + direction / np.linalg.norm(direction)
    >>> closest_points(ball(np.zeros(3)), ball(np.array([5.0, 0.0, 0.0])), 2.0).distance
    3.0
    """
    pairs = [_pair(first, second, np.array((1.0, 0.0, 0.0)))]
    for _ in range(MOST_ROUNDS):
        pairs, weights = _nearest_face(pairs)
        a, b = (np.einsum("i,ij->j", weights, np.array([pair[side] for pair in pairs])) for side in (0, 1))
        offset = a - b
        squared = float(offset @ offset)
        if squared <= (TOUCH_SHARE * size) ** 2 or len(pairs) == 4:
            return Closest(a, b, 0.0)
        new = _pair(first, second, -offset)
        if squared - float(offset @ (new[0] - new[1])) <= GAP_TOL * squared or _known(pairs, new):
            break
        pairs.append(new)
    return Closest(a, b, float(np.linalg.norm(a - b)))


def _pair(first: Support, second: Support, direction: Array) -> tuple[Array, Array]:
    return first(direction), second(-direction)


def _known(pairs: list[tuple[Array, Array]], new: tuple[Array, Array]) -> bool:
    difference = new[0] - new[1]
    return any(np.array_equal(difference, a - b) for a, b in pairs)


def _nearest_face(pairs: list[tuple[Array, Array]]) -> tuple[list[tuple[Array, Array]], Array]:
    """Return the corners of the face of a simplex (1 to 4 points) that is nearest to the origin, and its weights."""
    points = np.array([a - b for a, b in pairs])
    best: tuple[float, list[int], Array] | None = None
    for face in _FACES:
        if face[-1] >= len(points):
            continue
        weights = _weights(points[face])
        if weights is None or (weights <= 0).any():
            continue
        nearest = weights @ points[face]
        squared = float(nearest @ nearest)
        if best is None or squared < best[0]:
            best = (squared, face, weights)
    if best is None:  # every face is flat to rounding: keep the nearest corner
        corner = int(np.argmin((points**2).sum(axis=1)))
        best = (0.0, [corner], np.ones(1))
    return [pairs[i] for i in best[1]], best[2]


def _weights(points: Array) -> Array | None:
    """Weights, summing to 1, of the point of an affine hull that is nearest to the origin; none where it is flat."""
    if len(points) == 1:
        return np.ones(1)
    edges = points[1:] - points[0]
    try:
        if len(points) == 4:
            # The Gram matrix squares the condition: a flat tetrahedron beside the origin would seem to be around it.
            rest = np.linalg.solve(edges.T, -points[0])
        else:
            rest = np.linalg.solve(edges @ edges.T, -(edges @ points[0]))
    except np.linalg.LinAlgError:
        return None
    return np.concatenate(((1 - rest.sum(),), rest))


def overlap_depth(first: Support, second: Support, size: float) -> float:
    """Return the length of the shortest move that separates two convex bodies, or 0 if they do not overlap.

    Parameters
    ----------
    first, second : Support
        Maps a direction (3,) in the world to the farthest point of the body.
    size : float
        A length of about the bodies' extent. It scales the tolerances.

    Returns
    -------
    float
        In world lengths.

    Notes
    -----
    The hull of support differences grows at its facet nearest to the origin. Facets bound the depth from below and
    support planes from above, until both agree to `DEPTH_TOL` of the size.
    Source: van den Bergen, "Proximity Queries and Penetration Depth Computation" (2001).
    """
    corners = np.array([difference_along(first, second, direction) for direction in _START])
    if np.linalg.matrix_rank(corners - corners[0], tol=1e-9 * size) < 3:
        return 0.0  # both are flat in one plane: there is no depth
    try:
        hull = ConvexHull(corners, incremental=True)
        return _expanded(hull, first, second, size)
    except QhullError:
        return 0.0


def _expanded(hull: ConvexHull, first: Support, second: Support, size: float) -> float:
    above = np.inf
    for _ in range(MOST_ROUNDS):
        offsets = -hull.equations[:, 3]
        nearest = int(np.argmin(offsets))
        below, normal = float(offsets[nearest]), hull.equations[nearest, :3]
        new = difference_along(first, second, normal)
        above = min(above, float(normal @ new))
        if above <= 0:
            return 0.0
        if float(normal @ new) - below <= DEPTH_TOL * size:
            break
        hull.add_points(new[None])
    return max(above, 0.0)


def difference_along(first: Support, second: Support, direction: Array) -> Array:
    """Return the point (3,) of the bodies' difference that lies farthest along a direction."""
    a, b = _pair(first, second, direction)
    return np.asarray(a - b)


_START: Final = np.array(
    [d for d in itertools.product((-1.0, 0.0, 1.0), repeat=3) if any(d)]
)  # the 26 directions of a box's faces, edges and corners
