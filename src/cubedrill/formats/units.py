"""Units of length as formats write them: how many metres one is."""

from __future__ import annotations

from typing import Final

from cubedrill.core.geometry.conventions import MILLIMETRES
from cubedrill.formats.imported import Gathering
from cubedrill.formats.limits import UnreadableError

METRES: Final = {unit: length / 1000 for unit, length in MILLIMETRES.items()}
LARGEST: Final = 1e9
UNIT_TOL: Final = 1e-9


def unit_of(metres: float, found: Gathering) -> tuple[str, float]:
    """Return the unit that a number of metres is, and the factor that converts to it.

    Returns
    -------
    The unit and the factor; an unknown unit is converted to metres, with a note.

    Raises
    ------
    UnreadableError
        If the number is no length.
    """
    if not 0 < metres < LARGEST:
        raise UnreadableError("its unit is not a length; export the file again.")
    for name, length in METRES.items():
        if abs(metres - length) < UNIT_TOL * length:
            return name, 1.0
    found.note(f"Its unit of {metres:g} m was converted to metres.")
    return "m", metres
