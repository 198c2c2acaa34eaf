"""Renew the pictures in docs/screenshots from the running demo, begun fresh: python -m tools.screenshots [ADDRESS]."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking"]
SETTLED_MS = 2500  # until the view has drawn itself in software
SUBMISSIONS = FOLDER.parent.parent / "src" / "cubedrill" / "demo" / "submissions"
LOCK_GATE = 27  # as it is set for the day class
PASSWORD = "harbour-light"  # noqa: S105 - the demo's, printed for everybody


def main() -> None:
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8400"
    pictures: dict[str, tuple[str | None, str, Callable[[Page], None]]] = {
        "sign-in": (None, "/sign-in", lambda _page: None),
        "home": ("mira", "/", lambda _page: None),
        "instructor-home": ("odile", "/", lambda _page: None),
        "board": ("odile", "/classes/2", lambda _page: None),
        "people": ("odile", "/classes/2/people", open_by_code),
        "mistakes": ("odile", f"/assignments/{LOCK_GATE}/mistakes", widen_for_all),
        "bench": ("pim", "/bench/1", work_on_crates),
        "bench-turn": ("theo", "/bench/6", slew_the_crane),
        "bench-kinds": ("pim", "/bench/15", make_a_row),
        "bench-swing": ("pim", "/bench/19", swing_the_trailer),
        "bench-dark": ("pim", "/bench/2", look_at_hatch),
        "result": ("juno", "/", open_result),
        "result-why": ("odile", "/assignments/6", show_why),
        "sheet": ("pim", "/sheet/3", type_sheet),
        "file": ("pim", "/sheet/7", look_over_a_file),
        "workshop-library": ("odile", "/workshop", lambda _page: None),
        "workshop-stage": ("odile", "/workshop/1/stage", lay_out),
        "workshop-checks": ("odile", "/workshop/3/checks", widen),
        "submissions": ("odile", "/assignments/1", lambda _page: None),
    }
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=FLAGS)
        for name, (who, path, act) in pictures.items():
            take(browser, address, name, (who, path, act))
        browser.close()


def open_by_code(page: Page) -> None:
    page.get_by_role("button", name="Create join code").click()
    page.get_by_role("button", name="End now").wait_for()


def widen_for_all(page: Page) -> None:
    for _ in range(12):  # of eighths of a power of two
        page.get_by_role("slider").press("ArrowRight")


def look_over_a_file(page: Page) -> None:
    page.get_by_label("Submit a file").set_input_files(SUBMISSIONS / "stretched-buoy" / "ansel.stl")
    page.get_by_role("button", name="Fairway buoy").click()


def take(browser: Browser, address: str, name: str, plan: tuple[str | None, str, Callable[[Page], None]]) -> None:
    who, path, act = plan
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    if name.endswith("-dark"):
        page.add_init_script("location.protocol === 'http:' && localStorage.setItem('cube-drill:theme', 'dark')")
    if who:
        page.goto(f"{address}/sign-in")
        page.get_by_label("Name").fill(who)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_text("Hello,").wait_for()
    page.goto(address + path)
    page.wait_for_load_state("networkidle")
    act(page)
    page.wait_for_timeout(SETTLED_MS)
    page.screenshot(path=FOLDER / f"{name}.png")
    page.close()


def choose(page: Page, name: str) -> None:
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name=name, exact=True).click()


def do(page: Page, keys: str, amount: str) -> None:
    """Press keys for the chips, type an amount, and do the step."""
    for key in keys:
        page.keyboard.press(key)
    page.keyboard.type(amount)
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    page.locator("[data-saving=saved]").wait_for()


def lay_out(page: Page) -> None:
    """A pot chosen on the start, all that it has beside it."""
    choose(page, "Pot of Wren")
    page.get_by_role("tab", name="Scene").click()


def widen(page: Page) -> None:
    """A tolerance so wide that some mistakes would pass, one of them looked at."""
    field = page.get_by_label("Tolerance of Pivot of Dinghy")
    field.fill("0.5")
    field.press("Enter")
    page.get_by_text("would pass.").first.wait_for()


def work_on_crates(page: Page) -> None:
    """One crate, the next chosen and an amount begun."""
    choose(page, "Herring crate")
    for key, amount in (("x", "1"), ("z", "-3.5"), ("y", "0.15")):
        do(page, key, amount)
    choose(page, "Rope crate")
    page.get_by_role("tab", name="Brief").click()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("l")
    page.keyboard.press("z")
    page.keyboard.type("-3.2")


def slew_the_crane(page: Page) -> None:
    """The mast turned, the jib half raised by its ring, its numbers in sight."""
    choose(page, "Mast")
    do(page, "rqy", "40")
    choose(page, "Jib")
    page.get_by_role("tab", name="Numbers").click()
    page.evaluate("document.activeElement.blur()")
    do(page, "lz", "15")
    ring = page.locator("[data-handle='ring Z']").bounding_box()
    assert ring is not None
    x, y = ring["x"] + ring["width"] / 2, ring["y"] + ring["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 5, y - 10)
    page.mouse.move(x - 12, y - 22)


def swing_the_trailer(page: Page) -> None:
    page.get_by_role("tab", name="Objects").click()
    page.get_by_role("button", name="Boat trailer", exact=True).first.click()
    page.keyboard.press("Shift+S")
    lines = (
        ("Line from, end", "Boat trailer", "+X"), ("Line to", "Kerb", "−X"), ("Line to, end", "Kerb", "+X"),
    )  # fmt: skip
    for chip, name, place in lines:
        page.get_by_role("combobox", name=chip, exact=True).click()
        page.get_by_role("option", name="A place on an object, or numbers…").click()
        dialog = page.get_by_role("dialog")
        for field, option in (("Object", name), ("Place on it", f"face {place}")):
            dialog.get_by_label(field).click()
            page.get_by_role("option", name=option, exact=True).click()
        dialog.get_by_role("button", name="Use this point").click()


def make_a_row(page: Page) -> None:
    """Four copies of a bollard, as they would stand."""
    choose(page, "Bollard")
    page.keyboard.press("Shift+C")
    page.get_by_label("Copies").fill("4")
    page.get_by_label("By X").fill("3")


def look_at_hatch(page: Page) -> None:
    choose(page, "Hatch cover")
    page.keyboard.press("l")


def open_result(page: Page) -> None:
    page.get_by_role("link", name="See result").first.click()
    page.get_by_role("button", name="Centre of Lamp-oil crate").hover()


def show_why(page: Page) -> None:
    """The crane that was raised about the world's axis, and the reference beside it, played to its end."""
    page.get_by_role("row", name="Halim Eastcott").get_by_role("link", name="Open").click()
    page.get_by_role("button", name="Show").click()
    page.wait_for_timeout(4 * 900)


def type_sheet(page: Page) -> None:
    """Two barrels worked out, the third begun."""
    typed = {"Tar barrel": ("-4", "0.45", "2"), "Salt barrel": ("-2.5", "0.45", "2"), "Water barrel": ("-1",)}
    for name, numbers in typed.items():
        for letter, number in zip("XYZ", numbers, strict=False):
            page.get_by_label(f"Translation (m), {letter} of {name}").fill(number)


if __name__ == "__main__":
    main()
