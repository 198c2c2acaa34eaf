"""Every kind of step under More, by pointer and by keyboard alone: the ghost, the step kept, and the core's replay agree."""

import json
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from cubedrill.core.steps import OPS
from cubedrill.core.steps.replay import replay
from tests.core.build import steps_of
from tests.screens.conftest import CRANE, choose, expect_saved, expect_steps, pick, place_words, saved_steps, select
from tests.screens.test_bench import START
from tests.tiers import long

PLACE = "A place on an object, or numbers…"


def by_lists(page, chip, name, place):
    """Choose a place on an object for a point chip."""
    pick(page, chip, PLACE)
    select(page.get_by_role("dialog").get_by_label("Object"), name)
    select(page.get_by_role("dialog").get_by_label("Place on it"), place_words(place))
    page.get_by_role("button", name="Use this point").click()


def align(page):
    pick(page, "With", "Mast")
    page.get_by_role("radiogroup", name="Side along X").get_by_role("radio", name="+", exact=True).click()
    page.get_by_role("radiogroup", name="Side along Z").get_by_role("radio", name="mid", exact=True).click()


def drop(page):
    page.get_by_label("Clearance").fill("0.25")


def join(page):
    by_lists(page, "From point", "Jib", "+x")
    by_lists(page, "To point", "Mast", "+y")


def put(page):
    pick(page, "On", "Mast")
    pick(page, "At", "middle of face +Y")
    page.get_by_label("Offset").fill("0.1")


def aim(page):
    by_lists(page, "At point", "Mast", "+x-y+z")
    pick(page, "Turning", "only about Y")


def swing(page):
    for chip, name, place in (
        ("Line from", "Jib", "-x"), ("Line from, end", "Jib", "+x"), ("Line to", "Mast", "-x"), ("Line to, end", "Mast", "+z"),
    ):  # fmt: skip
        by_lists(page, chip, name, place)


def add(page):
    pick(page, "Solid", "a tube")
    page.get_by_label("Size bore").fill("0.25")
    page.get_by_label("Name").fill("Pipe")


def duplicate(page):
    page.get_by_label("Copies").fill("3")
    pick(page, "Each time", "rotate the copy by")
    page.get_by_label("Angle").fill("20")


def nest(page):
    pick(page, "In", "nothing")


def named(name):
    return lambda page: page.get_by_label("Name").fill(name)


def pivot(page):
    pick(page, "Pivot", "the origin")


def marker(page):
    by_lists(page, "To point", "Hook", "centre")


def paint(page):
    page.get_by_role("button", name="sea green").click()
    page.get_by_label("Opacity").fill("0.5")


KINDS = {
    "align": (align, "Align Jib with Mast: X max and Z centre of World"),
    "drop": (drop, "Drop Jib onto the ground, 0.25 m clear of it"),
    "join": (join, "Join Jib: face +X of Jib to face +Y of Mast"),
    "put": (put, "Put Jib on Mast at"),
    "aim": (aim, "Aim +Z of Jib at corner +X−Y+Z of Mast, only about Y of World"),
    "swing": (swing, "Swing Jib about Y of World through its pivot, from face −X of Jib → face +X of Jib to face −X of Mast → face +Z of Mast"),
    "add": (add, "Add Pipe (tube diameter 1 m, bore 0.25 m, height 1 m) at (0; 0.5; 0)"),
    "duplicate": (duplicate, "Duplicate Jib 3 times, each time: rotate the copy by 20° about Y of World through its pivot"),
    "remove": (lambda page: page.get_by_role("radio", name="stays").click(), "Remove Jib but lift what is in it"),
    "nest": (nest, "Nest Jib out of everything, keeping its place in the world"),
    "assemble": (named("Head"), "Assemble Jib as Head"),
    "pivot": (pivot, "Move the pivot of Jib to the origin"),
    "marker": (marker, "Move the marker to centre of Hook"),
    "rename": (named("Boom"), "Rename Jib to Boom"),
    "paint": (paint, "Paint Jib #2f6f5e, opacity 0.5"),
}  # fmt: skip


@long
def test_every_kind_is_tried():
    assert {*KINDS, "move", "rotate", "scale"} == set(OPS)


def ghost_of(page, answers, sentence):
    """The step of the answer that the screen shows: what is told of an answer may come after what is done with it."""
    for _ in range(100):
        shown = answers[-1].json()["step"]
        if shown and shown["sentence"].startswith(sentence):
            return shown
        page.wait_for_timeout(50)
    raise AssertionError(f"no answer says {sentence}")


