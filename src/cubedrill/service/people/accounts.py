"""Signing in and out, and who somebody is."""

from __future__ import annotations

import hashlib
import math
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from typing import Final

from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy import Engine
from sqlalchemy.orm import Session

from cubedrill.service.access import may_make_classes
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.responses import SessionResponse
from cubedrill.service.responses import PersonResponse
from cubedrill.store.people import accounts as people
from cubedrill.store.tables import Event, Person, SignedIn, SignInFailure

LONGEST_BROWSER: Final = 300  # of what is kept of what a browser says of itself
SESSION_LENGTH: Final = timedelta(hours=12)
IDLE: Final = timedelta(hours=2)  # so long without a request, and a session ends
NOTED_EVERY: Final = timedelta(minutes=5)  # the precision of *Last seen*
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

SHORTEST: Final = 10  # characters of a password that somebody chooses
ONE_TIME: Final = timedelta(days=30)  # so long a password that was given can be used
LETTERS: Final = "abcdefghjkmnpqrstuvwxyz23456789"  # none that is taken for another one

PASSWORDS: Final = PasswordHash.recommended()
# For passwords that are given: of 12 random characters nobody tries all, however fast each try is, and those of a
# whole class are made at once.
_RANDOM_ONES: Final = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=1024, parallelism=1),))


@dataclass(frozen=True)
class From:
    """The origin of a sign-in: the address, and the browser's own description."""

    address: str
    browser: str = ""


def sign_in(db: Session, name: str, password: str, at: From, now: datetime) -> tuple[str, PersonResponse]:
    """Return the secret token for the browser, and who signed in.

    Raises RefusedError "sign-in-failed", or "too-many-sign-ins" after too many failures. A sign-in counts as
    failed before the password is checked, so that parallel attempts gain nothing.
    """
    name = name.strip().lower()
    counted = _counted(db, name, at.address, now)
    person = people.person_by_sign_in(db, name)
    fits = _fits(password, person)  # of nobody too, which takes as long
    if person is None or not fits:
        facts = {"sign_in": name, "address": at.address}
        db.add(Event(person_id=person.id if person else None, kind="sign-in failed", facts=facts))
        db.commit()
        raise RefusedError("sign-in-failed")
    if person.one_time_until is not None and person.one_time_until <= now:
        raise RefusedError("one-time-ended")
    people.delete_failure(db, counted)
    return begin_session(db, person, at, now)


def clean_up(engine: Engine, now: datetime) -> None:
    """Delete sessions and join codes that have ended, and failed sign-ins that no longer count."""
    with Session(engine) as db, db.begin():
        people.delete_expired(db, now, now - IDLE, now - THROTTLE_WINDOW)


def _fits(password: str, person: Person | None) -> bool:
    """Tell whether a password is somebody's, in the same time for everybody.

    One-time passwords are random and hashed at little cost, own ones at full cost: one of each is always checked, so
    that the time tells neither who exists nor who has not chosen a password yet.
    """
    own, one_time = _nobodys_hash(), _nobodys_one_time_hash()
    if person is not None and person.password_hash:
        if person.one_time_until is None:
            own = person.password_hash
        else:
            one_time = person.password_hash
    fits = PASSWORDS.verify(password, own), _RANDOM_ONES.verify(password, one_time)
    return any(fits)


def begin_session(db: Session, person: Person, at: From, now: datetime) -> tuple[str, PersonResponse]:
    """Begin a session for an authenticated person; return its token and the person."""
    token = secrets.token_urlsafe(32)
    session = SignedIn(
        token_hash=token_hash(token),
        person_id=person.id,
        csrf_token=secrets.token_urlsafe(24),
        expires_at=now + SESSION_LENGTH,
        seen_at=now,
        began_at=now,
        address=at.address,
        browser=at.browser[:LONGEST_BROWSER],
    )
    db.add_all([session, Event(person_id=person.id, kind="signed in", facts={"address": at.address})])
    return token, person_response(db, session, person)


def known_person(db: Session, token: str | None, now: datetime) -> int | None:
    """Return the id of whoever is signed in with a token; none for nobody."""
    session = people.signed_in_by_token_hash(db, token_hash(token), now, now - IDLE) if token else None
    return None if session is None else session.person_id


def signed_in(db: Session, token: str | None, now: datetime) -> SignedIn:
    """Return the session of a token; raise RefusedError "signed-out" where there is none or it has run out."""
    session = people.signed_in_by_token_hash(db, token_hash(token), now, now - IDLE) if token else None
    if session is None:
        raise RefusedError("signed-out")
    if session.seen_at < now - NOTED_EVERY:
        people.note_seen(db, session.token_hash, now)  # not through the object: the session may end meanwhile
    return session


def hold(db: Session, person: Person) -> None:
    """Keep a person from being erased until the transaction ends; raise RefusedError "signed-out" if already erased."""
    if not people.hold(db, person.id):
        raise RefusedError("signed-out")


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
    """Return how long a sign-in from an address must wait after many failures from there."""
    failed = people.failures_since(db, now - THROTTLE_WINDOW, address=address)
    return min(SLOWED_MOST_S, max(0, failed - FREE_TRIES_AN_ADDRESS) * SLOWED_EACH_S)


