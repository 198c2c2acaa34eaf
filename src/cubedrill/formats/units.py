"""Units of length as formats write them: how many metres one is."""

from __future__ import annotations

from typing import Final

from cubedrill.core.geometry.conventions import MILLIMETRES
from cubedrill.formats.imported import Gathering
from cubedrill.formats.limits import UnreadableError

METRES: Final = {unit: length / 1000 for unit, length in MILLIMETRES.items()}
LARGEST: Final = 1e9
SAME: Final = 1e-9


def unit_of(metres: float, found: Gathering) -> tuple[str, float]:
    """Return the unit of ours that a number of metres is, and by what numbers are to be multiplied for it.

    One that is none of ours is turned into metres, which is noted. Raises UnreadableError for what is no length.
    """
    if not 0 < metres < LARGEST:
        raise UnreadableError("its unit is no length; export the file again.")
    for name, length in METRES.items():
        if abs(metres - length) < SAME * length:
            return name, 1.0
    found.note(f"Its unit of {metres:g} m was turned into metres.")
    return "m", metres
