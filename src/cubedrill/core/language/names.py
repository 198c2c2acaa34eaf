"""Names in sentences: quoted where they could be misread, ids where a name is not unique."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Final

from cubedrill.core.language.reader import Expected, Reader
from cubedrill.core.scene.scene import Scene

_PLAIN: Final = re.compile(r"[\w'’-]+(?: [\w'’-]+)*")
_TOKEN: Final = re.compile(r"[\w-]+(?:/[\w-]+)*")
_NEW: Final = re.compile(r"[\w'’-]+(?:[ \t]+[\w'’-]+)*")
_QUOTED: Final = re.compile(r'"((?:[^"\\]|\\.)*)"|“([^”]*)”')
_BY_ID: Final = re.compile(r'id(?= *")', re.IGNORECASE)
_ARTICLE: Final = re.compile(r"the(?!\w)", re.IGNORECASE)
_BETWEEN: Final = re.compile(r",\s*and(?!\w)|and(?!\w)|,", re.IGNORECASE)
_ESCAPES: Final = {"\\": "\\\\", '"': '\\"', "\n": "\\n", "\r": "\\r"}
_UNESCAPED: Final = {"n": "\n", "r": "\r"}
_FIRST_OF_OTHERS: Final = frozenset({"its", "the", "all", "id", "out"})  # what begins something other than a name
_WORD: Final = re.compile(r"[^\W\d_]+")
# Words that may follow a name in a sentence: those of all phrases; a test names any that is missing.
FOLLOWING: Final = frozenset((
    "about", "add", "aim", "align", "all", "along", "and", "angle", "around", "as", "assemble", "at", "axes",
    "axis", "between", "but", "by", "children", "clear", "clearance", "colour", "copies", "drop", "duplicate",
    "each", "from", "holding", "id", "ids", "in", "it", "its", "join", "keep", "keeping", "lift", "locked",
    "marker", "matrix", "move", "name", "nest", "normal", "object", "objects", "of", "off", "offset", "on", "only",
    "onto", "opacity", "paint", "parent", "pivot", "point", "put", "remove", "rename", "rotate", "rotation",
    "round", "scale", "set", "sides", "sized", "solid", "space", "start", "swing", "taken", "the", "through",
    "time", "times", "to", "translation", "turn", "turned", "uniform", "unnamed", "volume", "with",
))  # fmt: skip
AN_ID: Final = Expected("an id", words=False)
A_NAME: Final = Expected("a name", words=False)


def quoted(name: str) -> str:
    """Write a name in quotes, on one line whatever is in it."""
    return f'"{"".join(_ESCAPES.get(c, c) for c in name)}"'


def written_name(scene: Scene | None, object_id: str) -> str:
    """Write the name of an object so that it is read back as this one."""
    if scene is None:
        return _unless_misread(object_id, _TOKEN, ())
    item = scene.objects.get(object_id)
    if item is None:
        return f"id {quoted(object_id)}"
    names = [other.name for other in scene.objects.values()]
    if names.count(item.name) == 1:
        return _unless_misread(item.name, _PLAIN, (*names, *scene.objects))
    if object_id in names:
        return f"id {quoted(object_id)}"
    return _unless_misread(object_id, _PLAIN, (*names, *scene.objects))


def written_new(name: str) -> str:
    """Write a name that nothing has yet."""
    return _unless_misread(name, _NEW, ())


def written_id(object_id: str) -> str:
    """Write an id that nothing has yet."""
    return _unless_misread(object_id, _TOKEN, ())


def _unless_misread(name: str, plain: re.Pattern[str], known: Iterable[str]) -> str:
    first = name.split(" ", maxsplit=1)[0].casefold()
    alone = plain.fullmatch(name) and "  " not in name and first not in _FIRST_OF_OTHERS
    start = name.casefold()
    rests = (other[len(name) :] for other in known if other.casefold().startswith(start))
    return name if alone and not any(_could_follow(rest) for rest in rests) else quoted(name)


def _could_follow(rest: str) -> bool:
    """Tell whether what a longer name goes on with could follow the shorter one in a sentence."""
    if not rest or rest[0].isalnum() or rest[0] in "_'’-/":
        return False  # the name would end in the middle of a word
    word = _WORD.match(rest.strip())
    return word is None or word[0].casefold() in FOLLOWING


def read_name(reader: Reader) -> str:
    """Read the name or id of an object; return its id."""
    reader.skip_blanks()
    if reader.has(_BY_ID):
        return _read_quoted(reader)  # whether there is such an object is for the step to say
    if reader.text[reader.at : reader.at + 1] in ('"', "“"):
        return _known(reader, _read_quoted(reader))
    if reader.scene is None:
        return _read_bare_id(reader)
    for _ in range(2):
        reader.skip_blanks()
        found = _longest_here(reader, reader.scene)
        if found is not None:
            name = reader.text[reader.at : reader.at + found]
            before = reader.at
            object_id = _known(reader, name)
            reader.at = before + found
            return object_id
        if not reader.has(_ARTICLE):
            break
    reader.stuck(*(Expected(written_name(reader.scene, i)) for i in reader.scene.objects))


def _read_bare_id(reader: Reader) -> str:
    before = reader.at
    found = reader.match(_TOKEN, AN_ID)
    if found.casefold() in _FIRST_OF_OTHERS:
        reader.at = before
        reader.stuck(AN_ID)
    return found


def read_names(reader: Reader) -> list[str]:
    """Read one name or several: `a`, `a and b`, `a, b and c`; return the ids."""
    ids = [read_name(reader)]
    while (more := reader.attempt(_read_next)) is not None:
        ids.append(more)
    return ids


def _read_next(reader: Reader) -> str:
    reader.match(_BETWEEN, Expected("and"))
    return read_name(reader)


def read_new(reader: Reader) -> str:
    """Read a name that nothing needs to have yet."""
    if reader.text[reader.at :].lstrip()[:1] in ('"', "“"):
        return _read_quoted(reader)
    return " ".join(reader.match(_NEW, A_NAME).split())


def read_id(reader: Reader) -> str:
    """Read an id that nothing needs to have yet."""
    if reader.text[reader.at :].lstrip()[:1] in ('"', "“"):
        return _read_quoted(reader)
    return reader.match(_TOKEN, AN_ID)


def _read_quoted(reader: Reader) -> str:
    text = reader.match(_QUOTED, Expected("a name in quotes that end", words=False))
    if text[0] == "“":
        return text[1:-1]
    return re.sub(r"\\(.)", lambda found: _UNESCAPED.get(found[1], found[1]), text[1:-1])


def _longest_here(reader: Reader, scene: Scene) -> int | None:
    """Return the length of the longest name or id that stands here, whatever its case."""
    longest = 0
    for known in (*(item.name for item in scene.objects.values()), *scene.objects):
        end = reader.at + len(known)
        if len(known) > longest and reader.text[reader.at : end].casefold() == known.casefold():
            edge = known[-1].isalnum() and reader.text[end : end + 1]
            if not (edge and (edge.isalnum() or edge in "_-/")):
                longest = len(known)
    return longest or None


def _known(reader: Reader, name: str) -> str:
    """Return the id of the object that is called this; a name before an id, the same case before another."""
    if reader.scene is None:
        return name
    named = [(item.name, i) for i, item in reader.scene.objects.items()]
    by_id = [(i, i) for i in reader.scene.objects]
    for many in (
        [i for called, i in named if called == name],
        [i for called, i in by_id if called == name],
        [i for called, i in named if called.casefold() == name.casefold()],
        [i for called, i in by_id if called.casefold() == name.casefold()],
    ):
        if len(many) == 1:
            return many[0]
        if many:
            ids = " or ".join(many[:3])
            reader.stuck(complaint=f"{len(many)} objects are called “{name}”; give the id, such as {ids}")
    reader.stuck(complaint=f"no object is called “{name}”; use a name from the list")
