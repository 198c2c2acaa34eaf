"""A tablet without mouse or keyboard: from signing in to a submitted exercise, by touch alone."""

from __future__ import annotations

import pytest
from playwright.sync_api import CDPSession, expect

from cubedrill.demo.load import PASSWORD
from tests.screens.conftest import LIMIT_MS, expect_saved, expect_steps, settled_place

Points = list[tuple[float, float]]


@pytest.fixture
def tablet(browser, server):
    context = browser.new_context(
        viewport={"width": 1180, "height": 820}, has_touch=True, is_mobile=True, device_scale_factor=1
    )
    context.set_default_timeout(LIMIT_MS)
    page = context.new_page()
    page.goto(server.address)
    yield page
    context.close()


def touch(cdp: CDPSession, start: Points, end: Points) -> None:
    """Put fingers down, move them in a few steps, and lift them."""
    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        points = [
            {"x": a[0] + (b[0] - a[0]) * share, "y": a[1] + (b[1] - a[1]) * share, "id": i}
            for i, (a, b) in enumerate(zip(start, end, strict=True))
        ]
        cdp.send("Input.dispatchTouchEvent", {"type": "touchMove" if share else "touchStart", "touchPoints": points})
    cdp.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


def test_an_exercise_is_done_and_submitted_by_touch_alone(tablet):
    page = tablet
    assert page.evaluate("matchMedia('(pointer: coarse)').matches")
    for label, text in (("Username", "pim"), ("Password", PASSWORD)):
        page.get_by_label(label).tap()
        page.get_by_label(label).fill(text)  # the tablet's own keyboard
    page.get_by_role("button", name="Sign in").tap()
    page.get_by_role("link", name="Start").first.tap()
    expect_saved(page)
    page.get_by_role("tab", name="Objects").tap()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Herring crate", exact=True).tap()
    cdp = page.context.new_cdp_session(page)
    x, y = settled_place(page, "X")
    touch(cdp, [(x, y)], [(x + 60, y + 15)])
    expect_steps(page, "Move Herring crate")
    expect_saved(page)

    view = page.locator("canvas").first.bounding_box()
    assert view
    middle = (view["x"] + view["width"] / 2, view["y"] + view["height"] * 0.8)
    crate = page.locator("[data-label=word]", has_text="Herring crate").first
    before = crate.bounding_box()
    touch(  # two fingers that move apart zoom in
        cdp,
        [(middle[0] - 30, middle[1]), (middle[0] + 30, middle[1])],
        [(middle[0] - 150, middle[1]), (middle[0] + 150, middle[1])],
    )
    page.wait_for_timeout(500)
    assert crate.bounding_box() != before

    for button in (page.get_by_role("button", name="Axis Y", exact=True), page.get_by_role("button", name="Apply")):
        box = button.bounding_box()
        assert box
        assert min(box["width"], box["height"]) >= 24  # WCAG 2.2, 2.5.8
    page.get_by_role("button", name="Submit", exact=True).tap()
    page.get_by_role("button", name="Submit now").tap()
    expect(page.get_by_text("of 12 points")).to_be_visible()
