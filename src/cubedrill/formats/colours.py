"""Colours as our files write them, and as light: formats that say what shines through say it linearly."""

from __future__ import annotations

import numpy as np

from cubedrill.core.values import Array


def hex_of(linear: Array) -> str:
    """Return a colour as ``#rrggbb``.

    Parameters
    ----------
    linear : (3,) array
        Linear red, green and blue, clipped to 0 … 1.

    Returns
    -------
    str

    Notes
    -----
    Source: IEC 61966-2-1 (sRGB).

    Examples
    --------
    >>> hex_of((1.0, 0.0, 0.2158605))
    '#ff0080'
    """
    light = np.clip(np.nan_to_num(linear), 0.0, 1.0)
    shown = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    return as_hex(shown)


def linear_of(colour: str) -> Array:
    """Return `#rrggbb` as linear red, green and blue (3,)."""
    shown = shown_of(colour)
    return np.where(shown <= 0.04045, shown / 12.92, ((shown + 0.055) / 1.055) ** 2.4)


def as_hex(shown: Array) -> str:
    """Return red, green and blue as they are shown (3,), cut to 0 to 1, as `#rrggbb`."""
    return "#" + "".join(f"{round(255 * each):02x}" for each in np.clip(np.nan_to_num(shown), 0.0, 1.0).tolist())


def shown_of(colour: str) -> Array:
    """Return `#rrggbb` as red, green and blue as they are shown (3,), from 0 to 1."""
    return np.array([int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)])
