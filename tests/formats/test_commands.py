"""The commands, as they are called: what they print, and how they end."""

import csv
import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

import cubedrill.demo.load as demo
from cubedrill.cli import app
from cubedrill.formats.documents import SCHEMAS

ROOT = Path(__file__).parents[2]
EXERCISE = demo.HERE / "exercises" / "crates-morning-boat.json"
SUBMISSIONS = demo.HERE / "submissions" / "crates-morning-boat"


def run(*words):
    return CliRunner().invoke(app, [str(word) for word in words])


def test_replay_prints_every_object_in_the_documented_form():
    result = run("replay", EXERCISE, "--json")
    assert result.exit_code == 0
    printed = json.loads(result.stdout)
    assert set(printed) == {"steps", "objects"}
    assert printed["steps"] == 4
    crate = printed["objects"]["crate-lamp-oil"]
    assert crate == {
        "world_from_local": [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -2, 0.4, -2, 1],
        "parent": None,
        "translation": [-2, 0.4, -2],
        "rotation": [0, 0, 0, 1],
        "scale": [1, 1, 1],
        "euler": [0, 0, 0],
        "skewed": False,
        "pivot_world": [-2, 0.4, -2],
        "world_box": {"min": pytest.approx([-2.3, 0.15, -2.3]), "max": pytest.approx([-1.7, 0.65, -1.7])},
    }
    assert printed["objects"]["pallet-east"]["euler"] == pytest.approx([0, 20, 0])


def test_every_prints_the_start_first_and_a_state_a_step():
    printed = json.loads(run("replay", EXERCISE, SUBMISSIONS / "oona.json", "--every", "--json").stdout)
    assert len(printed["states"]) == printed["steps"] + 1 == 8
    assert printed["states"][-1]["objects"] == printed["objects"]
    assert printed["states"][0]["objects"]["crate-herring"]["pivot_world"] == pytest.approx([-4, 0, 1.5])


def test_without_json_replay_prints_a_table():
    result = run("replay", EXERCISE, "--every")
    assert "Step 4: Move Apple crate to X 2.5 m, Y 0.65 m and Z −1.5 m of World" in result.stdout.replace("\n", " ")
    assert result.stdout.count("crate-apple") == 5


def refused(tmp_path):
    steps = [
        {"op": "move", "objects": ["crate-apple"], "by": [1, 0, 0]},
        {"op": "move", "objects": ["quay"], "by": [1, 0, 0]},
    ]
    file = tmp_path / "locked.json"
    document = {"format": "cube-drill/submission", "version": 1, "exercise": "crates-morning-boat", "kind": "steps"}
    file.write_text(json.dumps({**document, "steps": steps}))
    return file


def test_a_refused_step_ends_with_1_and_one_sentence(tmp_path):
    result = run("replay", EXERCISE, refused(tmp_path), "--json")
    sentence = "Step 2: Quay is locked; select another object."
    assert result.exit_code == 1
    assert result.stderr == sentence + "\n"
    error = {"step": 2, "object": "quay", "code": "locked", "text": sentence}
    assert json.loads(result.stdout) == {"error": error}


def test_check_prints_a_line_a_submission_in_the_documented_form():
    result = run("check", EXERCISE, SUBMISSIONS, "--json")
    assert result.exit_code == 0
    lines = {Path(line["submission"]).stem: line for line in map(json.loads, result.stdout.splitlines())}
    assert set(lines) == {file.stem for file in SUBMISSIONS.glob("*.json")}
    assert set(lines["wren"]) == {"submission", "score", "points", "of", "passed", "checks", "causes"}
    assert (lines["wren"]["score"], lines["wren"]["passed"], lines["wren"]["causes"]) == (1, True, [])
    herring, *_, apple = lines["petra"]["checks"]
    assert set(herring) == {"id", "verdict", "difference", "tolerance", "points", "of", "text"}
    assert herring["difference"] == pytest.approx([0.02, 0, -0.07])
    assert herring["tolerance"] == [0.05, 0.02, 0.05]
    # 0.07 is 1.4 tolerances; points fall from 3 at 1 to 0 at 3 tolerances: 3 · (3 − 1.4) / 2 = 2.4.
    assert (herring["verdict"], herring["points"]) == ("near", pytest.approx(2.4))
    assert isinstance(apple["difference"], float)


