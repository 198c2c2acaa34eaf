"""The real interface in headless Chromium, against a server of its own."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect
from tools.served import Server

from cubedrill.demo.load import PASSWORD
from cubedrill.settings import BUILT_SCREENS
from tests.conftest import address_of, database_named, own_name

CHROMIUM = "/usr/bin/chromium-headless-shell"
FLAGS = [
    "--no-sandbox", "--process-per-site", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
    "--disable-gpu-compositing", "--webgl-antialiasing-mode=none", "--disable-component-update", "--disable-sync", "--no-first-run",
]  # fmt: skip
LIMIT_MS = 30_000  # software drawing on a busy machine

expect.set_options(timeout=LIMIT_MS)


@pytest.fixture(scope="session")
def running(template: str) -> Iterator[Server]:
    """One server for all screen tests: it starts in seconds, and the database under it can be laid anew."""
    assert (BUILT_SCREENS / "index.html").is_file(), "The screens are not built: ./run test builds them."
    server = Server(address_of(template, own_name("screens")), processes=1)
    yield server
    server.kill()


@pytest.fixture
def server(running: Server, template: str) -> Iterator[Server]:
    """The running server on a fresh database with the demo in it."""
    with database_named(template, own_name("screens")):
        if not running.is_up():
            running.start()
        yield running


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    """Debian's Chromium, drawing in software."""
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": FLAGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    """The size that the screens are made for, drawn with half the pixels each way: drawing in software is what costs time."""
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "device_scale_factor": 0.5}


@pytest.fixture(scope="session")
def shared_context(
    browser: Browser, browser_context_args: dict[str, Any], running: Server
) -> Iterator[tuple[BrowserContext, list[str]]]:
    """One browser's own things for all tests, and what went wrong in its pages."""
    context = browser.new_context(**browser_context_args)
    context.set_default_timeout(LIMIT_MS)
    wrong: list[str] = []
    own = (running.address, "data:", "blob:")
    context.on("request", lambda request: None if request.url.startswith(own) else wrong.append(request.url))
    context.on("weberror", lambda error: wrong.append(str(error.error)))
    yield context, wrong
    context.close()


@pytest.fixture
def context(shared_context: tuple[BrowserContext, list[str]], server: Server) -> Iterator[BrowserContext]:
    """A browser in which nothing is kept yet. A request that leaves the server's origin, or a page that breaks, fails.

    A page that stays open keeps the process in which the next one finds the scripts compiled: a third of its time.
    """
    context, wrong = shared_context
    if not context.pages:
        context.new_page().goto(f"{server.address}/api/alive")
    wrong.clear()
    yield context
    broken = list(wrong)
    kept, *opened = context.pages
    for page in opened:
        page.close()
    context.clear_cookies()
    context.clear_permissions()
    kept.evaluate("localStorage.clear()")
    assert broken == []


CRANE = 6  # the assignment of the slewing crane, as the demo loads it

SignIn = Callable[..., Page]


@pytest.fixture
def sign_in(context: BrowserContext, server: Server) -> SignIn:
    """Sign somebody in, as the page does; returns a page on the start page, or where a path leads."""

    def signed_in(name: str, page: Page | None = None, path: str = "/") -> Page:
        page = page or context.new_page()
        answer = page.context.request.post(
            f"{server.address}/api/session", data={"sign_in": name, "password": PASSWORD}
        )
        assert answer.ok, answer.text()
        page.goto(f"{server.address}{path}")
        if path == "/":
            expect(page.get_by_text("Hello,")).to_be_visible()
        return page

    return signed_in


@pytest.fixture
def crane(sign_in: SignIn) -> Page:
    """Pim at the bench with the crane, the jib chosen."""
    page = sign_in("pim", path=f"/bench/{CRANE}")
    expect_saved(page)
    choose(page, "Jib")
    return page


