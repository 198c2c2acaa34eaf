"""How things are set: every field at its edge, in the class's time zone over a change of summer time."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from cubedrill.demo.load import HERE
from cubedrill.service.assignments.settings import AssignmentOptions, moment
from cubedrill.service.errors import RefusedError
from cubedrill.service.work import bench
from cubedrill.store.tables import Assignment, Person
from tests.api.conftest import CRATES, RIGHT
from tests.jobs import do_all

GANGWAY = 5
NEAR = {**RIGHT, "to": [-3, 0.15, -1.5]}
FAR = {**RIGHT, "to": [3, 0.15, 2]}


def put(odile, assignment=CRATES, **fields):
    setting = odile.get(f"/api/assignments/{assignment}/settings").json()
    kept = {
        name: setting[name]
        for name in (
            "opens",
            "due",
            "attempts",
            "counts",
            "feedback",
            "feedback_when",
            "late",
            "late_per_day",
            "late_floor",
            "drafts_shown",
        )
    }
    return odile.call("PUT", f"/api/assignments/{assignment}/settings", json={**kept, **fields})


def clock(at):
    return at.replace(tzinfo=None, microsecond=0).isoformat()


RIGHT_WAY = json.loads((HERE / "exercises" / "crates-morning-boat.json").read_text())["reference"]["steps"]


def tried(pim, *lists):
    """Hand each of these lists of steps in, one after the other; returns the submissions."""
    revision, made = pim.get(f"/api/assignments/{CRATES}/bench").json()["draft"]["revision"], []
    for steps in lists:
        revision = pim.save(revision, steps).json()["revision"]
        made.append(pim.submit(revision))
    return made


def own_row(caller):
    return next(row for row in caller.get("/api/home").json()["to_do"] if row["assignment"] == CRATES)


# When clocks change: the IANA time zone database, 2026 and 2027; Europe/Lisbon goes forward at 01:00 on 28 March 2027
# and back at 02:00 on 31 October 2027, America/New_York forward at 02:00 on 14 March 2027 and back on 7 November 2027.
@pytest.mark.parametrize(
    ("shown", "zone", "fold", "found"),
    [
        ("2027-03-28T00:59", "Europe/Lisbon", 0, "2027-03-28T00:59"),
        ("2027-03-28T02:00", "Europe/Lisbon", 0, "2027-03-28T01:00"),
        ("2027-10-31T00:59", "Europe/Lisbon", 0, "2027-10-30T23:59"),
        ("2027-10-31T01:30", "Europe/Lisbon", 0, "2027-10-31T00:30"),
        ("2027-10-31T01:30", "Europe/Lisbon", 1, "2027-10-31T01:30"),
        ("2027-10-31T02:00", "Europe/Lisbon", 1, "2027-10-31T02:00"),
        ("2027-03-14T03:00", "America/New_York", 0, "2027-03-14T07:00"),
        ("2027-11-07T01:30", "America/New_York", 0, "2027-11-07T05:30"),
        ("2027-11-07T01:30", "America/New_York", 1, "2027-11-07T06:30"),
        ("2026-12-01T18:00", "Asia/Kathmandu", 0, "2026-12-01T12:15"),
        ("2026-12-01T18:00", "UTC", 1, "2026-12-01T18:00"),
    ],
)
def test_a_clock_of_the_class_is_a_moment(shown, zone, fold, found):
    assert moment(datetime.fromisoformat(shown), zone, fold) == datetime.fromisoformat(found).replace(tzinfo=UTC)


@pytest.mark.parametrize(
    ("shown", "zone"), [("2027-03-28T01:30", "Europe/Lisbon"), ("2027-03-14T02:00", "America/New_York")]
)
def test_a_time_that_clocks_leave_out_is_refused(shown, zone):
    with pytest.raises(RefusedError) as refused:
        moment(datetime.fromisoformat(shown), zone, 0)
    assert refused.value.code == "no-such-time"


def test_an_hour_that_comes_twice_is_taken_kindly():
    columns = AssignmentOptions(due=datetime(2027, 10, 31, 1, 30), opens=datetime(2027, 10, 31, 1, 30)).columns(
        "Europe/Lisbon"
    )
    assert columns["due_at"] - columns["opens_at"] == timedelta(hours=1)


@pytest.mark.parametrize("minutes", [0, 1])
def test_it_opens_before_it_is_due(odile, minutes):
    due = datetime.now(UTC) + timedelta(days=1)
    answer = put(odile, due=clock(due), opens=clock(due + timedelta(minutes=minutes)))
    assert (answer.status_code, answer.json()["code"]) == (422, "due-before-open")


@pytest.mark.parametrize(("seconds", "late"), [(-60, False), (0, False), (60, True)])
def test_late_is_what_comes_after_it_was_due(odile, pim, engine, seconds, late):
    pim.save(0, [RIGHT])
    with Session(engine) as db, db.begin():
        person = db.query(Person).filter_by(sign_in="pim").one()
        due = db.get_one(Assignment, CRATES).due_at
        submission = bench.submit(db, person, CRATES, 1, due + timedelta(seconds=seconds))
    assert odile.get(f"/api/submissions/{submission}").json()["days_late"] == late
    assert own_row(pim)["work"]["late"] is late
    put(odile, late="does not count")
    assert (own_row(pim)["work"]["score"] is None) is late


@pytest.mark.parametrize(
    ("terms", "code"),
    [
        ({"late": "per day", "late_per_day": 0.0}, "late-cost"),
        ({"late": "per day", "late_per_day": 1.5}, "late-cost"),
        ({"late": "per day", "late_per_day": 0.1, "late_floor": 1.2}, "late-floor"),
    ],
)
def test_a_cost_of_late_work_that_makes_no_sense_is_refused(odile, terms, code):
    before = odile.get(f"/api/assignments/{CRATES}/settings").json()
    answer = put(odile, **terms)
    assert (answer.status_code, answer.json()["code"]) == (422, code)
    assert odile.get(f"/api/assignments/{CRATES}/settings").json() == before


@pytest.mark.parametrize("seconds", [-60, 60])
def test_students_come_in_from_when_it_opens_on(odile, pim, engine, seconds):
    with Session(engine) as db, db.begin():
        db.get_one(Assignment, CRATES).opens_at = datetime.now(UTC) + timedelta(seconds=seconds)
    wanted = 200 if seconds < 0 else 403
    assert pim.get(f"/api/assignments/{CRATES}/bench").status_code == wanted
    assert pim.save(0, [RIGHT]).status_code == wanted
    assert (own_row(pim)["opens_at"] is None) is (seconds < 0)
    assert odile.get(f"/api/assignments/{CRATES}/submissions").status_code == 200


def test_the_last_try_is_taken_and_one_more_is_not(odile, pim):
    put(odile, attempts=2)
    answers = tried(pim, [NEAR], [FAR], [RIGHT])
    assert [answer.status_code for answer in answers] == [201, 201, 409]
    assert answers[2].json()["code"] == "no-attempts-left"
    assert own_row(pim)["attempts_left"] == 0
    bench_view = pim.get(f"/api/assignments/{CRATES}/bench").json()
    assert (bench_view["attempts_left"], len(bench_view["draft"]["steps"])) == (0, 1)  # the work is kept
    put(odile, attempts=3)
    assert pim.submit(bench_view["draft"]["revision"]).status_code == 201


def test_the_same_revision_again_uses_no_try(odile, pim):
    put(odile, attempts=1)
    pim.save(0, [RIGHT])
    first, again = pim.submit(1), pim.submit(1)
    assert (first.status_code, again.json()) == (201, first.json())


@pytest.mark.parametrize("counts", ["best", "last"])
def test_best_or_last_counts(odile, pim, counts):
    put(odile, counts=counts)
    tried(pim, [FAR], RIGHT_WAY, [FAR])
    scores = [pim.get(f"/api/submissions/{row['submission']}").json()["mark"]["score"] for row in
              pim.get(f"/api/submissions/{own_row(pim)['work']['newest_submission']}").json()["attempts"]]  # fmt: skip
    assert own_row(pim)["work"]["score"] == (max(scores) if counts == "best" else scores[-1])
    assert scores[1] > scores[2]


def test_each_try_is_compared_with_the_one_before(odile, pim):
    first, second, third = (a.json()["submission"] for a in tried(pim, [FAR], RIGHT_WAY, RIGHT_WAY[:-1]))
    assert pim.get(f"/api/submissions/{first}").json()["since"] is None
    since = pim.get(f"/api/submissions/{second}").json()["since"]
    reports = [pim.get(f"/api/submissions/{each}").json()["report"]["checks"] for each in (first, second, third)]
    points = [{check["label"]: check["points"] for check in checks} for checks in reports]
    assert since == {"number": 1, "better": [n for n in points[1] if points[1][n] > points[0][n]], "worse": []}
    assert since["better"] != []
    since = pim.get(f"/api/submissions/{third}").json()["since"]
    assert (since["better"], since["worse"]) == ([], [n for n in points[2] if points[2][n] < points[1][n]])
    assert since["worse"] != []
    put(odile, feedback="nothing")
    assert pim.get(f"/api/submissions/{third}").json()["since"] is None


def test_late_work_that_does_not_count_leaves_the_mark_of_what_came_in_time(odile, pim, engine):
    put(odile, late="does not count")
    tried(pim, [FAR])
    in_time = own_row(pim)["work"]["score"]
    with Session(engine) as db, db.begin():
        db.get_one(Assignment, CRATES).due_at = datetime.now(UTC)
    tried(pim, RIGHT_WAY)
    assert own_row(pim)["work"]["score"] == in_time
    put(odile, late="no cost")
    assert own_row(pim)["work"]["score"] > in_time


@pytest.mark.parametrize("told", ["nothing", "check", "hint", "cause"])
def test_how_much_is_told_is_as_it_is_set(odile, sign_in, told):
    put(odile, feedback=told)
    rows = odile.get(f"/api/assignments/{CRATES}/submissions").json()["rows"]
    row = next(row for row in rows if row["causes"])
    submission = row["work"]["newest_submission"]
    seen = sign_in(row["student"].split()[0].lower()).get(f"/api/submissions/{submission}").json()
    assert (seen["report"]["checks"] != []) is (told != "nothing")
    assert (seen["causes"] != []) is (told in ("hint", "cause"))
    assert (seen["reference"] is not None) is (told == "cause")
    assert odile.get(f"/api/submissions/{submission}").json()["reference"] is not None


def test_a_hint_that_several_causes_share_is_shown_once(odile, pim, engine):
    """Two steps of the same object are missing: two causes, and one place to look."""
    put(odile, assignment=GANGWAY, feedback="hint")
    rail = {"op": "move", "objects": ["rail-s"], "space": "world", "by": [1, 0, 0]}
    revision = pim.save(0, [rail], assignment=GANGWAY).json()["revision"]
    submission = pim.submit(revision, assignment=GANGWAY).json()["submission"]
    do_all(engine)
    assert len(odile.get(f"/api/submissions/{submission}").json()["causes"]) == 2
    hints = [cause["text"] for cause in pim.get(f"/api/submissions/{submission}").json()["causes"]]
    assert hints == ["Check whether Gangway still needs a step."]


def test_feedback_for_after_the_due_date_appears_nowhere_before_it(odile, pim, engine):
    put(odile, feedback_when="after due")
    submission = tried(pim, [NEAR], RIGHT_WAY)[1].json()["submission"]
    odile.call("POST", f"/api/submissions/{submission}/reviews", json={"text": "Nearly."})
    seen = pim.get(f"/api/submissions/{submission}").json()
    assert seen["feedback_at"] is not None
    assert (seen["report"]["score"], seen["report"]["checks"], seen["causes"], seen["changes"]) == (None, [], [], [])
    assert (seen["mark"]["score"], seen["mark"]["passed"], seen["reference"]) == (None, False, None)
    assert {row["mark"]["score"] for row in seen["attempts"]} == {None}
    row = own_row(pim)
    assert (row["mark_shown"], row["work"]["score"], row["work"]["passed"], row["work"]["attempts"]) == (
        False,
        None,
        False,
        2,
    )
    bench_work = pim.get(f"/api/assignments/{CRATES}/bench").json()["work"]
    assert (bench_work["score"], bench_work["passed"]) == (None, False)
    assert odile.get(f"/api/submissions/{submission}").json()["mark"]["passed"] is True
    with Session(engine) as db, db.begin():
        db.get_one(Assignment, CRATES).due_at = datetime.now(UTC)
    seen = pim.get(f"/api/submissions/{submission}").json()
    assert (seen["feedback_at"], seen["mark"]["passed"], len(seen["changes"])) == (None, True, 1)
    assert own_row(pim)["work"]["passed"] is True


def test_changes_are_recorded_in_words(odile):
    put(odile, attempts=3, counts="last")
    put(odile, attempts=3, counts="last")  # nothing changed
    told = [row["text"] for row in odile.get("/api/classes/1/activity").json()["rows"]]
    assert told[0].endswith(": attempts allowed, attempt that counts")
    assert sum("changed the settings" in line for line in told) == 1


@pytest.fixture
def versions(engine):
    """The ids of two versions of the crates, the first of them set."""
    with Session(engine) as db, db.begin():
        document = db.execute(text("select document, shape from exercise_version where id = 1")).one()
        renamed = json.loads(json.dumps(document[0]).replace("crate-herring", "crate-of-herring"))
        made = []
        for number, kept in ((2, {**document[0], "title": "Crates again"}), (3, renamed)):
            made.append(
                db.execute(
                    text(
                        "insert into exercise_version (exercise, number, document, shape) "
                        "values ('crates-morning-boat', :number, :document, :shape) returning id"
                    ),
                    {"number": number, "document": json.dumps(kept), "shape": document[1]},
                ).scalar_one()
            )
        return made


def test_a_newer_version_takes_the_place_and_drafts_are_carried_over(odile, pim, sign_in, versions):
    submission = tried(pim, [RIGHT])[0].json()["submission"]
    before = odile.get(f"/api/submissions/{submission}").json()["mark"]
    sign_in("wren").save(sign_in("wren").get(f"/api/assignments/{CRATES}/bench").json()["draft"]["revision"], [RIGHT])
    offered = odile.get(f"/api/assignments/{CRATES}/settings").json()["versions"]
    assert [each["number"] for each in offered] == [1, 2, 3]
    answer = odile.call("PUT", f"/api/assignments/{CRATES}/version", json={"version": versions[0]})
    assert answer.json()["broken"] == []
    assert answer.json()["carried"] >= 2
    view = pim.get(f"/api/assignments/{CRATES}/bench").json()
    assert (view["exercise"]["title"], len(view["draft"]["steps"]), view["draft"]["refused"]) == (
        "Crates again",
        1,
        None,
    )
    assert odile.get(f"/api/submissions/{submission}").json()["mark"] == before
    assert "version 2 is assigned now" in odile.get("/api/classes/1/activity").json()["rows"][0]["text"]


def test_drafts_that_fail_in_a_newer_version_are_reported(odile, pim, versions):
    tried(pim, RIGHT_WAY)
    answer = odile.call("PUT", f"/api/assignments/{CRATES}/version", json={"version": versions[1]})
    assert answer.status_code == 200, answer.text
    assert "Pim Tasker" in answer.json()["broken"]
    draft = pim.get(f"/api/assignments/{CRATES}/bench").json()["draft"]
    assert (draft["refused"]["step"], len(draft["rest"])) == (1, len(RIGHT_WAY))  # kept, and marked


def test_a_version_of_another_exercise_or_one_that_is_set_already_is_refused(odile, versions):
    assert odile.call("PUT", f"/api/assignments/{CRATES}/version", json={"version": 2}).status_code == 404
    setting = {"due": clock(datetime.now(UTC) + timedelta(days=1)), "version": versions[0]}
    assert odile.call("POST", "/api/classes/1/assignments", json=setting).status_code == 201
    answer = odile.call("PUT", f"/api/assignments/{CRATES}/version", json={"version": versions[0]})
    assert answer.json()["code"] == "already-set"
    assert odile.call("POST", "/api/classes/1/assignments", json=setting).json()["code"] == "already-set"


def test_dates_are_shown_as_clocks_of_the_class_show_them(odile, engine):
    odile.call("PUT", "/api/classes/1", json={"name": "Evening", "time_zone": "Asia/Kathmandu"})
    put(odile, due="2026-12-01T18:00:00")
    with Session(engine) as db:
        assert db.get_one(Assignment, CRATES).due_at == datetime(2026, 12, 1, 12, 15, tzinfo=UTC)
    assert odile.get(f"/api/assignments/{CRATES}/settings").json()["due"] == "2026-12-01T18:00:00"
    odile.call("PUT", "/api/classes/1", json={"name": "Evening", "time_zone": "UTC"})
    assert odile.get(f"/api/assignments/{CRATES}/settings").json()["due"] == "2026-12-01T12:15:00"
