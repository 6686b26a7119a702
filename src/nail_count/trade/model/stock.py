"""What a shop keeps on its shelf."""

from typing import Annotated, Literal

from pydantic import Field

from .enclosure import MOST_GANGS
from .measure import Length, Volume
from .thing import Thing

StockKind = Literal["new work", "old work", "extension"]
"""Nailed to the framing before the wall is closed; set into a closed wall; set on the front of a box that is there."""


class StockBox(Thing):
    """A box, or an extension, of the shop's stock list."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=MOST_GANGS)] = 1
    volume: Volume
    """Marked in it."""
    depth: Length | None = None
    """Inside; None: not known."""
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    clamps: bool = False
    """Whether its clamps, or tabs counted as clamps, are inside."""
    kind: StockKind | None = None
    """None: not known. Of an extension, volume and depth are what it adds."""


USUAL_STOCK: tuple[StockBox, ...] = tuple(
    StockBox.model_validate(
        {"name": name, "gangs": gangs, "volume": volume, "depth": depth, "clamps": clamps, "kind": kind}
    )
    for name, gangs, volume, depth, clamps, kind in (
        ("New work, one gang", 1, "18 in3", "2.75 in", False, "new work"),
        ("New work, one gang, deep", 1, "22.5 in3", "3.5 in", False, "new work"),
        ("Old work, one gang", 1, "16 in3", "2.75 in", True, "old work"),
        ("Old work, one gang, deep", 1, "22.5 in3", "3.25 in", True, "old work"),
        ("New work, two gangs", 2, "34 in3", "3 in", False, "new work"),
        ("New work, two gangs, deep", 2, "42 in3", "3.5 in", False, "new work"),
        ("Old work, two gangs", 2, "32 in3", "2.75 in", True, "old work"),
        ("New work, three gangs", 3, "54 in3", "3.25 in", False, "new work"),
        ("Old work, three gangs", 3, "48 in3", "2.875 in", True, "old work"),
        ("New work, four gangs", 4, "72 in3", "3.25 in", False, "new work"),
        ("Old work, four gangs", 4, "68 in3", "2.875 in", True, "old work"),
        ("Extension, one gang", 1, "8 in3", "1 in", False, "extension"),
        ("Extension, two gangs", 2, "14 in3", "1 in", False, "extension"),
    )
)
"""An invented stock list to begin with."""
