"""Signing in and out, and who somebody is."""

from __future__ import annotations

import hashlib
import math
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
IDLE: Final = timedelta(hours=2)  # so long without a request, and a session ends
NOTED_EVERY: Final = timedelta(minutes=5)  # how exactly it is known when somebody was here last
THROTTLE_WINDOW: Final = timedelta(minutes=10)
# From one address for one name: so many tries, then each has to wait twice as long as the one before, to a minute.
FREE_TRIES: Final = 6
FIRST_WAIT: Final = timedelta(seconds=2)
LONGEST_WAIT: Final = timedelta(minutes=1)
MOST_TRIES_A_NAME: Final = 100  # from anywhere: far more than anybody who forgot, far less than it takes to guess
# From one address, which a whole class may share: never refused, but slowed down.
FREE_TRIES_AN_ADDRESS: Final = 30
SLOWED_EACH_S: Final = 0.1
SLOWED_MOST_S: Final = 2.0

PASSWORDS: Final = PasswordHash.recommended()
# Checked against when there is no such person, so that the answer takes as long as for one who exists.
_NOBODY: Final = PASSWORDS.hash(secrets.token_urlsafe(16))


def sign_in(db: Session, name: str, password: str, address: str, now: datetime) -> tuple[str, PersonView]:
    """Return the secret token for the browser, and who signed in.

    Raises RefusedError "sign-in-failed", or "too-many-tries" after too many failures. A try counts as failed before the
    password is looked at, so that many at once are not more than one after the other.
    """
    name = name.strip().lower()
    counted = _counted(db, name, address, now)
    person = people.person_by_sign_in(db, name)
    fits = PASSWORDS.verify(password, person.password_hash if person else _NOBODY)
    if person is None or not fits:
        facts = {"sign_in": name, "address": address}
        db.add(Event(person_id=person.id if person else None, kind="sign-in failed", facts=facts))
        db.commit()
        raise RefusedError("sign-in-failed")
    people.delete_failure(db, counted)
    people.delete_expired(db, now, now - IDLE, now - THROTTLE_WINDOW)
    token = secrets.token_urlsafe(32)
    session = SignedIn(
        token_hash=token_hash(token),
        person_id=person.id,
        csrf_token=secrets.token_urlsafe(24),
        expires_at=now + SESSION_LENGTH,
        seen_at=now,
    )
    db.add_all([session, Event(person_id=person.id, kind="signed in", facts={"address": address})])
    return token, person_view(session, person)


def is_known(db: Session, token: str | None, now: datetime) -> bool:
    """Tell whether a token is that of somebody signed in."""
    return token is not None and people.signed_in_by_token_hash(db, token_hash(token), now, now - IDLE) is not None


def signed_in(db: Session, token: str | None, now: datetime) -> SignedIn:
    """Return the session of a token; raise RefusedError "signed-out" where there is none or it has run out."""
    session = people.signed_in_by_token_hash(db, token_hash(token), now, now - IDLE) if token else None
    if session is None:
        raise RefusedError("signed-out")
    if session.seen_at < now - NOTED_EVERY:
        session.seen_at = now
    return session


def sign_out(db: Session, session: SignedIn) -> None:
    """End a session."""
    db.add(Event(person_id=session.person_id, kind="signed out", facts={}))
    people.delete_signed_in(db, session.token_hash)


def end_session(db: Session, token: str | None) -> None:
    """End the session that a browser had before, whoever signs in there now."""
    if token is not None:
        people.delete_signed_in(db, token_hash(token))


def end_others(db: Session, session: SignedIn) -> None:
    """End all of somebody's sessions but this one."""
    ended = people.delete_others(db, session.person_id, session.token_hash)
    db.add(Event(person_id=session.person_id, kind="ended other sessions", facts={"ended": ended}))


def slowed_s(db: Session, address: str, now: datetime) -> float:
    """How long somebody who signs in from an address has to wait, after many tries from there that failed."""
    failed = people.failures_since(db, now - THROTTLE_WINDOW, address=address)
    return min(SLOWED_MOST_S, max(0, failed - FREE_TRIES_AN_ADDRESS) * SLOWED_EACH_S)


def person_view(session: SignedIn, person: Person) -> PersonView:
    """Return somebody as the screens know her."""
    return PersonView(name=person.name, sign_in=person.sign_in, csrf_token=session.csrf_token)


def token_hash(token: str) -> str:
    """Return what the table keeps of a token: a copy of the table opens no session."""
    return hashlib.sha256(token.encode()).hexdigest()


def _counted(db: Session, name: str, address: str, now: datetime) -> int:
    """Count a try as failed until it is known better, for good; raise RefusedError "too-many-tries".

    Done in a transaction of its own, which has ended when the password is looked at.
    """
    with Session(db.get_bind()) as own, own.begin():
        people.one_at_a_time(own, name)
        since = now - THROTTLE_WINDOW
        here, last = people.failures_here(own, since, address, name)
        if people.failures_since(own, since, sign_in=name) >= MOST_TRIES_A_NAME:
            raise RefusedError("too-many-tries", wait=int(THROTTLE_WINDOW.total_seconds()))
        left = timedelta() if last is None else last + _wait_after(here) - now
        if left > timedelta():
            raise RefusedError("too-many-tries", wait=math.ceil(left.total_seconds()))
        failure = SignInFailure(sign_in=name, address=address, failed_at=now)
        own.add(failure)
        own.flush()
        return failure.id


def _wait_after(failed: int) -> timedelta:
    """How long to wait after so many tries of one name from one address."""
    return min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(failed - FREE_TRIES, 10)) if failed >= FREE_TRIES else timedelta()
