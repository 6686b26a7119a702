"""A drawing as a picture of so many dots, drawn with the type that ships."""

from __future__ import annotations

from importlib.resources import as_file, files

import resvg_py

from ..drawing.ink import Ink
from .svg import svg

DOTS = 1600
"""Across [px]; enough for a page of paper in its width."""
DPI = 96.0
"""How many dots an inch of the SVG has before it is made as wide as asked."""
MOST_HIGH = 6000
"""A picture taller than this is drawn smaller [px]."""


def png(ink: Ink, across: int = DOTS) -> bytes:
    """Return a drawing as PNG, on white.

    Args:
        ink: the drawing.
        across: how wide it becomes [px].

    >>> from nail_count.drawing.ink import Area
    >>> png(Ink(0, 0, 10, 5, (Area(1, 1, 8, 3, "light"),), "A box."), 40)[1:4]
    b'PNG'
    """
    across = max(1, min(across, int(MOST_HIGH * ink.width / ink.height)))
    with as_file(files("nail_count.files") / "fonts") as fonts:
        return resvg_py.svg_to_bytes(
            svg_string=svg(ink), background="#ffffff", width=across, dpi=DPI, skip_system_fonts=True,
            font_files=[str(fonts / "sans.ttf"), str(fonts / "sans-bold.ttf")], sans_serif_family="DejaVu Sans",
        )  # fmt: skip
