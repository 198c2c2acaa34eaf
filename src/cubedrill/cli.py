"""The command line: cube-drill replay, check, separate, convert, say, schema, openapi, person, serve, work, demo."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import Annotated, Any, TypeVar

import typer
from rich.console import Console
from rich.progress import track
from rich.table import Table
from rich.text import Text

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry import conventions
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.exercise import require_offered
from cubedrill.core.judging.separate import Separation, Trial, separate
from cubedrill.core.judging.submission import handed
from cubedrill.core.scene.reading import Reading
from cubedrill.core.scene.wording import number
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import State, readings_of, replay
from cubedrill.core.steps.text import written_lines
from cubedrill.formats.apart import load_beforehand
from cubedrill.formats.converting import convert
from cubedrill.formats.documents import (
    SCHEMAS,
    FormatError,
    bytes_of,
    is_of_a_program,
    read_exercise,
    read_steps,
    submission_in,
)
from cubedrill.formats.kinds import ENDS
from cubedrill.formats.outputs import LATE_CONTROLS, error_output, replay_output, shown, submission_output
from cubedrill.formats.table import MarksTable
from cubedrill.formats.transforms import ENDING as CSV
from cubedrill.formats.transforms import is_transforms
from cubedrill.service.batch import Asked, marks_of, reports_of
from cubedrill.settings import Settings, SettingsError, settings_from

REFUSED = 1  # a step cannot be done
UNREADABLE = 2  # a file cannot be used
LOOPBACK = ("127.0.0.1", "::1", "localhost")
SUBMISSION_SUFFIXES = (".json", ".txt", *ENDS)

Found = TypeVar("Found")

STEPS_HELP = "A submission of kind steps, a text with a sentence a line, or a scene file of any kind."

load_beforehand(__name__)

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False)
out, err = Console(), Console(stderr=True)

ExerciseFile = Annotated[Path, typer.Argument(metavar="EXERCISE", help="An exercise file.")]
Up = Annotated[conventions.Up | None, typer.Option("--up", help="The axis that points up, where a file does not say.")]
Handedness = Annotated[conventions.Handedness | None, typer.Option("--handedness", help="The same of handedness.")]
Length = Annotated[conventions.Length | None, typer.Option("--length", help="The same of the unit.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON for programs.")]


@app.command("replay")
def replay_command(
    exercise_file: ExerciseFile,
    steps_file: Annotated[Path | None, typer.Argument(metavar="[STEPS]", help=STEPS_HELP)] = None,
    *,
    every: Annotated[bool, typer.Option("--every", help="Print the scene after every step.")] = False,
    as_json: AsJson = False,
    up: Up = None,
    handedness: Handedness = None,
    length: Length = None,
) -> None:
    """Replay steps (the reference where none are given) and print what each object came to.

    Of a scene file of any kind, and of a table of places, it prints what is in it in the exercise's axes.
    """
    try:
        exercise = read_exercise(exercise_file)
        if steps_file and is_of_a_program(content := bytes_of(steps_file)):
            chosen = _chosen(up, handedness, length)
            handed_in = submission_in(content, steps_file.name, exercise, chosen).document
            steps: tuple[Step, ...] = ()
        else:
            handed_in = None
            reference = exercise.reference.steps if exercise.reference else ()
            steps = read_steps(steps_file, exercise).steps if steps_file else reference
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    try:
        require_offered(exercise.rules, steps)
        start = exercise.start_scene()
        scene = handed(start, exercise.target_scene(), handed_in).scene if handed_in else start
        states = replay(scene, steps)
        readings = readings_of(states, every)
    except CoreError as error:
        if as_json:
            _print_json(error_output(error))
        raise _stopped(error.text, REFUSED) from None
    if as_json:
        _print_json(replay_output(readings, exercise.conventions, len(steps), every))
        return
    first = 0 if every else len(steps)
    for step, (state, reading) in enumerate(zip(states[first:], readings, strict=True), first):
        _print_state(step, state, reading)


@app.command("check")
def check_command(
    exercise_file: ExerciseFile,
    submissions: Annotated[list[Path], typer.Argument(metavar="SUBMISSION...", help="Files, or folders of them.")],
    *,
    as_json: AsJson = False,
    csv_file: Annotated[Path | None, typer.Option("--csv", metavar="F", help="Write a table of marks to F.")] = None,
    up: Up = None,
    handedness: Handedness = None,
    length: Length = None,
    jobs: Annotated[
        int | None, typer.Option("--jobs", min=1, help="Processes at most; one a core where not told.")
    ] = None,
) -> None:
    """Judge submissions of an exercise: one, thousands, or a folder; steps, sheets and scene files of any kind."""
    if as_json and csv_file:
        raise _stopped("Choose one of --json and --csv.", UNREADABLE)
    try:
        exercise = read_exercise(exercise_file)
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    files = list(_submission_files(submissions))
    asked = Asked(exercise, _chosen(up, handedness, length), jobs)
    if csv_file is None:
        all_read = _print_reports(asked, files, as_json)
    else:
        try:
            all_read = _write_marks(asked, files, csv_file)
        except OSError as error:
            sentence = f"{csv_file} cannot be written ({error.strerror}); choose another file."
            raise _stopped(sentence, UNREADABLE) from None
    if not all_read:
        raise typer.Exit(UNREADABLE)


@app.command("convert")
def convert_command(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A scene file, an exercise or a submission of a scene.")],
    to: Annotated[Path, typer.Argument(metavar="OUT", help="The file to write; the end of its name tells the kind.")],
    up: Up = None,
    handedness: Handedness = None,
    length: Length = None,
) -> None:
    """Turn a scene file into another kind; the conventions are those of whichever of the two does not fix its own."""
    try:
        notes = convert(source, to, _chosen(up, handedness, length))
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    for note in notes:
        _say(f"{source.name}: {note}")


@app.command("separate")
def separate_command(exercise_file: ExerciseFile, as_json: AsJson = False) -> None:
    """Tell which typical mistakes the checks of an exercise catch, and which would pass."""
    try:
        exercise = read_exercise(exercise_file)
        found = separate(exercise, exercise.start_scene(), exercise.target_scene())
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    except CoreError as error:
        raise _stopped(error.text, REFUSED) from None
    if as_json:
        _print_json(found.model_dump(mode="json"))
        return
    _print_separation(found, exercise.conventions)


@app.command("say")
def say_command(
    steps_file: Annotated[Path, typer.Argument(metavar="STEPS", help=STEPS_HELP)],
    exercise_file: Annotated[
        Path | None, typer.Option("--exercise", metavar="F", help="Whose names, units and start they are said in.")
    ] = None,
    as_json: AsJson = False,
) -> None:
    """Print steps as sentences, one a line, that are read back as the same steps; with --json, as a submission."""
    try:
        exercise = read_exercise(exercise_file) if exercise_file else None
        submission = read_steps(steps_file, exercise)
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    if as_json:
        _print_json(submission_output(submission))
        return
    for line in written_lines(submission.steps, None if exercise is None else exercise.start_scene()):
        typer.echo(shown(line) if out.is_terminal else line)  # into a file it goes as it is read back


@app.command("schema")
def schema_command(name: Annotated[str, typer.Argument(help=f"One of: {', '.join(SCHEMAS)}.")]) -> None:
    """Print the JSON Schema of a file format."""
    if name not in SCHEMAS:
        raise _stopped(f"There is no schema {name}; choose one of {', '.join(SCHEMAS)}.", UNREADABLE)
    typer.echo(json.dumps(SCHEMAS[name].json_schema(), indent=2))


def _chosen(up: str | None, handedness: str | None, length: str | None) -> dict[str, str]:
    """Conventions that were chosen, by their names."""
    said = {"up": up, "handedness": handedness, "length": length}
    return {name: value for name, value in said.items() if value is not None}


def _submission_files(paths: list[Path]) -> Iterator[Path]:
    for path in paths:
        yield from sorted(filter(_is_submission, path.iterdir())) if path.is_dir() else [path]


def _is_submission(path: Path) -> bool:
    """Tell whether a file of a folder is meant; a table of marks, for one, is not."""
    return path.suffix in SUBMISSION_SUFFIXES or (path.suffix == CSV and is_transforms(bytes_of(path)))


def _write_marks(asked: Asked, files: Sequence[Path], csv_file: Path) -> bool:
    """Write a table of marks; tell whether every file could be judged."""
    all_read = True
    with csv_file.open("w", encoding="utf-8", newline="") as stream:
        table = MarksTable(asked.exercise, stream)
        for file, marks in zip(files, _tracked(marks_of(asked, files), files), strict=True):
            if isinstance(marks, str):
                all_read = False
                _say(marks)
            table.add(str(file), marks)
    return all_read


def _print_reports(asked: Asked, files: Sequence[Path], as_json: bool) -> bool:
    """Print a report a file; tell whether every file could be judged."""
    all_read = True
    for line, trouble in _tracked(reports_of(asked, files), files):
        if trouble is not None:
            all_read = False
            _say(trouble)
        if as_json:
            _print_json(line)
        elif trouble is None:
            _print_report(line)
    return all_read


def _tracked(found: Iterator[Found], files: Sequence[Path]) -> Iterable[Found]:
    """What is found, with a progress bar where there is more than one file."""
    return track(found, "Checking", total=len(files), console=err, transient=True, disable=len(files) < 2)


def _say(sentence: str) -> None:
    err.print(shown(sentence), markup=False, highlight=False, soft_wrap=True)


def _stopped(sentence: str, status: int) -> typer.Exit:
    _say(sentence)
    return typer.Exit(status)


def _print_json(value: dict[str, Any]) -> None:
    # JSON writes the controls below U+0020 itself; those from U+007F on would reach the terminal.
    text = json.dumps(value, allow_nan=False, ensure_ascii=False)
    typer.echo(LATE_CONTROLS.sub(lambda found: f"\\u{ord(found.group()):04x}", text))


def _print(line: str) -> None:
    typer.echo(shown(line))


def _print_state(step: int, state: State, readings: dict[str, Reading]) -> None:
    unit = state.scene.conventions
    table = Table(title=Text(shown(f"Step {step}: {state.sentence}") if step else "Start"), title_justify="left")
    for heading in ("object", f"pivot in world ({unit.length})", f"angles in parent ({unit.angle})", "scale in parent"):
        table.add_column(heading)
    for object_id, reading in readings.items():
        angles = reading.euler_rad / unit.radians_per_unit
        rows = ("  ".join(number(value) for value in row) for row in (reading.pivot_world, angles, reading.scale))
        table.add_row(Text(shown(object_id) + (" (skewed)" if reading.skewed else "")), *rows)
    out.print(table)


def _print_report(line: dict[str, Any]) -> None:
    result = "passed" if line["passed"] else "not passed"
    _print(f"{line['submission']}: {number(line['points'])} of {number(line['of'])} points, {result}")
    for check in line["checks"]:
        points = f"{number(check['points'])}/{number(check['of'])}"
        _print(f"  {check['verdict']:<10} {points:>7}  {check['text']}")
    for cause in line["causes"]:
        _print(f"  likely: {cause['instructor']} [{cause['code']}] {cause['proof']}")
    for note in line.get("notes", ()):
        _print(f"  note: {note}")
    if "parted" in line:
        _print(f"  step {line['parted']} is the first that leaves the right way")
    for first, second in line.get("cancelling", ()):
        _print(f"  steps {first} and {second} take each other back")


def _print_separation(found: Separation, unit: Conventions) -> None:
    for trial in found.trials:
        _print(f"Step {trial.step}  {trial.code:<24} {_caught(trial)}")
        if trial.same_spot:
            _print(f"{'':8}{'':<24} same spot: {', '.join(trial.same_spot)}")
    passing = sum(not trial.caught_by for trial in found.trials)
    _print(f"{len(found.trials)} mistakes, {passing} would pass.")
    if found.idle:
        _print(f"No mistake fails: {', '.join(found.idle)}.")
    drag = f"{number(found.drag.length)} {unit.length} and {number(found.drag.angle)} {unit.angle}"
    _print(f"A drag may end off by {drag}.")
    if found.typing:
        _print(f"These ask for typing: {', '.join(found.typing)}.")


def _caught(trial: Trial) -> str:
    if trial.caught_by:
        return f"caught by {', '.join(trial.caught_by)}"
    if trial.tighter is None:
        return "would pass; no check sees it"
    return f"would pass; {trial.tighter.check} would catch it with a tolerance of {number(trial.tighter.tolerance)}"


@app.command("openapi")
def openapi_command() -> None:
    """Print the description of the web API, from which the screens' client is generated."""
    from cubedrill.api.app import create_app  # noqa: PLC0415 - the web side is not needed to replay or check

    typer.echo(json.dumps(create_app(Settings(database_url="")).openapi(), indent=1, ensure_ascii=False))


