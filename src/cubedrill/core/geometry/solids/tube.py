"""A round bar with a bore."""

from __future__ import annotations

from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from cubedrill.core.geometry.solids.base import Bar
from cubedrill.core.geometry.surface import Triangles, cofactor, disc_area, lathe, wall_area
from cubedrill.core.values import Array, Positive


class Tube(Bar):
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

    def area(self, up: int, linear: Array) -> float:
        """Return the area of its two walls and its two ends."""
        stretch = cofactor(linear)
        walls = sum(wall_area(d, self.height, up, stretch) for d in (self.diameter, self.bore))
        return walls + 2 * (disc_area(self.diameter, up, stretch) - disc_area(self.bore, up, stretch))

    def surface(self, up: int, sides: int) -> Triangles:
        """Return its walls and its ends."""
        r, b, h = self.diameter / 2, self.bore / 2, self.height / 2
        return lathe(np.array(((b, -h), (r, -h), (r, h), (b, h), (b, -h))), up, sides)
