"""No response shows a student a hidden target too early: every field of every response is searched."""

import itertools
import json
import re
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy.orm import Session

from cubedrill.core.judging.exercise import Exercise
from cubedrill.formats.conversion import WRITTEN
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Assignment
from tests.api.conftest import CRATES

CRATE = {"kind": "cuboid", "size": [1, 1, 1]}
# Every number, name, id and colour of the target is one that stands nowhere else.
SECRET_NUMBERS = {"4.4321", "-3.6789", "7.1234", "2.2468", "0.3579"}
SECRET_WORDS = ("hidden-copy", "Grand Hidden", "#13579b", "hidden-unit", "Secret Unit")
STEPS = [
    {"op": "move", "objects": ["crate"], "to": [4.4321, 2.2468, -3.6789]},
    {"op": "duplicate", "objects": ["crate"], "ids": ["hidden-copy"], "between": {"op": "move", "by": [0, 0, 10.8023]}},
    {"op": "pivot", "objects": ["lid"], "at": [0.3579, 0, 0]},
    {"op": "rename", "objects": ["lid"], "name": "Grand Hidden"},
    {"op": "paint", "objects": ["lid"], "colour": "#13579b"},
    {"op": "assemble", "objects": ["lid"], "id": "hidden-unit", "name": "Secret Unit"},
]
CHECKS = [
    {"id": "crate", "kind": "position", "object": "crate", "tolerance": 0.01, "points": 3},
    {"id": "copy", "kind": "position", "object": "hidden-copy", "tolerance": 0.01},
    {"id": "turn", "kind": "rotation", "object": "crate", "tolerance": 1},
    {"id": "name", "kind": "name", "object": "lid"},
    {"id": "look", "kind": "look", "object": "lid"},
    {
        "id": "gap",
        "kind": "relation",
        "relation": "gap",
        "object": "crate",
        "other": "lid",
        "distance": 1,
        "tolerance": 0.01,
    },
    {"id": "pivot", "kind": "pivot", "object": "lid", "tolerance": 0.01},
]
JUNK = {"op": "move", "objects": ["crate"], "by": [1, 0, 0], "entry": "typed"}


def exercise(**rules):
    hidden = {"outline": "hidden", "gaps": "hidden", "measure": "hidden"}
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "secret", "title": "Place by the brief",
            "start": {"objects": [{"id": "crate", "name": "Crate", "solid": CRATE}, {"id": "lid", "name": "Lid", "solid": CRATE}]},
            "reference": {"steps": STEPS}, "checks": CHECKS, "rules": {**hidden, **rules},
        }
    )  # fmt: skip


def leaks(answer, label_words=()):
    """Return the secrets of the target in a response: numbers, to four places, and words."""
    text = answer.content.decode("utf-8", "replace")
    shown = {f"{float(number):.4f}".rstrip("0") for number in re.findall(r"-?\d+\.\d+(?:e-?\d+)?", text)}
    return sorted(shown & SECRET_NUMBERS) + [word for word in SECRET_WORDS if word in text and word not in label_words]


def change_assignment(app, **columns):
    with Session(app.state.engine) as db, db.begin():
        assignment = db.get_one(Assignment, CRATES)
        for name, value in columns.items():
            setattr(assignment, name, value)


def begun(app, made):
    """Set an exercise in the place of the first one, with a day to go."""
    with Session(app.state.engine) as db, db.begin():
        version = add_version(db, made).id
    change_assignment(app, exercise_version_id=version, due_at=datetime.now(UTC) + timedelta(days=1), attempts=None)


def submit_steps(pim):
    revision = pim.get(f"/api/assignments/{CRATES}/bench").json()["draft"]["revision"]
    revision = pim.save(revision, [JUNK]).json()["revision"]
    return [pim.submit(revision)]


def submit_sheet(pim):
    """A sheet with an empty row of what only the target has."""
    revision = pim.get(f"/api/assignments/{CRATES}/sheet").json()["revision"]
    rows = [{"object": "hidden-copy"}, {"object": "lid", "scale": [1, 1, 2]}]
    sheet = {"conventions": {}, "cells": {}, "rows": rows}
    saved = pim.call("PUT", f"/api/assignments/{CRATES}/sheet", json={"revision": revision, "sheet": sheet})
    answer = pim.call("POST", f"/api/assignments/{CRATES}/sheet/submissions", json=saved.json())
    return [answer]


