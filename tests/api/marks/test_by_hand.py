"""Checks by hand and remarks with a place."""

import json

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from tests.api.assignments.test_setting import FAR, RIGHT_WAY, tried
from tests.api.marks.test_board import cell

EYE = {"id": "eye", "kind": "by-hand", "title": "Does it look right?", "look_for": "Nothing floats.", "points": 3}


@pytest.fixture
def judged_by_eye(engine):
    """The crates with one more check, by hand."""
    with Session(engine) as db, db.begin():
        db.execute(text("alter table exercise_version disable trigger all"))
        query = "update exercise_version set document = jsonb_set(document, '{checks}', document->'checks' || cast(:eye as jsonb)) where id = 1"
        db.execute(text(query), {"eye": json.dumps([EYE])})
        db.execute(text("update exercise_version set published_at = now() where id = 1"))
        db.execute(text("alter table exercise_version enable trigger all"))


def review(odile, submission, **body):
    return odile.call("POST", f"/api/submissions/{submission}/reviews", json=body)


@pytest.mark.usefixtures("judged_by_eye")
def test_points_by_hand_are_to_come_until_they_are_given(odile, pim):
    submission = tried(pim, RIGHT_WAY)[0].json()["submission"]
    before = pim.get(f"/api/submissions/{submission}").json()
    eye = next(check for check in before["report"]["checks"] if check["id"] == "eye")
    assert (eye["verdict"], eye["label"], eye["wanted"], eye["of"]) == ("not judged", EYE["title"], EYE["look_for"], 3)
    assert (before["mark"]["to_come"], before["mark"]["score"]) == (3, 1)
    odile.call("POST", f"/api/submissions/{submission}/reviewed")
    assert cell(odile, "Pim Tasker")["reviewed"] is False
    assert review(odile, submission, check="eye", points=4).json()["code"] == "too-many-points"
    assert review(odile, submission, check="eye", points=0).status_code == 204  # no reason is asked for
    after = pim.get(f"/api/submissions/{submission}").json()
    assert (after["mark"]["to_come"], after["mark"]["changed"]) == (0, False)
    assert after["mark"]["of"] == before["mark"]["of"] + 3
    assert after["mark"]["score"] == pytest.approx(before["mark"]["points"] / after["mark"]["of"])
    assert cell(odile, "Pim Tasker")["reviewed"] is True
    assert review(odile, submission, check="eye").status_code == 204
    assert cell(odile, "Pim Tasker")["reviewed"] is False


def test_a_change_of_what_the_program_judged_needs_a_reason(odile, pim):
    submission = tried(pim, [FAR])[0].json()["submission"]
    check = odile.get(f"/api/submissions/{submission}").json()["report"]["checks"][0]["id"]
    assert review(odile, submission, check=check, points=0).json()["code"] == "no-reason"
    assert review(odile, submission).status_code == 422


def test_a_remark_keeps_what_it_is_on_and_its_view(odile, pim):
    submission = tried(pim, [FAR])[0].json()["submission"]
    check = odile.get(f"/api/submissions/{submission}").json()["report"]["checks"][0]["id"]
    view = {"step": 1, "eye": [4.0, 2.0, 3.0], "middle": [0.0, 0.5, 0.0]}
    places = [{"check": check}, {"object": "crate-herring", "view": view}, {"step": 1}, {"view": view}]
    for number, place in enumerate(places):
        assert review(odile, submission, text=f"Remark {number}", place=place).status_code == 204
    changes = pim.get(f"/api/submissions/{submission}").json()["changes"]
    kept = [{key: value for key, value in each["place"].items() if value is not None} for each in changes]
    assert kept == places
    assert [each["check"] for each in changes] == [None] * 4  # none of them takes points back
    assert pim.get("/api/home").json()["news"][0]["text"] == "Remark 3"


@pytest.mark.parametrize("place", [{"check": "no-such"}, {"object": "no-such"}, {"step": 9}, {"view": {"step": 2}}])
def test_a_remark_on_what_is_not_there_is_refused(odile, pim, place):
    submission = tried(pim, [FAR])[0].json()["submission"]
    assert review(odile, submission, text="Look.", place=place).json()["code"] == "no-such-place"
    assert review(odile, submission, text="Look.", place={"step": 1, "object": "crate-herring"}).status_code == 422
    assert odile.get(f"/api/submissions/{submission}").json()["changes"] == []
