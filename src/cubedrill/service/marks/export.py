"""Downloads of marks: of a class as a table, a workbook, for other programs, or with everything as a folder."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime
from typing import Any, Final, Literal

from sqlalchemy.orm import Session

from cubedrill.formats.marks import Cell, Column, Row, Terms, as_csv, marks_csv, marks_xlsx, one_roster, zipped
from cubedrill.service.access import assignment_for, class_for
from cubedrill.service.assignments.exceptions import exception_view
from cubedrill.service.downloads import Download
from cubedrill.service.marks.totals import totals_of
from cubedrill.service.people.classes import note
from cubedrill.service.prepared import assigned_exercise
from cubedrill.store import assignments
from cubedrill.store.assignments import Key
from cubedrill.store.marks import marks
from cubedrill.store.marks.marks import MarkedAttempt, Tally
from cubedrill.store.people import classes
from cubedrill.store.tables import Assignment, AssignmentException, Classroom, Person
from cubedrill.store.work import submissions

Kind = Literal["csv", "xlsx", "oneroster", "folder"]


def class_marks(db: Session, person: Person, class_id: int, kind: Kind) -> Download:
    """Return the marks of a class as a file to an instructor of it."""
    classroom = class_for(db, person, class_id)
    items = assignments.assignments_in(db, class_id)
    columns = [Column(i.id, assigned_exercise(i).exercise.title, i.due_at, i.opens_at, i.weight) for i in items]
    now = datetime.now(UTC)
    rows = _rows(db, classroom, items, now)
    note(db, person, "marks downloaded", class_id, kind=kind)
    stem = _stem(classroom.name)
    match kind:
        case "csv":
            return Download(f"{stem}-marks.csv", marks_csv(columns, rows))
        case "xlsx":
            return Download(f"{stem}-marks.xlsx", marks_xlsx(columns, rows))
        case "oneroster":
            return Download(f"{stem}-oneroster.zip", one_roster(f"class-{class_id}", columns, rows, now.date()))
        case "folder":
            return Download(f"{stem}.zip", zipped(_everything(db, classroom, (items, columns, rows))))


def exercise_marks(db: Session, person: Person, assignment_id: int) -> Download:
    """Return every check of one assignment as a table: a row for each student, by the attempt that counts."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    exercise = assigned_exercise(assignment).exercise
    tallies = marks.tallies_of_assignments(db, [assignment.id])
    rows = {row.submission_id: row for row in marks.marks_of(db, assignment.id)}
    checks = [check.id for check in exercise.checks]
    lines: list[Sequence[object]] = [["name", "sign-in", "points", "of", *(f"points of {check}" for check in checks)]]
    for student in classes.students_of(db, assignment.class_id):
        tally = tallies.get((assignment.id, student.id))
        mark = rows[tally.counted] if tally else None
        points = {c["id"]: found for c in mark.checks if (found := _points(c)) is not None} if mark else {}
        summed = (mark.points, mark.of) if mark else ("", "")
        lines.append([student.name, student.sign_in, *summed, *(points.get(check, "") for check in checks)])
    note(db, person, "marks downloaded", assignment.class_id, kind=f"checks of {exercise.title}")
    return Download(f"{assignment.exercise_version.exercise}-checks.csv", as_csv(lines))


def _points(check: Mapping[str, Any]) -> float | None:
    """Return the points of a check that count: an instructor's, else the program's; none if it was not judged."""
    by_hand: float | None = check.get("by_hand")
    if by_hand is not None:
        return by_hand
    return None if check["verdict"] == "not judged" else float(check["points"])


def _rows(db: Session, classroom: Classroom, items: Sequence[Assignment], now: datetime) -> list[Row]:
    """Return every student of the class, and former ones with work, by name."""
    exceptions = assignments.exceptions_in(db, [item.id for item in items])
    tallies = marks.tallies_of_assignments(db, [item.id for item in items])
    counted = marks.attempts_by_id(db, [tally.counted for tally in tallies.values()])
    changed_by = submissions.changed_by(db, [i for i, each in counted.items() if each.mark.changed])
    worked = {who for _assignment, who in tallies}

    def cell(key: Key) -> Cell | None:
        tally = tallies.get(key)
        if tally is None or tally.score is None:
            return None
        return _cell(tally, counted[tally.counted], changed_by.get(tally.counted, ""))

    students = [
        each
        for each in classes.members_of(db, classroom.id)
        if each.role == "student" and (each.left_at is None or each.person_id in worked)
    ]
    totals = totals_of(items, tallies, exceptions, [each.person_id for each in students], now)
    return [
        Row(
            id=each.person.outside_id or f"person-{each.person_id}",
            name=each.person.name,
            sign_in=each.person.sign_in,
            cells=[cell((item.id, each.person_id)) for item in items],
            terms=[_terms(exceptions.get((item.id, each.person_id)), classroom.time_zone) for item in items],
            total=None if (total := totals[each.person_id]) is None else 100 * total,
        )
        for each in students
    ]


def _cell(tally: Tally, counted: MarkedAttempt, changed_by: str) -> Cell:
    return Cell(
        points=counted.mark.points,
        of=counted.mark.of,
        attempts=tally.attempts,
        days_late=tally.days_late,
        kept=tally.kept or 0.0,
        changed_by=changed_by,
        submitted_at=counted.submitted_at,
        to_come=counted.mark.to_come,
    )


def _terms(exception: AssignmentException | None, time_zone: str) -> Terms | None:
    found = exception_view(exception, time_zone)
    if found is None:
        return None
    due = "" if found.due is None else f"{found.due:%Y-%m-%d %H:%M} {time_zone}"
    return Terms(due=due, attempts=found.attempts, excused=found.excused)


def _everything(
    db: Session, classroom: Classroom, given: tuple[Sequence[Assignment], Sequence[Column], Sequence[Row]]
) -> Iterator[tuple[str, bytes]]:
    """Yield all of a class: marks, and every submission with its reports, a folder an exercise and a student."""
    items, columns, rows = given
    yield "marks.csv", marks_csv(columns, rows)
    yield "marks.xlsx", marks_xlsx(columns, rows)
    about = {"class": classroom.name, "time_zone": classroom.time_zone, "students": [row.name for row in rows]}
    yield "class.json", _json(about)
    for item in items:
        folder = f"{item.id}-{_stem(assigned_exercise(item).exercise.title)}"
        for submission in submissions.all_of(db, item.id):
            place = f"{folder}/{_stem(submission.person.name)}-{submission.person_id}/try-{submission.number}"
            yield f"{place}-submission.json", _json(submission.document)
            for number, report in enumerate(submission.reports, 1):
                yield f"{place}-report-{number}.json", _json(report.document)
            for review in submission.reviews:
                said = {"check": review.check_id, "points": review.points, "text": review.text}
                yield f"{place}-review-{review.id}.json", _json(said | {"by": review.person.name})
            if submission.file is not None:
                yield f"{place}-file-{_name(submission.file.name)}", submission.file.content


def _json(value: Any) -> bytes:
    return json.dumps(value, ensure_ascii=False, indent=1).encode()


_UNSAFE: Final = re.compile(r"[^\w.-]+")


def _stem(text: str) -> str:
    """Return a name for files, made of a text."""
    return _UNSAFE.sub("-", text.lower()).strip("-.")[:80] or "class"


def _name(text: str) -> str:
    """Return the name of a file without its folders."""
    return _UNSAFE.sub("-", text).strip("-.")[-100:] or "file"
