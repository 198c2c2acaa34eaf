"""A round bar."""

from __future__ import annotations

from typing import Literal

import numpy as np

from cubedrill.core.geometry.solids.base import Bar
from cubedrill.core.geometry.surface import Triangles, cofactor, disc_area, lathe, wall_area
from cubedrill.core.values import Array, Positive


class Cylinder(Bar):
    """A round bar along up."""

    kind: Literal["cylinder"] = "cylinder"
    diameter: Positive
    height: Positive

    @property
    def own_volume(self) -> float:
        """Its base times its height."""
        return np.pi * self.diameter**2 / 4 * self.height

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its wall and its two ends."""
        stretch = cofactor(linear)
        return wall_area(self.diameter, self.height, up, stretch) + 2 * disc_area(self.diameter, up, stretch)

    def surface(self, up: int, sides: int) -> Triangles:
        """Return its wall and its ends."""
        r, h = self.diameter / 2, self.height / 2
        return lathe(np.array(((0, -h), (r, -h), (r, h), (0, h))), up, sides)
