"""The application: routes under /api, the built screens elsewhere, and the headers that hold for all."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from datetime import UTC, datetime
from functools import cache

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse
from sqlalchemy import text
from sqlalchemy.orm import Session
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from cubedrill.api.access import CurrentPerson, Database, address_of, session_cookie
from cubedrill.api.edge.body_limit import BodyLimit
from cubedrill.api.edge.built import BuiltFiles
from cubedrill.api.edge.concurrency import AT_WORK, ConcurrencyLimit, limit_threads
from cubedrill.api.edge.errors import ErrorMiddleware
from cubedrill.api.edge.login_throttle import LoginThrottle
from cubedrill.api.live import watching
from cubedrill.api.problems import DECLARED, Problem, add_problem_handlers
from cubedrill.api.routes import assignments, calendar, marks, plans
from cubedrill.api.routes.people import classes, session
from cubedrill.api.routes.work import bench, files
from cubedrill.service.people.accounts import known_person, slowed_s
from cubedrill.settings import Settings
from cubedrill.store.database import engine_for

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; worker-src 'self' blob:; "
        "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Permissions-Policy": "camera=(), display-capture=(), geolocation=(), microphone=(), payment=(), usb=()",
    "Cross-Origin-Opener-Policy": "same-origin",
}
SECURE = {"Strict-Transport-Security": "max-age=31536000"}
COMPRESSED_FROM = 1000  # bytes: below, packing costs more than it saves
PACKED = 5  # of 9: a tenth larger than the smallest, in a third of the time


def create_app(settings: Settings) -> FastAPI:
    """Return the application; it opens its database connections when it starts."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        # One connection for whoever sends much, and one for all who look on.
        app.state.engine = engine_for(app.state.settings.database_url, AT_WORK + 2)
        limit_threads()
        async with watching(app.state.settings.database_url) as app.state.hub:
            yield
        app.state.engine.dispose()

    app = FastAPI(
        title="Cube Drill",
        description="Cube Drill sets and checks exercises in moving, rotating and scaling objects.",
        version="1",
        lifespan=lifespan,
        responses=DECLARED,
        openapi_url=None,
        docs_url=None,
        redoc_url=None,
    )
    app.state.settings = settings
    add_problem_handlers(app)
    _add_edge(app, settings)
    app.include_router(session.router, prefix="/api")
    app.include_router(classes.router, prefix="/api")
    app.include_router(classes.invitations, prefix="/api")
    app.include_router(assignments.router, prefix="/api")
    app.include_router(marks.router, prefix="/api")
    app.include_router(marks.insights, prefix="/api")
    app.include_router(bench.router, prefix="/api")
    app.include_router(files.router, prefix="/api")
    app.include_router(plans.router, prefix="/api")
    app.include_router(calendar.router, prefix="/api")
    _add_health(app)
    _add_description(app)
    _add_screens(app, settings)
    _declare_problem(app)
    return app


def _add_edge(app: FastAPI, settings: Settings) -> None:
    """Add what every request passes, the innermost first."""

    def person_of(request: Request) -> int | None:
        with Session(app.state.engine) as db:
            return known_person(db, session_cookie(request), datetime.now(UTC))

    def patience(request: Request) -> float:
        with Session(app.state.engine) as db:
            return slowed_s(db, address_of(request), datetime.now(UTC))

    app.add_middleware(ConcurrencyLimit)
    app.add_middleware(LoginThrottle, how_long=patience)
    app.add_middleware(BodyLimit, person_of=person_of, address_of=address_of)
    app.add_middleware(GZipMiddleware, minimum_size=COMPRESSED_FROM, compresslevel=PACKED)
    headers = HEADERS | (SECURE if settings.secure_cookies else {})
    app.add_middleware(ErrorMiddleware, headers=headers, hosts=settings.hosts)


def _add_health(app: FastAPI) -> None:
    @app.get("/api/alive", tags=["health"])
    def alive() -> dict[str, str]:
        """Answer when this process does, whatever becomes of the database."""
        return {"state": "alive"}

    @app.get("/api/health", tags=["health"])
    def health(db: Database) -> dict[str, str]:
        """Answer when the server and its database work."""
        db.execute(text("select 1"))
        return {"state": "ready"}


def _add_description(app: FastAPI) -> None:
    """Serve the description of the API to whoever is signed in; it is written once, since it never changes."""

    @cache
    def written() -> bytes:
        return json.dumps(app.openapi()).encode()

    @app.get("/api/openapi.json", include_in_schema=False)
    def described(_: CurrentPerson) -> Response:
        return Response(written(), media_type="application/json")


def _add_screens(app: FastAPI, settings: Settings) -> None:
    """Serve the built screens: files by their name (which carries a hash), the one page for every other path."""
    page = settings.screens / "index.html"
    app.mount("/assets", BuiltFiles(directory=settings.screens / "assets", check_dir=False), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def screen(path: str) -> FileResponse:
        if path.startswith("api/"):
            raise HTTPException(404, "Nothing at this address")
        if not page.is_file():
            raise HTTPException(503, "The front end is not built yet. Run ./run demo")
        return FileResponse(page, headers={"Cache-Control": "no-cache"})


def _declare_problem(app: FastAPI) -> None:
    """Put the Problem schema, which handlers and not routes answer with, into the OpenAPI document."""
    make = app.openapi

    def openapi() -> dict[str, object]:
        document = make()
        schema = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        schema.pop("$defs", None)
        document["components"]["schemas"].setdefault("Problem", schema)
        return document

    app.openapi = openapi  # type: ignore[method-assign]
