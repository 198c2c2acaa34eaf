"""A term's start and what follows: a class copied, dates shifted, exceptions, weights, marks by hand, remarks, downloads."""

import csv
import re
from datetime import date, timedelta

import pytest
import vobject
from playwright.sync_api import expect

from tests.screens.conftest import select
from tests.tiers import long

HUT = 21  # the assignment of the hut, which has a check by hand


def open_hut(page, server):
    """The first submission of the hut, with its result."""
    page.goto(f"{server.address}/assignments/{HUT}")
    page.get_by_role("link", name="Open").first.click()
    expect(page.get_by_role("region", name="To judge by hand")).to_be_visible()


def test_a_terms_start_from_the_copy_to_the_downloaded_marks(sign_in, server, tmp_path):
    page = sign_in("odile", path="/classes/1/people")
    page.get_by_role("button", name="Class", exact=True).click()
    page.get_by_role("menuitem", name="Copy for a new term").click()
    page.get_by_label("Name of the new class").fill("Spring class")
    first_day = date.today() + timedelta(weeks=20)
    page.get_by_label("First day").fill(first_day.isoformat())
    expect(page.get_by_text(re.compile(r"All dates shift by \d+ weeks"))).to_be_visible()
    due = page.get_by_label("Crates for the morning boat is due")
    expect(due).to_have_value(re.compile(r"^20"))
    shifted = due.input_value()
    assert date.fromisoformat(shifted[:10]) >= first_day
    # A slip in the table names its assignment, and nothing is made.
    opens = page.get_by_label("Crates for the morning boat opens")
    opens.fill(f"{first_day + timedelta(weeks=30)}T09:00")
    page.get_by_role("button", name=re.compile("Create class with")).click()
    expect(page.get_by_role("alert")).to_contain_text("Crates for the morning boat: The due date is before")
    opens.fill(f"{first_day}T09:00")
    page.get_by_label("Copy Crate to crate").click()
    page.get_by_role("button", name=re.compile("Create class with")).click()
    expect(page.get_by_text("0 students in Spring class")).to_be_visible()
    page.get_by_role("link", name="Board").click()
    expect(page.get_by_text("Nobody is in this class yet")).to_be_visible()

    # One student is excused, from the cell of the board.
    page.goto(f"{server.address}/classes/1")
    cell = page.get_by_role("row", name=re.compile("^Pim Tasker")).get_by_role("gridcell").first
    cell.focus()
    page.keyboard.press("e")
    dialog = page.get_by_role("dialog", name="Exception for Pim Tasker")
    dialog.get_by_label("Excused").click()
    dialog.get_by_label("Reason").fill("Joined later")
    dialog.get_by_role("button", name="Save").click()
    expect(cell).to_have_text("excused*")

    # A mark by hand, by one key; then a remark on an object.
    open_hut(page, server)
    expect(page.get_by_text("and up to 3 points to come")).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_text("to come")).to_have_count(0)
    page.get_by_label("A remark for").fill("The roof is a little low.")
    select(page.get_by_label("What the remark is on"), "object: Roof")
    page.get_by_role("button", name="Save remark").click()
    page.get_by_role("button", name="On object: Roof").click()
    expect(page.get_by_label("The submission, with")).to_be_visible()

    page.goto(f"{server.address}/classes/1")
    page.get_by_role("button", name="Download marks").click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Table (CSV)").click()
    download.value.save_as(tmp_path / "marks.csv")
    head, *rows = csv.reader((tmp_path / "marks.csv").read_text(encoding="utf-8-sig").splitlines())
    pim = dict(zip(head, next(row for row in rows if row[0] == "Pim Tasker"), strict=True))
    assert pim["Crates for the morning boat – exception"] == "excused"
    assert "Joined later" not in pim.values()


def test_the_student_is_led_to_what_a_remark_is_on(sign_in, server, context):
    page = sign_in("odile")
    open_hut(page, server)
    path = page.url.removeprefix(server.address)
    page.get_by_role("slider", name="Submitted").focus()
    page.keyboard.press("Home")
    page.get_by_label("A remark for").fill("Start with the roof.")
    page.get_by_role("button", name="Save remark").click()
    expect(page.get_by_role("button", name="On the whole submission")).to_be_visible()
    who = page.evaluate("p => fetch('/api' + p.replace('result', 'submissions')).then(r => r.json())", path)
    people = page.evaluate("() => fetch('/api/classes/1').then(r => r.json())")["members"]
    sign = next(each["sign_in"] for each in people if each["person"] == who["person"])
    student = sign_in(sign, context.new_page(), path)
    expect(student.get_by_role("slider", name="Submitted")).not_to_have_attribute("aria-valuenow", "0")
    student.get_by_role("button", name="On the whole submission").click()
    expect(student.get_by_role("slider", name="Submitted")).to_have_attribute("aria-valuenow", "0")


