"""The exercises of the demo, done from start to finish by keyboard alone and by pointing, as its reference does it.

The numbers that the server keeps are those that the sentence said; in the end every check stands in place.
"""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Page, expect

import cubedrill.demo.load as demo
from cubedrill.core.steps.replay import replay
from cubedrill.formats.documents import read_exercise
from tests.screens.conftest import expect_saved, pick, place_words, saved_steps, select
from tests.tiers import long

PEOPLE = json.loads((demo.HERE / "people.json").read_text(encoding="utf-8"))
SET = [item["exercise"] for row in PEOPLE["classes"] for item in row["assignments"] if "newer" not in item]
EXERCISES = {path.stem: read_exercise(path) for path in sorted((demo.HERE / "exercises").glob("*.json"))}


def test_every_exercise_of_the_demo_is_set():
    assert sorted(SET) == sorted(EXERCISES)


def said(steps: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """What steps say, without what says nothing or says how it was typed."""
    silent = (None, False, [], "own", "world")
    return [
        {k: given(v) for k, v in step.items() if v not in silent and k != "entry" and not (k == "space" and even(step))}
        for step in steps
    ]


def given(value: Any) -> Any:
    """A value without what it leaves open."""
    return {k: v for k, v in value.items() if v is not None} if isinstance(value, dict) else value


def even(step: dict[str, Any]) -> bool:
    """Whether it scales alike along all axes, where no space says anything."""
    return step["op"] == "scale" and len(set(step.get("by") or ())) == 1


def reference(name: str) -> list[dict[str, Any]]:
    exercise = EXERCISES[name]
    assert exercise.reference is not None
    return [step.model_dump(mode="json", exclude_none=True) for step in exercise.reference.steps]


def at_the_bench(sign_in: Any, server: Any, name: str) -> tuple[Page, int]:
    assignment = SET.index(name) + 1
    page = sign_in("pim")
    page.goto(f"{server.address}/bench/{assignment}")
    expect_saved(page)
    return page, assignment


def all_in_place(page: Page, assignment: int, name: str) -> None:
    wanted = reference(name)
    expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(len(wanted))
    assert said([entry["step"] for entry in saved_steps(page, assignment)]) == said(wanted)
    if EXERCISES[name].rules.gaps == "shown":
        every = len(EXERCISES[name].checks)
        expect(page.get_by_role("heading", name=f"{every} of {every} check")).to_be_visible()


@long
@pytest.mark.parametrize("name", SET[::3])
def test_by_keyboard_alone(name, sign_in, server):
    page, assignment = at_the_bench(sign_in, server, name)
    exercise = EXERCISES[name]
    assert exercise.reference is not None
    for number, state in enumerate(replay(exercise.start_scene(), exercise.reference.steps)[1:], 1):
        page.keyboard.press("/")
        line = page.get_by_label("Step as text", exact=True)
        expect(line).to_be_focused()
        # The first letter by letter, as it completes; the others as they are pasted.
        (page.keyboard.type if number == 1 else page.keyboard.insert_text)(state.sentence)
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(number)
        expect_saved(page)
        page.keyboard.press("Escape")
        expect(line).to_have_count(0)
    all_in_place(page, assignment, name)


AXIS_OPS = ("move", "rotate", "scale")
# The other kinds are done by pointing in test_kinds.py.
POINTED = [name for name in SET if all(step["op"] in AXIS_OPS for step in reference(name))]


@long
@pytest.mark.parametrize("name", POINTED[::3])
def test_by_pointing(name, sign_in, server):
    page, assignment = at_the_bench(sign_in, server, name)
    names = {item.id: item.name for item in EXERCISES[name].start_scene().objects.values()}
    for number, step in enumerate(reference(name), 1):
        point_out(page, step, names)
        page.get_by_role("button", name="Apply").click()
        expect(page.get_by_role("list", name="Steps done").get_by_role("listitem")).to_have_count(number)
        expect_saved(page)
    all_in_place(page, assignment, name)


def point_out(page: Page, step: dict[str, Any], names: dict[str, str]) -> None:
    """Put the sentence together chip by chip."""
    sentence = page.get_by_label("Step sentence")
    page.get_by_role("tab", name="Objects").click()
    (object_id,) = step["objects"]
    page.get_by_label("Objects", exact=True).get_by_role("button", name=names[object_id], exact=True).click()
    sentence.get_by_role("radio", name=step["op"].capitalize(), exact=True).click()
    to = step.get("to")
    sentence.get_by_role("radio", name="To" if to else "By", exact=True).click()
    values = to or step.get("by") or [step["angle"] if axis == step["axis"] else 0 for axis in "xyz"]
    same = step["op"] == "scale" and not to and len(set(values)) == 1
    nothing = None if to else 1 if step["op"] == "scale" and not same else 0
    amounts = {i: value for i, value in enumerate(values) if value != nothing}
    if same:
        sentence.get_by_role("checkbox", name="uniform").click()
        page.get_by_role("button", name="Axis X", exact=True).click()
        amounts = {0: values[0]}
    elif not (step["op"] == "rotate" and to):
        switch_axes(page, list(amounts))
    for i, value in amounts.items():
        sentence.get_by_label(f"Amount along {'XYZ'[i]}").fill(str(value))
    point_out_space_and_pivot(page, step, names)


def switch_axes(page: Page, wanted: list[int]) -> None:
    """Those that are wanted on first, so that one always is; then the others off."""
    for on, axes in ((True, wanted), (False, [i for i in range(3) if i not in wanted])):
        for i in axes:
            button = page.get_by_role("button", name=f"Axis {'XYZ'[i]}", exact=True)
            if (button.get_attribute("aria-pressed") == "true") is not on:
                button.click()


def point_out_space_and_pivot(page: Page, step: dict[str, Any], names: dict[str, str]) -> None:
    space = step.get("space", "world")
    if isinstance(space, dict):
        pick(page, "Space", "The axes of another object…")
        select(page.get_by_role("dialog").get_by_label("Object"), names[space["object"]])
        page.get_by_role("button", name="Use these axes").click()
    elif "to" not in step or step["op"] != "scale":
        pick(page, "Space", space.capitalize())
    pivot = step.get("pivot")
    if isinstance(pivot, dict):
        pick(page, "Pivot", "A point on an object…")
        dialog = page.get_by_role("dialog")
        select(dialog.get_by_label("Object"), names[pivot["object"]])
        select(dialog.get_by_label("Place on it"), place_words(pivot["at"]))
        dialog.get_by_role("button", name="Use this point").click()
    elif step["op"] != "move" and not (step["op"] == "rotate" and "to" in step):
        pick(page, "Pivot", "its pivot")
