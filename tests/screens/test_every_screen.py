"""What holds on every screen: axe-core finds nothing, nothing is cut off at 1024, 1280 and 1920, light and dark."""

from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.screens.conftest import choose, expect_saved, pick

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def open_screen(name, sign_in, context, server):
    if name == "sign-in":
        page = context.new_page()
        page.goto(f"{server.address}/sign-in")
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        return page
    page = sign_in("odile" if name.startswith(("instructor's start", "submissions", "result")) else "pim")
    if name == "submissions":
        page.goto(f"{server.address}/class/1")
        expect(page.get_by_text("handed in,")).to_be_visible()
    if name == "sheet":
        page.goto(f"{server.address}/sheet/1")
        page.get_by_label("Scale, X of Herring crate").fill("1")
        expect(page.locator("p[role=status]")).to_contain_text("all three")
    if name.startswith("result"):
        open_result(name, page, server)
    if name.startswith("bench"):
        open_bench(name, page, server)
    return page


def open_result(name, page, server):
    page.goto(f"{server.address}/result/1")
    expect(page.get_by_text("of 12 points")).to_be_visible()
    if name == "result: show me":
        page.get_by_role("button", name="Show me").first.click()
        expect(page.get_by_text("The right way", exact=True)).to_be_visible()
    if name == "result: points":
        page.get_by_role("button", name="Change the points of").first.click()
        expect(page.get_by_role("dialog")).to_be_visible()


def open_bench(name, page, server):
    page.goto(f"{server.address}/bench/1")
    expect_saved(page)
    choose(page, "Herring crate")
    if name == "bench: hand in":
        page.keyboard.type("1")
        page.keyboard.press("Enter")
        expect_saved(page)
        page.get_by_role("button", name="Hand in").click()
        expect(page.get_by_role("dialog")).to_be_visible()
    if name == "bench: numbers":
        page.keyboard.type("1")
        page.keyboard.press("Enter")
        expect_saved(page)
        page.get_by_role("tab", name="Numbers").click()
        page.get_by_role("button", name="Edit step 1").click()
        expect(page.get_by_label("Own size (m), X")).to_be_visible()
    if name == "bench: turn and line":
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("r")
        page.get_by_role("button", name="Type the sentence").click()
        expect(page.get_by_label("The sentence as text")).to_be_visible()
    if name == "bench: point":
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("s")
        pick(page, "Pivot", "A point, picked in the view")
        expect(page.get_by_role("button", name="face +X of Herring crate")).to_be_visible()
    if name == "bench: objects":
        page.get_by_role("combobox", name="Object").click()
        expect(page.get_by_role("listbox")).to_be_visible()


SCREENS = [
    "sign-in", "student's start", "instructor's start", "submissions", "result", "result: show me",
    "result: points", "sheet", "bench", "bench: hand in",
    "bench: objects", "bench: numbers", "bench: turn and line", "bench: point",
]  # fmt: skip


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("screen", SCREENS)
def test_axe_finds_nothing(screen, theme, sign_in, context, server):
    context.add_init_script(f"location.protocol === 'http:' && localStorage.setItem('cube-drill:theme', '{theme}')")
    page = open_screen(screen, sign_in, context, server)
    page.evaluate(AXE.read_text(encoding="utf-8"))
    # While a list is open, the page behind it is hidden on purpose: the list alone is looked at.
    where = "'[role=listbox]'" if screen == "bench: objects" else "{exclude: [['[data-radix-focus-guard]']]}"
    found = page.evaluate(f"axe.run({where})")
    assert [(v["id"], v["nodes"][0]["html"][:200]) for v in found["violations"]] == []


@pytest.mark.parametrize("width", [1024, 1280, 1920])
@pytest.mark.parametrize(
    "screen",
    ["sign-in", "student's start", "submissions", "result", "sheet", "bench", "bench: numbers", "bench: turn and line"],
)
def test_nothing_is_cut_off(screen, width, sign_in, context, server):
    page = open_screen(screen, sign_in, context, server)
    page.set_viewport_size({"width": width, "height": 800})
    wide = page.evaluate("document.documentElement.scrollWidth")
    assert wide <= width
    cut = page.evaluate(
        """() => [...document.querySelectorAll('button, a, input, th, td, output')]
            .map(e => [e.getBoundingClientRect(), e.outerHTML.slice(0, 120)])
            .filter(([box]) => box.width && (box.right > innerWidth + 1 || box.left < -1))
            .map(([, text]) => text)"""
    )
    assert cut == []
