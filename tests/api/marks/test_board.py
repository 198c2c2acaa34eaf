"""A class as a whole: the board, live on every process, a student, and what the class gets wrong."""

import json
import threading
import time
from contextlib import ExitStack, contextmanager, suppress
from datetime import UTC, datetime, timedelta

import httpx2
import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from cubedrill.api import live
from cubedrill.api.app import create_app
from cubedrill.core.judging.verdict import CheckResult
from cubedrill.settings import Settings
from cubedrill.store.tables import Assignment
from tests.api.assignments.test_setting import FAR, RIGHT_WAY, put, tried
from tests.api.conftest import CRATES, RIGHT
from tests.api.test_openapi import serving


def cell(caller, name, assignment=CRATES, class_id=1):
    board = caller.get(f"/api/classes/{class_id}/board").json()
    person = next(row["person"] for row in board["rows"] if row["name"] == name)
    return next((c for c in board["cells"] if (c["assignment"], c["person"]) == (assignment, person)), None)


def test_a_cell_tells_where_a_student_stands(odile, pim):
    assert cell(odile, "Pim Tasker") is None
    pim.save(0, [FAR])
    at_work = cell(odile, "Pim Tasker")
    assert (at_work["attempts"], at_work["newest"], at_work["at_work"] is not None) == (0, None, True)
    pim.submit(1)
    done = cell(odile, "Pim Tasker")
    submission = done["newest"]
    mark = odile.get(f"/api/submissions/{submission}").json()["mark"]
    assert (done["attempts"], done["score"], done["passed"], done["at_work"]) == (
        1,
        mark["score"],
        mark["passed"],
        None,
    )
    assert tried(pim, RIGHT_WAY)[0].status_code == 201
    assert (cell(odile, "Pim Tasker")["attempts"], cell(odile, "Pim Tasker")["passed"]) == (2, True)


@pytest.mark.parametrize("shown", [True, False])
def test_checks_in_place_are_told_where_drafts_are_shown(odile, pim, shown):
    put(odile, drafts_shown=shown)
    revision = pim.save(0, [RIGHT]).json()["revision"]
    gaps = pim.get(f"/api/assignments/{CRATES}/bench").json()["draft"]["state"]["gaps"]
    in_place = sum(gap["verdict"] == "pass" for gap in gaps)
    found = cell(odile, "Pim Tasker")
    assert 0 < in_place < len(gaps)
    assert (found["in_place"], found["checks"]) == ((in_place, len(gaps)) if shown else (None, None))
    pim.save(revision, [*RIGHT_WAY])
    assert cell(odile, "Pim Tasker")["in_place"] == (len(gaps) if shown else None)


def test_opening_a_submission_reviews_it_but_not_a_newer_one(odile, pim):
    submission = tried(pim, [FAR])[0].json()["submission"]
    pim.call("POST", f"/api/submissions/{submission}/reviewed")
    assert cell(odile, "Pim Tasker")["reviewed"] is False  # her own look is none
    assert odile.call("POST", f"/api/submissions/{submission}/reviewed").status_code == 204
    assert odile.call("POST", f"/api/submissions/{submission}/reviewed").status_code == 204
    assert cell(odile, "Pim Tasker")["reviewed"] is True
    tried(pim, [RIGHT])
    assert cell(odile, "Pim Tasker")["reviewed"] is False


def test_leavers_with_work_stay_on_the_board(odile):
    board = odile.get("/api/classes/1/board").json()
    with_work = {c["person"] for c in board["cells"]}
    for row in board["rows"]:
        odile.call("DELETE", f"/api/classes/1/people/{row['person']}")
    left = odile.get("/api/classes/1/board").json()["rows"]
    assert {row["person"] for row in left} == with_work
    assert all(row["left"] for row in left)


