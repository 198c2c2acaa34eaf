"""Classes as their instructor and students use them: people added, a board that lives, what went wrong."""

import re

import pytest
from playwright.sync_api import Route, expect
from sqlalchemy import create_engine, text

from tests.screens.conftest import choose, expect_saved, select
from tests.tiers import long


@pytest.fixture
def database(server):
    """The database under the running server."""
    engine = create_engine(server.environment["CUBE_DRILL_DATABASE_URL"])
    yield engine
    engine.dispose()


def other_window(new_context, sign_in, name, path):
    """Somebody else at a browser of her own."""
    return sign_in(name, new_context().new_page(), path)


def move_a_crate(page):
    expect_saved(page)
    choose(page, "Herring crate")
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(1)
    expect_saved(page)


def test_from_a_new_class_to_a_students_first_sign_in(sign_in, new_context, server):
    page = sign_in("odile")
    page.get_by_role("button", name="New class").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Dry dock")
    select(page.get_by_label("Time zone"), "Europe/Lisbon")
    page.get_by_role("button", name="Create class").click()
    expect(page.get_by_text("0 students in Dry dock")).to_be_visible()
    page.get_by_role("button", name="Add people").click()
    page.get_by_label("Type one name").fill("Mira Quayle\nPim Tasker, pim\nTwo Words, two words\n")
    page.get_by_role("button", name="Preview").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("row", name="New Mira Quayle mira.quayle")).to_be_visible()
    expect(dialog.get_by_role("row", name="Joins Pim Tasker")).to_be_visible()
    expect(dialog.get_by_role("row", name="Skipped Two Words")).to_contain_text("not a valid username")
    dialog.get_by_role("button", name="Apply to 2 rows").click()
    slip = page.get_by_role("listitem").filter(has_text="Mira Quayle")
    password = re.search(r"([a-z2-9]{4}-){2}[a-z2-9]{4}", slip.inner_text())[0]
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_role("row", name="Mira Quayle")).to_contain_text("one-time password not used yet")
    expect(page.get_by_text("2 students in Dry dock")).to_be_visible()

    mira = new_context().new_page()
    mira.goto(f"{server.address}/sign-in")
    mira.get_by_label("Name").fill("mira.quayle")
    mira.get_by_label("Password").fill(password)
    mira.get_by_role("button", name="Sign in").click()
    expect(mira.get_by_role("heading", name="Welcome, Mira")).to_be_visible()
    mira.get_by_label("Current password").fill(password)
    mira.get_by_label("New password (10").fill("short")
    mira.get_by_label("New password again").fill("short")
    mira.get_by_role("button", name="Save password").click()
    expect(mira.get_by_role("alert")).to_contain_text("fewer than 10 characters")
    mira.get_by_label("New password (10").fill("a tide of my own")
    mira.get_by_label("New password again").fill("a tide of my own")
    mira.get_by_role("button", name="Save password").click()
    expect(mira.get_by_text("Nothing is assigned to you yet")).to_be_visible()
    mira.context.close()


@long
def test_a_student_joins_with_a_code(sign_in, new_context, server):
    page = sign_in("odile", path="/classes/1/people")
    page.get_by_role("button", name="Create join code").click()
    code = page.locator("strong", has_text=re.compile(r"^[A-Z2-9]{3}-[A-Z2-9]{4}$")).inner_text()
    other = new_context().new_page()
    other.goto(f"{server.address}/join")
    for label, words in (
        ("Code", code.lower()), ("Your name", "Zoë Larkspur"), ("Username", "zoe"),
        ("Password (10", "a tide of my own"),
    ):  # fmt: skip
        other.get_by_label(label).fill(words)
    other.get_by_role("button", name="Join class").click()
    expect(other.get_by_text("Hello, Zoë")).to_be_visible()
    expect(other.get_by_role("heading", name="Crates for the morning boat")).to_be_visible()  # what to do next
    other.context.close()
    page.reload()
    expect(page.get_by_role("row", name="Zoë Larkspur")).to_be_visible()
    page.get_by_role("button", name="End now").click()
    expect(page.get_by_role("button", name="End now")).to_have_count(0)


