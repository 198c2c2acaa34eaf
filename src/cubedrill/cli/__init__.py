"""The command line. Each command imports what it needs, so that `cube-drill --help` answers at once."""

from __future__ import annotations

from importlib.util import find_spec
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from cubedrill.core.geometry import choices

if TYPE_CHECKING:
    from cubedrill.settings import Settings

REFUSED = 1  # a step cannot be done
UNREADABLE = 2  # a file cannot be used
LOOPBACK = ("127.0.0.1", "::1", "localhost")

STEPS_HELP = "A submission of kind steps, a text with a sentence a line, or a scene file of any kind."

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False, rich_markup_mode=None)

ExerciseFile = Annotated[Path, typer.Argument(metavar="EXERCISE", help="An exercise file.")]
Up = Annotated[choices.Up | None, typer.Option("--up", help="The axis that points up, if a file does not say.")]
Handedness = Annotated[
    choices.Handedness | None, typer.Option("--handedness", help="The handedness, if a file does not say.")
]
Length = Annotated[choices.Length | None, typer.Option("--length", help="The unit of length, if a file does not say.")]
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
    """Replay steps (by default the reference) and print each object's numbers.

    A scene file of any kind, or a table of transforms, is printed in the exercise's axes.
    """
    from cubedrill.cli.printing import print_json, print_state
    from cubedrill.core.errors import CoreError
    from cubedrill.core.judging.exercise import require_offered
    from cubedrill.core.judging.submission import handed
    from cubedrill.core.steps.replay import readings_of, replay
    from cubedrill.formats.apart import load_beforehand
    from cubedrill.formats.documents import (
        FormatError,
        bytes_of,
        is_of_a_program,
        read_exercise,
        read_steps,
        submission_in,
    )
    from cubedrill.formats.outputs import error_output, replay_output

    load_beforehand(__name__)
    try:
        exercise = read_exercise(exercise_file)
        submission = None
        steps = exercise.reference.steps if exercise.reference else ()
        if steps_file and is_of_a_program(content := bytes_of(steps_file)):
            chosen = _chosen(up, handedness, length)
            submission, steps = submission_in(content, steps_file.name, exercise, chosen).document, ()
        elif steps_file:
            steps = read_steps(steps_file, exercise).steps
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    try:
        require_offered(exercise.rules, steps)
        start = exercise.start_scene()
        scene = handed(start, exercise.target_scene(), submission).scene if submission else start
        states = replay(scene, steps)
        readings = readings_of(states, every)
    except CoreError as error:
        if as_json:
            print_json(error_output(error))
        raise _stopped(error.text, REFUSED) from None
    if as_json:
        print_json(replay_output(readings, exercise.conventions, len(steps), every))
        return
    first = 0 if every else len(steps)
    for step, (state, reading) in enumerate(zip(states[first:], readings, strict=True), first):
        print_state(step, state, reading)


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
        int | None, typer.Option("--jobs", min=1, help="The largest number of processes (default: one per core).")
    ] = None,
) -> None:
    """Check submissions of an exercise: steps, sheets and scene files of any kind, single files or folders."""
    from cubedrill.cli.printing import print_json, print_report, tracked
    from cubedrill.formats.apart import load_beforehand
    from cubedrill.formats.documents import FormatError, read_exercise
    from cubedrill.formats.folder import submission_files
    from cubedrill.formats.table import write_marks
    from cubedrill.library.batch import Batch, lines_of, marks_of

    load_beforehand(__name__)
    if as_json and csv_file:
        raise _stopped("Choose one of --json and --csv.", UNREADABLE)
    try:
        exercise = read_exercise(exercise_file)
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    files = [file for path in submissions for file in (submission_files(path) if path.is_dir() else [path])]
    batch = Batch(exercise, _chosen(up, handedness, length), jobs)
    failures: list[str] = []
    if csv_file is None:
        for line, failure in tracked(lines_of(batch, files), files):
            if failure is not None:
                failures.append(failure)
                _say(failure)
            if as_json:
                print_json(line)
            elif failure is None:
                print_report(line)
    else:
        try:
            with csv_file.open("w", encoding="utf-8", newline="") as stream:
                failures = write_marks(exercise, stream, files, tracked(marks_of(batch, files), files))
        except OSError as error:
            sentence = f"{csv_file} cannot be written ({error.strerror}); choose another file."
            raise _stopped(sentence, UNREADABLE) from None
        for failure in failures:
            _say(failure)
    if failures:
        raise typer.Exit(UNREADABLE)


