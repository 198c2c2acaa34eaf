"""Classes and their people: lists, codes, one-time passwords, leaving and erasing, and what is written down of it."""

import base64
import re
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from cubedrill.demo.load import PASSWORD
from cubedrill.service.people import accounts, classes
from cubedrill.store.tables import Event, JoinCode, Membership, Person
from tests.api.conftest import RIGHT, Caller

OWN = "a tide of my own"


@pytest.fixture
def own_class(odile):
    """A class of Odile's with nobody else in it."""
    return odile.call("POST", "/api/classes", json={"name": "Dry dock", "time_zone": "Europe/Lisbon"}).json()["id"]


def bring(caller, class_id, *rows, preview=False, **more):
    typed = [{"name": name, "sign_in": sign_in} for name, sign_in in rows]
    place = f"/api/classes/{class_id}/roster" + ("/preview" if preview else "")
    return caller.call("POST", place, json={"typed": typed, **more})


def csv_of(text, name="class.csv"):
    return {"files": [{"name": name, "content": base64.b64encode(text.encode()).decode()}]}


def members(caller, class_id):
    return {row["sign_in"]: row for row in caller.get(f"/api/classes/{class_id}").json()["members"]}


def newcomer(app, slip):
    """Somebody who has chosen a password of her own after her first sign-in."""
    caller = Caller(app, slip["sign_in"], slip["password"])
    answer = caller.call("PUT", "/api/session/password", json={"old": slip["password"], "new": OWN})
    assert answer.status_code == 204, answer.text
    return caller


def test_a_list_of_five_hundred_with_every_kind_of_mistake_says_row_by_row_what_it_would_do(odile, app, engine):
    with Session(engine) as db, db.begin():
        db.add(Person(sign_in="taken", name="Somebody Else", password_hash=""))
    lines = ["name,sign-in,e-mail,outside id"]
    lines += [f"Student {n},s{n},s{n}@harbour.example,S{n}" for n in range(480)]
    wrong = [
        ",nameless,,",
        "Bad Sign,two words,,",
        "Bad Mail,bad.mail,nowhere,",
        "Twice One,s1,,",
        "Twice Mail,tm,s2@harbour.example,",
        "Twice Id,ti,,S3",
        "Not Taken,taken,,",
        "Odd \x01 Char,odd,,",
        "Pim Tasker,,,",
        f"{'Long' * 60},long,,",
    ]
    lines += wrong
    fine = ["Pim Tasker,pim,,", "Wren Adeyemi,wren,wren@harbour.example,", "New Without Sign,,,"]
    sent = csv_of("\n".join([*lines, *fine]))
    before = members(odile, 1)
    reviewed = odile.call("POST", "/api/classes/1/roster/preview", json=sent).json()
    assert members(odile, 1) == before  # nothing is done by looking
    rows = reviewed["rows"]
    assert [row["does"] for row in rows] == ["new"] * 480 + ["refused"] * len(wrong) + ["known", "changed", "new"]
    assert all(row["why"].endswith(".") for row in rows if row["does"] == "refused")
    assert rows[-1]["sign_in"] == "new.without.sign"
    assert "e-mail was none" in rows[-2]["why"]
    done = odile.call("POST", "/api/classes/1/roster", json=sent).json()
    assert done["rows"] == rows
    assert len(done["slips"]) == 481
    assert len(members(odile, 1)) == len(before) + 481
    assert len({slip["password"] for slip in done["slips"]}) == 481
    again = odile.call("POST", "/api/classes/1/roster/preview", json=sent).json()["rows"]
    assert {row["does"] for row in again[:480]} == {"known"}
    assert newcomer(app, done["slips"][7]).get("/api/home").json()["to_do"] != []


@pytest.mark.parametrize("content", ["", "no,heads\n1,2\n"])
def test_a_file_that_is_no_list_is_refused_whole(odile, own_class, content):
    answer = odile.call("POST", f"/api/classes/{own_class}/roster", json=csv_of(content))
    assert (answer.status_code, answer.json()["code"]) == (422, "unreadable-roster")
    assert len(members(odile, own_class)) == 1


