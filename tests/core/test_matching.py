"""What is taken for what: how near sizes and vertices have to be, and that one object does not hide another."""

import logging

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.solids import Cuboid
from cubedrill.core.geometry.transform import mapped
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import SEVERAL_TURNS, judge_submission
from cubedrill.core.judging.matching import adopted, choices_that_fit, matched
from cubedrill.core.judging.mesh_matching import registered
from cubedrill.core.judging.submission import SceneSubmission, StepsSubmission
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


@pytest.mark.parametrize(("scale", "by"), [([2, 2, 2], ["shape and size"]), ([0.5, 0.5, 0.5], []), ([1, 2, 2], [])])
def test_a_size_is_that_after_scaling(scale, by):
    target = scene({"id": "a", "name": "Beam", "solid": {"kind": "cuboid", "size": [2, 4, 6]}})
    given = scene({"id": "x", "name": "Y", "solid": {"kind": "cuboid", "size": [1, 2, 3]}, "scale": scale})
    assert [match.by for match in matched(target, list(given.objects.values()), ())[1]] == by
    assert [match.by for match in matched(given, list(target.objects.values()), ())[1]] == by


def test_far_away_is_found_too_where_another_stands_just_where_it_should():
    wedge = {"kind": "wedge", "size": [2, 2, 2]}

    def two_of_each(name, crates_at):
        return scene(
            *(
                {"id": f"{name}{i}", "name": f"{name}{i}", "solid": CRATE, "translation": [crates_at + int(i), 0, 0]}
                for i in "01"
            ),
            *({"id": f"{name}{i}", "name": f"{name}{i}", "solid": wedge, "translation": [int(i), 0, 0]} for i in "23"),
        )

    found = matched(two_of_each("a", 0), list(two_of_each("x", 100).objects.values()), ())[1]
    assert {match.target: match.submitted for match in found} == {"a0": "x0", "a1": "x1", "a2": "x2", "a3": "x3"}


def test_objects_without_a_solid_match_nothing_by_shape():
    group, other = {"id": "a", "name": "Group"}, {"id": "x", "name": "Y"}
    assert matched(scene(group), list(scene(other).objects.values()), ())[1] == ()
    assert matched(scene(group), list(scene({**other, "solid": CRATE}).objects.values()), ())[1] == ()
    assert matched(scene({**group, "solid": CRATE}), list(scene(other).objects.values()), ())[1] == ()


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


@pytest.mark.parametrize(("noise", "known"), [(0, True), (5e-6, True), (1e-4, True), (1e-3, False), (1e-2, False)])
def test_vertices_may_be_off_by_what_numbers_of_32_bits_lose_so_far_away(noise, known):
    # It is ten long, of which a millionth is 1e-5; it stands 500 away, where such numbers are 2 ** -24 * 6 * 500 off.
    _, vertices = moved(noise)
    found = registered(scene({"id": "m", "solid": MESH}), scene(baked(vertices)))
    assert (found.unknown == frozenset()) is known
    if known:
        # The mesh has symmetries: each of its vertices is where one is, if not the one of the same number.
        found_at = mapped(found.scene.world_from_local("m"), np.array(CORNERS))
        assert all(np.abs(vertices - place).max(axis=1).min() <= 10 * noise + 1e-9 for place in found_at)


def test_every_mesh_is_put_where_it_stands_whatever_comes_before_it():
    world_from_local, vertices = moved()
    first, last = {"id": "crate", "solid": CRATE}, {"id": "z", "solid": MESH}
    target = scene(first, last, {"id": "m", "solid": MESH}, {"id": "gone", "solid": MESH})
    handed = scene(first, last, baked(vertices, pivot=[3, 3, 3]), {"id": "on", "parent": "m", "translation": [1, 2, 3]})
    found = registered(target, handed)
    made = found.scene
    assert found.unknown == frozenset()
    assert made.world_from_local("m") == pytest.approx(world_from_local, abs=1e-9)
    assert made["m"].pivot.tolist() == [0, 0, 0]
    # What is in it stays where it was, and in it.
    assert made["on"].parent == "m"
    assert made.world_from_local("on")[:3, 3] == pytest.approx([1, 2, 3], abs=1e-9)


def test_vertices_that_do_not_tell_a_map_leave_the_turn_unknown():
    target = scene({"id": "m", "solid": MESH})
    flat = np.array(CORNERS) * (1, 1, 0)
    fewer = {"id": "m", "solid": {**MESH, "vertices": CORNERS[:4]}}
    for submitted in (baked(flat), fewer):
        assert registered(target, scene(submitted)).unknown == {"m"}
    level = scene({"id": "m", "solid": {**MESH, "vertices": flat.tolist()}})
    assert registered(level, scene(baked(flat + [0, 0, 1]))).unknown == {"m"}  # of a flat one many maps lead there


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


def building(*places, known=()):
    """A scene of posts made by the student, beside what is there from the start."""
    added = [{"id": f"post-{i}", "solid": CRATE, "translation": place} for i, place in enumerate(places)]
    return scene(*known, *added)


