"""Telling other processes that something changed: it only wakes those who look on, the tables are the truth."""

from __future__ import annotations

import json
from typing import Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

CHANNEL: Final = "cube_drill_live"


def tell(db: Session, class_id: int, assignment_id: int, person_id: int) -> None:
    """Tell, when the transaction is committed, that one student's work on one thing set changed."""
    _notify(db, class_id, assignment_id, person_id)


def tell_all_of(db: Session, class_id: int) -> None:
    """Tell, when the transaction is committed, that more than a cell changed: who is in a class, or what is set."""
    _notify(db, class_id, None, None)


def _notify(db: Session, *what: int | None) -> None:
    db.execute(select(func.pg_notify(CHANNEL, json.dumps(what))))
