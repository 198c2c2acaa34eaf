"""Exercises: what is put together from a file, and what is refused."""

import numpy as np
import pytest
from pydantic import ValidationError

from cubedrill.core.errors import SENTENCES, CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.exercise import Exercise, require_sound
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.submission import StepsSubmission
from cubedrill.core.scene.stage import Stage

MOVE = {"op": "move", "objects": ["crate"], "by": [1, 0, 0]}
CHECK = {"id": "c", "kind": "position", "object": "crate", "tolerance": 0.1}


def exercise(**changes):
    document = {
        "format": "cube-drill/exercise", "version": 1, "id": "e", "title": "E",
        "start": {"objects": [{"id": "crate"}]},
        "reference": {"steps": [MOVE]}, "target": None, "rules": {}, "checks": [CHECK],
    }  # fmt: skip
    return Exercise.model_validate({**document, **changes})


def submission(*steps):
    return StepsSubmission(format="cube-drill/submission", version=1, exercise="e", kind="steps", steps=steps)


def judged(made, handed_in):
    return judge_submission(made, made.start_scene(), made.target_scene(), handed_in)


def test_the_target_is_what_the_reference_leads_to():
    assert exercise().target_scene().pivot_world("crate").tolist() == [1, 0, 0]


def test_a_target_of_its_own_goes_before_the_reference():
    own = exercise(target={"objects": [{"id": "crate", "translation": [0, 5, 0]}]})
    assert own.target_scene().pivot_world("crate").tolist() == [0, 5, 0]


def test_the_reference_handed_in_has_all_points():
    report = judged(exercise(), submission(MOVE))
    assert (report.score, report.passed, report.rules_version) == (1, True, "8")


def test_the_same_submission_gives_the_same_report_to_the_last_byte():
    first, second = (judged(exercise(), submission(MOVE, MOVE)).model_dump_json() for _ in range(2))
    assert first == second


def test_a_matrix_stands_column_by_column():
    numbers = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 7, 8, 9, 1]
    start = Stage.model_validate({"objects": [{"id": "crate", "matrix": numbers}]}).to_scene(Conventions())
    assert start.world_from_local("crate")[:3, 3].tolist() == [7, 8, 9]


def test_objects_stand_in_any_order():
    stage = {"objects": [{"id": "hook", "parent": "crane"}, {"id": "crane", "translation": [1, 0, 0]}]}
    start = Stage.model_validate(stage).to_scene(Conventions())
    assert start.pivot_world("hook").tolist() == [1, 0, 0]
    assert start.descendants("crane") == ["hook"]


def test_scenes_share_arrays_that_nobody_can_change():
    start = exercise().start_scene()
    with pytest.raises(ValueError, match="read-only"):
        start["crate"].parent_from_local[0, 3] = 1


@pytest.mark.parametrize(
    ("objects", "code"),
    [
        ([{"id": "a"}, {"id": "a"}], "duplicate-id"),
        ([{"id": "a", "parent": "b"}], "unknown-parent"),
        ([{"id": "a", "parent": "a"}], "parent-loop"),
        ([{"id": "a", "parent": "b"}, {"id": "b", "parent": "a"}], "parent-loop"),
        ([{"id": "a", "scale": [1, 0, 1]}], "not-invertible"),
        ([{"id": "a", "rotation": [0, 0, 0, 2]}], "quaternion-length"),
        ([{"id": "a", "matrix": [1] * 16}], "bad-matrix"),
    ],
)
def test_scenes_that_cannot_be_are_refused(objects, code):
    with pytest.raises(CoreError) as error:
        Stage.model_validate({"objects": objects}).to_scene(Conventions())
    assert error.value.code == code
    assert error.value.text.endswith(".")


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"reference": None}, "no-reference"),
        ({"checks": [{**CHECK, "object": "ghost"}]}, "check-object"),
        ({"reference": {"steps": [{**MOVE, "objects": ["ghost"]}]}}, "unknown-object"),
    ],
)
def test_exercises_that_cannot_be_carried_out_are_refused(changes, code):
    with pytest.raises(CoreError) as error:
        require_sound(exercise(**changes))
    assert error.value.code == code


@pytest.mark.parametrize(
    "changes",
    [
        {"version": 2},
        {"format": "other"},
        {"pass_mark": 1.5},
        {"extra": 1},
        {"rules": {"free": True}},
        {"checks": [CHECK, CHECK]},
        {"start": {"objects": []}},
        {"start": {"objects": [{"id": "a"}], "plot": {"min": [0, 0, 0], "max": [1, 0, 1]}}},
        {"start": {"objects": [{"id": "a", "matrix": [1] * 16, "scale": [1, 1, 1]}]}},
        {"start": {"objects": [{"id": "a", "colour": "red"}]}},
        {"start": {"objects": [{"id": "a", "opacity": 2}]}},
    ],
)
def test_files_that_say_no_exercise_are_refused(changes):
    with pytest.raises(ValidationError):
        exercise(**changes)


def test_every_error_is_one_sentence_with_a_way_out():
    for code, sentence in SENTENCES.items():
        assert sentence.count(". ") == 0, code
        assert sentence.endswith("."), code
        assert ";" in sentence or "choose" in sentence, code


def test_zero_length_of_a_plot_axis_is_told_apart_from_a_hair():
    plot = {"min": [0, 0, 0], "max": [1, np.nextafter(0, 1), 1]}
    assert Stage.model_validate({"objects": [{"id": "a"}], "plot": plot}).plot is not None


@pytest.mark.parametrize("more", [{"translation": [1, 0, 0]}, {"rotation": [0, 0, 0, 1]}, {"scale": [1, 1, 1]}])
def test_an_object_has_a_matrix_or_parts_and_never_both(more):
    with pytest.raises(ValidationError, match="either a matrix, or"):
        Stage.model_validate({"objects": [{"id": "a", "matrix": np.eye(4).ravel().tolist(), **more}]})
