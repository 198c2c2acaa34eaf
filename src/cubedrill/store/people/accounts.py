"""People, who is signed in, and failed sign-ins to sign in."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import datetime

from sqlalchemy import delete, func, or_, select, update
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.tables import AssignmentException, CalendarFeed, JoinCode, Person, SignedIn, SignInFailure

ADDING = 3  # held while people are added, as the next one is
COUNTING = 2  # what the database holds while sign-ins are counted; numbers mean something to this application alone


def person_by_sign_in(db: Session, sign_in: str) -> Person | None:
    """Find a person by username, ignoring case."""
    return db.scalar(select(Person).where(Person.sign_in == sign_in.strip().lower()))


def add_in_turn(db: Session) -> None:
    """Wait until nobody else adds people; others wait until the transaction ends. A sign-in is one person's."""
    db.execute(select(func.pg_advisory_xact_lock(ADDING)))


def people_by_sign_in_of(db: Session, names: Collection[str]) -> dict[str, Person]:
    """Find people by the names they sign in with."""
    return {each.sign_in: each for each in db.scalars(select(Person).where(Person.sign_in.in_(names)))}


def people_by_outside_id(db: Session, ids: Collection[str]) -> dict[str, Person]:
    """Find people by what the school's own lists call them."""
    found = db.scalars(select(Person).where(Person.outside_id.in_(ids)).order_by(Person.id.desc()))
    return {each.outside_id: each for each in found if each.outside_id}


def names_of(db: Session, ids: Collection[int]) -> dict[int, str]:
    """Return the names of people by their ids."""
    return {i: name for i, name in db.execute(select(Person.id, Person.name).where(Person.id.in_(ids)))}  # noqa: C416


def makers_among(db: Session, ids: Collection[int]) -> set[int]:
    """Return those who may make classes."""
    return set(db.scalars(select(Person.id).where(Person.id.in_(ids), Person.makes_classes)))


def sign_ins_beginning(db: Session, stems: Collection[str]) -> set[str]:
    """Return the names that begin with one of these and are taken."""
    if not stems:
        return set()
    return set(db.scalars(select(Person.sign_in).where(or_(*(Person.sign_in.startswith(s) for s in stems)))))


def last_seen(db: Session, person_ids: Collection[int]) -> dict[int, datetime]:
    """Return when people were last seen, from their sessions."""
    query = select(SignedIn.person_id, func.max(SignedIn.seen_at)).where(SignedIn.person_id.in_(person_ids))
    return {person_id: seen for person_id, seen in db.execute(query.group_by(SignedIn.person_id))}  # noqa: C416


def sessions_of(db: Session, person_id: int, now: datetime, seen_since: datetime) -> Sequence[SignedIn]:
    """Where somebody is signed in, the last seen first."""
    query = select(SignedIn).where(SignedIn.person_id == person_id, SignedIn.expires_at > now)
    return db.scalars(query.where(SignedIn.seen_at > seen_since).order_by(SignedIn.seen_at.desc())).all()


def erase(db: Session, person_id: int) -> None:
    """Erase somebody's name and work, for good."""
    for table in (AssignmentException, CalendarFeed):
        db.execute(delete(table).where(table.person_id == person_id))
    db.execute(select(func.erase_person(person_id)))
    db.expire_all()


def signed_in_by_token_hash(db: Session, token_hash: str, now: datetime, seen_since: datetime) -> SignedIn | None:
    """Find a session that has not run out and was used since then, with its person."""
    query = select(SignedIn).options(joinedload(SignedIn.person)).where(SignedIn.token_hash == token_hash)
    return db.scalar(query.where(SignedIn.expires_at > now, SignedIn.seen_at > seen_since))


def note_seen(db: Session, token_hash: str, now: datetime) -> None:
    """Note when a session was used last; nothing, if it has ended."""
    db.execute(update(SignedIn).where(SignedIn.token_hash == token_hash).values(seen_at=now))


def hold(db: Session, person_id: int) -> bool:
    """Keep a person from being erased until the transaction ends; return whether the person exists."""
    query = select(Person.id).where(Person.id == person_id, Person.erased_at.is_(None))
    return db.scalar(query.with_for_update(read=True)) is not None


def delete_signed_in(db: Session, token_hash: str) -> None:
    """End a session."""
    db.execute(delete(SignedIn).where(SignedIn.token_hash == token_hash))


def delete_others(db: Session, person_id: int, token_hash: str) -> int:
    """End all sessions of a person but one; return how many there were."""
    query = delete(SignedIn).where(SignedIn.person_id == person_id, SignedIn.token_hash != token_hash)
    return len(db.execute(query.returning(SignedIn.token_hash)).all())


def delete_expired(db: Session, now: datetime, seen_before: datetime, failures_before: datetime) -> None:
    """Delete sessions and join codes that have ended, and failures that no longer count."""
    db.execute(delete(SignedIn).where(or_(SignedIn.expires_at <= now, SignedIn.seen_at <= seen_before)))
    db.execute(delete(SignInFailure).where(SignInFailure.failed_at < failures_before))
    db.execute(delete(JoinCode).where(JoinCode.ends_at <= now))


def one_at_a_time(db: Session, sign_in: str) -> None:
    """Wait until nobody else counts sign-ins for this name; others wait until the transaction ends."""
    db.execute(select(func.pg_advisory_xact_lock(COUNTING, func.hashtext(sign_in))))


def failures_here(db: Session, since: datetime, address: str, sign_in: str) -> tuple[int, datetime | None]:
    """Count failed sign-ins of a name from an address, and say when the last one was."""
    query = select(func.count(), func.max(SignInFailure.failed_at))
    query = query.where(SignInFailure.address == address, SignInFailure.sign_in == sign_in)
    count, last = db.execute(query.where(SignInFailure.failed_at >= since)).one()
    return count, last


def failures_since(db: Session, since: datetime, **which: str) -> int:
    """Count failed sign-ins; which: of this `sign_in`, or from this `address`."""
    query = select(func.count()).select_from(SignInFailure).where(SignInFailure.failed_at >= since)
    return db.scalar(query.filter_by(**which)) or 0


def delete_failure(db: Session, failure_id: int) -> None:
    """Take back a try that was counted as failed."""
    db.execute(delete(SignInFailure).where(SignInFailure.id == failure_id))
