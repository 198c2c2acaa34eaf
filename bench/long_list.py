"""Does a list of 300 steps stay quick? Time from a key to the server's answer, as a ratio to a list of three.

Question: how much longer does a step take from Enter to *Saved*, and undoing it, at the end of a list of 300 steps than
at the end of one of three? Inside the clock: the browser's drawing of the list and the scene, the server's replay and
saving. After the timing: the list has as many steps as were done.

Run: ./run bench long_list
"""

from __future__ import annotations

import statistics
import time

from playwright.sync_api import Page, expect

from bench.yard import at_yard, choose_first

LENGTHS = (3, 300)
ROUNDS = 7


def until_saved(page: Page, key: str) -> float:
    """Press a key that changes the list; return how long it took until the server had it, in ms."""
    start = time.perf_counter()
    page.keyboard.press(key)  # what is shown changes at once, and with it the mark that tells what is saved
    page.locator("[data-saving=saved]").wait_for()
    return 1000 * (time.perf_counter() - start)


PUT_STEPS = """async (count) => {
  const address = `/api/assignments/${location.pathname.split("/").pop()}`;
  const { draft } = await (await fetch(`${address}/bench`)).json();
  const { csrf_token } = await (await fetch("/api/session")).json();
  const steps = Array.from({ length: count }, (_, i) => ({ op: "move", objects: [`o${i % 40}`], by: [0.01, 0, 0] }));
  const body = JSON.stringify({ revision: draft.revision, cursor: count, steps });
  const headers = { "Content-Type": "application/json", "X-CSRF-Token": csrf_token };
  return (await fetch(`${address}/draft`, { method: "PUT", headers, body })).status;
}"""


def main() -> None:
    with at_yard() as page:
        medians = []
        for length in LENGTHS:
            assert page.evaluate(PUT_STEPS, length) == 200
            page.reload()
            choose_first(page)
            page.keyboard.press("x")
            page.keyboard.type("0.01")
            taken = [(until_saved(page, "Enter"), until_saved(page, "Control+z")) for _ in range(ROUNDS)]
            items = page.get_by_role("list", name="Steps done").get_by_role("listitem")
            expect(items).to_have_count(length + 1)  # what was undone stays in sight
            done, undone = (statistics.median(times) for times in zip(*taken, strict=True))
            medians.append((done, undone))
            print(f"{length:4d} steps: a step saved after {done:6.1f} ms, undone after {undone:6.1f} ms")
        (short, short_undo), (long, long_undo) = medians
        print(f"ratio of 300 to 3: a step {long / short:.2f}, undo {long_undo / short_undo:.2f}")


if __name__ == "__main__":
    main()
