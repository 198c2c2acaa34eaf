"""Bodies: read whole within a time, and no larger than who sends may."""

from __future__ import annotations

import asyncio
import re
from collections import Counter
from collections.abc import Callable
from typing import Final

import anyio.to_thread
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from cubedrill.api.problems import busy, problem
from cubedrill.formats.limits import LARGEST_FILE

LARGEST: Final = 4 * 1024 * 1024  # bytes; 2000 steps are below 1 MB
LARGEST_OF_FILES: Final = LARGEST_FILE  # where a file is sent as it is
LARGEST_ANONYMOUS: Final = 64 * 1024
MOST_HELD: Final = 64 * 1024 * 1024  # of bodies that wait, in a process
MOST_OF_A_PERSON: Final = LARGEST_OF_FILES + LARGEST  # a file and a save
MOST_OF_AN_ADDRESS: Final = 16 * 1024 * 1024  # of small ones, from a whole class at once
SECONDS: Final = 10.0
SECONDS_OF_FILES: Final = 180.0  # 20 MB at 1 Mbit/s
IS_FILE: Final = re.compile(r"/api/(assignments/\d+|plans)/files")

MOST_KEYS: Final = 100_000  # 5,000 objects with all that they can have; each one that is unknown costs an error
# What JSON can write and text cannot be: U+0000, which the database does not keep, and half a pair of surrogates.
NO_TEXT: Final = re.compile(
    rb"(?<!\\)(?:\\\\)*(?:\\u0000"
    rb"|\\u[dD][89abAB][0-9a-fA-F]{2}(?!\\u[dD][c-fC-F])"
    rb"|(?<!\\u[dD][89abAB][0-9a-fA-F]{2})\\u[dD][c-fC-F])"
)

PersonOf = Callable[[Request], int | None]
AddressOf = Callable[[Request], str]


class TooMuchHeldError(Exception):
    """The bodies in memory exceed the limit for the process or for one sender."""


class BodyLimit:
    """Passes requests on with their bodies read.

    Limits count the bytes received, not the size announced. person_of: who is signed in, called in a thread before a
    large body is read. address_of: the sender's address, for small bodies.
    """

    def __init__(self, app: ASGIApp, person_of: PersonOf, address_of: AddressOf) -> None:
        self.app = app
        self.person_of, self.address_of = person_of, address_of
        self.held = 0
        self.held_of = Counter[str]()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse its body."""
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        request = Request(scope)
        if "content-length" not in request.headers and "transfer-encoding" in request.headers:
            sentence = "The request has no length. Send it with a Content-Length."
            return await problem(411, "length-missing", sentence)(scope, receive, send)
        size = size_of(request)
        is_file = bool(IS_FILE.fullmatch(scope["path"])) and scope["method"] == "POST"
        sender, most = f"address {self.address_of(request)}", MOST_OF_AN_ADDRESS
        person = None
        if LARGEST_ANONYMOUS < size <= (LARGEST_OF_FILES if is_file else LARGEST):
            person = await anyio.to_thread.run_sync(self.person_of, request)
            sender, most = f"person {person}", MOST_OF_A_PERSON
        if size > LARGEST_ANONYMOUS and person is None:
            return await problem(413, "too-large", "The request is too large. Send less at once.")(scope, receive, send)
        if not size:
            return await self.app(scope, receive, send)
        holding = _Holding(self, sender, most)
        try:
            await self._pass_on(holding, is_file, scope, receive, send)
        finally:
            holding.release()

    async def _pass_on(self, holding: _Holding, is_file: bool, scope: Scope, receive: Receive, send: Send) -> None:
        try:
            async with asyncio.timeout(SECONDS_OF_FILES if is_file else SECONDS):
                body = await read(receive, holding.add)
        except TooMuchHeldError:
            answer = busy()
            answer.headers["Connection"] = "close"
            return await answer(scope, receive, send)
        except TimeoutError:
            answer = problem(408, "too-slow", "The request took too long. Send it again.")
            answer.headers["Connection"] = "close"
            return await answer(scope, receive, send)
        if body is None:
            return  # who sent it is gone
        why = None if is_file else _why_not(body)
        if why is not None:
            return await problem(422, "not-valid", why)(scope, receive, send)
        await self.app(scope, _again(body, receive), send)


class _Holding:
    """The bytes of one request that count towards the limits."""

    def __init__(self, bodies: BodyLimit, sender: str, most: int) -> None:
        self.bodies, self.sender, self.most = bodies, sender, most
        self.bytes = 0

    def add(self, more: int) -> None:
        """Count bytes received; raise TooMuchHeldError if they exceed a limit."""
        bodies = self.bodies
        if bodies.held + more > MOST_HELD or bodies.held_of[self.sender] + more > self.most:
            raise TooMuchHeldError
        bodies.held += more
        bodies.held_of[self.sender] += more
        self.bytes += more

    def release(self) -> None:
        """Stop counting the bytes of this request."""
        self.bodies.held -= self.bytes
        self.bodies.held_of[self.sender] -= self.bytes
        if not self.bodies.held_of[self.sender]:
            del self.bodies.held_of[self.sender]


def _why_not(body: bytes) -> str | None:
    """Return the reason for refusing a body, or none."""
    if NO_TEXT.search(body):
        return "A text in the request contains a character that cannot be stored. Remove it."
    if body.count(b":") > MOST_KEYS:
        return f"The request has more than {MOST_KEYS} keys. Send less at once."
    return None


def size_of(request: Request) -> int:
    """Return the length of a body as its header says; beyond all that is taken where that is no number."""
    length = request.headers.get("content-length", "0")
    return int(length) if length.isascii() and length.isdigit() and len(length) < 20 else LARGEST_OF_FILES + 1


async def read(receive: Receive, count: Callable[[int], None] = lambda _more: None) -> bytes | None:
    """Read a whole body; none where whoever sent it is gone. count: called with the size of each part that comes."""
    parts = []
    while True:
        message = await receive()
        if message["type"] != "http.request":
            return None
        count(len(message.get("body", b"")))
        parts.append(message.get("body", b""))
        if not message.get("more_body", False):
            return b"".join(parts)


def _again(body: bytes, receive: Receive) -> Receive:
    """Give a body that was read, then whatever comes after it."""
    waiting: list[Message] = [{"type": "http.request", "body": body, "more_body": False}]

    async def again() -> Message:
        return waiting.pop() if waiting else await receive()

    return again