@pytest.fixture
def bench(sign_in: SignIn) -> Page:
    """Pim at the bench with the crates."""
    page = sign_in("pim")
    page.get_by_role("row", name="Crates for the morning boat").get_by_role("link", name="Start").click()
    expect_saved(page)
    expect(page.locator("canvas")).to_be_visible()
    return page


def expect_saved(page: Page) -> None:
    expect(page.locator("[data-saving=saved]")).to_be_visible()


def expect_steps(page: Page, *sentences: str) -> None:
    """The step list shows these sentences, each from the core."""
    expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(len(sentences))
    for i, sentence in enumerate(sentences):
        expect(page.get_by_role("list", name="Steps done").get_by_role("listitem").nth(i)).to_contain_text(sentence)


def choose(page: Page, name: str) -> None:
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name=name, exact=True).click()


def reach(page: Page, target: Locator) -> None:
    """Press Tab until something has the focus."""
    expect(target).to_be_visible()
    for _ in range(200):
        if target.evaluate("element => element === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError("Tab never came to it")


def select(field: Locator, option: str) -> None:
    """Open a list and take an option."""
    field.click()
    field.page.get_by_role("option", name=option, exact=True).click()


def pick(page: Page, chip: str, option: str) -> None:
    """Open a chip of the sentence and take an option."""
    select(page.get_by_role("combobox", name=chip, exact=True), option)


def place_words(at: str) -> str:
    """A place on a box as its list says it."""
    if at in ("pivot", "centre"):
        return at
    kind = ("face", "edge middle", "corner")[len(at) // 2 - 1]
    return f"{kind} {at.replace('-', '−').upper()}"


def saved_steps(page: Page, assignment: int) -> list[dict[str, Any]]:
    """The steps that the server keeps, as it shows them, once all is saved."""
    expect_saved(page)
    asked = f"fetch('/api/assignments/{assignment}/bench').then(answer => answer.json())"
    steps: list[dict[str, Any]] = page.evaluate(asked)["draft"]["steps"]
    return steps


def take_back(page: Page, steps: int) -> None:
    """Take so many steps back, which are all; the next one comes in their place."""
    for _ in range(steps):
        page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()


# Where a handle can be taken hold of, seen from the middle of its name, in pixels.
AWAY = {"rail": (-16, 0), "plane": (0, -12), "ring": (0, 0), "scale": (-16, 0), "view": (0, -4)}


def away_of(handle: str) -> tuple[int, int]:
    if handle.startswith("ring"):
        return AWAY["ring"]
    if handle == "view":
        return AWAY["view"]
    if handle == "scale all" or len(handle) == 2:
        return AWAY["plane"]
    return AWAY["scale" if handle.startswith("scale") else "rail"]


def drag_handle(page: Page, handle: str, by: tuple[float, float], shift: bool = False, let_go: bool = True) -> None:
    """Drag a handle by pixels: a rail (X), a plane bead (XZ), a ring (ring Y), an end for scaling (scale −X)."""
    x, y = settled_place(page, handle)
    page.mouse.move(x, y)
    page.mouse.down()
    if shift:
        page.keyboard.down("Shift")
    for share in (0.2, 0.6, 1.0):
        page.mouse.move(x + by[0] * share, y + by[1] * share)
    if let_go:
        page.mouse.up()
        if shift:
            page.keyboard.up("Shift")


def settled_place(page: Page, handle: str) -> tuple[float, float]:
    """Where a handle can be taken hold of, once it has come to rest."""
    label = page.locator(f"[data-handle='{handle}']")
    expect(label).to_have_count(1)
    before = None
    for _ in range(100):
        box = label.bounding_box()
        if box is not None and box == before:
            away = away_of(handle)
            return box["x"] + box["width"] / 2 + away[0], box["y"] + box["height"] / 2 + away[1]
        before = box
        page.wait_for_timeout(100)
    raise AssertionError(f"the handle {handle} never came to rest")
