"""Euler angles nearest to those shown before, and the other numbers of an object."""

from dataclasses import fields
from itertools import pairwise, product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.transform import parts_of
from cubedrill.core.scene.reading import euler_nearest, read_scene
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.replay import readings_of, replay, replay_edited
from tests.core.build import scene, states, steps_of
from tests.core.strategies import any_step, rotations
from tests.core.test_laws import CONVENTIONS, OBJECTS

ORDERS = [
    "XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX", "XYX", "XZX", "YXY", "YZY", "ZXZ", "ZYZ",
    "xyz", "xzy", "yxz", "yzx", "zxy", "zyx", "xyx", "xzx", "yxy", "yzy", "zxz", "zyz",
]  # fmt: skip
angles = st.tuples(*[st.floats(-720, 720)] * 3).map(np.radians)
SQUARE_ROOT_ROUNDING = 1e-7  # near gimbal lock an angle is an arc sine near 1: rounding grows to its square root


def same_turn(order, first, second):
    difference = Rotation.from_euler(order, first).inv() * Rotation.from_euler(order, second)
    return difference.magnitude()


@given(rotations(), angles, st.sampled_from(ORDERS))
def test_the_angles_read_give_the_rotation_in_every_order(rotation, before, order):
    read = euler_nearest(rotation, order, before)
    difference = Rotation.from_matrix(rotation).inv() * Rotation.from_euler(order, read)
    assert difference.magnitude() < SQUARE_ROOT_ROUNDING


@given(angles, st.sampled_from(ORDERS))
def test_the_angles_shown_before_come_back_when_nothing_turned(before, order):
    rotation = Rotation.from_euler(order, before).as_matrix()
    read = euler_nearest(rotation, order, before)
    assert same_turn(order, before, read) < SQUARE_ROOT_ROUNDING
    middle = before[1]
    locked = abs(np.sin(middle) if order[0] == order[2] else np.cos(middle)) < 1e-3
    if not locked:
        assert read == pytest.approx(before, abs=1e-6)


@given(rotations(), angles, st.sampled_from(ORDERS))
def test_no_whole_turn_away_is_nearer(rotation, before, order):
    read = euler_nearest(rotation, order, before)
    assert (np.abs(read - before) <= np.pi + 1e-9).all() or np.abs(read - before).max() <= 2 * np.pi
    for axis in range(3):
        for turn in (-2 * np.pi, 2 * np.pi):
            other = read.copy()
            other[axis] += turn
            assert np.sum((other - before) ** 2) >= np.sum((read - before) ** 2) - 1e-9


def test_a_typed_120_does_not_come_back_as_60():
    # By hand: XYZ (0, 120, 0) and (180, 60, 180) are the same turn.
    rotation = Rotation.from_euler("XYZ", [0, 120, 0], degrees=True).as_matrix()
    shown = euler_nearest(rotation, "XYZ", np.radians([0, 120, 0]))
    assert np.degrees(shown) == pytest.approx([0, 120, 0])


@pytest.mark.parametrize("order", ["XYZ", "zyx", "ZXZ", "xyx"])
def test_in_gimbal_lock_the_third_angle_keeps_its_value(order):
    middle = 0 if order[0].lower() == order[2].lower() else 90
    rotation = Rotation.from_euler(order, [50, middle, 0], degrees=True).as_matrix()
    read = np.degrees(euler_nearest(rotation, order, np.radians([0, 80, 20])))
    assert read[2] == pytest.approx(20)
    assert same_turn(order, np.radians(read), np.radians([50, middle, 0])) < SQUARE_ROOT_ROUNDING


@pytest.mark.parametrize("order", ORDERS)
def test_at_the_start_the_angles_are_scipys(order):
    rotation = Rotation.from_euler("XYZ", [0.3, -0.4, 2.9])
    assert euler_nearest(rotation.as_matrix(), order, None) == pytest.approx(rotation.as_euler(order))


