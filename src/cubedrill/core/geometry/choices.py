"""Names that conventions choose from; apart from conventions.py so that the command line starts without NumPy."""

from __future__ import annotations

from typing import Literal

Up = Literal["y", "z"]
Handedness = Literal["right", "left"]
Length = Literal["mm", "cm", "m", "in", "ft"]
