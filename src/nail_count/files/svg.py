"""A drawing in black and white as an SVG that stands alone: no style sheet, no font of ours, nothing from elsewhere."""

from __future__ import annotations

from xml.sax.saxutils import escape, quoteattr

from ..drawing.ink import Area, Disc, Ink, Mark, Shape, Stroke, Tone, Words

TONES: dict[Tone, str] = {"none": "none", "paper": "#fff", "light": "#ececec", "mid": "#999", "ink": "#000"}


def svg(ink: Ink) -> str:
    """A drawing as SVG, true to scale where it is one.

    >>> print(svg(Ink(0, 0, 10, 5, (Area(1, 1, 8, 3, "light"),), "Box")))
    <svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 5" width="160mm" height="80mm" role="img" aria-label="Box">
    <rect x="1" y="1" width="8" height="3" rx="0" fill="#ececec" stroke="#000" stroke-width="1"/>
    </svg>
    """
    view = " ".join(_n(value) for value in (ink.x, ink.y, ink.width, ink.height))
    marks = "\n".join(_mark(mark) for mark in ink.marks)
    size = f'width="{_n(ink.widest)}mm" height="{_n(ink.widest * ink.height / ink.width)}mm"'
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{view}" {size} role="img" '
        f"aria-label={quoteattr(ink.facts)}>\n{marks}\n</svg>"
    )


def _mark(mark: Mark) -> str:
    match mark:
        case Words():
            weight = ' font-weight="700"' if mark.bold else ""
            return (
                f'<text x="{_n(mark.x)}" y="{_n(mark.y)}" font-family="sans-serif" font-size="{_n(mark.size)}" '
                f'text-anchor="{mark.at}"{weight}>{escape(mark.text)}</text>'
            )
        case Stroke():
            return (
                f'<path d="{mark.way}" fill="none" stroke="{TONES[mark.tone]}" stroke-width="{_n(mark.width)}" '
                f'stroke-linecap="round"{_dashes(mark.width, mark.dashed)}/>'
            )
        case Area():
            return (
                f'<rect x="{_n(mark.x)}" y="{_n(mark.y)}" width="{_n(mark.width)}" height="{_n(mark.height)}" '
                f'rx="{_n(mark.round)}" {_edge(mark.tone, mark.line)}{_dashes(mark.line, mark.dashed)}/>'
            )
        case Disc():
            return f'<circle cx="{_n(mark.x)}" cy="{_n(mark.y)}" r="{_n(mark.r)}" {_edge(mark.tone, mark.line)}/>'
        case Shape():
            points = " ".join(f"{_n(x)},{_n(y)}" for x, y in mark.points)
            return f'<polygon points="{points}" {_edge(mark.tone, mark.line)}/>'


def _edge(tone: Tone, line: float) -> str:
    edge = f' stroke="#000" stroke-width="{_n(line)}"' if line else ""
    return f'fill="{TONES[tone]}"{edge}'


def _dashes(line: float, dashed: bool) -> str:
    return f' stroke-dasharray="{_n(3 * line + 1)} {_n(2 * line + 1)}"' if dashed else ""


def _n(value: float) -> str:
    return f"{value:.4g}"
