"""A verdict at once, and why it missed as soon as that is known; what lists show is what the reports say."""

import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import event, select, text
from sqlalchemy.orm import Session

from cubedrill.service.marks import marks
from cubedrill.service.marks.causes import explain
from cubedrill.service.marks.marks import keep_mark, report_of
from cubedrill.service.work import bench
from cubedrill.store.tables import Mark, StoredReport, StoredSubmission
from tests.api.conftest import RIGHT
from tests.jobs import do_all


@pytest.fixture
def submitted(sign_in, monkeypatch):
    """Pim, and a submission that takes longer to explain than to judge."""
    monkeypatch.setattr(bench, "QUICK", 0.0)
    pim = sign_in("pim")
    revision = pim.save(0, [RIGHT]).json()["revision"]
    return pim, pim.submit(revision).json()["submission"]


def told(caller, submission):
    return caller.get(f"/api/submissions/{submission}").json()


def test_the_verdict_is_there_before_its_causes_and_stays_as_it_was(submitted, engine):
    pim, submission = submitted
    before = told(pim, submission)
    assert (before["explained"], before["causes"], before["mark"]["passed"]) == (False, [], False)
    assert explain(engine, submission)
    after = told(pim, submission)
    assert after["explained"]
    assert [cause["code"] for cause in after["causes"]] == ["step-left-out"] * 3
    assert {**after, "causes": [], "explained": False} == before
    assert not explain(engine, submission)
    with Session(engine) as db:  # both reports are kept
        assert [each.explained for each in db.get_one(StoredSubmission, submission).reports] == [False, True]


@pytest.mark.usefixtures("submitted")
def test_the_class_is_told_why_as_soon_as_it_is_known(sign_in, engine):
    odile = sign_in("odile")

    def causes():
        rows = odile.get("/api/assignments/1/submissions").json()["rows"]
        return next(row["causes"] for row in rows if row["student"] == "Pim Tasker")

    assert causes() == []
    do_all(engine)
    assert len(causes()) == 3


def test_each_is_explained_once_however_many_are_at_it(submitted, engine):
    """A job whose worker was taken for dead may run twice at once."""
    with ThreadPoolExecutor(4) as several:
        assert sum(several.map(lambda _n: explain(engine, submitted[1]), range(4))) == 1
    with Session(engine) as db:
        reports = db.scalars(select(StoredReport).where(StoredReport.submission_id == submitted[1])).all()
        assert len(reports) == 2


def test_a_review_and_an_explanation_at_the_same_time_are_both_in_the_mark(submitted, sign_in, engine, monkeypatch):
    """A mark is worked out anew from all there is; whoever comes second waits, and sees what the first one added."""
    _pim, submission = submitted
    odile = sign_in("odile")
    review = {"check": told(odile, submission)["report"]["checks"][0]["id"], "points": 0.5, "text": "Half."}
    begun, put = threading.Event(), marks.put_mark

    def slowly(*words):
        begun.set()
        time.sleep(0.5)
        put(*words)

    monkeypatch.setattr(marks, "put_mark", slowly)
    with ThreadPoolExecutor(1) as other:
        explaining = other.submit(explain, engine, submission)
        begun.wait()
        answer = odile.call("POST", f"/api/submissions/{submission}/reviews", json=review)
        assert (answer.status_code, explaining.result()) == (204, True)
    assert not explain(engine, submission)
    with Session(engine) as db:
        mark = db.get_one(Mark, submission)
        assert (mark.changed, mark.explained, len(mark.causes)) == (True, True, 3)


def test_a_failed_explanation_does_not_block_the_others(submitted, engine, monkeypatch):
    pim, submission = submitted
    monkeypatch.setattr("cubedrill.service.marks.causes.judge_within", lambda *_: 1 / 0)
    assert explain(engine, submission)
    assert not explain(engine, submission)
    assert (told(pim, submission)["explained"], told(pim, submission)["causes"]) == (True, [])


def test_the_lists_say_what_the_reports_and_the_reviews_say(submitted, sign_in, engine):
    """Marks are kept in columns; worked out anew from all reports and reviews they are the same."""
    odile = sign_in("odile")
    review = {"check": told(odile, submitted[1])["report"]["checks"][0]["id"], "points": 0.5, "text": "Half."}
    assert odile.call("POST", f"/api/submissions/{submitted[1]}/reviews", json=review).status_code == 204
    do_all(engine)
    columns = text("select * from mark order by submission_id")
    with Session(engine) as db:
        before = db.execute(columns).mappings().all()
        assert len(before) == len(db.scalars(select(StoredSubmission)).all()) > 60
        for submission in db.scalars(select(StoredSubmission)):
            keep_mark(db, submission)
        assert db.execute(columns).mappings().all() == before
        mark = db.get_one(Mark, submitted[1])
        assert (mark.changed, mark.explained, len(mark.causes)) == (True, True, 3)
        causes = report_of(db.get_one(StoredSubmission, submitted[1])).causes
        assert [cause["text"] for cause in mark.causes] == [cause.text for cause in causes]


PAGES = {"pim": ["/api/home"], "odile": ["/api/home", "/api/assignments/1/submissions", "/api/plans"]}


def test_pages_ask_as_often_and_for_as_many_rows_however_many_tries_there_are(app, sign_in):
    """Documents and reports of tries are not read for lists."""
    asked = []

    @event.listens_for(app.state.engine, "after_cursor_execute")
    def _note(_connection, cursor, statement, *_rest):
        asked.append((statement, cursor.rowcount))

    callers = {name: sign_in(name) for name in PAGES}

    def all_pages():
        for name, paths in PAGES.items():
            for path in paths:
                assert callers[name].get(path).status_code == 200
        asked.clear()
        for name, paths in PAGES.items():
            for path in paths:
                callers[name].get(path)
        return list(asked)

    def a_try(number):
        callers["pim"].save(number - 1, [{**RIGHT, "to": [number, 1, 1]}])
        assert callers["pim"].submit(number).status_code == 201

    a_try(1)
    before = all_pages()
    for number in range(2, 6):
        a_try(number)
    after = all_pages()
    assert after == before
    documents = [statement for statement, _rows in after if "report.document" in statement]
    assert documents == []
