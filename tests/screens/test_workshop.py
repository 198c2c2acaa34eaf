"""An instructor makes an exercise: from an empty plan to a student's passed result, by mouse, and by keyboard alone."""

import re
from contextlib import contextmanager
from dataclasses import dataclass

import pytest
from playwright.sync_api import Locator, Page, Route, expect

from tests.screens.conftest import expect_saved, expect_steps, reach, select
from tests.screens.test_every_screen import inspect
from tests.tiers import long

MOST_INTERACTIONS = 40
TITLE = "Two crates onto a pallet"


@dataclass
class Hand:
    """Somebody at the mouse, who counts what she does: clicks, and fields that are typed in."""

    page: Page
    done: int = 0

    def click(self, target: Locator) -> None:
        target.click()
        self.done += 1

    def type(self, target: Locator, text: str, enter: bool = False) -> None:
        target.fill(text)
        if enter:
            target.press("Enter")
        self.done += 1

    def button(self, name: str) -> None:
        self.click(self.page.get_by_role("button", name=name, exact=True))

    def more(self, kind: str) -> None:
        """Take a kind of step from the menu, or where it stands beside it once it was used."""
        shown = self.page.get_by_role("radiogroup", name="Operation").get_by_role("radio", name=kind)
        if shown.count():
            self.click(shown)
        else:
            self.button("More")
            self.click(self.page.get_by_role("option", name=kind))

    def stage(self, name: str) -> None:
        self.click(self.page.get_by_role("link", name=name))


def size(page, letter):
    return page.get_by_label(f"Size {letter}", exact=True)


def steps_are(page, count):
    expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(count)
    expect_saved(page)


def solved(page, server, assignment):
    """The two moves of the reference, typed as sentences by a student, and submitted."""
    page.goto(f"{server.address}/bench/{assignment}")
    expect_saved(page)
    for count, name in enumerate(("Rope crate", "Lamp crate"), start=1):
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("/")
        amounts = {"Rope crate": "-2.5 m along X and 0.1 m along Y", "Lamp crate": "2.5 m along X and 0.1 m along Y"}
        page.get_by_label("Step as text", exact=True).fill(f"Move {name} by {amounts[name]}")
        page.keyboard.press("Enter")
        steps_are(page, count)
        page.keyboard.press("Escape")
    page.get_by_role("button", name="Submit", exact=True).click()
    page.get_by_role("button", name="Submit now").click()
    expect(page.get_by_text("✓ Passed")).to_be_visible()


def test_two_crates_onto_a_pallet_by_mouse_from_nothing_to_a_passed_result(sign_in, server, new_context):
    page = sign_in("odile")
    hand = Hand(page)
    hand.click(page.get_by_role("link", name="Workshop"))
    hand.button("New exercise")
    hand.type(page.get_by_label("Title", exact=True), TITLE)
    hand.type(page.get_by_label("Brief", exact=True), "Bring both crates onto the **pallet**.")
    hand.more("Add")
    for letter, length in (("X", "6"), ("Y", "0.2"), ("Z", "2")):
        hand.type(size(page, letter), length)
    hand.type(page.get_by_label("Name").last, "Pallet", enter=True)
    steps_are(page, 1)
    for letter in "XYZ":
        hand.type(size(page, letter), "1")
    for number, (name, away) in enumerate((("Rope crate", "4"), ("Lamp crate", "-4"))):
        if number:
            hand.more("Add")  # a metre each way, to begin with
        hand.type(page.get_by_label("Name").last, name, enter=True)
        steps_are(page, 3 * number + 2)
        hand.more("Move")
        hand.type(page.get_by_label("Amount along X"), away, enter=True)
        steps_are(page, 3 * number + 3)
        hand.more("Drop")
        hand.button("Apply ↵")
        steps_are(page, 3 * number + 4)
    hand.stage("Target")
    hand.click(page.get_by_role("tab", name="Objects"))
    objects = page.get_by_label("Objects", exact=True)
    for count, (name, back) in enumerate((("Rope crate", "-2.5"), ("Lamp crate", "2.5")), start=1):
        hand.click(objects.get_by_role("button", name=name))
        hand.type(page.get_by_label("Amount along X"), back)
        if count == 1:
            hand.click(page.get_by_role("button", name="Axis Y"))
        hand.type(page.get_by_label("Amount along Y"), "0.1", enter=True)
        steps_are(page, count)
    hand.stage("Checks")
    hand.button("Propose checks")
    hand.button("Add 2 checks")
    expect(page.get_by_text("typical mistakes are caught")).to_be_visible()
    expect(page.get_by_label("Tolerance of Pivot of Rope crate")).to_have_value("0.05")
    expect_saved(page)
    hand.stage("Publish")
    hand.button("Publish and assign")
    expect(page.get_by_text("Version 1 is published.")).to_be_visible()
    assert hand.done <= MOST_INTERACTIONS
    page.get_by_role("link", name="See submissions").click()
    assignment = int(page.url.rsplit("/", 1)[1])
    expect(page.get_by_role("heading", name=TITLE)).to_be_visible()
    solved(sign_in("pim", new_context().new_page()), server, assignment)


