"""The real handles and chips: each operation in each space about two pivots, by drag and typed, as the core replays it."""

import re

import pytest
from playwright.sync_api import expect

from cubedrill.core.steps.replay import replay
from cubedrill.demo import load as demo
from cubedrill.formats.documents import read_exercise
from tests.core.build import steps_of
from tests.screens.conftest import (
    CRANE,
    drag_handle,
    expect_saved,
    expect_steps,
    pick,
    saved_steps,
    select,
    settled_place,
    take_back,
)
from tests.tiers import long

SPACES = ("World", "Parent", "Local", "View")
START = read_exercise(demo.HERE / "exercises" / "slewing-crane.json").start_scene()
PIVOT_WORDS = {"its pivot": "own", "the origin": "origin"}
TOGETHER = list(zip(SPACES, [*PIVOT_WORDS, *PIVOT_WORDS], strict=True))  # each space with a pivot


def agree_with_the_core(shown):
    """What the server showed of each step is what a replay of the list in this process makes of it."""
    states = replay(START, steps_of(*({k: v for k, v in s["step"].items() if v is not None} for s in shown)))
    for step, state in zip(shown, states[1:], strict=True):
        for object_id, pose in step["changed"].items():
            world_from_local = state.scene.world_from_local(object_id).ravel(order="F")
            assert pose["world_from_local"] == pytest.approx(world_from_local.tolist(), abs=1e-12)


def expect_space(step, space):
    assert ("view" in step["space"]) if space == "View" else step["space"] == space.lower()


@long
def test_moves_dragged_and_typed_in_every_space(crane):
    for space in SPACES:
        pick(crane, "Space", space)
        for handle in ("X", "Y", "XY"):
            drag_handle(crane, handle, (28, -24))
            expect_saved(crane)
        crane.keyboard.press("y")
        crane.keyboard.type("0.5")
        crane.keyboard.press("Enter")
        *dragged, typed = saved_steps(crane, CRANE)
        assert len(dragged) == 3
        for step, axes in zip(dragged, ("X", "Y", "XY"), strict=True):
            expect_space(step["step"], space)
            assert [letter for letter, amount in zip("XYZ", step["step"]["by"], strict=True) if amount] == list(axes)
            assert step["step"]["entry"] == "dragged"
        assert (typed["step"]["by"], typed["step"]["entry"]) == ([0, 0.5, 0], "typed")
        agree_with_the_core([*dragged, typed])
        take_back(crane, 4)


@long
def test_turns_dragged_and_typed_in_every_space(crane):
    crane.keyboard.press("r")
    for space, pivot in TOGETHER:
        pick(crane, "Space", space)
        pick(crane, "Pivot", pivot)
        crane.get_by_role("button", name="Fit all objects in the view").click()
        ring = "Z" if space == "View" else "Y"  # the others are seen from their edge in a view's own axes
        drag_handle(crane, f"ring {ring}", (30, -20))
        expect_saved(crane)
        drag_handle(crane, "ring view", (30, 26))
        expect_saved(crane)
        crane.keyboard.press("z")
        crane.keyboard.type("360/7")
        crane.keyboard.press("Enter")
        about, facing, typed = saved_steps(crane, CRANE)
        for step in (about, typed):
            expect_space(step["step"], space)
        assert about["step"]["axis"] == ring.lower()
        assert about["step"]["entry"] == "dragged"
        assert "view" in facing["step"]["space"]
        assert {step["step"]["pivot"] for step in (about, facing, typed)} == {PIVOT_WORDS[pivot]}
        assert (typed["step"]["axis"], typed["step"]["angle"]) == ("z", pytest.approx(360 / 7))
        agree_with_the_core([about, facing, typed])
        take_back(crane, 3)


