"""A right triangle in the plane of X and up."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np

from cubedrill.core.geometry.solids.base import Cornered, Size
from cubedrill.core.values import Array


class Wedge(Cornered):
    """A right triangle in the plane of X and up, drawn out along the third axis; right angle at −X −up."""

    signs = ((-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (-1, 1, -1), (-1, 1, 1))
    faces = ((0, 2, 3, 1), (0, 1, 5, 4), (2, 4, 5, 3), (0, 4, 2), (1, 3, 5))

    kind: Literal["wedge"] = "wedge"
    size: Size

    @property
    def own_volume(self) -> float:
        """A part of its box. Source: Euclid, Elements XII."""
        return float(np.prod(self.size)) / 2

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the mirror along the third axis, the exchange of X and up, and both."""
        swap = np.eye(3)
        swap[[0, up]] = swap[[up, 0]]
        flip = np.diag([-1.0 if axis == 3 - up else 1.0 for axis in range(3)])
        return [np.eye(3), flip, swap, swap @ flip]

    def centroid(self, up: int) -> Array:
        """Return a third of its sizes from the right angle (Archimedes, On the Equilibrium of Planes)."""
        centre = super().centroid(up)
        centre[[0, up]] -= np.array(self.size)[[0, up]] / 6
        return centre
