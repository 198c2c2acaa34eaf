"""Previews, lines of text, the list as text, and measures: what is asked while one works, and keeps nothing."""

import json

import pytest
from sqlalchemy.orm import Session

from cubedrill.core.judging.exercise import Rules
from cubedrill.store.documents import EXERCISE
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Assignment
from tests.api.conftest import CRATES, RIGHT

HERE = f"/api/assignments/{CRATES}"


def ask(person, what, **body):
    return person.call("POST", f"{HERE}/{what}", json={"steps": [], "cursor": 0, **body})


def with_rules(engine, **rules):
    """A newer version of the exercise of the crates, with other rules, is set."""
    with Session(engine) as db, db.begin():
        assignment = db.get_one(Assignment, CRATES)
        exercise = EXERCISE.read(assignment.exercise_version.document, assignment.exercise_version.shape)
        assignment.exercise_version_id = add_version(db, exercise.model_copy(update={"rules": Rules(**rules)})).id


def test_a_hidden_target_is_not_sent_before_submission(pim, engine):
    with_rules(engine, outline="hidden", gaps="hidden", views=("top", "side"))
    for page in ("bench", "sheet"):
        exercise = pim.get(f"{HERE}/{page}").json()["exercise"]
        assert (exercise["target"], exercise["halos"], exercise["views"]) == ({}, [], ["top", "side"])
        assert exercise["target_objects"] == exercise["objects"]
    revision = pim.save(0, [RIGHT]).json()["revision"]
    shown = pim.get(f"/api/submissions/{pim.submit(revision).json()['submission']}").json()["exercise"]
    assert shown["target"]["crate-herring"]["pivot_world"] == pytest.approx([-3, 0.15, -2])
    assert shown["halos"]


def test_a_preview_says_what_the_last_step_would_do_and_keeps_nothing(pim):
    told = ask(pim, "preview", steps=[RIGHT], cursor=1).json()
    assert told["refused"] is None
    assert told["step"]["sentence"] == "Move Herring crate to X −3 m, Y 0.15 m and Z −2 m of World"
    assert told["step"]["changed"]["crate-herring"]["pivot_world"] == pytest.approx([-3, 0.15, -2], abs=1e-12)
    assert pim.get(f"{HERE}/bench").json()["draft"]["steps"] == []


def test_a_preview_says_why_not_and_of_which_step(pim):
    locked = {"op": "drop", "objects": ["quay"]}
    told = ask(pim, "preview", steps=[RIGHT, locked], cursor=2).json()
    assert (told["step"], told["refused"]["step"], told["refused"]["code"]) == (None, 2, "locked")
    # Where an earlier one cannot be done, the last one is not blamed and not shown.
    told = ask(pim, "preview", steps=[locked, RIGHT], cursor=2).json()
    assert (told["step"], told["refused"]["step"]) == (None, 1)


def test_a_line_is_read_after_the_steps_before_it(pim):
    steps = [{"op": "rename", "objects": ["crate-herring"], "name": "Sprat crate"}]
    told = ask(pim, "say", steps=steps, cursor=1, line="drop sprat crate onto what is below").json()
    assert told["step"] == {
        **told["step"],
        "op": "drop",
        "objects": ["crate-herring"],
        "onto": "below",
        "entry": "typed",
    }
    assert told["sentence"] == "Drop Sprat crate onto what is below"
    missed = ask(pim, "say", line="drop sprat crate").json()
    assert (missed["step"], missed["at"]) == (None, 5)
    assert "drop Herring crate" in ask(pim, "say", line="drop he").json()["completions"]


def test_a_line_along_the_view_takes_its_directions(pim):
    view = {"right": [0, 0, -1], "up": [0, 1, 0]}
    told = ask(pim, "say", line="move herring crate by 1 along x of view", view=view).json()
    assert told["step"]["space"] == {"view": view}


def test_the_list_goes_out_as_text_and_comes_back_the_same(pim):
    steps = [
        RIGHT,
        {**RIGHT, "entry": "dragged"},
        {"op": "put", "objects": ["crate-rope"], "on": {"point": [0.1, 0, 1 / 3], "normal": [0, 1, 0]}},
    ]
    text = ask(pim, "text", steps=steps, cursor=3).json()["text"]
    assert text.splitlines()[0] == "Move Herring crate to X −3 m, Y 0.15 m and Z −2 m of World"
    assert text.splitlines()[1].endswith("(dragged)")
    lines = pim.call("POST", f"{HERE}/lines", json={"text": text}).json()["lines"]
    back = [line["step"] for line in lines if line["step"]]
    assert [step["entry"] for step in back] == ["typed", "dragged", "typed"]
    assert back[2]["on"]["point"] == [0.1, 0, 1 / 3]


def test_a_text_says_which_lines_cannot_be_read_or_done(pim):
    text = "# crates\nMove Herring crate by 1 x\nLift it\nDrop Quay onto the ground"
    lines = pim.call("POST", f"{HERE}/lines", json={"text": text}).json()["lines"]
    assert [bool(line["step"]) for line in lines] == [False, True, False, True]
    assert [line["why"] != "" for line in lines] == [False, False, True, True]


def test_only_the_kinds_of_the_exercise_are_taken(pim, engine):
    with_rules(engine, kinds=["move", "drop"])
    assert pim.get(f"{HERE}/bench").json()["exercise"]["kinds"] == ["move", "drop"]
    paint = {"op": "paint", "objects": ["crate-rope"], "opacity": 0.5}
    for answer in (pim.save(0, [paint]), ask(pim, "preview", steps=[paint], cursor=1)):
        assert (answer.status_code, answer.json()["code"]) == (422, "kind-not-offered")
    assert pim.save(0, [RIGHT]).status_code == 200
    told = ask(pim, "say", line="paint rope crate opacity 0.5").json()
    assert told["step"] is None
    assert told["why"] == "This exercise offers no step of the kind paint; use move, drop."


def test_measurements_follow_the_steps(pim):
    asked = [
        {"first": {"object": "crate-herring"}, "second": {"object": "quay"}},
        {"first": {"object": "crate-herring"}},
    ]
    low, high = (
        ask(pim, "measures", steps=[{**RIGHT, "to": [-3, y, -2]}], cursor=1, asked=asked).json()["measured"]
        for y in (5, 6)
    )
    distances = [next(a["value"] for a in each[0]["amounts"] if a["what"] == "distance") for each in (low, high)]
    assert distances[1] - distances[0] == pytest.approx(1)
    assert low[0]["points"] != high[0]["points"]
    assert [a["what"] for a in low[1]["amounts"][:5]] == ["own size X", "own size Y", "own size Z", "area", "volume"]


def test_a_check_that_cannot_be_measured_says_why_and_can_be_switched_off(pim, engine):
    (told,) = ask(pim, "measures", asked=[{"first": {"object": "gone"}}]).json()["measured"]
    assert told["amounts"] == []
    assert "gone" in told["why"]
    with_rules(engine, measure="hidden")
    answer = ask(pim, "measures", asked=[])
    assert (answer.status_code, answer.json()["code"]) == (422, "not-measured")


def test_a_text_of_a_million_lines_is_refused_at_once(pim):
    answer = pim.call("POST", f"{HERE}/lines", json={"text": "x\n" * 900_000})
    assert (answer.status_code, answer.json()["code"]) == (422, "too-many-lines")


def test_a_line_of_any_size_is_answered_or_refused(pim):
    assert ask(pim, "say", line="move " * 4000).status_code == 200
    assert ask(pim, "say", line="x" * 20_001).status_code == 422
    assert json.loads(ask(pim, "say", line='"' * 500).text)["step"] is None
