"""Work as a file: submitted from the bench, the sheet and the start page, looked over; and scenes removed."""

import json
import re

from playwright.sync_api import Page, expect

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.demo import load as demo
from cubedrill.formats.conversion import converted_scene, written
from cubedrill.formats.documents import read_exercise, submission_in
from cubedrill.formats.kinds import WRITERS
from tests.screens.conftest import expect_saved, select
from tests.tiers import long

SPAR, CRATES = 9, 1
EXERCISE = read_exercise(demo.HERE / "exercises" / "crates-morning-boat.json")
JUNO = demo.HERE / "submissions" / "spar-on-trestles" / "juno.json"


def crates(end, **conventions):
    scene = converted_scene(EXERCISE.target_scene(), Conventions(**conventions))
    return {"name": f"crates{end}", "mimeType": "", "buffer": WRITERS[end](scene)}


def drop(page: Page, target, name: str, content: bytes) -> None:
    """Drop a file on an element."""
    data = page.evaluate_handle(
        """([name, bytes]) => {
            const data = new DataTransfer()
            data.items.add(new File([new Uint8Array(bytes)], name))
            return data
        }""",
        [name, list(content)],
    )
    for event in ("dragover", "drop"):
        target.dispatch_event(event, {"dataTransfer": data})


@long
def test_a_scene_is_submitted_from_the_sheet_after_its_matches_are_corrected(sign_in):
    page = sign_in("pim", path=f"/sheet/{SPAR}")
    choose = page.get_by_label("Submit a file")
    choose.set_input_files({"name": "x.json", "mimeType": "application/json", "buffer": b"no json"})
    refused = page.get_by_role("dialog", name="This file cannot be submitted")
    expect(refused.get_by_role("alert")).to_contain_text("x.json")
    refused.get_by_role("button", name="Close").click()
    choose.set_input_files(JUNO)
    page.wait_for_url(re.compile(r"/file/9/\d+"))
    spar = page.get_by_role("region", name="Matching").get_by_role("listitem").filter(has_text="Spar").first
    select(spar.get_by_role("combobox"), "not in the file")
    expect(spar).to_contain_text("chosen by hand")
    select(spar.get_by_role("combobox"), "Spar")
    page.get_by_role("button", name="Submit", exact=True).click()
    expect(page.get_by_role("region", name="Why")).to_contain_text("The file has the wrong up axis")
    expect(page.get_by_role("region", name="Matching")).to_have_count(0)  # all are called as in the exercise
    with page.expect_download() as download:
        page.get_by_role("link", name="juno.json").click()
    assert json.loads(download.value.path().read_bytes()) == json.loads(JUNO.read_bytes())
    page.get_by_role("link", name="Continue on the bench").click()
    expect(page.get_by_label("Submit a file")).to_be_attached()


def test_a_file_dropped_on_the_bench_stands_as_it_was_made_and_an_object_is_picked_in_the_picture(sign_in):
    page = sign_in("pim", path=f"/bench/{CRATES}")
    expect_saved(page)
    drop(page, page.locator("body"), "crates.obj", crates(".obj", up="z", length="cm")["buffer"])
    page.wait_for_url("**/file/**")
    conventions = page.get_by_role("region", name="Axes and unit")
    expect(conventions.get_by_role("radio", name="Z up")).to_be_checked()
    expect(conventions.get_by_role("radio", name="cm")).to_be_checked()
    expect(page.get_by_text("Guessed from the exercise")).to_be_visible()
    conventions.get_by_role("radio", name="Y up").click()
    expect(conventions.get_by_role("radio", name="Y up")).to_be_checked()
    conventions.get_by_role("radio", name="Z up").click()
    page.reload()  # the file is the server's by now
    rows = page.get_by_role("region", name="Matching")
    rows.get_by_role("button", name="Herring crate").click()
    expect(rows.get_by_role("status")).to_have_text(re.compile("^Click Herring crate in the picture"))
    expect(page.locator(".pointer-events-none").get_by_text("Herring crate")).to_be_visible()  # it is drawn
    picture = page.get_by_role("img", name="What is in crates.obj").bounding_box()
    page.mouse.click(picture["x"] + picture["width"] * 0.35, picture["y"] + picture["height"] * 0.66)  # the quay
    expect(rows.get_by_label("Herring crate in the file")).to_have_text("Quay")
    expect(rows.get_by_label("Quay in the file")).to_have_text("Herring crate")
    select(rows.get_by_label("Herring crate in the file"), "Herring crate")
    page.get_by_role("button", name="Submit", exact=True).click()
    expect(page.get_by_text("12 of 12 points")).to_be_visible()


