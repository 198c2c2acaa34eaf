"""Aim and swing: worked examples with their arithmetic, laws, and what is refused."""

import math

import numpy as np
import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.build import CRATE, QUARTER_X, QUARTER_Z, after, near, refusal, scene, sentence, steps_of
from tests.core.strategies import quaternions, triples, ups


def aimed(start, **step):
    return after(start, {"op": "aim", "objects": ["a"], **step})


def own(done, axis):
    image = done.world_from_local("a")[:3, "xyz".index(axis[1])]
    return image / np.linalg.norm(image) * (1 if axis[0] == "+" else -1)


def test_an_own_axis_comes_to_point_at_a_point_seen_from_the_pivot():
    start = scene({"id": "a", "translation": [1, 0, 0], "pivot": [0, 2, 0]})  # pivot at (1, 2, 0)
    done = aimed(start, axis="+x", at=[1, 2, -7])
    assert own(done, "+x") == near([0, 0, -1])
    assert own(done, "+y") == near([0, 1, 0])
    assert done.pivot_world("a") == near([1, 2, 0])


def test_of_the_turns_left_the_own_up_axis_comes_nearest_to_world_up():
    # A lamp lying on its side (own Y along −X) aims +Z along (1, 1, 0)/√2: its up axis ends at (−1, 1, 0)/√2.
    done = aimed(scene({"id": "a", "rotation": QUARTER_Z}), axis="+z", at={"direction": [1, 1, 0]})
    half = math.sqrt(0.5)
    assert own(done, "+z") == near([half, half, 0])
    assert own(done, "+y") == near([-half, half, 0])


def test_about_turns_only_about_that_axis():
    start = scene({"id": "a", "rotation": QUARTER_X})  # own Z is world −Y
    done = aimed(start, axis="+y", at=[3, 100, 0], about="y")  # own Y is world Z; seen from above it turns to X
    assert own(done, "+y") == near([1, 0, 0])
    assert own(done, "+z") == near([0, -1, 0])


def test_along_up_it_is_the_least_turn():
    done = aimed(scene({"id": "a"}), axis="+z", at={"direction": [0, 1, 0]})
    assert own(done, "+z") == near([0, 1, 0])
    assert own(done, "+x") == near([1, 0, 0])  # about X by −90°, nothing else


def test_the_own_up_axis_is_aimed_by_the_least_turn():
    done = aimed(scene({"id": "a"}), axis="+y", at={"direction": [1, 0, 0]})
    assert own(done, "+y") == near([1, 0, 0])
    assert own(done, "+z") == near([0, 0, 1])


def test_straight_back_of_the_up_axis_is_half_a_turn_about_world_x():
    done = aimed(scene({"id": "a"}), axis="+y", at={"direction": [0, -1, 0]})
    assert done.world_from_local("a")[:3, :3] == near(np.diag([1, -1, -1]))


def test_straight_back_of_a_level_up_axis_is_half_a_turn_about_world_up():
    done = aimed(scene({"id": "a", "rotation": QUARTER_Z}), axis="+y", at={"direction": [1, 0, 0]})
    assert own(done, "+y") == near([1, 0, 0])  # own Y lay along −X
    assert own(done, "+z") == near([0, 0, -1])


@example(np.array([0.0, 0, 0, 1]), (0.0, 4e-6, 6.0), "+y", 2)  # nearly along up
@given(quaternions(), triples, st.sampled_from(["+x", "-x", "+y", "-y", "+z", "-z"]), ups)
def test_the_axis_always_arrives_and_nothing_is_stretched(rotation, direction, axis, up):
    assume(np.linalg.norm(direction) > 1e-3)
    start = scene({"id": "a", "rotation": rotation.tolist(), "scale": [1, 2, 3]}, up="xyz"[up])
    done = aimed(start, axis=axis, at={"direction": list(direction)})
    assert own(done, axis) == pytest.approx(np.array(direction) / np.linalg.norm(direction), abs=1e-9)
    before, behind = (s.world_from_local("a")[:3, :3] for s in (start, done))
    assert behind.T @ behind == pytest.approx(before.T @ before, abs=1e-9)


