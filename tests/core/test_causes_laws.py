"""Laws of causes, for random scenes and steps of every kind."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.candidate_judge import CandidateJudge
from cubedrill.core.judging.causes.common import same_numbers
from cubedrill.core.judging.causes.explainer import Explainer
from cubedrill.core.judging.causes.reference import Reference
from cubedrill.core.judging.causes.table import MISTAKES, outcomes
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.submission import LoadedSubmission
from cubedrill.core.steps.replay import replay
from tests.core.build import STEPS
from tests.core.strategies import any_step, scenes
from tests.tiers import few


def assert_led(start, steps, plan, landed):
    """A plan of mistakes leads where a plain replay of the mutation steps leads, or is refused as that is."""
    written = list(steps)
    for mutation in reversed(plan):
        written[mutation.first : mutation.end] = mutation.steps
    try:
        plain = replay(start, written)[-1].scene
    except CoreError:
        assert landed is None
        return
    assert landed is not None
    assert plain.objects.keys() == landed[0].objects.keys()
    for object_id, item in plain.objects.items():
        other = landed[0].objects[object_id]
        assert (item.parent, item.name, item.colour) == (other.parent, other.name, other.colour)
        numbers = item.parent_from_local.ravel().tolist()
        assert other.parent_from_local.ravel().tolist() == pytest.approx(numbers, rel=1e-9, abs=1e-9)


@few
@given(scenes(), st.lists(any_step, min_size=1, max_size=4), st.data())
def test_mistakes_lead_where_a_plain_replay_leads_or_are_refused(start, written, data):
    """Sharing what was replayed changes nothing, for one mistake and for two; and no mistake breaks the search."""
    try:
        steps = STEPS.validate_python(written)
        reference = Reference(steps, replay(start, steps))
    except CoreError:
        assume(False)
    single = [mutation for k in range(len(steps)) for m in MISTAKES for mutation in m.alter(reference.context(k))]
    pairs = [(one, two) for one in single for two in single if two.first >= one.end]
    some = data.draw(st.lists(st.sampled_from(pairs), max_size=60)) if pairs else []
    plans = [*((mutation,) for mutation in single), *some]
    for plan, landed in zip(plans, reference.led(plans), strict=True):
        assert_led(start, steps, plan, landed)


def explainer_of(start, written):
    """An exercise that checks place, turn and size of everything, with these steps as its reference."""
    checks = [
        {"id": f"{i} {kind}", "kind": kind, "object": i, "tolerance": tolerance}
        for i in start.objects
        for kind, tolerance in (("position", 0.01), ("rotation", 1), ("size", 0.01))
    ]
    made = Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E",
            "start": {"objects": [{"id": i} for i in start.objects]}, "reference": {"steps": written}, "checks": checks,
        }
    )  # fmt: skip
    return Explainer(made, start, replay(start, made.reference.steps)[-1].scene)


def moved(one, other, object_id):
    """Whether an object lies elsewhere in another scene, or is in one of them alone."""
    if object_id not in one.objects or object_id not in other.objects:
        return (object_id in one.objects) != (object_id in other.objects)
    return not same_numbers(one.world_from_local(object_id), other.world_from_local(object_id))


@few
@given(scenes(), st.lists(any_step, min_size=1, max_size=3), st.data())
def test_a_cause_is_never_claimed_for_what_is_right_and_always_for_a_mistake(start, written, data):
    try:
        explainer = explainer_of(start, written)
    except CoreError:
        assume(False)
    assert explainer.explain(LoadedSubmission(explainer.target)) == ()
    assume(explainer.table)
    outcome = data.draw(st.sampled_from(explainer.table))
    for object_id in start.objects:  # what is looked at for one object alone leaves nothing out that moves it
        near = explainer.reference.influences([object_id])
        seen = {one.spot for one, _mutation in outcomes(explainer.reference, near)}
        left_out = [
            one.mistake.code
            for one in explainer.table
            if moved(one.scene, explainer.target, object_id) and one.spot not in seen
        ]
        assert left_out == [], (object_id, near, written)
    found = explainer.explain(LoadedSubmission(outcome.scene))
    missed = {i for i in start.objects if CandidateJudge(explainer, LoadedSubmission(outcome.scene)).misses(i)}
    assert {i for cause in found for i in cause.objects} <= missed
    if missed:  # the mistake that was made explains all of them, so nothing is left without a cause
        assert {i for cause in found for i in cause.objects} == missed