@long
def test_a_file_is_handed_in_from_the_start_page_chosen_or_dropped_on_a_row(sign_in, server):
    page = sign_in("theo")
    page.get_by_label("Submit a file for Crates for the morning boat").set_input_files(crates(".glb"))
    page.wait_for_url("**/file/1/**")
    expect(page.get_by_text("Y up, right-handed, m, as stated in the file.")).to_be_visible()
    page.goto(server.address)
    row = page.get_by_role("row", name="Crates for the morning boat")
    drop(page, row, "numbers.csv", written(EXERCISE.target_scene(), ".csv"))
    page.wait_for_url("**/file/1/**")
    expect(page.get_by_text("The file holds numbers")).to_be_visible()
    page.get_by_role("button", name="Submit", exact=True).click()
    expect(page.get_by_text("12 of 12 points")).to_be_visible()


@long
def test_a_file_submitted_without_the_server_is_reported(sign_in):
    page = sign_in("theo", path=f"/bench/{CRATES}")
    expect_saved(page)
    page.route("**/files?*", lambda route: route.abort())
    page.get_by_label("Submit a file").set_input_files(crates(".glb"))
    refused = page.get_by_role("dialog", name="This file cannot be submitted")
    expect(refused.get_by_role("alert")).to_contain_text("The server does not answer")


@long
def test_own_work_is_downloaded_in_chosen_conventions(crane):
    for kind in ("OpenUSD text (.usda)", "OBJ (.obj)"):
        end = f".{kind.rpartition('.')[2].rstrip(')')}"
        crane.get_by_role("button", name="Download").click()
        dialog = crane.get_by_role("dialog", name="Download")
        expect(dialog).to_contain_text("fixed by the format")
        dialog.get_by_role("combobox", name="Kind of file").click()
        crane.get_by_role("option", name=kind).click()
        dialog.get_by_role("radio", name="Z up").click()
        dialog.get_by_role("radio", name="cm").click()
        with crane.expect_download() as download:
            dialog.get_by_role("button", name="Download").click()
        assert download.value.suggested_filename == f"slewing-crane-work{end}"
        exercise = read_exercise(demo.HERE / "exercises" / "slewing-crane.json")
        content = download.value.path().read_bytes()
        scene = submission_in(content, f"work{end}", exercise, {"up": "z", "length": "cm"}).document.scene
        assert (scene.conventions.up, scene.conventions.length) == ("z", "cm")
        assert {item.name for item in scene.objects} >= {"Jib", "Hook"}
        expect(dialog).to_have_count(0)


@long
def test_a_scene_comes_into_the_workshop_and_leaves_it(sign_in):
    page = sign_in("odile", path="/workshop")
    page.get_by_label("Import a file").set_input_files(crates(".obj", up="z"))
    told = page.get_by_role("dialog", name="Import notes")
    expect(told).to_contain_text("Read as: up y, handedness right, length m")
    told.get_by_role("button", name="Open the plan").click()
    page.wait_for_url("**/stage")
    page.get_by_role("tab", name="Objects").click()
    expect(
        page.get_by_role("treeitem", name=re.compile("Herring crate")).or_(page.get_by_text("Herring crate")).first
    ).to_be_visible()
    page.get_by_role("button", name="Download").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Download").click()
    assert download.value.suggested_filename.endswith("-target.glb")
