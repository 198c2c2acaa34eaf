"""Checks: one thing tested each. A module a family.

To add a kind: its model on CheckBase or ObjectCheck (a literal `kind`, then `judge` or `judge_object` and `label`), and
its name in `Check` below.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from cubedrill.core.judging.checks.by_hand import ByHandCheck
from cubedrill.core.judging.checks.form import RotationCheck, ShapeCheck, SizeCheck
from cubedrill.core.judging.checks.position import PositionCheck
from cubedrill.core.judging.checks.process import ProcessCheck
from cubedrill.core.judging.checks.relation import RelationCheck
from cubedrill.core.judging.checks.sameness import CountCheck, LookCheck, NameCheck, ParentCheck, PivotCheck

Check = Annotated[
    PositionCheck
    | RotationCheck
    | SizeCheck
    | ShapeCheck
    | PivotCheck
    | ParentCheck
    | NameCheck
    | LookCheck
    | CountCheck
    | RelationCheck
    | ProcessCheck
    | ByHandCheck,
    Field(discriminator="kind"),
]
