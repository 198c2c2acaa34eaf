"""A submission earns points for what it gives: nothing of the target stands in for what it leaves out."""

from pathlib import Path

import numpy as np
import pytest
from pydantic import TypeAdapter

from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission, mark_sheets
from cubedrill.core.judging.submission import Submission, load_submission
from cubedrill.demo import load
from tests.core.build import CRATE, QUARTER_Y, near
from tests.tiers import some

SUBMISSION = TypeAdapter(Submission)
FILES = sorted((Path(load.__file__).parent / "exercises").glob("*.json"))
START = [
    {
        "id": "post",
        "solid": CRATE,
        "translation": [1, 2, 3],
        "rotation": QUARTER_Y,
        "scale": [2, 1, 1],
        "colour": "#112233",
    },
    {"id": "lid", "solid": CRATE, "translation": [-4, 0, 2], "pivot": [0, 1, 0]},
]
STEPS = [
    {"op": "duplicate", "objects": ["post"], "ids": ["copy"], "between": {"op": "move", "by": [-3, 0, 1]}},
    {"op": "assemble", "objects": ["post", "lid"], "id": "unit", "name": "Unit"},
    {"op": "move", "objects": ["unit"], "by": [0, 0, -7]},
    {"op": "rename", "objects": ["lid"], "name": "Cover"},
    {"op": "paint", "objects": ["lid"], "colour": "#445566"},
    {"op": "pivot", "objects": ["lid"], "at": {"object": "lid", "at": "+x"}},
]
CHECKS = [
    *({"id": f"place {i}", "kind": "position", "object": i, "tolerance": 0.01} for i in ("post", "lid", "copy")),
    *({"id": f"turn {i}", "kind": "rotation", "object": i, "tolerance": 0.1} for i in ("post", "copy")),
    {"id": "size", "kind": "size", "object": "copy", "tolerance": 0.01},
    {"id": "name", "kind": "name", "object": "lid"},
    {"id": "look", "kind": "look", "object": "lid"},
    {"id": "pivot", "kind": "pivot", "object": "lid", "tolerance": 0.01},
    {"id": "parent", "kind": "parent", "object": "lid"},
    {"id": "count", "kind": "count", "solid": "cuboid"},
]


def exercise(steps=STEPS, checks=CHECKS):
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "unit", "title": "Unit",
            "start": {"objects": START}, "reference": {"steps": steps}, "checks": checks,
        }
    )  # fmt: skip


def judged(made, **work):
    document = SUBMISSION.validate_python(
        {"format": "cube-drill/submission", "version": 1, "exercise": made.id, **work}
    )
    return judge_submission(made, made.start_scene(), made.target_scene(), document)


def loaded(made, rows):
    head = {"format": "cube-drill/submission", "version": 1, "exercise": made.id, "kind": "sheet"}
    return load_submission(made.start_scene(), made.target_scene(), SUBMISSION.validate_python({**head, "rows": rows}))


def verdicts(report):
    return {check.id: check.verdict for check in report.checks}


@pytest.mark.parametrize("file", some(FILES, 5), ids=lambda file: file.stem)
@pytest.mark.parametrize("named", [True, False], ids=["rows without values", "no rows"])
def test_a_sheet_that_says_nothing_earns_what_the_start_earns(file, named):
    made = Exercise.model_validate_json(file.read_text())
    rows = [{"object": i} for i in made.target_scene().objects] if named else []
    sheet, nothing = judged(made, kind="sheet", rows=rows), judged(made, kind="steps", steps=[])
    both = [(a, b) for a, b in zip(sheet.checks, nothing.checks, strict=True) if a.verdict != "not judged"]
    assert [(a.id, a.points) for a, b in both] == [(b.id, b.points) for a, b in both]
    assert not sheet.passed


def test_rows_without_values_leave_names_colours_pivots_and_parents_as_at_the_start():
    found = verdicts(judged(exercise(), kind="sheet", rows=[{"object": i} for i in ("post", "lid", "copy", "unit")]))
    assert {found[i] for i in ("place copy", "turn copy", "size", "name", "look", "pivot", "count")} == {"fail"}
    assert found["parent"] == "not judged"


def test_a_right_sheet_has_every_point():
    made = exercise()
    target = made.target_scene()
    rows = [{"object": i, "matrix": target.world_from_local(i).ravel(order="F").tolist()} for i in target.objects]
    assert set(verdicts(judged(made, kind="sheet", rows=rows)).values()) == {"pass"}


@pytest.mark.parametrize("space", ["world", "parent"])
def test_an_object_that_a_row_makes_has_no_turn_and_no_size_but_its_own(space):
    made = exercise()
    (copy,) = [loaded(made, [{"object": "copy", "space": space, "translation": [5, 6, 7]}]).scene["copy"]]
    wanted = np.eye(4)
    wanted[:3, 3] = [5, 6, 7]
    assert copy.parent_from_local == near(wanted)
    assert made.target_scene()["copy"].parent_from_local[0, 0] == near(0)  # the target's is turned and scaled


