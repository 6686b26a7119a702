"""Metal boxes by their trade size: NEC Table 314.16(A).

Source: NFPA 70 (NEC) 2023, Table 314.16(A), from memory of the table and not held against a printed copy.
Dimensions are the trade names' own figures.
"""

import re
from dataclasses import dataclass
from fractions import Fraction

from .measure import parse_number


@dataclass(frozen=True, slots=True)
class TradeSize:
    """One row of the table."""

    name: str
    """As a person types it: ``4x2-1/8 square``."""
    in3: Fraction
    """Least volume [in³], of one gang where `per_gang`."""
    width: Fraction
    """Inside, seen from the room, of one gang where `per_gang` [in]."""
    height: Fraction
    """Inside [in]."""
    depth: Fraction
    """Inside [in]."""
    per_gang: bool
    """Whether boxes or gangs are put side by side, each adding its volume."""
    most_gangs: int
    """How many gangs such a box can be."""

    @property
    def takes_a_yoke(self) -> bool:
        """Whether a device is screwed to the box itself; a square or a round one needs a ring or a raised cover."""
        return self.width != self.height

    @property
    def face(self) -> tuple[str, Fraction, Fraction]:
        """Its make and what one sees of it from the room: boxes of one face differ in depth only."""
        return self.name.split()[-1], self.width, self.height


def _row(name: str, in3: str, width: str, *, height: str, depth: str, gangs: int, per_gang: bool) -> TradeSize:
    return TradeSize(
        name, parse_number(in3), parse_number(width), parse_number(height), parse_number(depth), per_gang, gangs
    )


_ROWS = (
    _row("4x1-1/4 round", "12.5", "4", height="4", depth="1-1/4", gangs=1, per_gang=False),
    _row("4x1-1/2 round", "15.5", "4", height="4", depth="1-1/2", gangs=1, per_gang=False),
    _row("4x2-1/8 round", "21.5", "4", height="4", depth="2-1/8", gangs=1, per_gang=False),
    _row("4x1-1/4 square", "18.0", "4", height="4", depth="1-1/4", gangs=2, per_gang=False),
    _row("4x1-1/2 square", "21.0", "4", height="4", depth="1-1/2", gangs=2, per_gang=False),
    _row("4x2-1/8 square", "30.3", "4", height="4", depth="2-1/8", gangs=2, per_gang=False),
    _row("4-11/16x1-1/4 square", "25.5", "4-11/16", height="4-11/16", depth="1-1/4", gangs=2, per_gang=False),
    _row("4-11/16x1-1/2 square", "29.5", "4-11/16", height="4-11/16", depth="1-1/2", gangs=2, per_gang=False),
    _row("4-11/16x2-1/8 square", "42.0", "4-11/16", height="4-11/16", depth="2-1/8", gangs=2, per_gang=False),
    _row("3x2x1-1/2 device", "7.5", "2", height="3", depth="1-1/2", gangs=8, per_gang=True),
    _row("3x2x2 device", "10.0", "2", height="3", depth="2", gangs=8, per_gang=True),
    _row("3x2x2-1/4 device", "10.5", "2", height="3", depth="2-1/4", gangs=8, per_gang=True),
    _row("3x2x2-1/2 device", "12.5", "2", height="3", depth="2-1/2", gangs=8, per_gang=True),
    _row("3x2x2-3/4 device", "14.0", "2", height="3", depth="2-3/4", gangs=8, per_gang=True),
    _row("3x2x3-1/2 device", "18.0", "2", height="3", depth="3-1/2", gangs=8, per_gang=True),
    _row("4x2-1/8x1-1/2 device", "10.3", "2-1/8", height="4", depth="1-1/2", gangs=1, per_gang=False),
    _row("4x2-1/8x1-7/8 device", "13.0", "2-1/8", height="4", depth="1-7/8", gangs=1, per_gang=False),
    _row("4x2-1/8x2-1/8 device", "14.5", "2-1/8", height="4", depth="2-1/8", gangs=1, per_gang=False),
    _row("3-3/4x2x2-1/2 masonry", "14.0", "2", height="3-3/4", depth="2-1/2", gangs=8, per_gang=True),
    _row("3-3/4x2x3-1/2 masonry", "21.0", "2", height="3-3/4", depth="3-1/2", gangs=8, per_gang=True),
    _row("FS single", "13.5", "2", height="4", depth="1-3/4", gangs=1, per_gang=True),
    _row("FD single", "18.0", "2", height="4", depth="2-3/8", gangs=1, per_gang=True),
    _row("FS multiple", "18.0", "2", height="4", depth="1-3/4", gangs=8, per_gang=True),
    _row("FD multiple", "24.0", "2", height="4", depth="2-3/8", gangs=8, per_gang=True),
)

TRADE_SIZES: dict[str, TradeSize] = {row.name: row for row in _ROWS}

_TYPED_AS = {
    "×": "x", " by ": "x", "octagonal": "round", "octagon": "round", "oct.": "round", "oct": "round",
    '"': "", "″": "", " in ": " ", "½": "-1/2", "¼": "-1/4", "⅛": "-1/8", "⅜": "-3/8", "⅞": "-7/8", "¾": "-3/4",
}  # fmt: skip


_METRIC = {
    "32": "1-1/4", "38": "1-1/2", "48": "1-7/8", "54": "2-1/8", "57": "2-1/4", "60": "2-3/8", "65": "2-1/2",
    "70": "2-3/4", "90": "3-1/2", "100": "4", "120": "4-11/16", "75": "3", "50": "2", "95": "3-3/4",
}  # fmt: skip
"""The metric trade names of the table's dimensions [mm], from memory of the publication."""


def _in_inches(text: str) -> str:
    """A metric trade name, 100 x 54 mm square, by the inches it stands for; another text as it is."""
    if not re.search(r"\d\s*mm\b", text):
        return text
    plain = re.sub(r"\s*mm\b", "", text)
    return re.sub(r"\d+", lambda found: _METRIC.get(found.group(), found.group()), plain)


def find_trade_size(text: str) -> TradeSize:
    """The row meant by a trade size as typed: ``4 × 2⅛ square``, ``3x2x3-1/2`` (device is understood).

    Raises:
        ValueError: no such row; the message says what was expected.

    >>> find_trade_size('3 x 2 x 3 1/2').in3
    Fraction(18, 1)
    >>> find_trade_size('100 x 54 mm square').name
    '4x2-1/8 square'
    """
    clean = f"{_in_inches(text.strip().lower())} " if "mm" in text.lower() else f"{text.strip()} "
    for typed, meant in _TYPED_AS.items():
        clean = clean.replace(typed, meant)
    words = clean.lower().replace("fs", "FS").replace("fd", "FD").split()
    joined = ""
    for word in words:
        fraction = joined[-1:].isdigit() and word[:1].isdigit() and "/" in word.split("x")[0]
        tight = joined.endswith("x") or word.startswith("x")
        joined += f"-{word}" if fraction else word if tight or not joined else f" {word}"
    for name in (joined, f"{joined} device"):
        if name in TRADE_SIZES:
            return TRADE_SIZES[name]
    raise ValueError("Enter a trade size such as “4x2-1/8 square” or “3x2x3-1/2 device”")