def test_check_says_what_could_not_be_judged_and_ends_with_2(tmp_path):
    refused(tmp_path)
    (tmp_path / "other.json").write_text(
        json.dumps({"format": "cube-drill/submission", "version": 1, "exercise": "e", "kind": "steps", "steps": []})
    )
    (tmp_path / "broken.json").write_text("{")
    result = run("check", EXERCISE, tmp_path, SUBMISSIONS / "wren.json", "--json")
    assert result.exit_code == 2
    lines = [json.loads(line) for line in result.stdout.splitlines()]
    assert [line.get("score") for line in lines] == [None, None, None, 1]
    assert [line["error"]["code"] for line in lines[:3]] == ["unreadable", "locked", "unreadable"]
    assert "other.json, at exercise: it is for e, not for crates-morning-boat." in result.stderr


def test_notes_of_steps_are_printed(tmp_path):
    steps = json.loads((SUBMISSIONS / "wren.json").read_text())
    steps["steps"][0]["to"] = [9, 0, 9]
    there = {"op": "move", "objects": [steps["steps"][0]["objects"][0]], "by": [0, 1, 0]}
    steps["steps"][1:1] = [there, {**there, "by": [0, -1, 0]}]
    file = tmp_path / "wren.json"
    file.write_text(json.dumps(steps))
    printed = json.loads(run("check", EXERCISE, file, "--json").stdout)
    assert (printed["parted"], printed["cancelling"]) == (1, [[2, 3]])
    told = run("check", EXERCISE, file).stdout
    assert "step 1 is the first that differs from the reference" in told
    assert "steps 2 and 3 cancel each other" in told
    right = json.loads(run("check", EXERCISE, SUBMISSIONS / "oona.json", "--json").stdout)
    assert not {"parted", "cancelling"} & right.keys()


def test_marks_go_into_a_table(tmp_path):
    file = tmp_path / "marks.csv"
    assert run("check", EXERCISE, SUBMISSIONS, "--csv", file).exit_code == 0
    # RFC 4180: lines end in CR LF, the first names the columns.
    assert file.read_bytes().startswith(b"submission,points,of,score,passed,error,points of ")
    with file.open(newline="") as stream:
        rows = {Path(row["submission"]).stem: row for row in csv.DictReader(stream)}
    assert (rows["juno"]["points"], rows["juno"]["of"], rows["juno"]["passed"]) == ("9.0", "12.0", "True")


def test_an_unwritable_table_and_conflicting_options_are_reported(tmp_path):
    nowhere = run("check", EXERCISE, SUBMISSIONS, "--csv", tmp_path / "nowhere" / "marks.csv")
    assert (nowhere.exit_code, "cannot be written" in nowhere.stderr) == (2, True)
    both = run("check", EXERCISE, SUBMISSIONS, "--json", "--csv", tmp_path / "marks.csv")
    assert (both.exit_code, both.stderr) == (2, "Choose one of --json and --csv.\n")


@pytest.mark.parametrize("name", SCHEMAS)
def test_the_schema_in_docs_is_the_one_printed(name):
    assert run("schema", name).stdout == (ROOT / "docs" / "schema" / f"{name}.json").read_text()


def test_unknown_words_end_with_2():
    assert run("schema", "nothing").exit_code == 2
    assert run("replay", "nothing.json").exit_code == 2
    assert run("check", "nothing.json", "x").exit_code == 2


def test_serve_says_which_setting_is_missing(monkeypatch):
    monkeypatch.delenv("CUBE_DRILL_DATABASE_URL", raising=False)
    result = run("serve")
    assert result.exit_code == 2
    assert "CUBE_DRILL_DATABASE_URL" in result.stderr


def test_separate_lists_every_mistake_and_what_catches_it():
    printed = json.loads(run("separate", EXERCISE, "--json").stdout)
    assert set(printed) == {"trials", "idle", "drag", "typing"}
    assert {trial["step"] for trial in printed["trials"]} == {1, 2, 3, 4}
    left_out = next(t for t in printed["trials"] if (t["step"], t["code"]) == (1, "step-left-out"))
    assert left_out["caught_by"] == ["herring"]
    passing = [trial for trial in printed["trials"] if not trial["caught_by"]]
    assert all(trial["tighter"] is None or trial["tighter"]["tolerance"] > 0 for trial in passing)
    shown = run("separate", EXERCISE)
    assert shown.exit_code == 0
    assert f"{len(printed['trials'])} mistakes; {len(passing)} would pass." in shown.stdout


