"""Rotate: worked examples with their arithmetic, and what is refused."""

import math

import numpy as np
import pytest
from pydantic import ValidationError
from scipy.spatial.transform import Rotation

from cubedrill.core.steps.replay import readings_of
from tests.core.build import (
    CRATE,
    QUARTER_X,
    QUARTER_Y,
    QUARTER_Z,
    after,
    near,
    refusal,
    scene,
    sentence,
    states,
    steps_of,
)


def turned(start, **step):
    return after(start, {"op": "rotate", "objects": ["a"], **step})


def own_axis(scene_after, axis, object_id="a"):
    return scene_after.world_from_local(object_id)[:3, "xyz".index(axis)]


@pytest.mark.parametrize("hand", ["right", "left"])
def test_90_about_y_takes_z_to_x_in_either_hand_by_the_same_formula(hand):
    # R_y(θ) (0, 0, 1) = (sin θ, 0, cos θ); the coordinate formula does not know the hand.
    start = scene({"id": "a"}, handedness=hand)
    assert own_axis(turned(start, axis="y", angle=90), "z") == near([1, 0, 0])


def test_about_its_own_pivot_the_pivot_stays_and_the_origin_swings():
    start = scene({"id": "a", "translation": [5, 0, 0], "pivot": [-1, 0, 0]})  # pivot at (4, 0, 0)
    done = turned(start, axis="y", angle=90)
    assert done.pivot_world("a") == near([4, 0, 0])
    assert done["a"].parent_from_local[:3, 3] == near([4, 0, -1])  # (1, 0, 0) from the pivot turns to (0, 0, −1)


def test_with_its_pivot_on_the_edge_a_door_swings_and_in_its_middle_it_spins():
    # Common practice, no source. A leaf 2 wide: its centre leaves its place only when hung on the edge.
    leaf = {"kind": "cuboid", "size": [2, 2, 0.1]}
    hung = turned(scene({"id": "a", "solid": leaf, "pivot": [-1, 0, 0]}), axis="y", angle=90)
    spun = turned(scene({"id": "a", "solid": leaf}), axis="y", angle=90)
    assert hung["a"].parent_from_local[:3, 3] == near([-1, 0, -1])
    assert spun["a"].parent_from_local[:3, 3] == near([0, 0, 0])


def test_local_is_the_own_axis_as_it_stands():
    start = scene({"id": "a", "rotation": QUARTER_X})  # own Z is world −Y
    done = turned(start, space="local", axis="z", angle=90)
    assert own_axis(done, "x") == near([0, 0, 1])  # R_{−y}(90°) (1, 0, 0) = (0, 0, 1)


def test_after_a_tilt_of_45_about_x_own_z_is_not_world_z():
    # Common practice, no source.
    tilted = scene({"id": "a", "rotation": Rotation.from_euler("x", 45, degrees=True).as_quat().tolist()})
    own, world = (turned(tilted, space=s, axis="z", angle=90) for s in ("local", "world"))
    half = math.sqrt(0.5)
    assert own_axis(own, "x") == near([0, half, half])  # own Y was (0, cos 45°, sin 45°)
    assert own_axis(world, "x") == near([0, 1, 0])


def test_parent_is_the_axes_of_the_parent():
    start = scene({"id": "p", "rotation": QUARTER_Z}, {"id": "a", "parent": "p"})
    done = turned(start, space="parent", axis="x", angle=90)  # the parent's X is world Y
    assert own_axis(done, "z") == near([1, 0, 0])


def test_another_objects_axes():
    start = scene({"id": "a"}, {"id": "b", "rotation": QUARTER_Z, "translation": [9, 9, 9]})
    done = turned(start, space={"object": "b"}, axis="x", angle=90)
    assert own_axis(done, "z") == near([1, 0, 0])


def test_a_vector_is_normalised_and_goes_along_the_space():
    start = scene({"id": "a"})
    third = turned(start, axis=[2, 2, 2], angle=120)  # a third of a turn about the diagonal carries X to Y to Z
    assert own_axis(third, "x") == near([0, 1, 0])


