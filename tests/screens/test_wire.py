"""How much is sent before a page is there: packed, and each file once a release."""

from playwright.sync_api import expect

from tests.screens.conftest import expect_saved

MOST_BEFORE_3D_KB = 250
MOST_WITH_3D_KB = 600
# Of the page itself, its scripts and styles: the bytes as they come packed, and those that were sent just now.
SIZES = r"""
performance.getEntries()
  .filter((entry) => entry.entryType === "navigation" || /\.(js|css)$/.test(entry.name))
  .map((entry) => [entry.name, entry.encodedBodySize, entry.transferSize])
"""


def test_pages_are_small_on_the_wire_and_files_are_kept(context, server, sign_in):
    page = context.new_page()
    page.goto(f"{server.address}/sign-in")
    expect(page.get_by_label("Password")).to_be_visible()
    start = sum(packed for _name, packed, _sent in page.evaluate(SIZES)) / 1000
    assert 50 < start < MOST_BEFORE_3D_KB
    sign_in("pim", page, "/bench/1")
    expect_saved(page)
    entries = page.evaluate(SIZES)
    whole = sum(packed for _name, packed, _sent in entries) / 1000
    assert start < whole < MOST_WITH_3D_KB
    again = [name for name, _packed, sent in entries if sent and "/assets/index-" in name]
    assert again == []  # what the first page brought is not sent once more
