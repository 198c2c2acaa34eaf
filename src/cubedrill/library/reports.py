"""Reports of checked submissions."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape

from cubedrill.core.judging.verdict import Cause, CheckResult
from cubedrill.core.judging.verdict import Report as CoreReport
from cubedrill.core.scene.wording import number

__all__ = ["Cause", "CheckResult", "CubeDrillError", "Report"]


class CubeDrillError(Exception):
    """A file, a step or a name that cannot be used; the message is one sentence that says what to do."""


@dataclass(frozen=True)
class Report:
    """The verdict on one submission.

    Attributes
    ----------
    source : str
        The path of the file, or empty for work that was passed as a value.
    points, of : float
        Points earned, and points of all checks that were judged.
    score : float or None
        points / of, or None if no check was judged.
    passed : bool
        True if the score reaches the exercise's pass mark.
    checks : tuple of CheckResult
        One result per check, in the exercise's order.
    causes : tuple of Cause
        The likely reasons for what was missed, most likely first.
    notes : tuple of str
        What was left out, changed or guessed when a file was read.
    error : str
        Why there is no verdict, if the submission cannot be read or carried out; otherwise empty.
    """

    source: str
    points: float = 0.0
    of: float = 0.0
    score: float | None = None
    passed: bool = False
    checks: tuple[CheckResult, ...] = ()
    causes: tuple[Cause, ...] = ()
    notes: tuple[str, ...] = ()
    error: str = ""

    def _repr_html_(self) -> str:
        if self.error:
            return f"<p>{escape(self.error)}</p>"
        rows = "".join(
            f"<tr><td>{escape(each.verdict)}</td><td>{number(each.points)} of {number(each.of)}</td>"
            f"<td>{escape(each.text)}</td></tr>"
            for each in self.checks
        )
        causes = "".join(f"<li>{escape(each.text)}</li>" for each in self.causes)
        result = "Passed" if self.passed else "Not passed"
        return (
            f"<p><b>{result}</b>: {number(self.points)} of {number(self.of)} points</p>"
            f"<table><tr><th>Verdict</th><th>Points</th><th>Check</th></tr>{rows}</table>"
            + (f"<p>Likely causes</p><ul>{causes}</ul>" if causes else "")
        )


def report_from(core: CoreReport, source: str = "", notes: tuple[str, ...] = ()) -> Report:
    """Return the public report of a core report."""
    return Report(
        source=source, points=core.points, of=core.of, score=core.score, passed=core.passed, checks=core.checks,
        causes=core.causes, notes=notes,
    )  # fmt: skip
