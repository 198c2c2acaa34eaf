"""Align, drop and join: worked examples with their arithmetic, and what is refused."""

import numpy as np
import pytest
from pydantic import ValidationError
from scipy.spatial.transform import Rotation

from tests.core.build import CRATE, QUARTER_Z, after, near, refusal, scene, sentence, steps_of


def box(done, object_id="a"):
    found = done.box(object_id, np.eye(4))
    return found.least, found.most


def crate(object_id, *place, **more):
    return {"id": object_id, "name": f"Crate {object_id.upper()}", "solid": CRATE, "translation": list(place), **more}


PALLET = {"id": "pallet", "name": "Pallet", "solid": {"kind": "cuboid", "size": [6, 1, 4]}, "translation": [10, 0, 0]}


@pytest.mark.parametrize(("side", "least"), [("min", 7), ("centre", 9), ("max", 11)])
def test_a_side_or_the_centre_meets_that_of_the_reference(side, least):
    done = after(scene(crate("a", 0, 0, 0), PALLET), {"op": "align", "objects": ["a"], "to": "pallet", "x": side})
    assert box(done)[0] == near([least, -1, -1])  # the pallet reaches from 7 to 13, the crate is 2 long


def test_selection_is_the_box_around_all_chosen_before_the_step():
    start = scene(crate("a", 0, 0, 0), crate("b", 5, 3, 0))
    done = after(start, {"op": "align", "objects": ["a", "b"], "to": "selection", "y": "max"})
    assert (box(done, "a")[1][1], box(done, "b")[1][1]) == near((4, 4))


def test_along_the_axes_of_a_turned_reference_boxes_are_exact():
    tilt = Rotation.from_euler("y", 30, degrees=True)
    start = scene(crate("a", 3, 0, 1), {**PALLET, "rotation": tilt.as_quat().tolist()})
    done = after(start, {"op": "align", "objects": ["a"], "space": {"object": "pallet"}, "to": "pallet", "z": "centre"})
    offset = done.pivot_world("a") - done.pivot_world("pallet")
    assert tilt.as_matrix()[:, 2] @ offset == near(0)


def test_local_is_each_objects_own_frame():
    start = scene(crate("a", 0, 0, 0, rotation=QUARTER_Z), PALLET)
    done = after(start, {"op": "align", "objects": ["a"], "space": "local", "to": "pallet", "y": "centre"})
    assert done.pivot_world("a") == near([10, 0, 0])  # own Y is world −X


def test_drop_brings_the_lowest_point_to_the_ground_and_lifts_what_is_sunk():
    for height in (5.0, -3.0):
        done = after(scene(crate("a", 1, height, 2)), {"op": "drop", "objects": ["a"], "clearance": 0.25})
        assert done.pivot_world("a") == near([1, 1.25, 2])


def test_drop_below_rests_on_the_highest_solid_that_is_below_and_overlaps_across():
    start = scene(
        crate("a", 0, 9, 0),
        crate("low", 0.5, 1, 0),
        crate("high", -0.5, 3, 0),
        crate("beside", 2, 5, 0),  # touches across at x = 1 without overlapping
        crate("before", 0, 5, 2),  # the same along the other axis across
        crate("above", 0, 20, 0),
    )
    done = after(start, {"op": "drop", "objects": ["a"], "onto": "below"})
    assert box(done)[0] == near([-1, 4, -1])


def test_drop_below_takes_neither_the_chosen_nor_what_is_in_them():
    start = scene(crate("a", 0, 9, 0), crate("b", 0, 5, 0), crate("c", 0, -7, 0, parent="b"), crate("d", 0, 1, 0))
    done = after(start, {"op": "drop", "objects": ["a", "b"], "onto": "below"})
    assert (box(done, "a")[0][1], box(done, "b")[0][1]) == near((2, 2))  # both on d


def test_drop_below_with_nothing_there_goes_to_the_ground_along_the_up_axis():
    done = after(scene(crate("a", 0, 9, 7), up="z"), {"op": "drop", "objects": ["a"], "onto": "below"})
    assert done.pivot_world("a") == near([0, 9, 1])


def test_drop_below_rests_on_a_solid_that_is_itself_below_the_ground():
    done = after(
        scene(crate("a", 0, -3, 0), crate("sunk", 0, -9, 0)), {"op": "drop", "objects": ["a"], "onto": "below"}
    )
    assert done.pivot_world("a") == near([0, -7, 0])  # on the top at −8


def test_drop_works_by_the_exact_box_of_a_round_solid():
    # A cone of base 2 and height 2 laid on its side about Z by 90°: its lowest point is the rim, 1 below.
    cone = {
        "id": "a",
        "solid": {"kind": "cone", "diameter": 2, "height": 2},
        "translation": [0, 5, 0],
        "rotation": QUARTER_Z,
    }
    assert after(scene(cone), {"op": "drop", "objects": ["a"]}).pivot_world("a") == near([0, 1, 0])


def test_join_moves_all_by_the_displacement_from_one_point_to_the_other():
    start = scene(crate("a", 0, 0, 0), crate("b", 0, 9, 0), PALLET)
    done = after(
        start,
        {
            "op": "join",
            "objects": ["a", "b"],
            "point": {"object": "a", "at": "-x-y-z"},
            "to": {"object": "pallet", "at": "-x+y-z"},
        },
    )
    # From (−1, −1, −1) to (7, 0.5, −2): by (8, 1.5, −1).
    assert done.pivot_world("a") == near([8, 1.5, -1])
    assert done.pivot_world("b") == near([8, 10.5, -1])


@pytest.mark.parametrize(
    ("step", "code"),
    [
        ({"op": "align", "to": "ghost", "x": "min"}, "unknown-object"),
        ({"op": "align", "to": "empty", "x": "min"}, "no-box"),
        ({"op": "drop", "objects": ["empty"]}, "no-box"),
        ({"op": "drop", "objects": ["fixed"]}, "locked"),
        ({"op": "join", "point": {"object": "empty", "at": "centre"}, "to": [0, 0, 0]}, "no-box"),
    ],
)
def test_steps_that_cannot_be_done_are_refused(step, code):
    start = scene(crate("a", 0, 0, 0), {"id": "empty"}, crate("fixed", 0, 0, 0, locked=True))
    assert refusal(start, {"objects": ["a"], **step}).code == code


@pytest.mark.parametrize("step", [{"op": "align", "to": "b"}, {"op": "align", "x": "min"}, {"op": "align", "to": "b", "x": "left"}])  # fmt: skip
def test_an_alignment_needs_a_reference_and_an_axis(step):
    with pytest.raises(ValidationError):
        steps_of({"objects": ["a"], **step})


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ({"op": "align", "to": "pallet", "x": "min", "z": "centre"}, "Align Crate A with Pallet: X min and Z centre of World"),
        ({"op": "align", "to": "selection", "y": "max"}, "Align Crate A with the selection: Y max of World"),
        ({"op": "drop"}, "Drop Crate A onto the ground"),
        ({"op": "drop", "onto": "below", "clearance": 0.001}, "Drop Crate A onto what is below, 0.001 m clear of it"),
        ({"op": "join", "point": {"object": "a"}, "to": [1, 0, 0]}, "Join Crate A: pivot of Crate A to (1; 0; 0)"),
    ],
)  # fmt: skip
def test_a_step_is_a_sentence(step, words):
    assert sentence(scene(crate("a", 0, 0, 0), PALLET), {"objects": ["a"], **step}) == words
