"""Submissions keep their results if the assignment gets another version; old rows are carried over."""

from __future__ import annotations

import json

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.store.documents import EXERCISE
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Assignment, StoredReport, StoredSubmission
from tests.api.conftest import CRATES, RIGHT


@pytest.fixture
def moved_on(sign_in, engine):
    """One crate put right and submitted, and then a stricter exercise of another name set in the place of the first."""
    pim = sign_in("pim")
    handed = pim.submit(pim.save(0, [RIGHT]).json()["revision"]).json()["submission"]
    before = {path: pim.get(path).json() for path in (f"/api/submissions/{handed}", "/api/home")}
    with Session(engine) as db, db.begin():
        assignment = db.get_one(Assignment, CRATES)
        old = assignment.exercise_version
        exercise = EXERCISE.read(old.document, old.shape)
        stricter = exercise.model_copy(
            update={"title": "Crates again", "pass_mark": 1.0, "checks": exercise.checks[:1], "brief": "Once more."}
        )
        assignment.exercise_version_id = add_version(db, stricter).id
    return pim, handed, before


def test_a_result_is_the_one_that_it_was(moved_on):
    pim, handed, before = moved_on
    after = pim.get(f"/api/submissions/{handed}").json()
    assert after == before[f"/api/submissions/{handed}"]
    assert after["exercise"]["title"] == "Crates for the morning boat"


def test_marks_that_are_summed_up_stay(moved_on, sign_in):
    pim, _handed, before = moved_on
    own = {row["assignment"]: row["work"] for row in pim.get("/api/home").json()["to_do"]}
    assert own == {row["assignment"]: row["work"] for row in before["/api/home"]["to_do"]}
    row = next(
        r
        for r in sign_in("odile").get(f"/api/assignments/{CRATES}/submissions").json()["rows"]
        if "Pim" in r["student"]
    )
    assert row["work"] == own[CRATES]


def test_a_replaced_version_is_assigned_and_judges_new_submissions(moved_on, engine):
    pim, handed, _before = moved_on
    bench = pim.get(f"/api/assignments/{CRATES}/bench").json()
    assert (bench["exercise"]["title"], len(bench["draft"]["steps"])) == ("Crates again", 1)
    assert next(r["title"] for r in pim.get("/api/home").json()["to_do"] if r["assignment"] == CRATES) == "Crates again"
    again = pim.submit(pim.save(1, [RIGHT, RIGHT]).json()["revision"]).json()["submission"]
    result = pim.get(f"/api/submissions/{again}").json()
    assert (len(result["report"]["checks"]), result["exercise"]["brief"]) == (1, "Once more.")
    assert [each["submission"] for each in result["attempts"]] == [handed, again]
    with Session(engine) as db:
        versions = {
            submission.id: (submission.exercise_version.number, [r.exercise_version_id for r in submission.reports])
            for submission in db.scalars(select(StoredSubmission).where(StoredSubmission.id.in_([handed, again])))
        }
        first, second = (db.get_one(StoredSubmission, i).exercise_version_id for i in (handed, again))
    assert versions == {handed: (1, [first]), again: (2, [second])}


def test_the_same_work_can_be_handed_in_for_the_new_version_and_once(moved_on):
    pim, handed, _before = moved_on
    again = [pim.submit(1).json()["submission"] for _ in range(2)]
    assert again[0] == again[1] != handed
    assert len(pim.get(f"/api/submissions/{again[0]}").json()["report"]["checks"]) == 1


def test_the_same_scene_can_be_handed_in_for_the_new_version_and_once(sign_in, engine):
    wren = sign_in("wren")
    scene = {"objects": [{"id": "crate-herring", "name": "Herring crate", "translation": [9, 9, 9]}]}
    files = f"/api/assignments/{CRATES}/files"

    def submit():
        file = wren.call("POST", f"{files}?name=mine.json", content=json.dumps(scene)).json()["file"]
        answer = wren.call("POST", f"{files}/{file}/submissions", json={})
        assert answer.status_code == 201, answer.text
        return answer.json()["submission"]

    first = submit()
    assert submit() == first
    with Session(engine) as db, db.begin():
        assignment = db.get_one(Assignment, CRATES)
        exercise = EXERCISE.read(assignment.exercise_version.document, assignment.exercise_version.shape)
        assignment.exercise_version_id = add_version(db, exercise.model_copy(update={"title": "Again"})).id
    second = submit()
    assert second != first
    assert submit() == second


def test_a_report_is_one_of_a_submission_a_version_and_rules(moved_on, engine):
    _pim, handed, _before = moved_on
    with Session(engine) as db, db.begin():
        submission = db.get_one(StoredSubmission, handed)
        old, newer = submission.reports[-1], db.get_one(Assignment, CRATES).exercise_version_id
        facts = {"rules_version": old.rules_version, "document": old.document, "shape": old.shape}
        db.add(StoredReport(submission_id=handed, exercise_version_id=newer, **facts))
        db.flush()
        db.add(StoredReport(submission_id=handed, exercise_version_id=newer, **facts))
        with pytest.raises(Exception, match="uq_report_one_of_a_kind"):
            db.flush()
        db.rollback()
