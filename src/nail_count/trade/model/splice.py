"""The joints in a box: the ends in each splice, and what holds them."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field

from .gauge import GaugeField
from .thing import Id, Mark, Thing


class ConductorEnd(Thing):
    """An insulated conductor of a cable."""

    kind: Literal["conductor"] = "conductor"
    of: Mark
    """Cable letter and number: A1."""


@lru_cache(maxsize=2048)
def conductor_end(of: str) -> ConductorEnd:
    """The end of a conductor, made once for each name."""
    return ConductorEnd(of=of)


class GroundEnd(Thing):
    """The ground of a cable."""

    kind: Literal["ground"] = "ground"
    cable: Mark


class LeadEnd(Thing):
    """A lead or screw of a device or module."""

    kind: Literal["lead"] = "lead"
    of: Mark
    """The device or module: d1."""
    terminal: Annotated[int, Field(ge=1, le=16)]
    """Which terminal of its sheet, from 1."""


class PigtailEnd(Thing):
    """A short piece of wire to something else of the box."""

    kind: Literal["pigtail"] = "pigtail"
    to: Mark
    """The device, or the splice, it leads to."""
    gauge: GaugeField | None = None


class BondEnd(Thing):
    """The bond of a metal box."""

    kind: Literal["bond"] = "bond"


Side = Literal["hot", "neutral", "ground"]


class FixtureEnd(Thing):
    """A lead of a lamp or a fan that hangs at this box."""

    kind: Literal["fixture"] = "fixture"
    box: Id
    """The box with its device."""
    load: Mark
    """Which load of that box."""
    side: Side


End = Annotated[ConductorEnd | GroundEnd | LeadEnd | PigtailEnd | BondEnd | FixtureEnd, Field(discriminator="kind")]


class Connector(Thing):
    """A wire connector."""

    size: Literal["small", "medium", "large"] = "medium"
    gauge: GaugeField | None = None
    """Largest conductor it joins; None: the largest in the box is taken."""


class Splice(Thing):
    """Ends that are one, and what holds them together, as far as each is known."""

    id: Mark
    name: Annotated[str, Field(max_length=20)] = ""
    """What a person calls it: a letter."""
    ends: Annotated[tuple[End, ...], Field(max_length=24)] = ()
    """() where only its connector was counted."""
    connector: Connector | None = None
    """None: not looked at, or a screw."""
    space: Annotated[int, Field(ge=1, le=5)] = 1
    """In which space of the box it lies, where barriers make several and none of its ends says so."""