WANTED = scene(
    {"id": "quay", "solid": CRATE},
    {"id": "left", "solid": CRATE, "translation": [-5, 0, 0]},
    {"id": "right", "solid": CRATE, "translation": [5, 0, 0]},
)
QUAY = {"id": "quay", "solid": CRATE}


def pairs(built, chosen=None):
    return {match.target: (match.submitted, match.by) for match in adopted(WANTED, built, chosen)[1]}


def test_added_objects_are_matched_by_position_unless_chosen():
    built = building([-4, 0, 0], [4, 0, 0], known=[QUAY])
    assert pairs(built) == {"left": ("post-0", "place"), "right": ("post-1", "place")}
    assert pairs(built, {"left": "post-1"}) == {"left": ("post-1", "choice"), "right": ("post-0", "shape and size")}
    assert pairs(built, {"left": "post-1", "right": "post-0"}) == {
        "left": ("post-1", "choice"),
        "right": ("post-0", "choice"),
    }
    # What is said not to be made is not looked for, and what would be found so is no choice.
    assert pairs(built, {"left": None}) == {"right": ("post-1", "place")}
    assert pairs(built, {"right": "post-1"}) == {"left": ("post-0", "shape and size"), "right": ("post-1", "place")}


@pytest.mark.parametrize(("x", "target"), [(-4, "left"), (4, "right"), (0.1, "right")])
def test_a_half_finished_object_is_matched_to_the_nearest_one(x, target):
    assert pairs(building([x, 0, 0], known=[QUAY])) == {target: ("post-0", "place")}


def test_one_that_could_be_either_of_two_by_name_is_told_by_what_else_it_is():
    wedge = {"kind": "wedge", "size": [2, 2, 2]}
    target = scene({"id": "a", "name": "Post", "solid": CRATE}, {"id": "b", "name": "Post", "solid": wedge})
    handed = scene({"id": "x", "name": "Post", "solid": wedge})
    assert [(m.target, m.by) for m in matched(target, list(handed.objects.values()), ())[1]] == [
        ("b", "shape and size")
    ]


def test_a_choice_is_called_as_the_target_is_and_stands_where_it_was_put():
    called, _ = adopted(WANTED, building([-4, 0, 0], [4, 0, 0], known=[QUAY]), {"left": "post-1"})
    assert set(called.objects) == {"quay", "left", "right"}
    assert called.pivot_world("left").tolist() == [4, 0, 0]
    assert called.pivot_world("right").tolist() == [-4, 0, 0]


@pytest.mark.parametrize(
    ("chosen", "code"),
    [
        ({"left": "post-9"}, "unknown-object"), ({"shed": "post-0"}, "unknown-object"), ({"shed": None}, "unknown-object"),
        ({"left": "post-0", "right": "post-0"}, "chosen-twice"),
        ({"quay": "post-0"}, "chosen-known"), ({"quay": None}, "chosen-known"), ({"left": "quay"}, "chosen-known"),
    ],
)  # fmt: skip
def test_a_choice_that_says_nothing_about_the_scene_is_refused_or_left_out_of_a_draft(chosen, code):
    built = building([-4, 0, 0], [4, 0, 0], known=[QUAY])
    with pytest.raises(CoreError) as refused:
        adopted(WANTED, built, chosen)
    assert refused.value.code == code
    if code != "chosen-twice":
        assert choices_that_fit(WANTED, built, {**chosen, "right": "post-1"}) == {"right": "post-1"}


def test_choices_last_as_long_as_what_they_name():
    chosen = {"left": "post-1", "right": None}
    assert choices_that_fit(WANTED, building([0, 0, 0], [1, 0, 0]), chosen) == chosen
    assert choices_that_fit(WANTED, building([0, 0, 0]), chosen) == {"right": None}
    assert choices_that_fit(WANTED, WANTED, chosen) == {}


def test_matches_chosen_by_hand_are_judged():
    objects = [{"id": i, "solid": CRATE, "translation": [x, 0, 0]} for i, x in (("left", -5), ("right", 5))]
    made = Exercise.model_validate({
        "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "start": {"objects": [QUAY]},
        "target": {"objects": [QUAY, *objects]},
        "checks": [{"id": i, "kind": "position", "object": i, "tolerance": 0.1} for i in ("left", "right")],
    })  # fmt: skip
    add = [
        {"op": "add", "object": {"id": i, "solid": CRATE, "translation": [x, 0, 0]}} for i, x in (("a", -5), ("b", 5))
    ]

    def marks(**more):
        handed = StepsSubmission.model_validate(
            {"format": "cube-drill/submission", "version": 1, "exercise": "e", "kind": "steps", "steps": add, **more}
        )
        report = judge_submission(made, made.start_scene(), made.target_scene(), handed)
        return report.score, {match.target: match.by for match in report.matches}

    assert marks() == (1, {"left": "place", "right": "place"})
    assert marks(matches={"left": "b"}) == (0, {"left": "choice", "right": "shape and size"})


