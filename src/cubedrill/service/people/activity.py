"""Describe the activity in a class in sentences."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from cubedrill.store.tables import Event

# By kind; {person} is who it was done to, the others are facts of the event.
SENTENCES: Final[Mapping[str, str]] = {
    "class made": "made the class {name}",
    "class changed": "changed the class, which was {was}, to {name} in {time_zone}",
    "join code made": "made a join code for {minutes} minutes",
    "join code ended": "ended a join code",
    "joined": "came in by a join code",
    "brought in": "brought in {person} as {role}",
    "taken back": "took {person} back into the class",
    "renamed": "changed name or e-mail of {person}",
    "role changed": "made {person} {role} of the class",
    "asked to teach": "asked {person} to teach the class",
    "accepted to teach": "accepted to teach the class",
    "declined to teach": "declined to teach the class",
    "request withdrawn": "withdrew the request to {person} to teach the class",
    "one-time password given": "gave {person} a new one-time password",
    "moved away": "moved {person} to {other}",
    "moved here": "moved {person} here from {other}",
    "let go": "let {person} leave",
    "erased": "erased name and work of {person}",
    "set": "set {title} for the class",
    "setting changed": "changed how {title} is set: {changed}",
    "handed in": "handed in {title}",
    "reviewed": "reviewed {title} of {person}",
    "judged again": "had {title} judged again",
    "judged again taken": "took over {count} marks of {title} as judged again",
    "marks taken away": "took away the marks ({kind})",
}


def told_event(event: Event, names: Mapping[int, str]) -> str:
    """Return what was done in words, without who did it; names: of people, by their ids."""
    sentence = SENTENCES.get(event.kind)
    if sentence is None:
        return event.kind
    person = event.facts.get("person")
    return sentence.format_map({**event.facts, "person": names.get(person, "somebody") if person else ""})
