"""The typeface of papers: static, shipped, and embedded in every PDF."""

from __future__ import annotations

from functools import cache
from importlib.resources import as_file, files

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

PLAIN, BOLD = "Paper", "Paper-Bold"
_FILES = {PLAIN: "sans.ttf", BOLD: "sans-bold.ttf"}


@cache
def register() -> None:
    """Makes the typeface known, once for all papers."""
    for name, file in _FILES.items():
        with as_file(files("nail_count.files") / "fonts" / file) as path:
            pdfmetrics.registerFont(TTFont(name, str(path)))
    pdfmetrics.registerFontFamily(PLAIN, normal=PLAIN, bold=BOLD, italic=PLAIN, boldItalic=BOLD)
