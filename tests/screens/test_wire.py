"""How much is sent before a page is there: packed, and each file once a release."""

from playwright.sync_api import expect

from tests.screens.conftest import expect_saved

MOST_BEFORE_3D_KB = 250
MOST_WITH_3D_KB = 600


def test_pages_are_small_on_the_wire_and_files_are_kept(sign_in, server):
    page = sign_in("pim")
    sizes = {}

    def note(answer):
        if answer.url.startswith(server.address) and answer.request.resource_type in (
            "script",
            "stylesheet",
            "document",
        ):
            sizes[answer.url] = answer.request.sizes()["responseBodySize"]

    page.context.clear_cookies()
    page.on("requestfinished", lambda request: note(request.response()))
    page.goto(f"{server.address}/sign-in")
    expect(page.get_by_label("Password")).to_be_visible()
    start = sum(sizes.values()) / 1000
    assert 50 < start < MOST_BEFORE_3D_KB
    sign_in("pim", page, "/bench/1")
    expect_saved(page)
    whole = sum(sizes.values()) / 1000
    assert start < whole < MOST_WITH_3D_KB
    scripts = {url for url in sizes if "/assets/" in url}
    sizes.clear()
    page.reload()
    expect_saved(page)
    assert all(size == 0 for url, size in sizes.items() if url in scripts)
