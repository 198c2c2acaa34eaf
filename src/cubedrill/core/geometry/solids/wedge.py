"""A right triangle in the plane of X and up."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, Literal

import numpy as np

from cubedrill.core.geometry.solids.base import Boxed, Size, outward
from cubedrill.core.geometry.surface import Triangles
from cubedrill.core.values import Array

# Along X, up and the third axis.
CORNERS: Final = (
    (-1, -1, -1),
    (-1, -1, 1),
    (1, -1, -1),
    (1, -1, 1),
    (-1, 1, -1),
    (-1, 1, 1),
)
FACES: Final = ((0, 2, 3, 1), (0, 1, 5, 4), (2, 4, 5, 3), (0, 4, 2), (1, 3, 5))


class Wedge(Boxed):
    """A right triangle in the plane of X and up, drawn out along the third axis; right angle at −X −up."""

    kind: Literal["wedge"] = "wedge"
    size: Size

    @property
    def own_volume(self) -> float:
        """A part of its box. Source: Euclid, Elements XII."""
        return float(np.prod(self.size)) / 2

    def corner_points(self, up: int) -> Array:
        """Return (6, 3) its corners."""
        signs = np.zeros((len(CORNERS), 3))
        signs[:, (0, up, 3 - up)] = CORNERS  # X is never up
        return np.asarray(signs * np.array(self.size) / 2)

    def surface(self, up: int, sides: int) -> Triangles:
        """Return the triangles of its faces."""
        return self.corner_points(up), outward(FACES, (0, up, 3 - up))

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
