"""Marks of a class as files: a table for spreadsheets, a workbook, and what other programs of schools read.

Names of OneRoster's files, fields and states: 1EdTech OneRoster 1.2 CSV binding, from memory.
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

import xlsxwriter

from cubedrill.formats.table import guarded


@dataclass(frozen=True)
class Column:
    """Something set."""

    id: int
    title: str
    due_at: datetime
    opens_at: datetime | None = None


@dataclass(frozen=True)
class Cell:
    """A student's mark for an assignment.

    days_late: started days. kept: the share of the mark that lateness leaves. changed_by: who set points in it.
    """

    points: float
    of: float
    attempts: int
    days_late: int
    kept: float
    changed_by: str
    submitted_at: datetime

    @property
    def percent(self) -> float | None:
        """The mark that counts in percent, after the cost of lateness."""
        return 100 * self.kept * self.points / self.of if self.of else None


@dataclass(frozen=True)
class Row:
    """A student, with a cell for each column; none where nothing counts."""

    id: str
    name: str
    sign_in: str
    cells: Sequence[Cell | None]


PARTS = ("points", "of", "percent", "attempts", "late", "late loss in percent", "changed by")


def marks_csv(columns: Sequence[Column], rows: Iterable[Row]) -> bytes:
    """Return a row per student and seven columns per exercise, as spreadsheets take it."""
    heads = ["name", "sign-in", *(f"{column.title} – {part}" for column in columns for part in PARTS)]
    lines = ([row.name, row.sign_in, *(v for cell in row.cells for v in _values(cell))] for row in rows)
    return as_csv([heads, *lines])


def as_csv(lines: Iterable[Sequence[object]]) -> bytes:
    """Return lines as a table that spreadsheets read with its letters, and in which no text is a formula."""
    stream = io.StringIO(newline="")
    writer = csv.writer(stream)
    writer.writerows([[guarded(v) if isinstance(v, str) else v for v in line] for line in lines])
    return stream.getvalue().encode("utf-8-sig")


def _values(cell: Cell | None) -> tuple[object, ...]:
    if cell is None:
        return ("",) * len(PARTS)
    percent = "" if cell.percent is None else round(cell.percent, 2)
    cost = round(100 * (1 - cell.kept), 2) or ""
    return (cell.points, cell.of, percent, cell.attempts, "late" if cell.days_late else "", cost, cell.changed_by)


def marks_xlsx(columns: Sequence[Column], rows: Sequence[Row]) -> bytes:
    """Return a workbook: percents with a column an exercise, and all there is with a line a cell."""
    stream = io.BytesIO()
    words = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    with xlsxwriter.Workbook(stream, words) as book:
        head, share = book.add_format({"bold": True, "text_wrap": True}), book.add_format({"num_format": "0.0"})
        marks = book.add_worksheet("Marks")
        marks.write_row(0, 0, ["Name", "Sign-in", *(column.title for column in columns)], head)
        for number, row in enumerate(rows, 1):
            marks.write_string(number, 0, row.name)
            marks.write_string(number, 1, row.sign_in)
            for place, cell in enumerate(row.cells, 2):
                if cell is not None and cell.percent is not None:
                    marks.write_number(number, place, cell.percent, share)
        marks.freeze_panes(1, 2)
        marks.set_column(0, 1, 22)
        marks.set_column(2, 1 + max(1, len(columns)), 14)
        _details(book.add_worksheet("Details"), (columns, rows), head)
    return stream.getvalue()


def _details(
    sheet: xlsxwriter.worksheet.Worksheet,
    given: tuple[Sequence[Column], Sequence[Row]],
    head: xlsxwriter.format.Format,
) -> None:
    columns, rows = given
    sheet.write_row(0, 0, ["Name", "Sign-in", "Exercise", *(part.capitalize() for part in PARTS)], head)
    lines = ((row, column, cell) for row in rows for column, cell in zip(columns, row.cells, strict=True) if cell)
    for number, (row, column, cell) in enumerate(lines, 1):
        sheet.write_row(number, 0, [row.name, row.sign_in, column.title, *_values(cell)])
    sheet.freeze_panes(1, 0)
    sheet.set_column(0, 2, 26)


LINE_ITEMS = (
    "sourcedId", "status", "dateLastModified", "title", "description", "assignDate", "dueDate", "classSourcedId",
    "categorySourcedId", "gradingPeriodSourcedId", "resultValueMin", "resultValueMax",
)  # fmt: skip
RESULTS = (
    "sourcedId", "status", "dateLastModified", "lineItemSourcedId", "studentSourcedId", "scoreStatus", "score",
    "scoreDate", "comment",
)  # fmt: skip


def one_roster(class_id: str, columns: Sequence[Column], rows: Sequence[Row]) -> bytes:
    """Return a zip with `lineItems.csv` and `results.csv`; scores are percents. Nothing in it is for spreadsheets."""
    items = (
        (
            f"item-{column.id}", "", "", column.title, "", (column.opens_at or column.due_at).date().isoformat(),
            column.due_at.date().isoformat(), class_id, "", "", "0", "100",
        )
        for column in columns
    )  # fmt: skip
    results = (
        (
            f"result-{column.id}-{row.id}", "", "", f"item-{column.id}", row.id,
            "fully graded" if cell and cell.percent is not None else "not submitted",
            "" if cell is None or cell.percent is None else f"{cell.percent:.2f}",
            "" if cell is None else cell.submitted_at.date().isoformat(), "",
        )
        for row in rows
        for column, cell in zip(columns, row.cells, strict=True)
    )  # fmt: skip
    return zipped({"lineItems.csv": _plain(LINE_ITEMS, items), "results.csv": _plain(RESULTS, results)}.items())


def _plain(heads: Sequence[str], lines: Iterable[Sequence[str]]) -> bytes:
    stream = io.StringIO(newline="")
    csv.writer(stream, quoting=csv.QUOTE_ALL).writerows([heads, *lines])
    return stream.getvalue().encode("utf-8")


def zipped(files: Iterable[tuple[str, bytes]]) -> bytes:
    """Return files as a folder in a zip."""
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as folder:
        for name, content in files:
            folder.writestr(name, content)
    return stream.getvalue()
