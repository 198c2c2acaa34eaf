"""The product as a package: what it needs is said, and a wheel in an empty environment does the job."""

import json
import shutil
import subprocess
import sys
import tomllib
import zipfile
from pathlib import Path

from packaging.requirements import Requirement

from cubedrill.demo.load import HERE

ROOT = Path(__file__).parents[2]


def lines_of(name):
    lines = (ROOT / name).read_text().splitlines()
    return [line.removesuffix(" \\") for line in lines if line and not line.startswith((" ", "#"))]


def test_the_ranges_of_the_package_hold_the_versions_that_are_tested():
    said = {
        r.name: r
        for r in map(Requirement, tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"])
    }
    tested = {r.name: r for r in map(Requirement, lines_of("requirements.in"))}
    assert {name: r.extras for name, r in said.items()} == {name: r.extras for name, r in tested.items()}
    for name, requirement in tested.items():
        (version,) = (each.version for each in requirement.specifier)
        assert said[name].specifier.contains(version), name


def test_both_locks_name_the_same_version_with_a_hash_of_everything():
    locked, wider = (
        {Requirement(line).name: line for line in lines_of(name)}
        for name in ("requirements.lock", "requirements-dev.lock")
    )
    assert locked.items() <= wider.items()
    for name in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / name).read_text().replace(" \\\n", " ")
        assert all("--hash=sha256:" in line for line in text.splitlines() if line), name


def test_a_wheel_in_an_empty_environment_checks_a_submission(tmp_path):
    def do(*words):
        done = subprocess.run(words, cwd=tmp_path, capture_output=True, text=True, check=False)
        assert done.returncode == 0, done.stdout + done.stderr
        return done.stdout

    source = tmp_path / "source"  # what is built leaves things where it was built
    shutil.copytree(ROOT / "src", source / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "LICENSE"):
        shutil.copy(ROOT / name, source)
    do(sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--wheel-dir", tmp_path, source)
    (wheel,) = tmp_path.glob("*.whl")
    wanted = do("git", "-C", ROOT / "src", "ls-files", "cubedrill").split()
    assert set(wanted) <= set(zipfile.ZipFile(wheel).namelist())
    do(sys.executable, "-m", "venv", tmp_path / "empty")
    tested = tmp_path / "tested.txt"
    tested.write_text("\n".join(lines_of("requirements.lock")))
    programs = tmp_path / "empty" / "bin"
    do(programs / "pip", "install", "--quiet", "--no-compile", "--constraint", tested, wheel)
    exercise, submission = (
        HERE / "exercises" / "lock-gate.json",
        sorted((HERE / "submissions" / "lock-gate").glob("*.json"))[0],
    )
    report = json.loads(do(programs / "cube-drill", "check", exercise, submission, "--json"))
    assert report["points"] <= report["of"] and report["checks"]
    assert Path(do(programs / "python", "-c", "import cubedrill; print(cubedrill.__file__)").strip()).is_relative_to(
        tmp_path
    )