def test_a_board_lives_while_two_students_are_at_work(sign_in, new_context, database):
    with database.begin() as db:
        db.execute(text("update assignment set drafts_shown = true where id = 1"))
    page = sign_in("odile", path="/classes/1")
    expect(page.get_by_role("status")).to_contain_text("Live")
    cells = {name: page.get_by_role("row", name=name).get_by_role("gridcell").first for name in ("Pim", "Theo")}
    for name, cell in cells.items():
        expect(cell).to_have_accessible_name(re.compile("not started"))
        other = other_window(new_context, sign_in, name.lower(), "/bench/1")
        move_a_crate(other)
        expect(cell).to_contain_text("✎")
        expect(cell).to_have_accessible_name(re.compile("working now, . of 4 checks in place"))
        other.context.close()


@long
def test_a_board_goes_on_after_the_server_was_away(sign_in, server, new_context):
    page = sign_in("odile", path="/classes/1")
    expect(page.get_by_role("status")).to_contain_text("Live")
    server.kill()
    expect(page.get_by_text("No connection")).to_be_visible()
    server.start()
    expect(page.get_by_role("status")).to_contain_text("Live")
    with_pim = other_window(new_context, sign_in, "pim", "/bench/1")
    move_a_crate(with_pim)
    expect(page.get_by_role("row", name="Pim").get_by_role("gridcell").first).to_contain_text("✎")
    with_pim.context.close()


@long
def test_the_board_by_keyboard_alone(sign_in):
    page = sign_in("odile", path="/classes/1")
    first = page.locator("[data-at='0 0']")
    expect(first).to_be_visible()
    first.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-at='1 0']")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-at='1 1']")).to_be_focused()
    page.keyboard.press("Home")
    expect(page.locator("[data-at='1 -1']")).to_be_focused()
    page.keyboard.press("Control+End")
    last = page.get_by_role("row").last.get_by_role("gridcell").last
    expect(last).to_be_focused()
    assert page.locator("[role=grid] [tabindex='0']").count() == 1  # one stop for Tab, whatever its size
    page.keyboard.press("Control+Home")
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-at='-1 1']")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="Class mistakes")).to_be_visible()


@long
def test_class_mistakes_lead_to_a_plan_with_another_tolerance(sign_in, server):
    page = sign_in("odile", path="/assignments/1/mistakes")
    causes = page.get_by_role("region", name="Causes")
    causes.get_by_role("button").first.click()
    expect(causes.get_by_role("link").first).to_be_visible()
    told = page.get_by_text(re.compile(r"\d of 6 pass"))
    before = told.inner_text()
    page.get_by_role("slider").press("End")
    expect(told).not_to_have_text(before)
    expect(page.get_by_text("would also pass")).to_be_visible()
    page.get_by_text("As a table").click()
    expect(page.get_by_role("cell", name="Juno Castellane").first).to_be_visible()
    chosen = page.get_by_role("button", pressed=True).inner_text().split("\n")[0]
    words = page.get_by_role("slider").get_attribute("aria-valuetext").split()[0].rstrip(",")
    page.get_by_role("button", name="Use this tolerance in a new plan").click()
    expect(page).to_have_url(re.compile("/workshop/.*/checks"))
    plan = re.search(r"/workshop/(\d+)/", page.url)[1]
    checks = page.request.get(f"{server.address}/api/plans/{plan}").json()["card"]["checks"]
    wanted = page.request.get(f"{server.address}/api/assignments/1/insight").json()["checks"]
    number = next(i for i, check in enumerate(wanted) if check["label"] == chosen)
    tolerance = checks[number]["tolerance"]
    assert float(words) == pytest.approx(tolerance[0] if isinstance(tolerance, list) else tolerance)


@long
def test_changed_settings_reach_the_students(sign_in, new_context):
    page = sign_in("odile", path="/assignments/1/settings")
    page.get_by_label("Attempts").fill("2")
    select(page.get_by_label("When feedback is shown"), "after the due date")
    page.get_by_role("button", name="Save changes").click()
    expect(page.get_by_text("✓ Saved")).to_be_visible()
    wren = other_window(new_context, sign_in, "wren", "/")
    expect(wren.get_by_text("attempts allowed, when feedback is shown")).to_be_visible()
    row = wren.get_by_role("row", name="Crates for the morning boat")
    expect(row).to_contain_text("feedback when due")
    expect(row).to_contain_text("1 left")
    row.get_by_role("link", name="See result").click()
    expect(wren.get_by_text("Feedback appears on")).to_be_visible()
    expect(wren.get_by_text("points")).to_have_count(0)
    wren.context.close()


