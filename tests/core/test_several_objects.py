"""Steps, rules and relations on several objects at once: mirrored ones, a child with its parent, below ground, listed in any order.

Every expected number is worked out here by hand or in plain NumPy, from the definitions alone.
"""

import numpy as np
import pytest
from pydantic import TypeAdapter

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_scene, judge_submission
from cubedrill.core.judging.submission import Submission
from tests.core.build import CRATE, QUARTER_Z, after, near, scene

SUBMISSION = TypeAdapter(Submission)
MIRRORED = {"id": "m", "solid": CRATE, "translation": [4, 1, -2], "scale": [-1, 2, 1], "pivot": [0.5, 0, 0]}
PLAIN = {"id": "p", "solid": CRATE, "translation": [-2, 1, 0]}


def turn_y(degrees):
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])


def about(linear, point):
    whole = np.eye(4)
    whole[:3, :3], whole[:3, 3] = linear, point - linear @ point
    return whole


def test_two_objects_one_mirrored_turn_about_the_middle_of_both_boxes():
    start = scene(MIRRORED, PLAIN)
    # Boxes: m from 3 to 5, −1 to 3, −3 to −1; p from −3 to −1, 0 to 2, −1 to 1. Around both: −3 to 5, −1 to 3, −3 to 1.
    motion = about(turn_y(-30), np.array([1.0, 1.0, -1.0]))
    end = after(start, {"op": "rotate", "objects": ["m", "p"], "axis": "y", "angle": -30, "pivot": "selection"})
    for i in "mp":
        assert end.world_from_local(i) == near(motion @ start.world_from_local(i))


@pytest.mark.parametrize("order", [["m", "p"], ["p", "m"], ["p", "m", "p"]])
def test_in_local_each_goes_along_its_own_axes_whatever_the_order_and_how_often_it_is_named(order):
    end = after(
        scene(MIRRORED, {**PLAIN, "rotation": QUARTER_Z}),
        {"op": "move", "objects": order, "space": "local", "by": [-3, 0, 2]},
    )
    # The axes of m are those of its rotation: the mirror is a factor on X. p is turned by a quarter about Z: its X is world Y.
    assert end.world_from_local("m")[:3, 3] == near([1, 1, 0])
    assert end.world_from_local("p")[:3, 3] == near([-2, -2, 2])


@pytest.mark.parametrize("chosen", [["p", "c"], ["c", "p"], ["g", "p"], ["p", "c", "g"]])
def test_a_child_chosen_with_its_parent_is_moved_once(chosen):
    start = scene(
        PLAIN,
        {"id": "c", "parent": "p", "solid": CRATE, "translation": [0, 2, 0]},
        {"id": "g", "parent": "c", "solid": CRATE, "translation": [0, 2, 0]},
    )
    end = after(start, {"op": "move", "objects": chosen, "by": [0, 0, -5]})
    for i in "pcg":
        assert end.world_from_local(i)[:3, 3] == near(start.world_from_local(i)[:3, 3] + [0, 0, -5])
    turned = after(start, {"op": "rotate", "objects": chosen, "axis": "y", "angle": 90, "pivot": "selection"})
    assert turned.world_from_local("p") == near(
        about(turn_y(90), np.array([-2.0, 1.0, 0.0])) @ start.world_from_local("p")
    )


def test_objects_below_ground_are_lifted_each_by_its_own_amount():
    start = scene(
        {**PLAIN, "translation": [0, -7, 0]},
        {**MIRRORED, "translation": [9, -1, 0]},
        {"id": "high", "solid": CRATE, "translation": [0, 8, 9]},
    )
    end = after(start, {"op": "drop", "objects": ["p", "m", "high"], "clearance": 0.25})
    # Half heights: 1, 2 (its factor on Y), 1.
    assert [end.world_from_local(i)[1, 3] for i in ("p", "m", "high")] == [near(1.25), near(2.25), near(1.25)]