@long
def test_every_kind_is_done_as_its_ghost_showed_and_as_the_core_replays_it(crane):
    ghosts = []
    crane.on("response", lambda answer: ghosts.append(answer) if answer.url.endswith("/preview") else None)
    for kind, (fill, sentence) in KINDS.items():
        crane.get_by_role("button", name="More", exact=True).click()
        crane.get_by_label("Find a kind of step").fill(kind)
        crane.keyboard.press("Enter")
        fill(crane)
        expect(crane.get_by_role("region", name="Step sentence").get_by_role("status").last).to_contain_text(
            f"Enter: {sentence}"
        )
        shown = ghost_of(crane, ghosts, sentence)
        crane.get_by_role("button", name="Apply").click()
        expect_steps(crane, sentence)
        (kept,) = saved_steps(crane, CRANE)
        assert shown["sentence"] == kept["sentence"]
        assert shown["changed"] == {
            i: {k: pytest.approx(v, abs=1e-9) for k, v in pose.items()} for i, pose in kept["changed"].items()
        }
        step = {key: value for key, value in kept["step"].items() if value is not None or key == "parent"}
        after = replay(START, steps_of(step))[-1].scene
        for object_id, pose in kept["changed"].items():
            assert pose["world_from_local"] == pytest.approx(
                after.world_from_local(object_id).ravel(order="F").tolist(), abs=1e-12
            )
        undone(crane)


def undone(page):
    """The step taken back, and the jib chosen as at first."""
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    expect_saved(page)
    page.keyboard.press("Escape")
    choose(page, "Jib")


KEYS = {
    "align": "A", "drop": "D", "join": "J", "put": "U", "aim": "I", "swing": "S", "add": "+", "duplicate": "C", "remove": "Delete",
    "nest": "E", "assemble": "B", "pivot": "V", "marker": "M", "rename": "R", "paint": "K",
}  # fmt: skip


def by_keys(page, chip, letters):
    """Open a list chip by Enter, find an option by its first letters, and take it by Enter, each once one sees it."""
    page.get_by_role("combobox", name=chip, exact=True).focus()
    page.keyboard.press("Enter")
    here = page.locator("[role=option]:focus")
    expect(here).to_be_visible()
    page.keyboard.type(letters)
    expect(here).to_have_text(re.compile(f"^{letters}"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("listbox")).to_have_count(0)


def dot_by_keys(page, chip, dot):
    by_keys(page, chip, "Pick a dot")
    page.get_by_role("button", name=dot, exact=True).focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("combobox", name=chip, exact=True)).to_be_focused()


def align_by_keys(page):
    sides = page.get_by_role("radiogroup", name="Side along Y")
    sides.get_by_role("radio", checked=True).focus()
    page.keyboard.press("ArrowRight")
    expect(sides.get_by_role("radio", name="−")).to_be_focused()
    page.keyboard.press("Space")


def join_by_keys(page):
    dot_by_keys(page, "From point", "face +X of Jib")
    dot_by_keys(page, "To point", "face +Y of Mast")


def typed(text):
    def fill(page):
        page.get_by_label("Name").focus()
        page.keyboard.type(text)

    return fill


def paint_by_keys(page):
    page.get_by_role("button", name="sea green").focus()
    page.keyboard.press("Space")


BY_KEYS = {
    "align": align_by_keys,
    "join": join_by_keys,
    "aim": lambda page: dot_by_keys(page, "At point", "corner +X+Y+Z of Mast"),
    "swing": lambda page: (dot_by_keys(page, "Line from, end", "face +X of Jib"), dot_by_keys(page, "Line to, end", "corner +X+Y+Z of Mast")),
    "assemble": typed("Head"),
    "marker": lambda page: dot_by_keys(page, "To point", "face +Y of Jib"),
    "rename": typed("Boom"),
    "paint": paint_by_keys,
}  # fmt: skip


