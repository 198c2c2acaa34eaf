"""A flat rectangle."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal, Self

import numpy as np
from scipy.spatial import ConvexHull

from cubedrill.core.geometry.box import corner_signs
from cubedrill.core.geometry.conventions import ConventionTransform
from cubedrill.core.geometry.fits import FLAT, VOLUME, tolerance_of
from cubedrill.core.geometry.solids.base import FlatSided, signed_exchanges
from cubedrill.core.geometry.surface import Triangles, axes_across
from cubedrill.core.values import Array, Flags, Indices, Positive, frozen


class Plate(FlatSided):
    """A flat rectangle across up; sizes along the other two axes, in the order x, y, z."""

    matched_by_corners = False

    kind: Literal["plate"] = "plate"
    size: tuple[Positive, Positive]

    @property
    def own_volume(self) -> float:
        """Zero."""
        return 0.0

    def sizes(self, up: int) -> Array:
        """Return (3,) its sizes, 0 along up."""
        return np.insert(np.array(self.size), up, 0.0)

    def corner_points(self, up: int) -> Array:
        """Return (8, 3) the corners of its flat box, each twice."""
        return corner_signs() * self.sizes(up) / 2

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products, without its corners."""
        return np.asarray(np.abs(directions_local) @ (self.sizes(up) / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the corner whose signs are those of the direction."""
        return np.asarray(np.copysign(self.sizes(up) / 2, direction_local))

    def converted(self, change: ConventionTransform) -> Self:
        """Return the same plate: its sizes change places and units."""
        sizes = change.ratio * change.sizes(self.sizes(change.source.up_index))
        return self.model_copy(update={"size": tuple(np.delete(sizes, change.target.up_index).tolist())})

    def surface(self, up: int, sides: int) -> Triangles:
        """Return two triangles that face up."""
        first, second = axes_across(up)
        half = self.sizes(up) / 2
        points = np.zeros((4, 3))
        points[:, first] = np.array((-1, 1, 1, -1)) * half[first]
        points[:, second] = np.array((-1, -1, 1, 1)) * half[second]
        return points, np.array(((0, 1, 2), (0, 2, 3)), dtype=np.intp)

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the exchanges and mirrors of the axes across, with and without the mirror along up."""
        mirrored = np.diag([-1.0 if axis == up else 1.0 for axis in range(3)])
        return [flip @ q for q in signed_exchanges((0, 3 - up)) for flip in (np.eye(3), mirrored)]

    def fitted_to(self, up: int, points: Array, triangles: Indices) -> list[Array]:
        """Return the eight maps onto a flat mesh with four corners; nothing is stretched across it."""
        middle = points.mean(axis=0)
        _, spreads, axes = np.linalg.svd(points - middle, full_matrices=False)
        near = tolerance_of(points)
        if len(points) < 4 or float(np.abs((points - middle) @ axes[2]).max()) > near or spreads[1] <= near:
            return []
        hull = ConvexHull((points - middle) @ axes[:2].T)
        around = points[hull.vertices[_turns(hull)]]
        sides = np.cross(
            points[triangles[:, 1]] - points[triangles[:, 0]], points[triangles[:, 2]] - points[triangles[:, 0]]
        )
        covered = float(np.linalg.norm(sides, axis=1).sum()) / 2 / hull.volume  # once, or twice where it has both sides
        if len(around) != 4 or min(abs(covered - 1), abs(covered - 2)) > VOLUME:
            return []
        half = np.array(self.size) / 2
        own = np.column_stack((np.array(((1, 1), (-1, 1), (-1, -1), (1, -1))) * half, np.ones(4)))
        maps = []
        for way in (around, around[::-1]):
            for first in range(4):
                corners = np.roll(way, first, axis=0)
                solution: Array = np.linalg.lstsq(own, corners, rcond=None)[0].astype(np.float64)
                if float(np.abs(own @ solution - corners).max()) <= near:
                    maps.append(_upright(solution, up))
        return maps


def _turns(hull: ConvexHull) -> Flags:
    """Return a mask of the corners of a flat hull at which its edge turns."""
    along = np.diff(hull.points[hull.vertices], axis=0, append=hull.points[hull.vertices[:1]])
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    before = np.roll(along, 1, axis=0)
    return np.asarray(np.abs(before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]) > math.sqrt(FLAT))


def _upright(solution: Array, up: int) -> Array:
    """The map of a plate from where its two axes and its middle go; its normal stays one long, and right-handed."""
    target_from_local = np.eye(4)
    flat = [axis for axis in range(3) if axis != up]
    target_from_local[:3, flat], target_from_local[:3, 3] = solution[:2].T, solution[2]
    normal = np.cross(target_from_local[:3, (up + 1) % 3], target_from_local[:3, (up + 2) % 3])
    target_from_local[:3, up] = normal / np.linalg.norm(normal)
    return frozen(target_from_local)
