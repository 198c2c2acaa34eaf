"""Steps laid upon each other, in scenes laid upon each other: each outcome is the one that it has alone."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cubedrill.core.errors import CoreError, OneByOneError
from cubedrill.core.steps import apply_step
from cubedrill.core.steps.laid import NUMBERS, kind_of, laid
from cubedrill.core.transform import are_affine, parent_from_parts, require_affine, rotation_from_quaternion
from cubedrill.core.values import frozen
from tests.core.build import CRATE, scene, steps_of
from tests.core.strategies import STEP_KINDS, factors, quaternions, scenes, triples

KINDS = ["move by", "move to", "rotate by", "rotate to", "scale by", "scale to", "keep volume"]


@st.composite
def places(draw):
    """A map (4, 4) of an object to its parent."""
    scale = np.array(draw(st.tuples(factors, factors, factors)))
    return parent_from_parts(np.array(draw(triples)), rotation_from_quaternion(draw(quaternions()), "test"), scale)


@st.composite
def alike(draw, count):
    """Steps that differ in their numbers alone."""
    kind = draw(st.sampled_from(KINDS))
    first, *others = steps_of(*(draw(STEP_KINDS[kind]) for _ in range(count)))
    numbers = [{n: getattr(other, n) for n in NUMBERS if n in vars(other)} for other in others]
    return [first, *(first.model_copy(update=update) for update in numbers)]


def alone(start, step):
    """What a step leads to; the error where it is refused."""
    try:
        return apply_step(start, step)
    except CoreError as error:
        return error


def placed(start, maps):
    return start.with_objects([start[i].at(frozen(np.array(m))) for i, m in maps.items()])


@settings(max_examples=300)
@given(scenes(), st.data())
def test_each_outcome_is_the_one_it_has_alone(start, data):
    steps = data.draw(st.one_of(alike(3), alike(1).map(lambda one: one * 3)))
    elsewhere = data.draw(st.lists(st.sampled_from("abcd"), max_size=2, unique=True))
    maps = {i: [data.draw(places()) for _ in steps] for i in elsewhere}
    singly = [alone(placed(start, {i: maps[i][n] for i in maps}), step) for n, step in enumerate(steps)]
    try:
        together = apply_step(placed(start, maps), laid(steps))
    except (CoreError, OneByOneError):
        # Only where one is refused, or something is asked for that is worked out for one scene at a time.
        plain = isinstance(steps[0].space or "world", str) and getattr(steps[0], "pivot", "own") == "own"
        assert not plain or any(isinstance(one, CoreError) for one in singly)
        return
    for n, one in enumerate(singly):
        assert not isinstance(one, CoreError), one
        for object_id, item in one.objects.items():
            found = together[object_id].parent_from_local
            found = found[n] if found.ndim == 3 else found
            wanted = item.parent_from_local.ravel().tolist()
            assert found.ravel().tolist() == pytest.approx(wanted, rel=1e-9, abs=1e-9)


def test_what_is_refused_for_one_is_refused_for_all():
    start = scene({"id": "a", "translation": [0, 0, 0], "solid": CRATE})
    doubled, flattened = steps_of(
        {"op": "scale", "objects": ["a"], "by": [2, 1, 1]}, {"op": "scale", "objects": ["a"], "by": [0, 1, 1]}
    )
    with pytest.raises(CoreError):
        apply_step(start, laid([doubled, flattened.model_copy(update={"entry": doubled.entry})]))
    far = placed(start, {"a": [np.eye(4), np.diag([1e100, 1e100, 1e100, 1])]})
    with pytest.raises(OneByOneError):
        apply_step(far, steps_of({"op": "scale", "objects": ["a"], "by": [10, 10, 10]})[0])


def test_only_steps_that_differ_in_numbers_are_of_a_kind():
    move, further, other_space, turn, painted = steps_of(
        {"op": "move", "objects": ["a"], "by": [1, 0, 0]},
        {"op": "move", "objects": ["b"], "by": [2, 0, 0]},
        {"op": "move", "objects": ["a"], "by": [1, 0, 0], "space": "local"},
        {"op": "rotate", "objects": ["a"], "axis": "x", "angle": 30},
        {"op": "paint", "objects": ["a"], "opacity": 0.5},
    )
    assert kind_of(move) == kind_of(move.model_copy(update={"by": (3.0, 0.0, 0.0)})) == kind_of(further)
    assert len({kind_of(step) for step in (move, other_space, turn)}) == 3
    assert kind_of(move.model_copy(update={"by": None, "to": (1.0, None, None)})) != kind_of(move)
    assert kind_of(painted) is None


@given(st.lists(places(), min_size=1, max_size=4), st.sampled_from([1.0, 1e-11, 1e-100, 1e101]), st.integers(0, 2))
def test_many_maps_are_let_pass_as_each_is(maps, factor, axis):
    maps[0][:, axis] *= factor

    def passes(one):
        try:
            require_affine(one.copy(), "x")
        except CoreError:
            return False
        return True

    assert are_affine(np.array(maps)).tolist() == [passes(one) for one in maps]
