"""Rows that releases have kept are read for ever; every field of what is kept stands in one of them.

`tests/fixtures/stored/` has a file a release that changed what is kept: never change one, add the next. This release's is
written by `python -m tests.store.test_shapes NAME` with what the rows so far do not have.
"""

from __future__ import annotations

import json
import re
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from pydantic import BaseModel

from cubedrill.core.authoring.plan import Card
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.submission import SheetSubmission
from cubedrill.demo.load import HERE
from cubedrill.formats.documents import read_exercise, read_submission
from cubedrill.store.documents import DRAFT, SHAPES, DocumentSchema, NewerShapeError, SheetDocument

ROOT = Path(__file__).resolve().parents[2]
FOLDER = ROOT / "tests" / "fixtures" / "stored"
ROWS = [
    (file.stem, number, row)
    for file in sorted(FOLDER.glob("*.json"))
    for number, row in enumerate(json.loads(file.read_text()))
]


def test_there_are_rows_of_every_kind():
    assert {row["kind"] for _file, _number, row in ROWS} == set(SHAPES)


@pytest.mark.parametrize("kept", ROWS, ids=[f"{file} {number} {row['kind']}" for file, number, row in ROWS])
def test_a_row_is_read_as_it_was_meant(kept):
    _file, _number, row = kept
    shape = SHAPES[row["kind"]]
    value = shape.read(row["document"], row["shape"])
    again = shape.read(shape.written(value), shape.number)
    assert again == value
    if row["shape"] == shape.number:  # nothing that was kept is lost or filled in
        lost = lacking(row["document"], shape.written(value))
        assert lost == [], lost


def lacking(kept: Any, written: Any, place: str = "") -> list[str]:
    """What stands in one document and not in the same place of another; the other may have more."""
    if isinstance(kept, dict) and isinstance(written, dict):
        return [
            lost
            for key, value in kept.items()
            for lost in (lacking(value, written[key], f"{place}.{key}") if key in written else [f"{place}.{key}"])
        ]
    if isinstance(kept, list) and isinstance(written, list) and len(kept) == len(written):
        return [
            lost for n, pair in enumerate(zip(kept, written, strict=True)) for lost in lacking(*pair, f"{place}[{n}]")
        ]
    return [] if kept == written else [place]


def fields_used(value: Any) -> Iterator[tuple[str, str]]:
    """Every field that was set, of every value inside a value, by the value's kind."""
    if isinstance(value, BaseModel):
        for name in value.model_fields_set:
            yield type(value).__name__, name
            yield from fields_used(getattr(value, name))
    elif isinstance(value, dict):
        for part in value.values():
            yield from fields_used(part)
    elif isinstance(value, list | tuple):
        for part in value:
            yield from fields_used(part)


def models_in(schema: Any) -> Iterator[tuple[str, str]]:
    """Every field of every model that a JSON schema names."""
    for name, model in schema.get("$defs", {}).items():
        for field in model.get("properties", {}):
            yield name, field


def all_fields() -> set[tuple[str, str]]:
    return {found for shape in SHAPES.values() for found in models_in(shape.schema())}


def kept_fields(rows: list[dict[str, Any]]) -> set[tuple[str, str]]:
    aliases = {("Swing", "start"): ("Swing", "from")}
    used = {found for row in rows for found in fields_used(SHAPES[row["kind"]].read(row["document"], row["shape"]))}
    return {aliases.get(found, found) for found in used}


def test_every_field_that_can_be_kept_stands_in_a_row():
    lacking = sorted(all_fields() - kept_fields([row for _file, _number, row in ROWS]))
    assert lacking == [], "write a new file of rows that have these: python -m tests.store.test_shapes NAME"


def test_an_upgrade_reads_what_was_kept_before_it_and_writes_the_newest():
    def renamed(document):
        return {**{key: value for key, value in document.items() if key != "in"}, "cells": document["in"]}

    def with_metres(document):
        return {"conventions": {"length": "m"}, **document}

    shape: DocumentSchema[SheetDocument] = DocumentSchema(SheetDocument, upgrades=(renamed, with_metres))
    first = shape.read({"in": {"a": {"scale0": "2"}}}, 1)
    assert (first.cells, first.conventions.length) == ({"a": {"scale0": "2"}}, "m")
    assert shape.read({"cells": first.cells}, 2) == first
    assert shape.number == 3
    assert shape.read(shape.written(first), 3) == first
    with pytest.raises(NewerShapeError):
        shape.read({}, 4)


