"""What is drawn in the view while a step is said, driven by the pointer: dots, planes, arms, contacts."""

import numpy as np
import pytest
from playwright.sync_api import expect

from cubedrill.core.steps.replay import replay
from tests.core.build import steps_of
from tests.screens.conftest import CRANE, choose, expect_saved, expect_steps, pick, saved_steps, select
from tests.screens.test_bench import START
from tests.screens.test_kinds import by_lists
from tests.tiers import long

HUT = 21  # the assignment that begins with nothing but the quay, as the demo loads it


def middle_of(locator):
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def after(step):
    """The scene after the first step that was kept, as the core replays it."""
    kept = {key: value for key, value in step.items() if value is not None}
    return replay(START, steps_of(kept))[-1].scene


@long
def test_join_is_dragged_from_a_dot_to_a_dot_and_the_way_is_told(crane):
    crane.keyboard.press("Shift+J")
    start = middle_of(crane.get_by_role("button", name="Join from corner +X+Y+Z of Jib", exact=True))
    crane.mouse.move(*start)
    crane.mouse.down()
    crane.mouse.move(start[0] + 30, start[1] + 30, steps=3)
    expect(crane.locator("[data-way]")).to_contain_text("X ")
    # The dots of what is nearest are shown: the mast's, with the pointer over it.
    mast = START.world_from_local("mast") @ [*START.require_local_box("mast").most, 1]
    head = crane.get_by_role("button", name="Join to corner +X+Y+Z of Mast", exact=True)
    for across in range(0, 400, 20):
        if head.is_visible():
            break
        crane.mouse.move(start[0] - across, start[1] + 20)
    crane.mouse.move(*middle_of(head), steps=2)
    jib = START.world_from_local("jib") @ [*START.require_local_box("jib").most, 1]
    expect(crane.locator("[data-way]")).to_contain_text(f"X {mast[0] - jib[0]:.4g}".replace("-", "−"))
    crane.mouse.up()
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Join Jib: corner +X+Y+Z of Jib to corner +X+Y+Z of Mast")
    (kept,) = saved_steps(crane, CRANE)
    now = after(kept["step"]).world_from_local("jib") @ [*START.require_local_box("jib").most, 1]
    assert now == pytest.approx(mast, abs=1e-9)


def test_a_plane_shows_the_ghost_under_the_pointer_and_a_click_sets_it(crane):
    ghosts = []
    crane.on("response", lambda answer: ghosts.append(answer) if answer.url.endswith("/preview") else None)
    crane.keyboard.press("Shift+A")
    pick(crane, "With", "Mast")
    side = crane.get_by_role("radiogroup", name="Side along X")
    plane = crane.get_by_role("button", name="X+ plane", exact=True)
    plane.hover()
    expect(side.get_by_role("radio", checked=True)).to_have_text("+")
    expect(crane.get_by_role("button", name="Apply")).to_be_enabled()
    assert "X max" in ghosts[-1].json()["step"]["sentence"]
    crane.mouse.move(300, 100)
    expect(side.get_by_role("radio", checked=True)).to_have_text("·")
    plane.click()
    crane.mouse.move(300, 100)
    expect(side.get_by_role("radio", checked=True)).to_have_text("+")
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Align Jib with Mast: X max of World")


@long
def test_the_arms_of_a_swing_tell_the_angle_and_another_makes_it_a_rotate(crane):
    crane.keyboard.press("Shift+S")
    by_lists(crane, "Line from, end", "Jib", "+x")
    by_lists(crane, "Line to, end", "Mast", "+x+z")
    angle = crane.get_by_label("Angle of the swing (changing it makes this a rotate step)")
    told = float(angle.input_value().replace("−", "-"))
    pivot, jib = START.pivot_world("jib"), START.world_from_local("jib")
    local, mast_box = START.require_local_box("jib"), START.require_local_box("mast")
    end = jib @ [local.most[0], local.centre[1], local.centre[2], 1]
    corner = START.world_from_local("mast") @ [mast_box.most[0], mast_box.centre[1], mast_box.most[2], 1]
    headings = [np.arctan2(-(point[2] - pivot[2]), point[0] - pivot[0]) for point in (end, corner)]
    turn = np.degrees(headings[1] - headings[0])
    assert (told - turn + 180) % 360 - 180 == pytest.approx(0, abs=1e-4)
    angle.fill("30")
    angle.press("Enter")
    expect(crane.get_by_label("Amount along Y")).to_be_focused()
    crane.keyboard.press("Enter")
    expect_steps(crane, "Rotate Jib by 30° about Y of World through its pivot")


