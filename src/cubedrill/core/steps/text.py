"""Steps as text: one sentence a line, read in the scene as it stands before the step."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Final

from pydantic import ValidationError

from cubedrill.core.errors import CoreError
from cubedrill.core.language.phrase import ended
from cubedrill.core.language.reader import Reader, StuckError
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import ViewDirections
from cubedrill.core.steps import KINDS, STEP_ADAPTER, Step, apply_step

_NUMBER: Final = re.compile(r"\s*\d+\s*[.):]\s+")
# A remark begins with # outside quotes; six hex digits after it are a colour.
_REMARK: Final = re.compile(
    r'^((?:"(?:[^"\\]|\\.)*"|“[^”]*”|#[0-9a-fA-F]{6}(?!\w)|[^#"“])*)#(?![0-9a-fA-F]{6}(?!\w)).*$'
)
_ONLY_REMARK: Final = re.compile(r"\s*(?:#.*)?$")
_LINE_END: Final = re.compile(r"\r\n|\r|\n")


@dataclass(frozen=True)
class Line:
    """A line of a text: what it is read as, or why it cannot be read or done; neither where it is blank.

    number: counted from 1. refused: the step was read, and cannot be done.
    """

    number: int
    text: str
    step: Step | None = None
    error: CoreError | None = None
    refused: CoreError | None = None


def read_step(text: str, scene: Scene | None, view: ViewDirections | None = None) -> Step:
    """Read one step sentence.

    Parameters
    ----------
    text : str
    scene : Scene, optional
        The scene before the step. Without it, names are ids.
    view : optional
        Required for a step along the axes of the view.

    Returns
    -------
    Step

    Raises
    ------
    CoreError
        "unread-…", with the place (`at`) and what could stand there (`expected`).
    """
    step = _read(_reader_of(text, scene, view))
    if isinstance(step, CoreError):
        raise step
    return step


def continuations(text: str, scene: Scene | None, view: ViewDirections | None = None) -> list[str]:
    """Return the line as it could go on, a whole line each."""
    reader = _reader_of(text, scene, view, strip_stop=False)
    _read(reader)
    return reader.completions()


def read_lines(text: str, start: Scene | None) -> Iterator[Line]:
    """Read a text line by line, each in the scene that the lines before it lead to.

    Where a step cannot be done, the scene stays as it was before it. Without a scene, names are ids.
    """
    scene = start
    for number, whole in enumerate(_LINE_END.split(text), start=1):
        if _ONLY_REMARK.match(whole):
            yield Line(number, whole)
            continue
        try:
            step = read_step(whole, scene)
        except CoreError as error:
            yield Line(number, whole, error=error)
            continue
        refused = None
        if scene is not None:
            try:
                scene = apply_step(scene, step)
            except CoreError as error:
                refused = error
        yield Line(number, whole, step, refused=refused)


def written_lines(steps: Sequence[Step], start: Scene | None) -> list[str]:
    """Write steps as sentences that are read back as the same steps, each in the scene that those before it lead to."""
    scene, lines = start, []
    for step in steps:
        lines.append(step.sentence(scene, exact=True))
        if scene is not None:
            with suppress(CoreError):  # the list is written as it is; where it is replayed, the step is refused
                scene = apply_step(scene, step)
    return lines


def _reader_of(text: str, scene: Scene | None, view: ViewDirections | None, strip_stop: bool = True) -> Reader:
    remark = _REMARK.match(text)
    said = (remark[1] if remark else text).rstrip()
    if strip_stop:
        said = said.removesuffix(".")
    number = _NUMBER.match(said)
    at = number.end() if number else 0
    return Reader(said, scene, view, at=at, farthest=at)


def _read(reader: Reader) -> Step | CoreError:
    try:
        found = reader.farthest_of([kind.read for kind in KINDS])
        ended(reader)
    except StuckError:
        return reader.error()
    try:
        step: Step = STEP_ADAPTER.validate_python(found)
    except ValidationError as error:
        message = error.errors(include_url=False)[0]["msg"].removeprefix("Value error, ")
        why = f"{message[:1].lower()}{message[1:].removesuffix('.')}"
        return CoreError("unread-because", rest=reader.text.strip(), why=why, at=0, expected=[])
    return step
