"""What a shop keeps on its shelf."""

from typing import Annotated, Literal

from pydantic import Field

from .enclosure import MOST_GANGS
from .measure import Length, Volume
from .thing import Thing


class StockBox(Thing):
    """A box of the shop's stock list."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=MOST_GANGS)] = 1
    volume: Volume
    """Marked in it."""
    depth: Length | None = None
    """Inside; None: not known."""
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    clamps: bool = False
    """Whether its clamps, or tabs counted as such, are inside."""


USUAL_STOCK: tuple[StockBox, ...] = tuple(
    StockBox.model_validate({"name": name, "gangs": gangs, "volume": volume, "depth": depth, "clamps": clamps})
    for name, gangs, volume, depth, clamps in (
        ("New work, one gang", 1, "18 in3", "2.75 in", False),
        ("New work, one gang, deep", 1, "22.5 in3", "3.5 in", False),
        ("Old work, one gang", 1, "16 in3", "2.75 in", True),
        ("Old work, one gang, deep", 1, "22.5 in3", "3.25 in", True),
        ("New work, two gangs", 2, "34 in3", "3 in", False),
        ("New work, two gangs, deep", 2, "42 in3", "3.5 in", False),
        ("Old work, two gangs", 2, "32 in3", "2.75 in", True),
        ("New work, three gangs", 3, "54 in3", "3.25 in", False),
        ("Old work, three gangs", 3, "48 in3", "2.875 in", True),
        ("New work, four gangs", 4, "72 in3", "3.25 in", False),
    )
)
"""An invented stock list to begin with."""