def test_a_ring_turns_about_its_axis_and_keeps_to_the_snap_size(crane):
    crane.keyboard.press("r")
    for space in ("World", "Local"):
        pick(crane, "Space", space)
        drag_handle(crane, "ring Y", (40, -20), shift=True)  # along the ring, at its front
        (step,) = saved_steps(crane, CRANE)
        expect_space(step["step"], space)
        assert step["step"]["axis"] == "y"
        assert step["step"]["angle"] % 15 == 0
        agree_with_the_core([step])
        take_back(crane, 1)


@long
def test_scalings_dragged_and_typed_in_every_space(crane):
    crane.keyboard.press("s")
    for space, pivot in TOGETHER:
        pick(crane, "Space", space)
        pick(crane, "Pivot", pivot)
        crane.get_by_role("button", name="Fit all objects in the view").click()
        drag_handle(crane, "scale all", (22, -20))
        expect_saved(crane)
        crane.get_by_role("checkbox", name="uniform").click()
        crane.evaluate("document.activeElement.blur()")
        crane.keyboard.press("x")
        crane.keyboard.type("1.5")
        crane.keyboard.press("Enter")
        dragged, typed = saved_steps(crane, CRANE)
        assert len(set(dragged["step"]["by"])) == 1
        assert typed["step"]["by"] == [1.5, 1, 1]
        assert dragged["step"]["pivot"] == typed["step"]["pivot"] == PIVOT_WORDS[pivot]
        expect_space(typed["step"], space)
        agree_with_the_core([dragged, typed])
        take_back(crane, 2)
        crane.get_by_role("checkbox", name="uniform").click()
        crane.evaluate("document.activeElement.blur()")


@long
def test_one_end_is_dragged_and_the_other_is_held(crane):
    crane.keyboard.press("s")
    drag_handle(crane, "scale X", (30, 6))
    (step,) = saved_steps(crane, CRANE)
    assert step["step"]["pivot"] == {"object": "jib", "at": "-x"}
    assert step["step"]["by"][0] > 1
    agree_with_the_core([step])


@long
def test_sizes_a_kept_volume_and_a_hold_point_typed(crane):
    crane.keyboard.press("s")
    pick(crane, "Pivot", "Pick a point in the view")
    crane.get_by_role("button", name="face −X of Jib", exact=True).press("Enter")
    crane.keyboard.press("t")
    crane.keyboard.type("3")
    crane.keyboard.press("Enter")
    expect_saved(crane)
    crane.keyboard.press("Escape")
    crane.get_by_role("radio", name="By", exact=True).click()
    crane.get_by_role("checkbox", name="keep volume").click()
    crane.get_by_label("Amount along X").fill("2")
    crane.keyboard.press("Enter")
    sized, kept = saved_steps(crane, CRANE)
    assert (sized["step"]["to"], sized["step"]["pivot"]) == ([3, None, None], {"object": "jib", "at": "-x"})
    assert kept["step"]["keep_volume"] == {"axis": "x", "factor": 2}
    agree_with_the_core([sized, kept])


@long
def test_axes_of_another_object_of_a_line_and_of_a_picked_edge(crane):
    pick(crane, "Space", "The axes of another object…")
    select(crane.get_by_label("Object", exact=True).last, "Hold")
    crane.get_by_role("button", name="Use these axes").click()
    crane.keyboard.type("1")
    crane.keyboard.press("Enter")
    expect_saved(crane)
    drag_handle(crane, "X", (28, -24))
    expect_saved(crane)
    crane.keyboard.press("Escape")
    pick(crane, "Space", "A line through two points…")
    crane.get_by_role("button", name="Use these axes").click()
    crane.get_by_label("Amount along X").fill("2")
    crane.keyboard.press("Enter")
    expect_saved(crane)
    drag_handle(crane, "Y", (10, -30))
    expect_saved(crane)
    crane.keyboard.press("Escape")
    pick(crane, "Space", "Pick an edge or face in the view")
    crane.get_by_role("button", name="edge middle +Y+Z of Jib", exact=True).press("Enter")
    crane.keyboard.press("x")
    crane.keyboard.type("-1")
    crane.keyboard.press("Enter")
    expect_saved(crane)
    drag_handle(crane, "X", (-30, 8))
    steps = saved_steps(crane, CRANE)
    assert [next(iter(s["step"]["space"])) for s in steps] == ["object"] * 2 + ["line"] * 4
    assert [s["step"]["entry"] for s in steps] == ["typed", "dragged"] * 3
    assert [[i for i, by in enumerate(s["step"]["by"]) if by] for s in steps] == [[0], [0], [0], [1], [0], [0]]
    assert [p["at"] for p in steps[4]["step"]["space"]["line"]] == ["-x+y+z", "+x+y+z"]
    agree_with_the_core(steps)


