"""What people want from a place: asked before anything is chosen, kept for choosing later."""

from typing import Annotated, Literal, get_args

from pydantic import Field

from .load import Load
from .thing import Mark, Thing

Does = Literal["on and off", "dim", "fan speed", "countdown", "schedule", "looks lived in"]
DOES: tuple[Does, ...] = get_args(Does)

Stays = Literal["nothing", "the plate", "the fitting", "both"]


class Wish(Thing):
    """One thing that is controlled from this place, as people want it."""

    id: Mark
    what: Annotated[str, Field(max_length=60)] = ""
    """What people call it: ceiling light."""
    places: Annotated[int, Field(ge=1, le=9)] | None = None
    """From how many places it is controlled; None: not asked."""
    does: tuple[Does, ...] = ("on and off",)
    loads: tuple[Load, ...] = ()
    """Its loads, as far as known."""
    without_network: bool | None = None
    """Whether the wall switch must still work with the network down; None: not asked."""
    stays: Stays | None = None
    """What must stay as it is; None: not asked."""

    @property
    def asked(self) -> int:
        """How many of its questions have an answer that was not only taken for granted."""
        said = (self.places, self.without_network, self.stays)
        return sum(answer is not None for answer in said) + bool(self.what) + bool(self.loads)
