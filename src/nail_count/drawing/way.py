"""Ways across a drawing, as points: a page writes them as SVG, a paper draws them."""

from __future__ import annotations

from dataclasses import dataclass

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Line:
    """Straight from point to point.

    >>> str(Line(((0, 0), (10, 2.5))))
    'M0 0L10 2.5'
    """

    points: tuple[Point, ...]

    def __str__(self) -> str:
        """As an SVG path."""
        return "M" + "L".join(f"{x:.4g} {y:.4g}" for x, y in self.points)


@dataclass(frozen=True, slots=True)
class Curve:
    """From one point to another, each with the point it is pulled towards.

    >>> str(Curve((0, 0), (0, 5), (10, 5), (10, 10)))
    'M0 0C0 5 10 5 10 10'
    """

    start: Point
    pulled: Point
    drawn: Point
    end: Point

    def __str__(self) -> str:
        """As an SVG path."""
        (a, b), *rest = self.start, self.pulled, self.drawn, self.end
        return f"M{a:.4g} {b:.4g}C" + " ".join(f"{x:.4g} {y:.4g}" for x, y in rest)


Way = Line | Curve
