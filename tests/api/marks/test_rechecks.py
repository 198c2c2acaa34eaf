"""Re-checking: aside, going on after a kill, never twice, applied as a whole or by row; the old reports stay."""

from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from cubedrill.service.marks import rechecks
from cubedrill.service.marks.rechecks import recheck
from cubedrill.store.documents import EXERCISE
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import ExerciseVersion, Rechecked, StoredReport, StoredSubmission
from tests.api.assignments.test_setting import FAR, RIGHT_WAY, tried
from tests.api.conftest import CRATES
from tests.jobs import do_all


@pytest.fixture
def stricter(engine):
    """A version of the crates whose tolerances nobody meets who did not type."""
    with Session(engine) as db, db.begin():
        old = db.get_one(ExerciseVersion, 1)
        exercise = EXERCISE.read(old.document, old.shape)
        checks = [
            check.model_copy(update={"tolerance": 1e-6}) if check.kind == "position" else check
            for check in exercise.checks
        ]
        return add_version(db, exercise.model_copy(update={"checks": tuple(checks)})).id


def asked(odile, version=None):
    answer = odile.call("POST", f"/api/assignments/{CRATES}/recheck", json={"version": version})
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def first(engine, recheck_id):
    """Judge the first submission of a re-check again."""
    with Session(engine) as db:
        submission = db.scalars(select(StoredSubmission.id).where(StoredSubmission.assignment_id == CRATES)).first()
    return recheck(engine, recheck_id, submission)


def marks(odile):
    return {
        c["person"]: c["score"] for c in odile.get("/api/classes/1/board").json()["cells"] if c["assignment"] == CRATES
    }


def test_the_same_version_and_rules_change_nothing(odile, engine):
    recheck = asked(odile)
    before = marks(odile)
    do_all(engine)
    view = odile.get(f"/api/rechecks/{recheck}").json()
    assert (view["state"], view["done"], view["rows"]) == ("done", view["total"], [])
    assert view["total"] > 3
    assert odile.call("POST", f"/api/rechecks/{recheck}/acceptance", json={}).json() == {"count": 0}
    assert marks(odile) == before


def test_a_stricter_version_is_told_row_by_row_and_counts_when_it_is_taken(odile, sign_in, engine, stricter):
    near = {"op": "move", "objects": ["crate-herring"], "space": "world", "by": [0.0001, 0, 0]}
    pim = sign_in("pim")
    submission = tried(pim, [*RIGHT_WAY, near])[0].json()["submission"]
    exact = tried(sign_in("theo"), RIGHT_WAY)[0].json()["submission"]
    before, report = marks(odile), odile.get(f"/api/submissions/{submission}").json()["report"]
    recheck = asked(odile, stricter)
    do_all(engine)
    assert marks(odile) == before  # aside until it is taken
    rows = {row["submission"]: row for row in odile.get(f"/api/rechecks/{recheck}").json()["rows"]}
    assert exact not in rows
    assert rows[submission]["points"] < rows[submission]["was"]
    assert any("pass → " in line for line in rows[submission]["changed"])
    taken = odile.call("POST", f"/api/rechecks/{recheck}/acceptance", json={"submissions": [submission]})
    assert taken.json() == {"count": 1}
    after = pim.get(f"/api/submissions/{submission}").json()
    assert after["report"]["points"] == rows[submission]["points"] == after["mark"]["points"]
    others = {person: score for person, score in marks(odile).items() if score != before[person]}
    assert len(others) == 1
    with Session(engine) as db:
        kept = db.scalars(
            select(StoredReport).where(StoredReport.submission_id == submission).order_by(StoredReport.id)
        ).all()
        assert [each.exercise_version_id for each in kept][-1] == stricter
        assert kept[0].document["points"] == report["points"]  # the old one stays
    again = odile.call("POST", f"/api/rechecks/{recheck}/acceptance", json={"submissions": [submission]})
    assert again.json() == {"count": 0}  # never twice
    told = next(row for row in pim.get("/api/home").json()["news"] if row["submission"] == submission)
    assert told["what"] == "re-checked"


