"""The rules of access: who may see and do what, by role and ownership."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

from sqlalchemy.orm import Session

from cubedrill.service.errors import RefusedError
from cubedrill.store import assignments
from cubedrill.store.people import classes
from cubedrill.store.plans import plans
from cubedrill.store.tables import Assignment, Classroom, ExerciseVersion, Person, StoredPlan, StoredSubmission
from cubedrill.store.work import submissions

Role = Literal["student", "instructor"]
Right = Literal["view", "edit"]


def assignment_for(db: Session, person: Person, assignment_id: int, role: Role) -> Assignment:
    """Return an assignment to a person who has this role in its class.

    Raises RefusedError "not-found" for a stranger to the class (who need not learn that it exists), "wrong-role" else.
    """
    assignment = assignments.assignment_by_id(db, assignment_id)
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
    """Return a submission to an instructor of the class; raise RefusedError "not-found", "wrong-role" or "own-work"."""
    submission = submission_for(db, person, submission_id)
    _require_role(db, person, submission.assignment, "instructor")
    require_active(submission.assignment.classroom)
    if submission.person_id == person.id:  # submitted before becoming an instructor
        raise RefusedError("own-work")
    return submission


def _require_role(db: Session, person: Person, assignment: Assignment, role: Role) -> None:
    actual = classes.role_in(db, assignment.class_id, person.id)
    if actual is None:
        raise RefusedError("not-found")
    if actual != role:
        raise RefusedError("wrong-role", role=role)
    if role == "student":
        require_active(assignment.classroom)
        if not is_open(assignment, datetime.now(UTC)):
            raise RefusedError("not-open")


def is_open(assignment: Assignment, now: datetime) -> bool:
    """Tell whether students may work on an assignment. Before it opens they see its title and opening date."""
    return assignment.opens_at is None or assignment.opens_at <= now


def class_for(db: Session, person: Person, class_id: int) -> Classroom:
    """Return a class to an instructor of it.

    Raises RefusedError "not-found" for a stranger to it, "wrong-role" for a student.
    """
    role = classes.role_in(db, class_id, person.id)
    if role is None:
        raise RefusedError("not-found")
    if role != "instructor":
        raise RefusedError("wrong-role", role="instructor")
    return db.get_one(Classroom, class_id)


def class_to_change(db: Session, person: Person, class_id: int) -> Classroom:
    """Return a class to an instructor who changes something in it; raise RefusedError "class-archived" too."""
    classroom = class_for(db, person, class_id)
    require_active(classroom)
    return classroom


def assignment_to_change(db: Session, person: Person, assignment_id: int) -> Assignment:
    """Return an assignment to an instructor who changes it; raise RefusedError "class-archived" too."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    require_active(assignment.classroom)
    return assignment


def require_active(classroom: Classroom) -> None:
    """Raise RefusedError "class-archived" if nothing in a class may be changed any more."""
    if classroom.archived_at is not None:
        raise RefusedError("class-archived", name=classroom.name)


def plan_for(db: Session, person: Person, plan_id: int, right: Right = "view") -> StoredPlan:
    """Return a plan to its owner, and to whom it is shared with for this.

    Raises RefusedError "not-found" for everybody else, and "view-only" for who may only look at it.
    """
    plan = plans.plan_by_id(db, plan_id)
    if plan is None:
        raise RefusedError("not-found")
    if plan.owner_id == person.id:
        return plan
    if not plans.rights_on(db, person.id, plan_id) or not may_make_classes(db, person):
        raise RefusedError("not-found")
    if right == "edit" and not may_edit(db, person, plan):
        raise RefusedError("view-only", owner=plan.owner.name)
    return plan


def may_edit(db: Session, person: Person, plan: StoredPlan) -> bool:
    """Tell whether somebody who can open a plan may change it too."""
    return plan.owner_id == person.id or "edit" in plans.rights_on(db, person.id, plan.id)


def own_plan(db: Session, person: Person, plan_id: int) -> StoredPlan:
    """Return a plan to its owner; raise RefusedError "not-yours" for whom it is shared with."""
    plan = plan_for(db, person, plan_id)
    if plan.owner_id != person.id:
        raise RefusedError("not-yours", owner=plan.owner.name)
    return plan


def version_for(db: Session, person: Person, version_id: int) -> ExerciseVersion:
    """Return a published version to an instructor who may see it."""
    require_instructor(db, person)
    version = plans.version_seen_by(db, person.id, version_id)
    if version is None:
        raise RefusedError("not-found")
    return version


def require_instructor(db: Session, person: Person) -> None:
    """Raise RefusedError "wrong-role" for somebody who teaches no class and may make none."""
    if not may_make_classes(db, person):
        raise RefusedError("wrong-role", role="instructor")


def may_make_classes(db: Session, person: Person) -> bool:
    """Tell whether somebody may make classes and exercises: who teaches one does, and whom the installation let."""
    return person.makes_classes or bool(classes.classes_taught(db, person.id))
