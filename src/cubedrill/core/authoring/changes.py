"""Describe the changes between two versions of an exercise in sentences."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.scene.wording import listed
from cubedrill.core.steps.replay import replay

PARTS = {"title": "The title", "brief": "The brief", "conventions": "The conventions", "pass_mark": "The pass mark"}


def changed(before: Exercise, after: Exercise) -> tuple[str, ...]:
    """Return what differs, a sentence each; nothing where both judge alike and look alike."""
    ways = (_parts, _objects, _steps, _checks, _rules)
    return tuple(sentence for way in ways for sentence in way(before, after))


def _parts(before: Exercise, after: Exercise) -> Iterator[str]:
    for name, words in PARTS.items():
        old, new = getattr(before, name), getattr(after, name)
        if old == new:
            continue
        if name in ("title", "pass_mark"):
            yield f"{words} was {old} and is {new}."
        elif name == "brief":
            yield f"{words} was rewritten."
        else:
            said = [f"{key} was {was} and is {now}" for key, was, now in _differing(old.model_dump(), new.model_dump())]
            yield f"{words}: {listed(said)}."


def _objects(before: Exercise, after: Exercise) -> Iterator[str]:
    old = {spec.id: spec for spec in before.start.objects}
    new = {spec.id: spec for spec in after.start.objects}
    for words, ids, of in (("was added", new.keys() - old, new), ("is gone", old.keys() - new.keys(), old)):
        for object_id in sorted(ids):
            yield f"{of[object_id].name or object_id} {words}."
    for object_id in [i for i in new if i in old]:
        parts = [key for key, _was, _now in _differing(old[object_id].model_dump(), new[object_id].model_dump())]
        if parts:
            yield f"{new[object_id].name or object_id} has a different {listed(parts)}."
    for name in ("marker", "plot"):
        if getattr(before.start, name) != getattr(after.start, name):
            yield f"The {name} changed."
    if before.target != after.target:
        yield (
            "The target changed."
            if before.target and after.target
            else ("The target is now frozen." if after.target else "The target is now where the reference leads.")
        )


def _steps(before: Exercise, after: Exercise) -> Iterator[str]:
    old, new = (each.reference.steps if each.reference else () for each in (before, after))
    if old == new:
        return
    first = next((k for k, (a, b) in enumerate(zip(old, new, strict=False)) if a != b), min(len(old), len(new)))
    if len(old) != len(new):
        yield f"The reference had {len(old)} steps and has {len(new)}, different from step {first + 1} on."
        return
    others = [k for k, (a, b) in enumerate(zip(old, new, strict=True)) if a != b]
    sentences = _sentences(after)
    for k in others:
        yield f"Step {k + 1} of the reference is now: {sentences[k]}."


def _sentences(exercise: Exercise) -> Sequence[str]:
    steps = exercise.reference.steps if exercise.reference else ()
    try:
        return [state.sentence for state in replay(exercise.start_scene(), steps)[1:]]
    except CoreError:
        return [step.op for step in steps]


def _checks(before: Exercise, after: Exercise) -> Iterator[str]:
    old, new = ({check.id: check for check in each.checks} for each in (before, after))
    for words, ids in (("was added", [i for i in new if i not in old]), ("is gone", [i for i in old if i not in new])):
        for check_id in ids:
            yield f"The check {check_id} {words}."
    for check_id in [i for i in new if i in old]:
        said = [
            f"{key} was {was} and is {now}"
            for key, was, now in _differing(old[check_id].model_dump(), new[check_id].model_dump())
        ]
        if said:
            yield f"The check {check_id}: {listed(said)}."


def _rules(before: Exercise, after: Exercise) -> Iterator[str]:
    for key, was, now in _differing(before.rules.model_dump(), after.rules.model_dump()):
        yield f"The rule {key} was {_words(was)} and is {_words(now)}."


def _differing(old: Mapping[str, object], new: Mapping[str, object]) -> Iterator[tuple[str, Any, Any]]:
    for key in dict.fromkeys((*old, *new)):
        if old.get(key) != new.get(key):
            yield key, old.get(key), new.get(key)


def _words(value: object) -> str:
    return "all" if value is None else listed(list(value)) if isinstance(value, tuple) else str(value)
