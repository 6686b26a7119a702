"""Short ways to make the things tests are about."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Mapping
from datetime import datetime
from fractions import Fraction
from pathlib import Path
from typing import Any

from hypothesis import strategies as st

from nail_count.trade.model.answer import Amount, Text
from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.contents import Contents
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.enclosure import Enclosure
from nail_count.trade.model.gauge import Gauge, awg
from nail_count.trade.model.measure import Length
from nail_count.trade.model.run import BoxEnd, CircuitEnd, OnwardEnd, Run, WordsEnd
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.model.wire import Cable

GAUGES = tuple(awg(number) for number in (18, 16, 14, 12, 10, 8, 6))
"""Those a table of allowances has."""

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
        made.append(Cable.model_validate({"id": letter, "gauge": gauge, "insulated": int(insulated), **more}))
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
    made = Enclosure.model_validate({"gangs": gangs, **known, **enclosure})
    return Box(id="box", name="Box", room="Room", cables=entering, planned=Contents(enclosure=made, devices=devices))


def figures(text: Text) -> tuple[Fraction, ...]:
    """Every number a text says, in order, whatever its words: what a rule is held to.

    >>> figures(("over by ", Amount(Fraction(9, 4), "in3"), ": 2 conductors too many"))
    (Fraction(9, 4), Fraction(2, 1))
    """
    found: list[Fraction] = []
    for part in text:
        if isinstance(part, Amount):
            found.append(part.value)
        else:
            found += [Fraction(one.replace("−", "-")) for one in re.findall(r"−?\d+(?:\.\d+)?(?:/\d+)?", part)]
    return tuple(found)


def flat(said: Mapping[str, Any]) -> Box:
    """A box said without its stages: what is in it is planned; connectors are counted, each a splice of its own."""
    names = ("enclosure", "devices", "modules", "terminal_blocks")
    planned = dict(said.get("planned") or {}) | {name: said[name] for name in names if name in said}
    for one in said.get("connectors", ()):
        held = {name: value for name, value in one.items() if name != "count"}
        known = planned.get("splices", [])
        more = [{"id": f"s{len(known) + n + 1}", "connector": held} for n in range(one.get("count", 1))]
        planned["splices"] = [*known, *more]
    rest = {name: value for name, value in said.items() if name not in (*names, "connectors", "planned")}
    return Box.model_validate(rest | {"planned": planned})


def on(gang: int, sheet: Datasheet = SWITCH, gauge: int | Gauge | None = None, *loads: dict[str, Any]) -> Device:
    """A device in a gang."""
    numbered = [{"id": f"l{gang}{number}", **load} for number, load in enumerate(loads)]
    return Device.model_validate({"id": f"d{gang}", "gang": gang, "sheet": sheet.id, "gauge": gauge, "loads": numbered})


def found_as(at: Box, contents: Contents | None) -> Box:
    """A box in which this was found: whatever has the same id and model stays."""
    planned = at.planned.staying(contents) if at.planned else None
    return at.changed(found=contents.staying(None) if contents else None, planned=planned)


def on_disk(database: Path) -> bytes:
    """Everything in the files of a database, read by another program: this one must not open them beside SQLite."""
    return subprocess.check_output(["cat", *sorted(database.parent.glob(f"{database.name}*"))])


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


MARKS = st.sampled_from(["A", "B", "d1", "s2"])


@st.composite
def any_run(draw: st.DrawFn) -> Run:
    """A run between any two ends, measured or not."""
    end = st.one_of(
        st.builds(BoxEnd, box=st.sampled_from(["hall", "porch-lamp"]), cable=st.none() | MARKS),
        st.builds(CircuitEnd, circuit=st.none() | st.sampled_from(["7", "2/4"])),
        st.just(OnwardEnd()),
        st.builds(WordsEnd, words=st.sampled_from(["to the lamp", "shed"])),
    )
    length = draw(st.none() | st.sampled_from([Length.parse("25 ft"), Length.parse("7.5 mm")]))
    return Run(id=draw(st.sampled_from(["r1", "hall-a"])), one=draw(end), other=draw(end), length=length)


@st.composite
def any_tick(draw: st.DrawFn) -> Tick:
    """A step ticked by somebody."""
    step = st.builds(Step, kind=st.sampled_from(["proven dead", "joined", "refused"]), subjects=st.just(("A1", "s2")))
    at = st.datetimes(min_value=datetime(2020, 1, 1), max_value=datetime(2030, 1, 1))
    id = draw(st.sampled_from(["t1", "t2", "t3", "t4"]))
    return Tick(id=id, box="hall", step=draw(step), at=draw(at), by=draw(st.sampled_from(["", "Ada"])))
