"""A plan in other conventions: the picture or the numbers stay, and the checks judge as before."""

import itertools

import numpy as np
import pytest
from pydantic import TypeAdapter

from cubedrill.core.authoring.new_conventions import converted_check, in_conventions
from cubedrill.core.authoring.plan import plan_of
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.steps.replay import replay_edited
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise
from tests.tiers import some

FILES = sorted((HERE / "exercises").glob("*.json"))
CHECK: TypeAdapter[Check] = TypeAdapter(Check)
VIEW = {"view": {"right": [1, 0, 0], "up": [0, 1, 0]}}
ALL = [
    Conventions(up=up, handedness=hand, length=length, angle=angle)
    for up, hand, length, angle in itertools.product(
        "yz", ("right", "left"), ("mm", "cm", "m", "in", "ft"), ("deg", "rad", "turn")
    )
]


def told_of(exercise):
    """The verdicts on the reference as far as each step, and with each step left out, as far as that can be done."""
    start, target = exercise.start_scene(), exercise.target_scene()
    steps = exercise.reference.steps if exercise.reference else ()
    lists = [steps[:k] for k in range(len(steps))] + [(*steps[:k], *steps[k + 1 :]) for k in range(len(steps))]
    ends = [replay_edited(start, each).states[-1].scene for each in lists] or [start]
    return [[result.verdict for result in judge_loaded(exercise, target, LoadedSubmission(end)).checks] for end in ends]


@pytest.mark.parametrize(("number", "file"), some(enumerate(FILES), 5))
def test_converting_preserves_poses_and_verdicts(number, file):
    """By the change of basis itself, over scenes and over each step's outcome; every convention is met by some exercise."""
    before = read_exercise(file)
    plan = plan_of(before)
    for conventions in ALL[number % 3 :: 3]:
        wanted = conventions.model_copy(update={"euler": before.conventions.euler})
        change = ConventionTransform(before.conventions, wanted)
        after = in_conventions(plan, wanted, "picture").exercise()
        for old, new in ((before.start_scene(), after.start_scene()), (before.target_scene(), after.target_scene())):
            assert list(old.objects) == list(new.objects)
            for object_id in old.objects:
                mapped = change.matrix(old.world_from_local(object_id))
                np.testing.assert_allclose(new.world_from_local(object_id), mapped, rtol=1e-9, atol=1e-9 * change.ratio)
        target = after.target_scene()
        verdicts = [
            r.verdict for r in judge_loaded(after, target, LoadedSubmission(target)).checks if r.verdict != "not judged"
        ]
        assert set(verdicts) <= {"pass"}
    other_hand = "left" if before.conventions.handedness == "right" else "right"
    other_up = "z" if before.conventions.up == "y" else "y"
    for part in ({"length": "cm"}, {"angle": "rad"}, {"up": other_up}, {"handedness": other_hand}):
        wanted = before.conventions.model_copy(update=part)
        assert told_of(in_conventions(plan, wanted, "picture").exercise()) == told_of(before), part


@pytest.mark.parametrize("file", FILES[::4], ids=lambda file: file.stem)
def test_keeping_numbers_leaves_every_number_unchanged(file):
    plan = plan_of(read_exercise(file))
    wanted = plan.conventions.model_copy(update={"length": "ft", "up": "z"})
    after = in_conventions(plan, wanted, "numbers")
    assert after.conventions == wanted
    assert after.model_dump(exclude={"conventions"}) == plan.model_dump(exclude={"conventions"})


def test_tolerances_an_axis_go_with_their_axes():
    plan = plan_of(read_exercise(HERE / "exercises" / "barrels-along-the-quay.json"))
    check = plan.checks[0].model_copy(update={"axes": "yz", "tolerance": (0.1, 0.2)})
    wanted = plan.conventions.model_copy(update={"up": "z", "length": "cm"})
    after = in_conventions(plan.model_copy(update={"checks": (check,)}), wanted, "picture")
    assert after.checks[0].axes == "yz"
    assert after.checks[0].tolerance == pytest.approx((20, 10))  # what was up is called z now, and comes last


@pytest.mark.parametrize(
    ("given", "wanted"),
    [
        # Up is Y before and Z after, both right-handed: y becomes z, and z becomes −y.
        ({"kind": "relation", "relation": "flush", "axes": "z", "side": "min"}, {"axes": "y", "side": "max"}),
        ({"kind": "relation", "relation": "flush", "axes": "y", "side": "min"}, {"axes": "z", "side": "min"}),
        ({"kind": "relation", "relation": "faces", "axis": "+z"}, {"axis": "-y"}),
        ({"kind": "process", "rule": "uses", "op": "move", "axis": "yz"}, {"axis": "yz"}),
        ({"kind": "process", "rule": "uses", "op": "move", "axis": "z"}, {"axis": "y"}),
        ({"kind": "process", "rule": "uses", "op": "move", "axis": "y", "space": "local"}, {"axis": "z"}),
        # In a view X is right, Y up and Z toward the viewer whatever the conventions.
        ({"kind": "process", "rule": "uses", "op": "move", "axis": "y", "space": VIEW}, {"axis": "y"}),
    ],
)  # fmt: skip
def test_axes_and_sides_of_a_check_go_where_the_picture_goes(given, wanted):
    if given["kind"] == "relation":
        given = {"object": "a", "other": "b", "tolerance": 1, **given}
    check = CHECK.validate_python({"id": "c", **given})
    converted = converted_check(check, ConventionTransform(Conventions(up="y"), Conventions(up="z")))
    assert {name: getattr(converted, name) for name in wanted} == wanted


def test_converting_there_and_back_changes_nothing():
    plan = plan_of(read_exercise(HERE / "exercises" / "hatch-cover.json"))
    there = plan
    for conventions in (*ALL[::7], plan.conventions):
        there = in_conventions(there, conventions, "picture")
    again, before = there.exercise().target_scene(), plan.exercise().target_scene()
    for object_id in before.objects:
        np.testing.assert_allclose(
            again.world_from_local(object_id), before.world_from_local(object_id), rtol=1e-9, atol=1e-9
        )
