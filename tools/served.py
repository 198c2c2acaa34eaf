"""`cube-drill serve` as a process of its own, for tests and benchmarks that want it whole."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from tools.unused_port import unused_port

PATIENCE_S = 120  # the cores may be at other tests


def family(pid: int) -> list[int]:
    """Ids of the processes that a process started, and of those these started, but for one that only counts."""
    words = ["ps", "-wweo", "pid=,ppid=,args="]
    listed = subprocess.run(words, capture_output=True, text=True, check=True).stdout
    rows = [line.split(None, 2) for line in listed.splitlines()]
    found = [pid]
    for one in found:
        found += [int(own) for own, parent, args in rows if int(parent) == one and "resource_tracker" not in args]
    return found[1:]


class Server:
    """A server on a port that stays the same when it is killed and started again."""

    def __init__(self, database_url: str, processes: int, *words: str) -> None:
        """words: what else the command is told."""
        self.words = words
        self.port = unused_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.environment = {
            **os.environ, "CUBE_DRILL_DATABASE_URL": database_url, "CUBE_DRILL_PROCESSES": str(processes),
        }  # fmt: skip
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [str(Path(sys.executable).parent / "cube-drill"), "serve", "--port", str(self.port), *self.words]
        self.process = subprocess.Popen(command, env=self.environment)
        end = time.monotonic() + PATIENCE_S
        while not self.answers():
            assert self.is_up(), "the server ended while it started"
            assert time.monotonic() < end, "the server did not start"
            time.sleep(0.05)

    def answers(self) -> bool:
        try:
            with urllib.request.urlopen(f"{self.address}/api/health", timeout=5) as answer:
                return answer.status == 200
        except (urllib.error.URLError, OSError):
            return False

    def is_up(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def kill(self) -> None:
        """As a power cut would: no chance to finish anything."""
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()
            end = time.monotonic() + PATIENCE_S
            while self._is_taken():  # by one that began just then, and ends as soon as it sees that it is alone
                assert time.monotonic() < end, "a process goes on without the one that kept it"
                time.sleep(0.05)

    def _is_taken(self) -> bool:
        with socket.socket() as probe:
            return probe.connect_ex(("127.0.0.1", self.port)) == 0
