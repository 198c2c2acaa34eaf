"""Files: what is wrong is named with file, place and what was expected."""

import json
from pathlib import Path

import pytest

import cubedrill.demo.load as demo
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.submission import SceneSubmission, SheetSubmission, StepsSubmission
from cubedrill.formats.documents import LARGEST_FILE, FormatError, read_exercise, read_submission

EXERCISES = sorted((demo.HERE / "exercises").glob("*.json"))
SUBMISSIONS = sorted((demo.HERE / "submissions").glob("*/*.json"))
SCHEMAS = Path(__file__).parents[2] / "docs" / "schema"


@pytest.fixture
def document():
    return json.loads((demo.HERE / "exercises" / "crates-morning-boat.json").read_text(encoding="utf-8"))


def written(folder: Path, content: object) -> Path:
    file = folder / "exercise.json"
    file.write_text(content if isinstance(content, str) else json.dumps(content), encoding="utf-8")
    return file


@pytest.mark.parametrize("file", EXERCISES, ids=lambda file: file.stem)
def test_demo_exercises_are_sound_and_come_back_the_same_when_written(file):
    exercise = read_exercise(file)
    assert exercise.id == file.stem
    assert Exercise.model_validate_json(exercise.model_dump_json()) == exercise


@pytest.mark.parametrize("file", SUBMISSIONS, ids=lambda file: f"{file.parent.name}/{file.stem}")
def test_demo_submissions_are_readable_and_for_their_exercise(file):
    assert read_submission(file).exercise == file.parent.name


def change(document, path, value):
    *way, last = path
    for key in way:
        document = document[key]
    if value is None:
        del document[last]
    else:
        document[last] = value


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        (["title"], None, "at title: missing key"),
        (["colour"], "red", "at colour: unknown key"),
        (["start", "objects", 2, "solid", "size", 1], -1, "at start.objects[2].solid.size[1]: input should be"),
        (["start", "objects", 0, "translation", 0], "1", "at start.objects[0].translation[0]: input should be a valid"),
        (["checks", 0, "tolerance"], "wide", "at checks[0].tolerance"),
        (["checks", 0, "object"], "ghost", "Check herring names ghost, which is not in the target scene"),
        (["reference", "steps", 1, "objects", 0], "quay", "Step 2: Quay is locked"),
        (["conventions", "up"], "x", "at conventions.up: input should be 'y' or 'z'"),
        (["version"], 2, "at version: input should be 1"),
        (
            ["reference", "steps", 0, "op"],
            None,
            "at reference.steps[0]: the key op is missing; it names the kind",
        ),
        (
            ["reference", "steps", 0, "op"],
            "fly",
            "at reference.steps[0]: unknown op fly; use one of 'move', 'rotate'",
        ),
    ],
)
def test_errors_name_their_place(tmp_path, document, path, value, said):
    change(document, path, value)
    with pytest.raises(FormatError) as error:
        read_exercise(written(tmp_path, document))
    assert str(error.value).startswith("exercise.json")
    assert said in str(error.value)
    assert str(error.value).endswith(".")


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e999"])
def test_numbers_that_are_not_finite_are_refused_with_their_place(tmp_path, document, number):
    change(document, ["start", "objects", 1, "translation"], [0, 111222333, 0])
    with pytest.raises(FormatError, match=r"start\.objects\[1\]\.translation\[1\]: input should be a finite number"):
        read_exercise(written(tmp_path, json.dumps(document).replace("111222333", number)))


@pytest.mark.parametrize("content", ["", "{", "[]", "null", '"text"', "[" * 100_000])
def test_files_that_hold_no_object_are_refused(tmp_path, content):
    with pytest.raises(FormatError, match=r"^exercise\.json"):
        read_exercise(written(tmp_path, content))


def test_a_file_that_is_not_there_or_too_large_is_refused(tmp_path):
    with pytest.raises(FormatError, match="cannot be read"):
        read_exercise(tmp_path / "none.json")
    large = tmp_path / "large.json"
    with large.open("wb") as stream:
        stream.truncate(LARGEST_FILE + 1)
    with pytest.raises(FormatError, match="larger than 20 MB"):
        read_submission(large)


@pytest.mark.parametrize("kind", ["exercise", "submission"])
def test_no_list_from_outside_is_without_an_end(kind):
    schema = json.loads((SCHEMAS / f"{kind}.json").read_text(encoding="utf-8"))

    def arrays(part):
        if isinstance(part, dict):
            if part.get("type") == "array":
                yield part
            part = list(part.values())
        if isinstance(part, list):
            for below in part:
                yield from arrays(below)

    found = list(arrays(schema))
    assert found
    assert [array for array in found if "maxItems" not in array] == []


@pytest.mark.parametrize("model", [Exercise, StepsSubmission, SheetSubmission, SceneSubmission])
def test_a_list_from_outside_is_given_up_at_the_first_of_its_items_that_is_wrong(model):
    # A file of wrong items would else cost an error for each: 4 MB of them took 42 s and 2 GB.
    def lists(part):
        if isinstance(part, dict):
            if part.get("type") == "list" or "variadic_item_index" in part:
                yield part
            part = list(part.values())
        if isinstance(part, list | tuple):
            for below in part:
                yield from lists(below)

    found = list(lists(model.__pydantic_core_schema__))
    assert found
    assert [each for each in found if not each.get("fail_fast")] == []
