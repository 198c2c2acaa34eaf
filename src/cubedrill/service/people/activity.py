"""Describe the activity in a class in sentences."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from cubedrill.store.tables import Event

# By kind; {person} is who it was done to, the others are facts of the event.
SENTENCES: Final[Mapping[str, str]] = {
    "class created": "created the class {name}",
    "class changed": "changed the class {was} to {name} in {time_zone}",
    "join code created": "created a join code for {minutes} minutes",
    "join code ended": "ended a join code",
    "joined": "joined with a code",
    "added": "added {person} as {role}",
    "added again": "added {person} to the class again",
    "renamed": "changed the name or e-mail address of {person}",
    "role changed": "made {person} a {role} of the class",
    "asked to teach": "asked {person} to teach the class",
    "accepted to teach": "accepted the request to teach the class",
    "declined to teach": "declined the request to teach the class",
    "request withdrawn": "withdrew the request to {person} to teach the class",
    "one-time password given": "gave {person} a new one-time password",
    "moved out": "moved {person} to {other}",
    "moved in": "moved {person} from {other} to this class",
    "removed": "removed {person} from the class",
    "erased": "erased the name and work of {person}",
    "assigned": "assigned {title} to the class",
    "settings changed": "changed the settings of {title}: {changed}",
    "exception changed": "changed the terms of {title} for {person}: {changed}",
    "weights changed": "changed the weights of the total",
    "class archived": "archived the class",
    "class reopened": "reopened the class",
    "class copied": "copied the class {name}",
    "submitted": "submitted {title}",
    "reviewed": "reviewed {title} by {person}",
    "re-checked": "re-checked {title}",
    "re-check applied": "applied {count} re-checked marks of {title}",
    "marks downloaded": "downloaded the marks ({kind})",
}


def activity_sentence(event: Event, names: Mapping[int, str]) -> str:
    """Return what was done in words, without who did it; names: of people, by their ids."""
    sentence = SENTENCES.get(event.kind)
    if sentence is None:
        return event.kind
    person = event.facts.get("person")
    return sentence.format_map({**event.facts, "person": names.get(person, "somebody") if person else ""})
