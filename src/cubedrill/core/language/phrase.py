"""Phrases: how a value is said, declared once, so that what is written can be read.

A phrase is words and placeholders: `Drop {objects} onto {onto}[ with {clearance} between]`. A placeholder is a field
of the value. What stands in [ ] is written only where its fields differ from what holds without them; in < > always;
in « » where the sentence is exact. All three may be missing when a line is read. Of words joined by / the first is
written and any is read; a comma, a colon and `the` may be missing.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from pydantic import BaseModel

from cubedrill.core.language.part import Part, Writing
from cubedrill.core.language.reader import Expected, Reader

_CLOSING: Final = {"[": "]", "<": ">", "«": "»"}
_PIECES: Final = re.compile(r"\{\w+\}|[\[\]<>«»]|[^\s{}\[\]<>«»]+|\s+")
_MAY_MISS: Final = frozenset({",", ":", "the"})
_WORDS: Final = re.compile(r"[^,:()]+|[,:()]")


@dataclass(frozen=True)
class Word:
    """Words that stand in a sentence as they are."""

    text: str

    @property
    def ways(self) -> tuple[str, ...]:
        """The words, any of which is read."""
        return tuple(self.text.split("/")) if len(self.text) > 1 else (self.text,)


@dataclass(frozen=True)
class Placeholder:
    """A place for a field, or for some together, and the part that writes and reads it."""

    fields: tuple[str, ...]
    part: Part

    def value(self, values: Mapping[str, object]) -> object:
        """Return what is to be written."""
        found = tuple(values[field] for field in self.fields)
        return found if self.part.fields else found[0]

    def read(self, reader: Reader) -> dict[str, object]:
        """Read its fields."""
        found = self.part.read(reader)
        return dict(zip(self.fields, found if self.part.fields else [found], strict=True))


@dataclass(frozen=True)
class Blank:
    """A blank, written as it stands."""


@dataclass(frozen=True)
class Group:
    """An optional part of a phrase; opened by `[`, `<` or `«`."""

    kind: str
    pieces: tuple[Piece, ...]


Piece = Word | Placeholder | Blank | Group


class Phrase:
    """One way to say a value: words and slots, read and written."""

    def __init__(self, template: str, /, **parts: Part) -> None:
        """Take a template and the part of each of its slots."""
        self.pieces = _parsed(_PIECES.findall(template), parts, "")
        self.words = frozenset(word.casefold() for word in re.findall(r"[^\W\d_]+", template))

    def write(self, values: Mapping[str, object], defaults: Mapping[str, object], to: Writing) -> str | None:
        """Write the fields of a value; none where this phrase cannot say all of them."""
        said: set[str] = set()
        text = self._written(self.pieces, values, defaults, to, said)
        unsaid = {field for field, value in values.items() if field not in said and value != defaults.get(field, ...)}
        return None if text is None or unsaid else text

    def _written(
        self,
        pieces: Sequence[Piece],
        values: Mapping[str, object],
        defaults: Mapping[str, object],
        to: Writing,
        said: set[str],
    ) -> str | None:
        parts: list[str] = []
        for piece in pieces:
            match piece:
                case Word():
                    parts.append(piece.ways[0])
                case Blank():
                    parts.append(" ")
                case Placeholder():
                    value = piece.value(values)
                    if not piece.part.fits(value):
                        return None
                    said.update(piece.fields)
                    parts.append(piece.part.write(value, to))
                case Group():
                    if piece.kind == "«" and not to.exact:
                        said.update(_fields(piece.pieces))
                        continue
                    fields = _fields(piece.pieces)
                    if piece.kind == "[" and all(values[f] == defaults.get(f, ...) for f in fields):
                        continue
                    inner = self._written(piece.pieces, values, defaults, to, said)
                    if inner is None:
                        return None
                    parts.append(inner)
        return "".join(parts)

    def read(self, reader: Reader) -> dict[str, object]:
        """Read the fields of a value; raise StuckError where this phrase does not stand here."""
        return self._read(self.pieces, reader)

    def _read(self, pieces: Sequence[Piece], reader: Reader) -> dict[str, object]:
        found: dict[str, object] = {}
        for piece in pieces:
            match piece:
                case Word():
                    _read_word(piece, reader)
                case Placeholder():
                    found |= piece.read(reader)
                case Group(pieces=inside):
                    found |= reader.attempt(lambda r, inside=inside: self._read(inside, r)) or {}  # type: ignore[misc]
        return found


def _fields(pieces: Sequence[Piece]) -> list[str]:
    """Return the fields of all slots, those in groups too."""
    found: list[str] = []
    for piece in pieces:
        if isinstance(piece, Placeholder):
            found += piece.fields
        elif isinstance(piece, Group):
            found += _fields(piece.pieces)
    return found


def _parsed(tokens: list[str], parts: Mapping[str, Part], closing: str) -> tuple[Piece, ...]:
    """Take pieces from the front of the tokens up to what closes them."""
    pieces: list[Piece] = []
    while tokens:
        token = tokens.pop(0)
        if token == closing:
            return tuple(pieces)
        if token in _CLOSING:
            pieces.append(Group(token, _parsed(tokens, parts, _CLOSING[token])))
        elif token.isspace():
            pieces.append(Blank())
        elif token.startswith("{"):
            name = token[1:-1]
            pieces.append(Placeholder(parts[name].fields or (name,), parts[name]))
        else:
            pieces += [Word(word) for word in _WORDS.findall(token)]
    return tuple(pieces)


def _read_word(word: Word, reader: Reader) -> None:
    if word.text.casefold() in _MAY_MISS:
        reader.attempt(lambda r: r.words(word.text))
    else:
        reader.words(*word.ways)


class Sayings:
    """The ways to say a kind of value; the first that can say all of it is written."""

    def __init__(self, *phrases: Phrase) -> None:
        """Take the phrases in the order in which they are tried."""
        self.phrases = phrases

    def write(self, value: BaseModel, to: Writing, but: Sequence[str] = ()) -> str:
        """Write a value; but: the fields that are not said."""
        model = type(value)
        fields = {name: getattr(value, name) for name in model.model_fields if name not in but}
        defaults = {name: info.default for name, info in model.model_fields.items() if not info.is_required()}
        for phrase in self.phrases:
            text = phrase.write(fields, defaults, to)
            if text is not None:
                return text
        raise AssertionError(f"no phrase of {model.__name__} can say {value!r}")

    def read(self, reader: Reader) -> dict[str, object]:
        """Read the fields of a value by the phrase that comes farthest here."""
        return reader.farthest_of([phrase.read for phrase in self.phrases])


def ended(reader: Reader) -> None:
    """Make sure that nothing is left; raise StuckError otherwise."""
    if not reader.ended:
        reader.stuck(Expected("the end", words=False))