def test_a_reading_has_all_numbers_of_an_object():
    stage = {
        "objects": [
            {"id": "crane", "translation": [10, 0, 0], "scale": [2, 2, 2]},
            {
                "id": "hook", "parent": "crane", "translation": [0, 3, 0], "pivot": [0, 1, 0],
                "solid": {"kind": "sphere", "diameter": 1},
            },
        ]
    }  # fmt: skip
    states = replay(Stage.model_validate(stage).to_scene(Conventions()), [])
    hook, crane = (readings_of(states)[0][name] for name in ("hook", "crane"))
    assert hook.parent == "crane"
    assert hook.translation.tolist() == [0, 3, 0]
    assert hook.rotation.tolist() == [0, 0, 0, 1]
    assert hook.pivot_world.tolist() == [10, 8, 0]  # (3 + 1) doubled, 10 along X
    assert hook.world_box.least.tolist() == [9, 5, -1]
    assert hook.world_box.most.tolist() == [11, 7, 1]
    assert not hook.skewed
    assert crane.world_box.most.tolist() == [11, 7, 1]  # an assembly's box is around its descendants


def test_three_thousand_steps_are_read_without_running_out_of_stack():
    start = Stage.model_validate({"objects": [{"id": "a"}]}).to_scene(Conventions())
    states = replay(start, [Move(op="move", objects=("a",), by=(1, 0, 0))] * 3000)
    assert readings_of(states)[-1]["a"].pivot_world[0] == 3000


GROUPED = [{"id": "group"}, *({"parent": "group", **item} for item in OBJECTS)]  # an assembly, whose box is theirs


@st.composite
def replays(draw):
    """The states of some steps of any kinds, as far as they can be done, in any conventions."""
    start = Stage.model_validate({"objects": GROUPED}).to_scene(draw(CONVENTIONS))
    return replay_edited(start, steps_of(*draw(st.lists(any_step, min_size=2, max_size=6)))).states


def numbers_of(reading):
    """All that a reading says, to be compared to the last bit."""
    values = {each.name: getattr(reading, each.name) for each in fields(reading)}
    box = values.pop("world_box")
    values["box"] = box and (box.least, box.most)
    return {name: np.asarray(value).tolist() for name, value in values.items() if name != "item"}


@given(replays())
def test_a_state_is_read_as_if_it_were_the_only_one(done):
    for state, readings in zip(done, readings_of(done), strict=True):
        alone = read_scene(state.scene, state.angles_rad)
        assert {i: numbers_of(each) for i, each in readings.items()} == {
            i: numbers_of(each) for i, each in alone.items()
        }


def aliases(angles, order):
    """All triples near to one that give the same rotation: both ways to it, and whole turns."""
    first, middle, third = angles
    other = (first + np.pi, -middle if order[0] == order[2] else np.pi - middle, third + np.pi)
    turns = 2 * np.pi * np.array(list(product((-1, 0, 1), repeat=3)))
    return np.concatenate([np.asarray(triple) + turns for triple in (angles, other)])


@given(replays())
def test_the_angles_after_each_step_give_the_turn_and_are_the_nearest_to_those_before_it(done):
    order = done[0].scene.conventions.euler
    for before, state in pairwise(done):
        typed = state.step.typed_angles_rad(before.scene)
        for object_id, item in state.scene.objects.items():
            shown = state.angles_rad[object_id]
            rotation = Rotation.from_matrix(parts_of(item.parent_from_local).rotation)
            assert (rotation.inv() * Rotation.from_euler(order, shown)).magnitude() < SQUARE_ROOT_ROUNDING
            near = typed.get(object_id, before.angles_rad.get(object_id))
            if near is None:
                assert shown.tolist() == rotation.as_euler(order, suppress_warnings=True).tolist()
                continue
            locked = abs(np.sin(shown[1]) if order[0] == order[2] else np.cos(shown[1])) < 1e-3
            others = np.sum((aliases(shown, order) - near) ** 2, axis=1)
            assert locked or np.sum((shown - near) ** 2) <= others.min() + 1e-6


def test_turned_by_forty_degrees_again_and_again_it_is_shown_as_turned_further_each_time():
    turn = {"op": "rotate", "objects": ["a"], "axis": "y", "angle": 40}
    to = {"op": "rotate", "objects": ["a"], "to": [0, 500, 0], "space": "parent"}
    shown = [np.degrees(each.angles_rad["a"]) for each in states(scene({"id": "a"}), *[turn] * 10, to, turn)]
    expected = [*range(0, 401, 40), 500, 540]
    assert np.array(shown) == pytest.approx(np.array([(0, angle, 0) for angle in expected]), abs=1e-9)
