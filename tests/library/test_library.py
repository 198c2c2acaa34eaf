"""The Python library: its page and docstrings are run, and every way to pass a submission gives the core's verdict."""

import csv
import doctest
import subprocess
import sys
from importlib import import_module
from pathlib import Path
from xml.dom import minidom

import numpy as np
import pytest

import cubedrill as cd
from cubedrill.core.judging.judge import judge_scene
from cubedrill.formats.documents import read_exercise

ROOT = Path(__file__).parents[2]
GATE = ROOT / "src/cubedrill/demo/exercises/lock-gate.json"
EXAMPLES = ROOT / "docs/examples"
TURN = "Rotate Lock gate by 75° about Y of Local through edge middle −X−Z of Lock gate"
LIFT = {"op": "move", "objects": ["paddle"], "space": "local", "by": [0, 0.4, 0]}


@pytest.fixture
def exercise():
    return cd.load(GATE)


EXAMPLES_IN = [
    ".".join(file.relative_to(ROOT / "src").with_suffix("").parts)
    for file in sorted((ROOT / "src").rglob("*.py"))
    if ">>>" in file.read_text(encoding="utf-8")
]


def test_the_library_and_the_mathematics_have_examples():
    for name in ("library.exercises", "library.scenes", "core.geometry.transform", "core.geometry.symmetry"):
        assert f"cubedrill.{name}" in EXAMPLES_IN


@pytest.mark.parametrize("text", ["docs/library.md", *EXAMPLES_IN])
def test_examples_in_the_page_and_in_docstrings_give_what_they_show(text, tmp_path, monkeypatch):
    (tmp_path / "src").symlink_to(ROOT / "src")
    (tmp_path / "docs").symlink_to(ROOT / "docs")
    monkeypatch.chdir(tmp_path)  # the page writes a table of marks
    if text.endswith(".md"):
        found = doctest.testfile(str(ROOT / text), module_relative=False, encoding="utf-8")
    else:
        found = doctest.testmod(import_module(text))
    assert found.attempted > 0
    assert found.failed == 0


def test_every_way_to_pass_the_right_work_passes(exercise, tmp_path):
    lift = f"{TURN}\nMove Sluice paddle by 0.4 m along Y of Local\n"
    file = tmp_path / "steps.txt"
    file.write_text(lift, encoding="utf-8")
    done = exercise.start.do(TURN).do("Move Sluice paddle by 0.4 m along Y of Local")
    reference = [step.model_dump(mode="json") for step in exercise.core.reference.steps]
    for work in (file, str(file), lift, lift.splitlines(), reference, [*reference[:1], LIFT], done, exercise.target):
        report = exercise.check(work)
        assert (report.passed, report.score, report.error) == (True, 1.0, ""), work
        assert report.source == (str(file) if work in (file, str(file)) else "")


def test_a_wrong_scene_has_the_verdict_of_the_core(exercise):
    core = read_exercise(GATE)
    half = exercise.start.do(TURN)
    ours, theirs = exercise.check(half), judge_scene(core, core.target_scene(), half.core)
    assert (ours.points, ours.of, ours.passed) == (theirs.points, theirs.of, theirs.passed)
    assert [each.verdict for each in ours.checks] == [each.verdict for each in theirs.checks]
    assert {each.verdict for each in ours.checks} == {"pass", "fail"}


def test_a_scene_is_read_by_id_and_by_name_and_never_changes(exercise):
    start = exercise.start
    gate = start["Lock gate"]
    assert gate.id == "gate"
    np.testing.assert_array_equal(gate.world_from_local, start["gate"].world_from_local)
    with pytest.raises(ValueError, match="read-only"):
        gate.world_from_local[0, 3] = 5
    start.do("Move Lock gate by 2 m along X of World")
    np.testing.assert_array_equal(gate.world_from_local, start["gate"].world_from_local)
    with pytest.raises(KeyError, match="0 objects"):
        start["Gate"]
    assert len(start) == len(list(start)) == 7


