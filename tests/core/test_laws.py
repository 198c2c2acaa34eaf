"""Laws that hold for all steps: inverses, order, conventions, and that nothing finite ends in NaN."""

import json
from typing import get_args

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform, EulerOrder
from cubedrill.core.scene.stage import Stage
from cubedrill.core.steps.replay import Replayed, readings_of, replay, replay_edited
from tests.core.build import scene, steps_of
from tests.core.strategies import STEP_KINDS, any_step, factors, lengths, scenes, spaces, triples
from tests.tiers import few

# Numbers go up to about 1e5 (a chain of scales of 8 and places of 100); products of a few matrices lose 1e-12 of that.
ROUNDING = 1e-7

CONVENTIONS = st.builds(
    Conventions,
    up=st.sampled_from("yz"),
    handedness=st.sampled_from(["right", "left"]),
    length=st.sampled_from(["mm", "cm", "m", "in", "ft"]),
    angle=st.sampled_from(["deg", "rad", "turn"]),
    euler=st.sampled_from(get_args(EulerOrder)),
)


def same_places(one, other, tolerance=ROUNDING):
    assert list(one.objects) == list(other.objects)
    for object_id in one.objects:
        expected = other.world_from_local(object_id)
        size = max(1.0, float(np.abs(expected).max()))
        assert one.world_from_local(object_id) == pytest.approx(expected, abs=tolerance * size)
        assert one[object_id].parent == other[object_id].parent


@st.composite
def invertible(draw):
    """A step and the step that undoes it."""
    chosen, space, kind = (
        [draw(st.sampled_from("abcd"))],
        draw(spaces),
        draw(st.sampled_from(["move", "rotate", "scale"])),
    )
    if kind == "move":
        by = draw(triples)
        pair = [{"by": list(by)}, {"by": [-value for value in by]}]
    elif kind == "rotate":
        axis, angle = draw(st.sampled_from("xyz")), draw(st.floats(-360, 360))
        pair = [{"axis": axis, "angle": angle}, {"axis": axis, "angle": -angle}]
    else:
        space = "local"  # scaling in another space can change what its axes are
        by = draw(st.tuples(factors, factors, factors))
        pair = [{"by": list(by), "pivot": "origin"}, {"by": [1 / value for value in by], "pivot": "origin"}]
    return steps_of(*({"op": kind, "objects": chosen, "space": space, **amount} for amount in pair))


@given(scenes(), st.lists(invertible(), min_size=1, max_size=3))
def test_steps_and_then_their_inverses_backwards_return_the_start(start, pairs):
    there, back = [pair[0] for pair in pairs], [pair[1] for pair in reversed(pairs)]
    assume(not any(state.skewed for state in replay(start, there)))  # the axes of what is skewed do not come back
    same_places(replay(start, [*there, *back])[-1].scene, start, 1e-6)


@given(scenes(), triples, st.floats(-180, 180), st.sampled_from("xyz"))
def test_steps_on_objects_that_are_not_related_can_change_places(start, by, angle, axis):
    move, turn = steps_of(
        {"op": "move", "objects": ["d"], "by": list(by)},
        {"op": "rotate", "objects": ["c"], "axis": axis, "angle": angle, "space": "local"},
    )
    same_places(replay(start, [move, turn])[-1].scene, replay(start, [turn, move])[-1].scene)


@given(st.floats(10, 170), st.floats(10, 170))
def test_the_order_of_turns_about_two_axes_matters(first, second):
    turns = steps_of(
        {"op": "rotate", "objects": ["a"], "axis": "x", "angle": first},
        {"op": "rotate", "objects": ["a"], "axis": "y", "angle": second},
    )
    one, other = (replay(scene({"id": "a"}), order)[-1].scene for order in (turns, turns[::-1]))
    assert np.abs(one.world_from_local("a") - other.world_from_local("a")).max() > 1e-3


@given(scenes(turned=False), st.sampled_from("abcd"), lengths, st.sampled_from("xyz"), factors)
def test_local_equals_world_before_any_turn(start, chosen, value, axis, factor):
    # Common practice, no source.
    for step in (
        {"op": "rotate", "axis": axis, "angle": value},
        {"op": "scale", "by": [factor, 1, 2]},
        {"op": "move", "by": [value, 0, 1]},
    ):
        ends = [
            replay(start, steps_of({**step, "objects": [chosen], "space": space}))[-1].scene
            for space in ("world", "local")
        ]
        same_places(*ends, 1e-12)


@pytest.mark.parametrize("kind", sorted(STEP_KINDS))
@few
@given(data=st.data())
def test_a_step_of_any_kind_leaves_finite_numbers_or_says_why_not(kind, data):
    start = data.draw(scenes())
    steps = steps_of(data.draw(any_step), data.draw(STEP_KINDS[kind]))
    replayed: Replayed = replay_edited(start, steps)
    for reading in readings_of(replayed.states)[-1].values():
        numbers = (reading.world_from_local, reading.euler_rad, reading.scale, reading.pivot_world, reading.rotation)
        assert all(np.isfinite(part).all() for part in numbers)
    if replayed.refused is not None:
        assert replayed.refused.text.startswith(f"Step {replayed.refused.step}: ")
        assert replayed.refused.text.endswith(".")
    for state in replayed.states[1:]:
        assert state.sentence
        # What a file holds is what comes back from it.
        written = state.step.model_dump_json(exclude_unset=True)
        assert steps_of(json.loads(written))[0] == state.step


