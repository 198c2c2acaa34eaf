"""Renew the pictures in docs/screenshots from the running demo, begun fresh: python -m tools.screenshots [ADDRESS]."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking"]
SETTLED_MS = 2500  # until the view has drawn itself in software
PASSWORD = "harbour-light"  # noqa: S105 - the demo's, printed for everybody


def main() -> None:
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8400"
    pictures: dict[str, tuple[str | None, str, Callable[[Page], None]]] = {
        "sign-in": (None, "/sign-in", lambda _page: None),
        "home": ("wren", "/", lambda _page: None),
        "bench": ("pim", "/bench/1", work_on_crates),
        "bench-dark": ("pim", "/bench/2", look_at_hatch),
        "result": ("juno", "/", open_result),
        "submissions": ("odile", "/class/1", lambda _page: None),
    }
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        for name, (who, path, act) in pictures.items():
            take(browser, address, name, (who, path, act))
        browser.close()


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


def work_on_crates(page: Page) -> None:
    """One crate in its place, the next chosen and an amount begun."""
    objects = page.get_by_label("Objects")
    objects.get_by_role("button", name="Herring crate").click()
    for key, amount in (("x", "1"), ("z", "-3.5"), ("y", "0.15")):
        page.keyboard.press(key)
        page.keyboard.type(amount)
        page.keyboard.press("Enter")
        page.evaluate("document.activeElement.blur()")
        page.locator("[data-saving=saved]").wait_for()
    objects.get_by_role("button", name="Rope crate").click()
    page.keyboard.press("l")
    page.keyboard.press("z")
    page.keyboard.type("-3.2")


def look_at_hatch(page: Page) -> None:
    page.get_by_label("Objects").get_by_role("button", name="Hatch cover").click()
    page.keyboard.press("l")


def open_result(page: Page) -> None:
    page.get_by_role("link", name="See the result").click()
    page.get_by_role("button", name="Centre of Lamp-oil crate").hover()


if __name__ == "__main__":
    main()
