"""OBJ: lines of vertices and faces. It has no transforms, no tree, no unit and no axes; all vertices are in the world.

Source: Wavefront's description of the object file format (version 3.0), sections on vertex data, elements and grouping.
Red, green and blue from 0 to 1 after the place of a vertex: common practice, no source.
"""

from __future__ import annotations

import re
from typing import Final

import numpy as np

from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Indices
from cubedrill.formats.colours import as_hex, shown_of
from cubedrill.formats.imported import Gathering, Imported, Surface, cleaned, fan
from cubedrill.formats.limits import MOST_TRIANGLES, MOST_VERTICES, UnreadableError, too_many
from cubedrill.formats.written import after, said_of, world_surfaces

WORDS: Final = {b"v", b"vt", b"vn", b"vp", b"f", b"l", b"p", b"o", b"g", b"s", b"usemtl", b"mtllib"}
MATERIALS: Final = (
    "Materials are in a second file, which is not imported; objects without a colour have the default colour."
)
LEFT_OUT: Final = {"l": "lines", "p": "points", "curv": "curves", "surf": "curved surfaces"}


def is_obj(content: bytes) -> bool:
    """Tell whether the first line that says something begins with a word of this format."""
    for line in content[:65536].splitlines():
        if words := line.split():
            if words[0].startswith(b"#"):
                continue
            return words[0] in WORDS
    return False


def read(content: bytes) -> Imported:
    """Read a scene: an object for each `o`, or each `g` where there is no `o`. Raises UnreadableError."""
    text = _text(content)
    return _Reader("o" if re.search(r"(?m)^\s*o\s", text) else "g").scene(text)


def _text(content: bytes) -> str:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    return text.replace("\\\r\n", " ").replace("\\\n", " ")


class _Reader:
    def __init__(self, begins: str) -> None:
        self.begins = begins
        self.found = Gathering()
        self.vertices: list[tuple[float, float, float]] = []
        self.colours: list[tuple[float, float, float] | None] = []
        self.name = ""
        self.faces: dict[str, list[tuple[int, int, int]]] = {}
        self.count = 0

    def scene(self, text: str) -> Imported:
        for number, line in enumerate(text.splitlines(), start=1):
            words = line.split()
            if words:
                self._take(words, line, number)
        points = np.array(self.vertices, dtype=np.float64).reshape(-1, 3)
        for name, faces in self.faces.items():
            used, corners = np.unique(np.array(faces, dtype=np.intp).reshape(-1, 3), return_inverse=True)
            surface = Surface(points[used], corners.reshape(-1, 3))
            self.found.add(name, None, np.eye(4), surface, colour=self._colour(used))
        return self.found.done()

    def _take(self, words: list[str], line: str, number: int) -> None:
        match words[0]:
            case "v":
                self._vertex(words, number)
            case "f":
                self._face(words[1:], number)
            case "mtllib":
                self.found.note(MATERIALS)
            case word if word == self.begins:
                self.name = line.strip()[1:].strip()
            case word if word in LEFT_OUT:
                self.found.left_out(LEFT_OUT[word], self._named())
            case _:
                pass

    def _vertex(self, words: list[str], number: int) -> None:
        if len(self.vertices) >= MOST_VERTICES:
            raise too_many("vertices", MOST_VERTICES)
        try:
            x, y, z, *more = (float(word) for word in words[1:7])
        except ValueError:
            raise UnreadableError(f"line {number} has no three numbers for a vertex; export the file again.") from None
        self.vertices.append((x, y, z))
        self.colours.append((more[0], more[1], more[2]) if len(more) == len("rgb") else None)

    def _colour(self, used: Indices) -> str | None:
        """Return the mean of the colours of some vertices; none where one of them has none."""
        found = [colour for place in used.tolist() if (colour := self.colours[place]) is not None]
        return as_hex(np.clip(found, 0.0, 1.0).mean(axis=0)) if len(found) == len(used) else None

    def _face(self, words: list[str], number: int) -> None:
        corners = [self._corner(word, number) for word in words]
        if len(corners) < 3:
            raise UnreadableError(f"line {number} has a face with fewer than three corners; export the file again.")
        self.count += len(corners) - 2
        if self.count > MOST_TRIANGLES:
            raise too_many("triangles", MOST_TRIANGLES)
        self.faces.setdefault(self._named(), []).extend(fan(corners))

    def _corner(self, word: str, number: int) -> int:
        """Place in the list of vertices; a negative number counts back from the last one."""
        try:
            said = int(word.partition("/")[0])
        except ValueError:
            said = 0
        place = said - 1 if said > 0 else len(self.vertices) + said
        if said == 0 or not 0 <= place < len(self.vertices):
            raise UnreadableError(f"line {number} names a vertex that is not there; export the file again.")
        return place

    def _named(self) -> str:
        return cleaned(self.name or "object")


def write(scene: Scene) -> bytes:
    """Return a scene as OBJ: vertices in the scene's own axes and unit with their colours; the tree is lost."""
    lines = ["# Cube Drill", f"# {said_of(scene)}"]
    count = 1
    for item, surface in world_surfaces(scene):
        lines.append(f"o {item.name}")
        colour = " ".join(f"{shown:.4f}" for shown in shown_of(item.colour).tolist())
        lines += [f"v {x!r} {y!r} {z!r} {colour}" for x, y, z in surface.points.tolist()]
        lines += [f"f {a} {b} {c}" for a, b, c in after(count, surface).tolist()]
        count += len(surface.points)
    return ("\n".join(lines) + "\n").encode()
