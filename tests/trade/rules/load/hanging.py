"""Short ways to hang loads on devices, and to ask what a channel makes of them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from nail_count.trade.model.answer import Answer
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.load.position import Position
from nail_count.trade.rules.load.rating import rating_at
from tests.support import on

THREE = {"alone": "520 VA", "end": "430 VA", "middle": "350 VA"}


def sheet(channel: dict[str, Any] | None = None, **more: Any) -> Datasheet:
    about = {"id": "odd", "name": "Odd", "kind": "dimmer", "channels": [channel] if channel else []}
    return Datasheet.model_validate(about | more)


def hung(made: Datasheet, *loads: dict[str, Any], place: Position | None = None, terms: Terms | None = None) -> Answer:
    """The first channel of a device of this sheet with these loads."""
    return rating_at(place or Position(), on(1, made, None, *loads), 1, made, terms or Terms())


def load(kind: str, each: str, quantity: int = 1, **more: Any) -> dict[str, Any]:
    return {"kind": kind, "each": each, "quantity": quantity, **more}


SILENT = sheet({"ratings": {"led": {"alone": "100 W"}}})
"""A sheet that says nothing of neighbors."""


AT = datetime(2026, 3, 2, 9, 0)


def amps(power: str) -> dict[str, Any]:
    """LED lamps of which only the amps are known, by a meter."""
    return load("led", "5 W", fitting="luminaire", measured={"power": power, "by": "meter", "at": AT})


def codes(answer: Answer) -> list[str]:
    return [remark.code for remark in answer.remarks]


LED = {"ratings": {"led": {"alone": "100 W", "end": "80 W", "middle": "60 W"}}}
