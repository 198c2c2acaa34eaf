"""Checks: one thing tested each. A module a kind.

To add a kind: its module with a model (a literal `kind`) and a `judge`, then one line in each of `Check` and
`judge_check` below.
"""

from __future__ import annotations

from typing import assert_never

from cubedrill.core.checks.position import PositionCheck
from cubedrill.core.checks.position import judge as judge_position
from cubedrill.core.scene import Scene
from cubedrill.core.verdict import CheckResult

Check = PositionCheck  # with a second kind: Annotated[PositionCheck | SizeCheck, Field(discriminator="kind")]


def judge_check(check: Check, target: Scene, submitted: Scene) -> CheckResult:
    """Compare the submitted scene with the target in one respect."""
    match check:
        case PositionCheck():
            return judge_position(check, target, submitted)
        case _:
            assert_never(check)
