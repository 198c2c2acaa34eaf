"""Our files against the glTF validator of the format's makers, and files of three.js' exporters read and judged by us."""

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.judging.judge import judge_submission
from cubedrill.demo.load import HERE as DEMO
from cubedrill.formats.conversion import converted_scene
from cubedrill.formats.documents import read_exercise, submission_in
from cubedrill.formats.kinds import WRITERS, read

HERE = Path(__file__).parent
SOLIDS = {
    "crate": {"kind": "cuboid", "size": [1, 2, 3]},
    "barrel": {"kind": "cylinder", "diameter": 1, "height": 2},
    "ball": {"kind": "sphere", "diameter": 1.5},
    "horn": {"kind": "cone", "diameter": 2, "height": 1.5},
}


def node(script, *words):
    done = subprocess.run(
        ["node", HERE / script, *map(str, words)], capture_output=True, text=True, timeout=120, check=False
    )
    assert done.returncode == 0, done.stderr
    return [json.loads(line) for line in done.stdout.splitlines()]


def test_the_validator_of_the_format_finds_nothing_in_what_we_write(tmp_path):
    files = []
    for number, file in enumerate(sorted((DEMO / "exercises").glob("*.json"))):
        scene = read_exercise(file).target_scene()
        if number % 3 == 0:
            scene = converted_scene(scene, Conventions(up="z", handedness="left", length="ft"))
        for end in (".glb", ".gltf"):
            files.append(tmp_path / f"{file.stem}{end}")
            files[-1].write_bytes(WRITERS[end](scene))
    told = node("validate_gltf.mjs", *files)
    assert len(told) == len(files)
    assert {line["path"]: line["found"] for line in told if line["found"]} == {}
    broken = tmp_path / "broken.gltf"
    broken.write_text(json.dumps({"asset": {"version": "2.0"}, "scene": 7}))
    assert node("validate_gltf.mjs", broken)[0]["found"]


@pytest.fixture(scope="module")
def exported(tmp_path_factory):
    """A folder with the files of three's exporters, and where three has everything, by name."""
    folder = tmp_path_factory.mktemp("three")
    (placed,) = node("three_export.mjs", folder)
    return folder, {name: np.array(matrix).reshape(4, 4, order="F") for name, matrix in placed.items()}


@pytest.mark.parametrize("end", [".glb", ".gltf"])
def test_places_and_tree_of_threes_gltf_are_read_as_three_has_them(end, exported):
    folder, placed = exported
    imported = read((folder / f"three{end}").read_bytes())
    specs = {item.name: item for item in imported.objects}
    own = {name: np.array(item.matrix).reshape(4, 4, order="F") for name, item in specs.items()}
    ids = {item.id: item.name for item in imported.objects}

    def world(name):
        parent = specs[name].parent
        return own[name] if parent is None else world(ids[parent]) @ own[name]

    for name, matrix in placed.items():
        assert world(name) == pytest.approx(matrix, abs=1e-9), name
    assert ids[specs["barrel"].parent] == "crate"


@pytest.mark.parametrize("end", [".glb", ".gltf", ".obj", ".stl", ".ply"])
def test_exports_of_three_pass_if_they_are_what_was_asked_for(end, exported):
    folder, placed = exported
    checks = [
        {"id": f"{kind} of {i}", "kind": kind, "object": i, "tolerance": 1e-4, "symmetry": "look"}
        for i in SOLIDS
        for kind in ("position", "shape")
    ]
    objects = [
        {"id": i, "name": i, "solid": solid, "matrix": placed[i].ravel(order="F").tolist()}
        for i, solid in SOLIDS.items()
    ]
    head = {"format": "cube-drill/exercise", "version": 1, "id": "three", "title": "Three"}
    for check in checks:
        if check["kind"] == "position":
            del check["symmetry"]
    exercise = Exercise.model_validate(
        {**head, "start": {"objects": objects}, "target": {"objects": objects}, "checks": checks}
    )
    work = submission_in((folder / f"three{end}").read_bytes(), f"three{end}", exercise, {}).document
    report = judge_submission(exercise, exercise.start_scene(), exercise.target_scene(), work)
    assert [check.text for check in report.checks if check.verdict != "pass"] == []
