"""Live boards: an open board receives its changes, whichever process made them.

One connection of each process listens to the database. Notifications carry no data; it is read from tables. After a
lost connection every viewer loads the whole board again, so nothing is missed.
"""

from __future__ import annotations

import asyncio
import json
import logging
import signal
import threading
from collections.abc import AsyncIterator, Awaitable, Callable, Iterator
from contextlib import asynccontextmanager, contextmanager, suppress
from typing import Any, Final

import anyio.to_thread
import psycopg
from sqlalchemy import make_url

from cubedrill.service.marks.board import MOST_CHANGED
from cubedrill.service.marks.responses import ChangedResponse
from cubedrill.store.news.live import CHANNEL, BoardChange, payloads

_LOG: Final = logging.getLogger(__name__)
MOST_LOOKING: Final = 300  # in a process
GATHERED_S: Final = 0.25  # so long changes are gathered before they are told
PASSED_ON_S: Final = 0.1
STILL_S: Final = 15.0  # after so long without a change a line is sent, so that nothing in between closes the way
AGAIN_S: Final = 1.0

Key = tuple[int, int]


class Looking:
    """A viewer of one class, and the cells that changed since the last event."""

    def __init__(self, class_id: int) -> None:
        self.class_id = class_id
        self.changed: set[Key] = set()
        self.again = True
        self.woken = asyncio.Event()

    def tell(self, key: Key | None) -> None:
        """Note a change; none, or too many: the whole board is to be asked for again."""
        if key is None or len(self.changed) >= MOST_CHANGED:
            self.again = True
            self.changed.clear()
        elif not self.again:
            self.changed.add(key)
        self.woken.set()


class Hub:
    """Those who look on in this process."""

    def __init__(self) -> None:
        self.loop = asyncio.get_running_loop()
        self.looking: set[Looking] = set()
        self.closed = False
        self.to_pass_on: set[BoardChange] = set()
        self.opening = 0
        self.reading = asyncio.Semaphore(1)  # one at a time reads, however many look on

    def tell(self, class_id: int | None, key: Key | None) -> None:
        """Tell viewers at a class, or at any."""
        for each in self.looking:
            if class_id is None or each.class_id == class_id:
                each.tell(key)

    def pass_on(self, changes: set[BoardChange]) -> None:
        """Have the other processes, and this one, told of changes; called from any thread."""
        if changes:
            self.loop.call_soon_threadsafe(self._add, changes)

    def _add(self, changes: set[BoardChange]) -> None:
        self.to_pass_on |= changes

    async def open(self, may_look: Callable[[], None]) -> None:
        """Wait for one's turn, and raise what refuses somebody who may not look on.

        One at a time asks the database, however many open a stream at once: requests need the other connections.
        """
        self.opening += 1
        try:
            async with self.reading:
                await anyio.to_thread.run_sync(may_look)
        finally:
            self.opening -= 1

    def close(self) -> None:
        """End all streams: nobody can stop while one is open."""
        self.closed = True
        self.tell(None, None)

    async def stream(self, class_id: int, read: Callable[[set[Key]], ChangedResponse | None]) -> AsyncIterator[str]:
        """Yield events while somebody watches. read: returns the changed cells, or none if access has ended."""
        looking = Looking(class_id)
        looking.woken.set()
        self.looking.add(looking)
        try:
            while not self.closed:
                try:
                    await asyncio.wait_for(looking.woken.wait(), STILL_S)
                except TimeoutError:
                    yield ": still here\n\n"
                    continue
                looking.woken.clear()
                if looking.again:
                    looking.again = False
                    looking.changed.clear()
                    yield "event: again\ndata: {}\n\n"
                    continue
                await asyncio.sleep(GATHERED_S)
                changed, looking.changed = looking.changed, set()
                async with self.reading:
                    found = await anyio.to_thread.run_sync(read, changed)
                if found is None:
                    return
                yield f"event: cells\ndata: {found.model_dump_json()}\n\n"
        finally:
            self.looking.discard(looking)


@asynccontextmanager
async def watching(database_url: str) -> AsyncIterator[Hub]:
    """Give the hub of a process, which hears of changes until the process ends."""
    hub = Hub()
    tasks = [asyncio.create_task(_for_good(database_url, task, hub)) for task in (_listen, _pass_on)]
    with _closed_on_shutdown(hub):
        yield hub
    hub.close()
    for task in tasks:
        task.cancel()
        with suppress(asyncio.CancelledError):
            await task


async def _for_good(
    database_url: str, task: Callable[[psycopg.AsyncConnection[Any], Hub], Awaitable[None]], hub: Hub
) -> None:
    """Do something on a connection of its own until the process ends, and again on a new one where it is lost."""
    address = make_url(database_url).set(drivername="postgresql").render_as_string(hide_password=False)
    away = False
    while True:
        try:
            connecting = psycopg.AsyncConnection.connect(address, autocommit=True, connect_timeout=10)
            async with await connecting as connection:
                away = False
                await task(connection, hub)
        except (psycopg.Error, OSError) as error:
            if not away:
                _LOG.warning("boards are not told of changes until the database is back: %s", error)
            away = True
        await asyncio.sleep(AGAIN_S)


async def _listen(connection: psycopg.AsyncConnection[Any], hub: Hub) -> None:
    """Hear of changes; whatever was missed before, all ask for their boards again now."""
    await connection.execute(f"listen {CHANNEL}")
    hub.tell(None, None)
    async for notice in connection.notifies():
        for class_id, assignment, person in json.loads(notice.payload):
            hub.tell(class_id, None if assignment is None else (assignment, person))


async def _pass_on(connection: psycopg.AsyncConnection[Any], hub: Hub) -> None:
    """Tell all processes of this one's changes, several at once; what could not be told waits for the next one."""
    await connection.execute("set synchronous_commit = off")  # nothing is kept by it
    while True:
        await asyncio.sleep(PASSED_ON_S)
        changes, hub.to_pass_on = hub.to_pass_on, set()  # what changes again meanwhile is told again
        try:
            for changed in payloads(changes):
                await connection.execute("select pg_notify(%s, %s)", (CHANNEL, changed))
        except psycopg.Error:
            hub.to_pass_on |= changes
            raise


@contextmanager
def _closed_on_shutdown(hub: Hub) -> Iterator[None]:
    """Close the hub when the process is told to end: the server waits for open streams before it ends anything."""
    if threading.current_thread() is not threading.main_thread():  # signals come to the main thread alone
        yield
        return
    loop = asyncio.get_running_loop()
    before = {number: signal.getsignal(number) for number in (signal.SIGTERM, signal.SIGINT)}

    def on_signal(number: int, frame: Any) -> None:
        loop.call_soon_threadsafe(hub.close)
        earlier = before[signal.Signals(number)]
        if callable(earlier):
            earlier(number, frame)

    for number in before:
        signal.signal(number, on_signal)
    try:
        yield
    finally:
        for number, earlier in before.items():
            signal.signal(number, earlier)
