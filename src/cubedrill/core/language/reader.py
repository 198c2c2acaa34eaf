"""A line of text being read: where reading stands, how far it came, and what could have stood there."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import NoReturn, TypeVar

from cubedrill.core.errors import CoreError
from cubedrill.core.scene.scene import Scene
from cubedrill.core.scene.spaces import ViewDirections

T = TypeVar("T")

SHOWN = 24  # characters of what could not be read that its sentence shows
OFFERED = 6  # continuations that a sentence lists
LISTED = 200  # continuations that are kept for completion


class StuckError(Exception):
    """The text is not what was expected here; the reader remembers the place."""


@dataclass(frozen=True)
class Expected:
    """The expected text at a place: words to type, or a description such as `a number`."""

    text: str
    words: bool = True


@dataclass
class Reader:
    """A line being read in a scene.

    scene: none where names are ids and none is known. view: where the camera looks, for steps along its axes.
    own: the object that a place without a name is on. on_copies: whether the step acts on the copies of a duplicate.
    """

    text: str
    scene: Scene | None
    view: ViewDirections | None = None
    at: int = 0
    own: str | None = None
    on_copies: bool = False
    farthest: int = 0
    expected: dict[Expected, None] = field(default_factory=dict)
    complaint: str = ""

    @property
    def rest(self) -> str:
        """The rest of the text."""
        return self.text[self.at :]

    @property
    def ended(self) -> bool:
        """Whether nothing but blanks is left."""
        return not self.rest.strip()

    def skip_blanks(self) -> None:
        """Go on to the next character that is no blank."""
        self.at += len(self.rest) - len(self.rest.lstrip())

    def stuck(self, *expected: Expected, complaint: str = "") -> NoReturn:
        """Stop reading here, and record what could stand here unless an attempt got farther.

        Parameters
        ----------
        complaint : str, optional
            A sentence that says more than the list of what could stand here.
        """
        self.skip_blanks()
        if self.at > self.farthest or (self.at == self.farthest and not self.expected and not self.complaint):
            self.farthest, self.expected, self.complaint = self.at, {}, ""
        if self.at == self.farthest:
            if len(self.expected) < LISTED:
                self.expected.update(dict.fromkeys(expected))
            self.complaint = self.complaint or complaint
        raise StuckError

    def match(self, pattern: re.Pattern[str], *expected: Expected) -> str:
        """Read what a pattern matches here, blanks before it passed over."""
        self.skip_blanks()
        found = pattern.match(self.text, self.at)
        if found is None:
            self.stuck(*expected)
        self.at = found.end()
        return found[0]

    def has(self, pattern: re.Pattern[str]) -> bool:
        """Read what a pattern matches here, if it does."""
        self.skip_blanks()
        found = pattern.match(self.text, self.at)
        if found is not None:
            self.at = found.end()
        return found is not None

    def words(self, *phrases: str, offered: Iterable[str] | None = None) -> str:
        """Read one of several phrases, ignoring case and repeated blanks, and return it as given.

        Parameters
        ----------
        offered : sequence of str, optional
            The phrases to suggest if none stands here; the first one by default.
        """
        for phrase in phrases:
            if self.has(_pattern_of(phrase)):
                return phrase
        self.stuck(*(Expected(phrase) for phrase in (phrases[:1] if offered is None else offered)))

    def attempt(self, read: Callable[[Reader], T]) -> T | None:
        """Read something if it stands here; else stay where we are."""
        before = self.at
        try:
            return read(self)
        except StuckError:
            self.at = before
            return None

    def either(self, reads: Sequence[Callable[[Reader], T]]) -> T:
        """Read the first of these that stands here."""
        before = self.at
        for read in reads:
            try:
                return read(self)
            except StuckError:
                self.at = before
        raise StuckError

    def farthest_of(self, reads: Iterable[Callable[[Reader], T]]) -> T:
        """Read whichever of these comes farthest, the first of those that come equally far."""
        before, best = self.at, None
        for read in reads:
            self.at = before
            try:
                found = read(self)
            except StuckError:
                continue
            if best is None or self.at > best[1]:
                best = (found, self.at)
        if best is None:
            self.at = before
            raise StuckError
        self.at = best[1]
        return best[0]

    def error(self) -> CoreError:
        """Return why the line could not be read: the place, and what could stand there."""
        rest = self.text[self.farthest :].strip()
        offered = [item.text for item in self.expected]
        facts = {"at": self.farthest, "expected": offered, "rest": rest if len(rest) <= SHOWN else f"{rest[:SHOWN]}…"}
        if self.complaint:
            return CoreError("unread-because", why=self.complaint, **facts)
        shown = offered[:OFFERED]
        what = " or ".join([*shown, "something else"] if len(offered) > OFFERED else shown) or "nothing more"
        return CoreError("unread-from" if rest else "unread-end", what=what, **facts)

    def completions(self) -> list[str]:
        """Return the line as it could go on: each continuation that begins with what stands at the farthest place."""
        rest = self.text[self.farthest :].casefold()
        head = self.text[: self.farthest].rstrip()
        fitting = [item.text for item in self.expected if item.words and item.text.casefold().startswith(rest.strip())]
        glue = "" if not head or head.endswith("(") else " "
        return [f"{head}{'' if text in (',', ':', ')') else glue}{text}" for text in fitting]


_PATTERNS: dict[str, re.Pattern[str]] = {}


def _pattern_of(phrase: str) -> re.Pattern[str]:
    """Return a pattern for a phrase of the grammar: blanks as many as there are, no word cut short."""
    if phrase not in _PATTERNS:
        parts = [re.escape(part) for part in phrase.split()]
        edge = r"(?!\w)" if phrase[-1].isalnum() else ""
        _PATTERNS[phrase] = re.compile(r"\s+".join(parts) + edge, re.IGNORECASE)
    return _PATTERNS[phrase]
