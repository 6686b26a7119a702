"""The cables that enter a box."""

from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from .conductor import Conductor
from .gauge import Gauge, GaugeField
from .measure import Length
from .thing import Mark, Thing

Side = Literal["top", "bottom", "left", "right"]
Passage = Literal["ends", "through", "looped"]
CableKind = Literal["sheathed", "armored", "conduit"]
Condition = Literal["sound", "brittle", "nicked"]
"""Of the insulation and the ends."""


_UNSEEN = Conductor()


class Cable(Thing):
    """What enters the box: a cable, or a group of conductors from one raceway."""

    id: Mark
    """Its letter on the drawing."""
    gauge: GaugeField
    """Of its insulated conductors."""
    insulated: Annotated[int, Field(ge=0, le=20)]
    """How many insulated conductors."""
    grounds: Annotated[int, Field(ge=0, le=6)] = 1
    """How many equipment grounding conductors."""
    ground_gauge: GaugeField | None = None
    """Of its grounds; None: the same as the rest."""
    isolated: bool = False
    """Whether its ground belongs to an isolated set."""
    metal: Literal["copper", "aluminum"] = "copper"
    """Of its conductors."""
    kind: CableKind | None = None
    """What holds them; None: not known."""
    class2: bool = False
    """Whether it is of a class 2 circuit: 0–10 V, doorbell, thermostat."""
    canopy: bool = False
    """Whether they are fixture wires from a domed luminaire or canopy."""
    space: Annotated[int, Field(ge=1, le=5)] = 1
    """Behind which barrier it comes in, from the left."""
    run: Passage = "ends"
    """Ends or is spliced here; runs through unbroken; or is looped unbroken with 12 in or more free."""
    enters: Side = "top"
    """Where it comes in, seen from the room."""
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
            raise ValueError("Enter a free length from 0 to 2000 mm (79 in)")
        return free

    @model_validator(mode="after")
    def _some_conductor(self) -> Self:
        if self.insulated + self.grounds == 0:
            raise ValueError("Give the cable at least one conductor or ground")
        if len(self.conductors) > self.insulated:
            raise ValueError(f"Enter at most {self.insulated} conductors for this cable")
        return self

    def conductor(self, number: int) -> Conductor:
        """One of its insulated conductors, counted from 1; one without a record has no color."""
        return self.conductors[number - 1] if number <= len(self.conductors) else _UNSEEN

    @cached_property
    def conductor_ids(self) -> tuple[str, ...]:
        """What its insulated conductors are called: A1, A2."""
        return tuple(f"{self.id}{number}" for number in range(1, self.insulated + 1))

    @property
    def has_metal_sheath(self) -> bool:
        """Whether it comes in armor or conduit, which may be the ground."""
        return self.kind in ("armored", "conduit")

    @property
    def size(self) -> str:
        """Its name in the trade: 14/2, 12/3, 2 × 2.5 mm²; a lone ground by its gauge."""
        if not self.insulated:
            return (
                f"{self.grounded_by.number} ground" if self.grounded_by.unit == "AWG" else f"{self.grounded_by} ground"
            )
        if self.gauge.unit == "AWG":
            return f"{self.gauge.number}/{self.insulated}"
        return f"{self.insulated} × {self.gauge}"

    @property
    def grounded_by(self) -> Gauge:
        """The gauge of its grounds."""
        return self.ground_gauge or self.gauge

    @property
    def gauges(self) -> tuple[Gauge, ...]:
        """The gauge of every kind of conductor it brings."""
        return (self.gauge,) * (self.insulated > 0) + (self.grounded_by,) * (self.grounds > 0)