huge = st.sampled_from([1e-300, 1e-12, 1e-9, 1.0, 1e9, 1e99, 1e150, 1.7e308]).flatmap(
    lambda size: st.sampled_from([size, -size])
)


@given(st.lists(st.tuples(huge, huge, huge), min_size=4, max_size=4))
def test_no_finite_input_however_large_or_small_yields_nan(numbers):
    try:
        start = scene(
            {"id": "a", "scale": numbers[0], "solid": {"kind": "sphere", "diameter": 1.7e308}},
            {"id": "b", "parent": "a", "pivot": numbers[1]},
        )
    except CoreError as error:
        assert error.code in ("too-large", "not-invertible")
        return
    steps = steps_of(
        {"op": "move", "objects": ["b"], "by": list(numbers[2])},
        {"op": "rotate", "objects": ["a"], "axis": list(numbers[3]), "angle": numbers[0][0], "pivot": list(numbers[1])},
        {"op": "scale", "objects": ["a"], "by": list(numbers[3]), "pivot": "origin"},
        {"op": "aim", "objects": ["b"], "axis": "+z", "at": list(numbers[3])},
    )  # fmt: skip
    replayed = replay_edited(start, steps)
    try:
        for state in readings_of(replayed.states):
            for reading in state.values():
                assert np.isfinite(reading.world_from_local).all() and np.isfinite(reading.euler_rad).all()
    except CoreError as error:
        assert error.code == "too-large"


@pytest.mark.parametrize("kind", sorted(STEP_KINDS))
@few
@given(data=st.data())
def test_a_scene_and_its_steps_in_other_conventions_come_to_the_same_place(kind, data):
    source, target = data.draw(CONVENTIONS), data.draw(CONVENTIONS)
    change = ConventionTransform(source, target)
    start = Stage.model_validate({"objects": OBJECTS, "marker": (1, 2, 3)})
    steps = steps_of(data.draw(STEP_KINDS[kind]), data.draw(any_step))
    here = replay_edited(start.to_scene(source), steps)
    there = replay_edited(start.converted(change).to_scene(target), [step.converted(change) for step in steps])
    assert (here.refused and here.refused.code) == (there.refused and there.refused.code)
    for one, other in zip(here.states, there.states, strict=True):
        assert list(one.scene.objects) == list(other.scene.objects)
        for object_id in one.scene.objects:
            expected = change.matrix(one.scene.world_from_local(object_id))
            size = max(1.0, float(np.abs(expected).max()))
            assert other.scene.world_from_local(object_id) == pytest.approx(expected, abs=1e-8 * size)
            pivot = change.point(one.scene.pivot_world(object_id))
            assert other.scene.pivot_world(object_id) == pytest.approx(pivot, abs=1e-8 * max(1.0, np.abs(pivot).max()))


@pytest.mark.parametrize("kind", sorted(STEP_KINDS))
@few
@given(data=st.data())
def test_a_change_of_conventions_and_back_is_the_identity(kind, data):
    source, target = data.draw(CONVENTIONS), data.draw(CONVENTIONS)
    there, back = ConventionTransform(source, target), ConventionTransform(target, source)
    (step,) = steps_of(data.draw(STEP_KINDS[kind]))
    start = Stage.model_validate({"objects": OBJECTS})
    again = start.converted(there).converted(back)
    same_places(again.to_scene(source), start.to_scene(source), 1e-12)
    once, twice = (replay_edited(start.to_scene(source), [s]) for s in (step, step.converted(there).converted(back)))
    assert (once.refused and once.refused.code) == (twice.refused and twice.refused.code)
    same_places(twice.states[-1].scene, once.states[-1].scene, 1e-8)


OBJECTS = (
    {"id": "a", "translation": [3, -1, 2], "rotation": [0.5, 0.5, -0.5, 0.5], "scale": [1, 2, 1.5], "pivot": [1, 0, 0.5], "solid": {"kind": "wedge", "size": [1, 2, 3]}},
    {"id": "b", "parent": "a", "translation": [0, 4, 1], "rotation": [0.6, 0, 0, 0.8], "pivot": [0, 0, 1], "solid": {"kind": "plate", "size": [2, 5]}},
    {"id": "c", "parent": "b", "translation": [2, 0, 0], "scale": [-1, 1, 2], "solid": {"kind": "mesh", "vertices": [[0, 0, 0], [2, 0, 1], [0, 3, 0], [1, 1, 4]], "triangles": [[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]]}},
    {"id": "d", "translation": [-9, 6, 5], "rotation": [0, 0.28, 0, 0.96], "solid": {"kind": "cone", "diameter": 2, "height": 3}},
)  # fmt: skip
