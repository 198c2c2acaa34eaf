"""Does a drag stay smooth? Frame time while a handle is dragged, as a ratio to that of the still scene.

Question: with 40 solids, the main view and the three elevations, how much longer is a frame while a rail is dragged
than while the same scene is only looked at from changing sides? Inside the clock: the browser's frames, drawn in
software, with the server asked for the gap meanwhile. Outside: loading, signing in. In how many of the frames the
elevations were drawn too is counted. After the timing: the drag has made the step that it should have. Aim: at most
1.5.

Run: ./run bench drag
"""

from __future__ import annotations

import statistics

from playwright.sync_api import Page

from bench.yard import SOLIDS, at_yard

FRAMES = 60
ROUNDS = 5
DRIVE = """([x, y, frames]) => new Promise((done) => {
  const gl = document.querySelector("canvas").getContext("webgl2");
  const pixel = new Uint8Array(4);
  const strip = document.querySelector("[aria-label='Elevations']");
  let drawn = false;
  new MutationObserver(() => { drawn = true; }).observe(strip, { subtree: true, attributes: true });
  const at = document.elementFromPoint(x, y);
  const times = []; let redrawn = 0; let last = performance.now();
  const tick = () => {
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel); // waits until the frame is drawn
    const now = performance.now();
    times.push(now - last); last = now; redrawn += drawn ? 1 : 0; drawn = false;
    if (times.length === frames) return done([times.slice(5), redrawn]);
    const to = { clientX: x, clientY: y - 10 - (times.length % 40), pointerId: 1, buttons: 1, bubbles: true };
    at.dispatchEvent(new PointerEvent("pointermove", { ...to, pointerType: "mouse", isPrimary: true }));
    requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
})"""


def frame_time(page: Page, start: tuple[float, float]) -> tuple[float, float]:
    """Median frame time in ms while the pointer, held down, goes a pixel further at every frame.

    Beside it, in which share of the frames the elevations were drawn anew.
    """
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(start[0], start[1] - 5)
    times, redrawn = page.evaluate(DRIVE, [*start, FRAMES])
    page.mouse.up()
    return statistics.median(times), redrawn / FRAMES


def main() -> None:
    with at_yard() as page:
        ratios = []
        for _ in range(ROUNDS):
            canvas = page.locator("canvas").bounding_box()
            assert canvas is not None
            still, _none = frame_time(page, (canvas["x"] + canvas["width"] - 30, canvas["y"] + canvas["height"] - 30))
            page.wait_for_timeout(800)
            label = page.locator("[data-handle=Y]").bounding_box()
            assert label is not None
            at = (label["x"] + label["width"] / 2 - 16, label["y"] + label["height"] / 2)
            dragged, drawn = frame_time(page, at)
            page.wait_for_timeout(800)
            ratios.append(dragged / still)
            print(
                f"still {still:6.1f} ms   dragged {dragged:6.1f} ms   ratio {dragged / still:4.2f}   "
                f"elevations drawn in {drawn:.0%} of the frames"
            )
        sentence = page.get_by_role("list", name="Steps done").get_by_role("listitem").first.inner_text()
        assert "Move Thing 1 by" in sentence, sentence
        print(f"{SOLIDS} solids, four views: median ratio {statistics.median(ratios):.2f} (aim: at most 1.5)")


if __name__ == "__main__":
    main()
