"""Sheets: typed values saved as they are typed, submitted once, judged like anything else."""

import pytest

ROWS = [
    {"object": "tar", "space": "world", "translation": [-4, 0.45, 2]},
    {"object": "salt", "space": "world", "translation": [-2.5, 0.45, 2]},
    {"object": "water", "space": "world", "translation": [-1, 0.45, 2]},
]
BARRELS = 3


def save(caller, revision, rows, cells=None, **conventions):
    sheet = {"conventions": conventions, "rows": rows, "cells": cells or {}}
    return caller.call("PUT", f"/api/assignments/{BARRELS}/sheet", json={"revision": revision, "sheet": sheet})


def submit(caller, revision):
    return caller.call("POST", f"/api/assignments/{BARRELS}/sheet/submissions", json={"revision": revision})


def test_a_sheet_is_saved_handed_in_once_and_judged(sign_in):
    pim = sign_in("pim")
    assert pim.get(f"/api/assignments/{BARRELS}/sheet").json()["rows"] == []
    cells = {"tar": {"translation0": "-8/2"}}
    assert save(pim, 0, ROWS, cells).json() == {"revision": 1}
    kept = pim.get(f"/api/assignments/{BARRELS}/sheet").json()
    assert (kept["cells"], len(kept["rows"]), kept["revision"]) == (cells, 3, 1)
    first, second = submit(pim, 1).json(), submit(pim, 1).json()
    assert first == second
    result = pim.get(f"/api/submissions/{first['submission']}").json()
    assert (result["kind"], result["steps"], result["mark"]["passed"]) == ("sheet", [], True)
    assert result["placed"]["tar"]["world_from_local"][12:15] == [-4, 0.45, 2]


def test_a_sheet_in_another_unit_and_order_is_as_right(sign_in):
    pim = sign_in("pim")
    rows = [{**row, "translation": [1000 * value for value in row["translation"]]} for row in ROWS]
    save(pim, 0, rows, length="mm", euler="zyx", angle="rad")
    result = pim.get(f"/api/submissions/{submit(pim, 1).json()['submission']}").json()
    assert result["mark"]["passed"]


def test_a_wrong_sheet_gets_its_cause(sign_in):
    pim = sign_in("pim")
    save(pim, 0, [{**ROWS[0], "translation": [-4, 0.45, -2]}, *ROWS[1:]])
    result = pim.get(f"/api/submissions/{submit(pim, 1).json()['submission']}").json()
    assert [(cause["code"], cause["object"]) for cause in result["causes"]] == [("sign-flipped", "tar")]


def test_a_stale_sheet_is_refused_and_nothing_is_overwritten(sign_in):
    here, there = sign_in("pim"), sign_in("pim")
    assert save(here, 0, ROWS[:1]).status_code == 200
    answer = save(there, 0, ROWS)
    assert (answer.status_code, "another window" in answer.json()["detail"]) == (409, True)
    assert len(here.get(f"/api/assignments/{BARRELS}/sheet").json()["rows"]) == 1
    assert submit(there, 0).status_code == 409


@pytest.mark.parametrize(
    "rows",
    [
        [{"object": "no-such", "translation": [0, 0, 0]}],
        [{"object": "tar", "scale": [0, 1, 1]}],
        [ROWS[0], ROWS[0]],
        [{"object": "tar", "euler": [0, 0, 0], "rotation": [0, 0, 0, 1]}],
    ],
)
def test_rows_that_cannot_be_are_refused(sign_in, rows):
    pim = sign_in("pim")
    answer = save(pim, 0, rows)
    assert answer.status_code == 422
    assert answer.json()["detail"].endswith(".")
    assert pim.get(f"/api/assignments/{BARRELS}/sheet").json()["revision"] == 0


def test_an_empty_sheet_is_not_handed_in(sign_in):
    pim = sign_in("pim")
    save(pim, 0, [], {"tar": {"scale0": "1"}})
    answer = submit(pim, 1)
    assert (answer.status_code, "No row is complete" in answer.json()["detail"]) == (422, True)
