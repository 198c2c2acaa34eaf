"""Serving: as many processes as there are cores for what is asked, and one for what takes longer; they end together.

What answers and what works is imported once, by a process that does nothing else: all others are copies of it, so that
one that dies is replaced at once. The process that keeps them has no use for it.
"""

# ruff: noqa: PLC0415

from __future__ import annotations

import gc
import logging
import multiprocessing
import os
import signal
import threading
from multiprocessing import forkserver
from multiprocessing.process import BaseProcess
from typing import Final

import uvicorn
import uvicorn._subprocess
from fastapi import FastAPI
from uvicorn.supervisors import Multiprocess

from cubedrill.settings import Settings, settings_from
from cubedrill.store.database import let_work, migrate, one_at_a_time

LOADED: Final = ("cubedrill.api.app", "cubedrill.jobs.worker", "scipy.optimize", "scipy.sparse.csgraph")
SELDOM: Final = (20_000, 20, 50)  # objects made, then younger rounds: a whole round holds all requests up
GIVES_WAY: Final = 10  # of nice(1): who waits for an answer comes before who will read why later
LOOK_S: Final = 0.2
HEALTH_S: Final = 60  # so long may a process be busy before it is taken for stuck

_COPIES: Final = multiprocessing.get_context("forkserver")


def serve(settings: Settings, host: str, port: int, *, work: bool = True) -> None:
    """Serve until told to end; the settings are those of the environment, which the processes read for themselves.

    work: whether to do what takes longer too, or leave that to others.
    """
    have_loaded()
    prepare(settings)
    config = uvicorn.Config(
        f"{__name__}:app_of_a_process",
        factory=True,
        host=host,
        port=port,
        workers=settings.processes,
        log_level="warning",
        access_log=False,
        server_header=False,
        proxy_headers=bool(settings.proxies),
        forwarded_allow_ips=",".join(settings.proxies),
        timeout_worker_healthcheck=HEALTH_S,
    )
    ended = threading.Event()
    keeper = threading.Thread(target=_keep_working, args=(settings.database_url, ended))
    if work:
        keeper.start()
    try:
        # Not uvicorn.run, which would answer in this process where one is to answer.
        Multiprocess(config, sockets=[config.bind_socket()]).run()
    finally:
        ended.set()
        if work:
            keeper.join()


def work(settings: Settings) -> None:
    """Do what takes longer than an answer may, until told to end; any number of machines may."""
    have_loaded()
    prepare(settings)
    ended = threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: ended.set())
    _keep_working(settings.database_url, ended)


def prepare(settings: Settings) -> None:
    """Bring the database to the newest tables, as its owner, and let the role that serves work with them.

    Processes that start at the same time do it one after the other.
    """
    owner_url = settings.owner_url or settings.database_url
    with one_at_a_time(owner_url):
        migrate(owner_url)
        let_work(owner_url, settings.database_url)


def have_loaded() -> None:
    """Begin to import what the processes need, while this one goes on.

    To be called before the first file is read: those that read come from the same one.
    """
    _COPIES.set_forkserver_preload(list(LOADED))
    forkserver.ensure_running()
    # Uvicorn has no setting for where its processes come from. Where it calls this otherwise one day, they only begin
    # more slowly.
    uvicorn._subprocess.spawn = _COPIES  # type: ignore[assignment]


def app_of_a_process() -> FastAPI:
    """Return the application for one of the processes that answer."""
    from cubedrill.api.app import create_app
    from cubedrill.api.edge.errors import ACCESS

    _end_with_parent()
    settings = settings_from()
    if settings.access_log is not None:
        ACCESS.addHandler(logging.FileHandler(settings.access_log, delay=True))
        ACCESS.setLevel(logging.INFO)
        ACCESS.propagate = False
    app = create_app(settings)
    gc.freeze()  # what is there now stays, and need not be looked through again
    gc.set_threshold(*SELDOM)
    return app


def _keep_working(database_url: str, ended: threading.Event) -> None:
    """Have a process that does what takes longer, and another one where it dies."""
    while not ended.is_set():
        process = _COPIES.Process(target=_work, args=(database_url,))
        process.start()
        while process.is_alive() and not ended.wait(LOOK_S):
            pass
        process.terminate()
        process.join()


def _work(database_url: str) -> None:
    from cubedrill.jobs.worker import work_until_killed

    _end_with_parent()
    os.nice(GIVES_WAY)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is told to the parent, which ends this one
    work_until_killed(database_url)


def _end_with_parent() -> None:
    """End this process as soon as the one that keeps it is gone, however that came about: nobody answers without it."""
    parent = multiprocessing.parent_process()
    if parent is not None:  # whoever started this one may end without it
        threading.Thread(target=_end_after, args=(parent,), daemon=True).start()


def _end_after(parent: BaseProcess) -> None:
    parent.join()
    os.kill(os.getpid(), signal.SIGKILL)