@long
def test_several_objects_are_chosen_and_moved_as_one_step(crane):
    crane.get_by_label("Objects", exact=True).get_by_role("button", name="Counterweight").click(modifiers=["Control"])
    expect(crane.get_by_role("combobox", name="Object")).to_contain_text("2 objects")
    crane.keyboard.type("1")
    crane.keyboard.press("Enter")
    (step,) = saved_steps(crane, CRANE)
    assert step["step"]["objects"] == ["jib", "weight"]
    agree_with_the_core([step])


@long
def test_look_only_lets_nothing_be_moved(crane):
    crane.keyboard.press("k")
    expect(crane.locator("[data-handle=X]")).to_have_count(0)
    crane.keyboard.type("1")
    crane.keyboard.press("Enter")
    expect(crane.get_by_text("Look only is on")).to_be_visible()
    expect(crane.get_by_text("No steps yet")).to_be_visible()


@long
def test_keys_during_a_drag_wait_and_the_view_turns_again_afterwards(crane):
    drag_handle(crane, "Y", (0, -40), let_go=False)
    for key in "rsfkn":
        crane.keyboard.press(key)
    crane.mouse.up()
    expect_steps(crane, "Move Jib")
    (step,) = saved_steps(crane, CRANE)
    assert step["step"]["op"] == "move" and step["step"]["objects"] == ["jib"]
    before = settled_place(crane, "X")
    crane.mouse.move(330, 120)  # nothing but sky
    crane.mouse.down()
    crane.mouse.move(430, 150)
    crane.mouse.up()
    assert settled_place(crane, "X") != before


@long
def test_the_bead_that_follows_the_view_can_be_taken_in_world(crane):
    drag_handle(crane, "view", (40, 0))
    (step,) = saved_steps(crane, CRANE)
    assert "view" in step["step"]["space"]
    agree_with_the_core([step])


@long
def test_keys_on_a_closed_list_are_the_benchs_alone(crane):
    chip = crane.get_by_role("combobox", name="Object")
    chip.focus()
    crane.keyboard.press("s")
    expect(crane.get_by_role("radio", name="Scale", exact=True)).to_be_checked()
    crane.keyboard.press("m")  # the list would find the Mast
    expect(crane.get_by_role("radio", name="Move", exact=True)).to_be_checked()
    expect(chip).to_contain_text("Jib")
    size = crane.get_by_role("combobox", name="Step size")
    was = size.inner_text()
    size.focus()
    crane.keyboard.type("15")
    expect(crane.get_by_label("Amount along X")).to_have_value("15")
    assert size.inner_text() == was
    crane.keyboard.press("Escape")
    expect(crane.get_by_label("Amount along X")).to_have_value("")
    expect(crane.get_by_role("button", name="Axis X", exact=True)).to_be_focused()
    crane.keyboard.press("ArrowRight")
    expect_steps(crane, "Move Jib by")


