"""Checks by hand: what a program cannot judge and an instructor does."""

from __future__ import annotations

from typing import Annotated, ClassVar, Final, Literal

from pydantic import Field, StringConstraints

from cubedrill.core.judging.checks.common import Case, CheckBase, Objects
from cubedrill.core.judging.verdict import CheckResult

BY_HAND: Final = "by-hand"


class ByHandCheck(CheckBase):
    """A question that an instructor answers with points; not judged until then.

    title: what is asked. look_for: notes on what to look for. object: what it is about, if it is about an object.
    """

    by_place: ClassVar[bool] = False
    of_outcome: ClassVar[bool] = False
    kind: Literal["by-hand"]
    title: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
    look_for: Annotated[str, Field(max_length=2000)] = ""
    object: Objects | None = None

    @property
    def objects(self) -> tuple[str, ...]:
        """The ids of the objects that it is about."""
        return () if self.object is None else (self.object,) if isinstance(self.object, str) else self.object

    def judge(self, case: Case) -> CheckResult:
        """Return that it waits for an instructor."""
        del case
        about = self.objects[0] if self.objects else ""
        result = self.not_judged(about, self.title, f"{self.title} Not judged yet: an instructor gives the points.")
        return result.model_copy(update={"wanted": self.look_for})
