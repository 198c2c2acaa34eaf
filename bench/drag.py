"""Does a drag stay smooth? Frame time while a handle is dragged, as a ratio to that of the still scene.

Question: with 40 solids, the main view and the three elevations, how much longer is a frame while a rail is dragged
than while the same scene is only looked at from changing sides? Inside the clock: the browser's frames, drawn in
software, with the server asked for the gap meanwhile. Outside: loading, signing in. After the timing: the drag has made
the step that it should have. Aim: at most 1.5.

Run: ./run bench drag
"""

from __future__ import annotations

import os
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright
from sqlalchemy import select
from sqlalchemy.orm import Session
from tools.local_postgres import LocalPostgres

from cubedrill.core.exercise import Exercise
from cubedrill.demo.load import PASSWORD, load_demo
from cubedrill.store.database import engine_for, migrate
from cubedrill.store.exercises import add_version
from cubedrill.store.tables import Assignment, Classroom

SOLIDS = 40
FRAMES = 60
ROUNDS = 3
FLAGS = [
    "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
    "--disable-gpu-compositing",
]  # fmt: skip
FRAME_TIMES = """() => {
  window.frames_ms = []; let last = performance.now(); window.counting = true;
  const gl = document.querySelector("canvas").getContext("webgl2");
  const pixel = new Uint8Array(4);
  const tick = () => {
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel); // waits until the frame is drawn
    const now = performance.now();
    window.frames_ms.push(now - last); last = now;
    if (window.counting) requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
}"""


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
        load_demo(db)
        version = add_version(db, "yard", yard().model_dump(mode="json", exclude_unset=True))
        classroom = db.scalars(select(Classroom)).one()
        due = datetime.now(UTC) + timedelta(days=1)
        assignment = Assignment(class_id=classroom.id, exercise_version_id=version.id, due_at=due)
        db.add(assignment)
        db.flush()
        return assignment.id


def serve(url: str) -> tuple[subprocess.Popen[bytes], str]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [str(Path(sys.executable).parent / "cube-drill"), "serve", "--port", str(port)]
    process = subprocess.Popen(command, env={**os.environ, "CUBE_DRILL_DATABASE_URL": url})
    address = f"http://127.0.0.1:{port}"
    for _ in range(600):
        try:
            with urllib.request.urlopen(f"{address}/api/health", timeout=5):
                return process, address
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    raise SystemExit("the server did not start")


def at_the_bench(page: Page, address: str, assignment: int) -> None:
    page.goto(f"{address}/sign-in")
    page.get_by_label("Name").fill("pim")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_text("Hello,").wait_for()
    page.goto(f"{address}/bench/{assignment}")
    page.get_by_role("tab", name="Objects").click()
    page.get_by_role("button", name="Thing 1", exact=True).click()
    page.locator("[data-handle=Y]").wait_for()
    page.wait_for_timeout(2000)


def frame_time(page: Page, start: tuple[float, float]) -> float:
    """Median frame time in ms while the pointer goes up and down from a place, held down."""
    page.mouse.move(*start)
    page.mouse.down()
    page.evaluate(FRAME_TIMES)
    i = 0
    while page.evaluate("window.frames_ms.length") < FRAMES:
        i += 1
        page.mouse.move(start[0], start[1] - 10 - i % 20)
    frames = page.evaluate("() => { window.counting = false; return window.frames_ms.slice(5); }")
    page.mouse.up()
    return statistics.median(frames)


def main() -> None:
    home = Path(tempfile.mkdtemp(prefix="cube-drill-bench-"))
    home.chmod(0o755)
    postgres = LocalPostgres(home, durable=False)
    server = None
    try:
        url = postgres.start()
        assignment = set_yard(url)
        server, address = serve(url)
        with sync_playwright() as play:
            browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            at_the_bench(page, address, assignment)
            ratios = []
            for _ in range(ROUNDS):
                canvas = page.locator("canvas").bounding_box()
                assert canvas is not None
                still = frame_time(page, (canvas["x"] + canvas["width"] - 30, canvas["y"] + canvas["height"] - 30))
                page.wait_for_timeout(800)
                label = page.locator("[data-handle=Y]").bounding_box()
                assert label is not None
                dragged = frame_time(page, (label["x"] + label["width"] / 2 - 16, label["y"] + label["height"] / 2))
                page.wait_for_timeout(800)
                ratios.append(dragged / still)
                print(f"still {still:6.1f} ms   dragged {dragged:6.1f} ms   ratio {dragged / still:4.2f}")
            sentence = page.get_by_role("list", name="Steps done").get_by_role("listitem").first.inner_text()
            assert "Move Thing 1 by" in sentence, sentence
            print(f"{SOLIDS} solids, four views: median ratio {statistics.median(ratios):.2f} (aim: at most 1.5)")
            browser.close()
    finally:
        if server is not None:
            server.kill()
        postgres.remove()
        home.rmdir()


if __name__ == "__main__":
    main()
