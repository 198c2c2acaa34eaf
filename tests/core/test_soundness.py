"""What is unsound about an exercise: each kind by an exercise that has it and one that has it not."""

import pytest

from cubedrill.core.authoring.soundness import findings
from cubedrill.core.judging.exercise import Exercise
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise
from tests.tiers import some

BOX = {"kind": "cuboid", "size": [2, 2, 2]}
MOVE = {"op": "move", "objects": ["a"], "by": [3, 0, 0]}
CHECK = {"id": "c", "kind": "position", "object": "a", "tolerance": 0.1}


def exercise(*objects, steps=(MOVE,), checks=(CHECK,), brief="Move a by 3.", **more):
    """A sound one, unless it is told otherwise."""
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E", "brief": brief,
            "start": {"objects": [{"id": "a", "solid": BOX, "translation": [0, 1, 0]}, *objects]},
            "reference": {"steps": list(steps)}, "checks": list(checks), **more,
        }
    )  # fmt: skip


def codes(made):
    return [(found.code, found.stops) for found in findings(made)]


def test_a_sound_one_has_nothing():
    assert findings(exercise()) == ()


def test_a_plan_without_checks_cannot_be_published():
    assert ("no-check", True) in codes(exercise(checks=[]))


@pytest.mark.parametrize(
    "check",
    [
        {"id": "up", "kind": "relation", "relation": "rests_on", "object": "a", "other": "b", "tolerance": 0.01},
        {"id": "way", "kind": "process", "rule": "uses", "op": "rotate"},
        {"id": "few", "kind": "process", "rule": "at_most", "steps": 0},
    ],
)
def test_a_check_or_a_rule_that_the_reference_misses_stops_it(check):
    beside = {"id": "b", "solid": BOX, "translation": [9, 1, 0], "locked": True}
    made = exercise(beside, checks=[CHECK, check])
    (found,) = (each for each in findings(made) if each.stops)
    assert (found.code, found.check, found.place) == ("reference-misses", check["id"], "checks")
    assert ("rule" in found.text) == (check["kind"] == "process")


def test_a_check_that_the_reference_only_comes_near_stops_it():
    resting = {
        "id": "up", "kind": "relation", "relation": "rests_on", "object": "a", "other": "ground", "tolerance": 0.1,
        "zero_at": 3,
    }  # fmt: skip
    made = exercise(steps=[MOVE, {**MOVE, "by": [0, 0.15, 0]}], checks=[CHECK, resting])
    assert ("reference-misses", True) in codes(made)


def test_a_start_that_passes_stops_it():
    assert ("start-passes", True) in codes(exercise(checks=[{**CHECK, "tolerance": 5}]))
    assert ("start-passes", True) not in codes(exercise())


def test_objects_outside_the_plot_or_inside_another_are_reported_with_their_place():
    for most, places in ((4, []), (3.9, ["target"]), (0.9, ["stage", "target"])):  # 2 to 4 along X in the target
        plot = {"min": [-2, 0, -2], "max": [most, 3, 2]}
        made = exercise(start={"objects": [{"id": "a", "solid": BOX, "translation": [0, 1, 0]}], "plot": plot})
        out = [found for found in findings(made) if found.code == "outside-plot"]
        assert [(each.object, each.place, each.stops) for each in out] == [("a", place, False) for place in places]
    for depth, told in ((0.5, True), (1e-3, True), (1e-7, False), (0.0, False)):
        beside = {"id": "b", "name": "Post", "solid": BOX, "translation": [-2 + depth, 1, 0], "locked": True}
        found = [each for each in findings(exercise(beside)) if each.code == "in-another"]
        assert [(each.place, each.object) for each in found] == ([("stage", "a")] if told else [])
        assert all("Post" in each.text for each in found)


def test_a_mistake_that_passes_is_told_with_the_tolerance_that_catches_it():
    made = exercise(steps=[MOVE, {**MOVE, "by": [0, 0, 0.05]}])
    passing = [found for found in findings(made) if found.code == "mistake-passes"]
    assert passing
    assert any("A tolerance of 0.049 catches it" in found.text and found.check == "c" for found in passing)


def test_an_idle_check_and_one_finer_than_dragging_are_told():
    idle = {"id": "size", "kind": "size", "object": "a", "tolerance": 0.1}
    made = exercise(checks=[{**CHECK, "tolerance": 1e-4}, idle])
    told = {found.code: found for found in findings(made)}
    assert (told["idle-check"].check, told["finer-than-dragging"].check) == ("size", "c")
    typed = {"id": "t", "kind": "process", "rule": "typed"}
    entry = {**MOVE, "entry": "typed"}
    asked = exercise(steps=[entry], checks=[{**CHECK, "tolerance": 1e-4}, typed])
    assert "finer-than-dragging" not in {found.code for found in findings(asked)}


@pytest.mark.parametrize(
    ("brief", "slips"),
    [
        ("Move a by 3.", ""), ("By 7.", "7"), ("By −3 along X, in 2 steps.", ""), ("To X 3, and 7.5 more.", "7.5"),
        ("By 3,0 or 4,25.", "4,25"), ("By 3 and 8 and 8.", "8"), ("The a1 of version 2.4.6", ""),
    ],
)  # fmt: skip
def test_a_number_of_the_brief_that_stands_nowhere_is_a_likely_slip(brief, slips):
    found = [each.text for each in findings(exercise(brief=brief)) if each.code == "number-in-brief"]
    assert found == ([f"The brief says {slips}, which is neither in the reference nor in a check."] if slips else [])


def test_no_brief_is_told():
    assert ("no-brief", False) in codes(exercise(brief="  "))


def test_a_reference_that_cannot_be_carried_out_blocks_publishing():
    (found,) = findings(exercise(steps=[{**MOVE, "objects": ["gone"]}]))
    assert (found.code, found.stops, found.place) == ("unknown-object", True, "target")
    (found,) = findings(exercise(checks=[{**CHECK, "object": "gone"}]))
    assert (found.code, found.place) == ("check-object", "checks")


@pytest.mark.parametrize("file", some(sorted((HERE / "exercises").glob("*.json")), 5), ids=lambda file: file.stem)
def test_nothing_stops_an_exercise_of_the_demo(file):
    assert [found.text for found in findings(read_exercise(file)) if found.stops] == []