person_app = typer.Typer(no_args_is_help=True, help="People of an installation.")
app.add_typer(person_app, name="person")


@person_app.callback()
def person_commands() -> None:
    """People of an installation."""


@person_app.command("add")
def person_add_command(
    name: Annotated[str, typer.Argument(metavar="NAME", help="The whole name.")],
    sign_in: Annotated[str, typer.Argument(metavar="SIGN-IN", help="What she signs in with.")],
    email: Annotated[str, typer.Option("--email", help="An e-mail address.")] = "",
) -> None:
    """Add an instructor, who makes classes and brings others in; prints her one-time password."""
    from datetime import UTC, datetime  # noqa: PLC0415 - the database is not needed to replay or check

    from sqlalchemy.orm import Session  # noqa: PLC0415

    from cubedrill.service.errors import RefusedError  # noqa: PLC0415
    from cubedrill.service.members import add_instructor  # noqa: PLC0415
    from cubedrill.serving import prepare  # noqa: PLC0415
    from cubedrill.store.database import engine_for  # noqa: PLC0415

    settings = _settings()
    prepare(settings)
    engine = engine_for(settings.database_url)
    try:
        with Session(engine) as db, db.begin():
            slip = add_instructor(db, name, sign_in, email, datetime.now(UTC))
    except RefusedError as error:
        raise _stopped(error.text, REFUSED) from None
    finally:
        engine.dispose()
    _print(f"{slip.name} signs in as {slip.sign_in} with {slip.password}, until {slip.until:%d %B %Y}.")


