"""Marks of a course's year as one table, worked out plainly here and read at every place that shows or hands them out."""

import csv
import io
import zipfile
from datetime import timedelta

import openpyxl
import pytest
from sqlalchemy import delete, text, update
from sqlalchemy.orm import Session

from cubedrill.core.judging.checks.by_hand import ByHandCheck
from cubedrill.store.tables import Assignment, AssignmentException, Draft, SheetDraft
from tests.api.assignments.test_which_attempt_counts import DUE, KEPT, submit
from tests.api.conftest import CRATES

OTHERS = (2, 4)
FAR_AWAY = timedelta(days=400)
# For each of three assignments: points of ten by the program and days late (before the student's own due date is looked
# at), points of three by hand (none: not judged yet; "no": there is no such check), days by which the own due date is
# later, excused, whether it is due, and weight.
NOTHING = {"attempts": [], "hand": "no", "later": 0, "excused": False, "due": True, "weight": 1}
CASES = {
    "one mark, two missing": [{"attempts": [(8, 0)]}, {}, {}],
    "missing and not due": [{"attempts": [(8, 0)]}, {"due": False}, {}],
    "excused without work": [{"attempts": [(8, 0)]}, {"excused": True}, {"attempts": [(4, 0)]}],
    "excused with work": [{"attempts": [(8, 0)]}, {"excused": True, "attempts": [(1, 0)]}, {"attempts": [(4, 0)]}],
    "weights": [{"attempts": [(8, 0)], "weight": 3}, {"attempts": [(2, 0)], "weight": 0.5}, {"weight": 0}],
    "late": [{"attempts": [(9, 2)]}, {"attempts": [(5, 0), (10, 1)]}, {"attempts": [(10, 9)]}],
    "late but for the own date": [{"attempts": [(9, 2)], "later": 2}, {"attempts": [(9, 2)], "later": 1}, {}],
    "an earlier date": [{"attempts": [(9, 0)], "later": -2}, {"attempts": [(9, 0)]}, {"due": False}],
    "by hand": [{"attempts": [(8, 0)], "hand": 3}, {"attempts": [(8, 0)], "hand": None}, {"excused": True}],
    "by hand alone": [{"attempts": [(None, 0)], "hand": 2}, {"attempts": [(None, 0)], "hand": None}, {}],
    "all of it": [
        {"attempts": [(4, 0), (9, 1)], "hand": 0, "weight": 2},
        {"attempts": [(6, 3)], "later": 1, "hand": 1.5},
        {"excused": True, "attempts": [(10, 0)], "weight": 5},
    ],
    "nothing counts": [{"excused": True}, {"due": False}, {"weight": 0}],
}


def plain_mark(one, late):
    """The mark of an assignment, from 0 to 1, or none; and whether a mark is awaited. Nothing of the product is used."""
    best, awaited = None, False
    for program, days in one["attempts"]:
        kept = KEPT[late][max(0, days - one["later"])] if one["later"] >= 0 else KEPT[late][days - one["later"]]
        if kept is None:
            continue
        judged = [(program, 10)] if program is not None else []
        if one["hand"] not in ("no", None):
            judged.append((one["hand"], 3))
        if not judged:
            awaited = True
            continue
        mark = kept * sum(points for points, _of in judged) / sum(of for _points, of in judged)
        best = mark if best is None else max(best, mark)
    return best, awaited and best is None


def plain_total(case, late):
    summed = weights = 0
    for one in case:
        mark, awaited = plain_mark(one, late)
        if one["excused"] or (mark is None and (awaited or not one["due"])):
            continue
        summed, weights = summed + one["weight"] * (mark or 0), weights + one["weight"]
    return summed / weights if weights else None


def prepare(db, case, odile_id):
    """The rows of a case, for Pim, whose assignments are these alone."""
    pim = db.scalar(text("select id from person where sign_in = 'pim'"))
    db.execute(update(Assignment).where(Assignment.class_id == 1).values(weight=0))
    for table in (Draft, SheetDraft):
        db.execute(delete(table).where(table.person_id == pim))
    by_hand = ByHandCheck(id="eye", kind="by-hand", title="Does it look right?", points=3).judge(None)
    made = {}
    for assignment_id, one in zip((CRATES, *OTHERS), case, strict=True):
        assignment = db.get_one(Assignment, assignment_id)
        assignment.due_at = DUE if one["due"] else DUE + FAR_AWAY
        assignment.opens_at, assignment.weight = None, one["weight"]
        assignment.late_per_day, assignment.late_floor = 0.3, 0.2
        if one["later"] or one["excused"]:
            due_at = DUE + timedelta(days=one["later"]) if one["later"] else None
            db.add(
                AssignmentException(
                    assignment_id=assignment_id, person_id=pim, due_at=due_at, excused=one["excused"],
                    reason="a family matter", by_id=odile_id,
                )
            )  # fmt: skip
        more = [] if one["hand"] == "no" else [by_hand]
        for each in submit(db, "pim", one["attempts"], assignment_id, more):
            made[each] = one["hand"]
    return pim, made


