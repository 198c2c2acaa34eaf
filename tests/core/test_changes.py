"""What changed between two versions, in words: each part of an exercise, changed alone, is told and nothing else."""

import pytest

from cubedrill.core.authoring.changes import changed
from cubedrill.core.judging.exercise import Exercise
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise

BEFORE = read_exercise(HERE / "exercises" / "slewing-crane.json")
DOCUMENT = BEFORE.model_dump(mode="json", exclude_unset=True)


def with_(change):
    document = BEFORE.model_dump(mode="json", exclude_unset=True)
    change(document)
    return Exercise.model_validate(document)


def put(*place_and_value):
    *place, last, value = place_and_value

    def change(document):
        for key in place:
            document = document[key] if isinstance(document, list) else document.setdefault(key, {})
        document[last] = value

    return change


FIRST = DOCUMENT["start"]["objects"][1]
NAME = FIRST.get("name", FIRST["id"])
CHECK = DOCUMENT["checks"][0]["id"]
CHANGES = {
    "title": (put("title", "Another crane"), "The title was Slew the crane and is Another crane."),
    "brief": (put("brief", "Slew it."), "The brief was rewritten."),
    "angle": (put("conventions", "angle", "rad"), "The conventions: angle was deg and is rad."),
    "pass mark": (put("pass_mark", 0.9), "The pass mark was"),
    "colour": (put("start", "objects", 1, "colour", "#123456"), f"{NAME} has a different colour."),
    "marker": (put("start", "marker", [1, 2, 3]), "The marker changed."),
    "plot": (put("start", "plot", {"min": [-50, -50, -50], "max": [50, 50, 50]}), "The plot changed."),
    "step": (put("reference", "steps", 0, "angle", 41), "Step 1 of the reference is now: Rotate Mast by 41°"),
    "fewer steps": (put("reference", "steps", DOCUMENT["reference"]["steps"][:1]), "The reference had 3 steps and has 1"),
    "tolerance": (put("checks", 0, "tolerance", 0.07), f"The check {CHECK}: tolerance was"),
    "fewer checks": (put("checks", DOCUMENT["checks"][1:]), f"The check {CHECK} is gone."),
    "kinds": (put("rules", "kinds", ["rotate", "move"]), "The rule kinds was all and is rotate and move."),
    "told": (put("rules", "told", "check"), "The rule told was cause and is check."),
}  # fmt: skip


def test_nothing_changed_is_nothing_said():
    assert changed(BEFORE, with_(lambda _: None)) == ()


@pytest.mark.parametrize("what", CHANGES)
def test_only_changed_settings_are_listed(what):
    change, said = CHANGES[what]
    sentences = changed(BEFORE, with_(change))
    assert len(sentences) == 1
    assert sentences[0].startswith(said)


def test_added_and_removed_objects_are_named():
    crate = {"id": "crate", "name": "Tea crate", "solid": {"kind": "cuboid", "size": [1, 1, 1]}}
    more = with_(lambda document: document["start"]["objects"].append(crate))
    assert changed(BEFORE, more) == ("Tea crate was added.",)
    assert changed(more, BEFORE) == ("Tea crate is gone.",)
