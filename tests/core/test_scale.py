"""Scale: worked examples with their arithmetic, and what is refused."""

import numpy as np
import pytest
from pydantic import ValidationError
from scipy.spatial.transform import Rotation

from cubedrill.core.scene.measure import own_sizes
from tests.core.build import CRATE, QUARTER_X, QUARTER_Z, after, near, refusal, scene, sentence, states, steps_of

SHED = {"id": "a", "name": "Net shed", "solid": {"kind": "cuboid", "size": [0.22, 0.34, 0.51]}}


def scaled(start, **step):
    return after(start, {"op": "scale", "objects": ["a"], **step})


@pytest.mark.parametrize(("factor", "size"), [(2, [0.44, 0.68, 1.02]), (0.5, [0.11, 0.17, 0.255]), (0.1, [0.022, 0.034, 0.051])])  # fmt: skip
def test_a_uniform_factor_takes_all_sizes_with_it(factor, size):
    # Common practice, no source: 2 doubles, 0.5 halves, 0.1 is a tenth.
    assert own_sizes(scaled(scene(SHED), by=[factor] * 3), "a") == near(size)


def test_the_hold_point_stays():
    start = scene({"id": "a", "solid": CRATE, "translation": [5, 0, 0]})
    done = scaled(start, space="local", by=[2, 1, 1], pivot={"object": "a", "at": "-x"})
    box = done.box("a", np.eye(4))
    assert (box.least[0], box.most[0]) == near((4, 8))  # from 4 … 6, held at 4


def test_doubled_about_its_base_corner_the_corner_stays():
    start = scene({"id": "a", "solid": CRATE, "translation": [1, 1, 1]})
    done = scaled(start, by=[2, 2, 2], pivot={"object": "a", "at": "-x-y-z"})
    assert done.box("a", np.eye(4)).least == near([0, 0, 0])
    assert done.box("a", np.eye(4)).most == near([4, 4, 4])


def test_local_scales_own_sizes_whatever_the_turn():
    start = scene({**SHED, "rotation": QUARTER_X})
    assert own_sizes(scaled(start, space="local", by=[2, 3, 4]), "a") == near([0.44, 1.02, 2.04])


def test_world_scaling_of_a_turned_object_skews_and_says_so():
    tilt = Rotation.from_euler("z", 30, degrees=True)
    start = scene({**SHED, "rotation": tilt.as_quat().tolist()})
    done = states(start, {"op": "scale", "objects": ["a"], "by": [1, 3, 1]})[-1]
    assert done.skewed == ("a",)
    assert done.scene.world_from_local("a")[:3, :3] == near(np.diag([1, 3, 1]) @ tilt.as_matrix())


def test_world_scaling_by_quarter_turns_exchanges_the_sizes():
    done = scaled(scene({**SHED, "rotation": QUARTER_Z}), by=[10, 1, 1])  # own Y lies along world X
    assert own_sizes(done, "a") == near([0.22, 3.4, 0.51])


def test_local_and_its_formula_agree_with_the_frame_formula_where_nothing_is_skewed():
    tilt = Rotation.from_euler("XYZ", [20, 30, 40], degrees=True)
    start = scene({**SHED, "rotation": tilt.as_quat().tolist(), "translation": [1, 2, 3], "scale": [2, 3, 4]})
    here = scaled(start, space="local", by=[2, 3, 4], pivot="origin").world_from_local("a")
    there = scaled(start, space={"object": "a"}, by=[2, 3, 4], pivot="origin").world_from_local("a")
    assert here == near(there)


def test_a_negative_factor_mirrors():
    done = scaled(scene(SHED), by=[-1, 1, 1])
    assert np.linalg.det(done.world_from_local("a")[:3, :3]) == near(-1)


def test_to_sets_own_sizes_and_leaves_what_is_null():
    start = scene({**SHED, "scale": [2, 1, 1], "rotation": QUARTER_Z})
    assert own_sizes(scaled(start, to=[1, None, 3]), "a") == near([1, 0.34, 3])