@app.command("convert")
def convert_command(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A scene file, an exercise or a submission of a scene.")],
    to: Annotated[Path, typer.Argument(metavar="OUT", help="The file to write; its suffix gives the kind.")],
    up: Up = None,
    handedness: Handedness = None,
    length: Length = None,
) -> None:
    """Convert a scene file to another kind; conventions apply to whichever of the two files does not fix its own."""
    from cubedrill.formats.apart import load_beforehand
    from cubedrill.formats.converting import convert
    from cubedrill.formats.documents import FormatError

    load_beforehand(__name__)
    try:
        notes = convert(source, to, _chosen(up, handedness, length))
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    for note in notes:
        _say(f"{source.name}: {note}")


@app.command("separate")
def separate_command(exercise_file: ExerciseFile, as_json: AsJson = False) -> None:
    """Show which typical mistakes the checks of an exercise catch, and which would pass."""
    from cubedrill.cli.printing import print_json, print_separation
    from cubedrill.core.errors import CoreError
    from cubedrill.core.judging.separate import separate
    from cubedrill.formats.documents import FormatError, read_exercise

    try:
        exercise = read_exercise(exercise_file)
        found = separate(exercise, exercise.start_scene(), exercise.target_scene())
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    except CoreError as error:
        raise _stopped(error.text, REFUSED) from None
    if as_json:
        print_json(found.model_dump(mode="json"))
    else:
        print_separation(found, exercise.conventions)


@app.command("say")
def say_command(
    steps_file: Annotated[Path, typer.Argument(metavar="STEPS", help=STEPS_HELP)],
    exercise_file: Annotated[
        Path | None,
        typer.Option("--exercise", metavar="F", help="The exercise whose names, units and start are used."),
    ] = None,
    as_json: AsJson = False,
) -> None:
    """Print steps as sentences, one per line, which read back as the same steps; with --json, as a submission."""
    from cubedrill.cli.printing import out, print_json
    from cubedrill.core.steps.text import written_lines
    from cubedrill.formats.documents import FormatError, read_exercise, read_steps
    from cubedrill.formats.outputs import shown, submission_output

    try:
        exercise = read_exercise(exercise_file) if exercise_file else None
        submission = read_steps(steps_file, exercise)
    except FormatError as error:
        raise _stopped(str(error), UNREADABLE) from None
    if as_json:
        print_json(submission_output(submission))
        return
    for line in written_lines(submission.steps, None if exercise is None else exercise.start_scene()):
        typer.echo(shown(line) if out.is_terminal else line)  # a file gets exactly what is read back


@app.command("schema")
def schema_command(
    name: Annotated[str, typer.Argument(help="One of: exercise, submission.")],
) -> None:
    """Print the JSON Schema of a file format."""
    import json

    from cubedrill.formats.documents import SCHEMAS

    if name not in SCHEMAS:
        raise _stopped(f"There is no schema {name}; choose one of {', '.join(SCHEMAS)}.", UNREADABLE)
    typer.echo(json.dumps(SCHEMAS[name].json_schema(), indent=2))


@app.command("openapi")
def openapi_command() -> None:
    """Print the description of the web API, from which the screens' client is generated."""
    _require_server()
    import json

    from cubedrill.api.app import create_app
    from cubedrill.settings import Settings

    typer.echo(json.dumps(create_app(Settings(database_url="")).openapi(), indent=1, ensure_ascii=False))


person_app = typer.Typer(no_args_is_help=True, help="People of an installation.", rich_markup_mode=None)
app.add_typer(person_app, name="person")


@person_app.callback()
def person_commands() -> None:
    """People of an installation."""


