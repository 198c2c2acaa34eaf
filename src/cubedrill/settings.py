"""Settings from the environment: database, addresses, trusted proxies, folders."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

BUILT_SCREENS = Path(__file__).parent / "screens"  # built into the package, so that a wheel brings them along


class SettingsError(Exception):
    """A setting is missing or wrong; the text says which."""


@dataclass(frozen=True)
class Settings:
    """Settings of a server.

    owner_url: the same database as its owner, for migrations alone; where it is not told, the one role does both.
    secure_cookies: on wherever it is reached by https. hosts: the names that it is reached by; none: any. proxies:
    addresses or networks of those in front of it, who are believed where a request came from. processes: that answer.
    access_log: a file for a line a request; none: no lines.
    """

    database_url: str
    owner_url: str = ""
    secure_cookies: bool = False
    screens: Path = BUILT_SCREENS
    hosts: tuple[str, ...] = ()
    proxies: tuple[str, ...] = ()
    processes: int = 1
    access_log: Path | None = None


def settings_from(environment: Mapping[str, str] = os.environ) -> Settings:
    """Read the settings; raise SettingsError where the database is not named."""
    url = environment.get("CUBE_DRILL_DATABASE_URL")
    if not url:
        raise SettingsError("CUBE_DRILL_DATABASE_URL is not set; give the address of a PostgreSQL database.")
    processes = environment.get("CUBE_DRILL_PROCESSES", str(os.cpu_count() or 1))
    if not processes.isdigit() or int(processes) < 1:
        raise SettingsError("CUBE_DRILL_PROCESSES is not a whole number from 1 on; give how many processes answer.")
    log = environment.get("CUBE_DRILL_ACCESS_LOG")
    return Settings(
        database_url=url,
        owner_url=environment.get("CUBE_DRILL_OWNER_URL", url),
        secure_cookies=environment.get("CUBE_DRILL_SECURE_COOKIES") == "1",
        screens=Path(environment.get("CUBE_DRILL_SCREENS", BUILT_SCREENS)),
        hosts=_words(environment.get("CUBE_DRILL_HOSTS", "")),
        proxies=_words(environment.get("CUBE_DRILL_PROXIES", "")),
        processes=int(processes),
        access_log=Path(log) if log else None,
    )


def _words(text: str) -> tuple[str, ...]:
    return tuple(word.strip() for word in text.split(",") if word.strip())
