"""Lamps, fans and every other load of a device."""

from __future__ import annotations

from typing import Annotated, Literal, Self, get_args

from pydantic import Field, ValidationInfo, field_validator, model_validator

from .figure import IN_PRACTICE, Figure
from .measure import Number, Power
from .thing import Mark, Moment, Thing

LoadKind = Literal[
    "led", "incandescent", "cfl", "fluorescent", "mlv", "elv", "fan", "motor", "heater", "receptacle"
]  # fmt: skip
"""The kinds of load a person can put on a device."""
LOAD_KINDS: tuple[LoadKind, ...] = get_args(LoadKind)

RatedKind = Literal[
    "led", "incandescent", "cfl", "fluorescent", "mlv", "mlv lamps", "elv",
    "fan", "motor", "heater", "receptacle", "lighting", "general",
]  # fmt: skip
"""The kinds a sheet gives figures for. `lighting` is a switch's figure for any lamp, `general` for anything at all;
`mlv lamps` the watts of the lamps behind a magnetic transformer, beside its own VA."""
RATED_KINDS: tuple[RatedKind, ...] = get_args(RatedKind)

KIND_WORDS: dict[RatedKind, str] = {
    "led": "LED",
    "incandescent": "incandescent",
    "cfl": "compact fluorescent",
    "fluorescent": "fluorescent",
    "mlv": "magnetic low voltage",
    "mlv lamps": "lamps behind a magnetic transformer",
    "elv": "electronic low voltage",
    "fan": "fan",
    "motor": "motor",
    "heater": "heater",
    "receptacle": "receptacle",
    "lighting": "lighting",
    "general": "general use",
}

LAMPS: frozenset[LoadKind] = frozenset(("led", "incandescent", "cfl", "fluorescent", "mlv", "elv"))
TURNS: frozenset[LoadKind] = frozenset(("fan", "motor"))
"""What a motor turns."""

_LARGEST: dict[LoadKind, dict[str, int]] = {
    "led": {"W": 500},
    "incandescent": {"W": 2000},
    "cfl": {"W": 300, "VA": 600},
    "fluorescent": {"W": 500, "VA": 1000},
    "mlv": {"W": 1500, "VA": 2000},
    "elv": {"W": 1500},
    "fan": {"A": 10, "W": 1200},
    "motor": {"hp": 10, "A": 60, "W": 7500},
    "heater": {"W": 10000, "A": 60},
    "receptacle": {"A": 50, "W": 10000},
}
"""The units each kind is entered in, and what one of it never draws more than: a slip of the pen beyond."""


def units_of(kind: LoadKind) -> tuple[str, ...]:
    """The units a kind of load is entered in, the usual one first.

    >>> units_of("motor")
    ('hp', 'A', 'W')
    """
    return tuple(_LARGEST[kind])


class Measured(Thing):
    """What a meter read of a whole group of loads, in place of their sum."""

    power: Power
    """W, VA or A of all of them together."""
    by: Literal["meter", "metering relay"] = "meter"
    at: Moment

    @model_validator(mode="after")
    def _read_on_a_meter(self) -> Self:
        if self.power.unit == "hp" or not 0 < self.power.value <= 20_000:
            raise ValueError("Enter a reading above 0 and at most 20000, in W, VA or A")
        return self


Fitting = Literal["retrofit", "luminaire"]


class Load(Thing):
    """Some lamps, a fan, a motor: one group on one channel of a device."""

    id: Mark
    kind: LoadKind
    quantity: Annotated[int, Field(ge=1, le=500)] = 1
    each: Power
    """What one draws: actual watts for lamps (never the lamp it replaces); amps, watts or hp for what turns."""
    power_factor: Number | None = None
    """Where known; above 0, at most 1."""
    channel: Annotated[int, Field(ge=1, le=8)] = 1
    """Of the device, from 1."""
    name: Annotated[str, Field(max_length=60)] = ""
    """What people call it: bench pendants."""
    actual: bool = False
    """Whether somebody confirmed that an LED lamp of many watts really draws them."""
    fitting: Fitting | None = None
    """Of LED: a lamp in place of another one, or a luminaire with its driver; None: not known."""
    dimmable: bool | None = None
    """Whether the lamps are made for dimming; None: not looked at."""
    loss: Power | None = None
    """What the transformer of one takes for itself [W]; None: not known."""
    fewest: Annotated[int, Field(ge=1, le=500)] | None = None
    """The fewest of them ever planned to be on or fitted; None: all of them."""
    continuous: bool | None = None
    """Whether it is expected on for three hours or more at a stretch; None: not known."""
    lights: Literal["", "required light", "stairs"] = ""
    """Whether the code asks for this light, and whether it lights a stair."""
    outlet: Annotated[str, Field(max_length=40)] | None = None
    """The box of the house it hangs at; None: not known."""
    cable: Mark | None = None
    """The cable of the device's box that leads to it, where it hangs at no box of the house; None: not known."""
    bypass: bool = False
    """Whether the bypass that the maker of its device lists is fitted at one of them."""
    measured: Measured | None = None
    """What a meter read of the group, in place of the sum."""
    label: Power | None = None
    """The largest bulb by the fixture's own label [W]; None: nobody read it."""

    @field_validator("each")
    @classmethod
    def _a_likely_figure(cls, each: Power, info: ValidationInfo) -> Power:
        kind: LoadKind | None = info.data.get("kind")
        if kind is None:
            return each
        takes, word = _LARGEST[kind], KIND_WORDS[kind]
        if each.unit not in takes:
            raise ValueError(f"Enter {' or '.join(takes)} for {word}, not {each.unit}")
        if not 0 < each.value <= takes[each.unit]:
            raise ValueError(f"Enter more than 0 and at most {takes[each.unit]} {each.unit} for one {word}")
        return each

    @field_validator("power_factor")
    @classmethod
    def _factor(cls, factor: Number | None) -> Number | None:
        if factor is not None and not 0 < factor <= 1:
            raise ValueError("Enter a power factor above 0 and at most 1")
        return factor

    @field_validator("loss")
    @classmethod
    def _of_a_transformer(cls, loss: Power | None, info: ValidationInfo) -> Power | None:
        if loss is not None and (info.data.get("kind") != "mlv" or loss.unit != "W"):
            raise ValueError("Enter a transformer's loss in W, and only for magnetic low voltage")
        return loss

    @field_validator("fewest")
    @classmethod
    def _not_more_than_all(cls, fewest: int | None, info: ValidationInfo) -> int | None:
        if fewest is not None and fewest > info.data.get("quantity", 1):
            raise ValueError(f"Enter at most {info.data.get('quantity', 1)}, as many as there are")
        return fewest

    @property
    def is_lamp(self) -> bool:
        """Whether it gives light."""
        return self.kind in LAMPS

    @property
    def takes_bulbs(self) -> bool:
        """Whether a person changes its bulbs; an LED luminaire is one piece."""
        return self.kind in ("led", "incandescent", "cfl") and self.fitting != "luminaire"

    @property
    def asked_back(self) -> bool:
        """Whether its watts look like those of the lamp it replaces, and nobody confirmed them."""
        return self.kind == "led" and self.each.value > EQUIVALENT_ABOVE and not self.actual and self.measured is None


EQUIVALENT_ABOVE = Figure("25", "W", "One LED lamp is asked about above", IN_PRACTICE)
"""Above so many watts for one LED lamp it is asked whether that is the lamp it replaces [W]; common practice."""
