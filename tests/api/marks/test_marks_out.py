"""Marks as files, read back by independent readers: Python's csv and zipfile, openpyxl."""

import csv
import io
import json
import zipfile
from datetime import date

import openpyxl
import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session

from cubedrill.formats.marks import LINE_ITEMS, PARTS, RESULTS, TOTAL
from tests.api.assignments.test_setting import FAR, RIGHT_WAY, put, tried
from tests.api.conftest import CRATES

HUT = 21  # the assignment of the hut, which has a check by hand worth 3 points


def taken(odile, kind):
    answer = odile.get(f"/api/classes/1/marks?kind={kind}")
    assert answer.status_code == 200, answer.text
    assert "attachment" in answer.headers["content-disposition"]
    return answer.content


def lines(content):
    assert content.startswith(b"\xef\xbb\xbf")  # by which spreadsheets know its letters
    return list(csv.reader(io.StringIO(content.decode("utf-8-sig"), newline="")))


def board(odile):
    view = odile.get("/api/classes/1/board").json()
    names = {row["person"]: row["name"] for row in view["rows"]}
    return view, {(names[c["person"]], c["assignment"]): c for c in view["cells"] if c["attempts"]}


def test_the_table_has_a_row_a_student_and_says_what_the_board_says(odile, sign_in):
    submission = tried(sign_in("pim"), [FAR], RIGHT_WAY)[0].json()["submission"]
    review = {"check": odile.get(f"/api/submissions/{submission}").json()["report"]["checks"][0]["id"], "points": 0.5}
    newest = board(odile)[1]["Pim Tasker", CRATES]["newest"]
    odile.call("POST", f"/api/submissions/{newest}/reviews", json={**review, "text": "Half."})
    view, cells = board(odile)
    head, *rows = lines(taken(odile, "csv"))
    assert head[:2] == ["name", "sign-in"]
    assert head[2:] == [*(f"{c['title']} – {part}" for c in view["columns"] for part in PARTS), TOTAL]
    assert [row[0] for row in rows] == [row["name"] for row in view["rows"]]
    for row in rows:
        for place, column in enumerate(view["columns"]):
            first = 2 + len(PARTS) * place
            of_it = row[first : first + len(PARTS)]
            points, of, percent, attempts, late, cost, to_come, changed_by, exception, weight = of_it
            assert (exception, float(weight)) == ("", 1)
            cell = cells.get((row[0], column["assignment"]))
            if cell is None:
                assert (points, attempts) == ("", "")
                continue
            assert to_come == ("3.0" if column["assignment"] == HUT else "")
            assert (float(points) / float(of), cost) == (pytest.approx(cell["score"]), "")
            assert float(percent) == pytest.approx(100 * cell["score"], abs=0.005)
            assert (int(attempts), late) == (cell["attempts"], "late" if cell["late"] else "")
            is_changed = (row[0], column["assignment"]) == ("Pim Tasker", CRATES)
            assert changed_by == ("Odile Marchbanks" if is_changed else "")


def test_the_workbook_has_the_same_marks_and_no_formula(odile, engine):
    with Session(engine) as db, db.begin():
        db.execute(text("update person set name = '=HYPERLINK(\"//x\")' where sign_in = 'wren'"))
    view, cells = board(odile)
    book = openpyxl.load_workbook(io.BytesIO(taken(odile, "xlsx")))
    marks, details = book["Marks"], book["Details"]
    assert [c.value for c in marks[1]] == [
        "Name",
        "Sign-in",
        *(c["title"] for c in view["columns"]),
        "Total in percent",
    ]
    assert [marks.cell(2 + n, 1).value for n in range(len(view["rows"]))] == [row["name"] for row in view["rows"]]
    assert all(
        cell.data_type != "f" and cell.hyperlink is None for sheet in book for row in sheet.iter_rows() for cell in row
    )
    for number, row in enumerate(view["rows"], 2):
        for place, column in enumerate(view["columns"], 3):
            cell = cells.get((row["name"], column["assignment"]))
            wanted = None if cell is None else pytest.approx(100 * cell["score"])
            assert marks.cell(number, place).value == wanted
    assert details.max_row == 1 + len(cells)
    _head, *rows = lines(taken(odile, "csv"))
    assert '\'=HYPERLINK("//x")' in [row[0] for row in rows]


