"""Is the board of a large class there at once, and does it live? 200 students by 40 exercises, 16,000 tries.

Question: how long until it stands there (what is in sight, then every cell of it), against the page of one
exercise of the same class in the same browser; how long from a student's save until her cell shows it. Inside the
clock: server, network on this machine, browser. Aims: 1 s for the board, 1 s for a cell.

Run: ./run bench board
"""

from __future__ import annotations

import statistics
import time
from datetime import UTC, datetime

from playwright.sync_api import Page, sync_playwright
from sqlalchemy import create_engine, text

from bench.forty import PASSWORD, signed_in
from bench.yard import served_yard
from cubedrill.service.people.accounts import PASSWORDS

STUDENTS, EXERCISES, TRIES = 200, 40, 2
ROUNDS = 5
CHROMIUM = "/usr/bin/chromium-headless-shell"

FILL = (
    "insert into class (name) values ('Large')",
    "insert into person (sign_in, name, password_hash) select 'large-' || n, 'Student ' || n, :hash "
    "from generate_series(1, :students) n",
    "insert into membership (class_id, person_id, role) select :class, id, 'student' from person "
    "where sign_in like 'large-%'",
    "insert into membership (class_id, person_id, role) select :class, id, 'instructor' from person "
    "where sign_in = 'odile'",
    "insert into exercise_version (exercise, number, document) select 'large-' || n, 1, document "
    "from exercise_version, generate_series(1, :exercises) n where id = 1",
    "insert into assignment (class_id, exercise_version_id, due_at, drafts_shown) "
    "select :class, id, now() + interval '1 day', true from exercise_version where exercise like 'large-%'",
    "insert into submission (assignment_id, exercise_version_id, person_id, number, draft_revision, document) "
    "select a.id, a.exercise_version_id, p.id, n, n, '{}' from assignment a, person p, generate_series(1, :attempts) n "
    "where a.class_id = :class and p.sign_in like 'large-%'",
    'insert into mark (submission_id, assignment_id, person_id, points, "of", score, passed, changed, causes, checks, '
    "explained) select id, assignment_id, person_id, 6, 12, (id % 100) / 100.0, id % 3 = 0, false, '[]', '[]', true "
    "from submission where assignment_id in (select id from assignment where class_id = :class)",
)


def fill(url: str) -> tuple[int, int]:
    """Make a large class in the database; return it and the its first assignment."""
    engine = create_engine(url)
    with engine.begin() as db:
        words = {"hash": PASSWORDS.hash(PASSWORD), "students": STUDENTS, "exercises": EXERCISES, "attempts": TRIES}
        for number, statement in enumerate(FILL):
            db.execute(text(statement), {n: v for n, v in words.items() if f":{n}" in statement})
            if not number:
                words["class"] = db.execute(text("select max(id) from class")).scalar_one()
        first = db.execute(
            text("select min(id) from assignment where class_id = :c"), {"c": words["class"]}
        ).scalar_one()
        db.execute(text("analyze"))
    engine.dispose()
    return int(words["class"]), first  # type: ignore[call-overload]


def shown(page: Page, address: str, path: str, wanted: str) -> float:
    """How long from going there until what is wanted stands there, in milliseconds."""
    began = time.perf_counter()
    page.goto(address + path)
    page.wait_for_selector(wanted)
    return 1000 * (time.perf_counter() - began)


def main() -> None:
    with served_yard() as (url, server, _assignment), sync_playwright() as playwright:
        address = server.address
        number, first = fill(url)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox"])
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.set_default_timeout(60_000)
        page.request.post(f"{address}/api/session", data={"sign_in": "odile", "password": "harbour-light"})
        last = f"[data-at='{STUDENTS - 1} {EXERCISES - 1}']"
        times: dict[str, list[float]] = {"one exercise": [], "board": [], "every cell": []}
        for _ in range(ROUNDS):
            times["one exercise"].append(shown(page, address, f"/assignments/{first}", "tbody tr"))
            times["board"].append(shown(page, address, f"/classes/{number}", f"[data-at='0 {EXERCISES - 1}']"))
            times["every cell"].append(shown(page, address, f"/classes/{number}", last))
        for what, values in times.items():
            print(f"{what:14} half {statistics.median(values):6.0f} ms   most {max(values):6.0f} ms")
        ratio = statistics.median(times["board"]) / statistics.median(times["one exercise"])
        print(f"board of {STUDENTS} by {EXERCISES} against one exercise: {ratio:.1f} times")
        page.get_by_role("status").filter(has_text="Live").wait_for()
        delays = []
        for student in range(1, 6):
            http = signed_in(address, f"large-{student}")
            http.get(f"/api/assignments/{first}/bench").raise_for_status()
            step = {"op": "move", "objects": ["crate-herring"], "space": "world", "by": [1, 0, 0]}
            began = time.perf_counter()
            body = {"revision": 0, "steps": [step], "cursor": 1}
            http.put(f"/api/assignments/{first}/draft", json=body).raise_for_status()
            row = page.locator("tr", has=page.get_by_role("rowheader", name=f"Student {student}", exact=True))
            row.locator("td", has_text="✎").first.wait_for()
            delays.append(1000 * (time.perf_counter() - began))
        print(f"a save is seen after  half {statistics.median(delays):6.0f} ms   most {max(delays):6.0f} ms")
        print(f"{datetime.now(UTC):%Y-%m-%d}")
        browser.close()


if __name__ == "__main__":
    main()