def test_check_prints_causes_in_the_documented_form():
    printed = json.loads(run("check", EXERCISE, SUBMISSIONS / "juno.json", "--json").stdout)
    (cause,) = printed["causes"]
    assert {"object", "code", "step", "text", "near", "also"} <= set(cause)
    assert (cause["object"], cause["code"], cause["step"]) == ("crate-lamp-oil", "half-sunk", 2)
    assert (
        "is sunk by half its height, with its centre where its base should be"
        in run("check", EXERCISE, SUBMISSIONS / "juno.json").stdout
    )


def test_many_files_are_judged_side_by_side_and_told_in_their_order(tmp_path, monkeypatch):
    monkeypatch.setattr("os.sched_getaffinity", lambda _: {0, 1})
    for i in range(24):
        name = ("juno", "oona", "ansel")[i % 3]
        (tmp_path / f"{i:02}.json").write_text((SUBMISSIONS / f"{name}.json").read_text())
    (tmp_path / "07.json").write_text("{")
    spread = run("check", EXERCISE, tmp_path, "--json")
    monkeypatch.setattr("os.sched_getaffinity", lambda _: {0})
    alone = run("check", EXERCISE, tmp_path, "--json")
    assert (spread.exit_code, spread.stdout) == (2, alone.stdout)
    lines = [json.loads(line) for line in spread.stdout.splitlines()]
    assert [Path(line["submission"]).stem for line in lines] == [f"{i:02}" for i in range(24)]
    assert spread.stderr.count("07.json") == 1


NASTY = "[bold]=cmd[/] \x1b[31m red \x9b5m \x7f"


def nasty_exercise(folder):
    """An exercise of the demo in which names and ids hold what consoles, terminals and spreadsheets act on."""
    document = json.loads(EXERCISE.read_text())
    text = json.dumps(document).replace("crate-herring", "=1+1").replace("Herring crate", "NAME")
    path = folder / "=nasty[red].json"
    path.write_text(text.replace("NAME", json.dumps(NASTY)[1:-1]))
    return path


def test_control_characters_in_names_do_not_reach_the_terminal(tmp_path):
    exercise = nasty_exercise(tmp_path)
    work = tmp_path / "=2+3.json"
    work.write_text((SUBMISSIONS / "wren.json").read_text().replace("crate-herring", "=1+1"))
    for words in (
        ["replay", exercise],
        ["replay", exercise, "--json"],
        ["check", exercise, work],
        ["check", exercise, work, "--json"],
        ["separate", exercise],
        ["separate", exercise, "--json"],
    ):
        result = run(*words)
        assert result.exit_code == 0, result.output
        assert not any((ord(c) < 32 and c != "\n") or 127 <= ord(c) < 160 for c in result.output), words
    assert "[bold]=cmd[/]" in run("check", exercise, work).stdout
    printed = json.loads(run("check", exercise, work, "--json").stdout)
    assert any(NASTY in check["text"] for check in printed["checks"])  # for programs it is what it was
    assert "=1+1" in run("replay", exercise).stdout


def test_no_cell_of_the_table_of_marks_is_a_formula(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    exercise = nasty_exercise(tmp_path)
    right = (SUBMISSIONS / "wren.json").read_text().replace("crate-herring", "=1+1")
    for name in ("=1.json", "+2.json", "-3.json", "@4.json"):
        Path(name).write_text(right if name < "@" else "{}")
    result = run("check", exercise, "--csv", "marks.csv", "--", "=1.json", "+2.json", "-3.json", "@4.json")
    assert result.exit_code == 2, result.output
    with open("marks.csv", newline="", encoding="utf-8") as stream:
        rows = list(csv.reader(stream))
    assert [row[0] for row in rows[1:]] == ["'=1.json", "'+2.json", "'-3.json", "'@4.json"]
    assert not any(cell.startswith(("=", "+", "-", "@")) for row in rows for cell in row)