def test_weights_change_the_total_of_the_board(sign_in):
    page = sign_in("odile", path="/classes/1")
    row = page.get_by_role("row", name=re.compile("Total: [1-9]")).first
    total = row.get_by_role("gridcell", name=re.compile("^Total"))
    page.get_by_role("button", name="Weights").click()
    dialog = page.get_by_role("dialog", name="Weights")
    fields = dialog.get_by_role("textbox")
    for field in fields.all()[1:]:
        field.fill("0")
    fields.first.fill("0")
    dialog.get_by_role("button", name="Save weights").click()
    expect(dialog.get_by_role("alert")).to_contain_text("add up to 0")
    fields.first.fill("2")
    dialog.get_by_role("button", name="Save weights").click()
    expect(dialog).to_have_count(0)
    score = row.get_by_role("gridcell").first.inner_text().split()[0]
    expect(total).to_have_text(score if "%" in score else "0%")


@long
def test_a_class_is_archived_and_reopened(sign_in, context):
    page = sign_in("odile", path="/classes/1/people")
    page.get_by_role("button", name="Class", exact=True).click()
    page.get_by_role("menuitem", name="Archive").click()
    page.get_by_role("dialog").get_by_role("button", name="Archive").click()
    expect(page.get_by_text(re.compile("Archived: .* students in"))).to_be_visible()
    student = sign_in("pim", context.new_page(), "/bench/1")
    expect(student.get_by_role("alert")).to_contain_text("is archived")
    page = sign_in("odile", page)
    page.get_by_text("Archived classes").click()
    page.get_by_role("link", name="Saltmere evening class").click()
    expect(page.get_by_text("Archived: nothing can be changed")).to_be_visible()
    page.get_by_role("link", name="People").click()
    page.get_by_role("button", name="Class", exact=True).click()
    page.get_by_role("menuitem", name="Reopen").click()
    expect(page.get_by_text("is open again")).to_be_visible()


def test_a_calendar_address_is_made_and_renewed(sign_in):
    page = sign_in("pim", path="/account")
    page.get_by_role("button", name="Create address").click()
    field = page.get_by_label("Calendar address")
    first = field.input_value()
    calendar = vobject.readOne(page.request.get(first).text())
    assert any("Crates for the morning boat" in event.summary.value for event in calendar.vevent_list)
    page.get_by_role("button", name="New address").click()
    expect(page.get_by_text("The old address no longer works")).to_be_visible()
    assert page.request.get(first).status == 404
    assert page.request.get(field.input_value()).ok


@pytest.mark.parametrize("key", ["4", "9"])
def test_a_key_for_more_points_than_there_are_does_nothing(sign_in, server, key):
    page = sign_in("odile")
    open_hut(page, server)
    page.keyboard.press(key)
    page.keyboard.press("0")
    expect(page.get_by_role("button", name=re.compile("^0 points for"))).to_have_attribute("aria-pressed", "true")


def test_a_check_by_hand_is_written_in_the_workshop(sign_in):
    page = sign_in("odile")
    plan = page.evaluate(
        """async () => {
          const who = await fetch('/api/session').then((r) => r.json());
          const made = await fetch('/api/plans', {
            method: 'POST',
            headers: { 'Content-Type': 'application/json', 'X-CSRF-Token': who.csrf_token },
            body: JSON.stringify({ from_version: 1 }),
          });
          return (await made.json()).plan;
        }"""
    )
    page.goto(f"{page.url}workshop/{plan}/checks")
    select(page.get_by_label("What to check"), "judged by hand")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_label("Question", exact=True).fill("Does it look right from the boat?")
    page.get_by_label("What to look for").fill("Nothing floats.")
    expect(page.get_by_role("button", name=re.compile("^Does it look right from the boat"))).to_be_visible()


def test_a_share_for_each_day_of_lateness_is_set_and_seen_by_students(sign_in, context):
    page = sign_in("odile", path="/assignments/1/settings")
    select(page.get_by_label("Late work"), "loses a share of its mark per day")
    page.get_by_label("Loss per started day").fill("20")
    page.get_by_label("Kept at least").fill("120")
    page.get_by_role("button", name="Save changes").click()
    expect(page.get_by_role("alert")).to_contain_text("cannot keep more than 100%")
    page.get_by_label("Kept at least").fill("40")
    page.get_by_role("button", name="Save changes").click()
    expect(page.get_by_text("✓ Saved")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Loss per started day")).to_have_value("20")
    student = sign_in("pim", context.new_page())
    row = student.get_by_role("row", name="Crates for the morning boat")
    expect(row).to_contain_text("late work loses 20% per day, keeps at least 40%")