def test_a_one_time_password_opens_nothing_but_the_choice_of_ones_own(odile, own_class, app):
    slip = bring(odile, own_class, ("Zoë Quayle", "zoe")).json()["slips"][0]
    assert re.fullmatch(r"([a-z2-9]{4}-){2}[a-z2-9]{4}", slip["password"])
    zoe = Caller(app, "zoe", slip["password"])
    assert zoe.get("/api/session").json()["must_choose"] is True
    for method, place, body in (
        ("GET", "/api/home", None), ("GET", "/api/classes", None), ("PUT", "/api/assignments/1/draft", {}),
    ):  # fmt: skip
        assert zoe.call(method, place, json=body).json()["code"] == "choose-password"
    elsewhere = Caller(app, "zoe", slip["password"])
    weak = zoe.call("PUT", "/api/session/password", json={"old": slip["password"], "new": slip["password"]})
    assert weak.json()["code"] == "weak-password"
    assert zoe.call("PUT", "/api/session/password", json={"old": slip["password"], "new": OWN}).status_code == 204
    assert zoe.get("/api/home").status_code == 200
    assert elsewhere.get("/api/session").status_code == 401
    assert (
        Caller(app, None)
        .call("POST", "/api/session", json={"sign_in": "zoe", "password": slip["password"]})
        .status_code
        == 401
    )
    assert Caller(app, "zoe", OWN).get("/api/session").json()["must_choose"] is False


def test_a_one_time_password_ends(odile, own_class, app, engine):
    slip = bring(odile, own_class, ("Zoë Quayle", "zoe")).json()["slips"][0]
    until = datetime.fromisoformat(slip["until"])
    assert abs(until - datetime.now(UTC) - accounts.ONE_TIME) < timedelta(minutes=1)
    with Session(engine) as db, db.begin():
        db.execute(text("update person set one_time_until = now() - interval '1 second' where sign_in = 'zoe'"))
    answer = Caller(app, None).call("POST", "/api/session", json={"sign_in": "zoe", "password": slip["password"]})
    assert (answer.status_code, answer.json()["code"]) == (401, "one-time-ended")


@pytest.mark.parametrize(
    ("new", "says"),
    [
        ("short one", "fewer than 10"),
        ("ninechars", "fewer than 10"),
        ("aaaaaaaaaaaa", "too few different"),
        ("pimtasker", "fewer than 10"),
        ("pim-tasker", "your name"),
        ("TaskerPim2", "your name"),
        (PASSWORD, "your current password"),
    ],
)
def test_a_password_that_is_soon_guessed_is_refused(sign_in, app, new, says):
    answer = sign_in("pim").call("PUT", "/api/session/password", json={"old": PASSWORD, "new": new})
    assert (answer.status_code, answer.json()["code"]) == (422, "weak-password")
    assert says in answer.json()["detail"]
    assert Caller(app, "pim").get("/api/home").status_code == 200


def test_the_old_password_is_asked_for_and_cannot_be_tried_for_ever(sign_in):
    pim = sign_in("pim")
    body = {"old": "guess", "new": OWN}
    codes = [pim.call("PUT", "/api/session/password", json=body).json()["code"] for _ in range(accounts.FREE_TRIES + 1)]
    assert codes == ["wrong-password"] * accounts.FREE_TRIES + ["too-many-sign-ins"]


def test_one_sees_where_one_is_signed_in_and_ends_it_there(sign_in):
    here, there = sign_in("pim"), sign_in("pim")
    theirs = sign_in("wren").get("/api/session/all").json()[0]["id"]
    rows = here.get("/api/session/all").json()
    assert sorted(row["here"] for row in rows) == [False, True]
    assert here.call("DELETE", f"/api/session/all/{theirs}").status_code == 404
    other = next(row["id"] for row in rows if not row["here"])
    assert here.call("DELETE", f"/api/session/all/{other}").status_code == 204
    assert (there.get("/api/home").status_code, here.get("/api/home").status_code) == (401, 200)


