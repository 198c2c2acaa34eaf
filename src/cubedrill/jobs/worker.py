"""A worker: takes jobs from the queue until the process ends. Any number may run, on any number of machines."""

from __future__ import annotations

import asyncio
import logging
from typing import Any, Final

import psycopg
from procrastinate import App
from procrastinate.exceptions import ProcrastinateException
from sqlalchemy import Engine

from cubedrill.jobs.tasks import app_for, noting_failures
from cubedrill.store.database import engine_for

_LOG: Final = logging.getLogger(__name__)
HEARTBEAT_S: Final = 2.0
STALLED_S: Final = 10.0  # without a heartbeat: then a worker counts as dead, and its job is for others
REST_S: Final = 2.0  # before the database is tried again

OPTIONS: Final[dict[str, Any]] = {
    "concurrency": 1,
    "delete_jobs": "successful",
    "install_signal_handlers": False,  # a worker may be killed at any moment; its job is retried
    "update_heartbeat_interval": HEARTBEAT_S,
    "stalled_worker_timeout": STALLED_S,
    "task_middleware": [noting_failures],
}


def work_until_killed(database_url: str) -> None:
    """Do jobs as they come, also when the database was away."""
    engine = engine_for(database_url)
    while True:
        try:
            asyncio.run(_work(database_url, engine))
        except (psycopg.Error, ProcrastinateException, OSError) as error:
            _LOG.warning("no jobs are done until the database is back: %s", error)
        asyncio.run(asyncio.sleep(REST_S))


async def _work(database_url: str, engine: Engine) -> None:
    app = app_for(database_url)
    async with app.open_async():
        retrying = asyncio.create_task(_retry_stalled(app))
        try:
            await app.run_worker_async(**OPTIONS, additional_context={"engine": engine})
        finally:
            retrying.cancel()


async def _retry_stalled(app: App) -> None:
    """Give jobs of workers that died to others, again and again."""
    while True:
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_S):
            _LOG.warning("the worker of job %s died; it is tried again", job.id)
            await app.job_manager.retry_job(job)
        await asyncio.sleep(STALLED_S / 2)