@app.command("serve")
def serve_command(
    host: str = "127.0.0.1",
    port: int = 8400,
    *,
    work: Annotated[bool, typer.Option(help="Do what takes longer too; else leave it to cube-drill work.")] = True,
) -> None:
    """Serve the screens and the API; the database is named by CUBE_DRILL_DATABASE_URL."""
    _serve(_settings(), host, port, work=work)


@app.command("work")
def work_command() -> None:
    """Work out causes of large work and judge again, for servers that leave it to others; any number may."""
    from cubedrill.serving import work  # noqa: PLC0415

    work(_settings())


@app.command("demo")
def demo_command(host: str = "127.0.0.1", port: int = 8400, *, known_password: bool = False) -> None:
    """Load Saltmere Harbour into the database named by CUBE_DRILL_DATABASE_URL, and serve it.

    On an address that others can reach it is served with --known-password alone: everybody knows the password.
    """
    from sqlalchemy.orm import Session  # noqa: PLC0415

    from cubedrill.demo.load import PASSWORD, SHOWN_SIGN_INS, load_demo  # noqa: PLC0415
    from cubedrill.serving import have_loaded, prepare  # noqa: PLC0415
    from cubedrill.store.database import engine_for  # noqa: PLC0415

    if host not in LOOPBACK and not known_password:
        raise _stopped(f"Everybody knows the demo's password; to serve it at {host} say --known-password.", UNREADABLE)
    settings = _settings()
    have_loaded()
    prepare(settings)
    with Session(engine_for(settings.database_url)) as db, db.begin():
        load_demo(db)
    typer.echo(f"Cube Drill is at http://{host}:{port}")
    typer.echo(f"Sign in as {', '.join(SHOWN_SIGN_INS)} (the first two are instructors); the password is {PASSWORD}")
    _serve(settings, host, port)


def _settings() -> Settings:
    try:
        return settings_from()
    except SettingsError as error:
        raise _stopped(str(error), UNREADABLE) from None


def _serve(settings: Settings, host: str, port: int, *, work: bool = True) -> None:
    from cubedrill.serving import serve  # noqa: PLC0415

    serve(settings, host, port, work=work)
