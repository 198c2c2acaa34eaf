"""Euler angles nearest to those shown before, and the other numbers of an object."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.reading import euler_nearest
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.replay import readings_of, replay
from tests.core.strategies import rotations

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
