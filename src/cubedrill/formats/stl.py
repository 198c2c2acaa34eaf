"""STL, as text or binary: triangles in the world, without unit, axes or tree.

Source: the StereoLithography Interface Specification (3D Systems, 1989), from memory.
"""

from __future__ import annotations

import re
import struct
from typing import Final

import numpy as np

from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import Array
from cubedrill.formats.imported import Gathering, Imported, Surface, as_float64, welded
from cubedrill.formats.limits import MOST_TRIANGLES, UnreadableError, too_many
from cubedrill.formats.written import world_surfaces

HEAD: Final = 84
FACET: Final = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])
NUMBER: Final = rb"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
VERTEX: Final = re.compile(rb"(?i)\bvertex\s+(%b)\s+(%b)\s+(%b)(?=\s)" % (NUMBER, NUMBER, NUMBER))
SOLID: Final = re.compile(rb"(?im)^[ \t]*solid\b[ \t]*(.*)$")


def is_stl(content: bytes) -> bool:
    """Tell whether it is binary, which its length says, or text that begins with `solid` and has a facet."""
    return is_binary(content) or (content.lstrip()[:5].lower() == b"solid" and b"facet" in content[:4096].lower())


def is_binary(content: bytes) -> bool:
    """Tell whether the length is just that of as many facets as it announces."""
    return len(content) >= HEAD and len(content) == HEAD + FACET.itemsize * struct.unpack_from("<I", content, 80)[0]


def read(content: bytes) -> Imported:
    """Read a scene: one object, or in a text one for each `solid`. Raises UnreadableError."""
    found = Gathering()
    if is_binary(content):
        surface = _surface(as_float64(np.frombuffer(content, FACET, offset=HEAD)["corners"]))
        if surface is not None:
            found.add_whole("object", surface)
        return found.done()
    heads = list(SOLID.finditer(content))
    ends = [head.start() for head in heads[1:]] + [len(content)]
    for head, end in zip(heads, ends, strict=True):
        part = content[head.end() : end]
        corners = [[float(number) for number in vertex.groups()] for vertex in VERTEX.finditer(part)]
        if len(corners) != part.lower().split().count(b"vertex") or len(corners) % 3:
            raise UnreadableError("a facet has no three corners of three numbers; export the file again.")
        surface = _surface(np.array(corners, dtype=np.float64).reshape(-1, 3, 3))
        if surface is not None:
            found.add(head.group(1).decode("utf-8", "replace"), None, np.eye(4), surface)
    return found.done()


def _surface(facets: Array) -> Surface | None:
    """Return the surface of facets (n, 3, 3), corners at the very same place being one vertex, as they once were."""
    if len(facets) > MOST_TRIANGLES:
        raise too_many("triangles", MOST_TRIANGLES)
    if not len(facets):
        return None
    points, corners = welded(facets.reshape(-1, 3))
    return Surface(points, corners.reshape(-1, 3))


def write(scene: Scene) -> bytes:
    """Return a scene as STL text, a `solid` an object, in the scene's own axes and unit; tree and colours are lost."""
    lines: list[str] = []
    for item, surface in world_surfaces(scene):
        facets = surface.points[surface.corners]
        lines.append(f"solid {item.name}")
        for facet, normal in zip(facets.tolist(), _normals(facets).tolist(), strict=True):
            lines += ["facet normal " + _row(normal), "outer loop", *(f"vertex {_row(corner)}" for corner in facet)]
            lines += ["endloop", "endfacet"]
        lines.append(f"endsolid {item.name}")
    return ("\n".join(lines) + "\n").encode()


def _normals(facets: Array) -> Array:
    across = np.cross(facets[:, 1] - facets[:, 0], facets[:, 2] - facets[:, 0])
    lengths = np.linalg.norm(across, axis=1, keepdims=True)
    return np.asarray(across / np.where(lengths > 0, lengths, 1.0))


def _row(numbers: list[float]) -> str:
    return " ".join(repr(number) for number in numbers)