@pytest.mark.parametrize("row", [{}, {"scale": [2, 1, 1]}, {"rotation": QUARTER_Y}, {"euler": [0, 90, 0]}])
def test_a_row_without_a_place_makes_no_object(row):
    made = exercise()
    assert "copy" not in loaded(made, [{"object": "copy", **row}]).scene.objects
    assert verdicts(judged(made, kind="sheet", rows=[{"object": "copy", **row}]))["place copy"] == "fail"


def test_children_of_an_assembly_that_was_not_made_are_where_the_sheet_has_them():
    made = exercise()
    target = made.target_scene()
    post = {"object": "post", "matrix": target.world_from_local("post").ravel(order="F").tolist()}
    scene = loaded(made, [post]).scene
    assert "unit" not in scene.objects
    assert scene.world_from_local("post") == near(target.world_from_local("post"))
    assert scene.world_from_local("lid") == near(made.start_scene().world_from_local("lid"))
    found = verdicts(judged(made, kind="sheet", rows=[post]))
    assert (found["place post"], found["place lid"]) == ("pass", "fail")


def test_numbers_in_a_parent_that_was_not_made_place_nothing():
    assert (
        "lid" not in loaded(exercise(), [{"object": "lid", "space": "parent", "translation": [0, 0, 0]}]).scene.objects
    )


def test_a_sheet_cannot_remove_so_it_earns_no_count():
    made = exercise(
        [{"op": "remove", "objects": ["post"]}], [{"id": "count", "kind": "count", "solid": "cuboid", "points": 3}]
    )
    report = judged(made, kind="sheet", rows=[])
    assert (report.points, report.of, report.passed) == (0, 0, False)
    (marks,) = mark_sheets(made, made.start_scene(), made.target_scene(), [SUBMISSION.validate_python(
        {"format": "cube-drill/submission", "version": 1, "exercise": "unit", "kind": "sheet", "rows": []})])  # fmt: skip
    assert marks[:4] == (0, 0, None, False)


def test_a_file_without_pivots_earns_nothing_for_a_pivot_that_had_to_be_moved():
    made = exercise()
    target = made.target_scene()
    objects = [
        {"id": i, "matrix": target.world_from_local(i).ravel(order="F").tolist(), "solid": CRATE}
        for i in ("post", "lid")
    ]
    assert verdicts(judged(made, kind="scene", scene={"objects": objects}))["pivot"] == "not judged"
    objects[1]["pivot"] = [1, 0, 0]
    assert verdicts(judged(made, kind="scene", scene={"objects": objects}))["pivot"] == "pass"
    objects[1]["pivot"] = [0, 1, 0]
    assert verdicts(judged(made, kind="scene", scene={"objects": objects}))["pivot"] == "fail"


@pytest.mark.parametrize("file", some(FILES, 5), ids=lambda file: file.stem)
def test_a_file_with_nothing_but_names_earns_no_more_than_objects_at_the_origin(file):
    """Objects of the target's names without solid, place or pivot: nothing else comes from the target."""
    made = Exercise.model_validate_json(file.read_text())
    target = made.target_scene()
    bare = [{"id": i} for i in target.objects]
    spelled = [
        {"id": i, "translation": [0, 0, 0], "rotation": [0, 0, 0, 1], "scale": [1, 1, 1]} for i in target.objects
    ]
    conventions = made.conventions.model_dump()
    reports = [
        judged(made, kind="scene", scene={"conventions": conventions, "objects": each}) for each in (bare, spelled)
    ]
    assert reports[0].points == reports[1].points
    assert not reports[0].passed


@pytest.mark.parametrize(
    "check",
    [
        {"kind": "size", "tolerance": 0.1},
        {"kind": "shape", "tolerance": 0.1},
        {"kind": "position", "point": "+x", "tolerance": 0.1},
        {"kind": "relation", "relation": "touches", "other": "lid", "tolerance": 9},
        {"kind": "relation", "relation": "rests_on", "other": "ground", "tolerance": 9},
    ],
    ids=lambda check: check.get("relation", check["kind"]),
)
def test_an_object_handed_in_without_its_solid_misses_what_is_measured_on_it(check):
    made = exercise([], [{"id": "one", "object": "post", "points": 2, **check}])
    report = judged(made, kind="scene", scene={"objects": [{"id": "post"}, {"id": "lid", "solid": CRATE}]})
    assert (report.points, report.of, report.passed) == (0, 2, False)
    other = judged(made, kind="scene", scene={"objects": [{"id": "post", "solid": CRATE}, {"id": "lid"}]})
    if check.get("other") == "lid":
        assert (other.points, other.of) == (0, 2)
