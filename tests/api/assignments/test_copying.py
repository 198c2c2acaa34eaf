"""A class copied for a new term, archived and reopened; weights of its total."""

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from tests.api.assignments.test_setting import FAR, own_row, tried
from tests.api.conftest import CRATES

LISBON = ZoneInfo("Europe/Lisbon")


def plan(odile, first_day="2027-02-03"):
    return odile.get(f"/api/classes/1/copy?first_day={first_day}").json()


def rows_of(view, **change):
    return [
        {
            "assignment": r["assignment"],
            "version": r["version"]["version"],
            "opens": r["opens"],
            "due": r["due"],
            **change,
        }
        for r in view["rows"]
    ]


def copied(odile, rows, name="Next term"):
    return odile.call("POST", "/api/classes/1/copy", json={"name": name, "rows": rows})


@pytest.fixture
def in_lisbon(engine):
    """The class in a zone with summer time; its first date is a Monday evening in September."""
    with Session(engine) as db, db.begin():
        db.execute(text("update class set time_zone = 'Europe/Lisbon' where id = 1"))
        for number, assignment in enumerate(
            db.scalars(text("select id from assignment where class_id = 1 order by id"))
        ):
            due = datetime(2026, 9, 14, 18, tzinfo=LISBON) + timedelta(weeks=number)
            opens = due - timedelta(weeks=1)
            values = {"opens": opens, "due": due, "id": assignment}
            db.execute(text("update assignment set opens_at = :opens, due_at = :due where id = :id"), values)


@pytest.mark.usefixtures("in_lisbon")
def test_dates_shift_by_whole_weeks_and_keep_their_hour_over_a_change_of_clocks(odile):
    view = plan(odile)
    assert view["weeks"] == 22  # from Monday 7 September to Monday 8 February, the first Monday from 3 February on
    first = view["rows"][0]
    assert (first["opens"], first["due"]) == ("2027-02-08T18:00:00", "2027-02-15T18:00:00")
    assert {row["due"][11:] for row in view["rows"]} == {"18:00:00"}
    assert plan(odile, "2026-09-07")["weeks"] == 0


@pytest.mark.usefixtures("in_lisbon")
def test_a_copy_has_assignments_with_their_options_and_no_people_or_work(odile, pim, engine):
    odile.call("PUT", "/api/classes/1/weights", json={"weights": [{"assignment": CRATES, "weight": 2.5}]})
    tried(pim, [FAR])
    rows = rows_of(plan(odile))
    rows[0]["due"] = "2027-02-16T12:00:00"  # edited in the table
    made = copied(odile, rows[:-1]).json()["id"]
    board = odile.get(f"/api/classes/{made}/board").json()
    assert (board["name"], board["time_zone"], board["rows"], board["cells"]) == ("Next term", "Europe/Lisbon", [], [])
    old = odile.get("/api/classes/1/board").json()["columns"]
    assert [column["title"] for column in board["columns"]] == [column["title"] for column in old][:-1]
    assert board["columns"][0]["weight"] == 2.5
    assert board["columns"][0]["due_at"] == "2027-02-16T12:00:00Z"
    with Session(engine) as db:
        options = "attempts, counts, feedback, feedback_when, late, late_per_day, late_floor, drafts_shown, weight"
        query = text(f"select {options} from assignment where class_id = :id order by exercise_version_id limit 5")  # noqa: S608
        assert db.execute(query, {"id": 1}).all() == db.execute(query, {"id": made}).all()
    assert [m["name"] for m in odile.get(f"/api/classes/{made}").json()["members"]] == ["Odile Marchbanks"]


def test_the_newest_version_can_be_taken(odile):
    view = plan(odile)
    assert all(row["newest"]["number"] >= row["version"]["number"] for row in view["rows"])
    upgraded = [row for row in view["rows"] if row["newest"]["number"] > row["version"]["number"]]
    assert upgraded, "the demo has an exercise with a newer version"
    row = upgraded[0]
    body = [{"assignment": row["assignment"], "version": row["newest"]["version"], "due": row["due"]}]
    board = odile.get(f"/api/classes/{copied(odile, body).json()['id']}/board").json()
    assert len(board["columns"]) == 1


