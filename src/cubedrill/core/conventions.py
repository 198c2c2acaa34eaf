"""What an exercise declares about its numbers: axes, handedness, units, order of rotations."""

from __future__ import annotations

import math
from typing import Final, Literal

import numpy as np

from cubedrill.core.values import Array, Value, frozen

EulerOrder = Literal[
    "XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX", "XYX", "XZX", "YXY", "YZY", "ZXZ", "ZYZ",
    "xyz", "xzy", "yxz", "yzx", "zxy", "zyx", "xyx", "xzx", "yxy", "yzy", "zxz", "zyz",
]  # fmt: skip

AXES: Final = "xyz"

# Rows are right, up, toward the viewer; columns are where X, Y and Z point.
_PICTURE_FROM_WORLD: Final[dict[tuple[str, str], Array]] = {
    ("y", "right"): np.array([[1, 0, 0], [0, 1, 0], [0, 0, 1]], dtype=np.float64),
    ("y", "left"): np.array([[1, 0, 0], [0, 1, 0], [0, 0, -1]], dtype=np.float64),
    ("z", "right"): np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], dtype=np.float64),
    ("z", "left"): np.array([[1, 0, 0], [0, 0, 1], [0, 1, 0]], dtype=np.float64),
}

_RADIANS: Final = {"deg": math.pi / 180, "rad": 1.0, "turn": 2 * math.pi}


class Conventions(Value):
    """The conventions that hold for all numbers of an exercise, its steps and its tolerances."""

    up: Literal["y", "z"] = "y"
    handedness: Literal["right", "left"] = "right"
    length: Literal["mm", "cm", "m", "in", "ft"] = "m"
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
        """(3, 3) map from the exercise's axes to right, up, toward the viewer (glTF's frame).

        Orthogonal; its determinant is −1 for left-handed conventions. Source: glTF 2.0, coordinate system and units.
        """
        return frozen(_PICTURE_FROM_WORLD[self.up, self.handedness].copy())
