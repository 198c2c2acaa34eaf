"""Cube Drill sets and checks exercises in moving, rotating and scaling objects.

The names below are the public Python library; docs/library.md shows them at work. Everything else is private.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from cubedrill.library.exercises import Exercise, Reports, check_folder, load
    from cubedrill.library.reports import Cause, CheckResult, CubeDrillError, Report
    from cubedrill.library.scenes import Object, Scene

__version__: Final = "0.2.0"

__all__ = [
    "Cause",
    "CheckResult",
    "CubeDrillError",
    "Exercise",
    "Object",
    "Report",
    "Reports",
    "Scene",
    "__version__",
    "check_folder",
    "load",
]

_MODULES: Final = {
    "exercises": ("Exercise", "Reports", "check_folder", "load"),
    "reports": ("Cause", "CheckResult", "CubeDrillError", "Report"),
    "scenes": ("Object", "Scene"),
}
_MODULE_OF: Final = {name: module for module, names in _MODULES.items() for name in names}


def __getattr__(name: str) -> object:
    """Import a public name when it is first used (PEP 562): the command line starts without the mathematics."""
    if name not in _MODULE_OF:
        raise AttributeError(f"module 'cubedrill' has no attribute {name!r}")
    found = globals()[name] = getattr(import_module(f"cubedrill.library.{_MODULE_OF[name]}"), name)
    return found


def __dir__() -> list[str]:
    return sorted({*globals(), *__all__})
