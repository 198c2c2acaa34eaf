"""Every mistake put into every step of a reference, and where each leads."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain
from typing import Final

from cubedrill.core.judging.causes.branch import changed_between
from cubedrill.core.judging.causes.common import Altered, FileMistake, Landing, Mistake
from cubedrill.core.judging.causes.exports import EXPORTS
from cubedrill.core.judging.causes.files import FILES
from cubedrill.core.judging.causes.inside import between_copies
from cubedrill.core.judging.causes.order import ORDER
from cubedrill.core.judging.causes.placing import PLACING
from cubedrill.core.judging.causes.reference import Landed, Reference
from cubedrill.core.judging.causes.spaces import SPACES
from cubedrill.core.judging.causes.values import VALUES
from cubedrill.core.scene.scene import Scene

Put = tuple[Landing, Altered]  # where a mistake leads, and how it was put in

IN_A_STEP: Final = (*VALUES, *SPACES)  # these touch nothing but what the step touches
MISTAKES: Final[tuple[Mistake, ...]] = (*IN_A_STEP, *ORDER, *PLACING)
DONE_TWICE: Final = next(mistake for mistake in MISTAKES if mistake.code == "step-done-twice")
FILE_MISTAKES: Final[tuple[FileMistake, ...]] = (*FILES, *EXPORTS)


def landings(reference: Reference, near: frozenset[str] | None = None, most: int | None = None) -> list[Put]:
    """Return where every single mistake leads that changes the outcome, step by step, in the order of the table.

    near: only mistakes that touch one of these objects; see `Reference.influences`. most: no more than so many, the
    commonest of them.
    """
    put = list(_put(reference, near))
    if most is not None and len(put) > most:
        likely = sorted(range(len(put)), key=lambda n: -put[n][1].common)[:most]
        put = [put[n] for n in sorted(likely)]
    led = reference.led([(altered,) for _number, _mistake, altered in put])
    return [
        (landing_of(reference, mistake, altered, landed, number), altered)
        for (number, mistake, altered), landed in zip(put, led, strict=True)
        if landed is not None and landed[1]
    ]


def _put(reference: Reference, near: frozenset[str] | None) -> Iterator[tuple[int, Mistake, Altered]]:
    for k, step in enumerate(reference.steps):
        slot = reference.slot(k)
        far = near is not None and near.isdisjoint(step.touches)
        for number in range(len(IN_A_STEP) if far else 0, len(MISTAKES)):
            mistake = MISTAKES[number]
            inside = between_copies(slot, mistake.alter) if number < len(IN_A_STEP) else ()
            for altered in chain(mistake.alter(slot), inside):
                if near is None or not near.isdisjoint(reference.touched(altered)):
                    yield number, mistake, altered


def landing_of(reference: Reference, mistake: Mistake, altered: Altered, landed: Landed, number: int = 0) -> Landing:
    """Return a landing with its words; number: the mistake's row in the table."""
    k = altered.first
    object_id = altered.object or next(iter(reference.steps[k].acts_on), "")
    words = {
        "step": str(k + 1),
        "done": reference.sentence(k),
        "object": reference.name(object_id),
        "detail": altered.detail,
    }
    return Landing(mistake, number, k + 1, object_id, *landed, words)


def file_landings(target: Scene) -> Iterator[Landing]:
    """Yield where every mistake with a whole file leads."""
    for number, mistake in enumerate(FILE_MISTAKES):
        for detail, scene in mistake.alter(target):
            changed = frozenset(changed_between(target, scene))
            words = {"step": "", "done": "", "object": "", "detail": detail}
            yield Landing(mistake, len(MISTAKES) + number, 0, "", scene, changed, words)