def joins(app, code, **more):
    body = {"code": code, "name": "Zoë Quayle", "sign_in": "Zoe", "password": OWN, **more}
    return Caller(app, None).call("POST", "/api/session/new", json=body)


def test_a_code_lets_students_in_until_it_ends(odile, own_class, app, sign_in, engine):
    code = odile.call("POST", f"/api/classes/{own_class}/codes", json={"minutes": 60}).json()["code"]
    spoken = f" {code[:3].lower()}-{code[3:]} "
    assert joins(app, spoken).status_code == 201
    assert joins(app, spoken).json()["code"] == "sign-in-taken"
    assert joins(app, spoken, sign_in="weak", password="short").json()["code"] == "weak-password"
    assert sign_in("pim").call("POST", "/api/session/class", json={"code": code}).json() == {"class_id": own_class}
    assert {m["role"] for name, m in members(odile, own_class).items() if name != "odile"} == {"student"}
    assert odile.call("POST", "/api/session/class", json={"code": code}).status_code == 201
    assert members(odile, own_class)["odile"]["role"] == "instructor"  # who teaches it does not become a student
    with Session(engine) as db, db.begin():
        db.get_one(JoinCode, code).ends_at = datetime.now(UTC) - timedelta(seconds=1)
    assert joins(app, code, sign_in="late").json()["code"] == "no-such-code"
    assert odile.get(f"/api/classes/{own_class}").json()["codes"] == []


def test_a_code_can_be_ended_and_guessing_one_slows_down(odile, own_class, app, engine):
    code = odile.call("POST", f"/api/classes/{own_class}/codes", json={"minutes": 60}).json()["code"]
    assert odile.call("DELETE", f"/api/classes/1/codes/{code}").json()["code"] == "no-such-code"  # of another class
    assert odile.call("DELETE", f"/api/classes/{own_class}/codes/{code}").status_code == 204
    for number in range(accounts.FREE_TRIES_AN_ADDRESS + 3):
        with Session(engine) as db:
            accounts.tried_code(db, "192.0.2.1", datetime.now(UTC))
        del number
    assert joins(app, code).json()["code"] == "no-such-code"
    with Session(engine) as db:
        assert accounts.slowed_s(db, "192.0.2.1", datetime.now(UTC)) == pytest.approx(0.3)
        assert accounts.slowed_s(db, "192.0.2.2", datetime.now(UTC)) == 0


def test_many_at_once_under_one_sign_in_are_one_person_and_the_others_are_told(odile, own_class, app):
    code = odile.call("POST", f"/api/classes/{own_class}/codes", json={"minutes": 60}).json()["code"]
    with ThreadPoolExecutor(6) as several:
        answers = list(several.map(lambda _n: joins(app, code), range(6)))
    assert sorted(answer.status_code for answer in answers) == [201, *[409] * 5]


def test_codes_have_no_letters_that_are_taken_for_others():
    assert not set("ilo01") & set(accounts.LETTERS)
    assert len(accounts.LETTERS) ** classes.CODE_LENGTH > 2 * 10**10


