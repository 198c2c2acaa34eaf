"""Load Saltmere Harbour into a database: once; a second time changes nothing."""

from __future__ import annotations

import json
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from cubedrill.core.authoring.plan import Plan
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.submission import Row, SheetSubmission, StepsSubmission
from cubedrill.demo.dates import draft_as_of
from cubedrill.demo.term import load_term
from cubedrill.formats.documents import read_exercise, read_submission
from cubedrill.service.people.accounts import PASSWORDS
from cubedrill.service.plans.plan import keep_plan
from cubedrill.service.prepared import assigned_exercise
from cubedrill.service.work import bench, editing, files, sheets
from cubedrill.service.work.responses import SheetSent
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Assignment, Classroom, Membership, Person, SheetDraft

HERE = Path(__file__).parent
PASSWORD = "harbour-light"  # noqa: S105 - made up, and printed for everybody who runs the demo
SHOWN_SIGN_INS = ("odile", "corin", "pim", "wren", "mira")


def load_demo(db: Session, now: datetime | None = None, *, term: bool = True) -> bool:
    """Load people, exercises and submissions; return whether there was anything to load.

    term: also two more classes with a term's work of theirs.
    """
    if db.scalar(select(Person.id).limit(1)) is not None:
        return False
    now = now or datetime.now(UTC)
    world: dict[str, Any] = json.loads((HERE / "people.json").read_text(encoding="utf-8"))
    password_hash = PASSWORDS.hash(PASSWORD)
    people = {
        row["sign_in"]: Person(sign_in=row["sign_in"], name=row["name"], password_hash=password_hash)
        for row in world["people"]
    }
    db.add_all(people.values())
    db.flush()
    roles = {people[row["sign_in"]].id: row["role"] for row in world["people"]}
    for row in world["classes"]:
        _add_class(db, row, roles, now)
    for assignment in db.scalars(select(Assignment)).all():
        if assignment.exercise_version.number == 1:
            _hand_in_all(db, assignment, people, now)
    if term:
        load_term(db, people, password_hash, now)
    for sign_in, names in world["plans"].items():
        for name in names:
            document = (HERE / "plans" / f"{name}.json").read_text(encoding="utf-8")
            keep_plan(db, people[sign_in], Plan.model_validate_json(document))
    return True


def _add_class(db: Session, row: dict[str, Any], roles: dict[int, str], now: datetime) -> None:
    classroom = Classroom(name=row["name"])
    db.add(classroom)
    db.flush()
    db.add_all(Membership(class_id=classroom.id, person_id=i, role=role) for i, role in roles.items())
    for item in row["assignments"]:
        folder = "newer" if item.get("newer") else "exercises"
        exercise = read_exercise(HERE / folder / f"{item['exercise']}.json")
        version = add_version(db, exercise)
        evening = now.replace(hour=18, minute=0, second=0, microsecond=0)
        due_at = evening + timedelta(days=item["due_in_days"])
        db.add(Assignment(class_id=classroom.id, exercise_version_id=version.id, due_at=due_at))
    db.flush()


def _hand_in_all(db: Session, assignment: Assignment, people: dict[str, Person], now: datetime) -> None:
    submitted = sorted((HERE / "submissions" / assignment.exercise_version.exercise).glob("*.*"))
    for number, file in enumerate(submitted):
        person, when = people[file.stem], now - timedelta(hours=26, minutes=-47 * number)
        match read_submission(file) if file.suffix == ".json" else None:
            case StepsSubmission(steps=steps, matches=matches):
                draft = DraftSteps(steps=steps, cursor=len(steps), matches=matches)
                saved = editing.save(bench.step_editor_of(db, person, assignment.id), 0, draft)
                draft_as_of(db, (assignment.id, person.id), when - timedelta(minutes=1), minutes=20 + number)
                bench.submit(db, person, assignment.id, saved.revision, when)
            case SheetSubmission(rows=rows, conventions=given):
                unit = given or assigned_exercise(assignment).exercise.conventions
                document = SheetSent(conventions=unit, cells=_cells(rows), rows=rows)
                sheets.submit_sheet(db, person, assignment.id, _saved(db, person, assignment, document, when), when)
            case _:  # a scene, or what another program wrote
                _hand_in_file(db, person, assignment, file, when)


def _hand_in_file(db: Session, person: Person, assignment: Assignment, file: Path, when: datetime) -> None:
    sent = files.take_file(db, person, assignment.id, files.SentFile(file.name, file.read_bytes()))
    files.submit_file(db, person, (assignment.id, sent.file), ({}, {}), when)


def _saved(db: Session, person: Person, assignment: Assignment, document: SheetSent, when: datetime) -> int:
    revision = sheets.open_sheet(db, person, assignment.id).revision
    saved = sheets.save_sheet(db, person, assignment.id, revision, document)
    which = (SheetDraft.assignment_id == assignment.id) & (SheetDraft.person_id == person.id)
    db.execute(update(SheetDraft).where(which).values(saved_at=when))
    return saved


def _cells(rows: Iterable[Row]) -> dict[str, dict[str, str]]:
    """Return the values that a student would have typed."""
    return {
        row.object: {"space": row.space, **{
            f"{group}{i}": f"{value:g}"
            for group in ("translation", "euler", "scale")
            for i, value in enumerate(getattr(row, group) or ())
        }}
        for row in rows
    }  # fmt: skip
