"""What is taken for what: how near sizes and vertices have to be, and that one object does not hide another."""

import logging

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.matching import matched, registered
from cubedrill.core.judging.submission import StepsSubmission
from cubedrill.core.judging.verdict import report_of
from tests.core.build import CRATE, scene

CORNERS = [[0, 0, 0], [10, 0, 0], [0, 1, 0], [0, 0, 1], [9, 1, 1]]
MESH = {"kind": "mesh", "vertices": CORNERS, "triangles": [[0, 1, 2], [0, 2, 3]]}


def taken(wanted, handed):
    """By what one solid was taken for another, of another name."""
    target, given = (
        scene({"id": "a", "name": "Beam", "solid": wanted}),
        scene({"id": "x", "name": "Y", "solid": handed}),
    )
    return [match.by for match in matched(target, list(given.objects.values()), ())[1]]


@pytest.mark.parametrize(
    ("size", "by"),
    [
        ([1000, 1, 1], ["shape and size"]), ([1000.0009, 1, 1], ["shape and size"]), ([1000.0011, 1, 1], []),
        ([1000, 1.0009, 1], ["shape and size"]), ([1000, 1.0011, 1], []), ([999.9991, 1, 0.9991], ["shape and size"]),
        ([1, 1000, 1], []),
    ],
)  # fmt: skip
def test_sizes_agree_to_a_millionth_of_the_largest(size, by):
    assert taken({"kind": "cuboid", "size": [1000, 1, 1]}, {"kind": "cuboid", "size": size}) == by


def test_another_shape_of_that_size_is_another():
    assert taken(CRATE, {"kind": "wedge", "size": [2, 2, 2]}) == []
    assert taken(CRATE, CRATE) == ["shape and size"]


def baked(vertices, **more):
    return {"id": "m", "solid": {**MESH, "vertices": np.asarray(vertices).tolist()}, **more}


def moved(noise=0.0):
    """The mesh turned, stretched and carried far away, its vertices off by some noise: where it then stands."""
    random = np.random.default_rng(3)
    linear = Rotation.random(rng=random).as_matrix() * (1.0, 2.0, 0.5)
    world_from_local = np.eye(4)
    world_from_local[:3, :3], world_from_local[:3, 3] = linear, (500, -300, 70)
    off = random.uniform(-1, 1, (len(CORNERS), 3))
    return world_from_local, np.array(CORNERS) @ linear.T + world_from_local[:3, 3] + noise * off


@pytest.mark.parametrize(("noise", "known"), [(0, True), (5e-6, True), (1e-4, False), (1e-2, False)])
def test_vertices_may_be_off_by_a_millionth_of_the_meshs_own_extent(noise, known):
    # It is ten long, so the bound is 1e-5; that it stands 500 away does not widen it.
    world_from_local, vertices = moved(noise)
    made, unknown = registered(scene({"id": "m", "solid": MESH}), scene(baked(vertices)))
    assert (unknown == frozenset()) is known
    if known:
        assert made.world_from_local("m") == pytest.approx(world_from_local, abs=10 * noise + 1e-9)


def test_every_mesh_is_put_where_it_stands_whatever_comes_before_it():
    world_from_local, vertices = moved()
    first, last = {"id": "crate", "solid": CRATE}, {"id": "z", "solid": MESH}
    target = scene(first, last, {"id": "m", "solid": MESH}, {"id": "gone", "solid": MESH})
    handed = scene(first, last, baked(vertices, pivot=[3, 3, 3]), {"id": "on", "parent": "m", "translation": [1, 2, 3]})
    made, unknown = registered(target, handed)
    assert unknown == frozenset()
    assert made.world_from_local("m") == pytest.approx(world_from_local, abs=1e-9)
    assert made["m"].pivot.tolist() == [0, 0, 0]
    # What is in it stays where it was, and in it.
    assert made["on"].parent == "m"
    assert made.world_from_local("on")[:3, 3] == pytest.approx([1, 2, 3], abs=1e-9)


def test_vertices_that_do_not_tell_a_map_leave_the_turn_unknown():
    target = scene({"id": "m", "solid": MESH})
    flat = np.array(CORNERS) * (1, 1, 0)
    fewer = {"id": "m", "solid": {**MESH, "vertices": CORNERS[:4]}}
    for handed in (baked(flat), fewer):
        assert registered(target, scene(handed))[1] == {"m"}
    level = scene({"id": "m", "solid": {**MESH, "vertices": flat.tolist()}})
    assert registered(level, scene(baked(flat + [0, 0, 1])))[1] == {"m"}  # of a flat one many maps lead there


def test_without_a_reference_a_miss_is_told_without_causes_and_nothing_breaks(caplog):
    caplog.set_level(logging.WARNING)
    made = Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "start": {"objects": [{"id": "a"}]},
            "target": {"objects": [{"id": "a", "translation": [1, 0, 0]}]},
            "checks": [{"id": "c", "kind": "position", "object": "a", "tolerance": 0.1}],
        }
    )  # fmt: skip
    steps = [{"op": "move", "objects": ["a"], "by": [2, 0, 0]}, {"op": "move", "objects": ["a"], "by": [-2, 0, 0]}]
    work = {"format": "cube-drill/submission", "version": 1, "exercise": "e", "kind": "steps", "steps": steps}
    report = judge_submission(made, made.start_scene(), made.target_scene(), StepsSubmission.model_validate(work))
    assert (report.causes, report.parted, report.cancelling) == ((), None, ((1, 2),))
    assert caplog.records == []
    # A pass mark of nothing is reached by nothing.
    assert report_of(report.checks, 0).passed
    assert not report_of(report.checks, 0.001).passed