def test_to_with_uniform_takes_the_one_factor_for_all():
    assert own_sizes(scaled(scene(SHED), to=[None, 0.68, None], uniform=True), "a") == near([0.44, 0.68, 1.02])


def test_to_takes_the_box_around_what_is_in_an_assembly():
    start = scene(
        {"id": "a", "name": "Row"},
        {"id": "b", "parent": "a", "solid": CRATE},
        {"id": "c", "parent": "a", "solid": CRATE, "translation": [4, 0, 0]},
    )
    done = scaled(start, to=[3, None, None])  # 6 long from −1 to 5; half of it, about its pivot at 0
    box = done.box("a", np.eye(4))
    assert (box.least[0], box.most[0]) == near((-0.5, 2.5))


def test_keep_volume_gives_the_other_axes_one_over_the_root():
    done = scaled(scene({"id": "a", "solid": CRATE}), keep_volume={"axis": "y", "factor": 4})
    assert own_sizes(done, "a") == near([1, 8, 1])  # 2 / √4, 2 · 4, 2 / √4: still 8


def test_children_follow():
    start = scene({"id": "a", "solid": CRATE}, {"id": "b", "parent": "a", "translation": [1, 0, 0]})
    assert scaled(start, by=[3, 1, 1]).pivot_world("b") == near([3, 0, 0])


@pytest.mark.parametrize(
    ("step", "code"),
    [
        ({"by": [1, 0, 1]}, "scale-zero"),
        ({"to": [None, 1, None]}, "flat-axis"),
        ({"by": [2, 2, 2], "objects": ["locked"]}, "locked"),
        ({"to": [1, None, None], "objects": ["empty"]}, "no-box"),
        ({"by": [1e-10, 1, 1]}, "not-invertible"),
        ({"by": [1e200, 1e200, 1e200]}, "too-large"),
        ({"by": [1e-200, 1e-200, 1e-200]}, "not-invertible"),
    ],
)
def test_steps_that_cannot_be_done_are_refused(step, code):
    plate = {"id": "a", "name": "Deck", "solid": {"kind": "plate", "size": [2, 1]}}
    start = scene(plate, {"id": "locked", "locked": True}, {"id": "empty"})
    assert refusal(start, {"op": "scale", "objects": ["a"], **step}).code == code


def test_a_flat_axis_is_named():
    start = scene({"id": "a", "name": "Deck", "solid": {"kind": "plate", "size": [2, 1]}}, up="z")
    error = refusal(start, {"op": "scale", "objects": ["a"], "to": [None, None, 1]})
    assert error.text == "Step 1: Deck is flat along Z and has no size there to set; leave that size out."


@pytest.mark.parametrize(
    "step",
    [
        {},
        {"by": [1, 1, 1], "to": [1, 1, 1]},
        {"to": [1, 1, None], "uniform": True},
        {"by": [2, 2, 2], "uniform": True},
        {"to": [0, None, None]},
        {"to": [1, None, None], "space": "world"},
        {"keep_volume": {"axis": "x", "factor": 0}},
        {"keep_volume": {"axis": "x", "factor": -1}},
    ],
)
def test_steps_that_say_no_scaling_are_refused(step):
    with pytest.raises(ValidationError):
        steps_of({"op": "scale", "objects": ["a"], **step})


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ({"by": [2, 2, 2]}, "Scale Net shed by 2 on all axes holding its pivot"),
        ({"by": [1, 3, 1], "space": "local"}, "Scale Net shed by 3 along Y of Local holding its pivot"),
        (
            {"to": [None, 1.5, None], "uniform": True},
            "Scale Net shed to Y 1.5 m and the rest alike of Local holding its pivot",
        ),
        (
            {"to": [1, None, None], "pivot": {"object": "a", "at": "-x"}},
            "Scale Net shed to X 1 m of Local holding face −X of Net shed",
        ),
        (
            {"keep_volume": {"axis": "z", "factor": 2}},
            "Scale Net shed by 2 along Z of Local, keeping its volume, holding its pivot",
        ),
    ],
)
def test_a_step_is_a_sentence(step, words):
    assert sentence(scene(SHED), {"op": "scale", "objects": ["a"], **step}) == words
