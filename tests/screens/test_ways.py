"""From every page to the next one: breadcrumbs, names that are links, tables that search and sort, the guide, drops."""

import re

from playwright.sync_api import Page, expect

from cubedrill.demo import load as demo
from tests.screens.conftest import expect_saved
from tests.screens.test_files import drop
from tests.tiers import long

CRATES = 1


def names(page: Page, table: str) -> list[str]:
    rows = page.get_by_role("table", name=table).locator("tbody tr")
    return [row.locator("td").nth(1).inner_text() for row in rows.all()]


def test_a_submission_leads_to_its_student_its_assignment_and_its_class(sign_in):
    page = sign_in("odile", path=f"/assignments/{CRATES}")
    page.get_by_role("main").locator("a[href^='/result/']").first.click()
    page.wait_for_url("**/result/*")
    result = page.url
    student = page.get_by_role("main").locator("a[href*='/students/']")
    name = student.inner_text()
    student.click()
    page.wait_for_url("**/classes/1/students/*")
    expect(page.get_by_role("heading", level=1)).to_have_text(name)
    page.goto(result)
    trail = page.get_by_role("navigation", name="Breadcrumbs")
    trail.get_by_role("link", name="Crates for the morning boat").click()
    page.wait_for_url(f"**/assignments/{CRATES}")
    trail.get_by_role("link").first.click()
    page.wait_for_url("**/classes/1")
    expect(page.get_by_role("grid")).to_be_visible()
    main = page.get_by_role("navigation", name="Main")
    expect(main.get_by_role("link", name="Classes")).to_have_attribute("aria-current", "true")
    main.get_by_role("link", name="Workshop").click()
    expect(main.get_by_role("link", name="Workshop")).to_have_attribute("aria-current", "true")
    expect(main.get_by_role("link", name="Classes")).not_to_have_attribute("aria-current", "true")


def test_members_are_found_sorted_and_several_get_passwords_or_leave_at_once(sign_in):
    page = sign_in("odile", path="/classes/1/people")
    expect(page.get_by_role("table", name="Members")).to_be_visible()
    everybody = names(page, "Members")
    assert everybody == sorted(everybody, key=str.casefold)
    assert len(everybody) > 4
    page.get_by_role("button", name="Name", exact=False).first.click()
    assert names(page, "Members") == everybody[::-1]
    page.get_by_label("Search members").fill("wren")
    expect(page.get_by_role("checkbox", name=re.compile("^Select Wren"))).to_be_visible()
    assert len(names(page, "Members")) == 1
    page.get_by_label("Search members").fill("")
    leaving = [name for name in everybody if name.split()[0] in ("Wren", "Theo")]
    for name in leaving:
        page.get_by_role("checkbox", name=f"Select {name}").click()
    expect(page.get_by_text("2 members selected")).to_be_visible()
    page.get_by_role("button", name="New one-time passwords").click()
    slips = page.get_by_role("listitem").filter(has_text=re.compile(r"([a-z2-9]{4}-){2}[a-z2-9]{4}"))
    expect(slips).to_have_count(2)
    page.get_by_role("button", name="Done").click()
    for name in leaving:
        page.get_by_role("checkbox", name=f"Select {name}").click()
    page.get_by_role("button", name="Remove from class…").first.click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("^Remove")).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("checkbox", name=f"Select {leaving[0]}")).to_have_count(0)
    assert sorted(names(page, "Members"), key=str.casefold) == [name for name in everybody if name not in leaving]


def test_the_guide_opens_at_the_page_for_the_screen_and_finds_words(sign_in):
    page = sign_in("pim", path=f"/bench/{CRATES}")
    expect_saved(page)
    with page.context.expect_page() as opened:
        page.get_by_role("link", name="Guide").click()
    guide = opened.value
    expect(guide.get_by_role("heading", level=1)).to_have_text("Working on the bench")
    picture = guide.get_by_role("article").get_by_role("img").first
    assert picture.evaluate("async img => { await img.decode(); return img.naturalWidth }") > 100
    guide.get_by_label("Search the guide").fill("one-time password")
    results = guide.get_by_role("list", name="Search results")
    expect(results.get_by_role("link").first).to_contain_text("Your first class")
    results.get_by_role("link").first.click()
    expect(guide.get_by_role("heading", level=1)).to_have_text("Your first class")
    guide.get_by_label("Search the guide").fill("no such word")
    expect(results).to_contain_text("Nothing found")


@long
def test_a_scene_that_is_dropped_on_the_library_becomes_a_plan(sign_in):
    page = sign_in("odile", path="/workshop")
    content = (demo.HERE / "submissions" / "stretched-buoy" / "ansel.stl").read_bytes()
    expect(page.get_by_role("button", name="New exercise")).to_be_visible()
    drop(page, page.locator("body"), "buoy.stl", content)
    page.get_by_role("dialog", name="Import notes").get_by_role("button", name="Open the plan").click()
    page.wait_for_url("**/workshop/*/stage")
    expect(page.get_by_role("navigation", name="Main").get_by_role("link", name="Workshop")).to_be_visible()


def test_labels_in_the_view_leave_room_for_one_another(crane):
    page = crane
    expect(page.locator("[data-label]").nth(3)).to_be_attached()
    covering = """() => {
        const shown = [...document.querySelectorAll('[data-label]')].filter(
            label => label.style.visibility !== 'hidden' && label.getBoundingClientRect().width > 0)
        const boxes = shown.map(label => [label, label.getBoundingClientRect()])
        return boxes.flatMap(([a, p], i) => boxes.slice(i + 1)
            .filter(([b, q]) => a.dataset.label === 'word' || b.dataset.label === 'word')
            .filter(([, q]) => p.left < q.right - 1 && q.left < p.right - 1 && p.top < q.bottom - 1 && q.top < p.bottom - 1)
            .map(([b]) => `${a.innerText} on ${b.innerText}`))
    }"""
    canvas = page.locator("canvas").bounding_box()
    for _ in range(4):  # from several sides
        page.mouse.move(canvas["x"] + 300, canvas["y"] + 60)
        page.mouse.down()
        page.mouse.move(canvas["x"] + 420, canvas["y"] + 90, steps=3)
        page.mouse.up()
        page.wait_for_timeout(300)
        assert page.evaluate(covering) == []
