"""Boxes along the axes of a frame, and the names of their points."""

from __future__ import annotations

import itertools
import re
from dataclasses import dataclass
from typing import Final

import numpy as np

from cubedrill.core.values import Array

_FEATURE: Final = re.compile(r"(?=.)([+-]x)?([+-]y)?([+-]z)?")


@dataclass(frozen=True)
class Box:
    """A box along the axes of some frame: its least and largest coordinates, (3,) each."""

    least: Array
    most: Array

    @property
    def size(self) -> Array:
        """(3,) the lengths of the box."""
        return np.asarray(self.most - self.least)

    @property
    def centre(self) -> Array:
        """(3,) the middle of the box."""
        return np.asarray((self.least + self.most) / 2)

    def feature(self, name: str) -> Array:
        """(3,) the point of the box with this name: `centre`, `+x` (face), `+x-y` (edge), `+x+y-z` (corner)."""
        signs = feature_signs(name)
        return np.asarray(self.centre + signs * (self.most - self.least) / 2)

    def with_box(self, other: Box) -> Box:
        """Return the least box around both."""
        return Box(np.minimum(self.least, other.least), np.maximum(self.most, other.most))


def is_feature(name: str) -> bool:
    """Tell whether this is the name of a point of a box."""
    return name == "centre" or _FEATURE.fullmatch(name) is not None


def feature_signs(name: str) -> Array:
    """(3,) of −1, 0 and 1: where on a box the point of this name lies."""
    return np.array([(f"+{axis}" in name) - float(f"-{axis}" in name) for axis in "xyz"])


def corner_signs() -> Array:
    """Return (8, 3) of −1 and 1: the corners of a box, the last axis running fastest."""
    return np.array(list(itertools.product((-1.0, 1.0), repeat=3)))
