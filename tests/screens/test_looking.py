"""Looking and choosing in the view: sides, eye level, shading, frames; the points that are placed; numbers copied."""

import json
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from cubedrill.core.steps.replay import replay
from tests.core.build import steps_of
from tests.screens.conftest import (
    CRANE,
    choose,
    drag_handle,
    expect_saved,
    expect_steps,
    pick,
    reach,
    saved_steps,
    select,
    settled_place,
    take_back,
)
from tests.screens.test_bench import START
from tests.tiers import long


def picture(page):
    """The view as it is drawn, once it has come to rest."""
    settled_place(page, "X")
    return page.locator("canvas").screenshot()


def seen_from_above(page):
    """How far the ends of the X and Z rails lie apart up and down: the more, the higher the viewer stands."""
    return abs(settled_place(page, "Z")[1] - settled_place(page, "X")[1])


@long
def test_the_crane_is_seen_at_eye_level_and_from_above(crane):
    first = seen_from_above(crane)
    crane.get_by_role("button", name="Look from eye level").click()
    eye = seen_from_above(crane)
    crane.get_by_role("button", name="Look from above").click()
    raised = seen_from_above(crane)
    assert eye < first < raised


@long
def test_the_scene_is_drawn_flat_see_through_and_as_lines(crane):
    pictures = [picture(crane)]
    view = crane.get_by_role("toolbar", name="View")
    for drawn in ("shaded", "see-through", "wireframe"):
        view.get_by_role("button", name=f"Shading: {drawn}").click()
        pictures.append(picture(crane))
    assert len(set(pictures[:3])) == 3
    view.get_by_role("button", name="Shading: shaded").wait_for()
    view.get_by_role("button", name="Parallel view, without perspective").click()
    expect(crane.get_by_text("Free, parallel", exact=True)).to_be_visible()
    assert picture(crane) != pictures[0]
    drag_handle(crane, "Y", (0, -30))
    (step,) = saved_steps(crane, CRANE)
    assert step["step"]["by"][1] > 0


@long
def test_a_frame_says_how_many_it_took_and_what_is_hidden(crane):
    crane.keyboard.press("v")
    settled_place(crane, "X")
    for through in (False, True):
        crane.keyboard.press("f")
        crane.get_by_label("include hidden objects").set_checked(through)
        area = crane.locator("[data-frame]").bounding_box()
        crane.mouse.move(area["x"] + 4, area["y"] + 60)
        crane.mouse.down()
        crane.mouse.move(area["x"] + area["width"] / 2, area["y"] + 300)
        crane.mouse.move(area["x"] + area["width"] - 4, area["y"] + area["height"] - 4)
        crane.mouse.up()
        said = crane.get_by_text(re.compile(r"Selected \d objects?"))
        expect(said).to_be_visible()
        taken = int(re.search(r"Selected (\d)", said.inner_text())[1])
        expect(crane.get_by_role("combobox", name="Object")).to_contain_text(f"{taken} objects")
        if through:
            assert taken == 4  # all that is not fixed
        crane.keyboard.press("Escape")