def test_other_programs_of_schools_read_line_items_and_results(odile, engine):
    """Fields of 1EdTech OneRoster 1.2, CSV binding, from memory."""
    with Session(engine) as db, db.begin():
        db.execute(text("update person set outside_id = 'S-17', name = '=1' where sign_in = 'wren'"))
    view, cells = board(odile)
    with zipfile.ZipFile(io.BytesIO(taken(odile, "oneroster"))) as folder:
        assert sorted(folder.namelist()) == ["lineItems.csv", "results.csv"]
        items, results = (
            list(csv.DictReader(io.StringIO(folder.read(n).decode("utf-8"), newline="")))
            for n in ("lineItems.csv", "results.csv")
        )
    assert (tuple(items[0]), tuple(results[0])) == (LINE_ITEMS, RESULTS)
    assert [item["title"] for item in items] == [*(c["title"] for c in view["columns"]), "Total"]
    assert all(date.fromisoformat(item["dueDate"]) for item in items)
    assert len(results) == len(view["rows"]) * len(items)
    assert {row["lineItemSourcedId"] for row in results} == {item["sourcedId"] for item in items}
    mine = {row["lineItemSourcedId"]: row for row in results if row["studentSourcedId"] == "S-17"}
    for (name, assignment), cell in cells.items():
        if name == "=1":
            row = mine[f"item-{assignment}"]
            assert (row["scoreStatus"], float(row["score"])) == (
                "partially graded" if assignment == HUT else "fully graded",
                pytest.approx(100 * cell["score"], abs=0.005),
            )
    by_hand = sum(assignment == HUT for _name, assignment in cells)
    assert sum(row["scoreStatus"] == "fully graded" for row in results) == len(cells) - by_hand > 0


def test_late_work_that_does_not_count_has_no_mark(odile, sign_in, engine):
    put(odile, late="does not count")
    with Session(engine) as db, db.begin():
        db.execute(text("update assignment set due_at = now() where id = 1"))
    tried(sign_in("pim"), RIGHT_WAY)
    head, *rows = lines(taken(odile, "csv"))
    row = next(row for row in rows if row[0] == "Pim Tasker")
    place = head.index("Crates for the morning boat – points")
    assert row[place : place + 8] == [""] * 8


def test_the_folder_of_a_class_has_every_submission_and_report(odile, engine):
    with zipfile.ZipFile(io.BytesIO(taken(odile, "folder"))) as folder:
        names = folder.namelist()
        assert len(set(names)) == len(names)
        assert all(not name.startswith("/") and ".." not in name for name in names)
        with Session(engine) as db:
            documents, reports, files = (
                db.execute(text(query)).scalar_one()
                for query in (
                    "select count(*) from submission", "select count(*) from report",
                    "select count(*) from submission where file_id is not null",
                )
            )  # fmt: skip
        assert sum(name.endswith("-submission.json") for name in names) == documents
        assert sum("-report-" in name for name in names) == reports
        assert sum("-file-" in name for name in names) == files > 0
        one = next(name for name in names if name.endswith("-submission.json"))
        assert json.loads(folder.read(one))["format"] == "cube-drill/submission"
        assert folder.read("marks.csv") == taken(odile, "csv")


def test_all_checks_of_one_exercise_are_a_table(odile, sign_in):
    submission = tried(sign_in("pim"), [FAR])[0].json()["submission"]
    answer = odile.get(f"/api/assignments/{CRATES}/marks")
    head, *rows = lines(answer.content)
    report = odile.get(f"/api/submissions/{submission}").json()["report"]
    assert head == ["name", "sign-in", "points", "of", *(f"points of {c['id']}" for c in report["checks"])]
    mine = next(row for row in rows if row[0] == "Pim Tasker")
    assert [float(v) for v in mine[4:]] == [c["points"] for c in report["checks"]]
    assert float(mine[2]) == report["points"]


def test_taking_marks_away_is_written_down(odile):
    taken(odile, "xlsx")
    assert odile.get("/api/classes/1/activity").json()["rows"][0]["text"] == "downloaded the marks (xlsx)"


def test_remarks_used_before_are_offered_the_last_used_first(odile, sign_in):
    submission = tried(sign_in("pim"), [FAR])[0].json()["submission"]
    for words in ("Look from the side.", "Type it.", "Look from the side."):
        odile.call("POST", f"/api/submissions/{submission}/reviews", json={"text": words})
    assert odile.get(f"/api/assignments/{CRATES}/remarks").json() == ["Look from the side.", "Type it."]
