"""Warmth on the front view: how far each gang is above the room, an estimate."""

from __future__ import annotations

from dataclasses import dataclass

from ..trade.rules.load.heat import Warmth
from .front import GANG, Front, Rect

LEAST_SHOWN = 2.0
"""Below so many kelvin over the room nothing is drawn [K]."""
STEP = 12.0
"""Each further stroke of the sign stands for so many kelvin [K]."""
MOST_STROKES = 4


@dataclass(frozen=True, slots=True)
class WarmGang:
    """A gang that gets warm."""

    gang: int
    rise: float
    """Over the room [K]."""
    rect: Rect
    """The tinted areas."""
    strokes: tuple[str, ...]
    """The sign: the more strokes, the warmer; SVG paths."""


@dataclass(frozen=True, slots=True)
class Warm:
    """Where it gets warm."""

    room: float
    """[°C]."""
    gangs: tuple[WarmGang, ...]
    heats: tuple[tuple[str, float], ...]
    """What each device makes of heat [W], by id, the most first."""


def warm(front: Front, warmth: Warmth) -> Warm | None:
    """Which gangs are tinted, and how much; None where none gets warm."""
    shown = [
        _gang(number, x, rise, front)
        for number, (x, rise) in enumerate(zip(front.gangs, warmth.gangs, strict=True), 1)
        if rise >= LEAST_SHOWN
    ]
    heats = tuple(sorted(((id, heat) for id, heat in warmth.heats.items() if heat > 0), key=lambda pair: -pair[1]))
    return Warm(warmth.room, tuple(shown), heats) if shown else None


def _gang(number: int, x: float, rise: float, front: Front) -> WarmGang:
    rect = Rect(x - GANG / 2 + 1, 1, GANG - 2, front.inside.height - 2)
    count = min(MOST_STROKES, 1 + int(rise // STEP))
    left, y = x - (count - 1) * 2.2, front.inside.height - 4
    strokes = tuple(
        f"M{left + stroke * 4.4:.1f} {y:.1f}q-2.4 -2.5 0 -5q2.4 -2.5 0 -5" for stroke in range(count)
    )  # fmt: skip
    return WarmGang(number, rise, rect, strokes)
