"""Find the submissions in a folder."""

from __future__ import annotations

from pathlib import Path
from typing import Final

from cubedrill.formats.documents import bytes_of
from cubedrill.formats.kinds import ENDS
from cubedrill.formats.transforms import ENDING, is_transforms

SUFFIXES: Final = (".json", ".txt", ENDING, *ENDS)


def submission_files(folder: Path) -> list[Path]:
    """Return the submissions in a folder, by name; a CSV file only if it holds transforms (a table of marks does not).

    Raises
    ------
    OSError
        If the folder cannot be read.
    """
    return sorted(path for path in folder.iterdir() if _is_submission(path))


def _is_submission(path: Path) -> bool:
    return path.suffix in SUFFIXES and (path.suffix != ENDING or is_transforms(bytes_of(path)))
