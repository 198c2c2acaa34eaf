"""Doing the jobs that wait, as a worker does them."""

import asyncio
from concurrent.futures import ThreadPoolExecutor

from sqlalchemy import Engine

from cubedrill.jobs.tasks import app_for
from cubedrill.jobs.worker import OPTIONS


def do_all(engine: Engine) -> None:
    """Do every job that waits, then return."""

    async def run() -> None:
        app = app_for(engine.url.render_as_string(hide_password=False))
        async with app.open_async():
            context = {"engine": engine}
            await app.run_worker_async(**OPTIONS, wait=False, listen_notify=False, additional_context=context)

    with ThreadPoolExecutor(1) as apart:  # the browser's own event loop may run in this thread
        apart.submit(lambda: asyncio.run(run())).result()
