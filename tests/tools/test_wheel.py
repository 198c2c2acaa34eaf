"""The product as a package: what it needs is said, and all of it is in its wheel; see bench/wheel.py."""

import shutil
import subprocess
import sys
import tomllib
import zipfile
from pathlib import Path

from packaging.requirements import Requirement

from tests.tiers import long

ROOT = Path(__file__).parents[2]


def lines_of(name):
    lines = (ROOT / name).read_text().splitlines()
    return [line.removesuffix(" \\") for line in lines if line and not line.startswith((" ", "#"))]


@long
def test_the_ranges_of_the_package_hold_the_versions_that_are_tested():
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    listed = (*project["dependencies"], *project["optional-dependencies"]["server"])
    said = {r.name: r for r in map(Requirement, listed)}
    tested = {r.name: r for r in map(Requirement, lines_of("requirements.in"))}
    assert {name: r.extras for name, r in said.items()} == {name: r.extras for name, r in tested.items()}
    for name, requirement in tested.items():
        (version,) = (each.version for each in requirement.specifier)
        assert said[name].specifier.contains(version), name


@long
def test_both_locks_name_the_same_version_with_a_hash_of_everything():
    locked, wider = (
        {Requirement(line).name: line for line in lines_of(name)}
        for name in ("requirements.lock", "requirements-dev.lock")
    )
    assert locked.items() <= wider.items()
    for name in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / name).read_text().replace(" \\\n", " ")
        assert all("--hash=sha256:" in line for line in text.splitlines() if line), name


def wheel_of(folder):
    """Build a wheel of the product in a folder; what is built leaves things where it was built."""
    source = folder / "source"
    shutil.copytree(ROOT / "src", source / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "LICENSE"):
        shutil.copy(ROOT / name, source)
    words = (sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--wheel-dir", folder, source)
    done = subprocess.run(words, cwd=folder, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    (wheel,) = folder.glob("*.whl")
    return wheel


@long
def test_everything_of_the_product_is_in_its_wheel(tmp_path):
    words = ("git", "-C", ROOT / "src", "ls-files", "cubedrill")
    wanted = subprocess.run(words, capture_output=True, text=True, check=True).stdout.split()
    names = set(zipfile.ZipFile(wheel_of(tmp_path)).namelist())
    assert set(wanted) <= names
    assert "cubedrill/screens/index.html" in names
    assert any(name.startswith("cubedrill/screens/assets/") and name.endswith(".js") for name in names)
