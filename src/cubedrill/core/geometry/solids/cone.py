"""A round cone."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np

from cubedrill.core.geometry.solids.base import (
    UPRIGHT_TOL,
    Axial,
    across_length,
    axis_along_up,
    farthest_on_rim,
    rim_point,
    signed_exchanges,
)
from cubedrill.core.geometry.surface import Triangles, axes_across, cofactor, disc_area, integral_over_a_turn, lathe
from cubedrill.core.values import Array, Positive


class Cone(Axial):
    """A round base at −up and an apex at +up."""

    kind: Literal["cone"] = "cone"
    diameter: Positive
    height: Positive

    @property
    def own_volume(self) -> float:
        """A third of its cylinder. Source: Euclid, Elements XII."""
        return np.pi * self.diameter**2 / 12 * self.height

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products, of the apex or the rim."""
        apex = directions_local[:, up] * (self.height / 2)
        base = across_length(up, directions_local) * (self.diameter / 2) - apex
        return np.asarray(np.maximum(apex, base))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the apex, or the point of the rim under the direction."""
        rim = rim_point(self.diameter, up, direction_local)
        rim[up] = -self.height / 2
        apex = np.zeros(3)
        apex[up] = self.height / 2
        return apex if apex @ direction_local >= rim @ direction_local else rim

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its side, integrated over a turn, and of its base."""
        stretch = cofactor(linear)
        radius, (first, second) = self.diameter / 2, axes_across(up)

        def size(turn: Array) -> Array:
            """Return the length of the stretched normal, times the side's area per radian."""
            normals = np.zeros((len(turn), 3))
            normals[:, first], normals[:, second], normals[:, up] = np.cos(turn), np.sin(turn), radius / self.height
            return np.asarray(np.linalg.norm(normals @ stretch.T, axis=1) * (radius * self.height / 2))

        return integral_over_a_turn(size) + disc_area(self.diameter, up, stretch)

    def surface(self, up: int, sides: int) -> Triangles:
        """Return its side and its base."""
        r, h = self.diameter / 2, self.height / 2
        return lathe(np.array(((0, -h), (r, -h), (0, h))), up, sides)

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the exchanges and mirrors of the axes across."""
        return signed_exchanges((0, 3 - up))

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|, which the apex or the rim has."""
        apex = np.linalg.norm(place + linear[:, :, up] * (self.height / 2), axis=1)
        return np.asarray(np.maximum(apex, farthest_on_rim(self.diameter, -self.height / 2, up, linear, place)))

    def centroid(self, up: int) -> Array:
        """Return a quarter of its height above the base (from memory)."""
        centre = super().centroid(up)
        centre[up] -= self.height / 4
        return centre

    def sides_from_corners(self, corners: int) -> int:
        """Return the corners but the apex."""
        return corners - 1

    def stands(self, up: int, target_from_local: Array) -> bool:
        """Tell whether its apex is up."""
        return axis_along_up(up, target_from_local) > 1 - UPRIGHT_TOL