def test_points_set_by_an_instructor_survive_a_re_check(odile, sign_in, engine, stricter):
    submission = tried(sign_in("pim"), [FAR])[0].json()["submission"]
    check = next(c for c in odile.get(f"/api/submissions/{submission}").json()["report"]["checks"] if c["points"] == 0)
    review = {"check": check["id"], "points": check["of"], "text": "I saw it right."}
    odile.call("POST", f"/api/submissions/{submission}/reviews", json=review)
    points = odile.get(f"/api/submissions/{submission}").json()["mark"]["points"]
    recheck = asked(odile, stricter)
    do_all(engine)
    odile.call("POST", f"/api/rechecks/{recheck}/acceptance", json={})
    mark = odile.get(f"/api/submissions/{submission}").json()["mark"]
    assert (mark["points"] >= check["of"], mark["changed"], mark["points"] <= points) == (True, True, True)


def test_several_workers_judge_each_one_once(odile, engine):
    recheck = asked(odile)
    with ThreadPoolExecutor(4) as several:
        assert sum(several.map(lambda _n: first(engine, recheck), range(4))) == 1
        list(several.map(lambda _n: do_all(engine), range(4)))
    view = odile.get(f"/api/rechecks/{recheck}").json()
    assert (view["state"], view["done"]) == ("done", view["total"])


def test_a_worker_that_dies_in_the_middle_leaves_it_to_the_next(odile, engine, monkeypatch):
    recheck = asked(odile)
    monkeypatch.setattr(rechecks, "_judged", lambda *_: (_ for _ in ()).throw(KeyboardInterrupt))
    with pytest.raises(KeyboardInterrupt):
        first(engine, recheck)
    monkeypatch.undo()
    assert odile.get(f"/api/rechecks/{recheck}").json()["done"] == 0
    do_all(engine)
    view = odile.get(f"/api/rechecks/{recheck}").json()
    assert (view["state"], view["done"]) == ("done", view["total"])


def test_it_is_cancelled_and_nothing_counts_that_was_not_taken(odile, engine, stricter):
    recheck = asked(odile, stricter)
    assert odile.call("POST", f"/api/assignments/{CRATES}/recheck", json={}).json()["code"] == "judged-already"
    assert odile.call("POST", f"/api/rechecks/{recheck}/acceptance", json={}).json()["code"] == "still-judging"
    assert first(engine, recheck)
    assert odile.call("DELETE", f"/api/rechecks/{recheck}").status_code == 204
    do_all(engine)
    view = odile.get(f"/api/assignments/{CRATES}/recheck").json()
    assert (view["recheck"], view["state"], view["done"]) == (recheck, "cancelled", 1)


def test_erasing_a_submission_does_not_block_a_re_check(odile, engine):
    recheck = asked(odile)
    with Session(engine) as db, db.begin():
        erased = db.scalars(select(StoredSubmission.person_id).where(StoredSubmission.assignment_id == CRATES)).first()
        db.execute(text("select erase_person(:erased)"), {"erased": erased})
    do_all(engine)
    assert odile.get(f"/api/rechecks/{recheck}").json()["state"] == "done"


def test_a_submission_that_cannot_be_re_checked_says_why(odile, sign_in, engine):
    submission = tried(sign_in("pim"), RIGHT_WAY)[0].json()["submission"]
    with Session(engine) as db, db.begin():
        version = db.execute(
            text(
                "insert into exercise_version (exercise, number, document) select exercise, 2, "
                "replace(document::text, 'crate-herring', 'crate-of-herring')::jsonb from exercise_version where id = 1 "
                "returning id"
            )
        ).scalar_one()
    recheck = asked(odile, version)
    do_all(engine)
    row = next(r for r in odile.get(f"/api/rechecks/{recheck}").json()["rows"] if r["submission"] == submission)
    assert "crate-herring" in row["why"]
    odile.call("POST", f"/api/rechecks/{recheck}/acceptance", json={})
    assert odile.get(f"/api/submissions/{submission}").json()["mark"]["passed"] is True


def test_a_version_of_another_exercise_is_refused(odile):
    assert odile.call("POST", f"/api/assignments/{CRATES}/recheck", json={"version": 2}).status_code == 404


def test_submissions_that_arrive_during_a_re_check_are_left_out(odile, sign_in, engine):
    recheck = asked(odile)
    late = tried(sign_in("pim"), [FAR])[0].json()["submission"]
    do_all(engine)
    with Session(engine) as db:
        rows = db.scalars(select(Rechecked.submission_id).where(Rechecked.recheck_id == recheck)).all()
        everything = db.scalars(select(StoredSubmission.id).where(StoredSubmission.assignment_id == CRATES)).all()
    assert set(everything) - set(rows) == {late}
