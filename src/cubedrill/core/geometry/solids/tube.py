"""A round bar with a bore."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.geometry.solids.base import Axial, across_length, farthest_on_rim, rim_point
from cubedrill.core.geometry.surface import Triangles, cofactor, disc_area, lathe, wall_area
from cubedrill.core.values import Array, Positive


class Tube(Axial):
    """A cylinder with a round bore along up."""

    is_convex = False

    kind: Literal["tube"] = "tube"
    diameter: Positive
    bore: Positive
    height: Positive

    @model_validator(mode="after")
    def _bore_fits(self) -> Self:
        if self.bore >= self.diameter:
            raise ValueError("the bore must be below the diameter")
        return self

    @property
    def own_volume(self) -> float:
        """Its base without the bore, times its height."""
        return np.pi * (self.diameter**2 - self.bore**2) / 4 * self.height

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products; see `SolidBase.support`."""
        across = across_length(up, directions_local)
        return np.asarray(np.abs(directions_local[:, up]) * (self.height / 2) + across * (self.diameter / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the point of the outer rim under the direction."""
        rim = rim_point(self.diameter, up, direction_local)
        rim[up] = np.copysign(self.height / 2, direction_local[up])
        return rim

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its two walls and its two ends."""
        stretch = cofactor(linear)
        walls = sum(wall_area(d, self.height, up, stretch) for d in (self.diameter, self.bore))
        return walls + 2 * (disc_area(self.diameter, up, stretch) - disc_area(self.bore, up, stretch))

    def surface(self, up: int, sides: int) -> Triangles:
        """Return its walls and its ends."""
        r, b, h = self.diameter / 2, self.bore / 2, self.height / 2
        return lathe(np.array(((b, -h), (r, -h), (r, h), (b, h), (b, -h))), up, sides)

    def farthest(self, up: int, linear: Array, place: Array) -> Array:
        """Return the largest |A x + p|, which an outer rim has."""
        rims = (farthest_on_rim(self.diameter, side * self.height / 2, up, linear, place) for side in (1, -1))
        return np.asarray(np.maximum(*rims))

    def sides_from_corners(self, corners: int) -> int:
        """Return half the corners of its hull: each end has one for every side."""
        return corners // 2
