"""A part of a sentence: how a value is written in it, and read from it again."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.language import numerals
from cubedrill.core.language.reader import Expected, Reader
from cubedrill.core.scene.scene import Scene

UNTOLD = Conventions()  # of a list of steps without its exercise


@dataclass(frozen=True)
class Writing:
    """The settings for writing a sentence.

    scene: as it stands before the step; none where names are ids. exact: for files, with all that the step says and
    numbers in shortest round-trip form; else for people. on_copies: whether the step acts on the copies of a duplicate.
    """

    scene: Scene | None
    exact: bool = False
    on_copies: bool = False

    @property
    def conventions(self) -> Conventions:
        """The units that numbers are in."""
        return conventions_of(self.scene)

    def number(self, value: float) -> str:
        """Write a number without a unit."""
        return numerals.written(value, self.exact)

    def length(self, value: float) -> str:
        """Write a length with its unit."""
        return f"{self.number(value)} {self.conventions.length}"

    def angle(self, value: float) -> str:
        """Write an angle with its unit."""
        unit = self.conventions.angle
        return f"{self.number(value)}{'°' if unit == 'deg' else f' {unit}'}"


def conventions_of(scene: Scene | None) -> Conventions:
    """Return the conventions of a scene, or those that hold where there is none."""
    return UNTOLD if scene is None else scene.conventions


class Part(ABC):
    """A part of a sentence; read raises StuckError where it does not stand there.

    fields: those of the value that it says together; none where it says the one that its slot is called.
    """

    @property
    def fields(self) -> tuple[str, ...]:
        """The fields that it says together."""
        return ()

    def fits(self, value: object) -> bool:
        """Tell whether this part can write a value."""
        return value is not None

    @abstractmethod
    def write(self, value: object, to: Writing) -> str:
        """Write a value as it stands in a sentence."""

    @abstractmethod
    def read(self, reader: Reader) -> Any:
        """Read a value as files hold it."""


@dataclass(frozen=True)
class By(Part):
    """A part by two functions."""

    writes: Callable[[Any, Writing], str]
    reads: Callable[[Reader], Any]

    def write(self, value: object, to: Writing) -> str:
        """Write a value."""
        return self.writes(value, to)

    def read(self, reader: Reader) -> Any:
        """Read a value."""
        return self.reads(reader)


@dataclass(frozen=True)
class Choice(Part):
    """One of a few values, each with its words; the first are written."""

    words: Mapping[Any, str | tuple[str, ...]]

    def fits(self, value: object) -> bool:
        """Tell whether it is one of them."""
        return isinstance(value, str | bool | None) and value in self.words

    def write(self, value: object, to: Writing) -> str:
        """Write its words."""
        del to
        return self._words(value)[0]

    def read(self, reader: Reader) -> object:
        """Read the words of one."""
        every = [word for value in self.words for word in self._words(value)]
        said = reader.words(*every, offered=[self._words(value)[0] for value in self.words])
        return next(value for value in self.words if said in self._words(value))

    def _words(self, value: object) -> tuple[str, ...]:
        words = self.words[value]
        return (words,) if isinstance(words, str) else words


def described(text: str) -> Expected:
    """Describe what could stand at a place."""
    return Expected(text, words=False)
