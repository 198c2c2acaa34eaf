"""A witness for looks: the least shape distance by trying, written from the page alone; nothing of the product is used.

Points of the surface, all the ways to lay its axes, angles in small steps and then finer ones. Slow and plain.
"""

from __future__ import annotations

import itertools
import math

import numpy as np

EVEN = 1e-4  # of the larger size: sizes so near count as equal


SIDES = 4000  # of a rim: its corners come within (π / 4000)² / 2 = 3e-7 of its farthest point
CORNERS = {
    "cuboid": list(itertools.product((-1, 1), repeat=3)),
    "plate": list(itertools.product((-1, 1), (0,), (-1, 1))),
    "wedge": [(-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (-1, 1, -1), (-1, 1, 1)],
    "pyramid": [(-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (0, 1, 0)],
}
SECTION = {"sphere": 1.0, "ring": 0.25}  # of a ring of outer radius 1, whose height is made 1 like all half extents


def rims(kind: str) -> np.ndarray:
    """(n, 3) points of the normal shape (half extents 1, up along Y) among which the farthest ones are."""
    if kind in CORNERS:
        return np.array(CORNERS[kind], dtype=float)
    turn = np.linspace(0, 2 * np.pi, SIDES, endpoint=False)
    circle = np.column_stack((np.cos(turn), np.zeros(SIDES), np.sin(turn)))
    up = np.array([0.0, 1.0, 0.0])
    return np.concatenate((circle - up, up[None] if kind == "cone" else circle + up))


def bulging(kind: str, around: np.ndarray, over: np.ndarray) -> np.ndarray:
    """(…, 3) points of a ball's or a ring's surface at two angles."""
    flat = 1 - SECTION[kind] + SECTION[kind] * np.cos(over)
    return np.stack((flat * np.cos(around), np.sin(over), flat * np.sin(around)), axis=-1)


def farthest(kind: str, target: np.ndarray, submitted: np.ndarray) -> float:
    """Largest distance of corresponding points; target, submitted (4, 4) from the normal shape."""
    apart = submitted - target

    def distances(points):
        return np.linalg.norm(points @ apart[:3, :3].T + apart[:3, 3], axis=-1)

    if kind not in SECTION:
        return float(distances(rims(kind)).max())
    around, over = np.meshgrid(
        np.linspace(0, 2 * np.pi, 73)[:-1], np.linspace(-np.pi / 2, np.pi / 2, 37), indexing="ij"
    )
    first, second = around.ravel(), over.ravel()
    step = np.pi / 36
    offsets = np.array(list(itertools.product(np.linspace(-1, 1, 9), repeat=2)))
    for _ in range(6):  # finer and finer about the best dozen
        best = np.argsort(distances(bulging(kind, first, second)))[-12:]
        first = (first[best, None] + step * offsets[:, 0]).ravel()
        second = (second[best, None] + step * offsets[:, 1]).ravel()
        step /= 4
    return float(distances(bulging(kind, first, second)).max())


def exchanges(axes: tuple[int, ...]) -> list[np.ndarray]:
    """All ways to exchange these axes and turn them round."""
    found = []
    for order in itertools.permutations(axes):
        for signs in itertools.product((1, -1), repeat=len(axes)):
            q = np.eye(3)
            q[:, axes] = 0
            for source, target, sign in zip(axes, order, signs, strict=True):
                q[target, source] = sign
            found.append(q)
    return found


FLIP = np.diag([1.0, -1.0, 1.0])
SYMMETRIES = {
    "cuboid": exchanges((0, 1, 2)),
    "plate": [f @ q for q in exchanges((0, 2)) for f in (np.eye(3), FLIP)],
    "pyramid": exchanges((0, 2)),
    "wedge": [np.eye(3), np.diag([1.0, 1, -1]), np.eye(3)[[1, 0, 2]], np.eye(3)[[1, 0, 2]] @ np.diag([1.0, 1, -1])],
    "cylinder": [f @ q for q in exchanges((0, 2)) for f in (np.eye(3), FLIP)],
    "tube": [f @ q for q in exchanges((0, 2)) for f in (np.eye(3), FLIP)],
    "ring": [f @ q for q in exchanges((0, 2)) for f in (np.eye(3), FLIP)],
    "cone": exchanges((0, 2)),
    "sphere": exchanges((0, 1, 2)),
}


def about_up(angle: float) -> np.ndarray:
    c, s = math.cos(angle), math.sin(angle)
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])


