"""Commands on files: replay, check, convert, separate, say, schema."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from pathlib import Path

import typer

from cubedrill.cli.printing import (
    REFUSED,
    UNREADABLE,
    out,
    print_json,
    print_report,
    print_separation,
    print_state,
    say_error,
    stopped,
    tracked,
)
from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise, require_offered
from cubedrill.core.judging.separate import separate
from cubedrill.core.judging.submission import AnySubmission, load_submission
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import State, readings_of, replay
from cubedrill.core.steps.text import written_lines
from cubedrill.formats.conversion import convert
from cubedrill.formats.documents import (
    SCHEMAS,
    FormatError,
    bytes_of,
    is_of_a_program,
    read_exercise,
    read_steps,
    submission_in,
)
from cubedrill.formats.folder import submission_files
from cubedrill.formats.outputs import error_output, replay_output, shown, submission_output
from cubedrill.formats.sandbox import load_beforehand
from cubedrill.formats.table import write_marks
from cubedrill.library.batch import Batch, lines_of, marks_of

load_beforehand("cubedrill.cli")


def replay_file(
    exercise_file: Path, steps_file: Path | None, chosen: Mapping[str, str], *, every: bool, as_json: bool
) -> None:
    """Replay steps, by default the reference, and print each object's numbers."""
    try:
        exercise = read_exercise(exercise_file)
        submission, steps = _scene_or_steps(exercise, steps_file, chosen)
    except FormatError as error:
        raise stopped(str(error), UNREADABLE) from None
    try:
        states = _states(exercise, submission, steps)
        readings = readings_of(states, every)
    except CoreError as error:
        if as_json:
            print_json(error_output(error))
        raise stopped(error.text, REFUSED) from None
    if as_json:
        print_json(replay_output(readings, exercise.conventions, len(steps), every))
        return
    first = 0 if every else len(steps)
    for step, (state, reading) in enumerate(zip(states[first:], readings, strict=True), first):
        print_state(step, state, reading)


def _scene_or_steps(
    exercise: Exercise, file: Path | None, chosen: Mapping[str, str]
) -> tuple[AnySubmission | None, Sequence[Step]]:
    """Return the scene that a file of a program holds, or else its steps."""
    if file is None:
        return None, exercise.reference.steps if exercise.reference else ()
    if is_of_a_program(content := bytes_of(file)):
        return submission_in(content, file.name, exercise, chosen).document, ()
    return None, read_steps(file, exercise).steps


def _states(exercise: Exercise, submission: AnySubmission | None, steps: Sequence[Step]) -> list[State]:
    require_offered(exercise.rules, steps)
    start = exercise.start_scene()
    scene = start if submission is None else load_submission(start, exercise.target_scene(), submission).scene
    return replay(scene, steps)


def check_files(
    exercise_file: Path,
    submissions: Sequence[Path],
    chosen: Mapping[str, str],
    output: tuple[bool, Path | None],
    jobs: int | None,
) -> None:
    """Check submissions, single files or folders. output: whether as JSON, and the table of marks to write."""
    as_json, csv_file = output
    if as_json and csv_file:
        raise stopped("Choose one of --json and --csv.", UNREADABLE)
    try:
        exercise = read_exercise(exercise_file)
    except FormatError as error:
        raise stopped(str(error), UNREADABLE) from None
    files = [file for path in submissions for file in (submission_files(path) if path.is_dir() else [path])]
    batch = Batch(exercise, chosen, jobs)
    failures = _print_reports(batch, files, as_json) if csv_file is None else _write_marks(batch, files, csv_file)
    if failures:
        raise typer.Exit(UNREADABLE)


def _print_reports(batch: Batch, files: Sequence[Path], as_json: bool) -> bool:
    """Print a report per file; return whether any file could not be checked."""
    failures = False
    for line, failure in tracked(lines_of(batch, files), files):
        if failure is not None:
            failures = True
            say_error(failure)
        if as_json:
            print_json(line)
        elif failure is None:
            print_report(line)
    return failures


def _write_marks(batch: Batch, files: Sequence[Path], csv_file: Path) -> bool:
    """Write a table of marks; return whether any file could not be checked."""
    try:
        with csv_file.open("w", encoding="utf-8", newline="") as stream:
            failures = write_marks(batch.exercise, stream, files, tracked(marks_of(batch, files), files))
    except OSError as error:
        sentence = f"{csv_file} cannot be written ({error.strerror}); choose another file."
        raise stopped(sentence, UNREADABLE) from None
    for failure in failures:
        say_error(failure)
    return bool(failures)


def convert_file(source: Path, to: Path, chosen: Mapping[str, str]) -> None:
    """Convert a scene file to another kind, and print what was left out or changed."""
    try:
        notes = convert(source, to, chosen)
    except FormatError as error:
        raise stopped(str(error), UNREADABLE) from None
    for note in notes:
        say_error(f"{source.name}: {note}")


def separate_file(exercise_file: Path, *, as_json: bool) -> None:
    """Print which typical mistakes the checks of an exercise catch."""
    try:
        exercise = read_exercise(exercise_file)
        found = separate(exercise, exercise.start_scene(), exercise.target_scene())
    except FormatError as error:
        raise stopped(str(error), UNREADABLE) from None
    except CoreError as error:
        raise stopped(error.text, REFUSED) from None
    if as_json:
        print_json(found.model_dump(mode="json"))
    else:
        print_separation(found, exercise.conventions)


def say_steps(steps_file: Path, exercise_file: Path | None, *, as_json: bool) -> None:
    """Print steps as sentences, one per line; with as_json, as a submission."""
    try:
        exercise = read_exercise(exercise_file) if exercise_file else None
        submission = read_steps(steps_file, exercise)
    except FormatError as error:
        raise stopped(str(error), UNREADABLE) from None
    if as_json:
        print_json(submission_output(submission))
        return
    for line in written_lines(submission.steps, None if exercise is None else exercise.start_scene()):
        typer.echo(shown(line) if out.is_terminal else line)  # a file gets exactly what is read back


def print_schema(name: str) -> None:
    """Print the JSON Schema of a file format."""
    if name not in SCHEMAS:
        raise stopped(f"There is no schema {name}; choose one of {', '.join(SCHEMAS)}.", UNREADABLE)
    typer.echo(json.dumps(SCHEMAS[name].json_schema(), indent=2))