def test_an_object_whose_file_shows_only_its_look_is_judged_by_look():
    """A post of seven sides, moved and turned about itself in its vertices: how far, nobody can tell."""
    post = {"kind": "cylinder", "diameter": 1, "height": 3}
    made = Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E",
            "start": {"objects": [{"id": "m", "solid": post, "translation": [5, 0, 0]}]},
            "reference": {"steps": []},
            "checks": [
                {"id": "turn", "kind": "rotation", "object": "m", "tolerance": 1},
                {"id": "look", "kind": "rotation", "object": "m", "tolerance": 1, "symmetry": "look"},
                {"id": "size", "kind": "size", "object": "m", "tolerance": 0.1},
                {"id": "place", "kind": "position", "object": "m", "point": "centre", "tolerance": 0.1},
                {"id": "parent", "kind": "parent", "object": "m"},
            ],
        }
    )  # fmt: skip
    points, triangles = made.start_scene()["m"].solid.triangulated(1, 7)
    turned = points @ Rotation.from_euler("y", 10, degrees=True).as_matrix().T + (5, 0, 0)
    solid = {"kind": "mesh", "vertices": turned.tolist(), "triangles": np.asarray(triangles).tolist()}
    handed = SceneSubmission.model_validate(
        {
            "format": "cube-drill/submission",
            "version": 1,
            "exercise": "e",
            "kind": "scene",
            "scene": {"objects": [{"id": "m", "solid": solid}]},
        }
    )
    report = judge_submission(made, made.start_scene(), made.target_scene(), handed)
    # That several turns fit is said of such work, and of no other.
    steps = {**handed.model_dump(include={"format", "version", "exercise"}), "kind": "steps", "steps": []}
    by_steps = StepsSubmission.model_validate(steps)
    typed = judge_submission(made, made.start_scene(), made.target_scene(), by_steps)
    assert [check.id for check in (*report.checks, *typed.checks) if SEVERAL_TURNS in check.text] == ["turn", "size"]
    assert {check.verdict for check in report.checks} == {"pass"}


def block_of(size, at):
    """The triangles of a block as a program writes them, without a name that tells, its place in its vertices."""
    points, corners = Cuboid(size=size).triangulated(1, 4)
    return {"kind": "mesh", "vertices": (points + at).tolist(), "triangles": np.asarray(corners).tolist()}


@pytest.mark.parametrize(
    ("longer", "by"), [(1.00005, ["shape and size"]), (0.99995, ["shape and size"]), (1.0002, []), (0.9998, [])]
)
def test_a_mesh_is_taken_for_a_solid_whose_lengths_agree_to_a_ten_thousandth(longer, by):
    assert taken({"kind": "cuboid", "size": [3, 1, 2]}, block_of((3 * longer, longer, 2 * longer), (7, 8, 9))) == by


def test_meshes_without_a_place_are_told_by_where_their_middles_are_and_not_by_their_pivots():
    # All are written with their pivots at the origin, in the other order; the pivots wanted are corners.
    places = {"a": (0, 0, 0), "b": (9, 0, 0), "c": (0, 0, 20)}
    block = {"kind": "cuboid", "size": [1, 2, 3]}
    target = scene(
        *(
            {"id": i, "name": i, "solid": block, "translation": list(at), "pivot": [0.5, 1, 1.5]}
            for i, at in places.items()
        )
    )
    handed = scene(
        *({"id": f"x{i}", "name": f"x{i}", "solid": block_of((1, 2, 3), np.add(places[i], 0.1))} for i in "cba")
    )
    _, found = matched(target, list(handed.objects.values()), ["xa", "xb", "xc"])
    assert {match.target: (match.submitted, match.by) for match in found} == {i: (f"x{i}", "place") for i in "abc"}


def test_an_object_found_by_name_is_not_matched_by_position():
    target = scene(
        *({"id": i, "name": i, "solid": CRATE, "translation": [x, 0, 0]} for i, x in (("a", 0), ("b", 30), ("c", 20)))
    )
    handed = scene(
        *({"id": i, "name": i, "solid": CRATE, "translation": [x, 0, 0]} for i, x in (("a", 90), ("p", 1), ("q", 31)))
    )
    found = {match.target: match.submitted for match in matched(target, list(handed.objects.values()), ())[1]}
    assert found == {"a": "a", "b": "q", "c": "p"}


def test_a_choice_of_none_ends_no_other_choice():
    built = building([-4, 0, 0], [4, 0, 0], known=[QUAY])
    three = scene(
        *(
            {"id": i, "solid": CRATE, "translation": [x, 0, 0]}
            for i, x in (("quay", 0), ("left", -5), ("right", 5), ("far", 50))
        )
    )
    chosen = {"far": None, "left": "post-1"}
    found = {match.target: match.submitted for match in adopted(three, built, chosen)[1]}
    assert found == {"left": "post-1", "right": "post-0"}