def submit_file(pim):
    """A file whose objects are like those of the target, under other names."""
    objects = [{"id": f"x{n}", "name": f"Box {n}", "solid": CRATE, "translation": [n, 0, 0]} for n in range(3)]
    content = json.dumps({"conventions": {"length": "m"}, "objects": objects}).encode()
    sent = pim.call("POST", f"/api/assignments/{CRATES}/files", params={"name": "mine.json"}, content=content)
    file = sent.json()["file"]
    reviewed = pim.get(f"/api/assignments/{CRATES}/files/{file}?length=cm")
    handed = pim.call("POST", f"/api/assignments/{CRATES}/files/{file}/submissions", json={})
    return [handed, sent, reviewed]


WAYS = {"steps": submit_steps, "sheet": submit_sheet, "file": submit_file}


def at_work(pim):
    place = f"/api/assignments/{CRATES}"
    work = {"steps": [JUNK], "cursor": 1}
    asked = {"asked": [{"first": {"object": "crate"}}]}
    yield pim.get("/api/home")
    for path in ("bench", "sheet", "drawing"):
        yield pim.get(f"{place}/{path}")
    for kind in WRITTEN:
        for which in ("start", "work"):
            yield pim.get(f"{place}/scenes/{which}?kind={kind}&up=z&handedness=right&length=m")
        assert pim.get(f"{place}/scenes/target?kind={kind}").status_code == 403
    for path, body in (
        ("look", work), ("preview", work), ("text", work), ("lines", {"text": "Move Crate by 1 m along X"}),
        ("say", {**work, "line": "Move "}), ("say", {**work, "line": ""}), ("measures", {**work, **asked}),
    ):  # fmt: skip
        yield pim.call("POST", f"{place}/{path}", json=body)


def results(pim, submission, kinds=(".json",)):
    yield pim.get(f"/api/submissions/{submission}")
    for kind in kinds:
        yield pim.get(f"/api/submissions/{submission}/scene?kind={kind}")
    yield pim.get(f"/api/submissions/{submission}/file")
    yield pim.get("/api/home")


@pytest.mark.parametrize("way", WAYS)
def test_a_hidden_target_stays_hidden_until_nothing_is_left_to_try(way, app, sign_in):
    begun(app, exercise())
    pim = sign_in("pim")
    submitted, *reviewed = WAYS[way](pim)
    assert submitted.status_code == 201, submitted.text
    submission = submitted.json()["submission"]
    change_assignment(app, feedback_when="after due")
    typed = ("hidden-copy",) if way == "sheet" else ()  # her own row
    for answer in (*at_work(pim), submitted, *reviewed, *results(pim, submission, WRITTEN)):
        assert answer.status_code < 500, answer.text
        assert leaks(answer, typed) == [], (str(answer.request.url), leaks(answer))
    later, past = datetime.now(UTC) + timedelta(days=1), datetime.now(UTC) - timedelta(minutes=1)
    every = itertools.product(
        ("nothing", "check", "hint", "cause"), ("at once", "after due"), (None, 2, 1), (later, past)
    )
    seen = set()
    for told, when, attempts, due in every:
        change_assignment(app, feedback=told, feedback_when=when, attempts=attempts, due_at=due)
        over = attempts == 1 or due == past
        is_shown = (when == "at once" or due == past) and told != "nothing"
        # Which check it was has a name, which may be of an object that only the target has.
        words = ("hidden-copy",) if is_shown else ()
        for answer in results(pim, submission):
            found = leaks(answer, words if "scene" not in str(answer.request.url) else ())
            if is_shown and (over or told == "cause"):
                seen.update(found)
            else:
                assert found == [], (told, when, attempts, due == past, str(answer.request.url), found)
    assert {"4.4321", "-3.6789"} <= seen  # once nothing is left to try, it is shown: the search finds it


@pytest.mark.parametrize("way", WAYS)
def test_an_instructor_sees_all_of_it(way, app, sign_in, odile):
    begun(app, exercise(told="nothing"))
    submitted = WAYS[way](sign_in("pim"))[0].json()["submission"]
    assert {"4.4321", "-3.6789"} <= set(leaks(odile.get(f"/api/submissions/{submitted}")))