@pytest.mark.parametrize(
    ("pivot", "place"),
    [
        ("own", [3, 0, 0]),
        ("origin", [-3, 0, 0]),
        ("marker", [-1, 0, 0]),  # about (1, 0, 0)
        ("selection", [7, 0, 0]),  # about the middle of 2 … 8, which is 5
        ([0, 0, 1], [-3, 0, 2]),
        ({"object": "b", "at": "-x"}, [9, 0, 0]),  # about (6, 0, 0)
    ],
)
def test_half_a_turn_through_each_pivot(pivot, place):
    start = scene(
        {"id": "a", "solid": CRATE, "translation": [3, 0, 0]},
        {"id": "b", "solid": CRATE, "translation": [7, 0, 0]},
        marker=(1, 0, 0),
    )
    objects = ["a", "b"] if pivot == "selection" else ["a"]
    done = after(start, {"op": "rotate", "objects": objects, "axis": "y", "angle": 180, "pivot": pivot})
    assert done["a"].parent_from_local[:3, 3] == near(place)


def test_box_is_each_ones_own_box_centre():
    start = scene(
        *({"id": i, "solid": CRATE, "translation": [x, 0, 0], "pivot": [1, 0, 0]} for i, x in (("a", 0), ("b", 5)))
    )
    done = after(start, {"op": "rotate", "objects": ["a", "b"], "axis": "y", "angle": 90, "pivot": "box"})
    assert done["a"].parent_from_local[:3, 3] == near([0, 0, 0])
    assert done["b"].parent_from_local[:3, 3] == near([5, 0, 0])


def test_units_of_angle():
    # Common practice, no source: a turn is 360°; 0.121 of it is 43.56°.
    by_turns = turned(scene({"id": "a"}, angle="turn"), axis="z", angle=0.121)
    by_degrees = turned(scene({"id": "a"}), axis="z", angle=43.56)
    by_radians = turned(scene({"id": "a"}, angle="rad"), axis="z", angle=math.radians(43.56))
    for done in (by_turns, by_radians):
        assert done.world_from_local("a") == near(by_degrees.world_from_local("a"))


def test_90_about_x_lays_a_standing_coin_on_its_rim():
    # Common practice, no source. Its axis, along up, comes to lie along the ground.
    coin = {"kind": "cylinder", "diameter": 2, "height": 0.2}
    done = turned(scene({"id": "a", "solid": coin}), axis="x", angle=90)
    box = done.box("a", np.eye(4))
    assert box.size == near([2, 2, 0.2])


def test_to_sets_the_angles_and_keeps_the_pivots_place_and_the_scale():
    start = scene({"id": "a", "translation": [5, 0, 0], "scale": [2, 3, 4], "rotation": QUARTER_X, "pivot": [1, 0, 0]})
    done = turned(start, to=[0, 90, 0])
    assert done.pivot_world("a") == near([7, 0, 0])  # 5 + 2 · 1, as before
    # 90° about Y with scale 2, 3, 4: own X is (0, 0, −2), own Y (0, 3, 0), own Z (4, 0, 0).
    assert done.world_from_local("a")[:3, :3] == near(np.array([[0, 0, 4], [0, 3, 0], [-2, 0, 0]]))


def test_to_goes_by_the_letters_of_the_order():
    done = turned(scene({"id": "a"}, euler="zxy"), to=[10, 20, 30])
    expected = Rotation.from_euler("zxy", [10, 20, 30], degrees=True).as_matrix()
    assert done.world_from_local("a")[:3, :3] == near(expected)


def test_to_in_parent_is_read_in_the_parent():
    start = scene({"id": "p", "rotation": QUARTER_Z}, {"id": "a", "parent": "p", "rotation": QUARTER_X})
    done = turned(start, space="parent", to=[0, 0, 0])
    assert done["a"].parent_from_local[:3, :3] == near(np.eye(3))
    done = turned(start, space="world", to=[0, 0, 0])
    assert done.world_from_local("a")[:3, :3] == near(np.eye(3))


@pytest.mark.parametrize("typed", [[0, 120, 0], [10, 100, -200], [400, 5, 0], [0, 90, 33], [720, -90, 15]])
def test_typed_angles_come_back_as_they_were_typed(typed):
    # 120° about Y is also 180°, 60°, 180°; the reading goes by what was typed, in gimbal lock too.
    last = states(scene({"id": "a"}), {"op": "rotate", "objects": ["a"], "space": "parent", "to": typed})
    assert np.degrees(readings_of(last)[-1]["a"].euler_rad) == pytest.approx(typed, abs=1e-6)


def test_a_mirrored_object_keeps_its_mirror_when_angles_are_set():
    done = turned(scene({"id": "a", "scale": [-1, 1, 1]}), to=[0, 90, 0])
    assert np.linalg.det(done.world_from_local("a")[:3, :3]) == near(-1)