# What writes a file of rows.


def made_rows() -> Iterator[tuple[str, Any]]:
    """Rows as this release writes them: from the demo, and from the pages on steps and checks for every kind."""
    for exercise, submissions in _demo():
        yield "exercise", exercise
        for submission in submissions:
            yield "submission", submission
            if isinstance(submission, SheetSubmission):
                cells = {row.object: {"translation0": "1"} for row in submission.rows}
                conventions = submission.conventions or exercise.conventions
                yield "sheet", SheetDocument(conventions=conventions, cells=cells, rows=submission.rows)
            start, target = exercise.start_scene(), exercise.target_scene()
            yield "report", judge_submission(exercise, start, target, submission)
    everything = _of_everything()
    yield "exercise", Exercise.model_validate(everything)
    shared = {name: everything[name] for name in Card.model_fields if name in everything}
    yield "card", Card.model_validate({**shared, "base": everything["start"], "notes": "To oneself."})
    steps = _steps()
    matches = {"gate": "gate-2", "post": None}
    yield "draft", DRAFT.read({"steps": steps, "cursor": len(steps), "off": [0], "matches": matches}, 1)
    scene = {
        "objects": [{"id": "a"}],
        "matches": {"o1": "a", "o2": None},
        "conventions": {"up": "z"},
        "notes": ["Left out."],
    }
    yield "submission", SHAPES["submission"].read({**_HEAD, "kind": "scene", "scene": scene}, 1)
    added = {"op": "add", "object": {"id": "a"}}
    by_hand = {**_HEAD, "kind": "steps", "steps": [added], "matches": {"o1": "a", "o2": None}}
    yield "submission", SHAPES["submission"].read(by_hand, 1)
    for row in (
        {"object": "a", "space": "parent", "matrix": [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]},
        {"object": "a", "translation": [1, 2, 3], "rotation": [0, 0, 0, 1], "scale": [1, 1, 2]},
        {"object": "a", "euler": [10, 20, 30]},
    ):
        sheet = {**_HEAD, "kind": "sheet", "rows": [row]}
        yield "submission", SHAPES["submission"].read({**sheet, "conventions": {"euler": "ZXZ", "up": "z"}}, 1)


_HEAD = {"format": "cube-drill/submission", "version": 1, "exercise": "e"}


def _demo() -> Iterator[tuple[Exercise, list[Any]]]:
    for file in sorted((HERE / "exercises").glob("*.json")):
        yield (
            read_exercise(file),
            [read_submission(f) for f in sorted((HERE / "submissions" / file.stem).glob("*.json"))],
        )


def _examples(page: str) -> list[Any]:
    text = (ROOT / "docs" / page).read_text()
    *examples, _last = re.findall(r"```json\n(.*?)```", text, re.DOTALL)
    return [json.loads(line) for block in examples for line in block.splitlines()]


def _steps() -> list[Any]:
    view = {"view": {"right": [1, 0, 0], "up": [0, 1, 0]}}
    line = {"line": [[0, 0, 0], {"object": "a", "at": "+x"}]}
    more = [
        {"op": "aim", "objects": ["a"], "axis": "+z", "space": view, "at": {"direction": [1, 0, 0]}, "about": "y"},
        {"op": "align", "objects": ["a"], "to": "b", "space": line, "x": "min", "y": "max", "z": "centre"},
        {"op": "swing", "objects": ["a"], "axis": [0, 1, 0], "space": "local", "pivot": "marker",
         "from": [[0, 0, 0], [1, 0, 0]], "to": [[0, 0, 0], [0, 0, 1]]},
        {"op": "marker", "objects": [], "to": "origin"},
        {"op": "put", "objects": ["a"], "on": {"point": [0, 0, 0], "normal": [0, 1, 0]}, "align": "+y", "offset": 0.1},
        {"op": "add", "objects": [], "object": {"id": "new"}},
    ]  # fmt: skip
    return [{**step, "entry": "typed"} for step in (*_examples("steps.md"), *more)]


