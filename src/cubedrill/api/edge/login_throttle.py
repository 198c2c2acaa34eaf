"""Signing in from where many tries failed takes longer: waited for outside, so that nobody else's place is held."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Final

import anyio.to_thread
from starlette.requests import Request
from starlette.types import ASGIApp, Receive, Scope, Send

GUESSED: Final = ("/api/session", "/api/session/new", "/api/session/class")  # with a password, or a code of a class


class LoginThrottle:
    """Lets a try to get in wait; how_long: in seconds, asked in a thread."""

    def __init__(self, app: ASGIApp, how_long: Callable[[Request], float]) -> None:
        self.app = app
        self.how_long = how_long

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, after a while."""
        if scope["type"] == "http" and scope["method"] == "POST" and scope["path"] in GUESSED:
            await asyncio.sleep(await anyio.to_thread.run_sync(self.how_long, Request(scope)))
        await self.app(scope, receive, send)