def totals(odile, pim, person):
    board = odile.get("/api/classes/1/board").json()
    yield "board", next(row["total"] for row in board["rows"] if row["person"] == person)
    yield "student page", odile.get(f"/api/classes/1/students/{person}").json()["total"]
    yield "start page", next(row["total"] for row in pim.get("/api/home").json()["totals"] if row["class_id"] == 1)
    _head, *lines = csv.reader(io.StringIO(odile.get("/api/classes/1/marks?kind=csv").content.decode("utf-8-sig")))
    share = next(line for line in lines if line[1] == "pim")[-1]
    yield "csv", None if share == "" else float(share) / 100
    book = openpyxl.load_workbook(io.BytesIO(odile.get("/api/classes/1/marks?kind=xlsx").content))
    value = next(row for row in book["Marks"].values if row[1] == "pim")[-1]
    yield "xlsx", None if value is None else value / 100
    score = next(
        row["score"]
        for row in one_roster(odile)
        if row["sourcedId"].startswith("result-total-") and row["studentSourcedId"].endswith(f"-{person}")
    )
    yield "oneroster", None if score == "" else float(score) / 100


def one_roster(odile):
    with zipfile.ZipFile(io.BytesIO(odile.get("/api/classes/1/marks?kind=oneroster").content)) as folder:
        return list(csv.DictReader(io.StringIO(folder.read("results.csv").decode())))


def marks(odile, person):
    board = odile.get("/api/classes/1/board").json()
    titles = {column["assignment"]: column["title"] for column in board["columns"]}
    head, *lines = csv.reader(io.StringIO(odile.get("/api/classes/1/marks?kind=csv").content.decode("utf-8-sig")))
    line = dict(zip(head, next(line for line in lines if line[1] == "pim"), strict=1))
    results = {
        row["lineItemSourcedId"]: row for row in one_roster(odile) if row["studentSourcedId"].endswith(f"-{person}")
    }
    for assignment in (CRATES, *OTHERS):
        cell = next((c for c in board["cells"] if (c["assignment"], c["person"]) == (assignment, person)), None)
        share, score = line[f"{titles[assignment]} – percent"], results[f"item-{assignment}"]["score"]
        yield (
            assignment,
            (
                cell and cell["score"],
                None if share == "" else float(share) / 100,
                None if score == "" else float(score) / 100,
            ),
            (line[f"{titles[assignment]} – exception"], results[f"item-{assignment}"]["scoreStatus"]),
            cell,
        )


@pytest.mark.parametrize("late", KEPT)
@pytest.mark.parametrize("name", CASES)
def test_every_place_shows_the_same_marks_and_total(name, late, app, odile, pim):
    case = [{**NOTHING, **one} for one in CASES[name]]
    with Session(app.state.engine) as db, db.begin():
        person, made = prepare(db, case, odile_id=1)
        db.execute(update(Assignment).where(Assignment.class_id == 1).values(late=late))
    for submission, points in made.items():
        if points not in ("no", None):
            review = {"check": "eye", "points": points}
            assert odile.call("POST", f"/api/submissions/{submission}/reviews", json=review).status_code == 204
    for assignment, found, (exception, status), cell in marks(odile, person):
        one = case[(CRATES, *OTHERS).index(assignment)]
        mark, _awaited = plain_mark(one, late)
        wanted = None if mark is None else pytest.approx(mark, abs=1e-4)
        assert found == (wanted, wanted, wanted), (assignment, late)
        assert ("excused" in exception, status == "exempt") == (one["excused"], one["excused"])
        assert ("due" in exception) == bool(one["later"])
        if cell and one["hand"] is None and one["attempts"]:
            odile.call("POST", f"/api/submissions/{cell['newest']}/reviewed")
            assert not next(c for *_rest, c in marks(odile, person) if c and c["assignment"] == assignment)["reviewed"]
    total = plain_total(case, late)
    for where, found in totals(odile, pim, person):
        assert found == (None if total is None else pytest.approx(total, abs=1e-4)), where
