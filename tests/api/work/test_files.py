"""Work submitted as a file, and scenes removed as one."""

import json
from urllib.parse import unquote

import numpy as np
import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.demo.load import HERE
from cubedrill.formats.conversion import WRITTEN, converted_scene, written
from cubedrill.formats.documents import read_exercise, submission_in
from cubedrill.formats.kinds import WRITERS
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Assignment, Person, UploadedFile
from tests.api.conftest import CRATES, RIGHT
from tests.tiers import some

BARRELS = 3
EXERCISE = read_exercise(HERE / "exercises" / "barrels-along-the-quay.json")
TARGET = EXERCISE.target_scene()


def send(caller, content, name="mine.json", assignment=BARRELS):
    content = content if isinstance(content, bytes) else json.dumps(content).encode()
    return caller.call("POST", f"/api/assignments/{assignment}/files", params={"name": name}, content=content)


def submit(caller, file, assignment=BARRELS, **choices):
    return caller.call("POST", f"/api/assignments/{assignment}/files/{file}/submissions", json=choices)


def handed(caller, content, name="mine.json", **choices):
    sent = send(caller, content, name)
    assert sent.status_code == 201, sent.text
    answer = submit(caller, sent.json()["file"], **choices)
    assert answer.status_code == 201, answer.text
    return answer.json()["submission"]


@pytest.mark.parametrize("end", some(WRITTEN, 4))
def test_the_right_work_passes_as_every_kind_and_is_had_again_as_it_came(end, sign_in):
    pim, content = sign_in("pim"), written(TARGET, end)
    shown = send(pim, content, f"mein Kai ö{end}").json()
    assert ("asked" in shown and bool(shown["asked"])) is (end in (".obj", ".stl", ".ply"))
    assert {i: place["world_from_local"] for i, place in shown["placed"].items()}
    submission = submit(pim, shown["file"]).json()["submission"]
    result = pim.get(f"/api/submissions/{submission}").json()
    assert [check["text"] for check in result["report"]["checks"] if check["verdict"] != "pass"] == []
    assert result["file"] == f"mein Kai ö{end}"
    again = pim.get(f"/api/submissions/{submission}/file")
    assert again.content == content
    assert unquote(again.headers["content-disposition"]) == f"attachment; filename*=UTF-8''mein Kai ö{end}"
    assert again.headers["x-content-type-options"] == "nosniff"


def test_steps_as_text_and_a_sheet_are_handed_in_as_files_too(sign_in):
    theo = sign_in("theo")
    text = b"# my work\nMove Tar barrel by 1 m along X of World\n"
    shown = send(theo, text, "steps.txt").json()
    assert (shown["kind"], shown["matches"], shown["asked"]) == ("steps", [], [])
    place = EXERCISE.start_scene().pivot_world("tar") + [1, 0, 0]
    assert shown["placed"]["tar"]["pivot_world"] == pytest.approx(place.tolist())
    result = theo.get(f"/api/submissions/{submit(theo, shown['file']).json()['submission']}").json()
    assert [step["sentence"][:4] for step in result["steps"]] == ["Move"]
    sheet = b"object;x [cm];y;z\nTar barrel;-400;45;200\n"
    shown = send(theo, sheet, "sheet.csv").json()
    assert (shown["kind"], shown["conventions"]["length"], shown["asked"]) == ("sheet", "cm", ["up", "handedness"])
    assert shown["placed"]["tar"]["world_from_local"][12:15] == pytest.approx([-4, 0.45, 2])
    assert shown["notes"] == ["Its columns are separated by semicolons."]


def test_the_same_work_again_is_one_submission_and_other_work_another(sign_in, engine):
    pim = sign_in("pim")
    first, second = (handed(pim, written(TARGET, ".glb"), "a.glb") for _ in range(2))
    assert first == second
    assert handed(pim, written(EXERCISE.start_scene(), ".glb"), "b.glb") not in (first,)
    for name in ("c.obj", "d.obj"):
        send(pim, written(TARGET, ".obj"), name)
    with Session(engine) as db:
        pims = select(Person.id).where(Person.sign_in == "pim").scalar_subquery()
        names = db.scalars(
            select(UploadedFile.name).where(UploadedFile.person_id == pims).order_by(UploadedFile.id)
        ).all()
    assert names == ["a.glb", "b.glb", "d.obj"]  # what was not submitted is there until the next one comes


def test_missing_conventions_are_guessed_and_can_be_chosen(sign_in):
    pim = sign_in("pim")
    content = written(converted_scene(TARGET, Conventions(up="z", length="cm")), ".obj")
    shown = send(pim, content, "a.obj").json()
    assert shown["asked"] == ["up", "handedness", "length"]
    assert shown["conventions"] == {"up": "z", "handedness": "right", "length": "cm"}
    assert any("Guessed" in note for note in shown["notes"])
    place = f"/api/assignments/{BARRELS}/files/{shown['file']}"
    other = pim.get(f"{place}?length=m").json()
    assert other["conventions"]["length"] == "m"
    sizes = [abs(np.array(view["placed"]["Tar barrel"]["pivot_world"])).max() for view in (shown, other)]
    assert sizes[1] == pytest.approx(100 * sizes[0])
    judged = [
        pim.get(f"/api/submissions/{submit(pim, shown['file'], conventions=chosen).json()['submission']}").json()
        for chosen in ({}, {"length": "m"})
    ]
    assert [each["mark"]["passed"] for each in judged] == [True, False]