def _of_everything() -> dict[str, Any]:
    solids = [
        {"kind": "mesh", "vertices": [[0, 0, 0], [1, 0, 0], [0, 1, 0]], "triangles": [[0, 1, 2]]},
        {"kind": "plate", "size": [1, 2]}, {"kind": "ring", "diameter": 2, "thickness": 0.5},
        {"kind": "tube", "diameter": 2, "bore": 1, "height": 3}, {"kind": "cone", "diameter": 2, "height": 3},
        {"kind": "pyramid", "size": [1, 2, 3]}, {"kind": "wedge", "size": [1, 2, 3]}, {"kind": "sphere", "diameter": 2},
        {"kind": "cylinder", "diameter": 2, "height": 3}, {"kind": "cuboid", "size": [1, 2, 3]},
    ]  # fmt: skip
    objects = [
        {
            "id": f"o{n}", "name": f"Object {n}", "solid": solid, "parent": f"o{n - 1}" if n else None, "locked": False,
            "translation": [1, 2, 3], "rotation": [0, 0, 0, 1], "scale": [1, 1, 1], "pivot": [0, 0, 1],
            "colour": "#102030", "opacity": 0.5,
        }
        for n, solid in enumerate(solids)
    ]  # fmt: skip
    whole = {"object": "o1", "tolerance": 0.5}
    checks = [
        *_examples("checks.md"),
        {"kind": "count", "solid": "cuboid", "tolerance": 1}, {"kind": "look", **whole},
        {"kind": "by-hand", "title": "Does it look right?", "look_for": "Nothing floats.", "object": "o1"},
        {"kind": "process", "rule": "uses", "op": "move", "pivot": "own", "declared": True},
        {"kind": "relation", "relation": "flush", "other": "o2", "side": "min", "space": "parent", **whole},
        {"kind": "relation", "relation": "row", "spacing": 2, "object": ["o1", "o2", "o3"], "tolerance": 0.1},
        {"kind": "rotation", "space": "parent", **whole}, {"kind": "size", "symmetry": "look", **whole},
    ]  # fmt: skip
    objects.append({"id": "last", "matrix": [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 0, 0, 1]})
    stage = {"objects": objects, "marker": [1, 2, 3], "plot": {"min": [-9, -9, -9], "max": [9, 9, 9]}}
    return {
        "format": "cube-drill/exercise", "version": 1, "id": "all", "title": "Everything", "brief": "All of it.",
        "conventions": {"up": "z", "handedness": "left", "length": "cm", "angle": "rad", "euler": "zyz"},
        "start": stage, "target": stage, "reference": {"steps": _steps()}, "pass_mark": 0.5,
        "rules": {
            "gaps": "hidden", "told": "hint", "kinds": ["move", "put"], "measure": "hidden", "outline": "hidden",
            "views": ["free", "front"],
        },
        "checks": [{"points": 2, "zero_at": 3, **check, "id": f"c{n}"} for n, check in enumerate(checks)],
    }  # fmt: skip


def write(name: str) -> None:
    """Write a file of rows with what no row so far has."""
    file = FOLDER / f"{name}.json"
    assert not file.exists(), "what a release has kept is never changed"
    rows = [row for _file, _number, row in ROWS]
    new: list[dict[str, Any]] = []
    for kind, value in made_rows():
        row = {"kind": kind, "shape": SHAPES[kind].number, "document": SHAPES[kind].written(value)}
        if kept_fields([row]) - kept_fields(rows + new) or kind not in {each["kind"] for each in rows + new}:
            new.append(row)
    FOLDER.mkdir(exist_ok=True)
    file.write_text(json.dumps(new, indent=1) + "\n")
    print(len(new), "rows; no row has", sorted(all_fields() - kept_fields(rows + new)))  # noqa: T201


if __name__ == "__main__":
    write(sys.argv[1])
