"""Scenes as files to download."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.scene.scene import Scene
from cubedrill.formats.conversion import converted_scene, written
from cubedrill.formats.limits import UnreadableError
from cubedrill.service.errors import RefusedError


@dataclass(frozen=True)
class ExportFormat:
    """The suffix of the file, and the conventions that were chosen, by name, for formats that do not fix their own."""

    suffix: str
    chosen: Mapping[str, str]


@dataclass(frozen=True)
class Download:
    """A file to download."""

    name: str
    content: bytes


def scene_download(name: str, scene: Scene, export: ExportFormat) -> Download:
    """Return a scene as a file; raise RefusedError "unreadable-file" if its format cannot hold the scene."""
    conventions = Conventions.model_validate({**scene.conventions.model_dump(), **export.chosen})
    file = f"{name}{export.suffix}"
    try:
        return Download(file, written(converted_scene(scene, conventions), export.suffix))
    except UnreadableError as error:
        raise RefusedError("unreadable-file", why=f"{file}: {error}") from None
