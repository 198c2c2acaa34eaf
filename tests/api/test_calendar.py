"""The calendar feed, read by an independent parser of iCalendar (vobject)."""

from datetime import UTC, datetime, timedelta

import vobject
from sqlalchemy import text
from sqlalchemy.orm import Session

from tests.api.assignments.test_exceptions import except_pim
from tests.api.assignments.test_setting import clock
from tests.api.conftest import CRATES

CRATES_DUE = "Due: Crates for the morning boat"


def feed_of(caller):
    return caller.call("POST", "/api/calendar").json()["address"].removeprefix("http://testserver")


def events(nobody, path):
    answer = nobody.get(path)
    assert answer.status_code == 200, answer.text
    assert answer.headers["content-type"].startswith("text/calendar")
    calendar = vobject.readOne(answer.content.decode())
    calendar.validate(raiseException=True)
    return list(getattr(calendar, "vevent_list", []))


def titled(found, start):
    return next((event for event in found if event.summary.value.startswith(start)), None)


def test_a_student_and_an_instructor_have_the_due_dates_without_signing_in(odile, pim, sign_in):
    nobody = sign_in(None)
    assert pim.get("/api/calendar").json() == {"address": None}
    mine = events(nobody, feed_of(pim))
    home = pim.get("/api/home").json()["to_do"]
    assert {event.dtstart.value for event in mine} == {datetime.fromisoformat(r["due_at"]) for r in home}
    assert len(mine) == len(home)
    crates = titled(mine, CRATES_DUE)
    assert crates.url.value == f"http://testserver/bench/{CRATES}"
    taught = events(nobody, feed_of(odile))
    assert {event.dtstart.value for event in taught} == {
        datetime.fromisoformat(row["due_at"]) for row in odile.get("/api/home").json()["taught"]
    }


def test_the_own_due_date_stands_in_it_and_what_is_excused_or_archived_does_not(odile, pim, sign_in):
    nobody, path = sign_in(None), feed_of(pim)
    due = (datetime.now(UTC) + timedelta(days=30)).replace(microsecond=0)
    before = titled(events(nobody, path), CRATES_DUE)
    except_pim(odile, due=clock(due))
    after = titled(events(nobody, path), CRATES_DUE)
    assert (after.dtstart.value, after.uid.value) == (
        due,
        before.uid.value,
    )  # so that calendars move the date they have
    except_pim(odile, excused=True)
    assert titled(events(nobody, path), CRATES_DUE) is None
    odile.call("PUT", "/api/classes/1/archive", json={"archived": True})
    assert events(nobody, path) == []


def test_an_address_ends_when_it_is_renewed(pim, sign_in):
    nobody, first = sign_in(None), feed_of(pim)
    second = feed_of(pim)
    assert first != second
    answer = nobody.get(first)
    assert (answer.status_code, answer.json()["code"]) == (404, "no-such-calendar")
    assert events(nobody, second)
    assert pim.get("/api/calendar").json()["address"].endswith(second)


def test_titles_with_any_letters_are_read_back(pim, sign_in, engine):
    with Session(engine) as db, db.begin():
        db.execute(text("update class set name = E'Saltmere; \\\\ night, \"class\" ÄÖ 🚢' where id = 1"))
    found = events(sign_in(None), feed_of(pim))
    assert {event.summary.value.rpartition(" (")[2] for event in found} == {'Saltmere; \\ night, "class" ÄÖ 🚢)'}