def test_a_skewed_object_has_no_angles_to_set():
    start = scene({"id": "p", "scale": [1, 3, 1]}, {"id": "a", "name": "Jib", "parent": "p"})
    skew = {"op": "rotate", "objects": ["a"], "axis": "z", "angle": 30}
    error = refusal(start, skew, {"op": "rotate", "objects": ["a"], "space": "parent", "to": [0, 0, 0]})
    assert (error.code, error.object) == ("skewed-turn", "a")
    assert error.text.startswith("Step 2: Jib is skewed")


def test_a_turn_under_an_uneven_parent_is_done_in_the_world_and_reported_as_skewed():
    start = scene({"id": "p", "scale": [1, 3, 1]}, {"id": "a", "parent": "p"})
    done = states(start, {"op": "rotate", "objects": ["a"], "axis": "z", "angle": 90})[-1]
    assert done.skewed == ()  # a quarter turn keeps the axes square: only exchanged
    done = states(start, {"op": "rotate", "objects": ["a"], "axis": "z", "angle": 30})[-1]
    assert done.skewed == ("a",)
    turn = Rotation.from_euler("z", 30, degrees=True).as_matrix()
    assert done.scene.world_from_local("a")[:3, :3] == near(turn @ np.diag([1, 3, 1]))


@pytest.mark.parametrize(
    ("step", "code"),
    [
        ({"axis": [0, 0, 0], "angle": 1}, "axis-zero"),
        ({"axis": "x", "angle": 1, "pivot": "box"}, "no-box"),
        ({"axis": "x", "angle": 1, "pivot": {"object": "ghost"}}, "unknown-object"),
        ({"axis": "x", "angle": 1, "objects": ["locked"]}, "locked"),
    ],
)
def test_steps_that_cannot_be_done_are_refused(step, code):
    start = scene({"id": "a"}, {"id": "locked", "locked": True})
    assert refusal(start, {"op": "rotate", "objects": ["a"], **step}).code == code


@pytest.mark.parametrize(
    "step",
    [
        {"axis": "x"},
        {"angle": 3},
        {"axis": "w", "angle": 3},
        {"axis": "x", "angle": 3, "to": [0, 0, 0]},
        {"to": [0, 0, 0], "space": "local"},
        {"to": [0, 0, 0], "pivot": "origin"},
        {"to": [0, None, 0]},
        {"axis": [1, 2], "angle": 3},
    ],
)
def test_steps_that_say_no_rotation_are_refused(step):
    with pytest.raises(ValidationError):
        steps_of({"op": "rotate", "objects": ["a"], **step})


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ({"axis": "y", "angle": 75, "space": "local"}, "Rotate Lock gate by 75° about Y of Local through its pivot"),
        ({"axis": [1, 0, 0], "angle": -0.5, "pivot": "origin"}, "Rotate Lock gate by −0.5° about (1; 0; 0) of World through the origin"),
        ({"to": [0, 45, 0], "space": "parent"}, "Rotate Lock gate to X 0°, Y 45° and Z 0° of Parent"),
        (
            {"axis": "z", "angle": 1, "pivot": {"object": "a", "at": "+x-y+z"}},
            "Rotate Lock gate by 1° about Z of World through corner +X−Y+Z of Lock gate",
        ),
    ],
)  # fmt: skip
def test_a_step_is_a_sentence(step, words):
    start = scene({"id": "a", "name": "Lock gate", "solid": CRATE, "rotation": QUARTER_Y})
    assert sentence(start, {"op": "rotate", "objects": ["a"], **step}) == words


def test_about_the_middle_of_the_chosen_those_without_a_box_are_passed_over():
    # The crates' common box goes from −1 to 5 along X, so its middle is at 2; half a turn takes 0 to 4 and back.
    start = scene(
        {"id": "a", "solid": CRATE},
        {"id": "b", "solid": CRATE, "translation": [4, 0, 0]},
        {"id": "c", "pivot": [9, 9, 9]},
    )
    half = {"op": "rotate", "objects": ["c", "a", "b"], "axis": "y", "angle": 180, "pivot": "selection"}
    done = after(start, half)
    assert done.pivot_world("a") == near([4, 0, 0])
    assert done.pivot_world("c") == near([-5, 9, -9])
    assert refusal(start, {**half, "objects": ["c"]}).code == "no-box"