@long
def test_an_object_behind_others_is_left_out_or_counted(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/1")
    expect_saved(page)
    choose(page, "Rope crate")
    page.keyboard.press("y")
    page.keyboard.type("-3")
    page.keyboard.press("Enter")  # into the ground, where the quay hides it
    expect_saved(page)
    words = {}
    for through in (False, True):
        page.keyboard.press("Escape")
        page.keyboard.press("f")
        page.get_by_label("include hidden objects").set_checked(through)
        area = page.locator("[data-frame]").bounding_box()
        page.mouse.move(area["x"] + 4, area["y"] + 60)
        page.mouse.down()
        page.mouse.move(area["x"] + area["width"] - 4, area["y"] + area["height"] - 4)
        page.mouse.up()
        said = page.get_by_text(re.compile("Selected"))
        expect(said).to_be_visible()
        words[through] = said.inner_text()
    assert re.search(r"\d hidden objects left out", words[False])
    assert re.search(r"\d of them hidden behind other objects", words[True])


@long
def test_the_gap_of_a_drag_is_asked_at_most_fifteen_times_a_second(crane):
    asked = []
    crane.on("request", lambda request: asked.append(request.url) if request.url.endswith("/look") else None)
    x, y = settled_place(crane, "X")
    crane.mouse.move(x, y)
    crane.mouse.down()
    crane.evaluate("window.began = performance.now()")
    for i in range(60):
        crane.mouse.move(x + i % 40, y)
    seconds = crane.evaluate("(performance.now() - window.began) / 1000")
    assert 1 <= len(asked) <= 15 * seconds + 2
    crane.keyboard.press("Escape")
    crane.mouse.up()


PLACES = {"A point on an object…": "+x", "the origin": "origin", "the centre of its box": "box"}


@long
def test_the_pivot_is_moved_as_a_step(crane):
    for where, wanted in PLACES.items():
        crane.keyboard.press("Shift+V")
        pick(crane, "Pivot", where)
        if wanted == "+x":
            select(crane.get_by_label("Place on it"), "face +X")
            crane.get_by_role("button", name="Use this point").click()
        crane.get_by_role("button", name="Apply").click()
        (step,) = saved_steps(crane, CRANE)
        at = step["step"]["at"]
        assert (at["at"] if wanted == "+x" else at) == wanted
        expect_agreement(step)
        take_back(crane, 1)


@long
def test_the_marker_is_placed_and_turned_about(crane):
    for where in ("place", "numbers", "origin"):
        crane.evaluate("document.activeElement.blur()")
        crane.keyboard.press("Shift+M")
        if where == "origin":
            crane.get_by_role("radio", name="the origin").click()
        else:
            pick(crane, "To point", "A place on an object, or numbers…")
            if where == "numbers":
                crane.get_by_role("radio", name="Numbers in World").click()
                crane.get_by_label("Point X").fill("2")
            crane.get_by_role("button", name="Use this point").click()
        crane.get_by_role("button", name="Apply").click()
        expect_steps(crane, "Move the marker to")
        crane.evaluate("document.activeElement.blur()")
        crane.keyboard.press("r")
        pick(crane, "Pivot", "the marker")
        crane.keyboard.press("y")
        crane.keyboard.type("30")
        crane.keyboard.press("Enter")
        marker, turned = saved_steps(crane, CRANE)
        assert turned["step"]["pivot"] == "marker"
        states = replay(START, steps_of(*(stripped(step) for step in (marker, turned))))
        jib = states[-1].scene.world_from_local("jib").ravel(order="F")
        assert turned["changed"]["jib"]["world_from_local"] == pytest.approx(jib.tolist(), abs=1e-12)
        take_back(crane, 2)


def stripped(step):
    return {key: value for key, value in step["step"].items() if value is not None}


def expect_agreement(step):
    """The pivot stands where the core has it, and the object did not move."""
    *_, last = replay(START, steps_of(stripped(step)))
    assert step["changed"]["jib"]["pivot_world"] == pytest.approx(last.scene.pivot_world("jib").tolist(), abs=1e-12)
    assert np.allclose(last.scene.world_from_local("jib"), START.world_from_local("jib"))


def test_numbers_are_copied_and_pasted(crane):
    crane.context.grant_permissions(["clipboard-read", "clipboard-write"])
    crane.get_by_role("tab", name="Numbers").click()
    copied = {}
    for name in ("Copy JSON", "Copy CSV", "Copy 16 numbers"):
        crane.get_by_role("button", name=name).click()
        copied[name] = crane.evaluate("navigator.clipboard.readText()")
    position = START.pivot_world("jib").tolist()
    assert json.loads(copied["Copy JSON"])["position"] == pytest.approx(position)
    assert [float(n) for n in re.findall(r"-?[\d.]+(?:e-?\d+)?", copied["Copy CSV"])[-9:-6]] == pytest.approx(position)
    matrix = [float(n) for n in re.split(r"[\s,]+", copied["Copy 16 numbers"].strip("[] \n"))]
    assert matrix == pytest.approx(START.world_from_local("jib").ravel(order="F").tolist())
    crane.get_by_role("button", name="Paste…").click()
    crane.get_by_label("Numbers", exact=True).last.fill("1 2 3 0 45 0")
    crane.get_by_role("button", name="Apply").click()
    expect(crane.get_by_label("Pivot (m), X")).to_have_value("1")
    expect(crane.get_by_label("Angles (deg, XYZ), Y")).to_have_value("45")
    crane.get_by_role("button", name="Paste…").click()
    crane.get_by_label("Numbers", exact=True).last.fill("1 2")
    crane.get_by_role("button", name="Apply").click()
    expect(crane.get_by_role("alert")).to_contain_text("There are 2 numbers")


@long
def test_sunken_parts_are_hatched(crane):
    hatched = crane.locator("[data-outside]")
    expect(hatched).to_have_count(0)
    crane.keyboard.press("y")
    crane.keyboard.type("-9")
    crane.keyboard.press("Enter")
    expect(hatched.first).to_be_attached()
    crane.get_by_role("button", name="Undo").click()
    expect(hatched).to_have_count(0)


@long
def test_an_elevation_comes_to_the_middle_and_the_free_view_goes_to_the_strip(crane):
    strip = crane.get_by_label("Elevations")
    strip.get_by_role("button", name="Side").click()
    expect(crane.get_by_text("Side, parallel", exact=True)).to_be_visible()
    drag_handle(crane, "Y", (0, -40))  # seen from the side, up is up
    (step,) = saved_steps(crane, CRANE)
    assert step["step"]["by"][1] > 0
    strip.get_by_role("button", name="Free").click()
    expect(crane.get_by_text("Free, perspective", exact=True)).to_be_visible()


@long
@pytest.mark.parametrize("assignment", [11, 12])
def test_axes_show_rightly_with_z_up_and_left_handed(sign_in, server, assignment):
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/{assignment}")
    expect_saved(page)
    name, ups = ("Winch", ("Z", "Y")) if assignment == 11 else ("Lamp house", ("Y", "Z"))
    choose(page, name)
    strip = page.get_by_label("Elevations")
    expect(strip.get_by_role("button", name="Front")).to_contain_text(f"X → {ups[0]} ↑")
    expect(strip.get_by_role("button", name="Top")).to_contain_text(f"X → {ups[1]} ↑")
    strip.get_by_role("button", name="Top").click()
    before = np.array(page.locator(f"[data-handle={ups[1]}]").bounding_box()["y"])
    drag_handle(page, ups[1], (0, -30))  # seen from above, away is up in both
    (step,) = saved_steps(page, assignment)
    assert step["step"]["by"]["XYZ".index(ups[1])] > 0
    assert np.isfinite(before)


def test_tab_comes_through_the_whole_bench_and_back_to_its_head(crane):
    """Past every button with a tip, whose tip goes as the focus does: nothing holds it or throws it back."""
    for name in (
        "Fit the selection in the view",
        "Look only",
        "Steps as text",
        "Type the step as text",
        "Nudge forward along X",
    ):
        reach(crane, crane.get_by_role("button", name=name))
    reach(crane, crane.get_by_role("button", name="Help and keys"))
