"""A made-up yard of forty solids at the bench of a real browser: where the screens' speed is measured."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright
from sqlalchemy import select
from sqlalchemy.orm import Session
from tools.local_postgres import LocalPostgres
from tools.served import Server

from cubedrill.core.judging.exercise import Exercise
from cubedrill.demo.load import PASSWORD, load_demo
from cubedrill.store.database import engine_for, migrate
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Assignment, Classroom

SOLIDS = 40
FLAGS = [
    "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
    "--disable-gpu-compositing",
]  # fmt: skip


def yard() -> Exercise:
    """A made-up yard of crates and barrels, each free to move, one of them checked."""
    kinds: list[dict[str, Any]] = [
        {"kind": "cuboid", "size": [0.8, 0.6, 0.8]}, {"kind": "cylinder", "diameter": 0.6, "height": 0.9},
        {"kind": "cone", "diameter": 0.6, "height": 0.8}, {"kind": "sphere", "diameter": 0.7},
    ]  # fmt: skip
    objects = [
        {
            "id": f"o{i}",
            "name": f"Thing {i + 1}",
            "solid": kinds[i % 4],
            "translation": [i % 8 * 1.2 - 4, 0.4, i // 8 * 1.2 - 2],
        }
        for i in range(SOLIDS)
    ]
    check = {"id": "c", "kind": "position", "object": "o0", "tolerance": 0.02}
    step = {"op": "move", "objects": ["o0"], "by": [0, 1, 0]}
    return Exercise.model_validate(
        {
            "format": "cube-drill/exercise", "version": 1, "id": "yard", "title": "Forty in the yard",
            "start": {"objects": objects}, "reference": {"steps": [step]}, "checks": [check],
        }
    )  # fmt: skip


def set_yard(url: str) -> int:
    """Load the demo and the yard; return the yard's assignment."""
    migrate(url)
    with Session(engine_for(url)) as db, db.begin():
        load_demo(db, term=False)
        version = add_version(db, yard())
        classroom = db.scalars(select(Classroom)).one()
        due = datetime.now(UTC) + timedelta(days=1)
        assignment = Assignment(class_id=classroom.id, exercise_version_id=version.id, due_at=due)
        db.add(assignment)
        db.flush()
        return assignment.id


def at_the_bench(page: Page, address: str, assignment: int) -> None:
    page.goto(f"{address}/sign-in")
    page.get_by_label("Name").fill("pim")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_text("Hello,").wait_for()
    page.goto(f"{address}/bench/{assignment}")
    choose_first(page)


def choose_first(page: Page) -> None:
    """Choose the first thing, and wait until the view has come to rest."""
    page.get_by_role("tab", name="Objects").click()
    page.get_by_role("button", name="Thing 1", exact=True).click()
    page.locator("[data-handle=Y]").wait_for()
    page.wait_for_timeout(2000)


@contextmanager
def served_yard() -> Iterator[tuple[str, Server, int]]:
    """Start a database and a server of their own; give the address of the one, the other, and the yard's assignment."""
    home = Path(tempfile.mkdtemp(prefix="cube-drill-bench-"))
    home.chmod(0o755)
    postgres = LocalPostgres(home, durable=False)
    server = None
    try:
        url = postgres.start()
        assignment = set_yard(url)
        server = Server(url, os.cpu_count() or 1)
        server.start()
        yield url, server, assignment
    finally:
        if server is not None:
            server.kill()
        postgres.remove()
        home.rmdir()


@contextmanager
def at_yard() -> Iterator[Page]:
    """Come to the yard's bench with one thing chosen."""
    with served_yard() as (_url, server, assignment), sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        at_the_bench(page, server.address, assignment)
        yield page
        browser.close()