@person_app.command("add")
def person_add_command(
    name: Annotated[str, typer.Argument(metavar="NAME", help="The whole name.")],
    username: Annotated[str, typer.Argument(metavar="USERNAME", help="The name to sign in with.")],
    email: Annotated[str, typer.Option("--email", help="An e-mail address.")] = "",
) -> None:
    """Add an instructor, who can make classes and add people; prints a one-time password."""
    _require_server()
    from datetime import UTC, datetime

    from sqlalchemy.orm import Session

    from cubedrill.cli.printing import print_line
    from cubedrill.service.errors import RefusedError
    from cubedrill.service.people.members import add_instructor
    from cubedrill.serving import prepare
    from cubedrill.store.database import engine_for

    settings = _settings()
    prepare(settings)
    engine = engine_for(settings.database_url)
    try:
        with Session(engine) as db, db.begin():
            slip = add_instructor(db, name, username, email, datetime.now(UTC))
    except RefusedError as error:
        raise _stopped(error.text, REFUSED) from None
    finally:
        engine.dispose()
    print_line(f"{slip.name} signs in as {slip.sign_in} with {slip.password}, until {slip.until:%d %B %Y}.")


@app.command("serve")
def serve_command(
    host: str = "127.0.0.1",
    port: int = 8400,
    *,
    work: Annotated[bool, typer.Option(help="Also do long work; otherwise leave it to cube-drill work.")] = True,
) -> None:
    """Serve the screens and the API; the database is named by CUBE_DRILL_DATABASE_URL."""
    _require_server()
    _serve(_settings(), host, port, work=work)


@app.command("work")
def work_command() -> None:
    """Do long work (causes of large submissions, re-checks) for servers that leave it to others; run any number."""
    _require_server()
    from cubedrill.serving import work

    work(_settings())


@app.command("demo")
def demo_command(host: str = "127.0.0.1", port: int = 8400, *, known_password: bool = False) -> None:
    """Load Saltmere Harbour into the database named by CUBE_DRILL_DATABASE_URL, and serve it.

    On an address that others can reach, this needs --known-password: everybody knows the demo's password.
    """
    _require_server()
    from alembic.util import CommandError
    from sqlalchemy.orm import Session

    from cubedrill.demo.load import PASSWORD, SHOWN_SIGN_INS, load_demo
    from cubedrill.serving import have_loaded, prepare
    from cubedrill.store.database import engine_for

    if host not in LOOPBACK and not known_password:
        raise _stopped(f"Everybody knows the demo's password; to serve it at {host}, add --known-password.", UNREADABLE)
    settings = _settings()
    have_loaded()
    try:
        prepare(settings)
    except CommandError:
        sentence = "Another version of Cube Drill made this database; start with an empty one (./run demo --fresh)."
        raise _stopped(sentence, UNREADABLE) from None
    with Session(engine_for(settings.database_url)) as db, db.begin():
        load_demo(db)
    typer.echo(f"Cube Drill is at http://{host}:{port}")
    typer.echo(f"Sign in as {', '.join(SHOWN_SIGN_INS)} (the first two are instructors); the password is {PASSWORD}")
    _serve(settings, host, port)


def _chosen(up: str | None, handedness: str | None, length: str | None) -> dict[str, str]:
    """Return the conventions that were given, by their names."""
    given = {"up": up, "handedness": handedness, "length": length}
    return {name: value for name, value in given.items() if value is not None}


def _say(sentence: str) -> None:
    """Print a sentence to standard error, its control characters escaped."""
    from cubedrill.cli.printing import err
    from cubedrill.formats.outputs import shown

    err.print(shown(sentence), markup=False, highlight=False, soft_wrap=True)


def _stopped(sentence: str, status: int) -> typer.Exit:
    _say(sentence)
    return typer.Exit(status)


def _require_server() -> None:
    """Stop with a sentence if only the library is installed."""
    if find_spec("fastapi") is None:
        sentence = "This command needs the server, which is not installed; run pip install 'cube-drill[server]'."
        raise _stopped(sentence, UNREADABLE)


def _settings() -> Settings:
    from cubedrill.settings import SettingsError, settings_from

    try:
        return settings_from()
    except SettingsError as error:
        raise _stopped(str(error), UNREADABLE) from None


def _serve(settings: Settings, host: str, port: int, *, work: bool = True) -> None:
    from cubedrill.serving import serve

    serve(settings, host, port, work=work)
