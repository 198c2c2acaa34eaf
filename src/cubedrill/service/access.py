"""Who may see and do what: one place for the rules of role and ownership."""

from __future__ import annotations

from typing import Literal

from sqlalchemy.orm import Session

from cubedrill.service.errors import RefusedError
from cubedrill.store import classes, submissions
from cubedrill.store.tables import Assignment, Person, StoredSubmission

Role = Literal["student", "instructor"]


def assignment_for(db: Session, person: Person, assignment_id: int, role: Role) -> Assignment:
    """Return what is set, to somebody who has this role in its class.

    Raises RefusedError "not-found" for a stranger to the class (who need not learn that it exists), "wrong-role" else.
    """
    assignment = classes.assignment_by_id(db, assignment_id)
    if assignment is None:
        raise RefusedError("not-found")
    _require_role(db, person, assignment, role)
    return assignment


def submission_for(db: Session, person: Person, submission_id: int) -> StoredSubmission:
    """Return a submission to the student who handed it in and to the instructors of the class."""
    submission = submissions.submission_by_id(db, submission_id)
    if submission is None:
        raise RefusedError("not-found")
    if submission.person_id != person.id:
        role = classes.role_in(db, submission.assignment.class_id, person.id)
        if role != "instructor":
            raise RefusedError("not-found")
    return submission


def reviewed_submission(db: Session, person: Person, submission_id: int) -> StoredSubmission:
    """Return a submission to an instructor of the class; raise RefusedError "not-found" or "wrong-role"."""
    submission = submission_for(db, person, submission_id)
    _require_role(db, person, submission.assignment, "instructor")
    return submission


def _require_role(db: Session, person: Person, assignment: Assignment, role: Role) -> None:
    actual = classes.role_in(db, assignment.class_id, person.id)
    if actual is None:
        raise RefusedError("not-found")
    if actual != role:
        raise RefusedError("wrong-role", role=role)
