"""Write a validator's error as a sentence with its place in the document."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any, Final


def place_of(location: Sequence[str | int], document: Any) -> str:
    """Write the place of an error in a document as `start.objects[2].size[0]`.

    A validator's location also names the branch of a union that it tried; the document does not know those words.
    """
    parts, here = [], document
    for number, part in enumerate(location, start=1):
        missing = isinstance(here, dict) and number == len(location)
        if _has(here, part):
            here = here[part]
        elif not missing:
            continue
        parts.append(f"[{part}]" if isinstance(part, int) else f".{part}")
    return "".join(parts).removeprefix(".")


def _has(value: object, part: str | int) -> bool:
    if isinstance(part, int):
        return isinstance(value, list) and part < len(value)
    return isinstance(value, dict) and part in value


# Messages of the validator, in plainer words.
_PLAINER: Final = tuple(
    (re.compile(pattern), words)
    for pattern, words in (
        (r"^Value error, ", ""),
        (r"^Extra inputs are not permitted$", "unknown key"),
        (r"^Field required$", "missing key"),
        (
            r"^Unable to extract tag using discriminator '?(\w+)'?$",
            r"the key \1 is missing; it names the kind",
        ),
        (
            r"^Input tag '(.*)' found using '?(\w+)'? does not match any of the expected tags: ",
            r"unknown \2 \1; use one of ",
        ),
    )
)


def sentence_of(message: str) -> str:
    """Turn a validator's message into a sentence that begins in lower case and ends in a full stop.

    Examples
    --------
    >>> sentence_of("Unable to extract tag using discriminator 'op'")
    'the key op is missing; it names the kind.'
    """
    plain = message
    for pattern, words in _PLAINER:
        plain = pattern.sub(words, plain)
    return plain[:1].lower() + plain[1:].removesuffix(".") + "."
