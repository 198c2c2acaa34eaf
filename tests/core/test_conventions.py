"""The exercise's axes against glTF's frame, and changes between two sets of conventions."""

from typing import get_args

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions, ConventionTransform, EulerOrder
from cubedrill.core.geometry.solids import Cuboid, Mesh, Plate, Tube
from cubedrill.core.scene.reading import angles_at_start
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.replay import replay
from tests.core.build import steps_of

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


def change(**target):
    return ConventionTransform(Conventions(), Conventions(**target))


@pytest.mark.parametrize(
    ("target", "place"),
    [
        # X right, Y up, Z to the viewer in glTF's frame; a point 1 right, 2 up, 3 to the viewer.
        ({"up": "y", "handedness": "left"}, [1, 2, -3]),  # Z away
        ({"up": "z", "handedness": "right"}, [1, -3, 2]),  # Y away, Z up
        ({"up": "z", "handedness": "left"}, [1, 3, 2]),  # Y to the viewer, Z up
    ],
)
def test_a_point_in_every_frame(target, place):
    assert change(**target).point(np.array([1.0, 2.0, 3.0])).tolist() == place


@pytest.mark.parametrize(("unit", "value"), [("mm", 25.4), ("cm", 2.54), ("m", 0.0254), ("in", 1), ("ft", 1 / 12)])
def test_an_inch_is_25_4_millimetres_exactly(unit, value):
    # Source: international yard and pound agreement, 1959.
    assert ConventionTransform(Conventions(length="in"), Conventions(length=unit)).length(1.0) == pytest.approx(
        value, rel=1e-15
    )


def test_a_turn_keeps_its_sense_to_the_eye_when_the_hand_changes():
    # 90° about up takes X to −Z in right-handed numbers; seen in left-handed ones that is X to +Z, so −90° about up.
    left = change(handedness="left")
    assert left.turn(90) == -90
    quarter = Rotation.from_euler("y", 90, degrees=True).as_matrix()
    assert left.rotation(quarter) == pytest.approx(Rotation.from_euler("y", -90, degrees=True).as_matrix(), abs=1e-15)


def test_names_of_axes_and_places_follow():
    upright = change(up="z")
    assert (upright.axis("y"), upright.axis("z"), upright.signed_axis("-z")) == (("z", 1), ("y", -1), "+y")
    assert (upright.feature("+x+y-z"), upright.feature("-z"), upright.feature("pivot")) == ("+x+y+z", "+y", "pivot")


@pytest.mark.parametrize("order", get_args(EulerOrder))
def test_all_24_orders_are_read_as_scipy_writes_them(order):
    # Source: SciPy's Rotation, capitals intrinsic, small letters extrinsic.
    start = Stage.model_validate({"objects": [{"id": "a"}]}).to_scene(Conventions(euler=order))
    middle = 70 if order[0] != order[2] else 110
    states = replay(start, steps_of({"op": "rotate", "objects": ["a"], "space": "parent", "to": [20, middle, -130]}))
    expected = Rotation.from_euler(order, [20, middle, -130], degrees=True)
    assert states[-1].scene.world_from_local("a")[:3, :3] == pytest.approx(expected.as_matrix(), abs=1e-14)
    angles = angles_at_start(states[-1].scene)["a"]
    assert angles == pytest.approx(expected.as_euler(order), abs=1e-13)


def test_solids_exchange_their_sizes():
    upright = change(up="z", length="mm")
    assert Cuboid(size=(1, 2, 3)).converted(upright).size == (1000, 3000, 2000)
    assert Plate(size=(1, 3)).converted(upright).size == (1000, 3000)
    assert Tube(diameter=2, bore=1, height=4).converted(upright) == Tube(diameter=2000, bore=1000, height=4000)
    mirrored = Mesh(vertices=((0, 0, 0), (1, 0, 0), (0, 1, 1)), triangles=((0, 1, 2),)).converted(
        change(handedness="left")
    )
    assert mirrored.vertices[2] == (0, 1, -1)
    assert mirrored.triangles == ((0, 2, 1),)
