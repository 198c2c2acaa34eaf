"""Conventions that a file does not say: guessed from what it is submitted for, and told with the guess."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import product
from typing import Final, get_args

import numpy as np

from cubedrill.core.errors import CoreError
from cubedrill.core.geometry.conventions import Conventions, ConventionTransform
from cubedrill.core.judging.submission import SceneFile
from cubedrill.core.scene.scene import IDENTITY, Scene, scene_of
from cubedrill.core.values import Array
from cubedrill.formats.imported import Imported
from cubedrill.formats.limits import UnreadableError

ASKED: Final = ("up", "handedness", "length")
CHOICES: Final = {name: get_args(Conventions.model_fields[name].annotation) for name in ASKED}
USUAL: Final = "right"  # handedness of files that say nothing: common practice, no source
ALIKE: Final = 0.01  # of a size: boxes that differ by less are of one and the same solid


def scene_file(imported: Imported, target: Scene, chosen: Mapping[str, str]) -> SceneFile:
    """Return an imported scene in the conventions that the file states, or that were chosen, or that are guessed.

    Parameters
    ----------
    imported : Imported
    target : Scene
        For the guess.
    chosen : mapping
        Conventions by name. The file takes precedence.

    Raises
    ------
    UnreadableError
        If its positions are none that a scene can have.
    """
    open_ = [name for name in ASKED if name not in imported.said and name not in chosen]
    known = {**target.conventions.model_dump(), **chosen, **imported.said}
    notes = imported.notes
    if open_:
        guess = _guess(imported, target, known, open_)
        known |= guess
        words = ", ".join(f"{name} {value}" for name, value in guess.items())
        notes = (*notes, f"The file does not state its axes or unit. Guessed from the exercise: {words}.")
    return SceneFile(conventions=Conventions.model_validate(known), objects=imported.objects, notes=notes)


def _guess(imported: Imported, target: Scene, known: Mapping[str, str], open_: Sequence[str]) -> dict[str, str]:
    """The choices under which most objects are as large as one of the target's, and then lie nearest to theirs."""
    wanted = _boxes(target)
    best: tuple[tuple[float, float], dict[str, str]] | None = None
    # Only those that are usual, and the exercise's own, since it may have been removed from here.
    likely = {**CHOICES, "handedness": tuple(dict.fromkeys((USUAL, target.conventions.handedness)))}
    boxes: dict[tuple[str, str], Array] = {}
    for values in product(*(likely[name] for name in open_)):
        tried = dict(zip(open_, values, strict=True))
        change = ConventionTransform(Conventions.model_validate({**known, **tried}), target.conventions)
        axes = (change.source.up, change.source.handedness)
        if axes not in boxes:  # in another unit they are as many times as large
            boxes[axes] = _boxes(_scene(imported, change)) / change.ratio
        score = _fit(wanted, boxes[axes] * change.ratio)
        as_asked = all(getattr(target.conventions, name) == value for name, value in tried.items())
        score = (score[0], score[1] - 1e-9 * as_asked)  # the exercise's own where nothing else tells
        if best is None or score < best[0]:
            best = score, tried
    assert best is not None  # noqa: S101 - each has a choice
    return best[1]


def _scene(imported: Imported, change: ConventionTransform) -> Scene:
    try:
        objects = [spec.converted(change).to_object() for spec in imported.objects]
        return scene_of(objects, change.target, np.zeros(3))
    except CoreError as error:
        raise UnreadableError(error.text[:1].lower() + error.text[1:]) from None


def _boxes(scene: Scene) -> Array:
    """Return (n, 2, 3) least and largest corners of all solids in the world."""
    boxes = [scene.box(i, IDENTITY) for i, item in scene.objects.items() if item.solid is not None]
    return np.array([(box.least, box.most) for box in boxes if box is not None]).reshape(-1, 2, 3)


def _fit(wanted: Array, found: Array) -> tuple[float, float]:
    """Return how many sizes match no wanted one, and the sum of their distances; less is better."""
    if not len(wanted) or not len(found):
        return 0.0, 0.0
    sizes_wanted, sizes = (each[:, 1] - each[:, 0] for each in (wanted, found))
    unlike = np.abs(sizes[:, None] - sizes_wanted).max(axis=2) / sizes_wanted.max(axis=1)
    away = np.linalg.norm(found.mean(axis=1)[:, None] - wanted.mean(axis=1), axis=2)
    return float((unlike.min(axis=1) > ALIKE).sum()), float(away.min(axis=1).sum())
