"""Print reports and messages on the terminal."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import Any, TypeVar

import typer
from rich.console import Console
from rich.progress import track
from rich.table import Table
from rich.text import Text

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.separate import Separation, Trial
from cubedrill.core.scene.reading import Reading
from cubedrill.core.scene.wording import number
from cubedrill.core.steps.replay import State
from cubedrill.formats.outputs import LATE_CONTROLS, shown

REFUSED = 1  # the exit status if a step cannot be done
UNREADABLE = 2  # the exit status if a file cannot be used

Found = TypeVar("Found")

out, err = Console(), Console(stderr=True)


def say_error(sentence: str) -> None:
    """Print a sentence to standard error, its control characters escaped."""
    err.print(shown(sentence), markup=False, highlight=False, soft_wrap=True)


def stopped(sentence: str, status: int) -> typer.Exit:
    """Print why a command stops; return what ends it with this status."""
    say_error(sentence)
    return typer.Exit(status)


def tracked(found: Iterator[Found], files: Sequence[Path]) -> Iterable[Found]:
    """Return what is found, with a progress bar if there is more than one file."""
    return track(found, "Checking", total=len(files), console=err, transient=True, disable=len(files) < 2)


def print_json(value: dict[str, object]) -> None:
    """Print JSON on one line, without characters that control a terminal."""
    # JSON escapes the controls below U+0020 itself; those from U+007F on would reach the terminal.
    text = json.dumps(value, allow_nan=False, ensure_ascii=False)
    typer.echo(LATE_CONTROLS.sub(lambda found: f"\\u{ord(found.group()):04x}", text))


def print_line(line: str) -> None:
    """Print a line, its control characters escaped."""
    typer.echo(shown(line))


def print_state(step: int, state: State, readings: dict[str, Reading]) -> None:
    """Print a table of the objects after a step."""
    unit = state.scene.conventions
    table = Table(title=Text(shown(f"Step {step}: {state.sentence}") if step else "Start"), title_justify="left")
    for heading in ("object", f"pivot in world ({unit.length})", f"angles in parent ({unit.angle})", "scale in parent"):
        table.add_column(heading)
    for object_id, reading in readings.items():
        angles = reading.euler_rad / unit.radians_per_unit
        rows = ("  ".join(number(value) for value in row) for row in (reading.pivot_world, angles, reading.scale))
        table.add_row(Text(shown(object_id) + (" (skewed)" if reading.skewed else "")), *rows)
    out.print(table)


def print_report(line: dict[str, Any]) -> None:
    """Print the report of one submission."""
    result = "passed" if line["passed"] else "not passed"
    print_line(f"{line['submission']}: {number(line['points'])} of {number(line['of'])} points, {result}")
    for check in line["checks"]:
        points = f"{number(check['points'])}/{number(check['of'])}"
        print_line(f"  {check['verdict']:<10} {points:>7}  {check['text']}")
    for cause in line["causes"]:
        print_line(f"  likely: {cause['instructor']} [{cause['code']}] {cause['proof']}")
    for note in line.get("notes", ()):
        print_line(f"  note: {note}")
    if "parted" in line:
        print_line(f"  step {line['parted']} is the first that differs from the reference")
    for first, second in line.get("cancelling", ()):
        print_line(f"  steps {first} and {second} cancel each other")


def print_separation(found: Separation, unit: Conventions) -> None:
    """Print which typical mistakes the checks of an exercise catch."""
    for trial in found.trials:
        print_line(f"Step {trial.step}  {trial.code:<24} {_caught(trial)}")
        if trial.same_spot:
            print_line(f"{'':8}{'':<24} same place: {', '.join(trial.same_spot)}")
    passing = sum(not trial.caught_by for trial in found.trials)
    print_line(f"{len(found.trials)} mistakes; {passing} would pass.")
    if found.idle:
        print_line(f"No mistake fails these checks: {', '.join(found.idle)}.")
    drag = f"{number(found.drag.length)} {unit.length} and {number(found.drag.angle)} {unit.angle}"
    print_line(f"A drag can be off by up to {drag}.")
    if found.typing:
        print_line(f"These checks need typed values: {', '.join(found.typing)}.")


def _caught(trial: Trial) -> str:
    if trial.caught_by:
        return f"caught by {', '.join(trial.caught_by)}"
    if trial.tighter is None:
        return "would pass; no check detects it"
    return f"would pass; {trial.tighter.check} would catch it with a tolerance of {number(trial.tighter.tolerance)}"