@pytest.mark.usefixtures("in_lisbon")
@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"opens": "2027-03-01T10:00:00", "due": "2027-02-01T10:00:00"}, "due date is before"),
        ({"opens": None, "due": "2027-03-28T01:30:00"}, "does not exist"),
    ],
)
def test_one_bad_row_names_its_assignment_and_nothing_is_made(odile, change, says):
    before = odile.get("/api/classes").json()["classes"]
    rows = rows_of(plan(odile))
    rows[3] |= change
    answer = copied(odile, rows)
    assert (answer.status_code, answer.json()["code"]) == (422, "copy-row")
    assert answer.json()["detail"].startswith(plan(odile)["rows"][3]["title"])
    assert says in answer.json()["detail"]
    assert odile.get("/api/classes").json()["classes"] == before


def test_a_version_twice_or_of_another_exercise_is_refused(odile):
    rows = rows_of(plan(odile))
    assert copied(odile, [rows[0], rows[0]]).json()["code"] == "copy-row"
    assert copied(odile, [{**rows[0], "version": rows[1]["version"]}]).status_code == 404


# Archived classes


def test_in_an_archived_class_nothing_changes_and_all_can_be_read(odile, pim, sign_in):
    submission = tried(pim, [FAR])[0].json()["submission"]
    code = odile.call("POST", "/api/classes/1/codes", json={"minutes": 45}).json()["code"]
    assert odile.call("PUT", "/api/classes/1/archive", json={"archived": True}).status_code == 204
    refused = [
        pim.get(f"/api/assignments/{CRATES}/bench"),
        pim.save(1, [FAR]),
        pim.submit(1),
        odile.call("PUT", f"/api/assignments/{CRATES}/settings", json={"due": "2030-01-01T18:00:00"}),
        odile.call("POST", "/api/classes/1/assignments", json={"version": 1, "due": "2030-01-01T18:00:00"}),
        odile.call("POST", f"/api/submissions/{submission}/reviews", json={"text": "Well done."}),
        odile.call("PUT", f"/api/assignments/{CRATES}/exceptions", json={"people": [1], "excused": True}),
        odile.call("PUT", "/api/classes/1/weights", json={"weights": []}),
        odile.call("POST", "/api/classes/1/codes", json={"minutes": 45}),
        odile.call("POST", "/api/classes/1/roster", json={"typed": [{"name": "Zoe"}]}),
    ]
    assert [answer.json()["code"] for answer in refused] == ["class-archived"] * len(refused)
    assert sign_in("wren").call("POST", "/api/session/class", json={"code": code}).json()["code"] == "no-such-code"
    assert pim.get(f"/api/submissions/{submission}").status_code == 200
    assert own_row(pim)["archived"] is True
    assert odile.get("/api/classes/1/board").json()["archived"] is True
    assert odile.get("/api/classes/1/marks?kind=csv").status_code == 200
    home = odile.get("/api/home").json()
    assert (1 in [c["id"] for c in home["classes"]], [t for t in home["taught"] if t["class_id"] == 1]) == (False, [])
    assert odile.call("PUT", "/api/classes/1/archive", json={"archived": False}).status_code == 204
    assert pim.submit(1).status_code == 201
    assert odile.get("/api/classes/1/activity").json()["rows"][0]["text"] == "reopened the class"


# Weights


def test_weights_that_sum_to_nothing_are_refused_and_stay(odile):
    columns = odile.get("/api/classes/1/board").json()["columns"]
    nothing = [{"assignment": column["assignment"], "weight": 0} for column in columns]
    answer = odile.call("PUT", "/api/classes/1/weights", json={"weights": nothing})
    assert (answer.status_code, answer.json()["code"]) == (422, "no-weight")
    assert odile.call("PUT", "/api/classes/1/weights", json={"weights": nothing[1:]}).status_code == 204
    assert [c["weight"] for c in odile.get("/api/classes/1/board").json()["columns"]] == [1, *[0] * (len(columns) - 1)]
    assert (
        odile.call("PUT", "/api/classes/1/weights", json={"weights": [{"assignment": 1, "weight": -1}]}).status_code
        == 422
    )


@pytest.mark.usefixtures("in_lisbon")
def test_the_clock_of_a_copy_is_read_in_the_zone_of_the_class(odile):
    board = odile.get(f"/api/classes/{copied(odile, rows_of(plan(odile))).json()['id']}/board").json()
    for column in board["columns"]:
        assert datetime.fromisoformat(column["due_at"]).astimezone(LISBON).hour == 18
        assert datetime.fromisoformat(column["due_at"]).tzinfo == UTC
