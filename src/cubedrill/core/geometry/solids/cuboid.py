"""A block."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, Literal

import numpy as np

from cubedrill.core.geometry.box import corner_signs
from cubedrill.core.geometry.solids.base import Boxed, Size, outward, signed_exchanges
from cubedrill.core.geometry.surface import Triangles
from cubedrill.core.values import Array

FACES: Final = ((0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3))


class Cuboid(Boxed):
    """A block with sizes along X, Y and Z."""

    kind: Literal["cuboid"] = "cuboid"
    size: Size

    @property
    def own_volume(self) -> float:
        """The product of its sizes."""
        return float(np.prod(self.size))

    def corner_points(self, up: int) -> Array:
        """Return (8, 3) its corners."""
        return np.asarray(corner_signs() * np.array(self.size) / 2)

    def support(self, up: int, directions_local: Array) -> Array:
        """Return the largest dot products, without its corners."""
        return np.asarray(np.abs(directions_local) @ (np.array(self.size) / 2))

    def support_point(self, up: int, direction_local: Array) -> Array:
        """Return the corner whose signs are those of the direction."""
        return np.asarray(np.copysign(np.array(self.size) / 2, direction_local))

    def surface(self, up: int, sides: int) -> Triangles:
        """Return twelve triangles."""
        return self.corner_points(up), outward(FACES, (0, 1, 2))

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the 48 signed exchanges of axes."""
        return signed_exchanges((0, 1, 2))
