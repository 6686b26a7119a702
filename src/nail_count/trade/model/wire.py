"""Gauges, and the cables that enter a box."""

import re
from collections.abc import Iterable
from typing import Annotated, Literal, Self, get_args

from pydantic import BeforeValidator, Field, field_validator, model_validator

from .conductor import Conductor
from .measure import Length
from .thing import Mark, Thing

Gauge = Literal[18, 16, 14, 12, 10, 8, 6]
"""AWG sizes that have an allowance in NEC Table 314.16(B)(1)."""

GAUGES: tuple[Gauge, ...] = get_args(Gauge)

Side = Literal["top", "bottom", "left", "right"]
Run = Literal["ends", "through", "looped"]
Condition = Literal["sound", "brittle", "nicked"]
"""Of the insulation and the ends."""


def largest(gauges: Iterable[Gauge]) -> Gauge | None:
    """The thickest of these gauges (the smallest AWG number), or None where there are none.

    >>> largest([14, 12, 14])
    12
    """
    return min(gauges, default=None)


def smallest(gauges: Iterable[Gauge]) -> Gauge | None:
    """The thinnest of these gauges (the largest AWG number), or None where there are none."""
    return max(gauges, default=None)


_AS_WRITTEN = re.compile(r"(?:#|no\.?|awg)?\s*(\d{1,2})\s*(?:awg|ga\.?|gauge)?", re.IGNORECASE)


def _gauge(value: object) -> object:
    """A gauge as people write it: 12, #12, 12 AWG, 12 ga."""
    if isinstance(value, str) and (found := _AS_WRITTEN.fullmatch(value.strip())):
        value = int(found[1])
    if value not in GAUGES or isinstance(value, bool | float):
        raise ValueError(f"expected one of the gauges {', '.join(map(str, GAUGES))} AWG, such as 12, #12 or 12 AWG")
    return value


GaugeField = Annotated[Gauge, BeforeValidator(_gauge, json_schema_input_type=Gauge)]


class Cable(Thing):
    """What enters the box: a cable, or a group of conductors from one raceway."""

    id: Mark
    """Its letter on the drawing."""
    gauge: GaugeField
    """Of its insulated conductors [AWG]."""
    insulated: Annotated[int, Field(ge=0, le=20)]
    """How many insulated conductors."""
    grounds: Annotated[int, Field(ge=0, le=6)] = 1
    """How many equipment grounding conductors."""
    ground_gauge: GaugeField | None = None
    """Of its grounds [AWG]; None: the same as the rest."""
    isolated: bool = False
    """Whether its ground belongs to an isolated set."""
    metal: Literal["copper", "aluminum"] = "copper"
    """Of its conductors."""
    class2: bool = False
    """Whether it is of a class 2 circuit: 0–10 V, doorbell, thermostat."""
    canopy: bool = False
    """Whether they are fixture wires from a domed luminaire or canopy."""
    space: Annotated[int, Field(ge=1, le=5)] = 1
    """Behind which barrier it comes in, from the left."""
    run: Run = "ends"
    """Ends or is spliced here; runs through unbroken; or is looped unbroken with 12 in or more free."""
    enters: Side = "top"
    """Where it comes in, seen from the room."""
    goes: Annotated[str, Field(max_length=60)] = ""
    """Where it goes: feed, to the lamp, onward."""
    free: Length | None = None
    """Free length left of its conductors, from the sheath; None: not measured."""
    condition: Condition | None = None
    """None: not looked at."""

    conductors: tuple[Conductor, ...] = ()
    """Its insulated conductors one by one, as far as they were looked at; numbered from 1."""

    @field_validator("free")
    @classmethod
    def _some_length(cls, free: Length | None) -> Length | None:
        if free is not None and not 0 <= free.mm <= 2000:
            raise ValueError("expected a free length from 0 to 2000 mm (79 in)")
        return free

    @model_validator(mode="after")
    def _some_conductor(self) -> Self:
        if self.insulated + self.grounds == 0:
            raise ValueError("expected at least one conductor or ground in a cable")
        if len(self.conductors) > self.insulated:
            raise ValueError(f"expected at most {self.insulated} conductors in this cable, not {len(self.conductors)}")
        return self

    def conductor(self, number: int) -> Conductor:
        """One of its insulated conductors, counted from 1; one nobody looked at says nothing."""
        return self.conductors[number - 1] if number <= len(self.conductors) else Conductor()

    @property
    def conductor_ids(self) -> tuple[str, ...]:
        """What its insulated conductors are called: A1, A2."""
        return tuple(f"{self.id}{number}" for number in range(1, self.insulated + 1))

    @property
    def size(self) -> str:
        """Its name in the trade: 14/2, 12/3; a lone ground by its gauge."""
        return f"{self.gauge}/{self.insulated}" if self.insulated else f"{self.grounded_by} ground"

    @property
    def grounded_by(self) -> Gauge:
        """The gauge of its grounds [AWG]."""
        return self.ground_gauge or self.gauge

    @property
    def gauges(self) -> tuple[Gauge, ...]:
        """The gauge of every kind of conductor it brings."""
        return (self.gauge,) * (self.insulated > 0) + (self.grounded_by,) * (self.grounds > 0)
