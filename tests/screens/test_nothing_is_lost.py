"""Whatever happens to server, window or connection: no step that was made is lost, and none is overwritten."""

from playwright.sync_api import expect

from tests.screens.conftest import choose, expect_saved, expect_steps
from tests.tiers import long


def move(page, amount):
    page.evaluate("document.activeElement.blur()")
    page.keyboard.type(amount)
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    page.evaluate("document.activeElement.blur()")


def test_the_server_is_killed_between_two_steps_and_the_student_goes_on(bench, server):
    choose(bench, "Apple crate")
    move(bench, "1")
    expect_saved(bench)
    server.kill()
    move(bench, "2")  # made while nothing answers
    expect(bench.locator("[data-saving='no connection']")).to_be_visible()
    expect_steps(bench, "by 1 m", "Saving…")
    server.start()
    expect_saved(bench)
    expect_steps(bench, "by 1 m", "by 2 m")
    bench.reload()
    expect_steps(bench, "by 1 m", "by 2 m")


@long
def test_a_reload_while_the_server_is_down_loses_nothing(bench, server):
    choose(bench, "Apple crate")
    move(bench, "1")
    expect_saved(bench)
    server.kill()
    move(bench, "2")
    expect(bench.locator("[data-saving='no connection']")).to_be_visible()
    bench.on("dialog", lambda dialog: dialog.accept())  # leaving with unsaved work asks
    bench.close(run_before_unload=True)
    server.start()
    page = bench.context.new_page()
    page.goto(f"{server.address}/bench/1")
    expect_saved(page)
    expect_steps(page, "by 1 m", "by 2 m")


def test_a_second_window_is_never_overwritten(bench, server):
    other = bench.context.new_page()
    other.goto(f"{server.address}/bench/1")
    expect_saved(other)
    for page, amount in ((bench, "1"), (other, "2")):
        choose(page, "Apple crate")
        move(page, amount)
    expect(other.get_by_role("dialog")).to_contain_text("also changed in another window")
    other.get_by_role("button", name="Both, this window's last").click()
    expect_saved(other)
    expect_steps(other, "by 1 m", "by 2 m")
    move(bench, "3")  # the first window in turn
    expect(bench.get_by_role("dialog")).to_be_visible()
    bench.get_by_role("button", name="This window's (2 steps)").click()
    expect_saved(bench)
    expect_steps(bench, "by 1 m", "by 3 m")


@long
def test_signed_out_elsewhere_the_work_stays_and_is_saved_after_signing_in(bench, sign_in, server):
    choose(bench, "Apple crate")
    other = bench.context.new_page()
    other.goto(server.address)
    other.get_by_role("button", name="Pim Tasker").click()
    other.get_by_role("menuitem", name="Sign out").click()
    expect(other).to_have_url(f"{server.address}/sign-in")
    move(bench, "1")
    expect(bench.locator("[data-saving='signed out']")).to_be_visible()
    sign_in("pim", other)
    expect_saved(bench)
    expect_steps(bench, "by 1 m")


def fill(page, object_name, *numbers):
    for letter, number in zip("XYZ", numbers, strict=True):
        page.get_by_label(f"Scale, {letter} of {object_name}").fill(number)


def sheet_of(context, server):
    page = context.new_page()
    page.goto(f"{server.address}/sheet/1")
    expect_saved(page)
    return page


@long
def test_a_sheet_typed_while_the_server_is_down_is_saved_when_it_is_back_and_leaving_asks(bench, server):
    page = sheet_of(bench.context, server)
    server.kill()
    fill(page, "Herring crate", "1", "2", "3")
    expect(page.locator("[data-saving='no connection']")).to_be_visible()
    page.get_by_role("link", name="Open the bench").click()
    expect(page.get_by_role("dialog")).to_contain_text("Not saved yet")
    page.get_by_role("button", name="Stay here").click()
    page.on("dialog", lambda dialog: dialog.accept())
    page.close(run_before_unload=True)  # the window is closed; what was typed lies in the browser
    server.start()
    again = sheet_of(bench.context, server)
    expect(again.get_by_label("Scale, Z of Herring crate")).to_have_value("3")
    expect_saved(again)
    again.reload()
    expect(again.get_by_label("Scale, Z of Herring crate")).to_have_value("3")


@long
def test_two_windows_with_one_sheet_keep_both_and_ask_where_they_differ(bench, server):
    first, second = sheet_of(bench.context, server), sheet_of(bench.context, server)
    fill(first, "Herring crate", "1", "1", "1")
    expect_saved(first)
    fill(second, "Apple crate", "2", "2", "2")
    expect_saved(second)
    expect(second.get_by_label("Scale, X of Herring crate")).to_have_value("1")
    first.get_by_label("Scale, X of Apple crate").fill("5")
    expect(first.get_by_role("dialog")).to_contain_text("1 field of Apple crate differ")
    first.get_by_role("button", name="This window’s").click()
    expect_saved(first)
    expect(first.get_by_label("Scale, X of Apple crate")).to_have_value("5")
    expect(first.get_by_label("Scale, Y of Apple crate")).to_have_value("2")


@long
def test_the_next_window_resumes_what_two_closed_offline_windows_held(bench, server):
    other = bench.context.new_page()
    other.goto(f"{server.address}/bench/1")
    expect_saved(other)
    server.kill()
    for page, amount in ((bench, "1"), (other, "2")):
        choose(page, "Apple crate")
        move(page, amount)
        expect(page.locator("[data-saving='no connection']")).to_be_visible()
    for page in (bench, other):
        page.on("dialog", lambda dialog: dialog.accept())
    context = bench.context
    for page in (bench, other):
        page.close(run_before_unload=True)
    server.start()
    page = context.new_page()
    page.goto(f"{server.address}/bench/1")
    expect(page.get_by_role("dialog")).to_contain_text("also changed in another window")
    page.get_by_role("button", name="Both, this window's last").click()
    expect_saved(page)
    steps = page.get_by_role("list", name="Steps done")
    for words in ("by 1 m", "by 2 m"):
        expect(steps).to_contain_text(words)


@long
def test_a_half_typed_remark_is_not_left_without_a_question(sign_in, server):
    page = sign_in("odile")
    page.goto(f"{server.address}/result/1")
    page.get_by_label("A remark for").fill("Look at the pallet again")
    page.get_by_role("link", name="All submissions").click()
    expect(page.get_by_role("dialog")).to_contain_text("Unsaved remark")
    page.get_by_role("button", name="Stay here").click()
    expect(page.get_by_label("A remark for")).to_have_value("Look at the pallet again")
