"""The totals of a class: each student's weighted mean over the assignments."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from datetime import datetime

from sqlalchemy.orm import Session

from cubedrill.core.judging.total import TotalItem, total_of
from cubedrill.service.access import class_to_change
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.classes import note
from cubedrill.store import assignments
from cubedrill.store.assignments import Key, Terms, terms_with
from cubedrill.store.marks.marks import Tally
from cubedrill.store.tables import Assignment, AssignmentException, Person


def totals_of(
    items: Sequence[Assignment],
    tallies: Mapping[Key, Tally],
    exceptions: Mapping[Key, AssignmentException],
    people: Collection[int],
    now: datetime,
) -> dict[int, float | None]:
    """Return the total of each of these people over some assignments, from 0 to 1; None if nothing counts yet."""
    plain = [(item, terms_with(item, None)) for item in items]

    def terms_of(item: Assignment, terms: Terms, person: int) -> Terms:
        exception = exceptions.get((item.id, person))
        return terms if exception is None else terms_with(item, exception)

    return {
        person: total_of(
            total_item(item, terms_of(item, terms, person), tallies.get((item.id, person)), now)
            for item, terms in plain
        )
        for person in people
    }


def total_item(item: Assignment, terms: Terms, tally: Tally | None, now: datetime) -> TotalItem:
    """Return an assignment as a part of a student's total."""
    return TotalItem(
        weight=item.weight,
        score=None if tally is None else tally.score,
        excused=terms.excused,
        due=now >= terms.due_at,
        awaited=tally is not None and tally.score is None and tally.kept is not None,
    )


def set_weights(db: Session, person: Person, class_id: int, weights: Mapping[int, float]) -> None:
    """Set the weights of assignments of a class in the total; others keep theirs.

    Raises RefusedError "not-found" for an assignment of another class, "no-weight" if all would be 0, "class-archived".
    """
    class_to_change(db, person, class_id)
    assignments.lock_class(db, class_id)
    items = {item.id: item for item in assignments.assignments_in(db, class_id)}
    if not set(weights) <= set(items):
        raise RefusedError("not-found")
    for assignment_id, weight in weights.items():
        items[assignment_id].weight = weight
    if items and not any(item.weight for item in items.values()):
        raise RefusedError("no-weight")
    note(db, person, "weights changed", class_id)
