"""Plans: an exercise opened as one and published unchanged is the same; stage steps lead to what is given."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from cubedrill.core.authoring.plan import Plan, plan_of
from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise, read_submission
from cubedrill.store.documents import EXERCISE
from tests.core.build import steps_of
from tests.core.strategies import any_step, scenes
from tests.tiers import few, some

CRATE = {"id": "crate", "solid": {"kind": "cuboid", "size": [1, 1, 1]}}
FILES = sorted((HERE / "exercises").glob("*.json"))


def plan(**said):
    return Plan.model_validate({"format": "cube-drill/plan", "version": 1, "id": "p", "title": "P", **said})


@pytest.mark.parametrize("file", some(FILES, 7), ids=lambda file: file.stem)
def test_an_exercise_opened_as_a_plan_and_published_unchanged_is_the_same_document(file):
    exercise = read_exercise(file)
    kept = Plan.model_validate_json(plan_of(exercise).model_dump_json(exclude_unset=True, by_alias=True))
    again = kept.exercise()
    assert EXERCISE.written(again) == EXERCISE.written(exercise)
    for submitted in sorted((HERE / "submissions" / file.stem).glob("*.json"))[:2]:
        reports = [
            judge_submission(
                each, each.start_scene(), each.target_scene(), read_submission(submitted)
            ).model_dump_json()
            for each in (exercise, again)
        ]
        assert reports[0] == reports[1]


@few
@given(scenes(), st.data())
def test_the_start_is_where_the_stage_steps_lead(start, data):
    """Whatever the steps: each object is where they took it, called and painted as they left it."""
    given_ = plan_of_scene(start)
    written = [data.draw(any_step) for _ in range(2)]
    steps = steps_of(*written)
    made = given_.model_copy(update={"stage": steps})
    try:
        states = made.staged()
    except CoreError:
        return
    if not states[-1].scene.objects:
        return
    led = states[-1].scene
    published = made.exercise().start_scene()
    assert list(published.objects) == list(led.objects)
    for object_id, item in led.objects.items():
        other = published[object_id]
        assert (other.name, other.parent, other.solid, other.locked) == (
            item.name,
            item.parent,
            item.solid,
            item.locked,
        )
        assert (other.colour, other.opacity) == (item.colour, item.opacity)
        assert other.pivot == pytest.approx(item.pivot)
        largest = abs(item.parent_from_local).max()
        assert other.parent_from_local == pytest.approx(item.parent_from_local, abs=1e-11 * largest)
    assert published.marker == pytest.approx(led.marker)


def plan_of_scene(scene):
    """A plan that begins with a scene, its objects as matrices."""
    objects = [
        {
            "id": item.id, "name": item.name, "parent": item.parent, "solid": item.solid, "locked": item.locked,
            "matrix": item.parent_from_local.ravel(order="F").tolist(), "pivot": item.pivot.tolist(),
            "colour": item.colour, "opacity": item.opacity,
        }
        for item in scene.objects.values()
    ]  # fmt: skip
    return plan(base={"objects": objects, "marker": scene.marker.tolist()}, conventions=scene.conventions.model_dump())


def test_objects_untouched_by_stage_steps_are_written_unchanged():
    base = {"objects": [{**CRATE, "translation": [0.1, 0.2, 0.3]}, {"id": "post", "rotation": [0, 0.6, 0, 0.8]}]}
    made = plan(base=base, stage=[{"op": "move", "objects": ["post"], "by": [1, 0, 0]}])
    crate, post = EXERCISE.written(made.exercise())["start"]["objects"]
    assert crate == {**CRATE, "translation": [0.1, 0.2, 0.3]}
    assert post == {"id": "post", "translation": [1, 0, 0], "rotation": pytest.approx([0, 0.6, 0, 0.8])}


def test_an_exercise_is_made_from_nothing():
    add = {"op": "add", "object": {**CRATE, "name": "Crate"}}
    made = plan(stage=[add], reference=[{"op": "move", "objects": ["crate"], "by": [0, 0, 2]}])
    exercise = made.exercise()
    assert exercise.start_scene().pivot_world("crate").tolist() == [0, 0, 0]
    assert exercise.target_scene().pivot_world("crate").tolist() == [0, 0, 2]


@pytest.mark.parametrize("said", [{"title": ""}, {"base": {}}, {"base": {"objects": []}}])
def test_an_exercise_without_a_title_or_anything_in_it_is_none_yet(said):
    made = plan(**{"base": {"objects": [CRATE]}, **said})
    with pytest.raises(ValidationError):
        made.exercise()


def test_notes_are_never_published():
    made = plan(base={"objects": [CRATE]}, notes="the answer is 42")
    assert "42" not in str(EXERCISE.written(made.exercise()))
    assert isinstance(made.exercise(), Exercise)