def typed(page, label, text, enter=False):
    reach(page, label)
    page.keyboard.press("Control+A")
    page.keyboard.type(text)
    if enter:
        page.keyboard.press("Enter")


def to_stage(page, name):
    reach(page, page.get_by_role("link", name=name))
    page.keyboard.press("Enter")


@long
def test_one_crate_onto_a_pallet_by_keyboard_alone(sign_in, new_context):
    page = sign_in("odile", path="/workshop")
    reach(page, page.get_by_role("button", name="New exercise"))
    page.keyboard.press("Enter")
    typed(page, page.get_by_label("Title", exact=True), "One crate onto a pallet")
    typed(page, page.get_by_label("Brief", exact=True), "Bring it onto the pallet.")
    page.keyboard.press("Escape")
    for number, (name, sizes) in enumerate((("Pallet", ("6", "0.2", "2")), ("Crate", ("1", "1", "1")))):
        page.evaluate("document.activeElement.blur()")  # as a press of Escape does on the bench
        page.keyboard.press("+")
        for letter, length in zip("XYZ", sizes, strict=True):
            typed(page, size(page, letter), length)
        typed(page, page.get_by_label("Name").last, name, enter=True)
        steps_are(page, number + 1)
    page.evaluate("document.activeElement.blur()")
    for key in ("m", "x"):
        page.keyboard.press(key)
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    steps_are(page, 3)
    to_stage(page, "Target")
    expect_steps(page)
    expect_saved(page)
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("n")
    page.keyboard.press("n")
    expect(page.get_by_role("combobox", name="Object", exact=True)).to_have_text("Crate")
    page.keyboard.press("x")
    page.keyboard.type("-2.5")
    page.keyboard.press("Enter")
    steps_are(page, 1)
    to_stage(page, "Checks")
    reach(page, page.get_by_role("button", name="Propose checks"))
    page.keyboard.press("Enter")
    reach(page, page.get_by_role("button", name="Add 1 check"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("typical mistakes are caught")).to_be_visible()
    slider = page.get_by_role("slider", name="Tolerance")
    reach(page, slider)
    before = float(page.get_by_label("Tolerance of Pivot of Crate").input_value())
    page.keyboard.press("ArrowRight")
    expect(page.get_by_label("Tolerance of Pivot of Crate")).not_to_have_value(str(before))
    expect_saved(page)
    to_stage(page, "Publish")
    reach(page, page.get_by_role("button", name="Publish and assign"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("Version 1 is published.")).to_be_visible()
    solved_by_keyboard(sign_in("pim", new_context().new_page()))


def solved_by_keyboard(student):
    row = student.get_by_role("row", name="One crate onto a pallet")
    reach(student, row.get_by_role("link", name="Start"))
    student.keyboard.press("Enter")
    expect_steps(student)
    expect_saved(student)
    for key in ("n", "n", "x"):
        student.keyboard.press(key)
    student.keyboard.type("-2.5")
    student.keyboard.press("Enter")
    steps_are(student, 1)
    student.keyboard.press("Control+Enter")
    reach(student, student.get_by_role("button", name="Submit now"))
    student.keyboard.press("Enter")
    expect(student.get_by_text("✓ Passed")).to_be_visible()


def open_davit(page):
    page.goto(page.url.rstrip("/") + "/workshop")
    page.get_by_role("link", name="Swing out the davit").click()
    expect_saved(page)
    return page


READY = {
    "Stage": expect_saved,
    "Target": lambda page: steps_are(page, 2),
    "Checks": lambda page: expect(page.get_by_text("typical mistakes")).to_be_visible(),
    "Trial run": lambda page: expect(page.get_by_role("button", name="See result")).to_be_visible(),
    "Publish": lambda page: expect(page.get_by_role("button", name="Publish and assign")).to_be_visible(),
}


@long
def test_axe_finds_nothing_in_the_library_and_at_each_stage(sign_in):
    page = sign_in("odile", path="/workshop")
    expect(page.get_by_role("button", name="New exercise")).to_be_visible()
    inspect(page)
    page.get_by_role("link", name="Swing out the davit").click()
    bar = page.get_by_role("navigation", name="Stages")
    expect(bar).to_have_text("Stage ≈ 1 Target ✓ Checks ✓ Trial run Publish ≈ 1", use_inner_text=True)
    for stage, ready in READY.items():
        page.get_by_role("link", name=stage, exact=True).click()
        ready(page)
        inspect(page)


@long
def test_the_server_is_killed_while_a_plan_is_edited_and_nothing_acknowledged_is_lost(sign_in, server):
    page = open_davit(sign_in("odile"))
    page.get_by_label("Title", exact=True).fill("Swing the davit out")
    expect(page.get_by_role("heading", name="Swing the davit out")).to_be_visible()  # it is saved
    server.kill()
    page.get_by_label("Notes (never published)").fill("Typed while nothing answers.")
    expect(page.locator("[data-saving='no connection']")).to_be_visible()
    page.get_by_role("link", name="Cube Drill").click()
    expect(page.get_by_role("dialog")).to_contain_text("Not saved yet")
    page.get_by_role("button", name="Stay here").click()
    page.get_by_role("link", name="Checks", exact=True).click()  # a stage of the same plan: it is saved from there
    expect(page.get_by_role("dialog")).to_have_count(0)
    server.start()
    expect_saved(page)
    page.get_by_role("link", name="Stage", exact=True).click()
    page.reload()
    expect(page.get_by_label("Title", exact=True)).to_have_value("Swing the davit out")
    expect(page.get_by_label("Notes (never published)")).to_have_value("Typed while nothing answers.")


@long
def test_two_windows_on_one_plan_meet_in_peace_or_are_asked(sign_in):
    page = open_davit(sign_in("odile"))
    other = page.context.new_page()
    other.goto(page.url)
    expect_saved(other)
    page.get_by_label("Title", exact=True).fill("From the first window")
    expect(page.get_by_role("heading", name="From the first window")).to_be_visible()
    other.get_by_label("Notes (never published)").fill("From the second.")
    expect_saved(other)
    expect(other.get_by_label("Title", exact=True)).to_have_value("From the first window")
    page.get_by_label("Brief", exact=True).fill("The first one's brief.")
    expect_saved(page)
    other.get_by_label("Brief", exact=True).fill("The second one's brief.")
    dialog = other.get_by_role("dialog")
    expect(dialog).to_contain_text("Both changed the brief")
    dialog.get_by_role("button", name="This window’s").click()
    expect_saved(other)
    page.reload()
    expect(page.get_by_label("Brief", exact=True)).to_have_value("The second one's brief.")


def test_a_trial_is_judged_as_a_students_work_and_leads_back(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name="Trial run").click()
    expect(page.get_by_role("button", name="See result")).to_be_visible()
    expect_saved(page)
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("/")
    page.get_by_label("Step as text", exact=True).fill("Rotate Davit by -90° about Y of Local")
    page.keyboard.press("Enter")
    steps_are(page, 1)
    page.get_by_role("button", name="See result").click()
    expect(page.get_by_text("✕ Not passed")).to_be_visible()
    expect(page.get_by_role("region", name="Why")).to_contain_text("the wrong way")
    page.get_by_role("button", name="Back to the trial run").click()
    expect_steps(page, "Rotate Davit by −90°")


@long
def test_conventions_change_with_the_picture_kept(sign_in):
    page = open_davit(sign_in("odile"))
    select(page.get_by_label("Lengths in"), "cm")
    with page.expect_response("**/api/plans/*/stage"):  # the bench is laid out anew
        page.get_by_role("button", name="Keep the picture").click()
    expect(page.get_by_label("Lengths in")).to_have_text("cm")
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Davit").click()
    page.get_by_role("tab", name="Numbers").click()
    expect(page.get_by_label("Pivot (cm), X")).to_have_value("400")


@long
def test_every_property_of_an_object_is_a_field(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Dinghy").click()
    locked = page.get_by_label("Locked: students cannot move it")
    locked.click()
    expect(locked).to_be_checked()
    expect_saved(page)
    locked.click()
    expect(locked).not_to_be_checked()
    expect_saved(page)
    page.get_by_label("Name").first.fill("Skiff")
    page.get_by_label("Name").first.press("Enter")
    expect_steps(page, "Rename Dinghy to Skiff")
    page.get_by_label("Colour", exact=True).fill("#336699")
    expect_steps(page, "Rename Dinghy", "Paint Skiff")
    select(page.get_by_label("Child of"), "nothing")
    expect_steps(page, "Rename Dinghy", "Paint Skiff", "Nest Skiff out of everything")
    expect_saved(page)


@long
def test_undo_goes_on_over_what_was_given_otherwise_meanwhile(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Dinghy").click()
    page.get_by_label("Colour", exact=True).fill("#336699")
    expect_steps(page, "Paint Dinghy")
    page.get_by_role("button", name="Edit step 1").click()
    page.get_by_role("button", name="Delete step 1").click()
    expect_steps(page)
    expect_saved(page)
    with page.expect_response("**/api/plans/*/stage"):  # the scene, anew
        page.get_by_label("Locked: students cannot move it").click()
    expect_saved(page)
    page.get_by_role("button", name="Undo").click()
    expect_steps(page, "Paint Dinghy")
    expect_saved(page)
    expect(page.get_by_label("Locked: students cannot move it")).to_be_checked()


@long
def test_from_stage_to_stage_one_is_asked_where_steps_are_not_saved(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Dinghy").click()
    page.route("**/stage/draft", lambda route: route.abort())
    page.get_by_label("Colour", exact=True).fill("#336699")
    page.get_by_role("link", name="Checks", exact=True).click()
    expect(page.get_by_role("dialog")).to_contain_text("Not saved yet")
    page.get_by_role("button", name="Stay here").click()
    page.unroute("**/stage/draft")
    expect_saved(page)
    page.get_by_role("link", name="Checks", exact=True).click()
    expect(page.get_by_text("typical mistakes")).to_be_visible()


@long
@pytest.mark.parametrize("stage", ["Stage", "Target"])
def test_sizes_are_typed_one_after_the_other_while_each_is_saved(sign_in, stage):
    """Saving one neither takes the next field away nor brings back what was typed just before."""
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name=stage, exact=True).click()
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Dinghy").click()
    x, y, z = (page.get_by_label(f"Own size, {letter}") for letter in "XYZ")
    with page.expect_response(lambda answer: answer.url.endswith(("/stage", "/reference"))) as laid_out:
        x.fill("1.9")
        x.press("Tab")
        y.press_sequentially("0.7")
    laid_out.value.finished()
    expect_saved(page)
    expect(y).to_be_focused()
    expect(y).to_have_value("0.7")
    y.press("Tab")
    z.press_sequentially("-2")
    z.press("Enter")
    expect(page.get_by_text("Not applied: it must be more than 0.")).to_be_visible()
    z.fill("0.6")
    z.press("Enter")
    expect_saved(page)
    page.reload()
    page.get_by_role("tab", name="Objects").click()
    page.get_by_label("Objects", exact=True).get_by_role("button", name="Dinghy").click()
    for field, value in zip((x, y, z), ("1.9", "0.7", "0.6"), strict=True):
        expect(field).to_have_value(value)


@long
def test_a_copy_says_whose_size_it_has(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name="Target", exact=True).click()
    steps_are(page, 2)
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("/")
    page.get_by_label("Step as text", exact=True).fill("Duplicate Dinghy")
    page.keyboard.press("Enter")
    steps_are(page, 3)
    expect(page.get_by_text("its size comes from that step")).to_be_visible()  # it is chosen
    expect(page.get_by_label("Own size, X")).to_be_hidden()


def test_a_halo_is_dragged_by_its_edge_and_the_tolerance_follows(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name="Checks", exact=True).click()
    field = page.get_by_label("Tolerance of Pivot of Dinghy")
    expect(field).to_have_value("0.05")
    edge = page.locator("[data-edge=X]")
    expect(edge).to_contain_text("± 0.05 m")
    page.wait_for_timeout(500)  # the view comes to rest
    box = edge.bounding_box()
    place = box["x"] - 12, box["y"] + box["height"] / 2
    page.mouse.move(*place)
    page.mouse.down()
    for share in (0.3, 1):
        page.mouse.move(place[0] + 60 * share, place[1] + 12 * share)
    page.mouse.up()
    expect(field).not_to_have_value("0.05")
    expect_saved(page)  # all of the drag has come to the field
    wide = float(field.input_value())
    assert wide > 0.05
    expect(edge).to_contain_text(f"± {wide:g} m")
    expect_saved(page)
    page.get_by_role("button", name="Undo").click()
    expect(field).to_have_value("0.05")  # the whole drag is taken back at once


@long
def test_every_kind_rule_and_relation_of_the_table_is_one_that_the_core_takes(sign_in):
    """Whatever is chosen comes with what it cannot do without, so that no choice is answered with a refusal."""
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name="Checks", exact=True).click()
    expect(page.get_by_text("typical mistakes are caught")).to_be_visible()
    answers = []
    page.on("response", lambda answer: answers.append(answer.status) if answer.url.endswith("/checks") else None)

    @contextmanager
    def asked():
        with page.expect_response(lambda answer: answer.url.endswith("/checks")):
            yield
        expect(page.get_by_text("Working it out…")).to_have_count(0)

    def options(field):
        field.click()
        texts = page.get_by_role("option").all_inner_texts()
        page.keyboard.press("Escape")
        return texts

    kind = page.get_by_label("What to check")
    for each in options(kind):
        select(kind, each)
        with asked():
            page.get_by_role("button", name="Add", exact=True).click()
        further = {"relation to another object": ["Relation"], "method": ["Rule"]}.get(each, [])
        for field in further:
            for option in reversed(options(page.get_by_label(field, exact=True))):
                with asked():
                    select(page.get_by_label(field, exact=True), option)
    assert set(answers) == {200}


@long
def test_a_mistake_can_be_viewed_and_tried_as_a_student(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name="Checks", exact=True).click()
    expect(page.get_by_text("typical mistakes are caught")).to_be_visible()
    page.get_by_role("button", name=re.compile("is sunk by half its height")).first.press("Enter")
    expect(page.get_by_text("Caught by dinghy")).to_be_visible()
    beside = page.get_by_role("region", name="The mistake beside the reference")
    for way in ("Mistake", "Reference"):  # both are played, each to its own end
        slider = beside.get_by_role("slider", name=f"{way}: step")
        last = slider.get_attribute("aria-valuemax")
        expect(slider).to_have_attribute("aria-valuenow", last)
        expect(slider).to_have_attribute("aria-valuetext", re.compile(rf"^{last}\. "))
    said = [beside.get_by_role("slider", name=f"{way}: step") for way in ("Mistake", "Reference")]
    assert len({slider.get_attribute("aria-valuetext") for slider in said}) == 2
    page.get_by_role("button", name="Close").click()
    expect(beside).to_have_count(0)
    page.get_by_role("button", name=re.compile("is sunk by half its height")).first.press("Enter")
    page.get_by_role("button", name="Try as a student").click()
    expect_saved(page)
    page.get_by_role("button", name="See result").click()
    expect(page.get_by_text("✕ Not passed")).to_be_visible()
    expect(page.get_by_role("region", name="Why")).to_be_visible()


@long
def test_students_have_the_views_that_are_ticked_and_no_outline_where_it_is_hidden(sign_in):
    page = open_davit(sign_in("odile"))
    select(page.get_by_label("The target outline is"), "hidden until submitted")
    for side in ("Free", "Side"):
        page.get_by_role("checkbox", name=side, exact=True).click()
    expect_saved(page)
    with page.expect_response(re.compile(r"/plans/\d+/trial$")) as answer:
        page.get_by_role("link", name="Trial run").click()
    assert answer.value.json()["exercise"]["target"] == {}
    expect(page.get_by_text("Front, parallel")).to_be_visible()
    expect(page.get_by_role("region", name="Elevations").get_by_role("button")).to_have_count(1)
    page.get_by_role("button", name="Top show in the main view").click()
    expect(page.get_by_text("Top, parallel")).to_be_visible()
    expect(page.get_by_role("button", name="Front show in the main view")).to_be_visible()


@long
def test_a_target_is_frozen_and_follows_again(sign_in):
    page = open_davit(sign_in("odile"))
    page.get_by_role("link", name="Target", exact=True).click()
    steps_are(page, 2)
    keep = page.get_by_label("Freeze this target")
    keep.click()
    expect(page.get_by_text("The target is frozen.")).to_be_visible()
    keep.click()
    expect(page.get_by_text("The target is frozen.")).to_have_count(0)
    expect_saved(page)


@long
def test_a_file_is_taken_away_and_brought_in_again(sign_in, tmp_path):
    page = sign_in("odile", path="/workshop")
    row = page.get_by_role("row", name="Lower the gangway")
    with page.expect_download() as download:
        row.get_by_role("button", name="Actions for Lower the gangway").click()
        page.get_by_role("menuitem", name="Download").click()
    file = tmp_path / download.value.suggested_filename
    download.value.save_as(file)
    assert file.name == "gangway-1.json"
    page.get_by_label("Import a file").set_input_files(file)
    expect(page.get_by_label("Title", exact=True)).to_have_value("Lower the gangway")
    wrong = tmp_path / "notes.json"
    wrong.write_text("not JSON")
    page.goto(page.url.split("/workshop")[0] + "/workshop")
    page.get_by_label("Import a file").set_input_files(wrong)
    expect(page.get_by_role("alert")).to_contain_text("notes.json is not readable JSON")


@long
def test_the_library_is_searched_and_every_exercise_has_its_drawing(sign_in):
    page = sign_in("odile", path="/workshop")
    rows = page.get_by_role("table", name="Published").get_by_role("row")
    expect(rows).to_have_count(22)
    drawn = """Promise.all([...document.images].map(image => {
        image.loading = 'eager'
        return image.decode().then(() => image.naturalWidth)
    }))"""
    assert min(page.evaluate(drawn)) > 0
    for width in (640, 1024, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("(m => m.scrollWidth - m.clientWidth)(document.querySelector('main'))") <= 0, width
    page.get_by_label("Search titles and skills").fill("another pivot")
    expect(rows).not_to_have_count(22)
    expect(page.get_by_role("row", name="Lower the gangway")).to_be_visible()
    page.get_by_label("Search titles and skills").fill("nothing is called so")
    expect(rows).to_have_count(1)


def rack_of_a_new_exercise(page):
    page.get_by_role("button", name="New exercise").click()
    page.get_by_role("tab", name="Rack").click()
    return page.get_by_role("tabpanel", name="Rack")


def test_a_click_on_the_rack_adds_the_solid_at_once_and_undo_removes_it(sign_in):
    page = sign_in("odile", path="/workshop")
    rack = rack_of_a_new_exercise(page)
    rack.get_by_role("button", name="plate").click()
    rack.get_by_role("button", name="cuboid").click()  # nothing is lost if the next one comes quickly
    expect_steps(page, "Add Plate (plate 1 by 1 m) at (0; 0; 0)", "Add Cuboid (cuboid 1 by 1 by 1 m)")
    expect(page.get_by_label("Own size, X")).to_be_focused()
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    expect_steps(page, "Add Plate (plate 1 by 1 m) at (0; 0; 0)", "Add Cuboid (cuboid 2 by 1 by 1 m)")
    page.get_by_role("button", name="Undo").click()  # the size
    page.get_by_role("button", name="Undo").click()  # the cuboid
    page.get_by_role("tab", name="Objects").click()
    there = page.get_by_label("Objects", exact=True)
    expect(there.get_by_role("button", name="Cuboid", exact=True)).to_have_count(0)
    expect(there.get_by_role("button", name="Plate", exact=True)).to_have_count(1)


@long
def test_the_rack_has_every_solid_and_a_click_selects_its_first_size(sign_in):
    page = sign_in("odile", path="/workshop")
    rack = rack_of_a_new_exercise(page)
    kinds = ("cuboid", "wedge", "pyramid", "sphere", "cylinder", "cone", "tube", "ring", "plate")
    expect(rack.get_by_role("button")).to_have_text(list(kinds))
    for count, kind in enumerate(kinds, 1):
        rack.get_by_role("button", name=kind).click()
        steps_are(page, count)
        expect(page.get_by_text(re.compile(rf"^{kind}: "))).to_be_visible()
        size = page.locator("input:focus")
        expect(size).to_have_attribute("aria-label", re.compile("^Own size"))
        page.keyboard.type("3")  # replaces the selected size
        page.keyboard.press("Enter")
    expect_saved(page)


@long
def test_solids_from_the_rack_stand_beside_one_another(sign_in):
    page = sign_in("odile", path="/workshop")
    rack = rack_of_a_new_exercise(page)
    for count, kind in enumerate(("plate", "cuboid", "cuboid"), 1):
        rack.get_by_role("button", name=kind).click()
        steps_are(page, count)
    # On the ground where the marker is, and then beside what stands there.
    expect_steps(
        page, "Add Plate (plate 1 by 1 m) at (0; 0; 0)", "Add Cuboid (cuboid 1 by 1 by 1 m) at (0; 0.5; 0)",
        "Add Cuboid 2 (cuboid 1 by 1 by 1 m) at (1.25; 0.5; 0)",
    )  # fmt: skip


def test_a_viewer_sees_a_whole_plan_and_changes_nothing(sign_in):
    """The demo has one instructor; the server's own refusals are tests of the API."""
    page = sign_in("odile")

    def view_only(route: Route) -> None:
        answer = route.fetch()
        route.fulfill(response=answer, json={**answer.json(), "owner": "Corin Ashdown", "may_edit": False})

    page.route(re.compile(r"/api/plans/\d+$"), view_only)
    page.get_by_role("link", name="Workshop").click()
    page.get_by_role("link", name="Swing out the davit").click()
    expect(page.get_by_text("Corin Ashdown shared this plan with you for viewing")).to_be_visible()
    expect(page.get_by_label("Title", exact=True)).to_be_disabled()
    expect(page.get_by_text("You can only view this plan.")).to_be_visible()
    page.get_by_role("link", name="Target").click()
    steps_are(page, 2)
    page.keyboard.press("Control+z")
    page.wait_for_timeout(500)  # an undo is shown at once
    expect(page.get_by_role("button", name="Redo")).to_be_disabled()
    page.get_by_role("link", name="Checks").click()
    for control in ("Propose checks", "Add"):
        expect(page.get_by_role("button", name=control, exact=True)).to_be_disabled()
    page.get_by_role("list", name="Checks").get_by_role("button", expanded=False).first.click()  # details can be read
    expect(page.get_by_label("Measured")).to_be_disabled()
    page.get_by_role("link", name="Publish").click()
    expect(page.get_by_text("You can publish it.")).to_be_visible()
    expect(page.get_by_role("button", name="Publish and assign")).to_have_count(0)