def described(submitted: np.ndarray, q: np.ndarray) -> np.ndarray:
    anew = submitted.copy()
    anew[:3, :3] = submitted[:3, :3] @ q
    return anew


def least(kind: str, target: np.ndarray, submitted: np.ndarray) -> tuple[float, float]:
    """The least distance over all that looks the same, and the angle in rad of that description to the target.

    target, submitted: (4, 4) from the normal shape; the target is not skewed.
    """
    submitted = _by_principal_axes(kind, submitted)
    sign = np.linalg.det(target[:3, :3]) * np.linalg.det(submitted[:3, :3])
    lengths = np.linalg.norm(submitted[:3, :3], axis=0)
    even = abs(lengths[0] - lengths[2]) <= EVEN * lengths.max()
    tried = []
    for q in SYMMETRIES[kind]:
        if np.linalg.det(q) * sign <= 0:
            continue
        if kind not in ("cylinder", "tube", "cone", "ring") or not even:
            anew = described(submitted, q)
            tried.append((farthest(kind, target, anew), anew))
        elif q[0, 2] == 0 and q[2, 2] == 1:
            tried.append(_least_turn(kind, target, submitted, q))
    best = min(distance for distance, _ in tried)
    angles = [_angle(target, anew) for distance, anew in tried if distance <= best * (1 + 1e-7) + 1e-12]
    return best, min(angles)


def _by_principal_axes(kind, submitted):
    """Across its axis for what is round about one, in all for a ball: one of the ways, all others are exchanges."""
    axes = {"sphere": [0, 1, 2]}.get(kind, [0, 2] if kind in ("cylinder", "tube", "cone", "ring") else [])
    if not axes:
        return submitted
    gram = submitted[:3, axes].T @ submitted[:3, axes]
    laid = np.eye(3)
    if np.abs(gram - np.diag(np.diag(gram))).max() > 1e-12:
        laid[np.ix_(axes, axes)] = np.linalg.eigh(gram)[1]
    return described(submitted, laid)


def _least_turn(kind, target, submitted, q):
    """The least over all turns about up: small steps first, then ever finer ones about the best three."""

    def distance(angle):
        return farthest(kind, target, described(submitted, q @ about_up(angle)))

    steps = 90
    step = 2 * math.pi / steps
    values = [distance(k * step) for k in range(steps)]
    lows = [k for k in range(steps) if values[k] <= min(values[k - 1], values[(k + 1) % steps])]
    best, at = math.inf, 0.0
    for k in sorted(lows, key=values.__getitem__)[:3]:
        centre, half = k * step, step
        while half > 1e-8:
            tried = [(distance(centre + half * share), centre + half * share) for share in (-1, -0.5, 0, 0.5, 1)]
            value, centre = min(tried)
            half *= 0.55
            if value < best:
                best, at = value, centre
    return best, described(submitted, q @ about_up(at))


def _angle(target: np.ndarray, submitted: np.ndarray) -> float:
    """Angle between the rotations of two maps, each the nearest one to it (polar), its X turned where it mirrors."""
    between = _rotation(submitted) @ _rotation(target).T
    sine = np.linalg.norm([between[2, 1] - between[1, 2], between[0, 2] - between[2, 0], between[1, 0] - between[0, 1]])
    return math.atan2(sine / 2, (np.trace(between) - 1) / 2)


def _rotation(placed: np.ndarray) -> np.ndarray:
    left, _, right = np.linalg.svd(placed[:3, :3])
    turned = left @ right
    return turned * [np.linalg.det(turned), 1, 1]
