"""Commands of the server: people, serving, long work, the demo."""

from __future__ import annotations

import json
import multiprocessing
from datetime import UTC, datetime

import typer
from alembic.util import CommandError
from sqlalchemy.orm import Session

from cubedrill import serving
from cubedrill.cli.printing import REFUSED, UNREADABLE, print_line, stopped
from cubedrill.demo.load import PASSWORD, SHOWN_SIGN_INS, load_demo
from cubedrill.service.errors import RefusedError
from cubedrill.service.people.members import add_instructor
from cubedrill.settings import Settings, SettingsError, settings_from
from cubedrill.store.database import engine_for
from cubedrill.store.jobs import jobs_of, retry_job

LOOPBACK = ("127.0.0.1", "::1", "localhost")


def print_openapi() -> None:
    """Print the description of the web API."""
    from cubedrill.api.app import create_app  # noqa: PLC0415 - the routes take longest to import

    typer.echo(json.dumps(create_app(Settings(database_url="")).openapi(), indent=1, ensure_ascii=False))


def add_person(name: str, username: str, email: str) -> None:
    """Add an instructor, and print a one-time password."""
    settings = _settings()
    serving.prepare(settings)
    engine = engine_for(settings.database_url)
    try:
        with Session(engine) as db, db.begin():
            slip = add_instructor(db, name, username, email, datetime.now(UTC))
    except RefusedError as error:
        raise stopped(error.text, REFUSED) from None
    finally:
        engine.dispose()
    print_line(f"{slip.name} can sign in as {slip.sign_in} with {slip.password} until {slip.until:%d %B %Y}.")


def serve(host: str, port: int, *, work: bool) -> None:
    """Serve the screens and the API."""
    serving.serve(_settings(), host, port, work=work)


def work() -> None:
    """Do long work until stopped."""
    serving.work(_settings())


def jobs(retry: int | None) -> None:
    """List the jobs that wait, run or failed; retry: of a failed one that is to run again."""
    engine = engine_for(_settings().database_url)
    with engine.begin() as connection:
        if retry is not None and not retry_job(connection, retry):
            raise stopped(f"Job {retry} has not failed. cube-drill jobs lists failed jobs.", REFUSED)
        found = jobs_of(connection)
    engine.dispose()
    for job in found:
        args = ", ".join(f"{name} {value}" for name, value in job.args.items())
        since = "" if job.since is None else f"since {job.since:%Y-%m-%d %H:%M:%S} UTC"
        print_line("  ".join(filter(None, (str(job.id), job.state, job.kind, args, since, job.why))))
    if not found:
        print_line("No jobs are waiting, running or failed.")


def demo(host: str, port: int, *, known_password: bool) -> None:
    """Load the demo, and serve it."""
    if host not in LOOPBACK and not known_password:
        raise stopped(f"The demo's password is public. To serve the demo at {host}, add --known-password.", UNREADABLE)
    settings = _settings()
    try:
        serving.prepare(settings)
    except CommandError:
        sentence = (
            "This database belongs to another version of Cube Drill. Start with an empty one (./run demo --fresh)."
        )
        raise stopped(sentence, UNREADABLE) from None
    # In a process of its own: reading files starts helpers, which the web processes must not inherit.
    loading = multiprocessing.get_context("fork").Process(target=_load_demo, args=(settings.database_url,))
    loading.start()
    loading.join()
    if loading.exitcode:
        raise typer.Exit(loading.exitcode)
    typer.echo(f"Cube Drill is at http://{host}:{port}")
    typer.echo(f"Sign in as {', '.join(SHOWN_SIGN_INS)} (the first two are instructors); the password is {PASSWORD}")
    serving.serve(settings, host, port)


def _load_demo(database_url: str) -> None:
    with Session(engine_for(database_url)) as db, db.begin():
        load_demo(db)


def _settings() -> Settings:
    try:
        return settings_from()
    except SettingsError as error:
        raise stopped(str(error), UNREADABLE) from None
