"""Nest, assemble, duplicate, add, remove, and the pivot, marker, names and colours."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from cubedrill.core.errors import CoreError
from tests.core.build import CRATE, QUARTER_Y, after, near, refusal, scene, sentence, states, steps_of
from tests.core.strategies import scenes

CRANE = (
    {"id": "base", "name": "Base", "translation": [5, 0, 0], "rotation": QUARTER_Y},
    {"id": "jib", "name": "Jib", "parent": "base", "translation": [1, 2, 0], "solid": CRATE},
    {"id": "hook", "name": "Hook", "parent": "jib", "translation": [3, 0, 0], "solid": CRATE},
)


def test_nest_keeps_the_place_in_the_world():
    start = scene(*CRANE, {"id": "crate", "translation": [1, 1, 1]})
    done = after(start, {"op": "nest", "objects": ["crate"], "parent": "base"})
    assert done.world_from_local("crate") == near(start.world_from_local("crate"))
    assert done["crate"].parent_from_local[:3, 3] == near([-1, 1, -4])  # (−4, 1, 1) along the base's X = −Z, Z = X


def test_nest_can_keep_the_local_numbers():
    done = after(scene(*CRANE), {"op": "nest", "objects": ["hook"], "parent": None, "keep": "local"})
    assert done.pivot_world("hook") == near([3, 0, 0])


@given(scenes(), st.sampled_from(["ab", "ca", "cd", "da", "db", "dc"]))
def test_nest_changes_no_world_matrix(start, pair):
    try:
        done = after(start, {"op": "nest", "objects": [pair[0]], "parent": pair[1]})
    except CoreError as error:
        assert error.code == "parent-loop" and pair == "ab"
        return
    for object_id in start.objects:
        before = start.world_from_local(object_id)
        assert done.world_from_local(object_id) == pytest.approx(before, abs=1e-9 * np.abs(before).max())


def test_nested_objects_keep_their_place_within_a_copy():
    chain = [{"id": "a"}, {"id": "b", "parent": "a"}, {"id": "c", "parent": "b"}, {"id": "d", "parent": "c"}]
    done = after(scene(*chain, {"id": "e", "parent": "a"}), {"op": "duplicate", "objects": ["a"], "ids": ["f"]})
    parents = {i: done[i].parent for i in done.objects if i.startswith("f")}
    assert parents == {"f": None, "f/b": "f", "f/c": "f/b", "f/d": "f/c", "f/e": "f"}
    inner = after(scene(*chain), {"op": "duplicate", "objects": ["b"], "ids": ["g"]})
    assert {i: inner[i].parent for i in ("g", "g/c", "g/d")} == {"g": "a", "g/c": "g", "g/d": "g/c"}


def test_an_assembly_that_is_given_no_name_is_called_by_its_id():
    start = scene({"id": "a", "solid": CRATE}, {"id": "b", "solid": CRATE})
    step = {"op": "assemble", "objects": ["a", "b"], "id": "pair"}
    done = after(start, step)
    assert (done["pair"].name, done["pair"].solid, done["pair"].opacity, done["pair"].locked) == (
        "pair",
        None,
        1,
        False,
    )
    assert after(start, {**step, "name": "Two"})["pair"].name == "Two"


def test_assemble_stands_at_the_identity_of_the_nearest_common_parent():
    start = scene(*CRANE, {"id": "lamp", "parent": "base", "solid": CRATE, "translation": [1, 8, 0]})
    done = after(start, {"op": "assemble", "objects": ["hook", "lamp"], "id": "top", "name": "Top"})
    assert done["top"].parent == "base"
    assert done["top"].parent_from_local == near(np.eye(4))
    assert [done[i].parent for i in ("hook", "lamp")] == ["top", "top"]
    # In the base the hook is at (4, 2, 0), the lamp at (1, 8, 0), both 2 wide: the middle is (2.5, 5, 0).
    assert done["top"].pivot == near([2.5, 5, 0])
    for object_id in ("hook", "lamp", "jib"):
        assert done.world_from_local(object_id) == near(start.world_from_local(object_id))


def test_the_pivot_of_an_assembly_is_the_middle_of_its_boxes_or_else_of_its_pivots():
    start = scene(
        {"id": "a", "solid": CRATE, "translation": [3, 1, 0]},
        {"id": "b", "solid": CRATE, "translation": [7, 1, -4]},
        {"id": "e", "translation": [90, 0, 0]},
        {"id": "f", "translation": [-30, 2, 8], "pivot": [0, 0, -2]},
    )
    boxed = after(start, {"op": "assemble", "objects": ["e", "a", "b"], "id": "top"})
    assert boxed.pivot_world("top") == near([5, 1, -2])
    assert boxed.world_from_local("e") == near(start.world_from_local("e"))
    bare = after(start, {"op": "assemble", "objects": ["e", "f"], "id": "top"})
    assert bare.pivot_world("top") == near([30, 1, 3])


def test_assemble_of_an_ancestor_and_what_is_in_it_takes_the_ancestor_alone():
    done = after(scene(*CRANE), {"op": "assemble", "objects": ["hook", "jib"], "id": "top"})
    assert (done["jib"].parent, done["hook"].parent, done["top"].parent) == ("top", "jib", "base")


def test_duplicate_copies_what_is_in_it_under_its_new_id():
    start = scene(*CRANE)
    done = after(start, {"op": "duplicate", "objects": ["jib"], "ids": ["jib2"]})
    assert list(done.objects) == ["base", "jib", "hook", "jib2", "jib2/hook"]
    assert (done["jib2"].parent, done["jib2/hook"].parent) == ("base", "jib2")
    assert done.world_from_local("jib2/hook") == near(start.world_from_local("hook"))
    assert (done["jib2"].name, done["jib2/hook"].name) == ("Jib 2", "Hook")


def test_a_row_is_made_each_copy_from_the_one_before():
    step = {
        "op": "duplicate", "objects": ["hook"], "ids": ["h2", "h3", "h4"], "copies": 3,
        "between": {"op": "move", "by": [0, 0, 2]},
    }  # fmt: skip
    start = scene(*CRANE)
    done = after(start, step)
    first = start.pivot_world("hook")
    assert [done.pivot_world(i)[2] - first[2] for i in ("h2", "h3", "h4")] == near([2, 4, 6])
    assert [done[i].name for i in ("h2", "h3", "h4")] == ["Hook 2", "Hook 3", "Hook 4"]


def test_without_a_step_between_two_copies_lie_in_one_place():
    # Common practice, no source: they look like one.
    done = after(scene(*CRANE), {"op": "duplicate", "objects": ["hook"], "ids": ["h2", "h3"], "copies": 2})
    assert done.world_from_local("h2") == near(done.world_from_local("h3"))


def test_ids_go_copy_by_copy_and_within_a_copy_in_the_order_of_the_objects():
    start = scene({"id": "a"}, {"id": "b", "translation": [0, 5, 0]})
    step = {
        "op": "duplicate", "objects": ["b", "a"], "ids": ["b2", "a2", "b3", "a3"], "copies": 2,
        "between": {"op": "move", "by": [1, 0, 0]},
    }  # fmt: skip
    done = after(start, step)
    places = {i: done.pivot_world(i).tolist() for i in ("b2", "a2", "b3", "a3")}
    assert places == {"b2": [1, 5, 0], "a2": [1, 0, 0], "b3": [2, 5, 0], "a3": [2, 0, 0]}


def test_descendants_of_a_copy_of_a_copy_are_named_after_the_original_ones():
    step = {
        "op": "duplicate", "objects": ["jib"], "ids": ["j2", "j3"], "copies": 2, "between": {"op": "move", "by": [1, 0, 0]},
    }  # fmt: skip
    assert list(after(scene(*CRANE), step).objects)[3:] == ["j2", "j2/hook", "j3", "j3/hook"]


def test_add_puts_the_pivot_at_the_marker():
    start = scene(*CRANE, marker=(7, 7, 7))
    done = after(
        start, {"op": "add", "object": {"id": "buoy", "pivot": [0, 1, 0], "scale": [2, 2, 2], "parent": "base"}}
    )
    assert done.pivot_world("buoy") == near([7, 7, 7])
    placed = after(start, {"op": "add", "object": {"id": "buoy", "translation": [1, 0, 0]}})
    assert placed.pivot_world("buoy") == near([1, 0, 0])


def test_remove_takes_what_is_in_it_or_lifts_it():
    start = scene(*CRANE)
    assert list(after(start, {"op": "remove", "objects": ["jib"]}).objects) == ["base"]
    lifted = after(start, {"op": "remove", "objects": ["jib"], "children": "lift"})
    assert lifted["hook"].parent == "base"
    assert lifted.world_from_local("hook") == near(start.world_from_local("hook"))


def test_the_pivot_moves_and_the_object_stays():
    start = scene(*CRANE)
    done = after(start, {"op": "pivot", "objects": ["hook"], "at": {"object": "hook", "at": "-x"}})
    assert done["hook"].pivot == near([-1, 0, 0])
    assert done.world_from_local("hook") is start.world_from_local("hook")
    here = after(start, {"op": "pivot", "objects": ["hook"], "at": [5, 2, -4]})
    assert here["hook"].pivot == near([0, 0, 0])  # where it was: (5, 0, 0) + 2 up + (1 + 3) along −Z


def test_pivot_acts_on_every_object_listed_even_below_another():
    done = after(scene(*CRANE), {"op": "pivot", "objects": ["jib", "hook"], "at": "selection"})
    assert done.pivot_world("jib") == near(done.pivot_world("hook"))


def test_the_marker_moves_alone():
    start = scene(*CRANE, marker=(1, 1, 1))
    moved = states(start, {"op": "marker", "to": {"object": "hook"}})[-1]
    assert moved.scene.marker == near([5, 2, -4])
    assert moved.changed == ()
    assert after(start, {"op": "marker", "to": "origin"}).marker == near([0, 0, 0])


def test_rename_and_paint_act_on_locked_objects_too():
    start = scene({"id": "a", "locked": True}, {"id": "b", "parent": "a"})
    done = after(
        start,
        {"op": "rename", "objects": ["a", "b"], "name": "Quay"},
        {"op": "paint", "objects": ["a"], "colour": "#112233"},
        {"op": "paint", "objects": ["a"], "opacity": 0.5},
    )
    assert (done["a"].name, done["b"].name, done["a"].colour, done["a"].opacity) == ("Quay", "Quay", "#112233", 0.5)


@pytest.mark.parametrize(
    ("step", "code"),
    [
        ({"op": "nest", "objects": ["base"], "parent": "hook"}, "parent-loop"),
        ({"op": "nest", "objects": ["base"], "parent": "base"}, "parent-loop"),
        ({"op": "nest", "objects": ["hook"], "parent": "ghost"}, "unknown-object"),
        ({"op": "assemble", "objects": ["hook"], "id": "jib"}, "id-taken"),
        ({"op": "duplicate", "objects": ["hook"], "ids": ["a", "b"]}, "copy-ids"),
        ({"op": "duplicate", "objects": ["hook"], "ids": ["jib"]}, "id-taken"),
        ({"op": "add", "object": {"id": "jib"}}, "id-taken"),
        ({"op": "add", "object": {"id": "new", "parent": "ghost"}}, "unknown-parent"),
        ({"op": "add", "object": {"id": "new", "parent": "new"}}, "parent-loop"),
        ({"op": "add", "object": {"id": "new", "scale": [0, 1, 1]}}, "not-invertible"),
        ({"op": "remove", "objects": ["ghost"]}, "unknown-object"),
        ({"op": "remove", "objects": ["shed"]}, "locked"),
        ({"op": "remove", "objects": ["shed"], "children": "lift"}, "locked"),
        ({"op": "pivot", "objects": ["bolt"], "at": "origin"}, "locked"),
        ({"op": "nest", "objects": ["bolt"], "parent": None}, "locked"),
        ({"op": "pivot", "objects": ["empty"], "at": "box"}, "no-box"),
    ],
)
def test_steps_that_cannot_be_done_are_refused(step, code):
    start = scene(*CRANE, {"id": "empty"}, {"id": "shed"}, {"id": "bolt", "parent": "shed", "locked": True})
    assert refusal(start, step).code == code


@pytest.mark.parametrize(
    "step",
    [
        {"op": "nest", "objects": ["hook"]},
        {"op": "paint", "objects": ["hook"]},
        {"op": "paint", "objects": ["hook"], "colour": "red"},
        {"op": "duplicate", "objects": ["hook"], "ids": ["b"], "between": {"op": "move", "objects": ["hook"], "by": [1, 0, 0]}},
        {"op": "duplicate", "objects": ["hook"], "ids": ["b"], "between": {"op": "remove"}},
        {"op": "duplicate", "objects": ["hook"], "ids": ["b"], "between": {"op": ["move"], "by": [1, 0, 0]}},
        {"op": "duplicate", "objects": ["hook"], "ids": ["b"], "between": {"by": [1, 0, 0]}},
        {"op": "duplicate", "objects": ["hook"], "ids": ["b"], "between": {"op": "move"}},
        {"op": "marker", "to": "marker"},
        {"op": "jump", "objects": ["hook"]},
    ],
)  # fmt: skip
def test_steps_that_say_nothing_are_refused(step):
    with pytest.raises(ValidationError):
        steps_of(step)


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ({"op": "nest", "objects": ["hook"], "parent": "base"}, "Nest Hook in Base, keeping its place in the world"),
        ({"op": "nest", "objects": ["hook"], "parent": None, "keep": "local"}, "Nest Hook out of everything, keeping its local numbers"),
        ({"op": "assemble", "objects": ["jib"], "id": "top"}, "Assemble Jib as top"),
        ({"op": "duplicate", "objects": ["hook"], "ids": ["h2"]}, "Duplicate Hook"),
        (
            {"op": "duplicate", "objects": ["hook"], "ids": ["h2", "h3"], "copies": 2, "between": {"op": "move", "by": [1, 0, 0]}},
            "Duplicate Hook 2 times, each time: move the copy by 1 m along X of World",
        ),
        ({"op": "add", "object": {"id": "buoy", "name": "Buoy", "solid": {"kind": "sphere", "diameter": 1}}}, "Add Buoy (sphere diameter 1 m) at the marker"),
        ({"op": "remove", "objects": ["jib"], "children": "lift"}, "Remove Jib but lift what is in it"),
        ({"op": "pivot", "objects": ["jib"], "at": {"object": "jib", "at": "+y"}}, "Move the pivot of Jib to face +Y of Jib"),
        ({"op": "marker", "to": [1, 2, 3]}, "Move the marker to (1; 2; 3)"),
        ({"op": "rename", "objects": ["jib"], "name": "Arm"}, "Rename Jib to Arm"),
        ({"op": "paint", "objects": ["jib"], "colour": "#112233", "opacity": 0.5}, "Paint Jib #112233, opacity 0.5"),
    ],
)  # fmt: skip
def test_a_step_is_a_sentence(step, words):
    assert sentence(scene(*CRANE), step) == words


@pytest.mark.parametrize(
    ("name", "taken", "copy"),
    [
        ("Crate", (), "Crate 2"), ("Crate", ("Crate 2", "Crate 3"), "Crate 4"), ("Crate 3", (), "Crate 2"),
        ("Crate left", (), "Crate left 2"), ("Crate 2b", (), "Crate 2b 2"), ("7", (), "7 2"), (" 7", (), " 7 2"),
    ],
)  # fmt: skip
def test_a_copy_is_called_as_its_original_with_the_first_number_that_is_free(name, taken, copy):
    others = [{"id": f"o{n}", "name": other} for n, other in enumerate(taken)]
    start = scene({"id": "a", "name": name}, *others)
    assert after(start, {"op": "duplicate", "objects": ["a"], "ids": ["b"]})["b"].name == copy


@pytest.mark.parametrize("op", ["remove", "duplicate", "assemble", "add", "marker"])
def test_adding_and_removing_is_refused_between_copies(op):
    bodies = {
        "duplicate": {"ids": ["x"]},
        "assemble": {"id": "x", "name": "X"},
        "marker": {"to": "origin"},
        "add": {"object": {"id": "x"}},
    }
    with pytest.raises(ValidationError):
        steps_of({"op": "duplicate", "objects": ["a"], "ids": ["b"], "between": {"op": op, **bodies.get(op, {})}})
