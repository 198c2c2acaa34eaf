"""The largest |A x + p| over the points x of a surface, for many affine maps (A, p) at once.

With A and p the difference of two placings of one solid, this is the largest distance between corresponding points.
It is convex in x, so the extreme points of the solid's hull have it: corners, rims, apex, or the outer surface of a
ball or a ring. Source: the largest deviation behind MSSD, Hodaň et al., BOP challenge (2020).
"""

from __future__ import annotations

from typing import Final

import numpy as np

from cubedrill.core.values import Array

MOST_NEWTON: Final = 60  # Newton's steps of the secular equation; it takes some five, more beside its hard case
SETTLED: Final = 4e-16  # of the shift: what float64 can still tell
RING_AROUND: Final = 16  # samples about a ring's axis, and over the outer half of its section, from which the
RING_ACROSS: Final = 7  # greatest places are looked for: the squared distance is of the second degree in each angle
RING_NEWTON: Final = 5
MANY: Final = 2_000_000  # so many distances are worked out at once at most


def farthest_of_points(points: Array, linear: Array, place: Array) -> Array:
    """Return the largest |A x + p| over some points x, for many affine maps at once.

    Parameters
    ----------
    points : (k, 3) array
    linear : (n, 3, 3) array
        The linear parts A.
    place : (n, 3) array
        The translations p.

    Returns
    -------
    (n,) array

    Examples
    --------
    >>> farthest_of_points(np.array([[1.0, 0.0, 0.0]]), np.eye(3)[None], np.array([[2.0, 0.0, 0.0]]))
    array([3.])
    """
    together = max(1, MANY // len(points))
    found = [
        np.linalg.norm(points @ linear[i : i + together].swapaxes(1, 2) + place[i : i + together, None], axis=2).max(1)
        for i in range(0, len(linear), together)
    ]
    return np.concatenate(found)


def farthest_on_ball(linear: Array, place: Array) -> Array:
    """Return the largest |A x + p| over unit vectors x in two or three dimensions, for many affine maps at once.

    Parameters
    ----------
    linear : (n, 3, k) array
        The linear parts A; k is 2 or 3.
    place : (n, 3) array
        The translations p.

    Returns
    -------
    (n,) array

    Notes
    -----
    Newton's method solves the secular equation of the trust-region problem and approaches the root from below. The
    hard case is included: if the pull has no component along the longest axis, the rest of x lies along that axis, in
    either direction.
    Source: Moré and Sorensen, "Computing a trust region step" (1983).

    Examples
    --------
    >>> farthest_on_ball(np.diag([3.0, 1.0, 1.0])[None], np.zeros((1, 3)))
    array([3.])
    """
    transposed = linear.swapaxes(1, 2)
    values, vectors = np.linalg.eigh(transposed @ linear)
    pull = np.vecmat(np.matvec(transposed, place), vectors)
    gaps = values[:, -1:] - values
    shift = (np.abs(pull) - gaps).max(axis=1).clip(0)  # one part of x alone is as long as x should be here
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        for _ in range(MOST_NEWTON):
            below = gaps + shift[:, None]
            parts = np.where(below > 0, pull / below, 0.0)
            squares = parts**2
            length = np.sqrt(squares.sum(axis=1))
            steepness = np.where(below > 0, squares / below, 0.0).sum(axis=1)
            step = np.where((length > 1) & (steepness > 0), (length - 1) * length**2 / steepness, 0.0)
            shift = shift + step
            if (step <= SETTLED * shift).all():
                break
    rest = np.sqrt((1 - (parts[:, :-1] ** 2).sum(axis=1)).clip(0))
    found = np.zeros(len(linear))
    for way in (1.0, -1.0):
        at = parts.copy()
        at[:, -1] = np.where(length < 1, way * rest, parts[:, -1])
        at /= np.linalg.norm(at, axis=1)[:, None]
        found = np.maximum(found, np.linalg.norm(np.matvec(linear, np.matvec(vectors, at)) + place, axis=1))
    return found


def farthest_on_ring(linear: Array, place: Array, way: float, section: float) -> Array:
    """Return the largest |A x + p| over the points x of a torus, for many affine maps at once.

    Parameters
    ----------
    linear : (n, 3, 3) array
        The linear parts A. Columns are the two axes across the torus and its own axis.
    place : (n, 3) array
        The translations p.
    way : float
        Distance from the axis to the middle of the section.
    section : float
        Radius of the section.

    Returns
    -------
    (n,) array

    Notes
    -----
    Newton's method in the two angles of the surface starts from the largest samples.
    """
    around = np.linspace(0, 2 * np.pi, RING_AROUND, endpoint=False)
    over = np.linspace(-np.pi / 2, np.pi / 2, RING_ACROSS)
    first, second = np.repeat(around, RING_ACROSS), np.tile(over, RING_AROUND)
    samples = _on_ring(first, second, way, section)[0]
    squared = np.sum((samples @ linear.swapaxes(1, 2) + place[:, None]) ** 2, axis=2)
    sides = squared.reshape(len(linear), RING_AROUND, RING_ACROSS)
    flat = np.pad(sides, ((0, 0), (0, 0), (1, 1)), mode="edge")
    beside = [np.roll(sides, 1, 1), np.roll(sides, -1, 1), flat[:, :, :-2], flat[:, :, 2:]]
    which, *at = np.nonzero(np.all([sides >= side for side in beside], axis=0))
    gram = (linear.swapaxes(1, 2) @ linear)[which]
    pull = np.matvec(linear.swapaxes(1, 2), place)[which]
    first, second = around[at[0]], over[at[1]]
    for _ in range(RING_NEWTON):
        by_first, by_second = _step_up(_on_ring(first, second, way, section), gram, pull)
        first, second = first + by_first, second + by_second
    points = _on_ring(first, second, way, section)[0]
    squared = squared.max(axis=1)
    np.maximum.at(squared, which, np.sum((np.matvec(linear[which], points) + place[which]) ** 2, axis=1))
    return np.asarray(np.sqrt(squared))


def _on_ring(around: Array, over: Array, way: float, section: float) -> list[Array]:
    """(n, 3) points of a torus at two angles, and their derivatives: by each, and twice by the first, both, the second.

    Coordinates: the two axes across it, and its own.
    """
    c, s, flat, high = np.cos(around), np.sin(around), section * np.cos(over), section * np.sin(over)
    none, out = np.zeros_like(c), way + flat

    def point(along: Array, beside: Array, up: Array) -> Array:
        return np.stack((along * c - beside * s, along * s + beside * c, up), axis=-1)

    return [
        point(out, none, high), point(none, out, none), point(-high, none, flat),
        point(-out, none, none), point(none, -high, none), point(-flat, none, -high),
    ]  # fmt: skip


def _step_up(surface: list[Array], gram: Array, pull: Array) -> tuple[Array, Array]:
    """One step of Newton's method towards the greatest squared distance, no longer than from sample to sample."""
    point, by_1, by_2, by_11, by_12, by_22 = surface
    pulled = np.matvec(gram, point) + pull
    g1, g2 = np.vecdot(pulled, by_1), np.vecdot(pulled, by_2)
    turned_1, turned_2 = np.matvec(gram, by_1), np.matvec(gram, by_2)
    a = np.vecdot(by_1, turned_1) + np.vecdot(pulled, by_11)
    b = np.vecdot(by_1, turned_2) + np.vecdot(pulled, by_12)
    d = np.vecdot(by_2, turned_2) + np.vecdot(pulled, by_22)
    below = a * d - b * b
    below = np.where(below == 0, 1.0, below)
    most = np.pi / RING_ACROSS
    return (-(d * g1 - b * g2) / below).clip(-most, most), (-(a * g2 - b * g1) / below).clip(-most, most)
