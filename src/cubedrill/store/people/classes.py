"""Classes and their members."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.tables import Classroom, Event, Invitation, JoinCode, Membership, Person


def role_in(db: Session, class_id: int, person_id: int) -> str | None:
    """Return a person's role in a class; none for a stranger, and for who has left it."""
    query = select(Membership.role).where(Membership.class_id == class_id, Membership.person_id == person_id)
    return db.scalar(query.where(Membership.left_at.is_(None)))


def classes_taught(db: Session, person_id: int) -> Sequence[Classroom]:
    """Return the classes of which a person is an instructor, by name."""
    query = select(Classroom).join(Membership, Membership.class_id == Classroom.id)
    query = query.where(
        Membership.person_id == person_id, Membership.role == "instructor", Membership.left_at.is_(None)
    )
    return db.scalars(query.order_by(Classroom.name, Classroom.id)).all()


def names_of(db: Session, class_ids: Collection[int]) -> dict[int, str]:
    """Return the names of classes by their ids."""
    query = select(Classroom.id, Classroom.name).where(Classroom.id.in_(class_ids))
    return {i: name for i, name in db.execute(query)}  # noqa: C416


def student_counts(db: Session, class_ids: Collection[int]) -> dict[int, int]:
    """Count the students of each of these classes."""
    query = select(Membership.class_id, func.count()).where(Membership.role == "student", Membership.left_at.is_(None))
    rows = db.execute(query.where(Membership.class_id.in_(class_ids)).group_by(Membership.class_id))
    return {class_id: count for class_id, count in rows}  # noqa: C416 - a row is not a pair to the type checker


def students_of(db: Session, class_id: int) -> Sequence[Person]:
    """Return all students of a class by name."""
    return [each.person for each in members_of(db, class_id) if each.role == "student" and each.left_at is None]


def members_of(db: Session, class_id: int) -> Sequence[Membership]:
    """Return all who are or were in a class, by name."""
    query = select(Membership).join(Person).options(joinedload(Membership.person))
    return db.scalars(query.where(Membership.class_id == class_id).order_by(Person.name, Person.id)).all()


def memberships_of(db: Session, person_ids: Iterable[int]) -> dict[int, list[Membership]]:
    """In which classes people are or were, by person."""
    found: dict[int, list[Membership]] = {person_id: [] for person_id in person_ids}
    for each in db.scalars(select(Membership).where(Membership.person_id.in_(found))):
        found[each.person_id].append(each)
    return found


def invitation(db: Session, class_id: int, person_id: int) -> Invitation | None:
    """Return the request to a person to teach a class, or none."""
    return db.get(Invitation, (class_id, person_id))


def invitations_to(db: Session, person_id: int) -> Sequence[Invitation]:
    """Return the requests to a person to teach classes, the latest first."""
    query = select(Invitation).options(joinedload(Invitation.classroom), joinedload(Invitation.by))
    return db.scalars(query.where(Invitation.person_id == person_id).order_by(Invitation.made_at.desc())).all()


def invitations_of(db: Session, class_id: int) -> Sequence[Invitation]:
    """Return the requests to teach a class, the earliest first."""
    query = select(Invitation).options(joinedload(Invitation.person)).where(Invitation.class_id == class_id)
    return db.scalars(query.order_by(Invitation.made_at)).all()


def join_code(db: Session, code: str, now: datetime) -> JoinCode | None:
    """Find a code that has not ended, with its class."""
    query = select(JoinCode).options(joinedload(JoinCode.classroom)).where(JoinCode.code == code)
    return db.scalar(query.where(JoinCode.ends_at > now))


def join_codes_of(db: Session, class_id: int, now: datetime) -> Sequence[JoinCode]:
    """Return the codes of a class that have not ended, the one that ends first first."""
    query = select(JoinCode).where(JoinCode.class_id == class_id, JoinCode.ends_at > now)
    return db.scalars(query.order_by(JoinCode.ends_at)).all()


def events_of_kind(db: Session, class_ids: Collection[int], kind: str, since: datetime) -> Sequence[Event]:
    """Events of one kind in some classes since a moment, the newest first."""
    query = select(Event).where(Event.class_id.in_(class_ids), Event.kind == kind, Event.happened_at >= since)
    return db.scalars(query.order_by(Event.id.desc())).all()


def events_of(db: Session, class_id: int, before: int | None, most: int) -> Sequence[tuple[Event, str]]:
    """Events of a class with the names of who acted, the newest first; before: the id of an event."""
    query = select(Event, func.coalesce(Person.name, "")).outerjoin(Person, Person.id == Event.person_id)
    query = query.where(Event.class_id == class_id)
    if before is not None:
        query = query.where(Event.id < before)
    return [(event, name) for event, name in db.execute(query.order_by(Event.id.desc()).limit(most))]
