"""Which attempt counts, as one table, worked out plainly here and read at every place that shows or hands out marks."""

import csv
import io
import itertools
import zipfile
from datetime import UTC, datetime, timedelta

import openpyxl
import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.core.judging.submission import StepsSubmission
from cubedrill.core.judging.verdict import CheckResult, report_of
from cubedrill.service.work.bench import keep_report
from cubedrill.store.documents import SUBMISSION
from cubedrill.store.tables import Assignment, Person, StoredSubmission
from tests.api.assignments.test_setting import FAR, tried
from tests.api.conftest import CRATES, RIGHT
from tests.tiers import some

DUE = datetime.now(UTC) - timedelta(days=10)
# What is kept of a mark by the number of days late, for each cost of late work; none: it does not count.
KEPT = {
    "no cost": {0: 1, 1: 1, 2: 1, 3: 1, 9: 1},
    "does not count": {0: 1, 1: None, 2: None, 3: None, 9: None},
    "per day": {0: 1, 1: 0.7, 2: 0.4, 3: 0.2, 9: 0.2},  # 30% a day, at least 20% is kept
}
# Points of ten, in the order of the attempts; none: not judged; and the number of days late.
ATTEMPTS = {
    "one": [(7, 0)],
    "better later": [(4, 0), (9, 0)],
    "worse later": [(9, 0), (4, 0)],
    "equal": [(6, 0), (6, 0)],
    "nothing judged first": [(None, 0), (3, 0)],
    "nothing judged last": [(3, 0), (None, 0)],
    "nothing judged at all": [(None, 0), (None, 0)],
    "zero and not judged": [(0, 0), (None, 0)],
    "late and better": [(4, 0), (9, 1)],
    "late and worse": [(9, 0), (4, 1)],
    "late alone": [(8, 1)],
    "late in the middle": [(5, 0), (10, 1), (2, 0)],
    "late equal": [(6, 0), (6, 1)],
    "late by days": [(2, 0), (9, 2), (10, 3)],
    "late at the floor": [(1, 0), (6, 3), (8, 9)],
}


def counting(attempts, counts, kept):
    """The place of the attempt that counts and its points, or none: nothing of the product's own is used."""
    taken = [n for n, (_points, days) in enumerate(attempts) if kept[days] is not None]
    if not taken:
        return None, None
    worth = {n: None if attempts[n][0] is None else attempts[n][0] * kept[attempts[n][1]] for n in taken}
    best = taken[-1 if counts == "last" else 0]
    for n in taken if counts == "best" else ():  # of equal ones the later one; what was not judged is less than nothing
        if (-1 if worth[n] is None else worth[n]) >= (-1 if worth[best] is None else worth[best]):
            best = n
    return best, worth[best]


def result(points):
    verdict = "not judged" if points is None else "pass" if points == 10 else "fail"
    return CheckResult(
        id="place", kind="position", object="crate-herring", label="Place", space="World", unit="m", axes=("X",), target=(0.0,),
        submitted=(1.0,), difference=(1.0,), tolerance=(0.1,), points=float(points or 0), of=10.0, verdict=verdict, text="Place.",
    )  # fmt: skip


def submit(db, sign_in, attempts, assignment_id=CRATES, more=()):
    """Attempts with these verdicts, as rows; more: results beside."""
    assignment = db.get_one(Assignment, assignment_id)
    person = db.scalar(select(Person).where(Person.sign_in == sign_in))
    made = []
    for number, (points, days) in enumerate(attempts, 1):
        document = StepsSubmission(format="cube-drill/submission", version=1, exercise="e", kind="steps", steps=())
        submission = StoredSubmission(
            assignment_id=assignment.id, exercise_version_id=assignment.exercise_version_id, person_id=person.id, number=number, kind="steps",
            draft_revision=1000 + number, document=SUBMISSION.written(document), shape=SUBMISSION.number,
            submitted_at=DUE + timedelta(days=days, minutes=number - 60),
        )  # fmt: skip
        db.add(submission)
        db.flush()
        keep_report(db, submission, report_of([result(points), *more], 0.7), explained=1)
        made.append(submission.id)
    return made


