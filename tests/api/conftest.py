"""A server in this process, and people who are signed in to it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from cubedrill.api.app import create_app
from cubedrill.api.edge import concurrency
from cubedrill.demo.load import PASSWORD
from cubedrill.settings import Settings

CRATES = 1  # the assignment of the crates, the first that the demo loads
RIGHT = {"op": "move", "objects": ["crate-herring"], "space": "world", "to": [-3, 0.15, -2], "entry": "typed"}


class Caller:
    """Somebody at a browser: keeps the cookie, sends the CSRF token."""

    def __init__(self, app: FastAPI, name: str | None, password: str = PASSWORD) -> None:
        self.http = TestClient(app, base_url="http://testserver")
        self.headers: dict[str, str] = {}
        if name:
            answer = self.http.post("/api/session", json={"sign_in": name, "password": password})
            assert answer.status_code == 201, answer.text
            self.headers = {"X-CSRF-Token": answer.json()["csrf_token"]}

    def call(self, method: str, path: str, **words: Any) -> Any:
        headers = self.headers
        if "content" in words:
            kind = "octet-stream" if path.partition("?")[0].endswith("/files") else "json"
            headers = {**headers, "Content-Type": f"application/{kind}"}
        return self.http.request(method, path, headers=headers, **words)

    def get(self, path: str) -> Any:
        return self.call("GET", path)

    def save(
        self, revision: int, steps: list[Any], cursor: int | None = None, assignment: int = CRATES, **more: Any
    ) -> Any:
        body = {"revision": revision, "steps": steps, "cursor": len(steps) if cursor is None else cursor, **more}
        return self.call("PUT", f"/api/assignments/{assignment}/draft", json=body)

    def look(self, steps: list[Any], assignment: int = CRATES) -> Any:
        body = {"steps": steps, "cursor": len(steps)}
        return self.call("POST", f"/api/assignments/{assignment}/look", json=body)

    def submit(self, revision: int, assignment: int = CRATES) -> Any:
        return self.call("POST", f"/api/assignments/{assignment}/submissions", json={"revision": revision})


@pytest.fixture(scope="session")
def unopened(tmp_path_factory: pytest.TempPathFactory) -> FastAPI:
    """The application without a database, made once: its routes take longer to make than most tests.

    It has places enough: each caller of a test has an event loop of its own, and a queue belongs to one.
    """
    app = create_app(Settings(database_url="", screens=tmp_path_factory.mktemp("screens")))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(concurrency, "AT_WORK", 100)
        patch.setattr(concurrency, "WITH_FILES", 100)
        app.middleware_stack = app.build_middleware_stack()
    return app


@contextmanager
def opened(app: FastAPI, database_url: str) -> Iterator[FastAPI]:
    """The application on a database, its connections open."""
    app.state.settings = replace(app.state.settings, database_url=database_url)
    with TestClient(app):
        yield app


@pytest.fixture
def app(unopened: FastAPI, database_url: str) -> Iterator[FastAPI]:
    """The application on a fresh database, its connections open."""
    with opened(unopened, database_url):
        yield unopened


@pytest.fixture
def sign_in(app: FastAPI) -> Callable[[str | None], Caller]:
    """Sign somebody in, or nobody."""
    return lambda name: Caller(app, name)


@pytest.fixture
def odile(sign_in: Callable[[str | None], Caller]) -> Caller:
    """The instructor of the demo's first class."""
    return sign_in("odile")


@pytest.fixture
def pim(sign_in: Callable[[str | None], Caller]) -> Caller:
    """A student of hers who has everything still to do."""
    return sign_in("pim")