def test_the_direction_belongs_to_the_space():
    done = aimed(scene({"id": "a", "rotation": QUARTER_Z}), axis="+x", space="local", at={"direction": [0, 0, 1]})
    assert own(done, "+x") == near([0, 0, 1])


LINE = {"from": [[0, 0, 0], [1, 0, 0]], "to": [[0, 0, 0], [0, 5, 3]]}


def test_swing_turns_by_the_signed_angle_between_the_lines_seen_along_the_axis():
    # Seen along Z, (1, 0, 0) comes over (0, 5, ·): 90° about Z.
    done = after(
        scene({"id": "a", "translation": [2, 0, 0]}),
        {"op": "swing", "objects": ["a"], "axis": "z", "pivot": "origin", **LINE},
    )
    assert done.pivot_world("a") == near([0, 2, 0])


def test_swing_goes_the_short_way_round():
    back = {"from": [[0, 0, 0], [1, 0, 0]], "to": [[0, 0, 0], [0, -1, 0]]}
    done = after(scene({"id": "a"}), {"op": "swing", "objects": ["a"], "axis": "z", **back})
    assert done.world_from_local("a")[:3, 0] == near([0, -1, 0])


def test_swing_takes_points_on_objects_as_they_are_before_the_step():
    start = scene({"id": "a", "solid": CRATE}, {"id": "b", "translation": [0, 0, -9]})
    step = {
        "op": "swing", "objects": ["a"], "axis": "y",
        "from": [{"object": "a"}, {"object": "a", "at": "+x"}], "to": [{"object": "a"}, {"object": "b"}],
    }  # fmt: skip
    assert after(start, step).world_from_local("a")[:3, 0] == near([0, 0, -1])


@pytest.mark.parametrize(
    ("step", "code"),
    [
        ({"op": "aim", "axis": "+x", "at": [1, 1, 1]}, "aim-own-pivot"),
        ({"op": "aim", "axis": "+x", "at": {"direction": [0, 0, 0]}}, "direction-zero"),
        ({"op": "aim", "axis": "+y", "at": [5, 1, 1], "about": "y"}, "aim-along-axis"),
        ({"op": "aim", "axis": "+x", "at": [1, 9, 1], "about": "y"}, "aim-along-axis"),
        ({"op": "swing", "axis": "x", **LINE}, "swing-along-axis"),
        ({"op": "swing", "axis": "z", **LINE, "to": [[1, 1, 1], [1, 1, 1]]}, "swing-coincide"),
        ({"op": "swing", "axis": [0, 0, 0], **LINE}, "axis-zero"),
    ],
)
def test_steps_that_cannot_be_done_are_refused(step, code):
    assert refusal(scene({"id": "a", "translation": [1, 1, 1]}), {"objects": ["a"], **step}).code == code


@pytest.mark.parametrize(
    "step",
    [
        {"op": "aim", "axis": "x", "at": [0, 0, 1]},
        {"op": "aim", "axis": "+x"},
        {"op": "aim", "axis": "+x", "at": {"direction": [0, 0, 1], "object": "a"}},
        {"op": "swing", "axis": "z", "start": LINE["from"], "to": LINE["to"]},
    ],
)
def test_steps_that_say_nothing_are_refused(step):
    with pytest.raises(ValidationError):
        steps_of({"objects": ["a"], **step})


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ({"op": "aim", "axis": "-z", "at": {"object": "b"}}, "Aim −Z of Lamp at pivot of b"),
        (
            {"op": "aim", "axis": "+x", "at": {"direction": [0, 1, 0]}, "about": "z", "space": "local"},
            "Aim +X of Lamp along (0; 1; 0) of Local, only about Z",
        ),
        (
            {"op": "swing", "axis": "z", **LINE},
            "Swing Lamp about Z of World through its pivot, from (0; 0; 0) → (1; 0; 0) to (0; 0; 0) → (0; 5; 3)",
        ),
    ],
)
def test_a_step_is_a_sentence(step, words):
    start = scene({"id": "a", "name": "Lamp"}, {"id": "b", "translation": [3, 0, 0]})
    assert sentence(start, {"objects": ["a"], **step}) == words
