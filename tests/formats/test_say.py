"""Steps as text on the command line: said, read back, replayed and checked as what they say."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

import cubedrill.demo.load as demo
from cubedrill.cli import app
from cubedrill.formats.documents import read_steps
from tests.tiers import some

WORK = [
    (demo.HERE / "exercises" / f"{file.parent.name}.json", file)
    for file in sorted((demo.HERE / "submissions").glob("*/*.json"))
    if json.loads(file.read_text(encoding="utf-8"))["kind"] == "steps"
]
GATE = demo.HERE / "exercises" / "lock-gate.json"
RIGHT = "Rotate Lock gate by 75° about Y of Local through edge middle −X−Z of Lock gate\nMove Sluice paddle by 0.4 m along Y of Local\n"


def run(*words):
    return CliRunner().invoke(app, [str(word) for word in words])


@pytest.mark.parametrize("named", [True, False])
@pytest.mark.parametrize(("exercise", "file"), some(WORK, 20))
def test_written_steps_read_back_the_same(exercise, file, named, tmp_path: Path):
    words = ("--exercise", exercise) if named else ()
    text = tmp_path / "steps.txt"
    text.write_text(run("say", file, *words).stdout, encoding="utf-8")
    back = tmp_path / "back.json"
    back.write_text(run("say", text, *words, "--json").stdout, encoding="utf-8")
    assert read_steps(back).steps == read_steps(file).steps
    # And said once more it is the same text, to the letter.
    assert run("say", back, *words).stdout == text.read_text(encoding="utf-8")


def test_a_text_is_replayed_and_checked_as_the_steps_it_says(tmp_path: Path):
    text = tmp_path / "work.txt"
    text.write_text(f"# The gate\r\n\n1. {RIGHT}", encoding="utf-8-sig")
    replayed = json.loads(run("replay", GATE, text, "--json").stdout)
    assert replayed == json.loads(run("replay", GATE, "--json").stdout)
    line = json.loads(run("check", GATE, text, "--json").stdout)
    assert (line["passed"], line["points"], line["submission"]) == (True, line["of"], str(text))
    folder = run("check", GATE, tmp_path)
    assert (folder.exit_code, "passed" in folder.stdout) == (0, True)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (RIGHT + "Lift the gate\n", "work.txt, line 3, character 1: “Lift the gate” cannot be read; expected Move"),
        ("Move Lock gate by 2 furlong along X", "line 1, character 21: “furlong along X” cannot be read; “furlong” is no unit here"),
        ("Move Lokc gate by 2 m along X", "expected Lock sill or West wall"),
        (b"Move \xff", "byte 6 is not UTF-8"),
        ("\n".join(["Move Lock gate by 1 x"] * 2001), "2001 steps; submit at most 2000"),
    ],
)  # fmt: skip
def test_unreadable_step_text_is_reported_by_line_and_column(content, says, tmp_path: Path):
    text = tmp_path / "work.txt"
    text.write_bytes(content if isinstance(content, bytes) else content.encode())
    for words in (("replay", GATE, text), ("check", GATE, text), ("say", text, "--exercise", GATE)):
        ran = run(*words)
        assert ran.exit_code == 2
        assert says in " ".join((ran.stderr or ran.output).split())


def test_a_kind_that_is_not_offered_is_refused_by_every_command(tmp_path: Path):
    few = json.loads(GATE.read_text(encoding="utf-8"))
    few["rules"] = {"kinds": ["rotate", "move"]}
    exercise = tmp_path / "few.json"
    exercise.write_text(json.dumps(few), encoding="utf-8")
    work = tmp_path / "work.txt"
    work.write_text(RIGHT + "Drop Lock gate onto the ground", encoding="utf-8")
    refused = "Step 3: This exercise offers no step of the kind drop; use rotate, move."
    replayed = run("replay", exercise, work, "--json")
    assert (replayed.exit_code, json.loads(replayed.stdout)["error"]["step"]) == (1, 3)
    checked = run("check", exercise, work, "--json")
    assert (checked.exit_code, json.loads(checked.stdout.splitlines()[0])["error"]["text"]) == (2, refused)
    # An exercise whose own way needs a kind that it does not offer is none.
    few["rules"] = {"kinds": ["move"]}
    exercise.write_text(json.dumps(few), encoding="utf-8")
    assert run("replay", exercise).exit_code == 2
    few["rules"] = {"kinds": ["fly"]}
    exercise.write_text(json.dumps(few), encoding="utf-8")
    assert "a kind of step is one of move, rotate" in " ".join(run("replay", exercise).stderr.split())
