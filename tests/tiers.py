"""The two tiers: `./run test` runs what notices most for its time, `./run test --all` everything.

`long` marks what only the second one runs: products over orders, solids and exercises, brute force, hostile series, every
screen by pointer and by keyboard. `some` spreads the cases of one test over both. Property tests draw 15 examples that
are the same in every run, or 500 at random; what fails at random is saved in `.hypothesis` and tried first next time.
CI draws 500 that are the same in every run: what it says of a change depends on the change alone.
"""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import Any, Final

import pytest
from hypothesis import settings

ALL: Final = os.environ.get("CUBE_DRILL_TESTS") == "all"
FIXED: Final = os.environ.get("CUBE_DRILL_EXAMPLES") == "fixed"

long = pytest.mark.long

# No limit on time: the machine may be busy.
settings.register_profile("default tier", derandomize=True, deadline=None, max_examples=15)
settings.register_profile("all", derandomize=FIXED, deadline=None, max_examples=500, print_blob=True)
settings.load_profile("all" if ALL else "default tier")

# For properties whose single examples cost a tenth of a second or more.
few = settings(max_examples=40 if ALL else 5)


def some(cases: Iterable[Any], count: int) -> list[Any]:
    """Return the cases of a parametrised test: `count` of them, spread evenly, in the default tier, the others long.

    A case of several parameters is a tuple, as for `pytest.mark.parametrize`.
    """
    listed = list(cases)
    chosen = {round(place * (len(listed) - 1) / max(count - 1, 1)) for place in range(count)}
    return [case if place in chosen else _long_case(case) for place, case in enumerate(listed)]


def _long_case(case: Any) -> Any:
    return pytest.param(*case, marks=long) if isinstance(case, tuple) else pytest.param(case, marks=long)