def test_an_earlier_step_is_looked_at_edited_switched_off_repeated_and_deleted(crane):
    for amount in ("1", "2"):
        crane.keyboard.type(amount)
        crane.keyboard.press("Enter")
        crane.keyboard.press("Escape")
    expect_steps(crane, "by 1 m along X", "by 2 m along X")
    crane.get_by_role("button", name=re.compile(r"^1 ?Move")).click()
    expect(crane.get_by_text("You are viewing an earlier step")).to_be_visible()
    crane.get_by_role("button", name="Go to the latest step").click()
    crane.get_by_role("button", name="Edit step 1").click()
    crane.get_by_label("by X", exact=True).fill("1.5")
    crane.keyboard.press("Enter")
    expect_steps(crane, "by 1.5 m along X", "by 2 m along X")
    crane.get_by_role("button", name="Repeat the step").click()
    expect_steps(crane, "by 1.5 m", "by 1.5 m", "by 2 m")
    crane.get_by_role("button", name="Edit step 2").click()
    crane.get_by_role("button", name="Switch step 2 off").click()
    expect_saved(crane)
    assert [s["on"] for s in saved_steps(crane, CRANE)] == [True, False, True]
    crane.get_by_role("button", name="Edit step 3").click()
    crane.get_by_role("button", name="Delete step 3").click()
    expect_steps(crane, "by 1.5 m", "by 1.5 m")
    for _ in range(3):
        crane.get_by_role("button", name="Undo").click()
    expect_steps(crane, "by 1.5 m along X", "by 2 m along X")
    assert [s["on"] for s in saved_steps(crane, CRANE)] == [True, True]


@long
def test_numbers_are_read_and_typed(crane):
    crane.get_by_role("tab", name="Numbers").click()
    field = crane.get_by_label("Angles (deg, XYZ), Z")
    expect(field).to_have_value("0")
    field.fill("25")
    field.press("Enter")
    expect_steps(crane, "Rotate Jib to X 0°, Y 0° and Z 25° of World")
    expect(crane.get_by_label("Angles (deg, XYZ), Z")).to_have_value("25")
    crane.get_by_label("Own size (m), X").fill("5")
    crane.get_by_label("Own size (m), X").press("Enter")
    expect_steps(crane, "Rotate", "Scale Jib to X 5 m")
    agree_with_the_core(saved_steps(crane, CRANE))


@long
def test_the_sentence_typed_as_text(crane):
    crane.keyboard.press("/")
    expect(crane.get_by_label("Step as text", exact=True)).to_be_focused()
    crane.get_by_label("Step as text", exact=True).fill("rotate mast by 40 about y of parent through its pivot")
    crane.keyboard.press("Enter")
    expect_steps(crane, "Rotate Mast by 40° about Y of Parent through its pivot")


@long
def test_nudges_by_key_and_button(crane):
    crane.keyboard.press("r")
    crane.keyboard.press("z")
    pick(crane, "Step size", "5°")
    crane.get_by_role("button", name="Nudge forward along Z").click()
    crane.evaluate("document.activeElement.blur()")
    crane.keyboard.press("ArrowLeft")
    steps = saved_steps(crane, CRANE)
    assert [(s["step"]["angle"], s["step"]["entry"]) for s in steps] == [(5, "nudged"), (-5, "nudged")]


def test_the_crane_is_slewed_by_keyboard_alone_and_passes(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/{CRANE}")
    expect_saved(page)
    for name, keys, amount in (("Mast", "rqy", "40"), ("Jib", "rlz", "25"), ("Hook", "mwy", "-1.2")):
        while name not in page.get_by_role("combobox", name="Object").inner_text():
            page.keyboard.press("n")
        for key in keys:
            page.keyboard.press(key)
        page.keyboard.type(amount)
        page.keyboard.press("Enter")
        page.keyboard.press("Escape")
        expect_saved(page)
    expect(page.get_by_role("heading", name="3 of 3 checks in place")).to_be_visible()


@long
def test_missing_objects_are_hidden_if_the_exercise_says_so(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/13")
    expect_saved(page)
    expect(page.get_by_text("In this exercise you see the gaps after you submit.")).to_be_visible()
    expect(page.get_by_text("checks in place")).to_have_count(0)