def places(odile, pim):
    """Return Pim's score at each place, from 0 to 1, or none."""
    board = odile.get("/api/classes/1/board").json()
    person = next(row["person"] for row in board["rows"] if row["name"] == "Pim Tasker")
    cell = next(c for c in board["cells"] if (c["person"], c["assignment"]) == (person, CRATES))
    home = next(row for row in pim.get("/api/home").json()["to_do"] if row["assignment"] == CRATES)["work"]
    yield "board", cell["score"], cell["late"]
    yield "home", home["score"], home["late"]
    rows = odile.get(f"/api/assignments/{CRATES}/submissions").json()["rows"]
    yield "submissions", next(r for r in rows if r["person"] == person)["work"]["score"], None
    title = next(c["title"] for c in board["columns"] if c["assignment"] == CRATES)
    head, *lines = csv.reader(io.StringIO(odile.get("/api/classes/1/marks?kind=csv").content.decode("utf-8-sig")))
    line = dict(zip(head, next(row for row in lines if row[1] == "pim"), strict=1))
    points, share = line[f"{title} – points"], line[f"{title} – percent"]
    yield "csv", None if share == "" else float(share) / 100, (line[f"{title} – late"] == "late") if points else None
    book = openpyxl.load_workbook(io.BytesIO(odile.get("/api/classes/1/marks?kind=xlsx").content))
    rows = list(book["Marks"].values)
    value = next(row for row in rows if row[1] == "pim")[rows[0].index(title)]
    yield "xlsx", None if value is None else value / 100, None
    with zipfile.ZipFile(io.BytesIO(odile.get("/api/classes/1/marks?kind=oneroster").content)) as folder:
        results = csv.DictReader(io.StringIO(folder.read("results.csv").decode()))
        score = next(
            r["score"]
            for r in results
            if r["lineItemSourcedId"] == f"item-{CRATES}" and r["studentSourcedId"].endswith(f"-{person}")
        )
    yield "oneroster", None if score == "" else float(score) / 100, None


@pytest.mark.parametrize("name", some(ATTEMPTS, 7))
def test_every_place_shows_the_attempt_that_counts(name, app, odile, pim):
    attempts = ATTEMPTS[name]
    with Session(app.state.engine) as db, db.begin():
        db.get_one(Assignment, CRATES).due_at = DUE
        made = submit(db, "pim", attempts)
    for counts, late in itertools.product(("best", "last"), KEPT):
        with Session(app.state.engine) as db, db.begin():
            assignment = db.get_one(Assignment, CRATES)
            assignment.counts, assignment.late = counts, late
            assignment.late_per_day, assignment.late_floor = 0.3, 0.2
        place, points = counting(attempts, counts, KEPT[late])
        for where, found, is_late in places(odile, pim):
            wanted = None if points is None else pytest.approx(points / 10, abs=1e-4)
            assert found == wanted, (where, counts, late)
            if is_late is not None and place is not None:
                assert is_late == (attempts[place][1] > 0), (where, counts, late)
        insight = odile.get(f"/api/assignments/{CRATES}/insight").json()
        dots = [dot["submission"] for check in insight["checks"] for dot in check["dots"] if dot["submission"] in made]
        assert dots in ([], [made[place]] if place is not None else [])


def test_points_set_by_hand_on_a_check_that_was_not_judged_count_everywhere(app, odile, pim):
    with Session(app.state.engine) as db, db.begin():
        db.get_one(Assignment, CRATES).due_at = DUE
        (made,) = submit(db, "pim", [(None, 0)])
    review = {"check": "place", "points": 4, "text": "By eye."}
    assert odile.call("POST", f"/api/submissions/{made}/reviews", json=review).status_code == 204
    for where, found, _late in places(odile, pim):
        assert found == pytest.approx(0.4), where
    head, *lines = csv.reader(io.StringIO(odile.get(f"/api/assignments/{CRATES}/marks").content.decode("utf-8-sig")))
    line = next(row for row in lines if row[1] == "pim")
    assert line[2:4] == ["4.0", "10.0"]
    odile.call("POST", f"/api/submissions/{made}/reviews", json={**review, "points": None})
    assert {found for _where, found, _late in places(odile, pim)} == {None}
    assert head[:4] == ["name", "sign-in", "points", "of"]


def test_the_table_of_checks_has_what_was_set_by_hand(odile, sign_in):

    submission = tried(sign_in("pim"), [FAR])[0].json()["submission"]
    check = odile.get(f"/api/submissions/{submission}").json()["report"]["checks"][0]
    odile.call(
        "POST",
        f"/api/submissions/{submission}/reviews",
        json={"check": check["id"], "points": check["of"] / 2, "text": "Half."},
    )
    head, *lines = csv.reader(io.StringIO(odile.get(f"/api/assignments/{CRATES}/marks").content.decode("utf-8-sig")))
    line = dict(zip(head, next(row for row in lines if row[1] == "pim"), strict=1))
    assert float(line[f"points of {check['id']}"]) == check["of"] / 2


def test_a_sheet_after_steps_with_the_same_revision_is_another_submission(odile, pim):
    """A draft and a sheet count their revisions each for itself."""

    revision = pim.save(0, [RIGHT]).json()["revision"]
    steps = pim.submit(revision).json()["submission"]
    rows = [{"object": "crate-rope", "translation": [1, 2, 3]}]
    sheet = {"revision": 0, "sheet": {"conventions": {}, "cells": {}, "rows": rows}}
    saved = pim.call("PUT", f"/api/assignments/{CRATES}/sheet", json=sheet).json()
    assert saved["revision"] == revision
    other = pim.call("POST", f"/api/assignments/{CRATES}/sheet/submissions", json=saved).json()["submission"]
    assert other != steps
    assert odile.get(f"/api/submissions/{other}").json()["kind"] == "sheet"
    assert odile.get(f"/api/submissions/{other}").json()["number"] == 2
