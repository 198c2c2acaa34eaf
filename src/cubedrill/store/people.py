"""People, who is signed in, and failed tries to sign in."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.tables import Person, SignedIn, SignInFailure


def person_by_sign_in(db: Session, sign_in: str) -> Person | None:
    """Find a person by the name she signs in with; upper and lower case are the same."""
    return db.scalar(select(Person).where(Person.sign_in == sign_in.strip().lower()))


def signed_in_by_token_hash(db: Session, token_hash: str, now: datetime) -> SignedIn | None:
    """Find a session that has not run out, with its person."""
    query = select(SignedIn).options(joinedload(SignedIn.person))
    return db.scalar(query.where(SignedIn.token_hash == token_hash, SignedIn.expires_at > now))


def delete_signed_in(db: Session, token_hash: str) -> None:
    """End a session."""
    db.execute(delete(SignedIn).where(SignedIn.token_hash == token_hash))


def delete_expired(db: Session, now: datetime, failures_before: datetime) -> None:
    """Clear out sessions that have run out and failures that no longer count."""
    db.execute(delete(SignedIn).where(SignedIn.expires_at <= now))
    db.execute(delete(SignInFailure).where(SignInFailure.failed_at < failures_before))


def failures_since(db: Session, since: datetime, address: str, sign_in: str | None = None) -> int:
    """Count failed tries from an address, of one name or of all."""
    query = select(func.count()).select_from(SignInFailure)
    query = query.where(SignInFailure.address == address, SignInFailure.failed_at >= since)
    if sign_in is not None:
        query = query.where(SignInFailure.sign_in == sign_in)
    return db.scalar(query) or 0
