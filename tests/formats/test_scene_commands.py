"""check and convert with scene files of every kind: one, and a folder of mixed ones."""

import itertools
import json
import shutil
from dataclasses import replace

import pytest

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.geometry.transform import affine
from cubedrill.core.scene.scene import scene_of
from cubedrill.demo.load import HERE
from cubedrill.formats import kinds
from cubedrill.formats.asked import scene_file
from cubedrill.formats.conversion import converted_scene, written
from cubedrill.formats.documents import read_exercise
from tests.formats.test_commands import run
from tests.tiers import some

EXERCISE = HERE / "exercises" / "crates-morning-boat.json"
TARGET = read_exercise(EXERCISE).target_scene()


def test_a_folder_of_mixed_files_is_checked_in_one_command(tmp_path):
    for end, write in kinds.WRITERS.items():
        (tmp_path / f"right{end}").write_bytes(write(TARGET))
    (tmp_path / "broken.glb").write_bytes(b"glTF\2\0\0\0")
    (tmp_path / "picture.png").write_bytes(b"\x89PNG")
    shutil.copy(next((HERE / "submissions" / EXERCISE.stem).glob("*.json")), tmp_path / "steps.json")
    done = run("check", EXERCISE, tmp_path, "--json", "--jobs", "2")
    lines = {line["submission"].rpartition("/")[2]: line for line in map(json.loads, done.stdout.splitlines())}
    assert done.exit_code == 2  # one could not be read
    assert set(lines) == {*(f"right{end}" for end in kinds.WRITERS), "broken.glb", "steps.json"}
    assert lines["broken.glb"]["error"]["text"].startswith("broken.glb: ")
    for end in kinds.WRITERS:
        line = lines[f"right{end}"]
        assert [check["text"] for check in line["checks"] if check["verdict"] != "pass"] == [], end
        assert ("Guessed" in str(line.get("notes"))) is (end in (".obj", ".stl", ".ply"))


@pytest.mark.parametrize(("up", "length"), [("z", "cm"), ("y", "ft"), ("z", "m")])
def test_axes_and_unit_that_a_file_does_not_say_are_guessed_or_told(up, length, tmp_path):
    conventions = Conventions(up=up, length=length)
    file = tmp_path / "handed.obj"
    file.write_bytes(kinds.WRITERS[".obj"](converted_scene(TARGET, conventions)))
    for words in ((), ("--up", up, "--length", length, "--handedness", "right")):
        line = json.loads(run("check", EXERCISE, file, "--json", *words).stdout)
        assert line["passed"], line
        assert ("notes" in line) is (not words)
    wrong = json.loads(run("check", EXERCISE, file, "--json", "--length", "mm").stdout)
    assert not wrong["passed"]


def test_the_unit_is_told_by_how_large_things_are_however_far_they_went():
    """A hundred metres astray, a scene in centimetres lies nearer when it is read as one in metres is not."""
    objects = [
        replace(
            item, parent_from_local=affine(item.parent_from_local[:3, :3], item.parent_from_local[:3, 3] + (300, 0, 0))
        )
        if item.parent is None
        else item
        for item in TARGET.objects.values()
    ]
    astray = converted_scene(scene_of(objects, TARGET.conventions, TARGET.marker), Conventions(length="cm"))
    found = scene_file(kinds.read(kinds.WRITERS[".obj"](astray)), TARGET, {})
    assert found.conventions.length == "cm"


@pytest.mark.parametrize("end", [".glb", ".usda", ".dae", ".stl", ".csv"])
def test_file_contents_are_printed_in_the_axes_of_the_exercise(end, tmp_path):
    file = tmp_path / f"handed{end}"
    file.write_bytes(written(converted_scene(TARGET, Conventions(up="z", length="cm")), end))
    found = json.loads(run("replay", EXERCISE, file, "--json").stdout)
    wanted = json.loads(run("replay", EXERCISE, "--json").stdout)
    assert found["steps"] == 0
    for object_id, item in wanted["objects"].items():
        assert found["objects"][object_id]["pivot_world"] == pytest.approx(item["pivot_world"], abs=1e-5)
    broken = tmp_path / "broken.glb"
    broken.write_bytes(b"glTF")
    assert run("replay", EXERCISE, broken).exit_code == 2


@pytest.mark.parametrize(
    ("first", "then"),
    some(itertools.product((".glb", ".usda", ".dae", ".json"), (".gltf", ".usdc", ".dae", ".json")), 6),
)
def test_converted_from_kind_to_kind_it_is_the_same_scene(first, then, tmp_path):
    one, other, last = tmp_path / f"one{first}", tmp_path / f"other{then}", tmp_path / "last.json"
    for source, to in ((EXERCISE, one), (one, other), (other, last)):
        done = run("convert", source, to, *(("--up", "z", "--length", "cm") if to is other else ()))
        assert done.exit_code == 0, done.stderr
    start = read_exercise(EXERCISE).start_scene()
    scene = json.loads(last.read_text())["scene"]
    read = {item["id"]: item for item in scene["objects"]}
    wanted = converted_scene(start, Conventions.model_validate(scene["conventions"]))
    assert read.keys() == start.objects.keys()
    for object_id, item in wanted.objects.items():
        assert read[object_id]["matrix"] == pytest.approx(item.parent_from_local.ravel(order="F").tolist(), abs=1e-7)
        assert read[object_id]["pivot"] == pytest.approx(item.pivot.tolist(), abs=1e-7)


@pytest.mark.parametrize(
    ("source", "to", "words"),
    [
        ("broken.glb", "out.obj", "broken.glb: "), ("missing.glb", "out.obj", "missing.glb: "),
        ("right.glb", "out.xyz", "out.xyz: end its name"), ("right.glb", "no/where.obj", "where.obj: it cannot be written"),
        ("sheet.json", "out.obj", "sheet.json, at kind"),
    ],
)  # fmt: skip
def test_a_failed_conversion_gives_one_sentence(source, to, words, tmp_path):
    (tmp_path / "broken.glb").write_bytes(b"glTF\2\0\0\0")
    (tmp_path / "right.glb").write_bytes(kinds.WRITERS[".glb"](TARGET))
    sheet = {"format": "cube-drill/submission", "version": 1, "exercise": "x", "kind": "sheet", "rows": []}
    (tmp_path / "sheet.json").write_text(json.dumps(sheet))
    done = run("convert", tmp_path / source, tmp_path / to)
    assert (done.exit_code, done.stdout) == (2, "")
    assert done.stderr.strip().startswith(words)
    assert len(done.stderr.strip().splitlines()) == 1
