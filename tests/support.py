"""Short ways to make the things tests are about."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st

from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.enclosure import Enclosure
from nail_count.trade.model.wire import GAUGES, Cable

SWITCH = Datasheet.model_validate(
    {
        "id": "switch",
        "name": "Switch",
        "kind": "switch",
        "derating": "none needed",
        "channels": [{"ratings": {"lighting": {"alone": "6 A"}, "fan": {"alone": "2.5 A"}}}],
    }
)
DIMMER = Datasheet.model_validate(
    {
        "id": "dimmer",
        "name": "Dimmer",
        "kind": "dimmer",
        "derating": "by position",
        "channels": [
            {
                "ratings": {
                    "incandescent": {"alone": "520 W", "end": "430 W", "middle": "350 W"},
                    "led": {"alone": "140 W", "end": "115 W", "middle": "90 W"},
                },
                "minimum": "10 W",
            }
        ],
    }
)
WIDE = Datasheet.model_validate({"id": "wide", "name": "Wide", "kind": "dimmer", "gangs": 2})
BLANK = Datasheet.model_validate({"id": "blank", "name": "Blank", "kind": "blank"})
REMOTE = Datasheet.model_validate({"id": "remote", "name": "Remote", "kind": "remote"})
SHEETS = {sheet.id: sheet for sheet in (SWITCH, DIMMER, WIDE, BLANK, REMOTE)}


def cables(*sizes: str, **more: Any) -> tuple[Cable, ...]:
    """Cables by their trade sizes, lettered from A: ``cables("12/2", "12/3")``."""
    made = []
    for letter, size in zip("ABCDEFGHIJKLM", sizes, strict=False):
        gauge, insulated = size.split("/")
        made.append(Cable.model_validate({"id": letter, "gauge": int(gauge), "insulated": int(insulated), **more}))
    return tuple(made)


def box(
    capacity: str = "34 in3",
    gangs: int = 1,
    entering: tuple[Cable, ...] = (),
    devices: tuple[Device, ...] = (),
    **enclosure: Any,
) -> Box:
    """A box with this capacity (a volume, or a trade size) and what is in it."""
    known = {"volume": capacity} if " in3" in capacity else {"trade_size": capacity, "material": "metal"}
    return Box(
        id="box",
        name="Box",
        room="Room",
        enclosure=Enclosure.model_validate({"gangs": gangs, **known, **enclosure}),
        cables=entering,
        devices=devices,
    )


def on(gang: int, sheet: Datasheet = SWITCH, gauge: int | None = None, *loads: dict[str, Any]) -> Device:
    """A device in a gang."""
    numbered = [{"id": f"l{gang}{number}", **load} for number, load in enumerate(loads)]
    return Device.model_validate({"id": f"d{gang}", "gang": gang, "sheet": sheet.id, "gauge": gauge, "loads": numbered})


@st.composite
def any_cables(draw: st.DrawFn, most: int = 6) -> tuple[Cable, ...]:
    """Cables of any gauge, with or without grounds, ending, running through or looped."""
    held = draw(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 2)).filter(any), max_size=most))
    return tuple(
        Cable(
            id="ABCDEFGHIJ"[number],
            gauge=draw(st.sampled_from(GAUGES)),
            insulated=insulated,
            grounds=grounds,
            ground_gauge=draw(st.none() | st.sampled_from(GAUGES)),
            run=draw(st.sampled_from(("ends", "through", "looped"))),
        )
        for number, (insulated, grounds) in enumerate(held)
    )


@st.composite
def any_box(draw: st.DrawFn) -> Box:
    """A box of one to four gangs with any cables, devices and clamps."""
    gangs = draw(st.integers(1, 4))
    devices = []
    for gang in range(1, gangs + 1):
        sheet = draw(st.sampled_from((None, SWITCH, DIMMER, BLANK, REMOTE)))
        if sheet is not None:
            devices.append(on(gang, sheet, draw(st.sampled_from((None, 14, 12, 10)))))
    return box(
        f"{draw(st.integers(8, 90))} in3",
        gangs,
        draw(any_cables()),
        tuple(devices),
        clamps=draw(st.booleans()),
    )
