"""Steps as text: a line typed on the bench, a whole list taken as text and put back."""

from __future__ import annotations

from typing import Final

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.exercise import require_offered
from cubedrill.core.scene.spaces import ViewDirections
from cubedrill.core.steps import Step
from cubedrill.core.steps.text import Line, continuations, read_lines, read_step, written_lines
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import PreparedExercise
from cubedrill.service.work.editing import StepEditor
from cubedrill.service.work.responses import LineResponse, LinesResponse, SaidResponse, TextResponse

MOST_COMPLETIONS: Final = 50
MOST_LINES: Final = 4000  # twice the steps that a list may have, so that remarks have room


def say(editor: StepEditor, draft: DraftSteps, line: tuple[str, ViewDirections | None]) -> SaidResponse:
    """Read a line in the scene after some steps; line: with the directions of the camera that watches."""
    scene = editor.after(draft).states[-1].scene
    completions = tuple(continuations(line[0], scene, line[1])[:MOST_COMPLETIONS])
    try:
        step = read_step(line[0], scene, line[1])
        require_offered(editor.ready.exercise.rules, [step])
    except CoreError as error:
        error.step = None
        return SaidResponse(step=None, sentence="", why=error.text, at=_place(error), completions=completions)
    return SaidResponse(step=_typed(step), sentence=step.sentence(scene), why="", at=0, completions=completions)


def written(editor: StepEditor, draft: DraftSteps) -> TextResponse:
    """Return steps as text that is read back as the same steps; what was typed need not be said to be."""
    steps = [step.model_copy(update={"entry": None}) if step.entry == "typed" else step for step in draft.steps]
    lines = written_lines(steps, editor.ready.start)
    return TextResponse(text="".join(f"{line}\n" for line in lines))


def lines_of(editor: StepEditor, text: str) -> LinesResponse:
    """Read a text line by line; nothing is saved. Raises RefusedError "too-many-lines"."""
    if len(text.splitlines()) > MOST_LINES:
        raise RefusedError("too-many-lines", most=MOST_LINES)
    return LinesResponse(lines=tuple(_line(editor.ready, line) for line in read_lines(text, editor.ready.start)))


def _line(ready: PreparedExercise, line: Line) -> LineResponse:
    error = line.error or line.refused
    if line.step is not None and error is None:
        try:
            require_offered(ready.exercise.rules, [line.step])
        except CoreError as refused:
            refused.step = None
            error = refused
    return LineResponse(
        number=line.number,
        text=line.text,
        step=None if line.step is None else _typed(line.step),
        why="" if error is None else error.text,
        at=_place(line.error),
    )


def _typed(step: Step) -> Step:
    """Return a step read from text was typed, unless it says otherwise."""
    return step if step.entry else step.model_copy(update={"entry": "typed"})


def _place(error: CoreError | None) -> int:
    """From which character on a line could not be read."""
    at = error.facts.get("at", 0) if error is not None else 0
    return at if isinstance(at, int) else 0
