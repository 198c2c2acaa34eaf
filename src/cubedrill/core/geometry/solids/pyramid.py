"""A pyramid over a rectangle."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np

from cubedrill.core.geometry.solids.base import Cornered, Size, signed_exchanges
from cubedrill.core.values import Array


class Pyramid(Cornered):
    """A base at −up and an apex in the middle of +up."""

    signs = ((-1, -1, -1), (-1, -1, 1), (1, -1, -1), (1, -1, 1), (0, 1, 0))
    faces = ((0, 2, 3, 1), (0, 1, 4), (1, 3, 4), (3, 2, 4), (2, 0, 4))

    kind: Literal["pyramid"] = "pyramid"
    size: Size

    @property
    def own_volume(self) -> float:
        """A part of its box. Source: Euclid, Elements XII."""
        return float(np.prod(self.size)) / 3

    def symmetries(self, up: int) -> Sequence[Array]:
        """Return the exchanges and mirrors of the axes across."""
        return signed_exchanges((0, 3 - up))

    def centroid(self, up: int) -> Array:
        """Return a quarter of its height above the base (from memory)."""
        centre = super().centroid(up)
        centre[up] -= self.size[up] / 4
        return centre
