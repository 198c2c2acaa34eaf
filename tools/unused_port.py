"""A port on loopback that nobody listens at."""

from __future__ import annotations

import socket


def unused_port() -> int:
    """Return a port that was free a moment ago."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
        return port
