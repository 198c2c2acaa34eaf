"""What holds on every screen: axe-core finds nothing, nothing is cut off at 1024, 1280 and 1920, light and dark."""

from pathlib import Path

import pytest
from playwright.sync_api import expect

from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise
from cubedrill.formats.kinds import WRITERS
from tests.screens.conftest import choose, expect_saved, pick
from tests.tiers import long, some

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


# Pages of classes: whose they are, where they stand, and what is there when they have come.
PAGES = {
    "board": ("odile", "/classes/1", "gridcell"),
    "people": ("odile", "/classes/1/people", "cell"),
    "what was done": ("odile", "/classes/1/activity", "listitem"),
    "a student": ("odile", "/classes/1/students/3", "listitem"),
    "insight": ("odile", "/assignments/1/mistakes", "slider"),
    "setting": ("odile", "/assignments/1/settings", "checkbox"),
    "again": ("odile", "/assignments/1/recheck", "combobox"),
    "copy": ("odile", "/classes/1/copy", "checkbox"),
    "account": ("pim", "/account", "cell"),
}


def open_screen(name, sign_in, context, server):
    if name in PAGES:
        who, path, role = PAGES[name]
        page = sign_in(who, path=path)
        expect(page.get_by_role(role).first).to_be_visible()
        return page
    if name == "join":
        page = context.new_page()
        page.goto(f"{server.address}/join")
        expect(page.get_by_role("button", name="Join class")).to_be_visible()
        return page
    if name == "sign-in":
        page = context.new_page()
        page.goto(f"{server.address}/sign-in")
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        return page
    if name.startswith("bench"):
        return open_bench(name, sign_in)
    if name.startswith("result"):
        return open_result(name, sign_in)
    if name == "submissions":
        page = sign_in("odile", path="/assignments/1")
        expect(page.get_by_text("submitted,")).to_be_visible()
        return page
    if name in ("sheet", "file"):
        page = sign_in("pim", path="/sheet/1")
        if name == "sheet":
            page.get_by_label("Scale, X of Herring crate").fill("1")
            expect(page.locator("p[role=status]")).to_contain_text("all three")
            return page
        scene = WRITERS[".obj"](read_exercise(HERE / "exercises" / "crates-morning-boat.json").target_scene())
        page.get_by_label("Submit a file").set_input_files({"name": "a.obj", "mimeType": "", "buffer": scene})
        page.get_by_role("button", name="Herring crate").click()
        return page
    return sign_in("odile" if name == "instructor's start" else "pim")


def open_result(name, sign_in):
    page = sign_in("odile", path="/result/1")
    expect(page.get_by_text("of 12 points")).to_be_visible()
    if name == "result: show me":
        page.get_by_role("button", name="Show").first.click()
        expect(page.get_by_text("The reference", exact=True)).to_be_visible()
    if name == "result: points":
        page.get_by_role("button", name="Change the points of").first.click()
        expect(page.get_by_role("dialog")).to_be_visible()
    return page


def open_bench(name, sign_in):
    page = sign_in("pim", path="/bench/1")
    expect_saved(page)
    choose(page, "Herring crate")
    if name == "bench: numbers":
        page.keyboard.type("1")
        page.keyboard.press("Enter")
        expect_saved(page)
        page.get_by_role("tab", name="Numbers").click()
        page.get_by_role("button", name="Edit step 1").click()
        expect(page.get_by_label("Own size (m), X")).to_be_visible()
    if name.startswith("bench: help"):
        page.get_by_role("button", name="Help and keys").click()
        page.get_by_role("tab", name=name.removeprefix("bench: help on ").capitalize()).click()
    return page


WIDE = (
    *(page for page in PAGES if page != "board"),  # which is a grid that scrolls in itself
    "sign-in",
    "student's start",
    "submissions",
    "result",
    "sheet",
    "file",
    "bench",
    "bench: numbers",
)
SCREENS = [
    "sign-in", "student's start", "instructor's start", "submissions", "result", "result: show me",
    "result: points", "sheet", "bench", "bench: numbers", "bench: help on keys", "file", *PAGES, "join",
]  # fmt: skip


