"""Limit how many requests run at once to the number of database connections; the others wait in a queue."""

from __future__ import annotations

import asyncio
import re
from typing import Final

import anyio.to_thread
from starlette.types import ASGIApp, Receive, Scope, Send

from cubedrill.api.problems import busy

OF_FILES: Final = re.compile(r"/api/.*/(files?|scenes?|marks)(/.*)?")
LIVE: Final = re.compile(r"/api/classes/\d+/live")  # stays open, and is counted by its hub
WITH_FILES: Final = 2  # of those at work: reading and writing them takes long, and all others go on
AT_WORK: Final = 4  # in a process: threads and connections; more would only share one core
MAX_REQUESTS: Final = 400  # in a process, at work and waiting: a class at its slowest, ten times over


class ConcurrencyLimit:
    """Lets so many requests of the API in at once; beyond the queue they are told to come again."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app
        self.places = asyncio.Semaphore(AT_WORK)
        self.places_of_files = asyncio.Semaphore(WITH_FILES)
        self.here = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request in in its turn."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/") or LIVE.fullmatch(scope["path"]):
            return await self.app(scope, receive, send)
        if self.here >= MAX_REQUESTS:
            return await busy()(scope, receive, send)
        self.here += 1
        try:
            if OF_FILES.fullmatch(scope["path"]):
                async with self.places_of_files:
                    await self._in_turn(scope, receive, send)
            else:
                await self._in_turn(scope, receive, send)
        finally:
            self.here -= 1

    async def _in_turn(self, scope: Scope, receive: Receive, send: Send) -> None:
        async with self.places:
            await self.app(scope, receive, send)


def limit_threads() -> None:
    """Have as many threads as requests at work, with some over for files of the screens."""
    anyio.to_thread.current_default_thread_limiter().total_tokens = AT_WORK * 3
