"""All bounds on what a stranger's file may hold, and the error of one that cannot be read."""

from __future__ import annotations

from typing import Final

from cubedrill.core.judging import submission

LARGEST_FILE: Final = 20 * 1024 * 1024  # bytes
MOST_NODES: Final = 5_000
# Of a file as it unfolds: nodes that share one mesh have one each.
MOST_MESHES: Final = submission.MOST_MESHES
MOST_DEPTH: Final = 256  # parents above an object
MOST_VERTICES: Final = 200_000  # of a file
MOST_TRIANGLES: Final = 400_000
MOST_NAMES: Final = 200  # characters of a name
LONGEST_S: Final = 10.0  # of reading
MOST_MEMORY: Final = 2 * 1024**3  # bytes, of address space; with less, good files fail as the libraries are large


class UnreadableError(Exception):
    """A file that no scene can be read from: one sentence without the file's name, which begins in lower case."""


def too_many(what: str, most: int) -> UnreadableError:
    """Return the error of a bound that is hit."""
    return UnreadableError(f"it has more than {most:,} {what}; submit less in one file.")