@long
def test_a_re_check_by_another_version_is_previewed_and_applied(sign_in, database):
    with database.begin() as db:
        db.execute(
            text(
                "insert into exercise_version (exercise, number, document) select exercise, 2, "
                "jsonb_set(document, '{pass_mark}', '1') || jsonb_build_object('checks', (select jsonb_agg("
                "case when c ? 'tolerance' then c || '{\"tolerance\": 0.000001}' else c end) "
                "from jsonb_array_elements(document->'checks') c)) from exercise_version where id = 1"
            )
        )
    page = sign_in("odile", path="/assignments/1/recheck")
    page.get_by_role("button", name="Re-check").click()
    take = page.get_by_role("button", name=re.compile("Apply . mark"))
    expect(take).to_be_visible()
    changed = page.get_by_role("table").get_by_role("row")
    count = changed.count() - 1
    assert count > 0
    page.get_by_role("checkbox").first.click()
    page.get_by_role("button", name=f"Apply {count - 1} mark").click() if count > 1 else take.click()
    expect(page.get_by_text("✓ applied").first).to_be_visible()


def test_from_one_submission_to_the_next_by_key(sign_in):
    page = sign_in("odile", path="/assignments/1")
    expect(page.get_by_text("not reviewed").first).to_be_visible()
    on_their_way: list[Route] = []  # slower than the lists that the pages ask for

    def hold(route: Route) -> None:
        on_their_way.append(route)

    page.route("**/reviewed", hold)
    page.get_by_role("link", name="Open").first.click()
    expect(page.get_by_role("button", name="Next (N)")).to_be_enabled()
    first, name = page.url, page.locator("label", has_text="A remark for").inner_text().strip()
    page.keyboard.press("n")
    expect(page).not_to_have_url(first)
    second = page.url
    expect(page.get_by_role("button", name="Previous (B)")).to_be_enabled()
    page.keyboard.press("b")
    expect(page).to_have_url(first)
    expect(page.get_by_label(name)).to_be_visible()
    for route in on_their_way:
        with page.expect_response("**/assignments/1/submissions"):
            route.continue_()
    page.unroute("**/reviewed")
    page.get_by_label("A remark for").fill("n")  # typed, and no command
    expect(page).to_have_url(first)
    page.get_by_label("A remark for").fill("Look from the side.")
    page.get_by_role("button", name="Save remark").click()
    expect(page.get_by_text("Look from the side.").first).to_be_visible()
    select(page.get_by_label("Show submissions"), "Not reviewed")
    page.get_by_role("button", name="Next (N)").click()
    expect(page).not_to_have_url(first)
    assert page.url != second
    page.get_by_text("Earlier remarks").click()
    page.get_by_role("button", name="Look from the side.").click()
    expect(page.get_by_label("A remark for")).to_have_value("Look from the side.")


@long
def test_a_password_is_changed_and_a_session_elsewhere_ended(sign_in, new_context):
    there = other_window(new_context, sign_in, "pim", "/")
    page = sign_in("pim", path="/account")
    page.get_by_role("table").get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("table").get_by_role("button", name="Sign out")).to_have_count(0)
    there.reload()
    expect(there.get_by_role("button", name="Sign in")).to_be_visible()
    there.context.close()
    page.get_by_label("Current password").fill("harbour-light")
    page.get_by_label("New password (10").fill("a tide of my own")
    page.get_by_label("New password again").fill("a tide of my own")
    page.get_by_role("button", name="Change password").click()
    expect(page.get_by_text("Password changed")).to_be_visible()


@long
def test_a_leaver_is_erased_after_typing_the_name(sign_in):
    page = sign_in("odile", path="/classes/1/people")
    page.get_by_role("button", name="Change Pim Tasker").click()
    page.get_by_role("menuitem", name="Remove from class…").click()
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.get_by_text("Pim Tasker was removed from the class.")).to_be_visible()
    page.get_by_text("1 former member").click()
    page.get_by_role("button", name="Erase name and work").click()
    gone = page.get_by_role("button", name="Erase permanently")
    expect(gone).to_be_disabled()
    page.get_by_label("Type the name Pim Tasker").fill("Pim Tasker")
    gone.click()
    expect(page.get_by_text("Name and work were erased.")).to_be_visible()
    expect(page.get_by_text("Pim Tasker")).to_have_count(0)


@long
def test_marks_are_downloaded_as_a_file(sign_in):
    page = sign_in("odile", path="/classes/1")
    page.get_by_role("button", name="Download marks").click()
    with page.expect_download() as found:
        page.get_by_role("menuitem", name="Workbook (XLSX)").click()
    assert found.value.suggested_filename == "saltmere-evening-class-marks.xlsx"