@pytest.mark.parametrize("screen", some(SCREENS, 6))
def test_axe_finds_nothing_and_nothing_is_cut_off(screen, sign_in, context, server):
    page = open_screen(screen, sign_in, context, server)
    inspect(page)
    if screen in WIDE:
        nothing_is_cut_off(page)
    if screen in LOW:
        nothing_is_covered(page)
    if screen == "bench: help on keys":
        for tab in ("Axes", "Spaces", "Pivots"):
            page.get_by_role("tab", name=tab).click()
            inspect(page)


@long
def test_axe_finds_nothing_on_what_opens_over_the_bench_or_changes_it(sign_in):
    page = open_bench("bench", sign_in)
    page.get_by_role("combobox", name="Object").click()
    expect(page.get_by_role("listbox")).to_be_visible()
    inspect(page, inert=True)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="More", exact=True).click()
    expect(page.get_by_role("listbox")).to_be_visible()
    inspect(page, inert=True)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Download").click()
    page.get_by_role("combobox", name="Kind of file").click()
    page.get_by_role("option", name="OBJ (.obj)").click()
    inspect(page)
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Shift+A")
    expect(page.get_by_role("button", name="X+ plane")).to_be_visible()
    inspect(page)
    page.keyboard.press("s")
    pick(page, "Pivot", "Pick a point in the view")
    expect(page.get_by_role("button", name="face +X of Herring crate")).to_be_visible()
    inspect(page)
    page.keyboard.press("Escape")
    page.keyboard.press("r")
    page.get_by_role("button", name="Type the step as text").click()
    expect(page.get_by_label("Step as text", exact=True)).to_be_visible()
    inspect(page)
    nothing_is_cut_off(page)
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("m")
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect_saved(page)
    page.get_by_role("button", name="Submit", exact=True).click()
    expect(page.get_by_role("dialog")).to_be_visible()
    inspect(page)


def inspect(page, inert=False):
    """Hold axe-core's rules against a page; inert: an open list makes all behind it so."""
    page.evaluate(AXE.read_text(encoding="utf-8"))
    # What floats is in no landmark, and behind an open list all else is inert; every other rule is held to all there is.
    behind = ("landmark-one-main", "page-has-heading-one", "region") if inert else ()
    every = {"rules": {rule: {"enabled": False} for rule in behind}}
    # In the dark it is colours that differ and nothing else.
    for theme, asked in (("light", every), ("dark", {"runOnly": ["color-contrast"]})):
        page.evaluate("theme => { document.documentElement.dataset.theme = theme }", theme)
        assert (theme, page.evaluate(FOUND, {"resultTypes": ["violations"], **asked})) == (theme, [])


# The guards of focus are taken out of what is read by those who open something.
FOUND = """asked => axe.run({exclude: [['[data-radix-focus-guard]']]}, asked)
    .then(({violations}) => violations.map(({id, nodes}) => [id, nodes[0].html.slice(0, 200)]))"""

WIDTHS = (1024, 1280, 1920)
CUT = """() => [...document.querySelectorAll('button, a, input, th, td, output')]
    .map(e => [e.getBoundingClientRect(), e.outerHTML.slice(0, 120)])
    .filter(([box]) => box.width && (box.right > innerWidth + 1 || box.left < -1))
    .map(([, text]) => text)"""


def nothing_is_cut_off(page):
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        assert (width, page.evaluate(CUT)) == (width, [])


