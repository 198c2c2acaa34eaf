"""Small drawings of scenes as SVG."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from cubedrill.core.authoring.sketch import Patch

FRAME: Final = 'x="-0.25" width="1.5" height="1" rx="0.06"'


def svg_of(panels: Sequence[Sequence[Patch]]) -> str:
    """Return an SVG document with the panels side by side."""
    drawn = "".join(
        f'<svg x="{place * 1.6}" width="1.5" height="1" viewBox="-0.25 0 1.5 1"><g clip-path="url(#f)">'
        f'<rect {FRAME} fill="#808080" fill-opacity="0.12"/>{"".join(map(_polygon, patches))}</g></svg>'
        for place, patches in enumerate(panels)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {1.6 * len(panels) - 0.1:g} 1">'
        f'<clipPath id="f"><rect {FRAME}/></clipPath>{drawn}</svg>'
    )


def _polygon(patch: Patch) -> str:
    points = " ".join(f"{x},{y}" for x, y in patch.points)
    # The line around it closes the seams between the triangles of a face.
    return (
        f'<polygon points="{points}" fill="{patch.colour}" stroke="{patch.colour}" stroke-width="0.006" '
        f'opacity="{patch.opacity:g}"/>'
    )