def person_response(db: Session, session: SignedIn, person: Person) -> PersonResponse:
    """Return the person of a session, for the screens."""
    return PersonResponse(
        name=person.name,
        sign_in=person.sign_in,
        csrf_token=session.csrf_token,
        must_choose=person.one_time_until is not None,
        teaches=may_make_classes(db, person),
    )


def sessions_of(db: Session, session: SignedIn, now: datetime) -> tuple[SessionResponse, ...]:
    """List a person's sessions."""
    return tuple(
        SessionResponse(
            id=_public(each), address=each.address, browser=each.browser, began_at=each.began_at, seen_at=each.seen_at,
            here=each.token_hash == session.token_hash,
        )
        for each in people.sessions_of(db, session.person_id, now, now - IDLE)
    )  # fmt: skip


def end_one(db: Session, session: SignedIn, public: str, now: datetime) -> None:
    """End one of somebody's own sessions; raise RefusedError "not-found" where there is none such."""
    found = [each for each in people.sessions_of(db, session.person_id, now, now - IDLE) if _public(each) == public]
    if not found:
        raise RefusedError("not-found")
    people.delete_signed_in(db, found[0].token_hash)
    db.add(Event(person_id=session.person_id, kind="ended a session", facts={}))


def _public(session: SignedIn) -> str:
    """Return a public name for a session; it cannot be used to sign in."""
    return token_hash(session.token_hash)[:16]


def choose_password(db: Session, session: SignedIn, old: str, new: str, now: datetime) -> None:
    """Change one's own password, and end all other sessions.

    Raises RefusedError "sign-in-failed" where the old one is wrong, "too-many-sign-ins", or "weak-password" with why.
    """
    person = session.person
    counted = _counted(db, person.sign_in, session.address, now)
    if not PASSWORDS.verify(old, person.password_hash):
        db.add(Event(person_id=person.id, kind="password not changed", facts={}))
        db.commit()
        raise RefusedError("wrong-password")
    require_strong(new, person.name, person.sign_in)
    if new == old:
        raise RefusedError("weak-password", why="It is your current password. Choose another")
    people.delete_failure(db, counted)
    person.password_hash, person.one_time_until = PASSWORDS.hash(new), None
    people.delete_others(db, person.id, session.token_hash)
    db.add(Event(person_id=person.id, kind="password changed", facts={}))


def require_strong(password: str, name: str, sign_in: str) -> None:
    """Raise RefusedError "weak-password" for one that is soon guessed: short, of few characters, or made of the name.

    Length before rules of composition: NIST SP 800-63B, 5.1.1, from memory.
    """
    bare = password.lower()
    if len(password) < SHORTEST:
        raise RefusedError("weak-password", why=f"It has fewer than {SHORTEST} characters. Choose a longer one")
    if len(set(bare)) < SHORTEST // 2:
        raise RefusedError("weak-password", why="It has too few different characters. Choose another")
    known = [part for part in (sign_in, *name.lower().split()) if len(part) > 2]
    rest = bare
    for part in known:
        rest = rest.replace(part, "")
    if len(rest) < SHORTEST // 2:
        raise RefusedError("weak-password", why="It is your name. Choose another")


def give_one_time(person: Person, now: datetime) -> str:
    """Set a one-time password, which only allows choosing a new one, and return it."""
    groups = ("".join(secrets.choice(LETTERS) for _ in range(4)) for _ in range(3))
    password = "-".join(groups)
    person.password_hash, person.one_time_until = _RANDOM_ONES.hash(password), now + ONE_TIME
    return password


def tried_code(db: Session, address: str, now: datetime) -> None:
    """Count a join code that opened nothing, so that who tries many is slowed down."""
    with Session(db.get_bind()) as own, own.begin():
        own.add(SignInFailure(sign_in="", address=address, failed_at=now))


@cache
def _nobodys_hash() -> str:
    """Return a hash to check for unknown people, so that the answer takes as long as for known ones."""
    return PASSWORDS.hash(secrets.token_urlsafe(16))


@cache
def _nobodys_one_time_hash() -> str:
    """Return the same of a one-time password."""
    return _RANDOM_ONES.hash(secrets.token_urlsafe(16))


def token_hash(token: str) -> str:
    """Return what the table keeps of a token: a copy of the table opens no session."""
    return hashlib.sha256(token.encode()).hexdigest()


def _counted(db: Session, name: str, address: str, now: datetime) -> int:
    """Count a try as failed until it is known better, for good; raise RefusedError "too-many-sign-ins".

    Done in a transaction of its own, which has ended when the password is looked at.
    """
    with Session(db.get_bind()) as own, own.begin():
        people.one_at_a_time(own, name)
        since = now - THROTTLE_WINDOW
        here, last = people.failures_here(own, since, address, name)
        if people.failures_since(own, since, sign_in=name) >= MOST_TRIES_A_NAME:
            raise RefusedError("too-many-sign-ins", wait=int(THROTTLE_WINDOW.total_seconds()))
        left = timedelta() if last is None else last + _wait_after(here) - now
        if left > timedelta():
            raise RefusedError("too-many-sign-ins", wait=math.ceil(left.total_seconds()))
        failure = SignInFailure(sign_in=name, address=address, failed_at=now)
        own.add(failure)
        own.flush()
        return failure.id


def _wait_after(failed: int) -> timedelta:
    """Return how long to wait after so many failures of one name from one address."""
    return min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(failed - FREE_TRIES, 10)) if failed >= FREE_TRIES else timedelta()