# What lies at a point in the middle of each control that is in sight: itself, what is in it, or what it is in.
COVERED = """() => {
    const controls = [...document.querySelectorAll('button, a, input, textarea, [role=tab], [role=combobox]')];
    return controls.flatMap((control) => {
        control.scrollIntoView({block: 'nearest', inline: 'nearest'});
        const box = control.getBoundingClientRect();
        if (!box.width || getComputedStyle(control).visibility === 'hidden' || control.closest('.sr-only')) return [];
        const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
        const top = document.elementFromPoint(x, y);
        if (top && (control.contains(top) || top.contains(control) || top.closest('label')?.contains(control))) return [];
        return [control.outerHTML.slice(0, 140) + ' under ' + (top ? top.outerHTML.slice(0, 100) : 'nothing')];
    });
}"""
LOW = ("student's start", "submissions", "result", "sheet", "bench: numbers")
SIZES = [(640, 400), (910, 417), (1093, 500), (1024, 768)]


def nothing_is_covered(page):
    for width, height in SIZES:
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(300)
        assert ((width, height), page.evaluate(COVERED)) == ((width, height), [])


@long
def test_in_a_low_window_the_help_scrolls_and_the_strip_is_folded(sign_in, context, server):
    page = open_screen("bench: help on keys", sign_in, context, server)
    page.set_viewport_size({"width": 640, "height": 400})
    close = page.get_by_role("button", name="Close")
    close.scroll_into_view_if_needed()
    expect(close).to_be_in_viewport()
    close.click()
    page.set_viewport_size({"width": 910, "height": 417})
    front = page.get_by_role("button", name="Front show in the main view")
    expect(front).to_be_hidden()
    page.get_by_role("button", name="Front, side and top").click()
    expect(front).to_be_visible()


@long
def test_screen_readers_hear_steps_and_undo(sign_in, context, server):
    page = open_screen("bench", sign_in, context, server)
    news = page.get_by_role("status", name="What changed")
    page.keyboard.press("r")
    expect(news).to_have_text("Rotate.")
    page.keyboard.press("m")
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(news).to_contain_text("Done: Move Herring crate by 1 m along X of World. 0 of 4 checks in place.")
    page.keyboard.press("Control+z")
    expect(news).to_contain_text("Undone: Move Herring crate by 1 m along X of World.")
    page.keyboard.press("Control+y")
    expect(news).to_contain_text("Redone: Move Herring crate")


def focused(page):
    return page.evaluate(
        "document.activeElement.getAttribute('aria-label') || document.activeElement.id || document.activeElement.tagName"
    )


def test_the_focus_never_falls_to_the_page(sign_in, context, server):
    page = open_screen("bench", sign_in, context, server)
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect_saved(page)
    # In the step editor: switched off, and edited with Enter.
    edit = page.get_by_role("button", name="Edit step 1")
    edit.click()
    page.get_by_role("button", name="Switch step 1 off").press("Enter")
    expect(edit).to_be_focused()
    page.keyboard.press("Enter")
    page.get_by_label("by X").fill("2")
    page.keyboard.press("Enter")
    expect(edit).to_be_focused()
    # A number of the object.
    page.get_by_role("tab", name="Numbers").click()
    page.get_by_label("Pivot (m), Z").fill("3")
    page.keyboard.press("Enter")
    expect_saved(page)
    assert focused(page) == "Pivot (m), Z"
    # The line of text closed again, and a point picked.
    page.get_by_role("button", name="Type the step as text").press("Enter")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Type the step as text")).to_be_focused()
    page.keyboard.press("s")
    pick(page, "Pivot", "Pick a point in the view")
    page.get_by_role("button", name="face +X of Herring crate").press("Enter")
    assert focused(page) == "Pivot"
    # Arriving at a page, and skipping to the work.
    page.goto(f"{server.address}/")
    expect(page.get_by_text("Hello,")).to_be_visible()
    assert focused(page) == "work"
    skip = page.get_by_role("button", name="Skip to content")
    skip.focus()
    expect(skip).to_be_in_viewport()
    page.keyboard.press("Enter")
    assert focused(page) == "work"