@pytest.mark.parametrize("up", ["y", "z"])
@pytest.mark.parametrize("handedness", ["right", "left"])
def test_aligning_along_y_and_z_takes_each_side_in_every_convention(up, handedness):
    objects = [
        {"id": "a", "solid": CRATE, "translation": [1, -4, 6]},
        {"id": "b", "solid": CRATE, "translation": [-3, 5, -2], "scale": [1, 3, 0.5]},
    ]
    start = scene(*objects, up=up, handedness=handedness)
    # b reaches from 2 to 8 along Y and from −2.5 to −1.5 along Z; a is 2 wide.
    for axis, place in (("y", {"min": 3, "centre": 5, "max": 7}), ("z", {"min": -1.5, "centre": -2, "max": -2.5})):
        for side, wanted in place.items():
            end = after(start, {"op": "align", "objects": ["a"], "to": "b", axis: side})
            moved = [1, -4, 6]
            moved["xyz".index(axis)] = wanted
            assert end.world_from_local("a")[:3, 3] == near(moved)
            both = after(start, {"op": "align", "objects": ["a", "b"], "to": "selection", axis: side})
            ends = {"y": (-5, 8), "z": (-2.5, 7)}[axis]
            middle = {"min": ends[0], "max": ends[1], "centre": sum(ends) / 2}[side]
            for i, half in (("a", 1), ("b", {"y": 3, "z": 0.5}[axis])):
                shift = {"min": half, "max": -half, "centre": 0}[side]
                assert both.world_from_local(i)["xyz".index(axis), 3] == near(middle + shift)


def exercise(objects, steps, checks):
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "start": {"objects": objects},
            "reference": {"steps": steps}, "checks": checks,
        }
    )  # fmt: skip


def judged(made, **work):
    document = SUBMISSION.validate_python({"format": "cube-drill/submission", "version": 1, "exercise": "e", **work})
    return judge_submission(made, made.start_scene(), made.target_scene(), document)


@pytest.mark.parametrize(
    ("rule", "object_id", "steps", "verdict"),
    [
        ({"rule": "uses", "op": "move", "space": "local"}, "m", [("local", ["p", "m"])], "pass"),
        ({"rule": "uses", "op": "move", "space": "local"}, "m", [("local", ["p"]), ("world", ["m"])], "fail"),
        ({"rule": "avoids", "op": "move", "space": "local"}, "m", [("local", ["p", "m"])], "fail"),
        ({"rule": "avoids", "op": "move", "space": "local"}, "m", [("local", ["p"])], "pass"),
        ({"rule": "at_most", "steps": 1}, "m", [("world", ["p", "m"]), ("world", ["p"])], "pass"),
        ({"rule": "at_most", "steps": 1}, "m", [("world", ["p", "m"]), ("world", ["m"])], "fail"),
    ],
)
def test_a_rule_for_the_method_sees_a_step_on_two_objects_once_for_each(rule, object_id, steps, verdict):
    turned = {**MIRRORED, "rotation": [0, 0.3, 0, 0.91**0.5]}
    made = exercise(
        [turned, {**PLAIN, "rotation": [0, 0.3, 0, 0.91**0.5]}],
        [],
        [{"id": "r", "kind": "process", "object": object_id, "declared": True, **rule}],
    )
    done = [{"op": "move", "objects": ids, "space": space, "by": [1, 0, 0], "entry": "typed"} for space, ids in steps]
    assert [c.verdict for c in judged(made, kind="steps", steps=done).checks] == [verdict]


@pytest.mark.parametrize(
    ("judged_for", "holds"),
    [
        ("m", False),
        ("p", True),
        (["m", "p"], False),
        (["p", "q"], True),
        (["m", "q"], False),
        ("q", False),
        (None, False),
    ],
)
def test_a_step_fits_a_rule_if_it_fits_each_of_its_objects_that_the_rule_names(judged_for, holds):
    """One step on m and p along the world's X: that is p's own X, but not that of m, which was turned. No step moves q."""
    turned = {**MIRRORED, "rotation": [0, 0.3, 0, 0.91**0.5]}
    objects = [turned, PLAIN, {"id": "q", "solid": CRATE}]
    rule = {"op": "move", "space": "local", "axis": "x"} | ({} if judged_for is None else {"object": judged_for})
    made = exercise(objects, [], [{"id": r, "kind": "process", "rule": r, **rule} for r in ("uses", "avoids")])
    done = [{"op": "move", "objects": ["m", "p"], "by": [1, 0, 0]}]
    found = {check.id: check.verdict for check in judged(made, kind="steps", steps=done).checks}
    assert found == {"uses": "pass" if holds else "fail", "avoids": "fail" if holds else "pass"}


