"""Erasing a person leaves nothing of her in any table, also if she is at work at that very moment."""

import json
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from cubedrill.service.people import accounts
from cubedrill.service.work import bench
from cubedrill.store.tables import Base, Event, Membership, Person, PlanShare, StoredSubmission
from tests.api.conftest import CRATES, RIGHT

HERE = 1
# What is hers, and stands nowhere else.
MARKS = (
    "Zephyrine Quillfeather",
    "zephyrine.q",
    "zephyrine@harbour.example",
    "outside-zq-77",
    "zq-remark",
    "zq-file",
    "zq-cell",
    "zq-browser",
    "198.51.100.77",
)


@pytest.fixture
def zephyrine(app, odile, sign_in):
    """A student with something in every table that can hold anything of a student; then she leaves the class."""
    with Session(app.state.engine) as db, db.begin():
        person = Person(
            sign_in=MARKS[1], name=MARKS[0], email=MARKS[2], outside_id=MARKS[3], password_hash=accounts.PASSWORDS.hash("harbour-light"),
        )  # fmt: skip
        db.add(person)
        db.flush()
        db.add(Membership(class_id=HERE, person_id=person.id, role="student"))
        number = person.id
    caller = sign_in(MARKS[1])
    caller.http.headers["User-Agent"] = MARKS[7]
    revision = caller.save(0, [RIGHT]).json()["revision"]
    submission = caller.submit(revision).json()["submission"]
    rows = [{"object": "crate-rope", "translation": [1, 2, 3]}]
    sheet = {
        "revision": 0,
        "sheet": {"conventions": {}, "cells": {"crate-rope": {"translation0": MARKS[6]}}, "rows": rows},
    }
    assert caller.call("PUT", f"/api/assignments/{CRATES}/sheet", json=sheet).status_code == 200
    content = json.dumps({"objects": [{"id": "crate-rope", "name": MARKS[5]}]}).encode()
    file = caller.call("POST", f"/api/assignments/{CRATES}/files?name={MARKS[5]}.json", content=content).json()["file"]
    assert caller.call("POST", f"/api/assignments/{CRATES}/files/{file}/submissions", json={}).status_code == 201
    odile.call("POST", f"/api/submissions/{submission}/reviews", json={"text": MARKS[4]})
    odile.call("POST", f"/api/submissions/{submission}/reviewed")
    odile.call("POST", f"/api/assignments/{CRATES}/recheck", json={})
    odile.call("PUT", f"/api/classes/{HERE}/people/{number}/role", json={"role": "instructor"})
    caller.http.post("/api/session", json={"sign_in": MARKS[1], "password": "wrong"})
    with Session(app.state.engine) as db, db.begin():
        db.add(PlanShare(plan_id=_some_plan(odile), person_id=number, right="view"))
        db.add(Event(person_id=number, kind="signed in", facts={"sign_in": MARKS[1], "address": MARKS[8]}))
        db.execute(
            text("update signed_in set address = :a, browser = :b where person_id = :p"),
            {"a": MARKS[8], "b": MARKS[7], "p": number},
        )
        assert db.scalar(text("select count(*) from event where facts::text like '%zephyrine.q%'"))
    return number, submission, caller


def _some_plan(odile):
    return odile.call("POST", "/api/plans", json={"title": "A stack"}).json()["plan"]


def leave_and_erase(odile, number):
    assert odile.call("DELETE", f"/api/classes/{HERE}/people/{number}").status_code == 204
    return odile.call("POST", f"/api/classes/{HERE}/people/{number}/erasure", json={"name": MARKS[0]})


def left_of(app, number):
    """Rows of all tables in which something of hers stands, and rows that point at her beside what says that she was there."""
    found, pointing = [], []
    with Session(app.state.engine) as db:
        for table in Base.metadata.sorted_tables:
            for row in db.execute(text(f'select to_jsonb(t)::text from "{table.name}" t')).scalars():  # noqa: S608
                held = row.replace(" ", "")

                found += [(table.name, mark) for mark in MARKS if mark in row or mark.encode().hex() in held]
        for table in (
            "draft",
            "sheet_draft",
            "submission",
            "uploaded_file",
            "mark",
            "signed_in",
            "plan_share",
            "invitation",
        ):
            pointing += [table] * db.scalar(text(f"select count(*) from {table} where person_id = :p"), {"p": number})  # noqa: S608
    return found, pointing


def test_nothing_of_hers_is_left_in_any_table(app, odile, zephyrine):
    number, submission, _caller = zephyrine
    before = {mark for _table, mark in left_of(app, number)[0]}
    assert before == set(MARKS)  # the search finds each of them
    assert leave_and_erase(odile, number).status_code == 204
    assert left_of(app, number) == ([], [])
    assert odile.get(f"/api/submissions/{submission}").status_code == 404
    with Session(app.state.engine) as db:
        assert db.get(Person, number).erased_at is not None


def test_unfinished_work_is_never_kept_under_an_erased_name(app, odile, zephyrine, monkeypatch):
    """A hand-in that is being judged while she is erased: the erasure waits for it, and takes it too."""
    number, _submission, caller = zephyrine
    judging, erased = threading.Event(), threading.Event()
    real = bench.judge_within

    def slowly(*words):
        judging.set()
        erased.wait(1.0)  # the erasure has begun by then, and waits
        return real(*words)

    monkeypatch.setattr(bench, "judge_within", slowly)
    revision = caller.save(1, [RIGHT, RIGHT]).json()["revision"]
    assert odile.call("DELETE", f"/api/classes/{HERE}/people/{number}").status_code == 204
    with Session(app.state.engine) as db, db.begin():  # she is in the class again for the moment that counts
        db.get(Membership, (HERE, number)).left_at = None
    with ThreadPoolExecutor(2) as several:
        handing_in = several.submit(caller.submit, revision)
        assert judging.wait(20)
        with Session(app.state.engine) as db, db.begin():
            membership = db.get(Membership, (HERE, number))
            membership.left_at = membership.since
        erasing = several.submit(
            odile.call, "POST", f"/api/classes/{HERE}/people/{number}/erasure", json={"name": MARKS[0]}
        )
        answers = handing_in.result(60).status_code, erasing.result(60).status_code
    assert answers == (201, 204)
    assert left_of(app, number) == ([], [])
    with Session(app.state.engine) as db:
        assert db.scalars(select(StoredSubmission).where(StoredSubmission.person_id == number)).all() == []


def test_an_erased_person_cannot_change_anything(app, odile, zephyrine):
    number, _submission, caller = zephyrine
    assert leave_and_erase(odile, number).status_code == 204
    assert caller.save(1, [RIGHT]).status_code == 401
    assert left_of(app, number) == ([], [])