def test_an_instructor_cannot_act_for_members_of_other_classes(odile, own_class, engine):
    """Else whoever brings somebody into a class could apply what she is elsewhere."""
    with Session(engine) as db, db.begin():
        other = Person(sign_in="zoe", name="Zoë Quayle", password_hash="")
        db.add(other)
        db.flush()
        elsewhere = db.execute(text("insert into class (name) values ('Elsewhere') returning id")).scalar_one()
        db.add(Membership(class_id=elsewhere, person_id=other.id, role="student"))
        zoe = other.id
    assert bring(odile, own_class, ("Zoe Changed", "zoe"), preview=True).json()["rows"][0]["does"] == "refused"
    assert bring(odile, own_class, ("Zoë Quayle", "zoe")).json()["rows"][0]["does"] == "joins"
    assert members(odile, own_class)["zoe"]["mine"] is False
    answer = odile.call("POST", f"/api/classes/{own_class}/slips", json={"people": [zoe]})
    assert (answer.status_code, answer.json()["code"]) == (403, "not-only-yours")
    assert odile.call("DELETE", f"/api/classes/{own_class}/people/{zoe}").status_code == 204
    answer = odile.call("POST", f"/api/classes/{own_class}/people/{zoe}/erasure", json={"name": "Zoë Quayle"})
    assert answer.json()["code"] == "not-only-yours"


def test_a_new_one_time_password_ends_the_old_one_and_the_sessions(odile, sign_in, app):
    pim, number = sign_in("pim"), members(odile, 1)["pim"]["person"]
    slip = odile.call("POST", "/api/classes/1/slips", json={"people": [number]}).json()[0]
    assert pim.get("/api/home").status_code == 401
    assert (
        Caller(app, None).call("POST", "/api/session", json={"sign_in": "pim", "password": PASSWORD}).status_code == 401
    )
    assert newcomer(app, slip).get("/api/home").status_code == 200
    odiles = members(odile, 1)["odile"]["person"]
    answer = odile.call("POST", "/api/classes/1/slips", json={"people": [odiles]})
    assert answer.json()["code"] == "not-only-yours"  # an instructor's is no instructor's to give


def test_a_removed_student_loses_access_and_the_work_stays(odile, sign_in):
    pim, number = sign_in("pim"), members(odile, 1)["pim"]["person"]
    pim.save(0, [RIGHT])
    submission = pim.submit(1).json()["submission"]
    assert odile.call("DELETE", f"/api/classes/1/people/{number}").status_code == 204
    assert pim.get("/api/home").json()["to_do"] == []
    assert pim.save(1, [RIGHT]).status_code == 404
    assert pim.get(f"/api/submissions/{submission}").status_code == 200  # her own
    assert odile.get(f"/api/submissions/{submission}").json()["student"] == "Pim Tasker"
    assert members(odile, 1)["pim"]["left_at"] is not None
    assert bring(odile, 1, ("Pim Tasker", "pim"), preview=True).json()["rows"][0]["does"] == "back"
    bring(odile, 1, ("Pim Tasker", "pim"))
    assert pim.get("/api/home").json()["to_do"] != []


def test_a_student_is_moved_to_another_class_of_the_same_instructor(odile, own_class, sign_in):
    number = members(odile, 1)["pim"]["person"]
    assert odile.call("POST", f"/api/classes/1/people/{number}/move", json={"to": own_class}).status_code == 204
    assert members(odile, own_class)["pim"]["role"] == "student"
    assert sign_in("pim").get("/api/home").json()["to_do"] == []
    back = odile.call("POST", f"/api/classes/{own_class}/people/{number}/move", json={"to": 1})
    assert back.status_code == 204
    assert members(odile, 1)["pim"]["left_at"] is None
    assert odile.call("POST", f"/api/classes/1/people/{number}/move", json={"to": 999}).status_code == 404


def test_a_class_keeps_an_instructor(odile, sign_in):
    rows = members(odile, 1)
    odiles, pims = rows["odile"]["person"], rows["pim"]["person"]
    role = {"role": "student"}
    assert odile.call("PUT", f"/api/classes/1/people/{odiles}/role", json=role).json()["code"] == "last-instructor"
    assert odile.call("DELETE", f"/api/classes/1/people/{odiles}").json()["code"] == "last-instructor"
    assert odile.call("PUT", f"/api/classes/1/people/{pims}/role", json={"role": "instructor"}).status_code == 204
    assert odile.call("DELETE", f"/api/classes/1/people/{odiles}").json()["code"] == "last-instructor"  # asked, not yet
    pim = sign_in("pim")
    assert pim.call("POST", "/api/invitations/1").status_code == 204
    assert pim.get("/api/classes/1").status_code == 200
    assert odile.call("DELETE", f"/api/classes/1/people/{odiles}").status_code == 204


