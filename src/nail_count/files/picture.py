"""A drawing as a file, in the form that is asked for."""

from __future__ import annotations

from typing import Literal

from ..drawing.ink import Ink
from .svg import svg

PictureForm = Literal["svg", "png"]


def picture(ink: Ink, form: PictureForm) -> tuple[bytes, str]:
    """Return a drawing as a file, and the kind of the file.

    Args:
        ink: the drawing.
        form: vectors, or dots.

    >>> from nail_count.drawing.ink import Area
    >>> picture(Ink(0, 0, 10, 5, (Area(1, 1, 8, 3, "light"),), "Box"), "svg")[1]
    'image/svg+xml'
    """
    if form == "svg":
        return svg(ink).encode(), "image/svg+xml"
    # Read where it is needed: a server starts without it.
    from .png import png

    return png(ink), "image/png"
