"""How a region wires: its colors, its cables and its ways, as data. No rule compares the name of one.

Source: common practice; the colors that codes ask for, and how often old work keeps to them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import AfterValidator, WithJsonSchema

from .conductor import Color, Role
from .trade_size import find_trade_size

Colors = Mapping[Color, frozenset[Role]]


@dataclass(frozen=True, slots=True)
class Region:
    """One region, or one time of it, with the colors its wires had."""

    id: str
    """In documents: US, UK today."""
    title: str
    """Where it is chosen."""
    usual: Colors
    """Which roles each color is usual for."""
    in_cables: Mapping[int, tuple[Color, ...]]
    """What a cable of so many conductors has in it, as it is sold; the last one that can be is the neutral’s."""
    pulled: tuple[Color, ...]
    """The colors of single wires pulled today for hots, one after the other."""
    pulled_neutral: Color
    sleeved: bool
    """Whether any core may be sleeved for any use: a loop comes back switched on the neutral's color."""
    rings: bool
    """Whether a circuit may be wired as a ring."""
    commons_joined: bool
    """Whether two far switches may be joined at their commons, feed on one and lamp on the other."""
    marks_whites: bool
    """Whether a wire of the neutral's color that is hot must be marked, NEC 200.7(C)."""
    whites_tied: bool
    """Whether a feed and a switch leg usually meet at the switch, with their neutrals tied together in the back."""
    module_box: str | None
    """The trade size of the box a module with its splices usually goes into; None where none is usual."""

    def means(self, color: Color | None) -> frozenset[Role]:
        """Return the roles a color is usual for; none where it says nothing.

        >>> sorted(REGIONS["UK today"].means("blue"))
        ['neutral']
        """
        return self.usual.get(color, _NOTHING) if color else _NOTHING


_NOTHING: frozenset[Role] = frozenset()
_HOT: frozenset[Role] = frozenset(("line", "switched", "onward", "traveler"))
_FEED: frozenset[Role] = frozenset(("line", "switched", "onward"))
_NEUTRAL: frozenset[Role] = frozenset(("neutral",))
_TRAVELER: frozenset[Role] = frozenset(("traveler",))
_EITHER: frozenset[Role] = frozenset(("traveler", "switched"))
_PHASE: frozenset[Role] = frozenset(("line", "switched", "traveler"))

US = Region(
    id="US",
    title="US, Canada",
    usual={
        "black": _HOT, "red": _PHASE, "white": _NEUTRAL, "gray": _NEUTRAL, "blue": _EITHER, "yellow": _EITHER,
    },
    in_cables={
        1: ("black",), 2: ("black", "white"), 3: ("black", "red", "white"), 4: ("black", "red", "blue", "white"),
    },
    pulled=("black", "red", "blue", "yellow", "brown", "gray"),
    pulled_neutral="white",
    sleeved=False,
    rings=False,
    commons_joined=False,
    marks_whites=True,
    whites_tied=True,
    module_box=find_trade_size("4x2-1/8 square").name,
)  # fmt: skip
UK_TODAY = Region(
    id="UK today",
    title="UK, EU today",
    usual={"brown": _HOT, "blue": _NEUTRAL, "black": _TRAVELER, "gray": _TRAVELER},
    in_cables={1: ("brown",), 2: ("brown", "blue"), 3: ("brown", "black", "gray")},
    pulled=("brown", "black", "gray", "red", "yellow", "white"),
    pulled_neutral="blue",
    sleeved=True,
    rings=True,
    commons_joined=True,
    marks_whites=False,
    whites_tied=False,
    module_box=None,
)
UK_BEFORE_2004 = replace(
    UK_TODAY,
    id="UK before 2004",
    title="UK before 2004",
    usual={"red": _FEED, "black": _NEUTRAL, "yellow": _TRAVELER, "blue": _TRAVELER},
    in_cables={1: ("red",), 2: ("red", "black"), 3: ("red", "yellow", "blue")},
)
INDIA = replace(
    UK_TODAY,
    id="India",
    title="India",
    usual={"red": _FEED, "yellow": _PHASE, "blue": _PHASE, "black": _NEUTRAL},
    in_cables={1: ("red",), 2: ("red", "black"), 3: ("red", "blue", "black"), 4: ("red", "yellow", "blue", "black")},
    pulled=("red", "yellow", "blue", "brown", "gray", "white"),
    pulled_neutral="black",
)

REGIONS: dict[str, Region] = {one.id: one for one in (US, UK_TODAY, UK_BEFORE_2004, INDIA)}
"""All there are, in the order they are offered."""


def _known(id: str) -> str:
    if id not in REGIONS:
        raise ValueError(f"Pick one of the regions {', '.join(REGIONS)}")
    return id


ColorCode = Annotated[str, AfterValidator(_known), WithJsonSchema({"type": "string", "enum": list(REGIONS)})]
"""The region whose colors and ways a job is wired in, by its id."""