def test_a_student_is_shown_with_every_try_and_its_causes(odile, pim):
    first, second = (a.json()["submission"] for a in tried(pim, [FAR], RIGHT_WAY))
    person = cell(odile, "Pim Tasker")["person"]
    student = odile.get(f"/api/classes/1/students/{person}").json()
    item = next(i for i in student["items"] if i["assignment"] == CRATES)
    assert [t["submission"] for t in item["attempts"]] == [first, second]
    assert [t["mark"]["passed"] for t in item["attempts"]] == [False, True]
    odiles = next(m["person"] for m in odile.get("/api/classes/1").json()["members"] if m["role"] == "instructor")
    assert odile.get(f"/api/classes/1/students/{odiles}").status_code == 404


# What the class gets wrong


def test_causes_are_counted_once_a_student_over_what_counts_and_over_all(odile, engine):
    found = odile.get(f"/api/assignments/{CRATES}/insight").json()
    with Session(engine) as db:
        rows = db.execute(
            text("select m.person_id, c->>'code', c->>'object' from mark m, jsonb_array_elements(m.causes) c "
                 "where m.assignment_id = :a"), {"a": CRATES}
        ).all()  # fmt: skip
    by_hand = {(code, thing): {p for p, c, o in rows if (c, o) == (code, thing)} for _p, code, thing in rows}
    assert {(c["code"], c["object"]): {w["person"] for w in c["ever"]} for c in found["causes"]} == by_hand
    assert [len(c["counted"]) for c in found["causes"]] == sorted(
        (len(c["counted"]) for c in found["causes"]), reverse=True
    )
    assert all({w["person"] for w in c["counted"]} <= {w["person"] for w in c["ever"]} for c in found["causes"])


def test_of_a_try_that_does_not_count_a_cause_is_counted_under_all_alone(odile, sign_in):
    rows = odile.get(f"/api/assignments/{CRATES}/submissions").json()["rows"]
    name = next(row["student"] for row in rows if row["causes"])
    assert tried(sign_in(name.split()[0].lower()), RIGHT_WAY)[0].status_code == 201
    found = odile.get(f"/api/assignments/{CRATES}/insight").json()
    theirs = [c for c in found["causes"] if name in {w["name"] for w in c["ever"]}]
    assert theirs != []
    assert all(name not in {w["name"] for w in c["counted"]} for c in theirs)


def test_a_dot_is_where_the_report_says_that_a_student_came_to(odile):
    found = odile.get(f"/api/assignments/{CRATES}/insight").json()
    dots = 0
    for check in found["checks"]:
        for dot in check["dots"]:
            report = odile.get(f"/api/submissions/{dot['submission']}").json()["report"]
            result = next(c for c in report["checks"] if c["id"] == check["id"])
            assert (dot["verdict"], check["label"], check["unit"]) == (
                result["verdict"],
                result["label"],
                result["unit"],
            )
            if check["axes"]:
                assert dot["miss"] == pytest.approx(
                    [s - t for s, t in zip(result["submitted"], result["target"], strict=True)]
                )
            assert (dot["off"] <= 1 + 1e-9) == (dot["verdict"] == "pass")
            dots += 1
    assert dots > 10
    assert any(check["mistakes"] for check in found["checks"])


@pytest.mark.parametrize(
    ("axes", "target", "submitted", "difference", "miss"),
    [
        (("X", "Z"), (1.0, 2.0), (1.5, 1.0), (0.5, -1.0), (0.5, -1.0)),
        (("X", "Y", "Z"), (0.0, 0.0, 0.0), (1.0, 2.0, 2.0), 3.0, (1.0, 2.0, 2.0)),  # a distance has its three numbers
        ((), (0.0,), (30.0,), 30.0, (30.0,)),
        ((), (), None, None, None),
        (("X",), (0.0,), None, None, None),
    ],
)
def test_a_miss_is_along_the_axes_where_there_are_some(axes, target, submitted, difference, miss):
    result = CheckResult(
        id="a", kind="position", object="o", label="", space="", unit="m", axes=axes, target=target, submitted=submitted,
        difference=difference, tolerance=1.0, points=0, of=1, verdict="fail", text="",
    )  # fmt: skip
    assert result.miss == miss