@pytest.mark.parametrize(
    ("work", "words"),
    [
        ("no-such.glb", "no-such.glb: the file cannot be read"),
        ("Push it", "steps, line 1"),
        ([{"op": "move", "objects": ["gate"], "by": [0, "x", 0]}], "steps, at 0.move.by"),
        ([{"op": "move", "objects": ["sill"], "by": [0, 1, 0]}], "Lock sill is locked"),
    ],
)
def test_unusable_input_is_refused_in_one_sentence(exercise, work, words):
    with pytest.raises(cd.CubeDrillError, match=words) as refused:
        exercise.check(work)
    assert "\n" not in str(refused.value)


def test_an_exercise_or_a_folder_that_cannot_be_read_is_refused(exercise, tmp_path):
    with pytest.raises(cd.CubeDrillError, match=r"gone\.json: the file cannot be read"):
        cd.load(tmp_path / "gone.json")
    with pytest.raises(cd.CubeDrillError, match="cannot be read"):
        cd.check_folder(exercise, tmp_path / "gone")


@pytest.mark.parametrize("jobs", [1, 2])
def test_a_folder_is_checked_in_order_and_one_broken_file_stops_nothing(exercise, tmp_path, jobs):
    for n in range(24):
        (tmp_path / f"{n:02}.txt").write_text(TURN if n % 2 else "", encoding="utf-8")
    (tmp_path / "12.txt").write_text("Push it", encoding="utf-8")
    (tmp_path / "notes.md").write_text("mine", encoding="utf-8")
    reports = cd.check_folder(exercise, tmp_path, jobs=jobs)
    found = list(reports)
    assert [Path(each.source).name for each in found] == [f"{n:02}.txt" for n in range(24)]
    assert [bool(each.error) for each in found] == [n == 12 for n in range(24)]
    assert found[1].points > found[0].points
    reports.to_csv(tmp_path / "marks.csv")
    with (tmp_path / "marks.csv").open(encoding="utf-8", newline="") as stream:
        rows = list(csv.DictReader(stream))
    assert [row["points"] for row in rows] == ["" if each.error else str(each.points) for each in found]


def test_a_notebook_shows_names_as_text(exercise):
    name = "<b>&Gate"
    renamed = cd.Scene(exercise.start.core).do("Rename Lock gate to “<b>&Gate”")
    assert renamed["gate"].name == name
    for shown in (exercise.check([]), exercise.start, cd.Report("x", error=name)):
        html = shown._repr_html_()
        minidom.parseString(f"<div>{html}</div>")  # noqa: S318 - our own; raises unless every tag is closed
        assert "<b>&G" not in html
    assert exercise.start._repr_html_().count("<svg xmlns") == 3


def test_the_public_names_are_these_and_need_neither_web_nor_database():
    for name in cd.__all__:
        assert getattr(cd, name) is not None
    assert set(cd.__all__) < set(dir(cd))
    with pytest.raises(AttributeError):
        cd.kinds  # noqa: B018
    server = ("fastapi", "starlette", "sqlalchemy", "psycopg", "uvicorn", "alembic")
    code = f"import sys, cubedrill as cd; [getattr(cd, n) for n in cd.__all__]; print([m for m in {server} if m in sys.modules])"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout == "[]\n"


def test_the_command_line_starts_without_the_mathematics():
    heavy = ("numpy", "scipy", "pydantic", "rich", "fastapi", "sqlalchemy", "cubedrill.core.errors")
    code = f"import sys, cubedrill.cli; print([m for m in {heavy} if m in sys.modules])"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout == "[]\n"


@pytest.mark.parametrize("words", [["serve"], ["work"], ["demo"], ["openapi"], ["person", "add", "A B", "a.b"]])
def test_commands_of_the_server_say_what_to_install_if_only_the_library_is(words):
    code = (
        "import sys, importlib.util as u; found = u.find_spec; u.find_spec = lambda n: None if n == 'fastapi' else found(n);"
        "from cubedrill.cli import app; app(sys.argv[1:])"
    )
    run = subprocess.run([sys.executable, "-c", code, *words], capture_output=True, text=True, check=False)
    assert run.returncode == 2
    assert "pip install 'cube-drill[server]'" in run.stderr
