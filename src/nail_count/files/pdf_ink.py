"""A drawing in black and white laid on a page of a PDF, as vectors."""

from __future__ import annotations

from functools import cache
from importlib.resources import as_file, files

from reportlab.lib.colors import Color
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.pdfgen.pathobject import PDFPathObject
from reportlab.platypus import Flowable

from ..drawing.ink import Area, Disc, Ink, Mark, Shape, Stroke, Tone, Words
from ..drawing.way import Curve, Point

PLAIN, BOLD = "Paper", "Paper-Bold"
_FILES = {PLAIN: "sans.ttf", BOLD: "sans-bold.ttf"}


@cache
def register() -> None:
    """Makes the typeface known, once for all papers."""
    for name, file in _FILES.items():
        with as_file(files("nail_count.files") / "fonts" / file) as path:
            pdfmetrics.registerFont(TTFont(name, str(path)))
    pdfmetrics.registerFontFamily(PLAIN, normal=PLAIN, bold=BOLD, italic=PLAIN, boldItalic=BOLD)


TONES: dict[Tone, float] = {"paper": 1.0, "light": 0.93, "mid": 0.6, "ink": 0.0}
"""How light each is, from black to white."""
TALLEST = 84.0
"""A drawing takes no more of a page than that [mm]."""
SHEET = 205.0
"""A map may take most of a page [mm]."""


class Drawing(Flowable):
    """A drawing that flows with the text."""

    def __init__(self, ink: Ink, room: float, tallest: float = TALLEST) -> None:
        super().__init__()
        self.ink, self.room, self.tallest = ink, room, tallest
        self.scale = 1.0

    def wrap(self, room: float, height: float) -> tuple[float, float]:
        """How much of the page it takes [pt]."""
        width, tall = min(room, self.room, self.ink.widest * mm), min(self.tallest * mm, height)
        self.scale = min(width / self.ink.width, tall / self.ink.height)
        self.width, self.height = self.ink.width * self.scale, self.ink.height * self.scale + 2 * mm
        return self.width, self.height

    def draw(self) -> None:
        """Draws it, its top at the top: a PDF counts from below."""
        on: Canvas = self.canv
        on.saveState()
        on.translate(0, self.height - 1 * mm)
        on.scale(self.scale, -self.scale)
        on.translate(-self.ink.x, -self.ink.y)
        on.setLineCap(1)
        for mark in self.ink.marks:
            _put(on, mark)
        on.restoreState()


def _tone(tone: Tone) -> Color:
    light = TONES[tone]
    return Color(light, light, light)


def _put(on: Canvas, mark: Mark) -> None:
    if isinstance(mark, Words):
        _words(on, mark)
        return
    if isinstance(mark, Stroke):
        _pen(on, mark.width, mark.tone, mark.dashed)
        _stroke(on, mark)
        return
    _pen(on, mark.line, "ink", isinstance(mark, Area) and mark.dashed)
    fills = mark.tone != "none"
    if fills:
        on.setFillColor(_tone(mark.tone))
    stroke, fill = int(mark.line > 0), int(fills)
    match mark:
        case Area(round=0):
            on.rect(mark.x, mark.y, mark.width, mark.height, stroke, fill)
        case Area():
            on.roundRect(mark.x, mark.y, mark.width, mark.height, mark.round, stroke, fill)
        case Disc():
            on.circle(mark.x, mark.y, mark.r, stroke, fill)
        case Shape():
            path = _along(on, mark.points)
            path.close()
            on.drawPath(path, stroke, fill)


def _pen(on: Canvas, width: float, tone: Tone, dashed: bool) -> None:
    on.setLineWidth(width)
    on.setStrokeColor(_tone(tone))
    on.setDash([3 * width + 1, 2 * width + 1] if dashed else [])


def _along(on: Canvas, points: tuple[Point, ...]) -> PDFPathObject:
    path = on.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    return path


def _stroke(on: Canvas, mark: Stroke) -> None:
    if isinstance(mark.way, Curve):
        path = on.beginPath()
        path.moveTo(*mark.way.start)
        path.curveTo(*mark.way.pulled, *mark.way.drawn, *mark.way.end)
    else:
        path = _along(on, mark.way.points)
    on.drawPath(path, 1, 0)


def _words(on: Canvas, mark: Words) -> None:
    on.saveState()
    on.translate(mark.x, mark.y)
    on.scale(1, -1)
    on.setFillColor(_tone("ink"))
    on.setFont(BOLD if mark.bold else PLAIN, mark.size)
    {"start": on.drawString, "middle": on.drawCentredString, "end": on.drawRightString}[mark.at](0, 0, mark.text)
    on.restoreState()
