"""The results of a live test at a switch: the wires on it taken off, the splices in the back left as they are."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .conductor import MOST_VOLTS
from .measure import Number
from .thing import Mark, Moment, Thing

Reference = Literal["ground", "cord"]
"""The ground in the box; the ground of a tested extension cord, where the box has none."""
Tapped = Literal["full", "none"]
"""What a person saw, without a figure: the full voltage of a circuit; nothing."""
Place = Literal["dark", "other", "tied", "tied apart", "capped"]
"""Where a wire is at a three-way switch: on its dark screw, or spliced to that; on another screw; in a splice in the
back; in a second splice; under a cap of its own."""


class LiveResult(Thing):
    """What a loaded tester showed at one touch."""

    wires: Annotated[tuple[Mark, ...], Field(min_length=1, max_length=40)]
    """The conductors under the connector that was touched: A1; or A2, B2, tied together."""
    to: Reference | Mark = "ground"
    """The other point; or the conductor beside the hot in its own cable."""
    on: bool = True
    """With every breaker on that may feed the box; False: with its own breaker off again."""
    flipped: bool = False
    """With the other switch of the same light flipped; False: as it was."""
    volts: Number | None = None
    """What it showed [V]; None: it was only tapped."""
    tapped: Tapped | None = None
    at: Moment | None = None

    @property
    def value(self) -> str:
        """What was shown, with its unit."""
        if self.volts is not None:
            return f"{float(self.volts):g} V"
        return "full voltage" if self.tapped == "full" else "nothing"

    @model_validator(mode="after")
    def _shows_something(self) -> Self:
        if (self.volts is None) == (self.tapped is None):
            raise ValueError("Tap what the tester showed, or enter the volts")
        if self.volts is not None and not 0 <= self.volts <= MOST_VOLTS:
            raise ValueError(f"Enter a reading from 0 to {MOST_VOLTS} V")
        return self
