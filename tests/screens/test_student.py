"""A student's path in the real interface: by pointer, and by keyboard alone."""

import re

import pytest
from playwright.sync_api import expect

from tests.screens.conftest import choose, drag_handle, expect_saved, expect_steps, pick, take_back
from tests.tiers import long


def first_sentence(page):
    return page.get_by_role("list", name="Steps done").get_by_role("listitem").first.inner_text()


def test_from_signing_in_to_the_verdict(bench):
    choose(bench, "Herring crate")
    drag_handle(bench, "X", (60, 14))
    expect_saved(bench)
    assert re.search(r"Move Herring crate by [\d.]+ m along X of World", first_sentence(bench))

    # To its place, typed: digits anywhere begin the amount on the axis that is lit.
    bench.keyboard.press("t")
    bench.keyboard.press("x")
    expect(bench.locator("[data-lit=true]")).to_contain_text("X")
    bench.keyboard.type("-3")
    bench.get_by_role("button", name="Axis Y").click()
    bench.get_by_label("Amount along Y").fill("0.3/2")
    bench.get_by_role("button", name="Axis Z").click()
    bench.get_by_label("Amount along Z").fill("-2")
    expect(bench.get_by_text("Enter moves Herring crate to X −3 m, Y 0.15 m and Z −2 m of World.")).to_be_visible()
    bench.keyboard.press("Enter")
    expect_saved(bench)
    expect_steps(bench, "by", "Move Herring crate to X −3 m, Y 0.15 m and Z −2 m of World")
    expect(bench.get_by_role("heading", name="1 of 4 checks in place")).to_be_visible()

    # Undo and redo over both steps.
    bench.keyboard.press("Control+z")
    expect(bench.get_by_role("heading", name="0 of 4 checks in place")).to_be_visible()
    bench.get_by_role("button", name="Redo").click()
    expect(bench.get_by_role("heading", name="1 of 4 checks in place")).to_be_visible()
    expect_saved(bench)

    bench.get_by_role("button", name="Submit", exact=True).click()
    bench.get_by_role("button", name="Submit now").dblclick()
    expect(bench.get_by_text("3 of 12 points")).to_be_visible()
    expect(bench.get_by_text("Attempt 1,")).to_be_visible()  # the double click submitted once
    row = bench.locator("tbody", has_text="Pivot of Herring crate")
    expect(row).to_contain_text("✓ Pass".replace("✓ ", ""))
    expect(row).to_contain_text("−3.000")
    expect(row).to_contain_text("± 0.02 m")
    expect(bench.locator("tbody", has_text="Pivot of Rope crate")).to_contain_text("Fail")


def test_by_keyboard_alone(sign_in):
    page = sign_in("pim")
    page.get_by_role("link", name="Start").first.focus()
    page.keyboard.press("Enter")
    expect_saved(page)
    for crate, place in (
        ("Herring crate", ("-3", "0.15", "-2")),
        ("Lamp-oil crate", ("-2", "0.4", "-2")),
        ("Rope crate", ("2.5", "0.15", "-1.5")),
        ("Apple crate", ("2.5", "0.65", "-1.5")),
    ):
        page.keyboard.press("n")
        expect(page.get_by_role("combobox", name="Object")).to_contain_text(crate)
        page.keyboard.press("t")
        for axis, amount in zip("xyz", place, strict=True):
            page.keyboard.press(axis)
            page.keyboard.type(amount)
            page.keyboard.press("Enter")
            page.keyboard.press("Escape")  # clears the amount and leaves the field
        expect_saved(page)
    expect(page.get_by_role("heading", name="4 of 4 checks in place")).to_be_visible()
    page.get_by_role("button", name="Submit", exact=True).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.get_by_role("button", name="Submit now").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("12 of 12 points")).to_be_visible()


def test_a_drag_is_the_step_that_the_core_replays(bench):
    choose(bench, "Rope crate")
    for handle, space in (("X", "World"), ("Z", "Local"), ("XZ", "World"), ("XY", "Local")):
        pick(bench, "Space", space)
        drag_handle(bench, handle, (45, -30))
        expect_saved(bench)
        sentence = first_sentence(bench)
        assert "Move Rope crate by" in sentence
        assert f"of {space}" in sentence
        for axis in "XYZ":
            assert (f"along {axis}" in sentence) is (axis in handle)
        take_back(bench, 1)


@long
def test_escape_gives_a_drag_up(bench):
    choose(bench, "Apple crate")
    drag_handle(bench, "X", (50, 10), let_go=False)
    expect(bench.get_by_text("Release to apply the step")).to_be_visible()
    bench.keyboard.press("Escape")
    bench.mouse.up()
    expect(bench.get_by_text("No steps yet")).to_be_visible()


@long
def test_with_shift_a_drag_keeps_to_the_ticks(bench):
    choose(bench, "Apple crate")
    drag_handle(bench, "X", (60, 14), shift=True)
    expect_saved(bench)
    amount = float(re.search(r"by ([\d.]+) m", first_sentence(bench))[1])
    assert amount * 10 == pytest.approx(round(amount * 10))  # the ticks are a tenth or coarser at this size


@long
def test_a_solid_is_chosen_by_a_click_in_the_view(bench):
    choose(bench, "Apple crate")
    place = bench.locator("[data-handle=X]").bounding_box()
    assert place is not None
    canvas = bench.locator("canvas").bounding_box()
    bench.mouse.click(canvas["x"] + 8, canvas["y"] + 8)  # the sky
    expect(bench.get_by_text("Select an object in the view")).to_be_visible()
    # The apple crate's pivot lies about one rail's length to the left of where the X bead was; its middle above it.
    bench.mouse.click(place["x"] - 108, place["y"] - 30)
    expect(bench.get_by_role("combobox", name="Object")).to_contain_text("Apple crate")


@long
def test_a_locked_solid_can_be_looked_at_and_not_moved(bench):
    choose(bench, "Quay locked")
    expect(bench.get_by_text("Quay is locked")).to_be_visible()
    expect(bench.locator("[data-handle=X]")).to_have_count(0)
    expect(bench.get_by_role("button", name="Apply")).to_be_disabled()


@long
def test_z_up_in_millimetres_along_its_own_length(sign_in):
    page = sign_in("pim")
    page.get_by_role("row", name="Slide the hatch cover").get_by_role("link", name="Start").click()
    expect_saved(page)
    choose(page, "Hatch cover")
    page.keyboard.press("l")
    page.keyboard.type("-2400")
    page.keyboard.press("Enter")
    expect_steps(page, "Move Hatch cover by −2400 mm along X of Local")
    expect(page.get_by_role("heading", name="1 of 3 checks in place")).to_be_visible()


@long
def test_keys_are_listed_and_can_be_switched_off(bench):
    bench.keyboard.press("?")
    expect(bench.get_by_role("dialog")).to_contain_text("Apply the step; again to repeat it")
    bench.get_by_role("switch").click()
    bench.keyboard.press("Escape")
    bench.keyboard.press("t")
    expect(bench.get_by_role("radio", name="By", exact=True)).to_be_checked()
