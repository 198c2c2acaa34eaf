"""Telling other processes that something changed: it only wakes viewers, the tables are the truth.

What changed is noted with the session and told after its transaction, not in it: the database lets those who notify
commit one after the other, each waiting for the disk, and a class that saves would wait in a row.
"""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Sequence
from contextlib import contextmanager
from typing import Final

from sqlalchemy import Engine, text
from sqlalchemy.orm import Session

CHANNEL: Final = "cube_drill_live"
NOTIFY: Final = f"select pg_notify('{CHANNEL}', :changes)"
AT_ONCE: Final = 150  # changes in one notification, which may have 8000 bytes
_NOTED: Final = "changes to be told"

# Class, assignment, person; without the last two more than one cell of the class changed.
BoardChange = tuple[int, int | None, int | None]


def tell(db: Session, class_id: int, assignment_id: int, person_id: int) -> None:
    """Note that one student's work on one assignment changed."""
    db.info.setdefault(_NOTED, set()).add((class_id, assignment_id, person_id))


def tell_all_of(db: Session, class_id: int) -> None:
    """Note that more than a cell changed: the members or assignments of a class."""
    db.info.setdefault(_NOTED, set()).add((class_id, None, None))


def noted(db: Session) -> set[BoardChange]:
    """Take what was noted with a session, to be told once it is committed."""
    found: set[BoardChange] = db.info.pop(_NOTED, set())
    return found


def payloads(changes: Collection[BoardChange]) -> Iterator[str]:
    """Yield the texts of notifications that tell changes."""
    rows: Sequence[BoardChange] = list(changes)
    for first in range(0, len(rows), AT_ONCE):
        yield json.dumps(rows[first : first + AT_ONCE], separators=(",", ":"))


@contextmanager
def notifying_session(engine: Engine) -> Iterator[Session]:
    """Give a session and a transaction, and tell afterwards what changed in it."""
    with Session(engine) as db:
        with db.begin():
            yield db
        changes = noted(db)
    if changes:
        with engine.begin() as connection:
            connection.execute(text("set local synchronous_commit = off"))  # nothing is kept by it
            for changed in payloads(changes):
                connection.execute(text(NOTIFY), {"changes": changed})
