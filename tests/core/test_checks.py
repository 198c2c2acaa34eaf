"""Every kind of check but position: worked examples, the edge of the tolerance, what counts as the same, what is not judged."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError
from scipy.spatial.transform import Rotation

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.canonical import canonical_pose
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.replay import replay
from tests.core.build import CRATE, QUARTER_X, QUARTER_Y, QUARTER_Z, near, scene, steps_of
from tests.core.strategies import quaternions, triples

CHECK: TypeAdapter[Check] = TypeAdapter(Check)
BLOCK = {"kind": "cuboid", "size": [2, 1, 1]}


def placed(solid=CRATE, **more):
    return scene({"id": "a", "name": "Crate", "solid": solid, **more})


def turned(degrees, axis="y", **more):
    return placed(rotation=Rotation.from_euler(axis, degrees, degrees=True).as_quat().tolist(), **more)


def judged(target, submitted, **check):
    made = CHECK.validate_python({"id": "c", "object": "a", "tolerance": 0.5, **check})
    if made.by_look:
        submitted = canonical_pose(target, submitted, made.objects)
    return made.judge(Case(target, submitted))


@pytest.mark.parametrize(("degrees", "verdict", "points"), [(0.5, "pass", 1), (0.75, "near", 0.5), (1.1, "fail", 0)])
def test_rotation_by_the_angle_of_the_least_turn(degrees, verdict, points):
    result = judged(turned(30), turned(30 + degrees), kind="rotation", zero_at=2)
    assert (result.verdict, result.difference) == (verdict, pytest.approx(degrees))
    assert result.points == pytest.approx(points)


@given(quaternions(), st.sampled_from([1e-9, 1e-3, 90.0, 179.999999, 180.0]), triples)
def test_the_angle_is_good_near_nothing_and_near_half_a_turn(start, degrees, axis):
    length = np.linalg.norm(axis)
    assume(length >= 1e-3)
    first = Rotation.from_quat(start)
    second = Rotation.from_rotvec(np.array(axis) / length * math.radians(degrees)) * first
    result = judged(
        placed(rotation=first.as_quat().tolist()), placed(rotation=second.as_quat().tolist()), kind="rotation"
    )
    # Half a turn's atan2 is good to 1e-12 rad; the two quaternions bring some 1e-15 each.
    assert math.radians(result.difference) == pytest.approx(math.radians(degrees), abs=1e-12)


def test_one_own_axis_can_point_the_same_way_however_it_is_turned_about_it():
    result = judged(turned(0), turned(70, "z"), kind="rotation", measure="axis", axis="+z")
    assert (result.verdict, result.difference) == ("pass", near(0))
    assert judged(turned(0), turned(70, "x"), kind="rotation", measure="axis", axis="+z").difference == pytest.approx(
        70
    )


def test_in_another_objects_space_only_the_turn_against_it_counts():
    def lamp(degrees):
        turn = Rotation.from_euler("y", degrees, degrees=True).as_quat().tolist()
        return scene({"id": "p", "rotation": turn}, {"id": "a", "parent": "p", "solid": CRATE})

    assert judged(lamp(0), lamp(50), kind="rotation", space={"object": "p"}).verdict == "pass"
    assert judged(lamp(0), lamp(50), kind="rotation").verdict == "fail"


@pytest.mark.parametrize("kind", [{"kind": "rotation"}, {"kind": "size"}, {"kind": "shape", "tolerance": 9}])
def test_a_mirrored_object_fails_unless_it_looks_the_same(kind):
    result = judged(placed(), placed(scale=[-1, 1, 1]), **kind)
    assert (result.verdict, result.found) == ("fail", "it is mirrored")
    assert "mirrored" in result.text
    right = judged(placed(), placed(), **kind)
    assert (right.verdict, right.found) == ("pass", "")
    assert "mirrored" not in right.text
    assert judged(placed(), placed(scale=[-1, 1, 1]), symmetry="look", **kind).verdict == "pass"


def test_a_mirrored_mesh_without_a_mirror_of_its_own_fails_even_by_look():
    mesh = {"kind": "mesh", "vertices": [[0, 0, 0], [3, 0, 0], [0, 2, 0], [0, 0, 1]], "triangles": [[0, 2, 1]]}
    result = judged(placed(mesh), placed(mesh, scale=[-1, 1, 1]), kind="rotation", symmetry="look")
    assert result.verdict == "fail"


@pytest.mark.parametrize(
    ("solid", "rotation", "same"),
    [
        (CRATE, QUARTER_X, True),
        (CRATE, Rotation.from_euler("xyz", [90, 90, 0], degrees=True).as_quat().tolist(), True),
        (CRATE, Rotation.from_euler("y", 45, degrees=True).as_quat().tolist(), False),
        (BLOCK, QUARTER_X, True),  # the block is as wide as high
        (BLOCK, QUARTER_Y, True),  # a block of 1 × 1 × 2 that is not turned: its size is what is wrong
        ({"kind": "cylinder", "diameter": 1, "height": 3}, Rotation.from_euler("y", 37, degrees=True).as_quat().tolist(), True),
        ({"kind": "cylinder", "diameter": 1, "height": 3}, Rotation.from_euler("z", 180, degrees=True).as_quat().tolist(), True),
        ({"kind": "cone", "diameter": 1, "height": 3}, Rotation.from_euler("z", 180, degrees=True).as_quat().tolist(), False),
        ({"kind": "sphere", "diameter": 1}, Rotation.from_euler("xyz", [10, 20, 30], degrees=True).as_quat().tolist(), True),
        ({"kind": "pyramid", "size": [2, 3, 2]}, QUARTER_Y, True),
        ({"kind": "pyramid", "size": [2, 3, 2]}, QUARTER_X, False),
    ],
)  # fmt: skip
def test_by_look_a_turn_that_leaves_the_solid_as_it_is_is_none(solid, rotation, same):
    result = judged(placed(solid), placed(solid, rotation=rotation), kind="rotation", symmetry="look")
    assert (result.verdict == "pass") is same


@given(quaternions(), quaternions(), st.sampled_from("xyz"))
def test_by_look_a_ball_stretched_in_the_world_is_the_same_however_it_was_turned_before(first, second, axis):
    """Its principal axes are none of its own: turned by 20° about one of them it is off by that."""
    stretch = np.diag([1.0, 2.0, 3.0])
    tilt = Rotation.from_euler(axis, 20, degrees=True).as_matrix()

    def ball(linear):
        matrix = np.eye(4)
        matrix[:3, :3] = linear
        return placed({"kind": "sphere", "diameter": 1}, matrix=matrix.ravel(order="F").tolist())

    target, same, tilted = (
        ball(turn @ stretch @ Rotation.from_quat(q).as_matrix())
        for turn, q in ((np.eye(3), first), (np.eye(3), second), (tilt, second))
    )
    assert judged(target, same, kind="rotation", symmetry="look").difference == pytest.approx(0, abs=1e-4)
    assert judged(target, tilted, kind="rotation", symmetry="look").difference == pytest.approx(20, abs=1e-4)


def test_by_look_a_block_turned_and_resized_is_the_same_block():
    # 2 × 1 × 1 turned by 90° about Z and made 1 × 2 × 1 in its own numbers again lies along X.
    resized = placed(BLOCK, rotation=QUARTER_Z, scale=[0.5, 2, 1])
    for kind in ("rotation", "size", "shape"):
        assert judged(placed(BLOCK), resized, kind=kind, symmetry="look").verdict == "pass"
        assert judged(placed(BLOCK), resized, kind=kind, tolerance=0.1).verdict == "fail"
    turned_only = placed(BLOCK, rotation=QUARTER_Y)
    assert judged(placed(BLOCK), turned_only, kind="size", symmetry="look").verdict == "fail"


@pytest.mark.parametrize(
    ("check", "scale", "verdict"),
    [
        ({"tolerance": 0.05}, [1.04, 1, 1], "pass"),
        ({"tolerance": 0.05}, [1, 1, 1.06], "fail"),
        ({"tolerance": 0.05, "axes": "x"}, [1, 1, 2], "pass"),
        ({"tolerance": [0.05, 0.5], "axes": "xz"}, [1, 1, 1.4], "pass"),
        ({"tolerance": 0.11, "measure": "length"}, [1.05, 1, 1], "pass"),  # 2 · 0.05
        ({"tolerance": 0.09, "measure": "length"}, [1.05, 1, 1], "fail"),
    ],
)
def test_size(check, scale, verdict):
    assert judged(placed(), placed(scale=scale), kind="size", **check).verdict == verdict


@pytest.mark.parametrize(
    ("check", "unit", "text"),
    [
        ({"tolerance": 0.05}, "", "Size of Crate: Y 3 m, wanted 2 ± 0.05 of it."),
        ({"tolerance": 0.05, "measure": "length"}, "m", "Size of Crate: Y 3 m, wanted 2 ± 0.05 m."),
        ({"tolerance": [9, 0.2], "axes": "yx"}, "", "Size of Crate: X 2.5 m, wanted 2 ± 0.2 of it."),
    ],
)
def test_a_size_says_which_is_off_most_in_its_own_terms(check, unit, text):
    result = judged(placed(name="Crate"), placed(name="Crate", scale=[1.25, 1.5, 1]), kind="size", **check)
    assert (result.unit, result.text, result.space) == (unit, text, "its own axes")
    assert result.axes == tuple(check.get("axes", "xyz").upper())
    assert (result.target, result.submitted) == (near(tuple([2] * len(result.axes))), result.submitted)
    assert result.submitted == near(tuple({"X": 2.5, "Y": 3, "Z": 2}[axis] for axis in result.axes))


def test_of_several_without_points_the_one_that_is_off_most_is_told():
    target = scene({"id": "a", "solid": CRATE}, {"id": "b", "solid": CRATE}, {"id": "c", "solid": CRATE})
    turned_by = {"a": 30, "b": 50, "c": 40}
    submitted = scene(
        *(
            {"id": i, "solid": CRATE, "rotation": Rotation.from_euler("y", by, degrees=True).as_quat().tolist()}
            for i, by in turned_by.items()
        )
    )
    result = judged(target, submitted, kind="rotation", object=["a", "b", "c"])
    assert (result.object, result.difference) == ("b", pytest.approx(50))
    assert judged(target, submitted, kind="rotation", object=["a", "c"]).object == "c"


def test_the_edge_of_a_tolerance_is_inside_and_a_hair_beyond_is_not():
    for off, verdict in ((0.1, "pass"), (0.1 * (1 + 1e-6), "fail")):
        assert judged(placed(), placed(scale=[1 + off, 1, 1]), kind="size", tolerance=0.1).verdict == verdict
        degrees = 2 + (0 if verdict == "pass" else 2e-6)
        assert judged(turned(0), turned(degrees), kind="rotation", tolerance=2).verdict == verdict


def test_pivot_name_parent_look_and_count():
    target = scene(
        {"id": "p", "name": "Crane"},
        {
            "id": "a",
            "name": "Hook",
            "parent": "p",
            "solid": CRATE,
            "scale": [2, 2, 2],
            "pivot": [0, 0.5, 0],
            "colour": "#AA0000",
        },
    )
    other = scene(
        {"id": "p", "name": "Crane"},
        {"id": "g", "parent": "p"},
        {"id": "a", "name": "hook", "parent": "g", "solid": CRATE, "colour": "#aa0000"},
        {"id": "b", "solid": CRATE},
    )
    assert judged(target, other, kind="pivot").difference == pytest.approx(1)  # 0.5 of its own, at a scale of 2
    assert judged(target, other, kind="pivot", tolerance=1).verdict == "pass"
    for kind, verdict in (("name", "fail"), ("parent", "pass"), ("look", "pass")):  # g is looked through
        check = CHECK.validate_python({"id": "c", "object": "a", "kind": kind})
        assert check.judge(Case(target, other)).verdict == verdict
    count = CHECK.validate_python({"id": "c", "kind": "count", "solid": "cuboid"}).judge(Case(target, other))
    assert (count.verdict, count.difference) == ("fail", 1)


@pytest.mark.parametrize(
    ("wanted", "found", "tolerance", "same"),
    [
        (("#AA0000", 0.5), ("#aa0000", 0.5), 0, True), (("#aa0000", 0.5), ("#aa0001", 0.5), 1, False),
        (("#aa0000", 0.5), ("#aa0000", 0.6), 0, False), (("#aa0000", 0.6), ("#aa0000", 0.5), 0, False),
        (("#aa0000", 0.5), ("#aa0000", 0.6), 0.1, True), (("#aa0000", 0.6), ("#aa0000", 0.5), 0.1, True),
        (("#aa0000", 0.5), ("#aa0000", 0.61), 0.1, False), (("#aa0000", 0.5), ("#aa0000", 0.5 + 5e-10), 0, True),
    ],
)  # fmt: skip
def test_a_look_is_a_colour_and_an_opacity(wanted, found, tolerance, same):
    target, submitted = (placed(colour=colour, opacity=opacity) for colour, opacity in (wanted, found))
    result = judged(target, submitted, kind="look", tolerance=tolerance)
    assert (result.verdict == "pass") is same
    assert (result.difference, result.points) == ((0, 1) if same else (1, 0))
    assert result.wanted.endswith("% opaque")
    assert result.wanted.startswith(wanted[0].lower())


def test_an_object_that_is_gone_fails_and_the_worst_of_several_counts():
    target = scene({"id": "a", "solid": CRATE}, {"id": "b", "solid": CRATE})
    assert judged(target, scene({"id": "a", "solid": CRATE}), kind="rotation", object=["a", "b"]).verdict == "fail"
    half = scene({"id": "a", "solid": CRATE}, {"id": "b", "solid": CRATE, "rotation": QUARTER_X})
    assert judged(target, half, kind="rotation", object=["a", "b"]).object == "b"


PALLET = {"id": "p", "name": "Pallet", "solid": {"kind": "cuboid", "size": [4, 1, 4]}, "translation": [0, 0.5, 0]}


def relation(place, **check):
    start = Stage.model_validate(
        {
            "objects": [{"id": "a", "name": "Crate", "solid": CRATE, "translation": place}, PALLET],
            "plot": {"min": [-3, 0, -3], "max": [3, 4, 3]},
        }
    ).to_scene(Conventions())
    made = CHECK.validate_python({"id": "c", "kind": "relation", "object": "a", "tolerance": 0.01, **check})
    return made.judge(Case(start, start))


@pytest.mark.parametrize(
    ("place", "check", "holds"),
    [
        ([0, 2, 0], {"relation": "rests_on", "other": "p"}, True),
        ([0, 2.02, 0], {"relation": "rests_on", "other": "p"}, False),
        ([9, 2, 0], {"relation": "rests_on", "other": "p"}, False),
        ([9, 1, 0], {"relation": "rests_on", "other": "ground"}, True),
        ([0, 2, 0], {"relation": "touches", "other": "p"}, True),
        ([0, 1.9, 0], {"relation": "touches", "other": "p"}, False),
        ([5, 0.5, 0], {"relation": "gap", "other": "p", "distance": 2}, True),
        ([5.1, 0.5, 0], {"relation": "gap", "other": "p", "distance": 2}, False),
        ([0, 9, 0.005], {"relation": "centred_on", "other": "p"}, True),
        ([0, 9, 0.02], {"relation": "centred_on", "other": "p"}, False),
        ([-1, 9, 5], {"relation": "flush", "other": "p", "side": "min", "axes": "x"}, True),
        ([1, 9, 5], {"relation": "flush", "other": "p", "side": "min", "axes": "x"}, False),
        ([-5, 0.5, 0], {"relation": "faces", "other": "p", "axis": "+x"}, True),
        ([-5, 0.5, 1], {"relation": "faces", "other": "p", "axis": "+x"}, False),
        ([2, 2, 0], {"relation": "inside_plot"}, True),
        ([2.5, 2, 0], {"relation": "inside_plot"}, False),
        ([0, 2, 0], {"relation": "clear_of", "other": "p"}, True),
        ([0, 1.5, 0], {"relation": "clear_of", "other": "p"}, False),
    ],
)
def test_relations_hold_by_the_submitted_scene_alone(place, check, holds):
    result = relation(place, **check)
    assert (result.verdict == "pass") is holds, result.text


@pytest.mark.parametrize("kind", [{"kind": "position"}, {"kind": "rotation"}])
def test_of_several_objects_the_worst_is_told_as_such(kind):
    def two(b):
        return scene({"id": "a", "name": "Crate"}, {"id": "b", "name": "Buoy", **b})

    made = CHECK.validate_python({"id": "c", "object": ["a", "b"], "tolerance": 0.5, **kind})
    result = made.judge(Case(two({}), two({"translation": [9, 0, 0], "rotation": [0, 1, 0, 0]})))
    assert (result.object, result.label.endswith("of Buoy (the worst of 2)")) == ("b", True)


def test_an_even_row():
    def row(last):
        return scene(
            *({"id": i, "solid": CRATE, "translation": [x, 0, 0]} for i, x in (("a", 0), ("b", 3), ("c", last)))
        )

    made = CHECK.validate_python(
        {"id": "c", "kind": "relation", "relation": "row", "object": ["a", "b", "c"], "tolerance": 0.1}
    )
    assert made.judge(Case(row(6), row(6.15))).verdict == "pass"
    assert made.judge(Case(row(6), row(6.5))).verdict == "fail"
    without = scene(*({"id": i, "solid": CRATE, "translation": [x, 0, 0]} for i, x in (("a", 0), ("c", 6))))
    gone = made.judge(Case(row(6), without))
    assert (gone.verdict, gone.object) == ("fail", "b")
    assert made.label(row(6), "a").startswith("a, b and c ")


def process(*steps, start=None, **check):
    start = start or scene({"id": "a", "solid": CRATE}, {"id": "b", "rotation": QUARTER_Y})
    states = replay(start, steps_of(*steps))
    made = CHECK.validate_python({"id": "c", "kind": "process", **check})
    return made.judge(Case(start, states[-1].scene, states)).verdict == "pass"


TURN = {"op": "rotate", "objects": ["a"], "space": "local", "axis": "y", "angle": 30, "entry": "typed"}


@pytest.mark.parametrize(
    ("check", "holds"),
    [
        ({"rule": "uses", "op": "rotate"}, True),
        ({"rule": "uses", "op": "scale"}, False),
        ({"rule": "avoids", "op": "scale"}, True),
        ({"rule": "avoids", "op": "rotate", "object": "b"}, True),
        ({"rule": "uses", "axis": "y", "space": "local"}, True),
        ({"rule": "uses", "axis": "y", "space": "world"}, True),  # local Y and world Y were one line
        ({"rule": "uses", "axis": "y", "space": "world", "declared": True}, False),
        ({"rule": "uses", "axis": "x", "space": "local"}, False),
        ({"rule": "uses", "op": "rotate", "pivot": "own"}, True),
        ({"rule": "uses", "op": "rotate", "pivot": "origin"}, True),  # its pivot was at the origin
        ({"rule": "uses", "op": "rotate", "pivot": "origin", "declared": True}, False),
        ({"rule": "uses", "op": "rotate", "pivot": "own", "declared": True}, True),
        ({"rule": "avoids", "op": "rotate", "pivot": "own", "declared": True}, False),
        ({"rule": "at_most", "steps": 1}, True),
        ({"rule": "at_most", "steps": 0}, False),
        ({"rule": "typed"}, True),
        ({"rule": "multiple", "of": 15}, True),
        ({"rule": "multiple", "of": 20}, False),
    ],
)
def test_process(check, holds):
    assert process(TURN, **check) is holds


@pytest.mark.parametrize(
    ("check", "holds"),
    [
        ({"space": "parent"}, True),
        ({"space": "world"}, False),  # it went along no line, so that only what was said can tell
        ({"space": "parent", "axis": "x"}, False),
    ],
)
def test_a_step_to_a_place_has_the_space_that_it_says_and_no_axis(check, holds):
    there = {"op": "move", "objects": ["a"], "space": "parent", "to": [1, 0, 0]}
    assert process(there, rule="uses", op="move", **check) is holds


def test_an_axis_is_judged_by_what_it_was_at_that_moment():
    tilt = {"op": "rotate", "objects": ["a"], "axis": "x", "angle": 45}
    local = {"op": "move", "objects": ["a"], "space": "local", "by": [0, 1, 0]}
    assert process(local, rule="uses", op="move", axis="y", space="world")
    assert not process(tilt, local, rule="uses", op="move", axis="y", space="world")
    assert process({**local, "by": [1, 0, 1]}, rule="uses", op="move", axis="xz", space="world")
    assert not process({**TURN, "entry": "dragged"}, rule="typed")


def test_a_file_is_not_judged_for_how_it_was_made():
    made = CHECK.validate_python({"id": "c", "kind": "process", "rule": "typed"})
    result = made.judge(Case(placed(), placed()))
    assert (result.verdict, result.points) == ("not judged", 0)


@pytest.mark.parametrize(
    "check",
    [
        {"kind": "rotation", "measure": "axis"},
        {"kind": "rotation", "axis": "+x"},
        {"kind": "size", "axes": "xx"},
        {"kind": "size", "axes": "xy", "tolerance": [1, 2, 3]},
        {"kind": "relation", "relation": "gap", "other": "p"},
        {"kind": "relation", "relation": "rests_on"},
        {"kind": "relation", "relation": "row"},
        {"kind": "process", "rule": "uses"},
        {"kind": "process", "rule": "at_most"},
        {"kind": "weight"},
    ],
)
def test_checks_that_say_nothing_are_refused(check):
    with pytest.raises(ValidationError):
        CHECK.validate_python({"id": "c", "object": "a", "tolerance": 1, **check})