def test_the_matching_of_a_scene_is_shown_and_can_be_corrected(sign_in):
    pim = sign_in("pim")
    file = {"objects": [{"id": "x1", "name": "Tar barrel.001"}, {"id": "x2", "name": "Keg"}]}
    shown = send(pim, file).json()
    assert {item["id"]: item["name"] for item in shown["objects"]} == {"x1": "Tar barrel.001", "x2": "Keg"}
    found = {match["target"]: (match["submitted"], match["by"]) for match in shown["matches"]}
    assert (found["tar"], found["salt"]) == (("x1", "folded name"), (None, None))
    result = pim.get(f"/api/submissions/{handed(pim, file, matches={'salt': 'x2', 'tar': None})}").json()
    assert [(m["target"], m["submitted"], m["by"]) for m in result["report"]["matches"]] == [("salt", "x2", "choice")]
    answer = submit(pim, send(pim, file).json()["file"], matches={"salt": "x2", "tar": "x2"})
    assert (answer.status_code, "x2" in answer.json()["detail"]) == (422, True)


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ({"objects": [{"id": "a"}, {"id": "a"}]}, "a"),
        ({"objects": [{"id": "a", "parent": "b"}, {"id": "b", "parent": "a"}]}, "parent"),
        ({"objects": [{"id": "a", "matrix": [0] * 16}]}, "a"),
        ({"objects": [{"id": "a", "parent": "nobody"}]}, "nobody"),
        ({"format": "cube-drill/submission", "version": 1, "exercise": "other", "kind": "steps", "steps": []}, "other"),
        (b"glTF\2\0\0\0", "export it again"),
        (b"\0\1\2", "mine.json"),
        (b"{", "mine.json"),
        (b"object,weight\nTar barrel,3", "weight"),
        (b"object,x\nTar barrel,3", "y is missing"),
        (b"object,x,y,z\nTar barrel,1,2,three", "line 2, z"),
        (b"object,x,y,z\nBarge,1,2,3", "Barge"),
        (b"object,x [yd],y,z\nTar barrel,1,2,3", "length"),
    ],
)
def test_a_file_that_cannot_be_is_refused_in_one_sentence(sign_in, content, words):
    answer = send(sign_in("pim"), content)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]
    assert answer.json()["detail"].endswith(".")


def test_a_file_may_be_larger_than_a_request_and_no_larger_than_files_may_be(sign_in):
    pim = sign_in("pim")
    padded = WRITERS[".obj"](TARGET) + b"# " + b"x" * 5_000_000 + b"\n"
    assert send(pim, padded, "padded.obj").status_code == 201
    assert send(pim, b"x" * (20 * 1024**2 + 1), "large.obj").status_code == 413
    nobody = send(sign_in(None), padded, "padded.obj")
    assert nobody.status_code == 413


@pytest.mark.parametrize(
    ("which", "end"), [*(("work", end) for end in WRITTEN), ("start", ".glb"), ("target", ".usda")]
)
def test_scenes_are_taken_away_as_every_kind(end, which, sign_in):
    pim = sign_in("pim")
    assert pim.save(0, [RIGHT]).status_code == 200
    answer = pim.get(f"/api/assignments/{CRATES}/scenes/{which}?kind={end}&up=z&length=cm")
    assert answer.status_code == 200
    name = f"crates-morning-boat-{which}{end}"
    assert unquote(answer.headers["content-disposition"]) == f"attachment; filename*=UTF-8''{name}"
    exercise = read_exercise(HERE / "exercises" / "crates-morning-boat.json")
    chosen = {"up": "z", "length": "cm", "handedness": "right"}
    document = submission_in(answer.content, name, exercise, chosen).document
    told = document.conventions if end == ".csv" else document.scene.conventions
    assert (told.up, told.length) == (
        "y" if end in (".glb", ".gltf") else "z",
        "m" if end in (".glb", ".gltf") else "cm",
    )
    if end not in (".ply", ".csv"):
        names = {item.name for item in document.scene.objects}
        assert "Herring crate" in names


def test_submissions_and_plans_can_be_downloaded(sign_in):
    pim, odile = sign_in("pim"), sign_in("odile")
    submission = handed(pim, written(TARGET, ".glb"), "a.glb")
    for caller in (pim, odile):
        taken = caller.get(f"/api/submissions/{submission}/scene?kind=.usda")
        assert taken.content.startswith(b"#usda")
    plan = odile.call("POST", "/api/plans", json={"from_version": 1}).json()["plan"]
    start, target = (odile.get(f"/api/plans/{plan}/scenes/{which}?kind=.csv").content for which in ("start", "target"))
    assert start.startswith(b"object,space,m11") and start != target
    empty = odile.call("POST", "/api/plans", json={}).json()["plan"]
    answer = odile.get(f"/api/plans/{empty}/scenes/start?kind=.csv")
    assert (answer.status_code, answer.json()["code"]) == (422, "nothing-there")
    answer = odile.get(f"/api/plans/{plan}/scenes/start?kind=.blob")
    assert (answer.status_code, ".glb" in answer.json()["detail"]) == (422, True)


def test_a_target_that_is_not_shown_is_not_taken_away(sign_in, engine):
    pim = sign_in("pim")
    hidden = EXERCISE.model_copy(update={"rules": EXERCISE.rules.model_copy(update={"outline": "hidden"})})
    with Session(engine) as db, db.begin():
        db.get_one(Assignment, BARRELS).exercise_version_id = add_version(db, hidden).id
    answers = [pim.get(f"/api/assignments/{BARRELS}/scenes/{w}?kind=.csv") for w in ("target", "start", "work")]
    assert [answer.status_code for answer in answers] == [403, 200, 200]
    assert answers[0].json()["detail"].startswith("The target of this exercise is hidden")
    shown = send(pim, written(TARGET, ".glb"), "a.glb").json()
    assert shown["exercise"]["target"] == {}
