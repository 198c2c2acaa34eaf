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
        """Return a named point of the box.

        Parameters
        ----------
        name : str
            ``centre``, ``+x`` (face), ``+x-y`` (middle of an edge) or ``+x+y-z`` (corner).

        Returns
        -------
        (3,) array
            In the frame of the box.

        Examples
        --------
        >>> Box(np.zeros(3), np.array([2.0, 4.0, 6.0])).feature("+x-y")
        array([2., 0., 3.])
        """
        signs = feature_signs(name)
        return np.asarray(self.centre + signs * (self.most - self.least) / 2)

    def with_box(self, other: Box) -> Box:
        """Return the least box around both."""
        return Box(np.minimum(self.least, other.least), np.maximum(self.most, other.most))


def is_feature(name: str) -> bool:
    """Tell whether this is the name of a point of a box."""
    return name == "centre" or _FEATURE.fullmatch(name) is not None


def feature_signs(name: str) -> Array:
    """Return where on a box the point of a name lies, as −1, 0 or 1 along each axis.

    Returns
    -------
    (3,) array

    Examples
    --------
    >>> feature_signs("+x-y")
    array([ 1., -1.,  0.])
    """
    return np.array([(f"+{axis}" in name) - float(f"-{axis}" in name) for axis in "xyz"])


def corner_signs() -> Array:
    """Return (8, 3) of −1 and 1: the corners of a box, the last axis running fastest."""
    return np.array(list(itertools.product((-1.0, 1.0), repeat=3)))