def test_a_target_whose_outline_is_shown_is_shown_from_the_start(app, sign_in):
    begun(app, exercise(outline="shown"))
    assert {"4.4321", "-3.6789", "hidden-copy"} <= set(leaks(sign_in("pim").get(f"/api/assignments/{CRATES}/bench")))


def test_gaps_that_are_shown_at_work_are_shown_on_the_result_too(app, sign_in):
    begun(app, exercise(gaps="shown", told="check"))
    pim = sign_in("pim")
    result = pim.get(f"/api/submissions/{submit_steps(pim)[0].json()['submission']}").json()
    assert result["report"]["checks"][0]["target"] == [4.4321, 2.2468, -3.6789]


def test_missed_checks_have_no_numbers_while_attempts_are_left(app, sign_in):
    begun(app, exercise(told="check"))
    pim = sign_in("pim")
    result = pim.get(f"/api/submissions/{submit_steps(pim)[0].json()['submission']}").json()
    crate, _copy, turn, name, *_ = result["report"]["checks"]
    assert (crate["verdict"], crate["points"], crate["of"], turn["verdict"]) == ("fail", 0, 3, "pass")
    assert (crate["target"], crate["submitted"], crate["difference"]) == ([], None, None)
    assert crate["text"] == "The numbers appear once no attempt is left or the exercise is due."
    assert name["label"] == "Name of Lid"


def said_in(answer):
    """Return the points, remarks and notes about steps in a response."""
    text = answer.text
    found = [mark for mark in ("zq-remark", "zq-reason", "3.2175") if mark in text]
    body = answer.json() if "json" in answer.headers.get("content-type", "") else {}
    if body.get("cancelling"):
        found.append("cancelling")
    if body.get("points_set") or body.get("changes"):
        found.append("changes")
    for key in ("report", "mark"):
        if body.get(key) and (body[key].get("points") or body[key].get("score") is not None):
            found.append(key)
    if any(each["mark"]["points"] or each["mark"]["score"] is not None for each in body.get("attempts", ())):
        found.append("attempts")
    for row in body.get("to_do", ()):
        if row["assignment"] == CRATES and (row["work"]["score"] is not None or row["work"]["passed"]):
            found.append("to_do")
    found += [
        "news"
        for each in body.get("news", ())
        if each["assignment"] == CRATES and each["what"] in ("mark", "remark", "re-checked")
    ]
    if body.get("work") and body["work"].get("score") is not None:
        found.append("work")
    return sorted(set(found))


def test_points_remarks_and_notes_about_steps_are_said_nowhere_before_feedback_is_shown(app, sign_in, odile):
    begun(app, exercise(outline="shown", gaps="shown", told="cause"))
    change_assignment(app, feedback_when="after due")
    pim = sign_in("pim")
    revision = pim.get(f"/api/assignments/{CRATES}/bench").json()["draft"]["revision"]
    back = {**JUNK, "by": [-1, 0, 0]}
    submission = pim.submit(pim.save(revision, [JUNK, back, JUNK]).json()["revision"]).json()["submission"]
    for review in ({"text": "zq-remark"}, {"check": "crate", "points": 2.21754, "text": "zq-reason"}):
        assert odile.call("POST", f"/api/submissions/{submission}/reviews", json=review).status_code == 204
    whole = {"recheck": odile.call("POST", f"/api/assignments/{CRATES}/recheck", json={}).status_code}
    assert whole["recheck"] in (201, 409)

    def everywhere():
        yield pim.get("/api/home")
        for path in ("bench", "sheet"):
            yield pim.get(f"/api/assignments/{CRATES}/{path}")
        yield pim.get(f"/api/submissions/{submission}")
        yield pim.get("/api/session")

    for answer in everywhere():
        assert said_in(answer) == [], (str(answer.request.url), said_in(answer))
    assert said_in(odile.get(f"/api/submissions/{submission}")) != []
    change_assignment(app, due_at=datetime.now(UTC) - timedelta(seconds=5))
    seen = {each for answer in everywhere() for each in said_in(answer)}
    assert {
        "zq-remark",
        "zq-reason",
        "cancelling",
        "changes",
        "mark",
        "attempts",
        "news",
    } <= seen  # the search finds each
