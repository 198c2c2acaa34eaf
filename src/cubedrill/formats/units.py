"""Units of length as formats write them: how many metres one is."""

from __future__ import annotations

from typing import Final

from cubedrill.formats.imported import Gathering
from cubedrill.formats.limits import UnreadableError

METRES: Final = {"mm": 0.001, "cm": 0.01, "m": 1.0, "in": 0.0254, "ft": 0.3048}
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
