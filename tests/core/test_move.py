"""Move: worked examples with their arithmetic, laws that hold for all moves, and what is refused."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.move import Move
from cubedrill.core.steps.replay import replay
from tests.core.strategies import moves, scenes, triples

ROUNDING = 1e-8  # sums of products of numbers up to 1e5, in float64


def scene(*objects, **conventions):
    return Stage.model_validate({"objects": objects}).to_scene(Conventions(**conventions))


def moved(start, **step):
    return replay(start, [Move.model_validate({"op": "move", **step})])[-1].scene


QUARTER_Y = [0, 0.5**0.5, 0, 0.5**0.5]  # 90° about Y: own X points along world −Z, own Z along world X


def test_by_in_world_adds_to_the_place():
    after = moved(scene({"id": "crate", "translation": [1, 2, 3]}), objects=["crate"], by=[0.5, 0, -1])
    assert after.pivot_world("crate") == pytest.approx([1.5, 2, 2])


def test_by_in_local_goes_along_the_objects_own_axes():
    start = scene({"id": "crate", "translation": [1, 2, 3], "rotation": QUARTER_Y})
    # 2 along own X is 2 along world −Z: (1, 2, 3 − 2).
    after = moved(start, objects=["crate"], space="local", by=[2, 0, 0])
    assert after.pivot_world("crate") == pytest.approx([1, 2, 1])


def test_local_lengths_are_scene_lengths_whatever_the_scale():
    start = scene({"id": "crate", "scale": [10, 10, 10]})
    assert moved(start, objects=["crate"], space="local", by=[2, 0, 0]).pivot_world("crate") == pytest.approx([2, 0, 0])


def test_parent_values_are_the_parents_own_coordinates_its_scale_included():
    start = scene({"id": "crane", "scale": [2, 2, 2]}, {"id": "hook", "parent": "crane", "translation": [1, 0, 0]})
    after = moved(start, objects=["hook"], space="parent", by=[3, 0, 0])
    assert after["hook"].parent_from_local[:3, 3] == pytest.approx([4, 0, 0])
    assert after.pivot_world("hook") == pytest.approx([8, 0, 0])  # 4 in the parent is 8 in the world


def test_parent_is_world_without_a_parent():
    start = scene({"id": "crate", "rotation": QUARTER_Y})
    assert moved(start, objects=["crate"], space="parent", by=[1, 2, 3]).pivot_world("crate") == pytest.approx(
        [1, 2, 3]
    )


def test_to_takes_the_pivot_to_the_place_and_leaves_what_is_null():
    start = scene({"id": "crate", "translation": [1, 2, 3], "pivot": [0, -0.5, 0]})
    after = moved(start, objects=["crate"], to=[4, 0, None])
    assert after.pivot_world("crate") == pytest.approx([4, 0, 3])
    assert after["crate"].parent_from_local[:3, 3] == pytest.approx([4, 0.5, 3])  # the pivot is 0.5 below the origin


def test_to_with_a_point_takes_that_point_there():
    start = scene({"id": "crate", "solid": {"kind": "cuboid", "size": [2, 2, 2]}})
    point = {"object": "crate", "at": "+x-y"}
    after = moved(start, objects=["crate"], to=[5, 0, None], point=point)
    assert after.pivot_world("crate") == pytest.approx([4, 1, 0])  # that edge's middle is at (1, −1, 0) from the origin


def test_a_given_point_serves_all_objects():
    start = scene({"id": "a"}, {"id": "b", "translation": [0, 0, 7]})
    after = moved(start, objects=["a", "b"], to=[1, 1, 1], point=[0, 0, 0])
    assert after.pivot_world("a") == pytest.approx([1, 1, 1])
    assert after.pivot_world("b") == pytest.approx([1, 1, 8])


def test_to_in_another_objects_axes_counts_from_its_pivot():
    start = scene(
        {"id": "pallet", "translation": [10, 0, 0], "rotation": QUARTER_Y, "pivot": [0, 1, 0]}, {"id": "crate"}
    )
    after = moved(start, objects=["crate"], space={"object": "pallet"}, to=[2, 0, 0])
    assert after.pivot_world("crate") == pytest.approx([10, 1, -2])  # pivot (10, 1, 0), then 2 along its X = world −Z


def test_a_line_gives_x_along_it():
    start = scene({"id": "crate"})
    after = moved(start, objects=["crate"], space={"line": [[0, 0, 0], [3, 0, 4]]}, by=[5, 1, 0])
    assert after.pivot_world("crate") == pytest.approx([3, 1, 4])  # 5 · (0.6, 0, 0.8), and 1 up


def test_an_upright_line_takes_world_x_for_its_up_column():
    start = scene({"id": "crate"})
    after = moved(start, objects=["crate"], space={"line": [[0, 0, 0], [0, 2, 0]]}, by=[1, 10, 100])
    # X along +Y, the up column along world X, the third X × Y = −Z.
    assert after.pivot_world("crate") == pytest.approx([10, 1, -100])


@pytest.mark.parametrize(("handedness", "depth"), [("right", 1), ("left", -1)])
def test_toward_the_viewer_is_right_times_up_by_the_hand(handedness, depth):
    start = scene({"id": "crate"}, handedness=handedness)
    view = {"view": {"right": [2, 0, 0], "up": [1, 1, 0]}}  # up is made square to right
    after = moved(start, objects=["crate"], space=view, by=[1, 2, 3])
    assert after.pivot_world("crate") == pytest.approx([1, 2, 3 * depth])


def test_children_follow_and_are_not_moved_twice():
    start = scene({"id": "crane"}, {"id": "hook", "parent": "crane", "translation": [0, 5, 0], "locked": True})
    after = moved(start, objects=["crane", "hook", "crane"], by=[1, 0, 0])
    assert after.pivot_world("hook") == pytest.approx([1, 5, 0])  # a locked child may follow its parent


def test_local_is_taken_for_each_object_on_its_own():
    start = scene({"id": "a"}, {"id": "b", "rotation": QUARTER_Y})
    after = moved(start, objects=["a", "b"], space="local", by=[1, 0, 0])
    assert after.pivot_world("a") == pytest.approx([1, 0, 0])
    assert after.pivot_world("b") == pytest.approx([0, 0, -1])


@given(scenes(), moves())
def test_a_move_by_and_by_its_negative_returns_the_start(start, move):
    back = move.model_copy(update={"by": tuple(-value for value in move.by)})
    after = replay(start, [move, back])[-1].scene
    for object_id in start.objects:
        assert after.world_from_local(object_id) == pytest.approx(start.world_from_local(object_id), abs=ROUNDING)


@given(scenes(), moves("cd"), moves("cd"))
def test_moves_of_objects_that_are_not_related_can_change_places(start, first, second):
    one, other = (replay(start, order)[-1].scene for order in ([first, second], [second, first]))
    for object_id in start.objects:
        assert one.world_from_local(object_id) == pytest.approx(other.world_from_local(object_id), abs=ROUNDING)


@given(scenes(turned=False), triples, st.sampled_from("abcd"))
def test_local_equals_world_before_any_turn(start, by, chosen):
    # Common practice, no source: before any turn, own axes and world axes are the same.
    in_world, in_local = (moved(start, objects=[chosen], space=s, by=by) for s in ("world", "local"))
    for object_id in start.objects:
        assert (in_world.world_from_local(object_id) == in_local.world_from_local(object_id)).all()


@given(scenes(), moves())
def test_a_move_changes_no_rotation_and_no_scale_to_the_last_bit(start, move):
    after = replay(start, [move])[-1].scene
    for object_id in start.objects:
        before = start[object_id].parent_from_local[:, :3]
        assert (after[object_id].parent_from_local[:, :3] == before).all()


@given(scenes(), triples, st.sampled_from("abcd"), st.sampled_from(["world", "parent"]))
def test_to_done_twice_is_to_done_once(start, to, chosen, space):
    step = Move(op="move", objects=(chosen,), space=space, to=to)
    once, twice = replay(start, [step, step])[1:]
    for object_id in start.objects:
        first = once.scene.world_from_local(object_id)
        assert twice.scene.world_from_local(object_id) == pytest.approx(first, abs=1e-6, rel=1e-9)


@pytest.mark.parametrize(
    ("step", "code", "sentence"),
    [
        ({"objects": ["quay"], "by": [1, 0, 0]}, "locked", "Step 1: The quay is locked"),
        ({"objects": ["ghost"], "by": [1, 0, 0]}, "unknown-object", "There is no object ghost"),
        ({"objects": ["crate"], "by": [1e308, 0, 0]}, "too-large", "crate would become too large"),
        ({"objects": ["crate"], "space": {"object": "ghost"}, "by": [1, 0, 0]}, "unknown-object", "ghost"),
        ({"objects": ["crate"], "space": {"line": [[1, 1, 1], [1, 1, 1]]}, "by": [1, 0, 0]}, "line-zero", "coincide"),
        (
            {"objects": ["crate"], "space": {"view": {"right": [1, 0, 0], "up": [2, 0, 0]}}, "by": [1, 0, 0]},
            "view-parallel",
            "right and up",
        ),
        (
            {"objects": ["crate"], "to": [1, 1, 1], "point": {"object": "group", "at": "centre"}},
            "no-box",
            "The group has no solid in it",
        ),
    ],
)
def test_a_failing_step_is_named_with_its_reason(step, code, sentence):
    start = scene(
        {"id": "quay", "name": "The quay", "locked": True}, {"id": "crate"}, {"id": "group", "name": "The group"}
    )
    with pytest.raises(CoreError) as error:
        moved(start, **step)
    assert (error.value.code, error.value.step) == (code, 1)
    assert sentence in error.value.text


def test_a_move_out_of_all_numbers_is_refused():
    far = Move(op="move", objects=("crate",), by=(7e99, 0, 0))
    with pytest.raises(CoreError, match=r"Step 2: .*too far away"):
        replay(scene({"id": "crate"}), [far, far])


@pytest.mark.parametrize(
    "step",
    [
        {"objects": ["a"]},
        {"objects": ["a"], "by": [1, 2, 3], "to": [1, 2, 3]},
        {"objects": ["a"], "by": [1, 2, 3], "point": [0, 0, 0]},
        {"objects": [], "by": [1, 2, 3]},
        {"objects": ["a"], "by": [1, 2]},
        {"objects": ["a"], "by": [1, 2, float("nan")]},
        {"objects": ["a"], "by": [1, 2, "3"]},
        {"objects": ["a"], "by": [1, 2, True]},
        {"objects": ["a"], "by": [1, 2, 3], "space": "there"},
        {"objects": ["a"], "by": [1, 2, 3], "colour": "red"},
        {"objects": ["a"], "to": [1, 2, 3], "point": {"object": "a", "at": "top"}},
    ],
)
def test_steps_that_say_no_move_are_refused(step):
    with pytest.raises(ValidationError):
        Move.model_validate({"op": "move", **step})


@pytest.mark.parametrize(
    ("step", "sentence"),
    [
        ({"by": [1.5, 0, -2]}, "Move Crate by 1.5 m along X and −2 m along Z of World"),
        ({"by": [0, 0, 0]}, "Move Crate by 0 m along X of World"),
        ({"by": [1, 0, 0], "space": "local"}, "Move Crate by 1 m along X of Local"),
        ({"to": [None, 0.25, None], "space": "parent"}, "Move Crate to Y 0.25 m of Parent"),
        (
            {"to": [1, 0, 0], "point": {"object": "crate", "at": "+x-y"}},
            "Move Crate taken at edge middle +X−Y of Crate to X 1 m, Y 0 m and Z 0 m of World",
        ),
        ({"by": [1, 0, 0], "space": {"object": "crate"}}, "Move Crate by 1 m along X of the axes of Crate"),
        (
            {"by": [1, 0, 0], "space": {"line": [[0, 0, 0], {"object": "crate"}]}},
            "Move Crate by 1 m along X of the line from (0; 0; 0) to pivot of Crate",
        ),
    ],
)
def test_a_step_is_a_sentence(step, sentence):
    start = scene(
        {"id": "crate", "name": "Crate", "translation": [0, 1, 0], "solid": {"kind": "sphere", "diameter": 1}}
    )
    states = replay(start, [Move.model_validate({"op": "move", "objects": ["crate"], **step})])
    assert states[1].sentence == sentence