def test_a_parent_described_by_its_look_leaves_its_checked_child_where_it_is():
    """A crate turned by a quarter looks the same; what is in it has not moved, and is checked in its axes and the world's."""
    objects = [
        {"id": "crate", "solid": CRATE},
        {"id": "lid", "parent": "crate", "solid": {"kind": "cuboid", "size": [1, 2, 3]}, "translation": [0, 2, 1]},
    ]
    checks = [
        {"id": "turn", "kind": "rotation", "object": "crate", "symmetry": "look", "tolerance": 1},
        {"id": "lid", "kind": "position", "object": "lid", "tolerance": 0.001},
        {"id": "lid in it", "kind": "position", "object": "lid", "space": "parent", "tolerance": 0.001},
        {"id": "lid turn", "kind": "rotation", "object": "lid", "tolerance": 0.1},
    ]
    made = exercise(objects, [], checks)
    quarter = {"id": "crate", "solid": CRATE, "rotation": [0, 0.5**0.5, 0, 0.5**0.5]}
    # The lid is where it was in the world: in the turned crate it is turned back, and 1 along Z there is −1 along X.
    lid = {
        "id": "lid",
        "parent": "crate",
        "solid": objects[1]["solid"],
        "translation": [-1, 2, 0],
        "rotation": [0, -(0.5**0.5), 0, 0.5**0.5],
    }
    right = judge_scene(made, made.target_scene(), scene(quarter, lid))
    assert {c.id: c.verdict for c in right.checks} == dict.fromkeys(("turn", "lid", "lid in it", "lid turn"), "pass")
    went_along = {**objects[1], "parent": "crate"}
    wrong = judge_scene(made, made.target_scene(), scene(quarter, went_along))
    assert {c.id: c.verdict for c in wrong.checks} == {
        "turn": "pass",
        "lid": "fail",
        "lid in it": "fail",
        "lid turn": "fail",
    }


@pytest.mark.parametrize("order", [(0, 1, 2), (2, 1, 0), (1, 2, 0)])
@pytest.mark.parametrize("space", ["world", "parent"])
def test_a_sheet_that_lists_children_first_is_the_same_sheet(order, space):
    objects = [
        PLAIN,
        {"id": "c", "parent": "p", "solid": CRATE, "translation": [0, 2, 0]},
        {"id": "g", "parent": "c", "solid": CRATE, "translation": [0, -2, 1]},
    ]
    steps = [
        {"op": "rotate", "objects": ["p"], "axis": "z", "angle": -40},
        {"op": "move", "objects": ["c"], "space": "local", "by": [-1, 0.5, -2]},
    ]
    made = exercise(
        objects, steps, [{"id": i, "kind": "position", "object": i, "tolerance": [0.001, 0.01, 0.1]} for i in "pcg"]
    )
    target = made.target_scene()
    rows = [
        {
            "object": i,
            "space": space,
            "matrix": (target.world_from_local(i) if space == "world" else target[i].parent_from_local)
            .ravel(order="F")
            .tolist(),
        }
        for i in "pcg"
    ]
    assert judged(made, kind="sheet", rows=[rows[n] for n in order]).score == 1


@pytest.mark.parametrize(
    ("off", "verdicts"),
    [([-0.9, 1.9, -2.9], "pass"), ([1.1, 0, 0], "fail"), ([0, -2.1, 0], "fail"), ([0, 0, 3.1], "fail")],
)
def test_each_axis_of_each_object_has_its_own_tolerance_on_both_sides(off, verdicts):
    made = exercise(
        [PLAIN, MIRRORED], [], [{"id": "both", "kind": "position", "object": ["p", "m"], "tolerance": [1, 2, 3]}]
    )
    steps = [{"op": "move", "objects": ["m"], "by": off}]
    assert judged(made, kind="steps", steps=steps).checks[0].verdict == verdicts
    assert judged(made, kind="steps", steps=[{**steps[0], "objects": ["p"]}]).checks[0].verdict == verdicts


@pytest.mark.parametrize("lifted", [-0.5, 0.5])
def test_of_several_that_should_rest_the_one_that_does_not_decides(lifted):
    objects = [{"id": i, "solid": CRATE, "translation": [4 * n, 1, -3 * n]} for n, i in enumerate("abc")]
    made = exercise(
        objects,
        [],
        [
            {
                "id": "r",
                "kind": "relation",
                "relation": "rests_on",
                "object": ["a", "b", "c"],
                "other": "ground",
                "tolerance": 0.1,
            }
        ],
    )
    for i in "abc":
        (result,) = judged(made, kind="steps", steps=[{"op": "move", "objects": [i], "by": [0, lifted, 0]}]).checks
        assert (result.verdict, result.object) == ("fail", i)
        assert abs(result.difference) == pytest.approx(0.5)
