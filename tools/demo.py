"""./run demo: the database, the server, one address; Ctrl-C stops all that this started, and nothing else."""

from __future__ import annotations

import argparse
import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from tools.local_postgres import DatabaseError, LocalPostgres

ROOT = Path(__file__).resolve().parent.parent
FIRST_PORT = 8400
START_LIMIT_S = 300  # the first start loads a term of work: half a minute here, longer on a busy machine
STOP_LIMIT_S = 10


def main() -> int:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--port", type=int, help=f"the port to serve at (else the first free one from {FIRST_PORT})")
    words.add_argument("--data", type=Path, default=ROOT / ".data", help="the folder that keeps the demo's data")
    words.add_argument("--fresh", action="store_true", help="throw the demo's data away first")
    asked = words.parse_args()
    asked.data.mkdir(parents=True, exist_ok=True)
    with (asked.data / "demo.lock").open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            lock.seek(0)
            print(f"The demo is running already, at {lock.read().strip() or 'an address it is about to print'}")
            return 0
        if asked.port and not is_free(asked.port):
            print(f"Port {asked.port} is in use; stop what uses it, or leave --port out.", file=sys.stderr)
            return 1
        port = asked.port or free_port_from(FIRST_PORT)
        address = f"http://127.0.0.1:{port}"
        lock.truncate(0)
        lock.write(address)
        lock.flush()
        postgres = LocalPostgres(asked.data / "pg")
        if asked.fresh:
            postgres.remove()
        return run(port, address, postgres, asked.data.resolve() / "access.log")


def run(port: int, address: str, postgres: LocalPostgres, log: Path) -> int:
    stop = StopSignal()
    server: subprocess.Popen[bytes] | None = None
    try:
        owner = postgres.start()
        environment = {
            **os.environ,
            "CUBE_DRILL_OWNER_URL": owner,
            "CUBE_DRILL_DATABASE_URL": postgres.worker_address(owner),
            "CUBE_DRILL_ACCESS_LOG": str(log),
        }
        command = [str(Path(sys.executable).parent / "cube-drill"), "demo", "--port", str(port)]
        # Its own session: Ctrl-C reaches this program alone, which then stops things in their order.
        server = subprocess.Popen(command, env=environment, cwd=ROOT, stdout=subprocess.PIPE, start_new_session=True)
        if answers(address, server, stop):
            said = server.stdout.peek().decode() if server.stdout else ""
            print(f"\n{said.strip()}\nCtrl-C stops it.", flush=True)
        elif not stop.asked:
            print("The server did not start. Its messages are above.", file=sys.stderr)
            return 1
        while server.poll() is None and not stop.asked:
            time.sleep(0.1)
        return server.poll() or 0
    finally:
        if server is not None:
            ended(server)
        postgres.stop()


class StopSignal:
    """Remembers that Ctrl-C or a request to end came. Nothing is cut short by it, so nothing is left half started."""

    def __init__(self) -> None:
        self.asked = False
        signal.signal(signal.SIGTERM, self._remember)
        signal.signal(signal.SIGINT, self._remember)  # also where a shell started this in the background

    def _remember(self, *_: object) -> None:
        self.asked = True


def ended(server: subprocess.Popen[bytes]) -> None:
    """Ask the server to end, and make it end where it does not."""
    server.terminate()
    try:
        server.wait(STOP_LIMIT_S)
    except subprocess.TimeoutExpired:
        server.kill()
        server.wait()


def answers(address: str, server: subprocess.Popen[bytes], stop: StopSignal) -> bool:
    """Wait until the server answers; tell whether it does."""
    until = time.monotonic() + START_LIMIT_S
    while time.monotonic() < until and server.poll() is None and not stop.asked:
        try:
            with urllib.request.urlopen(f"{address}/api/health", timeout=5):
                return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    return False


def free_port_from(first: int) -> int:
    for port in range(first, first + 100):
        if is_free(port):
            return port
    raise SystemExit(f"No port from {first} to {first + 99} is free; stop what uses them.")


def is_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


if __name__ == "__main__":
    try:
        sys.exit(main())
    except DatabaseError as trouble:
        sys.exit(str(trouble))
