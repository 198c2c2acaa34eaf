"""Files that students of the demo submit are read, matched, judged and explained."""

import pytest
from tools.demo_files import FILES

from cubedrill.core.judging.judge import judge_submission
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise, submission_in

CAUSES = {
    "slewing-crane/theo.dae": "file-parent-lost",
    "trailer-to-the-kerb/oona.usda": "file-up-of-places",
    "deck-winch/oona.glb": "file-baked-twice",
}


def test_every_file_of_another_program_in_the_demo_is_made_by_the_script():
    there = {f"{file.parent.name}/{file.name}" for file in (HERE / "submissions").glob("*/*")}
    assert {name for name in there if not name.endswith(".json")} == set(FILES)
    assert set(CAUSES) <= set(FILES)


@pytest.mark.parametrize("name", FILES)
def test_a_file_of_the_demo_is_right_or_has_the_mistake_that_was_put_into_it(name):
    path = HERE / "submissions" / name
    exercise = read_exercise(HERE / "exercises" / f"{path.parent.name}.json")
    work = submission_in(path.read_bytes(), path.name, exercise, {}).document
    report = judge_submission(exercise, exercise.start_scene(), exercise.target_scene(), work)
    assert [cause.code for cause in report.causes] == ([CAUSES[name]] if name in CAUSES else [])
    assert report.passed is (name not in CAUSES)
