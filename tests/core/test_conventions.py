"""The exercise's axes against glTF's frame."""

import numpy as np
import pytest

from cubedrill.core.conventions import Conventions

# glTF 2.0, Coordinate System and Units: right-handed, +Y up, the front of an asset faces +Z (to the viewer).
AXES = {
    ("y", "right"): {"x": (1, 0, 0), "y": (0, 1, 0), "z": (0, 0, 1)},
    ("y", "left"): {"x": (1, 0, 0), "y": (0, 1, 0), "z": (0, 0, -1)},
    ("z", "right"): {"x": (1, 0, 0), "y": (0, 0, -1), "z": (0, 1, 0)},
    ("z", "left"): {"x": (1, 0, 0), "y": (0, 0, 1), "z": (0, 1, 0)},
}


@pytest.mark.parametrize(("up", "handedness"), AXES)
def test_axes_point_where_the_conventions_say(up, handedness):
    picture_from_world = Conventions(up=up, handedness=handedness).picture_from_world
    for letter, direction in AXES[up, handedness].items():
        assert tuple(picture_from_world[:, "xyz".index(letter)]) == direction


@pytest.mark.parametrize(("up", "handedness"), AXES)
def test_left_handed_axes_are_a_mirror_of_the_picture(up, handedness):
    determinant = np.linalg.det(Conventions(up=up, handedness=handedness).picture_from_world)
    assert determinant == pytest.approx(1 if handedness == "right" else -1)


def test_a_turn_is_360_degrees():
    # Common practice, no source: the number 0.121 in turns is 43.56°.
    turns = 0.121 * Conventions(angle="turn").radians_per_unit
    assert turns / Conventions(angle="deg").radians_per_unit == pytest.approx(43.56)
