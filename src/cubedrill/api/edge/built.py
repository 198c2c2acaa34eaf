"""The built screens: files whose names carry a hash, compressed when they were built, kept by browsers for good."""

from __future__ import annotations

import os
from typing import Final

from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

CODINGS: Final = {"br": ".br", "gzip": ".gz"}  # the smaller one first


class BuiltFiles(StaticFiles):
    """Serves each file as small as the browser can take it."""

    def file_response(
        self, full_path: str | os.PathLike[str], stat_result: os.stat_result, scope: Scope, status_code: int = 200
    ) -> Response:
        """Return the compressed file where there is one; the type is known by the ending before that of the coding."""
        accepted = {word.split(";")[0].strip() for word in Headers(scope=scope).get("accept-encoding", "").split(",")}
        packed = ((coding, f"{os.fspath(full_path)}{ending}") for coding, ending in CODINGS.items())
        coding, path = next(((c, p) for c, p in packed if c in accepted and os.path.exists(p)), (None, full_path))
        answer = super().file_response(path, os.stat(path) if coding else stat_result, scope, status_code)
        answer.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        answer.headers["Vary"] = "Accept-Encoding"
        if coding:
            answer.headers["Content-Encoding"] = coding
        return answer
