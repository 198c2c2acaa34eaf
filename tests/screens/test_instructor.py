"""The instructor's path: the class's submissions with marks, and one opened."""

from playwright.sync_api import expect


def test_the_instructor_sees_the_class_and_opens_a_submission(sign_in):
    page = sign_in("odile")
    row = page.get_by_role("row", name="Crates for the morning boat")
    expect(row).to_contain_text("6 of 8")
    row.get_by_role("link", name="See submissions").click()
    expect(page.get_by_text("6 of 8 students submitted, 4 passed")).to_be_visible()
    expect(page.get_by_role("row", name="Juno Castellane")).to_contain_text("75%")
    expect(page.get_by_role("row", name="Theo Lanternwick")).to_contain_text("Not started")
    page.get_by_role("row", name="Juno Castellane").get_by_role("link", name="Open").click()
    expect(page.get_by_text("9 of 12 points")).to_be_visible()
    lamp_oil = page.locator("tbody", has_text="Centre of Lamp-oil crate")
    expect(lamp_oil).to_contain_text("−0.250")  # the centre was put where the base belongs
    lamp_oil.hover()
    expect(page.locator("canvas")).to_be_visible()
    page.get_by_role("link", name="All submissions").click()
    expect(page.get_by_text("6 of 8 students submitted")).to_be_visible()


def test_the_instructor_sees_what_the_student_submitted(bench, sign_in, new_context, server):
    bench.keyboard.press("n")
    bench.keyboard.type("1")
    bench.keyboard.press("Enter")
    expect(bench.locator("[data-saving=saved]")).to_be_visible()
    bench.get_by_role("button", name="Submit", exact=True).click()
    bench.get_by_role("button", name="Submit now").click()
    expect(bench.get_by_text("0 of 12 points")).to_be_visible()
    page = sign_in("odile", new_context().new_page())
    page.goto(f"{server.address}/assignments/1")
    expect(page.get_by_role("row", name="Pim Tasker")).to_contain_text("0%")
    expect(page.get_by_role("row", name="Juno Castellane")).to_contain_text("with its centre where its base should be")


def test_a_student_on_a_class_page_is_sent_to_the_start_page(sign_in, server):
    page = sign_in("pim")
    page.goto(f"{server.address}/assignments/1")
    expect(page.get_by_role("alert")).to_contain_text("This page is for instructors of the class")
    expect(page.get_by_role("link", name="Submissions")).to_have_count(0)  # it would lead here
    page.get_by_role("link", name="Start page").click()
    expect(page.get_by_text("Hello, Pim")).to_be_visible()


def test_sign_in_continues_to_the_requested_page(context, server):
    page = context.new_page()
    page.goto(f"{server.address}/bench/2")
    expect(page).to_have_url(f"{server.address}/sign-in")
    page.get_by_label("Name").fill("pim")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("Wrong username or password")
    page.get_by_label("Password").fill("harbour-light")
    page.get_by_role("button", name="Sign in").click()
    expect(page).to_have_url(f"{server.address}/bench/2")
    page.get_by_role("button", name="Pim Tasker").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page).to_have_url(f"{server.address}/sign-in")
