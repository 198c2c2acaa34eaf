"""Bodies: read whole within a time, and no larger than who sends may."""

from __future__ import annotations

import asyncio
import re
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
LARGE: Final = 64 * 1024  # from here on, reading and validating it would hold up all others
MOST_HELD: Final = 64 * 1024 * 1024  # of bodies that wait, in a process
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

IsSignedIn = Callable[[Request], bool]


class Bodies:
    """Passes requests on with their bodies read; is_signed_in: asked, in a thread, before a body that few may send."""

    def __init__(self, app: ASGIApp, is_signed_in: IsSignedIn) -> None:
        self.app = app
        self.is_signed_in = is_signed_in
        self.held = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse its body."""
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        request = Request(scope)
        if "content-length" not in request.headers and "transfer-encoding" in request.headers:
            sentence = "The request does not say how long it is; send its length."
            return await problem(411, "length-missing", sentence)(scope, receive, send)
        size = size_of(request)
        is_file = bool(IS_FILE.fullmatch(scope["path"])) and scope["method"] == "POST"
        largest = LARGEST_OF_FILES if is_file else LARGEST
        if size > largest or (size > LARGEST_ANONYMOUS and not await self._may_send(request)):
            return await problem(413, "too-large", "The request is too large; send less at once.")(scope, receive, send)
        if self.held + size > MOST_HELD:
            return await busy()(scope, receive, send)
        self.held += size
        try:
            await self._pass_on(size, is_file, scope, receive, send)
        finally:
            self.held -= size

    async def _may_send(self, request: Request) -> bool:
        return await anyio.to_thread.run_sync(self.is_signed_in, request)

    async def _pass_on(self, size: int, is_file: bool, scope: Scope, receive: Receive, send: Send) -> None:
        if not size:
            return await self.app(scope, receive, send)
        try:
            async with asyncio.timeout(SECONDS_OF_FILES if is_file else SECONDS):
                body = await read(receive)
        except TimeoutError:
            answer = problem(408, "too-slow", "The request did not come in time; send it again.")
            answer.headers["Connection"] = "close"
            return await answer(scope, receive, send)
        if body is None:
            return  # who sent it is gone
        why = None if is_file else _why_not(body)
        if why is not None:
            return await problem(422, "not-valid", why)(scope, receive, send)
        await self.app(scope, _again(body, receive), send)


class OffTheLoop:
    """Deals with large requests on an event loop of their own in a thread, so that all others go on."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on."""
        body = await read(receive) if scope["type"] == "http" and size_of(Request(scope)) >= LARGE else None
        if body is None:
            return await self.app(scope, receive, send)
        said: list[Message] = []

        async def keep(message: Message) -> None:
            said.append(message)

        def deal() -> None:
            asyncio.run(whole())

        async def whole() -> None:
            await self.app(scope, _again(body, _gone), keep)

        await anyio.to_thread.run_sync(deal)
        for message in said:
            await send(message)


def _why_not(body: bytes) -> str | None:
    """Why a body is not looked at further, in a sentence; none where it can be."""
    if NO_TEXT.search(body):
        return "A text in the request has a character that cannot be kept, U+0000 or half a pair; leave it out."
    if body.count(b":") > MOST_KEYS:
        return f"The request has more than {MOST_KEYS} keys; send less at once."
    return None


def size_of(request: Request) -> int:
    """The length of a body as its header says; beyond all that is taken where that is no number."""
    length = request.headers.get("content-length", "0")
    return int(length) if length.isascii() and length.isdigit() and len(length) < 20 else LARGEST_OF_FILES + 1


async def read(receive: Receive) -> bytes | None:
    """Read a whole body; none where whoever sent it is gone."""
    parts = []
    while True:
        message = await receive()
        if message["type"] != "http.request":
            return None
        parts.append(message.get("body", b""))
        if not message.get("more_body", False):
            return b"".join(parts)


def _again(body: bytes, receive: Receive) -> Receive:
    """Give a body that was read, then whatever comes after it."""
    waiting: list[Message] = [{"type": "http.request", "body": body, "more_body": False}]

    async def again() -> Message:
        return waiting.pop() if waiting else await receive()

    return again


async def _gone() -> Message:
    return {"type": "http.disconnect"}
