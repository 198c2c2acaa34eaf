"""An instructor's points and remarks: both see them, every change is kept, the newest counts."""

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from cubedrill.service import prepared
from cubedrill.store.tables import ExerciseVersion
from tests.api.conftest import RIGHT
from tests.jobs import do_all


@pytest.fixture
def handed(sign_in):
    """Pim's submission of one right crate of four: its id, and callers for Pim and the instructor."""
    pim = sign_in("pim")
    assert pim.save(0, [RIGHT]).status_code == 200
    return pim.submit(1).json()["submission"], pim, sign_in("odile")


def review(caller, submission, **body):
    return caller.call("POST", f"/api/submissions/{submission}/reviews", json=body)


def test_points_are_set_seen_by_both_and_taken_back(handed):
    submission, pim, odile = handed
    before = odile.get(f"/api/submissions/{submission}").json()
    check = next(c for c in before["report"]["checks"] if c["verdict"] == "fail")
    assert review(odile, submission, check=check["id"], points=2.5, text="Right idea.").status_code == 204
    for caller in (pim, odile):
        after = caller.get(f"/api/submissions/{submission}").json()
        assert after["points_set"] == {check["id"]: 2.5}
        assert after["mark"]["points"] == before["mark"]["points"] + 2.5
        assert after["mark"]["changed"]
        assert after["report"]["points"] == before["report"]["points"]  # the program's own mark stays
    assert review(odile, submission, check=check["id"], text="On second thoughts.").status_code == 204
    last = pim.get(f"/api/submissions/{submission}").json()
    assert last["mark"] == before["mark"]
    assert [(c["points"], c["text"], c["by"]) for c in last["changes"]] == [
        (2.5, "Right idea.", "Odile Marchbanks"), (None, "On second thoughts.", "Odile Marchbanks"),
    ]  # fmt: skip


def test_changed_points_count_in_the_class(handed):
    submission, _pim, odile = handed
    result = odile.get(f"/api/submissions/{submission}").json()
    for check in result["report"]["checks"]:
        review(odile, submission, check=check["id"], points=check["of"], text="Done on paper.")
    rows = {row["student"]: row["work"] for row in odile.get("/api/assignments/1/submissions").json()["rows"]}
    assert (rows["Pim Tasker"]["score"], rows["Pim Tasker"]["passed"]) == (1, True)


@pytest.mark.parametrize("change", ["update review set text = ''", "delete from review"])
def test_reviews_cannot_be_changed(handed, engine, change):
    submission, _pim, odile = handed
    assert review(odile, submission, text="Seen.").status_code == 204
    with pytest.raises(DBAPIError, match="never changed"), engine.begin() as db:
        db.execute(text(change))


def test_a_remark_is_read_by_the_student(handed):
    submission, pim, odile = handed
    assert review(odile, submission, text="  Look at the pallet's own axes.  ").status_code == 204
    (change,) = pim.get(f"/api/submissions/{submission}").json()["changes"]
    assert (change["check"], change["text"]) == (None, "Look at the pallet's own axes.")


@pytest.mark.parametrize(
    ("body", "sentence"),
    [
        ({"check": "no-such", "points": 1, "text": "x"}, "no such check"),
        ({"check": "herring", "points": 99, "text": "x"}, "at most 3 points"),
        ({"points": 1, "text": "x"}, "points are those of a check"),
        ({"check": "herring", "points": -1, "text": "x"}, ""),
        ({"check": "herring", "points": 1, "text": " "}, ""),
    ],
)
def test_contradictory_settings_are_refused_and_change_nothing(handed, body, sentence):
    submission, _pim, odile = handed
    checks = odile.get(f"/api/submissions/{submission}").json()["report"]["checks"]
    body = {**body, **({"check": checks[0]["id"]} if body.get("check") == "herring" else {})}
    answer = review(odile, submission, **body)
    assert answer.status_code == 422
    assert sentence in answer.text
    assert odile.get(f"/api/submissions/{submission}").json()["changes"] == []


TOLD = {"nothing": (False, False, False), "check": (True, False, False), "hint": (True, True, False), "cause": (True, True, True)}  # fmt: skip


@pytest.mark.parametrize("told", TOLD)
def test_feedback_follows_the_author_and_is_complete_for_instructors(handed, engine, told):
    submission, pim, odile = handed
    do_all(engine)
    with Session(engine) as db, db.begin():
        version = db.query(ExerciseVersion).filter_by(exercise="crates-morning-boat").one()
        db.execute(text("alter table exercise_version disable trigger never_changed"))
        version.document = {**version.document, "rules": {"told": told}}
    prepared._KEPT.clear()
    checks, hint, cause = TOLD[told]
    seen = pim.get(f"/api/submissions/{submission}").json()
    prepared._KEPT.clear()
    assert (bool(seen["report"]["checks"]), bool(seen["causes"]), seen["reference"] is not None) == (
        checks,
        hint,
        cause,
    )
    assert all((one["code"] is not None) == cause for one in seen["causes"])
    all_of_it = odile.get(f"/api/submissions/{submission}").json()
    prepared._KEPT.clear()
    assert all_of_it["reference"]
    assert {one["code"] for one in all_of_it["causes"]} == {"step-left-out"}