def test_erasing_takes_work_and_name_and_leaves_that_it_was_done(odile, sign_in, engine):
    pim, number = sign_in("pim"), members(odile, 1)["pim"]["person"]
    pim.save(0, [RIGHT])
    submission = pim.submit(1).json()["submission"]
    odile.call("POST", f"/api/submissions/{submission}/reviews", json={"text": "Well done."})
    place = f"/api/classes/1/people/{number}/erasure"
    assert odile.call("POST", place, json={"name": "Pim Tasker"}).status_code == 404  # not before leaving
    odile.call("DELETE", f"/api/classes/1/people/{number}")
    assert odile.call("POST", place, json={"name": "Pim"}).json()["code"] == "name-differs"
    assert odile.call("POST", place, json={"name": "Pim Tasker"}).status_code == 204
    assert odile.get(f"/api/submissions/{submission}").status_code == 404
    assert pim.get("/api/home").status_code == 401
    with Session(engine) as db:
        whole = "\n".join(
            str(row)
            for table in ("person", "event", "draft", "submission", "report", "review", "mark", "sign_in_failure")
            for row in db.execute(text(f"select * from {table}"))  # noqa: S608 - names of tables, of this test's own
        )
        assert "Pim Tasker" not in whole
        assert "'pim'" not in whole
        person = db.get_one(Person, number)
        assert (person.name, person.erased_at is not None) == ("Somebody erased", True)
        assert db.scalar(select(Event.facts).where(Event.kind == "erased")) == {"person": number}
    assert all(row["person"] != number for row in odile.get("/api/classes/1").json()["members"])
    assert odile.call("POST", place, json={"name": "Somebody erased"}).status_code == 404


def test_activity_is_listed_in_sentences(odile, own_class):
    bring(odile, own_class, ("Zoë Quayle", "zoe"))
    done = odile.get(f"/api/classes/{own_class}/activity").json()
    assert [(row["who"], row["text"]) for row in done["rows"]] == [
        ("Odile Marchbanks", "added Zoë Quayle as student"),
        ("Odile Marchbanks", "created the class Dry dock"),
    ]
    assert (
        odile.get(f"/api/classes/{own_class}/activity?before={done['rows'][0]['id']}").json()["rows"]
        == done["rows"][1:]
    )


@pytest.mark.parametrize("zone", ["Mars/Olympus", "Etc/GMT+3", "../etc/passwd", ""])
def test_a_zone_that_there_is_not_is_refused(odile, zone):
    answer = odile.call("POST", "/api/classes", json={"name": "Dry dock", "time_zone": zone})
    assert (answer.status_code, answer.json()["code"]) == (422, "no-such-zone")


def test_the_first_instructor_is_made_on_the_command_line_and_makes_a_class(database_url, app, monkeypatch):
    from typer.testing import CliRunner  # noqa: PLC0415 - the command line is needed here alone

    from cubedrill.cli import app as commands  # noqa: PLC0415

    monkeypatch.setenv("CUBE_DRILL_DATABASE_URL", database_url)
    said = CliRunner().invoke(commands, ["person", "add", "Brand Holloway", "brand"])
    assert said.exit_code == 0, said.output
    password = re.search(r"with (\S+) until", said.output)[1]
    brand = newcomer(app, {"sign_in": "brand", "password": password})
    assert brand.get("/api/classes").json()["classes"] == []
    assert brand.call("POST", "/api/classes", json={"name": "Slipway", "time_zone": "UTC"}).status_code == 201
    assert CliRunner().invoke(commands, ["person", "add", "Brand Holloway", "brand"]).exit_code == 1
    assert CliRunner().invoke(commands, ["person", "add", "Brand Holloway", "bad name"]).exit_code == 1
