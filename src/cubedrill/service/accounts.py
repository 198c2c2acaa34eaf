"""Signing in and out, and who somebody is."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta
from typing import Final

from pwdlib import PasswordHash
from sqlalchemy.orm import Session

from cubedrill.service.errors import RefusedError
from cubedrill.service.views import PersonView
from cubedrill.store import people
from cubedrill.store.tables import Event, Person, SignedIn, SignInFailure

SESSION_LENGTH: Final = timedelta(hours=12)
THROTTLE_WINDOW: Final = timedelta(minutes=10)
MOST_TRIES_A_NAME: Final = 6  # from one address, so that nobody can lock a student out from elsewhere
MOST_TRIES_AN_ADDRESS: Final = 100  # a whole class may share one address

PASSWORDS: Final = PasswordHash.recommended()
# Checked against when there is no such person, so that the answer takes as long as for one who exists.
_NOBODY: Final = PASSWORDS.hash(secrets.token_urlsafe(16))


def sign_in(db: Session, name: str, password: str, address: str, now: datetime) -> tuple[str, PersonView]:
    """Return the secret token for the browser, and who signed in.

    Raises RefusedError "sign-in-failed", or "too-many-tries" after too many failures. A failure is committed at once.
    """
    name = name.strip().lower()
    _require_tries_left(db, name, address, now)
    person = people.person_by_sign_in(db, name)
    fits = PASSWORDS.verify(password, person.password_hash if person else _NOBODY)
    if person is None or not fits:
        db.add(SignInFailure(sign_in=name, address=address, failed_at=now))
        db.commit()
        raise RefusedError("sign-in-failed")
    people.delete_expired(db, now, now - THROTTLE_WINDOW)
    token = secrets.token_urlsafe(32)
    session = SignedIn(
        token_hash=token_hash(token),
        person_id=person.id,
        csrf_token=secrets.token_urlsafe(24),
        expires_at=now + SESSION_LENGTH,
    )
    db.add_all([session, Event(person_id=person.id, kind="signed in", facts={})])
    return token, person_view(session, person)


def signed_in(db: Session, token: str | None, now: datetime) -> SignedIn:
    """Return the session of a token; raise RefusedError "signed-out" where there is none or it has run out."""
    session = people.signed_in_by_token_hash(db, token_hash(token), now) if token else None
    if session is None:
        raise RefusedError("signed-out")
    return session


def sign_out(db: Session, session: SignedIn) -> None:
    """End a session."""
    people.delete_signed_in(db, session.token_hash)


def person_view(session: SignedIn, person: Person) -> PersonView:
    """Return somebody as the screens know her."""
    return PersonView(name=person.name, sign_in=person.sign_in, csrf_token=session.csrf_token)


def token_hash(token: str) -> str:
    """Return what the table keeps of a token: a copy of the table opens no session."""
    return hashlib.sha256(token.encode()).hexdigest()


def _require_tries_left(db: Session, name: str, address: str, now: datetime) -> None:
    since = now - THROTTLE_WINDOW
    of_name, of_all = people.failures_since(db, since, address, name), people.failures_since(db, since, address)
    if of_name >= MOST_TRIES_A_NAME or of_all >= MOST_TRIES_AN_ADDRESS:
        raise RefusedError("too-many-tries", minutes=int(THROTTLE_WINDOW.total_seconds() // 60))
