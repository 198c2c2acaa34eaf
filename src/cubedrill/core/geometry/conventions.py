"""Conventions of an exercise (axes, handedness, units, rotation order), and transforms between two of them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Final, Literal

import numpy as np

from cubedrill.core.geometry.choices import Handedness, Length, Up
from cubedrill.core.values import Array, Value, frozen

EulerOrder = Literal[
    "XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX", "XYX", "XZX", "YXY", "YZY", "ZXZ", "ZYZ",
    "xyz", "xzy", "yxz", "yzx", "zxy", "zyx", "xyx", "xzx", "yxy", "yzy", "zxz", "zyz",
]  # fmt: skip
Axis = Literal["x", "y", "z"]

AXES: Final[tuple[Axis, Axis, Axis]] = ("x", "y", "z")

# Rows are right, up, toward the viewer; columns are where X, Y and Z point.
_PICTURE_FROM_WORLD: Final[dict[tuple[str, str], Array]] = {
    ("y", "right"): np.array([[1, 0, 0], [0, 1, 0], [0, 0, 1]], dtype=np.float64),
    ("y", "left"): np.array([[1, 0, 0], [0, 1, 0], [0, 0, -1]], dtype=np.float64),
    ("z", "right"): np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], dtype=np.float64),
    ("z", "left"): np.array([[1, 0, 0], [0, 0, 1], [0, 1, 0]], dtype=np.float64),
}

_RADIANS: Final = {"deg": math.pi / 180, "rad": 1.0, "turn": 2 * math.pi}

# Source: international yard and pound agreement (1959), 1 in = 25.4 mm exactly; 1 ft = 12 in.
MILLIMETRES: Final = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}


class Conventions(Value):
    """The conventions that hold for all numbers of an exercise, its steps and its tolerances."""

    up: Up = "y"
    handedness: Handedness = "right"
    length: Length = "m"
    angle: Literal["deg", "rad", "turn"] = "deg"
    euler: EulerOrder = "XYZ"

    @property
    def up_index(self) -> int:
        """0, 1 or 2 for the axis that points up."""
        return AXES.index(self.up)

    @property
    def radians_per_unit(self) -> float:
        """Radians in one of the exercise's angle units."""
        return _RADIANS[self.angle]

    @property
    def picture_from_world(self) -> Array:
        """Return the map from the exercise's axes to right, up and toward the viewer.

        Returns
        -------
        (3, 3) array
            Orthogonal. Its determinant is −1 for left-handed conventions.

        Notes
        -----
        Source: glTF 2.0, coordinate system and units.
        """
        return frozen(_PICTURE_FROM_WORLD[self.up, self.handedness].copy())


@dataclass(frozen=True)
class ConventionTransform:
    """A change from one set of conventions to another, for points, directions, maps, turns and names of axes."""

    source: Conventions
    target: Conventions
    keeps_axes: bool = False  # for numbers along axes that are the same in all conventions, such as a view's

    @cached_property
    def basis(self) -> Array:
        """(3, 3) signed permutation that takes directions of the source's world to the target's.

        X stays X and up stays up in every pair of conventions; only the third axis changes letter or sign.
        """
        if self.keeps_axes:
            return frozen(np.eye(3))
        return frozen(self.target.picture_from_world.T @ self.source.picture_from_world)

    @cached_property
    def ratio(self) -> float:
        """Target lengths in one source length."""
        return MILLIMETRES[self.source.length] / MILLIMETRES[self.target.length]

    @cached_property
    def hand(self) -> float:
        """−1 where the handedness changes, else 1: a turn about a mapped axis goes the other way round."""
        return -1.0 if self.source.handedness != self.target.handedness else 1.0

    def length(self, value: float) -> float:
        """Return a length in the target's unit."""
        return value * self.ratio

    def direction(self, direction_source: Array) -> Array:
        """Return (..., 3) directions or factors-free vectors, not scaled."""
        return np.asarray(direction_source @ self.basis.T)

    def point(self, point_source: Array) -> Array:
        """Return (..., 3) points and displacements, in the target's unit."""
        return np.asarray(self.ratio * self.direction(point_source))

    def sizes(self, sizes_source: Array) -> Array:
        """Return (3,) factors or sizes an axis, put in the target's order; not scaled to its unit."""
        return np.asarray(np.abs(self.basis) @ sizes_source)

    def rotation(self, rotation_source: Array) -> Array:
        """Return (3, 3) linear map: B R B⁻¹."""
        return np.asarray(self.basis @ rotation_source @ self.basis.T)

    def matrix(self, parent_from_local_source: Array) -> Array:
        """Return (4, 4) affine map: [B A B⁻¹ | ratio · B t]."""
        changed = np.eye(4)
        changed[:3, :3] = self.rotation(parent_from_local_source[:3, :3])
        changed[:3, 3] = self.point(parent_from_local_source[:3, 3])
        return changed

    def turn(self, angle_source: float) -> float:
        """Return the angle in the target's unit, of the same turn about the mapped axis."""
        return self.hand * angle_source * (self.source.radians_per_unit / self.target.radians_per_unit)

    def axis(self, letter: str) -> tuple[Axis, int]:
        """Return the letter of an axis in the target, and whether it points along it (1) or against it (−1)."""
        column = self.basis[:, "xyz".index(letter)]
        index = int(np.argmax(np.abs(column)))
        return AXES[index], int(np.sign(column[index]))

    def feature(self, name: str) -> str:
        """Return name of a feature point, such as `+x-y`, in the target; `pivot` and `centre` stay."""
        if name in ("pivot", "centre"):
            return name
        pairs = (self.signed_axis(name[i : i + 2]) for i in range(0, len(name), 2))
        return "".join(sorted(pairs, key=lambda pair: pair[1]))

    def signed_axis(self, name: str) -> str:
        """Return name of a signed axis, such as `+z`, in the target."""
        letter, sign = self.axis(name[1])
        return ("+" if (name[0] == "+") == (sign > 0) else "-") + letter
