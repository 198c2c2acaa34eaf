"""The result: causes shown, own steps beside the reference, an instructor's points, and a sheet submitted."""

import re

import pytest
from playwright.sync_api import expect

from tests.screens.conftest import drag_handle, expect_saved, pick
from tests.tiers import long

LOCK_GATE = 4


@pytest.fixture
def wrong_gate(sign_in, server):
    """Pim's lock gate, turned about its own pivot: the result page."""
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/{LOCK_GATE}")
    expect_saved(page)
    page.get_by_role("button", name="Type the step as text").click()
    for number, line in enumerate(
        ("move sluice paddle by 0.4 along y of local", "rotate lock gate by 75 about y of local"), 1
    ):
        page.get_by_label("Step as text", exact=True).fill(line)
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(number)
        expect_saved(page)
    page.get_by_role("button", name="Submit", exact=True).click()
    page.get_by_role("button", name="Submit now").click()
    expect(page.get_by_text("of 9 points")).to_be_visible()
    return page


def test_the_cause_is_said_and_shown_beside_the_right_way(wrong_gate):
    page = wrong_gate
    why = page.get_by_role("region", name="Why")
    expect(why).to_contain_text("Lock gate was turned about its own pivot")
    expect(why).to_contain_text("Your step 2 is the first that differs from the reference.")
    why.get_by_role("button", name="Show").click()
    expect(page.get_by_text("The reference", exact=True)).to_be_visible()
    own, right = page.get_by_label("Submitted: step"), page.get_by_label("Reference: step")
    expect(own).to_have_attribute("aria-valuenow", "2")  # both go on to their ends
    expect(right).to_have_attribute("aria-valuenow", "2")
    own.press("Home")
    expect(own).to_have_attribute("aria-valuetext", "Start")
    page.get_by_role("button", name="Submitted: next step").click()
    expect(own).to_have_attribute("aria-valuetext", re.compile("1. Move Sluice paddle by 0.4 m"))


@long
def test_a_check_that_is_pointed_at_says_how_its_number_came_about(wrong_gate):
    page = wrong_gate
    hinge = page.locator("tbody", has_text="Edge middle −X−Z of Lock gate")
    hinge.get_by_role("button", name="Edge middle").focus()
    expect(page.get_by_text(re.compile(r"Edge middle −X−Z of Lock gate, in World: X .* wanted"))).to_be_visible()
    expect(page.locator("main").get_by_text(re.compile(r"^2\.\d+ m$"))).to_be_visible()  # the gap's dimension line


@long
def test_printing_leaves_the_view_out_and_shows_the_elevations(wrong_gate):
    page = wrong_gate
    expect(page.get_by_role("button", name="Print")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.locator("canvas").first).not_to_be_visible()
    expect(page.locator("figure")).to_have_count(3)
    expect(page.locator("figure").first).to_be_visible()
    expect(page.get_by_text("of 9 points")).to_be_visible()
    expect(page.get_by_role("button", name="Print")).not_to_be_visible()


def test_the_instructor_changes_points_and_writes_a_remark(wrong_gate, sign_in, new_context):
    page = sign_in("odile", new_context().new_page())
    page.goto(wrong_gate.url)
    page.get_by_role("button", name="Change the points of Edge middle −X−Z of Lock gate").click()
    page.get_by_label("Points, 0 to 2").fill("1.5")
    expect(page.get_by_role("button", name="Save points")).to_be_disabled()  # a reason is needed
    page.get_by_label("Reason (the student sees it)").fill("The angle is right.")
    page.get_by_role("button", name="Save points").click()
    expect(page.get_by_text("the program gave 0")).to_be_visible()
    page.get_by_label("A remark for Pim Tasker").fill("Choose the hinge before you turn.")
    page.get_by_role("button", name="Save remark").click()
    expect(page.get_by_role("listitem").get_by_text("Choose the hinge before you turn.")).to_be_visible()
    wrong_gate.reload()
    expect(wrong_gate.get_by_text("Your instructor changed the mark")).to_be_visible()
    remarks = wrong_gate.get_by_role("region", name="Remarks")
    expect(remarks).to_contain_text("The angle is right.")
    expect(remarks).to_contain_text("Choose the hinge before you turn.")
    expect(wrong_gate.get_by_role("button", name="Change the points of")).to_have_count(0)


@long
def test_a_sheet_is_typed_kept_over_a_reload_and_handed_in(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/sheet/3")
    for name, x in (("Tar barrel", "-4000"), ("Salt barrel", "-2500"), ("Water barrel", "-1000")):
        for letter, text in zip("XYZ", (x, "900/2", "2000"), strict=True):
            page.get_by_label(f"Translation (m), {letter} of {name}").fill(text)
    page.get_by_label("Angles (deg), X of Tar barrel").fill("0")
    expect(page.locator("p[role=status]")).to_contain_text("Tar barrel: all three of the angles are needed.")
    expect(page.get_by_role("button", name="Submit", exact=True)).to_be_disabled()
    pick(page, "Unit of length", "mm")
    expect(page.get_by_text("✓ Saved")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Translation (mm), Y of Salt barrel")).to_have_value("900/2")
    page.get_by_label("Angles (deg), X of Tar barrel").fill("")
    expect(page.locator("p[role=status]")).to_contain_text("Every row is complete.")
    page.get_by_role("button", name="Submit", exact=True).click()
    asked = page.get_by_role("dialog", name="Submit this sheet?")
    expect(asked).to_contain_text("3 objects with numbers")
    asked.get_by_role("button", name="Submit now").click()
    expect(page.get_by_text("6 of 6 points")).to_be_visible()
    page.get_by_role("link", name="Continue on the sheet").click()
    expect(page.get_by_label("Translation (mm), X of Tar barrel")).to_have_value("-4000")


@long
def test_a_ragged_drag_is_named(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/13")
    expect_saved(page)
    page.keyboard.press("n")
    page.keyboard.press("z")
    page.keyboard.type("-1.9")
    page.keyboard.press("Enter")
    expect_saved(page)
    drag_handle(page, "Z", (3, -3))
    expect_saved(page)
    page.get_by_role("button", name="Submit", exact=True).click()
    page.get_by_role("button", name="Submit now").click()
    expect(page.get_by_role("region", name="Why")).to_be_visible()
