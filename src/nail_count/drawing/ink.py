"""A drawing in black and white, mark by mark: what a page shows as SVG and a paper prints, from the same values."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from .way import Point, Way

Tone = Literal["none", "paper", "light", "mid", "ink"]
"""What an area is filled with, from nothing to black."""


@dataclass(frozen=True, slots=True)
class Stroke:
    """A line."""

    way: Way
    width: float
    tone: Tone = "ink"
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class Area:
    """A rectangle, its corners rounded by so much."""

    x: float
    y: float
    width: float
    height: float
    tone: Tone = "none"
    line: float = 1.0
    """Thickness of its edge; 0 for none."""
    round: float = 0.0
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class Disc:
    """A circle."""

    x: float
    y: float
    r: float
    tone: Tone = "paper"
    line: float = 1.0


@dataclass(frozen=True, slots=True)
class Shape:
    """A closed shape of straight lines."""

    points: tuple[Point, ...]
    tone: Tone = "paper"
    line: float = 1.0


@dataclass(frozen=True, slots=True)
class Words:
    """A few words, from their left, their middle or their right."""

    x: float
    y: float
    """Of their base line."""
    text: str
    size: float
    at: Literal["start", "middle", "end"] = "middle"
    bold: bool = False


Mark = Stroke | Area | Disc | Shape | Words


@dataclass(frozen=True, slots=True)
class Ink:
    """A drawing, later marks over earlier ones."""

    x: float
    y: float
    width: float
    height: float
    marks: tuple[Mark, ...]
    facts: str
    """The same as a text."""
    widest: float = 160.0
    """On paper at most so wide [mm]."""
