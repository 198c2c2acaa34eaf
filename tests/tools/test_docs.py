"""The pages for newcomers: every command runs, every path is there, every picture is shown."""

import re
import shlex
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
PAGES = [
    "README.md",
    "CONTRIBUTING.md",
    "CHANGELOG.md",
    "docs/steps.md",
    "docs/checks.md",
    "docs/causes.md",
    "docs/scene-files.md",
    "docs/library.md",
]
CODE = re.compile(r"`([^`\n]+)`")


def code_in(page):
    text = (ROOT / page).read_text(encoding="utf-8")
    blocks = re.findall(r"```sh\n(.*?)```", text, flags=re.DOTALL)
    lines = [line for block in blocks for line in block.splitlines() if line.strip()]
    return lines + CODE.findall(re.sub(r"```.*?```", "", text, flags=re.DOTALL))


COMMANDS = sorted({code for page in PAGES for code in code_in(page) if code.startswith("cube-drill ")})
RUNS = sorted({code.split()[1] for page in PAGES for code in code_in(page) if code.startswith("./run ")})
# They run until they are stopped, or want a database; other tests run them.
SERVING = ("cube-drill serve", "cube-drill demo", "cube-drill work", "cube-drill jobs", "cube-drill person")


@pytest.mark.parametrize("command", [command for command in COMMANDS if not command.startswith(SERVING)])
def test_commands_that_the_pages_name_run(command):
    words = shlex.split(command)
    program = str(Path(sys.executable).parent / words[0])
    files = [
        word
        for pattern in words[1:]
        for word in (sorted(map(str, ROOT.glob(pattern))) if "/" in pattern else [pattern])
    ]
    ran = subprocess.run([program, *files], cwd=ROOT, capture_output=True, text=True, check=False)
    assert ran.returncode == 0, ran.stderr


def test_there_are_commands_to_run():
    assert len(COMMANDS) >= 3


@pytest.mark.parametrize("name", RUNS)
def test_run_knows_the_commands_that_the_pages_name(name):
    usage = subprocess.run(["./run"], cwd=ROOT, capture_output=True, text=True, check=False)
    assert name in re.findall(r"\w+", usage.stderr)


@pytest.mark.parametrize("page", PAGES)
def test_every_path_that_a_page_points_to_is_there(page):
    text = (ROOT / page).read_text(encoding="utf-8")
    folder = (ROOT / page).parent
    linked = [link for link in re.findall(r"\]\(([^)#]+)\)", text) if "://" not in link]
    named = [code for code in CODE.findall(text) if re.fullmatch(r"[\w.]+/[\w./-]*", code)]
    missing = [path for path in linked if not (folder / path).exists()]
    missing += [path for path in named if not (ROOT / path).exists()]
    assert missing == []


def test_every_picture_is_shown_on_the_first_page():
    pictures = sorted(path.name for path in (ROOT / "docs" / "screenshots").glob("*.png"))
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    assert 5 <= len(pictures) < 20
    assert [name for name in pictures if f"docs/screenshots/{name}" not in text] == []
