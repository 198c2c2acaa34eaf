"""Output of commands: states and reports as plain JSON values with shortest round-trip numbers."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Final

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.submission import StepsSubmission
from cubedrill.core.judging.verdict import Report
from cubedrill.core.scene.reading import Reading

CONTROLS: Final = re.compile(r"[\x00-\x1f\x7f-\x9f\u2028\u2029]")
LATE_CONTROLS: Final = re.compile(r"[\x7f-\x9f]")


def shown(text: str) -> str:
    """Return a text as it can be put on a terminal: what names hold of controls is written out, and does nothing."""
    return CONTROLS.sub(lambda found: found.group().encode("unicode_escape").decode(), text)


def reading_output(reading: Reading, conventions: Conventions) -> dict[str, object]:
    """One object of `replay --json`: matrix column by column, angles in the exercise's unit."""
    box = reading.world_box
    return {
        "world_from_local": reading.world_from_local.ravel(order="F").tolist(),
        "parent": reading.parent,
        "translation": reading.translation.tolist(),
        "rotation": reading.rotation.tolist(),
        "scale": reading.scale.tolist(),
        "euler": (reading.euler_rad / conventions.radians_per_unit).tolist(),
        "skewed": reading.skewed,
        "pivot_world": reading.pivot_world.tolist(),
        "world_box": {"min": box.least.tolist(), "max": box.most.tolist()} if box else None,
    }


def replay_output(
    readings: list[dict[str, Reading]], conventions: Conventions, steps: int, every: bool
) -> dict[str, object]:
    """Return what ``replay --json`` prints.

    Parameters
    ----------
    readings : Readings
        Of the last state, or of every state.
    every : bool
        Whether the readings are of every state.
    """
    objects = [{i: reading_output(reading, conventions) for i, reading in state.items()} for state in readings]
    output: dict[str, object] = {"steps": steps, "objects": objects[-1]}
    if every:
        output["states"] = [{"objects": state} for state in objects]
    return output


def submission_output(submission: StepsSubmission) -> dict[str, object]:
    """Write a submission of steps, what was left out of a step left out."""
    steps = [
        step.model_dump(mode="json", exclude_unset=True, exclude_none=step.op != "nest") for step in submission.steps
    ]
    return {**submission.model_dump(mode="json", exclude={"steps"}), "steps": steps}


def error_output(error: CoreError) -> dict[str, object]:
    """Write a refused step."""
    return {"error": {"step": error.step, "object": error.object, "code": error.code, "text": error.text}}


def report_output(report: Report, submission: str, notes: Sequence[str] = ()) -> dict[str, object]:
    """Return one line of ``check --json``. Keys that do not apply to the submission are left out.

    Parameters
    ----------
    notes : sequence of str
        The import notes.
    """
    dumped = report.model_dump(mode="json")
    keys = {"id", "verdict", "difference", "tolerance", "points", "of", "text"}
    return {
        "submission": submission,
        **{key: dumped[key] for key in ("score", "points", "of", "passed")},
        "checks": [{key: value for key, value in check.items() if key in keys} for check in dumped["checks"]],
        "causes": dumped["causes"],
        **{key: value for key in ("matches", "parted", "cancelling") if (value := dumped[key])},
        **({"notes": list(notes)} if notes else {}),
    }
