"""The kinds of scene file: which one some bytes are, by their content, and how each is read and written."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from cubedrill.core.scene.scene import Scene
from cubedrill.formats import collada, gltf, obj, openusd, ply, stl
from cubedrill.formats.imported import Imported
from cubedrill.formats.limits import LARGEST_FILE, UnreadableError


@dataclass(frozen=True)
class Kind:
    """A kind of scene file.

    ends: of file names. read: raises UnreadableError.
    """

    name: str
    ends: tuple[str, ...]
    is_it: Callable[[bytes], bool]
    read: Callable[[bytes], Imported]
    write: dict[str, Callable[[Scene], bytes]]


# In the order in which they are asked: those that begin with a word of their own come first.
KINDS: Final = (
    Kind(
        "glTF", (".glb", ".gltf"), gltf.is_gltf, gltf.read,
        {".glb": gltf.write, ".gltf": lambda scene: gltf.write(scene, binary=False)},
    ),
    Kind(
        "OpenUSD", (".usda", ".usdc", ".usdz"), openusd.is_usd, openusd.read,
        {".usda": openusd.write, ".usdc": lambda scene: openusd.write(scene, ".usdc")},
    ),
    Kind("PLY", (".ply",), ply.is_ply, ply.read, {".ply": ply.write}),
    Kind("Collada", (".dae",), collada.is_collada, collada.read, {".dae": collada.write}),
    Kind("STL", (".stl",), stl.is_stl, stl.read, {".stl": stl.write}),
    Kind("OBJ", (".obj",), obj.is_obj, obj.read, {".obj": obj.write}),
)  # fmt: skip
ENDS: Final = tuple(end for kind in KINDS for end in kind.ends)
WRITERS: Final = {end: write for kind in KINDS for end, write in kind.write.items()}


def kind_of(content: bytes) -> Kind | None:
    """Return the kind that some bytes are; none where they are no scene file, or one of ours."""
    return next((kind for kind in KINDS if kind.is_it(content)), None)


def read(content: bytes) -> Imported:
    """Read a scene of any kind; raise UnreadableError in one sentence."""
    if len(content) > LARGEST_FILE:
        raise UnreadableError(f"it is larger than {LARGEST_FILE // 1024**2} MB; submit less in one file.")
    kind = kind_of(content)
    if kind is None:
        raise UnreadableError("its format is not supported; use one of " + ", ".join(each.name for each in KINDS) + ".")
    return kind.read(content)
