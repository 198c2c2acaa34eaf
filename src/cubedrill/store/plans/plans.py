"""Plans: exercises in progress, and the versions that they, or the product, brought."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from typing import Any

from sqlalchemy import ColumnElement, Select, delete, func, or_, select, update
from sqlalchemy.orm import Session, aliased, joinedload

from cubedrill.store.tables import Assignment, ExerciseVersion, Membership, PlanShare, PlanSteps, StoredPlan

PUBLISHING = 1  # what the database holds while somebody publishes; numbers mean something to this application alone
NAMING = 4


def plan_by_id(db: Session, plan_id: int) -> StoredPlan | None:
    """Find a plan, with its owner."""
    return db.scalar(select(StoredPlan).options(joinedload(StoredPlan.owner)).where(StoredPlan.id == plan_id))


def plans_seen_by(db: Session, person_id: int) -> Sequence[StoredPlan]:
    """Return a person's own and shared plans, the last changed first."""
    query = select(StoredPlan).options(joinedload(StoredPlan.owner))
    query = query.where(or_(StoredPlan.owner_id == person_id, StoredPlan.id.in_(_shared_with(person_id))))
    return db.scalars(query.order_by(StoredPlan.saved_at.desc(), StoredPlan.id)).all()


def _shared_with(person_id: int) -> Select[int]:
    """Select the ids of plans shared with a person, or with a class that both person and owner teach."""
    return select(PlanShare.plan_id).where(_reaches(person_id))


def _reaches(person_id: int) -> ColumnElement[bool]:
    """Return the condition that a share includes a person, by name or by a class that both person and owner teach."""
    mine, theirs = aliased(Membership), aliased(Membership)
    both = (
        select(mine.class_id)
        .join(theirs, theirs.class_id == mine.class_id)
        .join(StoredPlan, StoredPlan.owner_id == theirs.person_id)
        .where(mine.person_id == person_id, mine.role == "instructor", mine.left_at.is_(None))
        .where(theirs.role == "instructor", theirs.left_at.is_(None), StoredPlan.id == PlanShare.plan_id)
    )
    return or_(PlanShare.person_id == person_id, PlanShare.class_id.in_(both))


def rights_on(db: Session, person_id: int, plan_id: int) -> set[str]:
    """Return the rights that a person has on another's plan: `view`, `edit`, both, or none."""
    return set(db.scalars(select(PlanShare.right).where(PlanShare.plan_id == plan_id, _reaches(person_id))))


def rights_of(db: Session, person_id: int) -> dict[int, set[str]]:
    """Return a person's rights on shared plans, by plan."""
    found: dict[int, set[str]] = {}
    for plan_id, right in db.execute(select(PlanShare.plan_id, PlanShare.right).where(_reaches(person_id))):
        found.setdefault(plan_id, set()).add(right)
    return found


def shares_of(db: Session, plan_ids: Collection[int]) -> Sequence[PlanShare]:
    """Return the shares of plans, the earliest first."""
    return db.scalars(select(PlanShare).where(PlanShare.plan_id.in_(plan_ids)).order_by(PlanShare.id)).all()


def replace_shares(db: Session, plan_id: int, shares: Iterable[PlanShare]) -> None:
    """Replace the shares of a plan."""
    db.execute(delete(PlanShare).where(PlanShare.plan_id == plan_id))
    db.add_all(shares)
    db.flush()


def colleagues_of(person_id: int) -> Any:
    """Select the ids of the instructors of a person's classes, including the person."""
    mine, theirs = aliased(Membership), aliased(Membership)
    query = select(theirs.person_id).join(mine, mine.class_id == theirs.class_id)
    both = (mine.role == "instructor", theirs.role == "instructor", mine.left_at.is_(None), theirs.left_at.is_(None))
    return query.where(mine.person_id == person_id, *both)


def colleagues(db: Session, person_id: int) -> set[int]:
    """Return the ids of those who teach a class that a person teaches."""
    return set(db.scalars(colleagues_of(person_id)))


def save_card(db: Session, plan: StoredPlan, revision: int, document: object, shape: int) -> bool:
    """Save a plan's card if it still has this revision; return whether it had."""
    query = update(StoredPlan).where(StoredPlan.id == plan.id, StoredPlan.revision == revision)
    query = query.values(document=document, shape=shape, revision=revision + 1, saved_at=func.now())
    saved = db.execute(query.returning(StoredPlan.id)).first() is not None
    db.refresh(plan)
    return saved


def publish_in_turn(db: Session, exercise: str) -> None:
    """Wait until nobody else publishes this exercise; others wait until the transaction ends: versions are numbered."""
    db.execute(select(func.pg_advisory_xact_lock(PUBLISHING, func.hashtext(exercise))))


def name_in_turn(db: Session) -> None:
    """Wait until nobody else gives an exercise its id; others wait until the transaction ends."""
    db.execute(select(func.pg_advisory_xact_lock(NAMING)))


def versions_of(db: Session, exercise: str) -> Sequence[ExerciseVersion]:
    """Return all versions of an exercise, the first one first."""
    query = select(ExerciseVersion).where(ExerciseVersion.exercise == exercise)
    return db.scalars(query.order_by(ExerciseVersion.number)).all()


def versions_seen_by(db: Session, person_id: int) -> Sequence[ExerciseVersion]:
    """Return the versions of the product and of a person's fellow instructors, by exercise and number."""
    query = select(ExerciseVersion).where(_seen_by(person_id))
    return db.scalars(query.order_by(ExerciseVersion.exercise, ExerciseVersion.number)).all()


def version_seen_by(db: Session, person_id: int, version_id: int) -> ExerciseVersion | None:
    """Find a version among those that a person may see."""
    return db.scalar(select(ExerciseVersion).where(ExerciseVersion.id == version_id, _seen_by(person_id)))


def _seen_by(person_id: int) -> ColumnElement[bool]:
    return or_(ExerciseVersion.publisher_id.is_(None), ExerciseVersion.publisher_id.in_(colleagues_of(person_id)))


def step_counts(db: Session) -> dict[tuple[int, str], int]:
    """Count the steps of plans, by plan and part."""
    rows = db.execute(
        select(PlanSteps.plan_id, PlanSteps.part, PlanSteps.steps_counting()).where(PlanSteps.part != "trial")
    )
    return {(plan_id, part): cursor for plan_id, part, cursor in rows}


def ids_taken(db: Session) -> set[str]:
    """Return the ids that versions and plans have."""
    published = db.scalars(select(ExerciseVersion.exercise).distinct())
    return {*published, *db.scalars(select(StoredPlan.exercise))}


def settings_of(db: Session, person_id: int) -> Sequence[Assignment]:
    """Assignments in the classes that a person teaches."""
    query = select(Assignment).join(Membership, Membership.class_id == Assignment.class_id)
    query = query.where(
        Membership.person_id == person_id, Membership.role == "instructor", Membership.left_at.is_(None)
    )
    return db.scalars(query.options(joinedload(Assignment.classroom))).all()
