"""Marks of a class as files: a table for spreadsheets, a workbook, and what other programs of schools read.

Names of OneRoster's files, fields and states: 1EdTech OneRoster 1.2 CSV binding, from memory.
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime

import xlsxwriter

from cubedrill.formats.table import guarded


@dataclass(frozen=True)
class Column:
    """An assignment. weight: in the total."""

    id: int
    title: str
    due_at: datetime
    opens_at: datetime | None = None
    weight: float = 1.0


@dataclass(frozen=True)
class Cell:
    """A student's mark for an assignment.

    days_late: started days. kept: the share of the mark that lateness leaves. changed_by: who set points in it.
    to_come: at most so many more points, for what an instructor has yet to judge.
    """

    points: float
    of: float
    attempts: int
    days_late: int
    kept: float
    changed_by: str
    submitted_at: datetime
    to_come: float = 0.0

    @property
    def percent(self) -> float | None:
        """The mark that counts in percent, after the cost of lateness."""
        return 100 * self.kept * self.points / self.of if self.of else None


@dataclass(frozen=True)
class Terms:
    """An exception for a student at an assignment. due: in words."""

    due: str = ""
    attempts: int | None = None
    excused: bool = False

    @property
    def text(self) -> str:
        """All of it in words."""
        parts = ["excused" if self.excused else "", f"due {self.due}" if self.due else ""]
        parts.append("" if self.attempts is None else f"attempts allowed: {self.attempts}")
        return "; ".join(part for part in parts if part)


@dataclass(frozen=True)
class Row:
    """A student, with a cell for each column, or None if nothing counts. total: in percent.

    terms: for each column what differs for this student, if anything does.
    """

    id: str
    name: str
    sign_in: str
    cells: Sequence[Cell | None]
    terms: Sequence[Terms | None]
    total: float | None

    def values(self, columns: Sequence[Column]) -> Iterable[tuple[object, ...]]:
        """Yield the values of each column, as named in `PARTS`."""
        for column, cell, terms in zip(columns, self.cells, self.terms, strict=True):
            yield (*_mark(cell), "" if terms is None else terms.text, column.weight)


MARK_PARTS = (
    "points", "of", "percent", "attempts", "late", "late loss in percent", "points to come", "changed by",
)  # fmt: skip
PARTS = (*MARK_PARTS, "exception", "weight")
TOTAL = "total in percent"


def marks_csv(columns: Sequence[Column], rows: Iterable[Row]) -> bytes:
    """Return a row per student with the columns of `PARTS` for each exercise and the total, as spreadsheets take it."""
    heads = ["name", "sign-in", *(f"{column.title} – {part}" for column in columns for part in PARTS), TOTAL]
    lines = (
        [row.name, row.sign_in, *(value for values in row.values(columns) for value in values), _percent(row.total)]
        for row in rows
    )
    return as_csv([heads, *lines])


def as_csv(lines: Iterable[Sequence[object]]) -> bytes:
    """Return lines as a table that spreadsheets read with its letters, and in which no text is a formula."""
    stream = io.StringIO(newline="")
    writer = csv.writer(stream)
    writer.writerows([[guarded(v) if isinstance(v, str) else v for v in line] for line in lines])
    return stream.getvalue().encode("utf-8-sig")


def _mark(cell: Cell | None) -> tuple[object, ...]:
    if cell is None:
        return ("",) * len(MARK_PARTS)
    late, cost = "late" if cell.days_late else "", round(100 * (1 - cell.kept), 2) or ""
    percent, to_come = _percent(cell.percent), cell.to_come or ""
    return (cell.points, cell.of, percent, cell.attempts, late, cost, to_come, cell.changed_by)


def _percent(value: float | None) -> float | str:
    return "" if value is None else round(value, 2)


def marks_xlsx(columns: Sequence[Column], rows: Sequence[Row]) -> bytes:
    """Return a workbook: percents with a column an exercise, and all there is with a line a cell."""
    stream = io.BytesIO()
    words = {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    with xlsxwriter.Workbook(stream, words) as book:
        head, share = book.add_format({"bold": True, "text_wrap": True}), book.add_format({"num_format": "0.0"})
        marks = book.add_worksheet("Marks")
        marks.write_row(0, 0, ["Name", "Sign-in", *(column.title for column in columns), TOTAL.capitalize()], head)
        for number, row in enumerate(rows, 1):
            marks.write_string(number, 0, row.name)
            marks.write_string(number, 1, row.sign_in)
            for place, cell in enumerate(row.cells, 2):
                if cell is not None and cell.percent is not None:
                    marks.write_number(number, place, cell.percent, share)
            for place, terms in enumerate(row.terms, 2):
                if terms is not None:
                    marks.write_comment(number, place, terms.text)
                    if terms.excused and row.cells[place - 2] is None:
                        marks.write_string(number, place, "excused")
            if row.total is not None:
                marks.write_number(number, 2 + len(columns), row.total, share)
        marks.freeze_panes(1, 2)
        marks.set_column(0, 1, 22)
        marks.set_column(2, 2 + len(columns), 14)
        _details(book.add_worksheet("Details"), (columns, rows), head)
    return stream.getvalue()


def _details(
    sheet: xlsxwriter.worksheet.Worksheet,
    given: tuple[Sequence[Column], Sequence[Row]],
    head: xlsxwriter.format.Format,
) -> None:
    columns, rows = given
    sheet.write_row(0, 0, ["Name", "Sign-in", "Exercise", *(part.capitalize() for part in PARTS)], head)
    lines = (
        (row, column, values)
        for row in rows
        for place, (column, values) in enumerate(zip(columns, row.values(columns), strict=True))
        if row.cells[place] or row.terms[place]
    )
    for number, (row, column, values) in enumerate(lines, 1):
        sheet.write_row(number, 0, [row.name, row.sign_in, column.title, *values])
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


def one_roster(class_id: str, columns: Sequence[Column], rows: Sequence[Row], today: date) -> bytes:
    """Return a zip with `lineItems.csv` and `results.csv`; scores are percents. Nothing in it is for spreadsheets.

    The total is a line item of its own, as of today; the weights are in its description.
    """
    items = [
        (
            f"item-{column.id}", "", "", column.title, "", (column.opens_at or column.due_at).date().isoformat(),
            column.due_at.date().isoformat(), class_id, "", "", "0", "100",
        )
        for column in columns
    ]  # fmt: skip
    results = [
        (
            f"result-{column.id}-{row.id}", "", "", f"item-{column.id}", row.id, _status(cell, terms),
            "" if cell is None or cell.percent is None else f"{cell.percent:.2f}",
            "" if cell is None else cell.submitted_at.date().isoformat(), "" if terms is None else terms.text,
        )
        for row in rows
        for column, cell, terms in zip(columns, row.cells, row.terms, strict=True)
    ]  # fmt: skip
    if columns:
        total, last = f"total-{class_id}", max(column.due_at for column in columns).date()
        weights = "Weights: " + ", ".join(f"{column.title} {column.weight:g}" for column in columns)
        items.append(
            (total, "", "", "Total", weights, last.isoformat(), last.isoformat(), class_id, "", "", "0", "100")
        )
        results += [
            (
                f"result-{total}-{row.id}", "", "", total, row.id,
                "not submitted" if row.total is None else "partially graded",
                "" if row.total is None else f"{row.total:.2f}", today.isoformat(), "",
            )
            for row in rows
        ]  # fmt: skip
    return zipped({"lineItems.csv": _plain(LINE_ITEMS, items), "results.csv": _plain(RESULTS, results)}.items())


def _status(cell: Cell | None, terms: Terms | None) -> str:
    if terms is not None and terms.excused:
        return "exempt"
    if cell is None or cell.percent is None:
        return "not submitted"
    return "partially graded" if cell.to_come else "fully graded"


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
