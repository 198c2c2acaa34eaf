"""Checks: one thing tested each. A module a kind.

To add a kind: its module with a model (a literal `kind`) and a `judge`, then one line in each of `Check`,
`judge_check` and `halo_of` below.
"""

from __future__ import annotations

from typing import assert_never

from cubedrill.core.checks.position import Halo, PositionCheck
from cubedrill.core.checks.position import halo as position_halo
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


def halo_of(check: Check, object_id: str, target: Scene) -> Halo | None:
    """Return the check's tolerance as a block to draw around the target, where it has one."""
    match check:
        case PositionCheck():
            return position_halo(check, object_id, target)
        case _:
            assert_never(check)