def test_work_shows_who_started_without_submitting_and_how_others_worked(odile, pim, engine):
    pim.save(0, [FAR, {**RIGHT, "entry": "dragged"}])
    found = odile.get(f"/api/assignments/{CRATES}/insight").json()
    assert next((g["name"], g["steps"]) for g in found["given_up"]) == ("Pim Tasker", 2)
    pim.submit(1)
    with Session(engine) as db, db.begin():
        db.execute(text("update draft set begun_at = now() - interval '90 minutes' where assignment_id = 1"))
    found = odile.get(f"/api/assignments/{CRATES}/insight").json()
    mine = next(h for h in found["how"] if h["name"] == "Pim Tasker")
    assert (mine["steps"], mine["typed"], mine["dragged"]) == (2, 1, 1)
    assert 89 < mine["minutes"] < 91
    assert "Pim Tasker" not in {g["name"] for g in found["given_up"]}


# Live


@contextmanager
def looking_on(address, cookie, events, class_id=1):
    """Somebody who has the board open: events come into a list as they are told."""
    stop = threading.Event()

    def look():
        with suppress(httpx2.HTTPError), httpx2.stream(
            "GET", f"{address}/api/classes/{class_id}/live", cookies=cookie, timeout=30
        ) as answer:  # fmt: skip
            kind = None
            for line in answer.iter_lines():
                if stop.is_set():
                    return
                if line.startswith("event: "):
                    kind = line.removeprefix("event: ")
                elif line.startswith("data: "):
                    events.append((kind, json.loads(line.removeprefix("data: ")), time.monotonic()))

    thread = threading.Thread(target=look, daemon=True)
    thread.start()
    try:
        yield
    finally:
        stop.set()  # it ends with the server, or with the next line that it is sent


