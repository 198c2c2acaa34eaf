"""The application: routes under /api, the built screens elsewhere, and the headers that hold for all."""

from __future__ import annotations

from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import text
from starlette.exceptions import HTTPException

from cubedrill import __doc__ as description
from cubedrill.api.access import Database
from cubedrill.api.problems import DECLARED, Problem, add_problem_handlers, problem
from cubedrill.api.routes import session, work, workshop
from cubedrill.settings import Settings
from cubedrill.store.database import engine_for

LARGEST_BODY = 4 * 1024 * 1024  # bytes; 2000 steps are below 1 MB

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; worker-src 'self' blob:; "
        "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}

Answer = Callable[[Request], Awaitable[Response]]


def create_app(settings: Settings) -> FastAPI:
    """Return the application; it opens its database connections when it starts."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.engine = engine_for(app.state.settings.database_url)
        yield
        app.state.engine.dispose()

    app = FastAPI(
        title="Cube Drill",
        description=description or "",
        version="1",
        lifespan=lifespan,
        responses=DECLARED,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
    )
    app.state.settings = settings
    add_problem_handlers(app)
    app.middleware("http")(_guarded)
    app.include_router(session.router, prefix="/api")
    app.include_router(work.router, prefix="/api")
    app.include_router(workshop.router, prefix="/api")
    _add_health(app)
    _add_screens(app, settings)
    _declare_problem(app)
    return app


async def _guarded(request: Request, answer: Answer) -> Response:
    """Refuse bodies that are too large or of unknown length; add the headers that hold for all."""
    length = request.headers.get("content-length")
    if length is None and "transfer-encoding" in request.headers:
        response: Response = problem(411, "length-missing", "The request does not say how long it is; send its length.")
    elif length is not None and (not length.isdigit() or int(length) > LARGEST_BODY):
        response = problem(413, "too-large", "The request is too large; send less at once.")
    else:
        response = await answer(request)
    response.headers.update(HEADERS)
    if request.url.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response


def _add_health(app: FastAPI) -> None:
    @app.get("/api/health", tags=["health"])
    def health(db: Database) -> dict[str, str]:
        """Answer when the server and its database work."""
        db.execute(text("select 1"))
        return {"state": "ready"}


def _add_screens(app: FastAPI, settings: Settings) -> None:
    """Serve the built screens: files by their name (which carries a hash), the one page for every other path."""
    page = settings.screens / "index.html"
    app.mount("/assets", StaticFiles(directory=settings.screens / "assets", check_dir=False), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def screen(path: str) -> FileResponse:
        if path.startswith("api/"):
            raise HTTPException(404, "There is nothing at this address")
        if not page.is_file():
            raise HTTPException(503, "The screens are not built yet; run ./run demo")
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
