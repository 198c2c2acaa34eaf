"""Serving: gunicorn keeps as many web processes as there are cores, and a process for jobs runs beside it.

The application is imported once and the web processes are forked from it, so a dead one is replaced at once. All
processes end together.
"""

# ruff: noqa: PLC0415

from __future__ import annotations

import ctypes
import gc
import logging
import os
import signal
import subprocess
import sys
import threading
from typing import TYPE_CHECKING, Final

from cubedrill.settings import Settings
from cubedrill.store.database import let_work, migrate, one_at_a_time

if TYPE_CHECKING:
    from fastapi import FastAPI
    from gunicorn.app.base import BaseApplication

SELDOM: Final = (20_000, 20, 50)  # objects made, then younger rounds: a whole round holds all requests up
GIVES_WAY: Final = 10  # of nice(1): who waits for an answer comes before who will read why later
LOOK_S: Final = 0.2
STUCK_S: Final = 60  # so long may a process be busy before it is taken for stuck
_PR_SET_PDEATHSIG: Final = 1  # Linux, prctl(2)


def serve(settings: Settings, host: str, port: int, *, work: bool = True) -> None:
    """Serve until stopped; work: whether to do jobs too, or leave them to `cube-drill work`."""
    prepare(settings)
    ended = threading.Event()
    jobs = threading.Thread(target=_keep_working, args=(ended,))
    if work:
        jobs.start()
    try:
        _web(settings, f"[{host}]:{port}" if ":" in host else f"{host}:{port}").run()
    finally:
        ended.set()
        if work:
            jobs.join()


def _web(settings: Settings, address: str) -> BaseApplication:
    """Return what gunicorn runs: the application, and how it is served."""
    from gunicorn.app.base import BaseApplication
    from uvicorn_worker import UvicornWorker

    class WebWorker(UvicornWorker):  # type: ignore[misc]
        CONFIG_KWARGS: Final[dict[str, object]] = {
            **UvicornWorker.CONFIG_KWARGS,
            "access_log": False,
            "server_header": False,
            "proxy_headers": bool(settings.proxies),
            "forwarded_allow_ips": ",".join(settings.proxies),
        }

    options: dict[str, object] = {
        "bind": address,
        "workers": settings.processes,
        "worker_class": WebWorker,
        "preload_app": True,
        "timeout": STUCK_S,
        "loglevel": "warning",
        "control_socket_disable": True,
        # What is there now stays, and need not be looked through again.
        "pre_fork": lambda _server, _worker: gc.freeze(),
        "post_fork": lambda server, _worker: end_with_parent(server.pid),
    }

    class Web(BaseApplication):  # type: ignore[misc]
        def load_config(self) -> None:
            for name, value in options.items():
                self.cfg.set(name, value)

        def load(self) -> FastAPI:
            return _application(settings)

    return Web()


def work(settings: Settings) -> None:
    """Do jobs until stopped; on any number of machines."""
    from cubedrill.jobs.worker import work_until_killed

    prepare(settings)
    work_until_killed(settings.database_url)


def work_for(server: int) -> None:
    """Do jobs beside a server process, by its id, until it ends."""
    from cubedrill.jobs.worker import work_until_killed
    from cubedrill.settings import settings_from

    end_with_parent(server)
    os.nice(GIVES_WAY)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C reaches the server, which ends this process
    work_until_killed(settings_from().database_url)


def prepare(settings: Settings) -> None:
    """Bring the database to the newest tables, as its owner, and let the role that serves work with them.

    Processes that start at the same time do it one after the other.
    """
    owner_url = settings.owner_url or settings.database_url
    with one_at_a_time(owner_url):
        migrate(owner_url)
        let_work(owner_url, settings.database_url)


def end_with_parent(parent: int) -> None:
    """Have the kernel kill this process when its parent dies, however that comes about: nobody answers without it."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != parent:  # it died before
        os.kill(os.getpid(), signal.SIGKILL)


def _application(settings: Settings) -> FastAPI:
    """Return the application that the web processes share; their connections open when they start."""
    from cubedrill.api.app import create_app
    from cubedrill.api.edge.errors import ACCESS

    if settings.access_log is not None:
        ACCESS.addHandler(logging.FileHandler(settings.access_log, delay=True))
        ACCESS.setLevel(logging.INFO)
        ACCESS.propagate = False
    gc.set_threshold(*SELDOM)
    return create_app(settings)


def _keep_working(ended: threading.Event) -> None:
    """Run a process that does jobs, and another one when it dies."""
    command = [sys.executable, "-c", f"from {__name__} import work_for; work_for({os.getpid()})"]
    while not ended.is_set():
        process = subprocess.Popen(command)
        while process.poll() is None and not ended.wait(LOOK_S):
            pass
        process.kill()
        process.wait()
