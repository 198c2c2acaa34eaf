"""Position checks: worked examples in every space, the edge of the tolerance, points, and what a report says."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks.common import Case
from cubedrill.core.judging.checks.position import PositionCheck
from cubedrill.core.judging.verdict import (
    LENGTH_GUARD,
    PURE_GUARD,
    misses,
    misses_by,
    report_of,
    share_of_points,
    verdict_of,
)
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.replay import replay
from tests.core.strategies import scenes

QUARTER_Y = [0, 0.5**0.5, 0, 0.5**0.5]  # own X along world −Z, own Z along world X


def scene(**places):
    """A pallet turned by 90° about Y at (10, 0, 0), and crates where they are named."""
    crate = {"solid": {"kind": "cuboid", "size": [1, 2, 1]}, "pivot": [0, -1, 0]}
    pallet = {"id": "pallet", "translation": places.pop("pallet", [10, 0, 0]), "rotation": QUARTER_Y}
    objects = [pallet, *({"id": name, "translation": place, **crate} for name, place in places.items())]
    return Stage.model_validate({"objects": objects}).to_scene(Conventions())


def judged(target, submitted, **check):
    check = {"id": "c", "kind": "position", "object": "crate", "tolerance": 0.1, **check}
    return PositionCheck.model_validate(check).judge(Case(target, submitted))


TARGET = scene(crate=[1, 2, 3])


def test_differences_are_submitted_less_target_along_each_axis():
    result = judged(TARGET, scene(crate=[1.05, 2, 2.5]))
    assert result.target == pytest.approx((1, 1, 3))  # the pivot is 1 below the origin
    assert result.submitted == pytest.approx((1.05, 1, 2.5))
    assert result.difference == pytest.approx((0.05, 0, -0.5))
    assert (result.verdict, result.points) == ("fail", 0)


def test_a_distance_is_one_number():
    result = judged(TARGET, scene(crate=[4, 2, 7]), measure="distance", tolerance=5)
    assert result.difference == pytest.approx(5)  # 3, 4, 5
    assert result.verdict == "pass"


def test_axes_that_are_not_named_do_not_count():
    assert judged(TARGET, scene(crate=[1, 99, 3]), axes="xz").verdict == "pass"
    assert judged(TARGET, scene(crate=[1, 99, 3]), axes="y").verdict == "fail"
    assert judged(TARGET, scene(crate=[4, 99, 7]), axes="xz", measure="distance").difference == pytest.approx(5)


def test_each_axis_may_have_its_own_tolerance_in_the_order_of_its_letters():
    submitted = scene(crate=[1.4, 2, 3.04])
    assert judged(TARGET, submitted, axes="zx", tolerance=[0.05, 0.5]).verdict == "pass"
    assert judged(TARGET, submitted, axes="xz", tolerance=[0.05, 0.5]).verdict == "fail"


@pytest.mark.parametrize(
    ("point", "height"), [("pivot", 1), ("centre", 2), ("+y", 3), ("-y", 1), ("+x+y", 3), ("-x-y+z", 1)]
)
def test_any_point_of_the_object_can_be_checked(point, height):
    assert judged(TARGET, TARGET, point=point).target[1] == pytest.approx(height)


def test_another_objects_space_is_taken_in_each_scene_on_its_own():
    # Pallet and crate both carried 5 along X: in the pallet's axes nothing has changed.
    carried = scene(crate=[6, 2, 3], pallet=[15, 0, 0])
    result = judged(TARGET, carried, space={"object": "pallet"})
    # (1, 1, 3) from (10, 0, 0) is (−9, 1, 3); own X is world −Z, own Z is world X: (−3, 1, −9).
    assert result.target == pytest.approx((-3, 1, -9))
    assert result.verdict == "pass"
    assert judged(TARGET, carried).verdict == "fail"


def test_local_means_the_targets_own_axes_for_both():
    turned = Stage.model_validate({"objects": [{"id": "crate", "rotation": QUARTER_Y}]}).to_scene(Conventions())
    away = Stage.model_validate({"objects": [{"id": "crate", "translation": [0, 0, -2]}]}).to_scene(Conventions())
    result = judged(turned, away, space="local")
    assert result.submitted == pytest.approx((2, 0, 0), abs=1e-12)  # −2 along world Z is 2 along the target's own X


def test_the_parents_axes_count_in_scene_lengths():
    def with_hook(place):
        objects = [
            {"id": "crane", "scale": [2, 2, 2], "translation": [1, 0, 0]},
            {"id": "crate", "parent": "crane", "translation": place},
        ]
        return Stage.model_validate({"objects": objects}).to_scene(Conventions())

    result = judged(with_hook([1, 0, 0]), with_hook([1.5, 0, 0]), space="parent")
    assert result.target == pytest.approx((2, 0, 0))
    assert result.difference == pytest.approx((1, 0, 0))  # half a unit in the parent is one scene length


def test_of_several_objects_the_one_that_is_off_most_is_judged():
    target, submitted = scene(crate=[0, 0, 0], other=[5, 0, 0]), scene(crate=[0.05, 0, 0], other=[5, 0, 4])
    result = judged(target, submitted, object=["crate", "other"])
    assert (result.object, result.difference[2]) == ("other", pytest.approx(4))


def test_an_object_that_is_gone_fails_and_says_so():
    result = judged(TARGET, scene(other=[0, 0, 0]))
    assert (result.verdict, result.points, result.submitted, result.difference) == ("fail", 0, None, None)
    assert "not in the submitted scene" in result.text


def test_a_result_says_in_one_sentence_how_it_came_about():
    result = judged(TARGET, scene(crate=[1.25, 2, 3]), axes="x", point="centre", space="world")
    assert result.text == "Centre of crate, in World: X 1.25 m, wanted 1 ± 0.1."


@pytest.mark.parametrize(
    ("difference", "tolerance", "guard", "passes"),
    [
        (0.5, 0.5, 0, True), (-0.5, 0.5, 0, True), (0.5 * (1 + 0.9e-9), 0.5, 0, True),
        (0.5 * (1 + 1.1e-9), 0.5, 0, False), (-0.5 * (1 + 1.1e-9), 0.5, 0, False),
        (0, 0, 0, True), (1e-300, 0, 0, False), (2e-12, 0, 2e-12, True), (2.1e-12, 0, 2e-12, False),
        (0.5 + 0.9e-6, 0.5, 1e-6, True), (0.5 + 1.1e-6, 0.5, 1e-6, False), (math.inf, 9, 0, False),
    ],
)  # fmt: skip
def test_a_difference_passes_up_to_the_tolerance_its_billionth_and_the_guard(difference, tolerance, guard, passes):
    # checking.md: d ≤ tolerance · (1 + 1e-9) + g.
    assert (misses_by(difference, tolerance, guard) <= 1) == passes


def test_the_guards_are_those_of_the_page():
    assert (PURE_GUARD, LENGTH_GUARD) == (1e-12, 8 * 2**-52)
    assert misses(8 * 2**-52 * 1e6, 0, 1e6) == 0
    assert misses(9 * 2**-52 * 1e6, 0, 1e6) == math.inf


def test_the_largest_coordinate_compared_guards_a_tolerance_of_zero():
    # An ulp of a million is 1.2e-10; 8 · 2⁻⁵² of it 1.8e-9.
    target = scene(crate=[1e6, 0, 0])
    for beyond, verdict in ((1.5e-9, "pass"), (2.5e-9, "fail")):
        assert judged(target, scene(crate=[1e6 + beyond, 0, 0]), tolerance=0).verdict == verdict
        assert judged(target, scene(crate=[1e6, 0, beyond]), tolerance=0).verdict == verdict
        off = scene(crate=[1e6, beyond, 0])
        assert judged(target, off, tolerance=0, measure="distance").verdict == verdict


def test_the_edge_of_the_tolerance_passes_and_a_millionth_beyond_does_not():
    # 2.31 − 2.25 is 0.06000000000000005 in float64: written in decimals it is the tolerance itself.
    target, at_edge = scene(crate=[2.25, 0, 0]), scene(crate=[2.31, 0, 0])
    assert judged(target, at_edge, axes="x", tolerance=0.06).verdict == "pass"
    beyond = scene(crate=[2.25 + 0.06 * (1 + 1e-6), 0, 0])
    assert judged(target, beyond, axes="x", tolerance=0.06).verdict == "fail"


@given(st.floats(1e-4, 10), st.floats(-1e4, 1e4), st.sampled_from([-1, 1]), st.floats(0, 1))
def test_no_difference_within_passes_less_and_none_beyond_passes(tolerance, place, sign, share):
    largest = abs(place) + tolerance
    assert misses((place + sign * tolerance * share) - place, tolerance, largest) <= 1
    if largest < 1e3:  # beyond, float64 itself blurs a millionth of the tolerance
        assert misses((place + sign * tolerance * (1 + 1e-6)) - place, tolerance, largest) > 1


def test_a_tolerance_of_zero_takes_only_what_rounding_leaves():
    assert misses(0.1 + 0.2 - 0.3, 0, 0.3) == 0
    assert misses(1e-12, 0, 0.3) == math.inf


def test_a_result_says_how_many_tolerances_it_is_off_at_the_most():
    off = scene(crate=[1.3, 2, 2.9])
    assert judged(TARGET, off).tolerances_off == pytest.approx(3)
    assert judged(TARGET, off, tolerance=[0.6, 1, 0.05]).tolerances_off == pytest.approx(2)
    assert judged(TARGET, off, measure="distance", tolerance=1).tolerances_off == pytest.approx(0.1**0.5)
    assert judged(TARGET, off, tolerance=0).tolerances_off == 0  # of nothing there is no share
    assert judged(TARGET, scene(other=[0, 0, 0])).tolerances_off == 0


@pytest.mark.parametrize(
    ("missed", "zero_at", "share", "verdict"),
    [
        (0, 1, 1, "pass"),
        (1, 1, 1, "pass"),
        (1.001, 1, 0, "fail"),
        (1, 3, 1, "pass"),
        (1.5, 3, 0.75, "near"),
        (2, 3, 0.5, "near"),
        (3, 3, 0, "fail"),
        (math.inf, 3, 0, "fail"),
    ],
)
def test_points_fall_in_a_straight_line_to_none_at_zero_at(missed, zero_at, share, verdict):
    assert share_of_points(missed, zero_at) == pytest.approx(share)
    assert verdict_of(missed, share) == verdict


def test_a_report_adds_up_and_passes_at_the_pass_mark():
    right, wrong = judged(TARGET, TARGET, points=7), judged(TARGET, scene(crate=[9, 9, 9]), points=3)
    report = report_of([right, wrong], 0.7)
    assert (report.points, report.of, report.score, report.passed) == (7, 10, 0.7, True)
    assert not report_of([right, wrong], 0.7001).passed
    assert report_of([], 0.7).score is None


@given(scenes(), st.sampled_from("abcd"), st.sampled_from(["world", "parent", "local"]), st.data())
def test_a_block_of_the_halo_holds_the_object_just_while_the_check_passes(start, chosen, space, data):
    offsets = data.draw(st.tuples(*[st.floats(-2, 2)] * 3).filter(lambda o: all(abs(abs(v) - 1) > 1e-3 for v in o)))
    check = PositionCheck(id="c", kind="position", object=chosen, space=space, tolerance=0.5, point="centre")
    halo = check.halo(chosen, start)
    by = halo.world_from_axes @ np.array(offsets) * 0.5
    after = replay(start, [Move(op="move", objects=(chosen,), by=tuple(by.tolist()))])[-1].scene
    box_from_world = np.eye(4)
    box_from_world[:3, :3] = halo.world_from_axes.T
    box = after.box(chosen, box_from_world)
    low, high = (
        box.least - halo.world_from_axes.T @ halo.centre_world,
        box.most - halo.world_from_axes.T @ halo.centre_world,
    )
    holds = bool((low >= -halo.half_sizes - 1e-6).all() and (high <= halo.half_sizes + 1e-6).all())
    assert holds is (check.judge(Case(start, after)).verdict == "pass")


@pytest.mark.parametrize(
    "wrong",
    [
        {"axes": "xx"},
        {"axes": ""},
        {"axes": "w"},
        {"tolerance": -1},
        {"tolerance": [0.1, 0.1]},
        {"tolerance": [0.1, 0.1, 0.1], "measure": "distance"},
        {"zero_at": 0.5},
        {"points": -1},
        {"point": "top"},
        {"object": []},
        {"colour": 1},
    ],
)
def test_checks_that_make_no_sense_are_refused(wrong):
    with pytest.raises(ValidationError):
        PositionCheck.model_validate({"id": "c", "kind": "position", "object": "a", "tolerance": 1, **wrong})
