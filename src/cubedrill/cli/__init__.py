"""The command line. Each command imports what it needs, so that `cube-drill --help` answers at once."""

from __future__ import annotations

from importlib.util import find_spec
from pathlib import Path
from typing import Annotated

import typer

from cubedrill.core.geometry import choices

STEPS_HELP = "A step list, a text with one sentence per line, or a scene file."

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
    from cubedrill.cli.files import replay_file

    replay_file(exercise_file, steps_file, _chosen(up, handedness, length), every=every, as_json=as_json)


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
    from cubedrill.cli.files import check_files

    check_files(exercise_file, submissions, _chosen(up, handedness, length), (as_json, csv_file), jobs)


@app.command("convert")
def convert_command(
    source: Annotated[Path, typer.Argument(metavar="IN", help="A scene file, an exercise or a submission of a scene.")],
    to: Annotated[Path, typer.Argument(metavar="OUT", help="The file to write; its suffix gives the kind.")],
    up: Up = None,
    handedness: Handedness = None,
    length: Length = None,
) -> None:
    """Convert a scene file to another kind; conventions apply to whichever of the two files does not fix its own."""
    from cubedrill.cli.files import convert_file

    convert_file(source, to, _chosen(up, handedness, length))


@app.command("separate")
def separate_command(exercise_file: ExerciseFile, as_json: AsJson = False) -> None:
    """Show which typical mistakes the checks of an exercise catch, and which would pass."""
    from cubedrill.cli.files import separate_file

    separate_file(exercise_file, as_json=as_json)


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
    from cubedrill.cli.files import say_steps

    say_steps(steps_file, exercise_file, as_json=as_json)


@app.command("schema")
def schema_command(
    name: Annotated[str, typer.Argument(help="One of: exercise, submission.")],
) -> None:
    """Print the JSON Schema of a file format."""
    from cubedrill.cli.files import print_schema

    print_schema(name)


@app.command("openapi")
def openapi_command() -> None:
    """Print the description of the web API, from which the screens' client is generated."""
    _require_server()
    from cubedrill.cli import server

    server.print_openapi()


person_app = typer.Typer(no_args_is_help=True, help="People of an installation.", rich_markup_mode=None)
app.add_typer(person_app, name="person")


@person_app.callback()
def person_commands() -> None:
    """People of an installation."""


@person_app.command("add")
def person_add_command(
    name: Annotated[str, typer.Argument(metavar="NAME", help="Full name.")],
    username: Annotated[str, typer.Argument(metavar="USERNAME", help="Username.")],
    email: Annotated[str, typer.Option("--email", help="E-mail address.")] = "",
) -> None:
    """Add an instructor, who can make classes and add people; prints a one-time password."""
    _require_server()
    from cubedrill.cli import server

    server.add_person(name, username, email)


@app.command("serve")
def serve_command(
    host: str = "127.0.0.1",
    port: int = 8400,
    *,
    work: Annotated[bool, typer.Option(help="Also run jobs; otherwise cube-drill work runs them.")] = True,
) -> None:
    """Serve the screens and the API; the database is named by CUBE_DRILL_DATABASE_URL."""
    _require_server()
    from cubedrill.cli import server

    server.serve(host, port, work=work)


@app.command("work")
def work_command() -> None:
    """Do long work (causes of large submissions, re-checks) for servers that leave it to others; run any number."""
    _require_server()
    from cubedrill.cli import server

    server.work()


@app.command("jobs")
def jobs_command(
    retry: Annotated[int | None, typer.Option("--retry", metavar="ID", help="Retry a failed job.")] = None,
) -> None:
    """List the jobs that wait, run or failed, and why."""
    _require_server()
    from cubedrill.cli import server

    server.jobs(retry)


@app.command("demo")
def demo_command(host: str = "127.0.0.1", port: int = 8400, *, known_password: bool = False) -> None:
    """Load Saltmere Harbour into the database named by CUBE_DRILL_DATABASE_URL, and serve it.

    On an address that others can reach, this needs --known-password: everybody knows the demo's password.
    """
    _require_server()
    from cubedrill.cli import server

    server.demo(host, port, known_password=known_password)


def _chosen(up: str | None, handedness: str | None, length: str | None) -> dict[str, str]:
    """Return the conventions that were given, by their names."""
    given = {"up": up, "handedness": handedness, "length": length}
    return {name: value for name, value in given.items() if value is not None}


def _require_server() -> None:
    """Stop with a sentence if only the library is installed."""
    if find_spec("fastapi") is None:
        from cubedrill.cli.printing import UNREADABLE, stopped

        sentence = "This command needs the server. Run pip install 'cube-drill[server]'."
        raise stopped(sentence, UNREADABLE)
