"""Every mistake put into every step of a reference, and where each leads."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain
from typing import Final

from cubedrill.core.judging.causes.common import FileMistake, Mistake, Mutation, Outcome
from cubedrill.core.judging.causes.exports import EXPORTS
from cubedrill.core.judging.causes.files import FILES
from cubedrill.core.judging.causes.inside import between_copies
from cubedrill.core.judging.causes.order import ORDER
from cubedrill.core.judging.causes.patched_replay import changed_between
from cubedrill.core.judging.causes.placing import PLACING
from cubedrill.core.judging.causes.reference import Landed, Reference
from cubedrill.core.judging.causes.spaces import SPACES
from cubedrill.core.judging.causes.values import VALUES
from cubedrill.core.scene.scene import Scene

MistakeRun = tuple[Outcome, Mutation]  # where a mistake leads, and how it was put in

IN_A_STEP: Final = (*VALUES, *SPACES)  # these touch nothing but what the step touches
MISTAKES: Final[tuple[Mistake, ...]] = (*IN_A_STEP, *ORDER, *PLACING)
DONE_TWICE: Final = next(mistake for mistake in MISTAKES if mistake.code == "step-done-twice")
FILE_MISTAKES: Final[tuple[FileMistake, ...]] = (*FILES, *EXPORTS)


def outcomes(reference: Reference, near: frozenset[str] | None = None, most: int | None = None) -> list[MistakeRun]:
    """Return the outcome of every single mistake that changes the result, step by step, in the order of the table.

    Parameters
    ----------
    near : set of str, optional
        Only mistakes that touch one of these objects; see `Reference.influences`. All by default.
    most : int, optional
        At most this many, the most common ones. All by default.
    """
    put = list(_put(reference, near))
    if most is not None and len(put) > most:
        likely = sorted(range(len(put)), key=lambda n: -put[n][1].common)[:most]
        put = [put[n] for n in sorted(likely)]
    led = reference.led([(mutation,) for _number, _mistake, mutation in put])
    return [
        (outcome_of(reference, mistake, mutation, landed, number), mutation)
        for (number, mistake, mutation), landed in zip(put, led, strict=True)
        if landed is not None and landed[1]
    ]


def _put(reference: Reference, near: frozenset[str] | None) -> Iterator[tuple[int, Mistake, Mutation]]:
    for k, step in enumerate(reference.steps):
        context = reference.context(k)
        far = near is not None and near.isdisjoint(step.touches)
        for number in range(len(IN_A_STEP) if far else 0, len(MISTAKES)):
            mistake = MISTAKES[number]
            inside = between_copies(context, mistake.alter) if number < len(IN_A_STEP) else ()
            for mutation in chain(mistake.alter(context), inside):
                if near is None or not near.isdisjoint(reference.touched(mutation)):
                    yield number, mistake, mutation


def outcome_of(reference: Reference, mistake: Mistake, mutation: Mutation, landed: Landed, number: int = 0) -> Outcome:
    """Return a landing with its words; number: the mistake's row in the table."""
    k = mutation.first
    object_id = mutation.object or next(iter(reference.steps[k].acts_on), "")
    words = {
        "step": str(k + 1),
        "done": reference.sentence(k),
        "object": reference.name(object_id),
        "detail": mutation.detail,
    }
    return Outcome(mistake, number, k + 1, object_id, *landed, words)


def file_outcomes(target: Scene) -> Iterator[Outcome]:
    """Yield where every mistake with a whole file leads."""
    for number, mistake in enumerate(FILE_MISTAKES):
        for detail, scene in mistake.alter(target):
            changed = frozenset(changed_between(target, scene))
            words = {"step": "", "done": "", "object": "", "detail": detail}
            yield Outcome(mistake, len(MISTAKES) + number, 0, "", scene, changed, words)
