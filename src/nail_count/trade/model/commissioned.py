"""What was noted of a device when it was brought into use. Its setup code is never among it."""

from __future__ import annotations

from typing import Annotated, Literal, Self, get_args

from pydantic import Field, field_validator, model_validator

from .measure import Power
from .thing import Mark, Moment, Thing

SettingName = Literal[
    "lamp type", "low-end trim", "high end", "fade", "after an outage", "indicator", "countdown", "schedule",
    "scenes and groups", "lived-in look",
]  # fmt: skip
"""The settings of a device, in the order they are made."""
SETTING_NAMES: tuple[SettingName, ...] = get_args(SettingName)


class Setting(Thing):
    """One thing set on a device: lamp type, low-end trim."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    value: Annotated[str, Field(max_length=120)]


class Commissioned(Thing):
    """What was noted of a device when it was brought into use."""

    of: Mark
    """The device or module."""
    serial: Annotated[str, Field(max_length=60)] = ""
    name: Annotated[str, Field(max_length=60)] = ""
    """What its hub and the people of the house call it."""
    before: Annotated[str, Field(max_length=40)] = ""
    """The firmware it came with."""
    firmware: Annotated[str, Field(max_length=40)] = ""
    """The firmware it has now."""
    hub: Annotated[str, Field(max_length=60)] = ""
    """The hub it was joined to."""
    settings: Annotated[tuple[Setting, ...], Field(max_length=40)] = ()
    pairs: Annotated[tuple[str, ...], Field(max_length=12)] = ()
    """The companions and remotes paired with it."""
    watts: Power | None = None
    """What it measured with everything on [W]; None: not measured."""
    at: Moment | None = None

    @field_validator("watts")
    @classmethod
    def _in_watts(cls, watts: Power | None) -> Power | None:
        if watts is not None and (watts.unit != "W" or watts.value > 10_000):
            raise ValueError("Enter what it measured in W, at most 10,000")
        return watts

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        if len({one.name for one in self.settings}) < len(self.settings):
            raise ValueError("Enter each setting once")
        return self

    def setting(self, name: str) -> str:
        """What was set; "" where nothing was noted."""
        return next((one.value for one in self.settings if one.name == name), "")
