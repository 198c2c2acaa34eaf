"""The tasks of the job queue."""

from __future__ import annotations

import logging
from datetime import UTC, datetime, timedelta
from typing import Any, Final

from procrastinate import App, JobContext, PsycopgConnector, RetryStrategy
from sqlalchemy import Engine, make_url

from cubedrill.service.marks.causes import explain
from cubedrill.service.marks.rechecks import recheck
from cubedrill.service.people.accounts import clean_up
from cubedrill.store.jobs import CLEAN_UP, EXPLAIN, RECHECK, JobKind, delete_old_failures, note_failure

_LOG: Final = logging.getLogger(__name__)
NIGHTLY: Final = "17 3 * * *"  # by the clock of UTC
FAILURES_KEPT: Final = timedelta(days=14)


def app_for(database_url: str) -> App:
    """Return the queue of a database with all tasks."""
    address = make_url(database_url).set(drivername="postgresql").render_as_string(hide_password=False)
    app = App(connector=PsycopgConnector(conninfo=address))

    @app.task(
        name=EXPLAIN.name, queue=EXPLAIN.queue, priority=EXPLAIN.priority, retry=_retry(EXPLAIN), pass_context=True
    )
    def explain_submission(context: JobContext, submission: int) -> None:
        explain(_engine(context), submission)

    @app.task(
        name=RECHECK.name, queue=RECHECK.queue, priority=RECHECK.priority, retry=_retry(RECHECK), pass_context=True
    )
    def recheck_submission(context: JobContext, recheck_id: int, submission: int) -> None:
        recheck(_engine(context), recheck_id, submission)

    @app.periodic(cron=NIGHTLY)
    @app.task(
        name=CLEAN_UP.name, queue=CLEAN_UP.queue, priority=CLEAN_UP.priority, retry=_retry(CLEAN_UP), pass_context=True
    )
    def clean_everything_up(context: JobContext, timestamp: int) -> None:  # noqa: ARG001 - the queue gives it
        engine = _engine(context)
        clean_up(engine, datetime.now(UTC))
        with engine.begin() as connection:
            delete_old_failures(connection, FAILURES_KEPT)

    return app


def _retry(kind: JobKind) -> RetryStrategy:
    return RetryStrategy(max_attempts=kind.attempts, exponential_wait=3)


def _engine(context: JobContext) -> Engine:
    engine: Engine = context.additional_context["engine"]
    return engine


def noting_failures(call_next: Any, context: JobContext, _worker: Any) -> Any:
    """Run a task; record why it failed, if it does."""
    try:
        return call_next()
    except Exception as error:
        _LOG.exception("job %s (%s) failed", context.job.id, context.job.call_string)
        with _engine(context).begin() as connection:
            note_failure(connection, context.job.id or 0, f"{type(error).__name__}: {error}"[:500])
        raise
