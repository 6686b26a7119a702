"""How a device joins its hub, by its sheet: the steps at it, for how long, and how long it looks for one."""

from __future__ import annotations

from typing import Annotated, Literal, Self, get_args

from pydantic import Field, model_validator

from .thing import Thing

JoinWay = Literal["held button", "two buttons", "presses", "toggles", "first power", "access point", "code"]
"""A button held; two held together; so many presses of its button, or throws, in a row; by itself when first powered;
by the device's own access point; its code scanned."""
JOIN_WAYS: tuple[JoinWay, ...] = get_args(JoinWay)
COUNTED: frozenset[JoinWay] = frozenset(("presses", "toggles"))
"""The ways with a count."""
UNTIMED: frozenset[JoinWay] = frozenset(("first power", "access point", "code"))
"""Where nothing is held or thrown."""


class JoinAct(Thing):
    """One way to have a device look for its hub."""

    way: JoinWay
    seconds: Annotated[int, Field(ge=1, le=60)] | None = None
    """How long its buttons are held, or within how long it is pressed or thrown [s]; None: not stated."""
    times: Annotated[int, Field(ge=2, le=20)] | None = None
    """How often it is pressed or thrown."""

    @model_validator(mode="after")
    def _of_its_way(self) -> Self:
        if (self.times is not None) != (self.way in COUNTED):
            raise ValueError("Enter how often it is pressed or thrown only where it joins that way")
        if self.seconds is not None and self.way in UNTIMED:
            raise ValueError("Enter seconds only for something held, pressed or thrown")
        return self


class Joining(JoinAct):
    """How to bring a device into a network."""

    others: Annotated[tuple[JoinAct, ...], Field(max_length=4)] = ()
    """Further ways, where its sheet names several."""
    window: Annotated[int, Field(ge=5, le=1800)] | None = None
    """How long it then looks for a hub [s]; None: not stated."""
    reset: Annotated[str, Field(max_length=120)] = ""
    """How to reset it to factory state; "" where the sheet does not say."""
