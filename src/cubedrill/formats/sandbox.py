"""Reading what strangers sent, and writing, in a process that may fall over, hang or grow, and is then killed.

The processes come from one that has the readers loaded and does nothing else, so that each begins at once. What a
reader found comes back as JSON and is validated again: whatever a file did to the reader, it ends there.
"""

from __future__ import annotations

import multiprocessing
import os
import resource
import signal
import tempfile
from collections.abc import Callable
from multiprocessing.connection import Connection
from threading import BoundedSemaphore
from typing import Any, Final

from cubedrill.core.scene.scene import Scene
from cubedrill.formats.imported import Imported
from cubedrill.formats.kinds import WRITERS, read
from cubedrill.formats.limits import LARGEST_FILE, LONGEST_S, MOST_MEMORY, UnreadableError

READERS: Final = ("cubedrill.formats.kinds", "pxr.Usd", "pxr.UsdGeom", "scipy.sparse.csgraph")
AT_ONCE: Final = 2  # of one process of ours: each may take as much memory as is allowed
STARTING_S: Final = 120.0  # until the first one is there: no file makes that long, but a busy machine may

BROKEN: Final = "its content is broken; export the file again."
TOO_LONG: Final = f"reading it takes longer than {LONGEST_S:.0f} s; submit less in one file."
TOO_LARGE: Final = "reading it takes too much memory; submit less in one file."

_PLACES: Final = BoundedSemaphore(AT_ONCE)
_CONTEXT: Final = multiprocessing.get_context("forkserver")


def load_beforehand(*modules: str) -> None:
    """Have these modules in every process too: each runs the program's own script again, which then takes no time.

    To be called before the first file is read.
    """
    _CONTEXT.set_forkserver_preload([*READERS, *modules])


load_beforehand()


def read_in_sandbox(content: bytes) -> Imported:
    """Read a scene of any kind; raise UnreadableError in one sentence, however the reading ended."""
    if len(content) > LARGEST_FILE:
        raise UnreadableError(f"it is larger than {LARGEST_FILE // 1024**2} MB; submit less in one file.")
    return Imported.model_validate_json(_done_apart(_read_into, content))


def write_in_sandbox(scene: Scene, end: str) -> bytes:
    """Return a scene as the content of a file of any kind, by the suffix of its name; raise UnreadableError.

    The libraries that are needed for that stay out of the server's own processes.
    """
    return _done_apart(_write_into, (scene, end))


def _done_apart(work: Callable[[Connection, Any, str], None], given: object) -> bytes:
    with _PLACES, tempfile.TemporaryDirectory() as room:
        receiver, sender = _CONTEXT.Pipe(duplex=False)
        process = _CONTEXT.Process(target=work, args=(sender, given, room), daemon=True)
        process.start()
        sender.close()
        try:
            return _told(receiver)
        except EOFError:
            process.join()  # it is gone already; the kernel ends one that computes for longer than it may
            too_long = process.exitcode in (-signal.SIGXCPU, -signal.SIGKILL)
            raise UnreadableError(TOO_LONG if too_long else BROKEN) from None
        finally:
            process.kill()
            process.join()
            process.close()
            receiver.close()


def _told(receiver: Connection) -> bytes:
    """Return what a process read or wrote. It first reports that it starts, since a machine may be busy."""
    try:
        if not receiver.poll(STARTING_S) or receiver.recv_bytes() != BEGUN or not receiver.poll(LONGEST_S):
            raise UnreadableError(TOO_LONG)
        answer = receiver.recv_bytes()
    except OSError:
        raise UnreadableError(BROKEN) from None
    if answer.startswith(REFUSED):
        raise UnreadableError(answer.removeprefix(REFUSED).decode())
    return answer


BEGUN: Final = b"begun"
REFUSED: Final = b"refused "


def _read_into(sender: Connection, content: bytes, room: str) -> None:
    """Run in a reading process: set its limits, read, and send the result."""
    _bounded(room)
    sender.send_bytes(BEGUN)
    sender.send_bytes(_tried(lambda: read(content).model_dump_json(exclude_unset=True).encode()))


def _write_into(sender: Connection, given: tuple[Scene, str], room: str) -> None:
    """The same of one that writes."""
    scene, end = given
    _bounded(room)
    sender.send_bytes(BEGUN)
    sender.send_bytes(_tried(lambda: WRITERS[end](scene)))


def _bounded(room: str) -> None:
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (LARGEST_FILE, LARGEST_FILE))
    seconds = int(LONGEST_S)
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    nothing = os.open(os.devnull, os.O_RDWR)
    for stream in (0, 1, 2):  # libraries say on the terminal what nobody there asked for
        os.dup2(nothing, stream)
    tempfile.tempdir = room


def _tried(work: Callable[[], bytes]) -> bytes:
    try:
        return work()
    except UnreadableError as error:
        return REFUSED + str(error).encode()
    except MemoryError:
        return REFUSED + TOO_LARGE.encode()
    except Exception:  # whatever it is, it is the file's fault: good ones are read by the tests
        return REFUSED + BROKEN.encode()
