"""The outermost: an id and the headers for every answer, a problem for every fault, a line for every request."""

from __future__ import annotations

import json
import logging
import secrets
import time
from collections.abc import Collection, Mapping
from datetime import UTC, datetime
from typing import Final
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from cubedrill.api.problems import problem

ACCESS: Final = logging.getLogger("cubedrill.access")
FAULTS: Final = logging.getLogger("cubedrill.faults")
_API: Final = "/api/"


class ErrorMiddleware:
    """Wraps the whole application.

    headers: that hold for every answer. hosts: the names that the server is reached by; none: any. A fault that
    nothing else dealt with is answered as a problem with the request's id, under which it stands in the log; the
    connection is kept.
    """

    def __init__(self, app: ASGIApp, headers: Mapping[str, str], hosts: Collection[str] = ()) -> None:
        self.app = app
        self.headers = headers
        self.hosts = hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on."""
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        request_id = secrets.token_hex(8)
        status = 0
        began = time.perf_counter()

        async def answer(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                headers = MutableHeaders(scope=message)
                headers.update(self.headers)
                headers["X-Request-Id"] = request_id
                if scope["path"].startswith(_API):
                    headers.setdefault("Cache-Control", "no-store")
            await send(message)

        try:
            if self._is_ours(scope):
                await self.app(scope, receive, answer)
            else:
                await problem(400, "wrong-host", "Cube Drill does not serve this address.")(scope, receive, answer)
        except Exception:
            FAULTS.exception("request %s: %s %s", request_id, scope["method"], scope["path"])
            if status:  # half an answer is out; only an end of the connection tells that it is not whole
                raise
            sentence = (
                f"The server had a fault. Try again. If it happens again, give your instructor the number {request_id}."
            )
            await problem(500, "fault", sentence)(scope, receive, answer)
        finally:
            _note(scope, request_id, status, time.perf_counter() - began)

    def _is_ours(self, scope: Scope) -> bool:
        try:
            return not self.hosts or urlsplit(f"//{Headers(scope=scope).get('host', '')}").hostname in self.hosts
        except ValueError:  # no name at all
            return False


def _note(scope: Scope, request_id: str, status: int, seconds: float) -> None:
    route = getattr(scope.get("route"), "path", None) or scope["path"]
    if scope["path"].startswith(_API) and not route.startswith(_API):
        route = _API.rstrip("/") + route
    line = {
        "at": datetime.now(UTC).isoformat(timespec="milliseconds"),
        "request": request_id,
        "person": scope.get("state", {}).get("person"),
        "method": scope["method"],
        "route": route,
        "status": status,
        "ms": round(seconds * 1000, 1),
    }
    ACCESS.info("%s", json.dumps(line, ensure_ascii=True))
