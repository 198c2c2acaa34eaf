"""A pyramid over a rectangle."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, Literal

import numpy as np

from cubedrill.core.geometry.solids.base import Boxed, Size, outward, signed_exchanges
from cubedrill.core.geometry.surface import Triangles
from cubedrill.core.values import Array

# Along X, up and the third axis.
CORNERS: Final = ((-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (0, 1, 0))
FACES: Final = ((0, 2, 3, 1), (0, 1, 4), (1, 3, 4), (3, 2, 4), (2, 0, 4))


class Pyramid(Boxed):
    """A base at −up and an apex in the middle of +up."""

    kind: Literal["pyramid"] = "pyramid"
    size: Size

    @property
    def own_volume(self) -> float:
        """A part of its box. Source: Euclid, Elements XII."""
        return float(np.prod(self.size)) / 3

    def corner_points(self, up: int) -> Array:
        """Return (5, 3) its corners."""
        signs = np.zeros((len(CORNERS), 3))
        signs[:, (0, up, 3 - up)] = CORNERS  # X is never up
        return np.asarray(signs * np.array(self.size) / 2)

    def surface(self, up: int, sides: int) -> Triangles:
        """Return the triangles of its faces."""
        return self.corner_points(up), outward(FACES, (0, up, 3 - up))

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the exchanges and mirrors of the axes across."""
        return signed_exchanges((0, 3 - up))

    def centroid(self, up: int) -> Array:
        """Return a quarter of its height above the base (from memory)."""
        centre = super().centroid(up)
        centre[up] -= self.size[up] / 4
        return centre
