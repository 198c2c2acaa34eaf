"""What the environment says: where the database is, how cookies are sent, where the built screens lie."""

from __future__ import annotations

import os
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

BUILT_SCREENS = Path(__file__).parents[2] / "web" / "dist"


class SettingsError(Exception):
    """A setting is missing or wrong; the text says which."""


@dataclass(frozen=True)
class Settings:
    """How this server runs. secure_cookies: on wherever it is reached by https."""

    database_url: str
    secure_cookies: bool = False
    screens: Path = BUILT_SCREENS


def settings_from(environment: Mapping[str, str] = os.environ) -> Settings:
    """Read the settings; raise SettingsError where the database is not named."""
    url = environment.get("CUBE_DRILL_DATABASE_URL")
    if not url:
        raise SettingsError("CUBE_DRILL_DATABASE_URL is not set; give the address of a PostgreSQL database.")
    return Settings(
        database_url=url,
        secure_cookies=environment.get("CUBE_DRILL_SECURE_COOKIES") == "1",
        screens=Path(environment.get("CUBE_DRILL_SCREENS", BUILT_SCREENS)),
    )