@long
def test_every_kind_is_done_by_keyboard_alone(crane):
    """Its key, Tab to its chips, arrows, letters and Enter in them; then Enter applies it."""
    for kind, key in KEYS.items():
        crane.evaluate("document.activeElement.blur()")
        crane.keyboard.press(key if len(key) > 1 or key == "+" else f"Shift+{key}")
        if kind != "drop":  # its key alone does it
            operation = crane.get_by_role("radiogroup", name="Operation")
            expect(operation.get_by_role("radio", checked=True)).to_have_text(kind.capitalize())
            if kind in BY_KEYS:
                BY_KEYS[kind](crane)
            expect(crane.get_by_role("button", name="Apply")).to_be_enabled()
            crane.evaluate("document.activeElement.blur()")
            crane.keyboard.press("Enter")
        expect(crane.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(1)
        (kept,) = saved_steps(crane, CRANE)
        assert kept["step"]["op"] == kind
        undone(crane)
    assert set(KEYS) == set(KINDS)


def test_a_point_is_picked_by_its_dot_and_another_solid_shows_its_own(crane):
    crane.keyboard.press("Shift+J")
    pick(crane, "From point", "Pick a dot in the view")
    crane.get_by_role("button", name="corner +X+Y+Z of Jib", exact=True).click()
    pick(crane, "To point", "Pick a dot in the view")
    crane.evaluate("document.activeElement.blur()")
    dot = crane.get_by_role("button", name="face +Y of Mast", exact=True)
    for _ in range(8):
        if dot.is_visible():
            break
        crane.keyboard.press("n")
    dot.focus()
    crane.keyboard.press("Enter")
    expect(crane.get_by_role("combobox", name="To point", exact=True)).to_be_focused()
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Join Jib: corner +X+Y+Z of Jib to face +Y of Mast")


@long
def test_a_contact_follows_the_pointer_and_a_click_takes_it(crane):
    choose(crane, "Hook")
    crane.keyboard.press("Shift+U")
    crane.get_by_role("button", name="Pick the point on a surface in the view").click()
    canvas = crane.locator("canvas").bounding_box()
    middle = canvas["x"] + canvas["width"] / 2, canvas["y"] + canvas["height"] / 2
    for across in range(-160, 161, 20):
        crane.mouse.move(middle[0] + across, middle[1] + 40)
        if crane.get_by_role("combobox", name="At", exact=True).inner_text().startswith("the point"):
            break
    crane.mouse.down()
    crane.mouse.up()
    crane.get_by_role("button", name="Apply").click()
    (kept,) = saved_steps(crane, CRANE)
    on = kept["step"]["on"]
    box = START.require_local_box(on["object"])
    assert all(low - 1e-6 <= x <= high + 1e-6 for low, x, high in zip(box.least, on["point"], box.most, strict=True))
    assert sum(x * x for x in on["normal"]) == pytest.approx(1)
    expect(crane.get_by_role("combobox", name="Object", exact=True)).to_have_text("Hook")


@long
def test_a_new_object_is_selected_and_can_be_put_on_a_surface(crane):
    """Undone, it is chosen no more; done again, it is. Nothing that is not there can be moved."""
    chosen = crane.get_by_role("combobox", name="Object", exact=True)
    crane.keyboard.press("+")
    add(crane)
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Add Pipe")
    crane.evaluate("document.activeElement.blur()")
    crane.keyboard.press("Shift+U")
    expect(chosen).to_have_text("Pipe")
    pick(crane, "On", "Mast")
    pick(crane, "At", "middle of face +Y")
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Add Pipe", "Put Pipe on Mast at")
    for _ in range(2):
        crane.get_by_role("button", name="Undo").click()
    expect(chosen).to_have_text("Jib")
    crane.get_by_role("button", name="Redo").click()
    expect(chosen).to_have_text("Pipe")


@long
def test_the_key_of_drop_does_it_with_what_was_set_last(crane):
    crane.get_by_role("button", name="More", exact=True).click()
    crane.get_by_role("option", name="Drop").click()
    crane.get_by_label("Clearance").fill("0.25")
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Drop Jib onto the ground, 0.25 m clear of it")
    choose(crane, "Hook")
    crane.keyboard.press("Shift+D")
    expect_steps(crane, "Drop Jib", "Drop Hook onto the ground, 0.25 m clear of it")


@long
def test_a_step_of_the_list_is_edited_by_the_chips_that_made_it(crane):
    crane.keyboard.press("Shift+D")
    expect_steps(crane, "Drop Jib onto the ground")
    crane.get_by_role("button", name="Edit step 1").click()
    editor = crane.get_by_role("list", name="Steps done")
    editor.get_by_role("radio", name="what is below").click()
    editor.get_by_label("Clearance").fill("0.5")
    editor.get_by_role("button", name="Save change").click()
    expect_steps(crane, "Drop Jib onto what is below, 0.5 m clear of it")


@long
def test_the_list_is_taken_as_text_and_put_back(crane):
    crane.keyboard.press("Shift+D")
    expect_steps(crane, "Drop Jib onto the ground")
    crane.get_by_role("button", name="Steps as text").click()
    text = crane.get_by_role("textbox", name="Steps as text")
    expect(text).to_have_value("Drop Jib onto the ground\n")
    text.fill("Drop Jib onto the ground\n# then\nMove Jib by 1 m allong X\nNest Mast in Jib")
    dialog = crane.get_by_role("dialog")
    expect(dialog.get_by_role("status")).to_contain_text("Line 3, character 17: “allong X” cannot be read")
    expect(dialog.get_by_role("status")).to_contain_text("Line 4: mast would be its own ancestor")
    put_back = crane.get_by_role("button", name="Replace the list")
    expect(put_back).to_be_disabled()
    text.fill(
        "Drop Jib onto the ground\n# then\nMove Jib by 1 ft along X\nDuplicate Hook, each time: move the copy by 1 m along Z of Local"
    )
    put_back.click()
    expect_steps(crane, "Drop Jib onto the ground", "Move Jib by 0.3048 m along X", "Duplicate Hook, each time")
    assert saved_steps(crane, CRANE)[2]["step"]["ids"] == ["hook-2"]


@long
def test_a_measurement_follows_the_work_and_becomes_the_amount(crane):
    crane.get_by_role("tab", name="Measure").click()
    card = crane.get_by_role("tabpanel", name="Measure")
    select(crane.get_by_label("Of", exact=True), "Jib")
    select(crane.get_by_label("Of: place on it"), "pivot")
    select(crane.get_by_role("combobox", name="To", exact=True), "Quay")
    select(crane.get_by_label("To: place on it"), "face +Y")
    height = START.pivot_world("jib")[1] - START.require_box("quay", np.eye(4)).most[1]
    expect(card.get_by_text(f"{height:.4g} m").first).to_be_visible()
    crane.get_by_role("button", name="Pin distance").click()
    crane.evaluate("document.activeElement.blur()")
    choose(crane, "Jib")
    crane.keyboard.press("y")
    crane.keyboard.type("0.5")
    crane.keyboard.press("Enter")
    expect(card.get_by_label("Pinned").get_by_text(f"{height + 0.5:.4g} m")).to_be_visible()
    crane.get_by_role("button", name="Use distance as amount", exact=True).click()
    taken = float(crane.get_by_label("Amount along Y").input_value())
    assert taken == pytest.approx(height + 0.5, abs=1e-9)


@long
def test_the_chosen_solid_says_how_high_it_stands(crane):
    expect(crane.locator("[data-height]")).to_have_text(f"{START.require_box('jib', np.eye(4)).least[1]:.4g} m")
    choose(crane, "Hook")
    crane.keyboard.press("Shift+D")
    expect_saved(crane)
    expect(crane.locator("[data-height]")).to_have_text("on Quay")


def test_a_bracket_shows_an_attempt_and_can_be_discarded(crane):
    crane.get_by_role("button", name="More", exact=True).click()
    crane.get_by_role("option", name="Drop").click()
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Drop Jib")
    crane.get_by_role("button", name="Try without keeping").click()
    crane.get_by_role("button", name="Apply").click()
    expect_steps(crane, "Drop Jib", "(on trial)")
    expect_saved(crane)
    crane.get_by_role("button", name="Submit", exact=True).click()
    expect(crane.get_by_role("dialog")).to_contain_text("The last 1 step is on trial")
    crane.get_by_role("button", name="Cancel").click()
    crane.get_by_role("button", name="Discard").click()
    expect_steps(crane, "Drop Jib")
    assert len(saved_steps(crane, CRANE)) == 1
    crane.get_by_role("button", name="Try without keeping").click()
    crane.get_by_role("button", name="Apply").click()
    crane.get_by_role("button", name="Keep").click()
    expect(crane.get_by_text("(on trial)")).to_have_count(0)
    assert len(saved_steps(crane, CRANE)) == 2


@long
def test_enter_before_the_answer_is_not_lost_and_a_bad_line_says_where(crane):
    crane.route("**/say", lambda route: (crane.wait_for_timeout(400), route.continue_()))
    crane.keyboard.press("/")
    line = crane.get_by_label("Step as text", exact=True)
    line.fill("rotate mast by 40 about y of parent")
    crane.keyboard.press("Enter")
    expect_steps(crane, "Rotate Mast by 40° about Y of Parent through its pivot")
    line.fill("rotate mast by 40 about w")
    expect(crane.get_by_text("“w” cannot be read; expected X or Y or Z")).to_be_visible()


@long
def test_an_exercise_that_offers_few_kinds_shows_no_others(crane):
    def few(route):
        answer = route.fetch()
        body = answer.json()
        body["exercise"]["kinds"] = ["move", "drop"]
        route.fulfill(response=answer, body=json.dumps(body))

    crane.route("**/bench", few)
    crane.reload()
    expect_saved(crane)
    operation = crane.get_by_role("radiogroup", name="Operation")
    expect(operation.get_by_role("radio")).to_have_text(["Move"])
    crane.get_by_role("button", name="More", exact=True).click()
    expect(crane.get_by_role("option")).to_have_count(1)
