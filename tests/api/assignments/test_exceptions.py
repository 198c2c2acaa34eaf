"""Exceptions for single students: what differs for them, and that nobody else learns why."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import text, update
from sqlalchemy.orm import Session

from cubedrill.store.tables import Assignment
from tests.api.assignments.test_setting import FAR, RIGHT_WAY, clock, own_row, put, tried
from tests.api.conftest import CRATES
from tests.api.marks.test_board import cell

REASON = "a family matter"
PATH = f"/api/assignments/{CRATES}/exceptions"


def number_of(odile, *names):
    people = {m["sign_in"]: m["person"] for m in odile.get("/api/classes/1").json()["members"]}
    return [people[name] for name in names]


def except_pim(odile, **options):
    return odile.call("PUT", PATH, json={"people": number_of(odile, "pim"), "reason": REASON, **options})


def due_in(engine, days):
    with Session(engine) as db, db.begin():
        due = datetime.now(UTC).replace(microsecond=0) + timedelta(days=days)
        db.execute(update(Assignment).where(Assignment.id == CRATES).values(due_at=due))
    return due


def test_the_student_sees_the_own_date_and_only_instructors_the_reason(odile, pim, sign_in, engine):
    due = due_in(engine, 1)
    own = due + timedelta(days=7)
    assert except_pim(odile, due=clock(own), attempts=2).status_code == 204
    row = own_row(pim)
    assert (datetime.fromisoformat(row["due_at"]), row["own_due"], row["attempts_left"]) == (own, True, 2)
    assert own_row(sign_in("wren"))["own_due"] is False
    submission = tried(pim, [FAR])[0].json()["submission"]
    for path in ("/api/home", f"/api/assignments/{CRATES}/bench", f"/api/submissions/{submission}"):
        assert REASON not in pim.get(path).text
    news = [each for each in pim.get("/api/home").json()["news"] if each["what"] == "exception changed"]
    assert "your due date is" in news[0]["text"]
    assert cell(odile, "Pim Tasker")["exception"]["reason"] == REASON
    (person,) = number_of(odile, "pim")
    assert REASON in odile.get(f"/api/classes/1/students/{person}").text
    for kind in ("csv", "oneroster", "folder"):
        assert REASON.encode() not in odile.get(f"/api/classes/1/marks?kind={kind}").content


def test_more_attempts_are_allowed_and_no_more(odile, pim):
    put(odile, attempts=1)
    assert tried(pim, [FAR])[0].status_code == 201
    assert tried(pim, RIGHT_WAY)[0].json()["code"] == "no-attempts-left"
    except_pim(odile, attempts=2)
    assert [answer.status_code for answer in tried(pim, RIGHT_WAY, [FAR])] == [201, 409]


@pytest.mark.parametrize(("class_due", "own_due", "shown"), [(-1, 1, False), (1, -1, False), (-2, -1, True)])
def test_feedback_after_the_due_date_waits_for_the_later_of_both_dates(odile, pim, engine, class_due, own_due, shown):
    put(odile, feedback_when="after due")
    due = due_in(engine, class_due)
    except_pim(odile, due=clock(due + timedelta(days=own_due - class_due)))
    submission = tried(pim, [FAR])[0].json()["submission"]
    result = pim.get(f"/api/submissions/{submission}").json()
    assert (result["feedback_at"] is None) == shown
    assert bool(result["report"]["checks"]) == shown
    assert own_row(pim)["mark_shown"] == shown


def test_several_students_at_once_and_back_again(odile, pim, sign_in):
    people = number_of(odile, "pim", "wren")
    assert odile.call("PUT", PATH, json={"people": people, "excused": True}).status_code == 204
    assert [own_row(sign_in(name))["excused"] for name in ("pim", "wren", "theo")] == [True, True, False]
    assert odile.call("PUT", PATH, json={"people": people}).status_code == 204
    assert cell(odile, "Pim Tasker") is None
    assert own_row(pim)["excused"] is False


@pytest.mark.parametrize(
    ("fields", "code"),
    [
        ({"due": "2027-03-28T01:30:00"}, "no-such-time"),  # Lisbon puts its clocks forward then
        ({"due": "2020-01-01T10:00:00"}, "due-before-open"),
    ],
)
def test_a_date_that_cannot_be_is_refused_in_a_sentence_and_nothing_is_done(odile, engine, fields, code):
    with Session(engine) as db, db.begin():
        db.execute(text("update class set time_zone = 'Europe/Lisbon' where id = 1"))
        db.execute(update(Assignment).where(Assignment.id == CRATES).values(opens_at=datetime(2026, 1, 1, tzinfo=UTC)))
    answer = except_pim(odile, **fields)
    assert (answer.status_code, answer.json()["code"]) == (422, code)
    assert answer.json()["detail"].endswith(".")
    assert cell(odile, "Pim Tasker") is None


def test_one_stranger_among_them_and_nobody_gets_an_exception(odile):
    strangers = [m["person"] for m in odile.get("/api/classes/1").json()["members"] if m["role"] == "instructor"]
    people = [*number_of(odile, "pim"), *strangers]
    assert odile.call("PUT", PATH, json={"people": people, "excused": True}).status_code == 404
    assert cell(odile, "Pim Tasker") is None


def test_an_erased_student_leaves_no_exception(odile, engine):
    except_pim(odile, excused=True)
    (person,) = number_of(odile, "pim")
    odile.call("DELETE", f"/api/classes/1/people/{person}")
    answer = odile.call("POST", f"/api/classes/1/people/{person}/erasure", json={"name": "Pim Tasker"})
    assert answer.status_code == 204, answer.text
    with Session(engine) as db:
        assert db.scalar(text("select count(*) from assignment_exception")) == 0


def test_excused_students_are_not_waited_for(odile):
    def row():
        return next(each for each in odile.get("/api/home").json()["taught"] if each["assignment"] == CRATES)

    before = row()["students"]
    except_pim(odile, excused=True)
    assert row()["students"] == before - 1
    assert json.loads(odile.get("/api/classes/1/activity").text)["rows"][0]["text"].endswith("you are excused")