@long
def test_a_contact_near_the_middle_of_a_face_is_the_middle(crane):
    choose(crane, "Hook")
    crane.keyboard.press("Shift+U")
    pick(crane, "On", "Jib")
    pick(crane, "At", "middle of face +Y")
    wanted = START.require_local_box("jib")
    crane.keyboard.press("Shift+J")  # its dots say where the middle is in the picture
    choose(crane, "Jib")
    at = middle_of(crane.get_by_role("button", name="Join from face +Y of Jib", exact=True))
    choose(crane, "Hook")
    crane.keyboard.press("Shift+U")
    crane.get_by_role("button", name="Pick the point on a surface in the view").click()
    crane.mouse.move(at[0] + 3, at[1] + 1)
    expect(crane.get_by_role("combobox", name="At", exact=True)).to_contain_text("middle of face +Y")
    crane.mouse.down()
    crane.mouse.up()
    crane.get_by_role("button", name="Apply").click()
    (kept,) = saved_steps(crane, CRANE)
    assert kept["step"]["on"]["object"] == "jib"
    assert kept["step"]["on"]["point"] == pytest.approx([wanted.centre[0], wanted.most[1], wanted.centre[2]], abs=1e-12)


@long
def test_the_plumb_line_says_the_height_in_the_view_and_in_the_elevations_with_height(crane):
    height = START.require_box("jib", np.eye(4)).least[1]
    expect(crane.locator("[data-height]")).to_have_text(f"{height:.4g} m")
    expect(crane.locator("[data-plumb]")).to_have_count(2)  # front and side; from above there is none to be seen
    choose(crane, "Mast")
    expect(crane.locator("[data-height]")).to_have_text("on Crane base")


@long
def test_nesting_is_dragged_in_the_list_and_said_before_it_is_done(crane):
    crane.get_by_role("tab", name="Objects").click()
    listed = crane.get_by_label("Objects", exact=True)
    hook, mast = (listed.get_by_role("button", name=name, exact=True) for name in ("Hook", "Mast"))
    hook.drag_to(mast)
    expect(crane.get_by_role("region", name="Step sentence").get_by_role("status").last).to_have_text(
        "Enter: Nest Hook in Mast, keeping its place in the world."
    )
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Nest Hook in Mast, keeping its place in the world")


@long
def test_created_objects_can_be_matched_by_hand_and_stay_so(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/{HUT}")
    expect_saved(page)
    page.keyboard.press("/")
    line = page.get_by_label("Step as text", exact=True)
    for name, z in (("Slab", "1.5"), ("Board", "-1.5")):
        line.fill(f"Add {name} (cuboid 4 by 2 by 0.2 m) at (0; 1; {z})")
        line.press("Enter")
        expect(page.get_by_role("list", name="Steps done")).to_contain_text(f"Add {name}")
    line.press("Escape")
    taken = page.get_by_role("region", name="Matching")
    front, back = (taken.get_by_label(f"Made for {name} wall") for name in ("Front", "Back"))
    expect(front).to_have_text("Slab")
    expect(back).to_have_text("Board")
    expect(taken).to_contain_text("by position")
    passed = page.get_by_role("heading", name="checks in place").inner_text()
    select(front, "Board")
    expect(back).to_have_text("Slab")
    expect(taken).to_contain_text("chosen by hand")
    expect(page.get_by_role("heading", name="checks in place")).not_to_have_text(passed)
    expect_saved(page)
    page.reload()
    expect(front).to_have_text("Board")
    select(front, "as matched automatically")
    select(back, "as matched automatically")
    expect(front).to_have_text("Slab")
    page.get_by_role("button", name="Undo").click()
    expect(back).to_have_text("Slab")
    # The gap of what was chosen is the one that is opened by choosing it.
    choose(page, "Slab")
    expect(page.get_by_label("Gaps").get_by_text("Difference, in World:").first).to_be_visible()
