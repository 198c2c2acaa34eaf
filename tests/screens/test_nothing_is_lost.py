"""Whatever happens to server, window or connection: no step that was made is lost, and none is overwritten."""

from playwright.sync_api import expect

from tests.screens.conftest import choose, expect_saved, expect_steps


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
    expect_steps(bench, "by 1 m", "On its way to the server")
    server.start()
    expect_saved(bench)
    expect_steps(bench, "by 1 m", "by 2 m")
    bench.reload()
    expect_steps(bench, "by 1 m", "by 2 m")


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