def until(found, seconds=10):
    """Wait until something is there."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if found():
            return True
        time.sleep(0.02)
    return False


@pytest.fixture
def two(database_url, tmp_path, monkeypatch):
    """Two servers on one database, as on two machines; a stream nobody reads any more ends with its next line."""
    monkeypatch.setattr(live, "STILL_S", 1.0)
    settings = Settings(database_url=database_url, screens=tmp_path)
    with serving(create_app(settings)) as first, serving(create_app(settings)) as second:
        yield first, second


@pytest.fixture
def signed_in_at():
    """Signs somebody in at a server."""
    with ExitStack() as open_ones:

        def sign_in(address, name):
            http = open_ones.enter_context(httpx2.Client(base_url=address))
            answer = http.post("/api/session", json={"sign_in": name, "password": "harbour-light"})
            http.headers["X-CSRF-Token"] = answer.json()["csrf_token"]
            return http

        yield sign_in


def test_a_save_on_one_server_reaches_the_other_within_a_second(two, signed_in_at, engine):
    first, second = two
    with Session(engine) as db, db.begin():
        db.get_one(Assignment, CRATES).drafts_shown = True
    odile, pim, events = signed_in_at(second, "odile"), signed_in_at(first, "pim"), []
    with looking_on(second, dict(odile.cookies), events):
        assert until(lambda: events)
        assert events[0][0] == "again"  # whoever comes asks for the whole board, so nothing before is missed
        saved = time.monotonic()
        body = {"revision": 0, "steps": [RIGHT], "cursor": 1}
        assert pim.put(f"/api/assignments/{CRATES}/draft", json=body).status_code == 200
        assert until(lambda: len(events) > 1)
        kind, told, when = events[1]
        assert (kind, [c["assignment"] for c in told["cells"]]) == ("cells", [CRATES])
        assert told["cells"][0]["in_place"] > 0
        assert when - saved < 5  # a second where nothing else runs; see bench/board.py
        assert pim.post(f"/api/assignments/{CRATES}/submissions", json={"revision": 1}).status_code == 201
        assert until(lambda: len(events) > 2)
        assert events[2][1]["cells"][0]["attempts"] == 1


def test_new_members_and_assignments_refresh_the_board(two, signed_in_at):
    odile, events = signed_in_at(two[0], "odile"), []
    with looking_on(two[1], dict(odile.cookies), events):
        assert until(lambda: events)
        assert odile.post("/api/classes/1/roster", json={"typed": [{"name": "Zoe"}]}).status_code == 201
        assert until(lambda: len(events) > 1)
        odile.put("/api/assignments/1/settings", json={"due": "2030-01-01T18:00:00"})
        assert until(lambda: len(events) > 2)
        assert [kind for kind, _told, _when in events] == ["again"] * 3


def test_saved_sheets_reach_the_board(two, signed_in_at):
    odile, pim, events = signed_in_at(two[0], "odile"), signed_in_at(two[0], "pim"), []
    unit = pim.get(f"/api/assignments/{CRATES}/sheet").json()["conventions"]
    with looking_on(two[0], dict(odile.cookies), events):
        assert until(lambda: events)
        body = {"revision": 0, "sheet": {"conventions": unit, "cells": {"crate-herring": {"scale0": "1"}}}}
        assert pim.put(f"/api/assignments/{CRATES}/sheet", json=body).status_code == 200
        assert until(lambda: len(events) > 1)
        assert events[1][1]["cells"][0]["at_work"] is not None


def test_after_a_lost_connection_to_the_database_the_whole_board_is_asked_for_again(two, signed_in_at, engine):
    odile, events = signed_in_at(two[0], "odile"), []
    with looking_on(two[0], dict(odile.cookies), events):
        assert until(lambda: events)
        with engine.begin() as connection:
            connection.execute(
                text(
                    "select pg_terminate_backend(pid) from pg_stat_activity where query ilike 'listen%' and datname = current_database()"
                )
            )
        assert until(lambda: len(events) > 1)
        assert events[1][0] == "again"


def test_nobody_is_told_of_another_class_nor_after_her_session_has_ended(two, signed_in_at, engine):
    with Session(engine) as db, db.begin():
        db.execute(text("insert into class (name) values ('Elsewhere')"))
        db.execute(
            text(
                "insert into membership (class_id, person_id, role) select 2, id, 'instructor' from person where sign_in = 'wren'"
            )
        )
    wren, odile, pim = (signed_in_at(two[0], name) for name in ("wren", "odile", "pim"))
    assert wren.get("/api/classes/1/live").status_code == 403
    theirs, events = [], []
    with looking_on(two[0], dict(wren.cookies), theirs, 2), looking_on(two[0], dict(odile.cookies), events):
        assert until(lambda: events and theirs)
        with engine.begin() as connection:
            connection.execute(
                text("delete from signed_in where person_id = (select id from person where sign_in = 'odile')")
            )
        pim.put(f"/api/assignments/{CRATES}/draft", json={"revision": 0, "steps": [RIGHT], "cursor": 1})
        time.sleep(1)
        assert (len(events), len(theirs)) == (1, 1)


def test_a_board_of_two_hundred_by_forty_is_few_queries(engine):
    """Not one a row, nor one a cell."""
    from sqlalchemy import event  # noqa: PLC0415 - counts statements here alone

    with Session(engine) as db, db.begin():
        db.execute(
            text(
                "insert into person (sign_in, name, password_hash) select 's' || n, 'Student ' || n, '' from generate_series(1, 200) n"
            )
        )
        db.execute(
            text(
                "insert into membership (class_id, person_id, role) select 1, id, 'student' from person where sign_in ~ '^s[0-9]+$'"
            )
        )
        db.execute(
            text(
                "insert into draft (assignment_id, person_id, document, revision) select a.id, p.id, jsonb_build_object('steps', jsonb_build_array(), 'cursor', 0), 1 from assignment a, person p where p.sign_in ~ '^s[0-9]+$'"
            )
        )
        person = db.execute(text("select id from person where sign_in = 'odile'")).scalar_one()
    from cubedrill.service.marks import board  # noqa: PLC0415
    from cubedrill.store.tables import Person  # noqa: PLC0415

    statements = []
    with Session(engine) as db:
        event.listen(engine, "before_cursor_execute", lambda *a: statements.append(a[2]))
        view = board.board_of(db, db.get_one(Person, person), 1)
    assert len(view.cells) >= 200 * 20
    assert len(statements) <= 12
    assert view.now - datetime.now(UTC) < timedelta(seconds=5)
