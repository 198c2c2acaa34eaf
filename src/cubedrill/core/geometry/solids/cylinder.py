"""A round bar."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cubedrill.core.geometry.solids.base import Axial, across_length, farthest_on_rim, rim_point
from cubedrill.core.geometry.surface import Triangles, cofactor, disc_area, lathe, wall_area
from cubedrill.core.values import Array, Positive


class Cylinder(Axial):
    """A round bar along up."""

    kind: Literal["cylinder"] = "cylinder"
    diameter: Positive
    height: Positive

    @property
    def own_volume(self) -> float:
        """Its base times its height."""
        return np.pi * self.diameter**2 / 4 * self.height

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products; see `SolidBase.support`."""
        across = across_length(up, directions_local)
        return np.asarray(np.abs(directions_local[:, up]) * (self.height / 2) + across * (self.diameter / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the point of the rim under the direction."""
        rim = rim_point(self.diameter, up, direction_local)
        rim[up] = np.copysign(self.height / 2, direction_local[up])
        return rim

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its wall and its two ends."""
        stretch = cofactor(linear)
        return wall_area(self.diameter, self.height, up, stretch) + 2 * disc_area(self.diameter, up, stretch)

    def surface(self, up: int, sides: int) -> Triangles:
        """Return its wall and its ends."""
        r, h = self.diameter / 2, self.height / 2
        return lathe(np.array(((0, -h), (r, -h), (r, h), (0, h))), up, sides)

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|, which a rim has."""
        rims = (farthest_on_rim(self.diameter, side * self.height / 2, up, linear, place) for side in (1, -1))
        return np.asarray(np.maximum(*rims))

    def sides_from_corners(self, corners: int) -> int:
        """Return half the corners: each end has one for every side."""
        return corners // 2
