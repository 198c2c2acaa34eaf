"""Checks proposed from a reference: one rule a change, and tolerances that tell typical mistakes apart."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from cubedrill.core.authoring.propose import propose, round_below
from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise, ReferenceSteps
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.separate import separate
from cubedrill.core.judging.submission import StepsSubmission
from tests.core.build import steps_of
from tests.core.strategies import any_step, scenes
from tests.core.test_plan import plan_of_scene
from tests.tiers import few

BOX = {"kind": "cuboid", "size": [4, 1, 2]}
WEDGE = {"kind": "wedge", "size": [4, 1, 2]}


def exercise(steps, objects=None):
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "reference": {"steps": steps},
            "start": {"objects": objects or [{"id": "a", "name": "Beam", "solid": BOX, "translation": [0, 3, 0]}]},
        }
    )  # fmt: skip


def told(made):
    """What is proposed for certain, without its tolerance, by id."""
    return {
        p.check.id: p.check.model_dump(exclude={"tolerance", "id", "points", "zero_at"}, exclude_unset=True)
        for p in propose(made)
        if not p.offered
    }


def on(**said):
    return {"objects": ["a"], **said}


@pytest.mark.parametrize(
    ("step", "checks"),
    [
        (on(op="move", by=[3, 0, 0]), {"a position": {"kind": "position", "object": "a", "point": "pivot"}}),
        (
            on(op="rotate", axis="y", angle=40),
            {
                # The pivot stays; of the faces those at the ends, 2 from it, swing farthest.
                "a position": {"kind": "position", "object": "a", "point": "+x"},
                "a rotation": {"kind": "rotation", "object": "a", "symmetry": "look"},
            },
        ),
        (
            on(op="scale", by=[2, 1, 1], space="local"),
            {
                "a position": {"kind": "position", "object": "a", "point": "+x"},
                "a size": {"kind": "size", "object": "a"},
            },
        ),
        (on(op="rename", name="Spar"), {"a name": {"kind": "name", "object": "a"}}),
        (on(op="paint", opacity=0.5), {"a look": {"kind": "look", "object": "a"}}),
        (on(op="pivot", at={"object": "a", "at": "-x"}), {"a pivot": {"kind": "pivot", "object": "a"}}),
        ({"op": "remove", "objects": ["a"]}, {"number of cuboid": {"kind": "count", "solid": "cuboid"}}),
        (
            {"op": "add", "object": {"id": "b", "solid": WEDGE, "translation": [5, 0, 0]}},
            {
                "b position": {"kind": "position", "object": "b", "point": "centre"},
                "b size": {"kind": "size", "object": "b"},
                "number of wedge": {"kind": "count", "solid": "wedge"},
            },
        ),
    ],
    ids=lambda value: value.get("op") if isinstance(value, dict) and "op" in value else "",
)
def test_one_rule_a_change(step, checks):
    # Another object, so that one is left.
    objects = [
        {"id": "a", "name": "Beam", "solid": BOX, "translation": [0, 3, 0]},
        {"id": "post", "translation": [9, 0, 9]},
    ]
    assert told(exercise([step], objects)) == checks


def test_a_solid_that_no_turn_leaves_as_it_is_is_checked_strictly():
    made = exercise([on(op="rotate", axis="y", angle=40)], [{"id": "a", "solid": WEDGE}])
    assert told(made)["a rotation"]["symmetry"] == "strict"


def test_objects_that_only_follow_their_parent_are_not_checked_again():
    objects = [{"id": "a", "solid": BOX}, {"id": "in a", "solid": BOX, "parent": "a", "translation": [0, 1, 0]}]
    assert set(told(exercise([on(op="move", by=[3, 0, 0])], objects))) == {"a position"}
    nested = exercise([{"op": "nest", "objects": ["in a"], "parent": None}], objects)
    assert told(nested)["in a parent"] == {"kind": "parent", "object": "in a"}


def test_a_tolerance_is_at_most_half_the_way_to_the_nearest_mistake():
    # Nearest are half its height too high and too low, 0.5 off; a step left out or a sign is 3 off and more.
    (proposal,) = (p for p in propose(exercise([on(op="move", by=[3, 0, 0])])) if p.check.kind == "position")
    assert (proposal.check.tolerance, proposal.fine) == (0.2, False)
    (narrow,) = (p for p in propose(exercise([on(op="move", by=[0.004, 0, 0])])) if p.check.kind == "position")
    assert (narrow.check.tolerance, narrow.fine) == (
        0.001,
        True,
    )  # feet for metres: 0.0028 off; a drag ends within 0.008


def test_copies_are_held_as_exactly_as_each_other_and_no_place_wider_than_half_of_what_stands_there():
    """The last of a row is far from where any mistake takes it, and would be let go 20 m astray."""

    def places(*steps):
        return {p.check.object: p.check.tolerance for p in propose(exercise(steps)) if p.check.kind == "position"}

    apart = {"between": {"op": "move", "by": [20, 0, 0]}}
    assert places(on(op="duplicate", ids=["b", "c", "d"], copies=3, **apart)) == {"b": 0.2, "c": 0.2, "d": 0.2}
    long = [{"id": "a", "solid": {**BOX, "size": [8, 1, 2]}}]
    alone = propose(exercise([on(op="duplicate", ids=["b"], copies=1, **apart)], long))
    assert next(p.check.tolerance for p in alone if p.check.kind == "position") == 2.0  # half of 8 at most, rounded
    fan = on(op="duplicate", ids=["b", "c"], copies=2, between={"op": "rotate", "axis": "z", "angle": 2})
    assert places(on(op="move", by=[8, 0, 0]), fan) == {"a": 0.2, "b": 0.2, "c": 0.2}


def test_only_plausible_completions_are_offered():
    objects = [
        {"id": "a", "name": "Beam", "solid": BOX, "translation": [0, 3, 0], "rotation": [0, 0.6, 0, 0.8]},
        {"id": "b", "name": "Block", "solid": BOX, "translation": [10, 0.5, 0]},
    ]
    steps = [
        on(op="move", by=[1, 0, 0], space="local"),
        on(op="align", to="b", x="min"),
        on(op="drop", onto="ground"),
        on(op="rotate", axis="z", angle=30, pivot={"object": "b", "at": "+y"}),
        on(op="rotate", axis="z", angle=-30, pivot={"object": "b", "at": "+y"}),
    ]
    offered = {p.check.id: p for p in propose(exercise(steps, objects)) if p.offered}
    assert {"a rests on ground", "a flush x", "step 1 space"} <= set(offered)
    assert offered["step 1 space"].check.model_dump(exclude_unset=True) == {
        "id": "step 1 space", "kind": "process", "rule": "uses", "op": "move", "object": "a", "space": "local",
    }  # fmt: skip
    assert offered["step 4 pivot"].check.pivot.at == "+y"
    assert "b rests on ground" not in offered  # it stood there before


def test_of_a_row_of_copies_each_is_checked_and_their_number():
    duplicate = {
        "op": "duplicate", "objects": ["a"], "ids": ["b", "c"], "copies": 2, "between": {"op": "move", "by": [5, 0, 0]},
    }  # fmt: skip
    assert set(told(exercise([duplicate]))) == {"b position", "b size", "c position", "c size", "number of cuboid"}


@pytest.mark.parametrize(
    ("value", "below"),
    [(1, 1), (0.99, 0.5), (0.5, 0.5), (0.49, 0.2), (0.0021, 0.002), (1.999, 1), (2, 2), (5, 5), (49, 20), (1e-9, 1e-9)],
)
def test_the_round_number_below(value, below):
    assert round_below(value) == pytest.approx(below, rel=1e-12)


@few
@given(scenes(), st.data())
def test_the_reference_passes_all_that_is_proposed_or_offered(start, data):
    written = [data.draw(any_step) for _ in range(2)]
    try:
        steps = ReferenceSteps(steps=steps_of(*written))
        made = plan_of_scene(start).exercise().model_copy(update={"reference": steps})
        proposals = propose(made)
    except CoreError:
        assume(False)
    checks = [p.check for p in proposals]
    sound = made.model_copy(update={"checks": tuple(checks)})
    handed = StepsSubmission(
        format="cube-drill/submission", version=1, exercise="p", kind="steps", steps=made.reference.steps
    )
    report = judge_submission(sound, sound.start_scene(), sound.target_scene(), handed)
    assert [result.text for result in report.checks if result.verdict in ("near", "fail")] == []


def test_most_typical_mistakes_fail_what_is_proposed():
    made = exercise(
        [
            on(op="move", by=[3, 0.5, -2]),
            on(op="rotate", axis="y", angle=40),
            on(op="scale", by=[1.5, 1, 1], space="local"),
        ]
    )
    sure = made.model_copy(update={"checks": tuple(p.check for p in propose(made) if not p.offered)})
    trials = separate(sure, sure.start_scene(), sure.target_scene()).trials
    assert sum(bool(trial.caught_by) for trial in trials) >= 0.95 * len(trials)
