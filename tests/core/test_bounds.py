"""What a list of steps may come to, and how much is tried to explain a miss: at its edges, and the same every time."""

import pytest
from pydantic import TypeAdapter

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.effort import MAX_EFFORT, QUICK
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.judge import judge_submission, judge_within
from cubedrill.core.judging.submission import StepsSubmission
from cubedrill.core.steps import StepList
from cubedrill.core.steps.bounds import MOST_ACTED_ON, MOST_MADE, MOST_VERTICES
from cubedrill.core.steps.replay import replay
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise
from tests.tiers import long

EXERCISE = read_exercise(HERE / "exercises" / "crates-morning-boat.json")
START = EXERCISE.start_scene()
CRATE = "crate-herring"


def done(*steps):
    return replay(START, TypeAdapter(StepList).validate_python(steps))[-1].scene


def copies(count, of=CRATE, name="c"):
    return {"op": "duplicate", "objects": [of], "ids": [f"{name}{n}" for n in range(count)], "copies": count}


def refused(*steps):
    with pytest.raises(CoreError) as error:
        done(*steps)
    return error.value.code, error.value.step


def test_a_list_makes_so_many_objects_and_no_more_in_one_step_or_in_several():
    half = MOST_MADE // 2
    full = [copies(half), copies(MOST_MADE - half, name="d")]
    assert len(done(*full).objects) == len(START.objects) + MOST_MADE
    assert refused(*full, copies(1, name="e")) == ("too-many-made", 3)
    add = {"op": "add", "object": {"id": "new", "solid": {"kind": "cuboid", "size": [1, 1, 1]}}}
    assert refused(*full, add) == ("too-many-made", 3)


def test_copies_count_nested_objects_and_removals_are_not_subtracted():
    nest = {"op": "nest", "objects": ["c0"], "parent": CRATE}
    assert refused(copies(1), nest, copies(MOST_MADE // 2, name="d")) == ("too-many-made", 3)
    away = {"op": "remove", "objects": [f"c{n}" for n in range(MOST_MADE)]}
    assert refused(copies(MOST_MADE), away, copies(1)) == ("too-many-made", 3)


def test_an_assembly_that_is_doubled_each_round_ends_soon():
    steps = [{"op": "assemble", "objects": [CRATE], "id": "a"}]
    for n in range(40):
        steps += [copies(1, "a", f"b{n}-"), {"op": "nest", "objects": [f"b{n}-0"], "parent": "a"}]
    assert refused(*steps)[0] == "too-many-made"


def test_the_points_of_meshes_count():
    corners = 1250  # which goes into the bound without a rest: just as many may be
    mesh = {
        "kind": "mesh",
        "vertices": [[n, n % 7, n % 11] for n in range(corners)],
        "triangles": [[n, n + 1, n + 2] for n in range(corners - 2)],
    }
    add = {"op": "add", "object": {"id": "hull", "solid": mesh}}
    fits = MOST_VERTICES // corners - 1
    assert f"c{fits - 1}" in done(add, copies(fits, "hull")).objects
    assert refused(add, copies(fits, "hull"), copies(1, "hull", "d")) == ("too-many-made", 3)


@long
def test_steps_act_on_so_many_objects_in_all():
    free = [i for i, item in START.objects.items() if not item.locked]
    some = copies(96 - len(free))
    all_of_them = {"op": "move", "objects": [*free, *some["ids"]], "by": [0.001, 0, 0]}
    rounds = (MOST_ACTED_ON - 1) // 96
    done(some, *[all_of_them] * rounds)
    assert refused(some, *[all_of_them] * (rounds + 1)) == ("too-much-work", rounds + 2)


def test_causes_that_are_found_with_little_effort_are_those_that_much_finds():
    """And where little does not do, nothing is told but the verdict, which is the same."""
    explainer = Explainer(EXERCISE, START, EXERCISE.target_scene())
    steps = EXERCISE.reference.steps
    for count in range(len(steps)):
        work = StepsSubmission.model_validate(
            {"format": "cube-drill/submission", "version": 1, "exercise": EXERCISE.id, "kind": "steps",
             "steps": [step.model_dump(mode="json", exclude_unset=True) for step in steps[: count + 1]]}
        )  # fmt: skip
        whole = judge_submission(EXERCISE, START, explainer.target, work)
        for effort in (0.0, QUICK, MAX_EFFORT):
            report, explained = judge_within(explainer, work, effort)
            assert explained or effort < MAX_EFFORT
            assert report == (whole if explained else whole.model_copy(update={"causes": ()}))
        missed = any(check.verdict != "pass" for check in whole.checks)
        assert judge_within(explainer, work, 0.0)[1] is not missed
