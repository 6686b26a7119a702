"""One look and one live test, made by a person who does what the test asks for in hidden boxes."""

from __future__ import annotations

import os
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.edits.live import LookAtSwitch, LookAtWires, TouchWire, UseMeasured
from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.conductor import EVERY, Reading
from nail_count.trade.model.contents import Contents
from nail_count.trade.model.enclosure import Enclosure
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import by_id
from nail_count.trade.rules.wires.live import LiveTest, Row, live_test, touch
from nail_count.trade.rules.wires.neutral import neutral_in
from nail_count.trade.wiring.simulate.meter import measure
from nail_count.trade.wiring.simulate.old_switch import KINDS, OldSwitch, old_switch


LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))

SHEETS = by_id(library())
ROLES = {"line": "line hot", "onward": "line hot", "neutral": "neutral", "switched": "switch leg"}
TO_CODE = sorted(kind for kind in KINDS if old_switch(kind, 0).to_code)
SETTLED = (
    "feed and light", "switch loop", "feed, light and onward", "one switch, two lights", "two switches",
    "two switches, and onward", "three switches", "no ground",
)  # fmt: skip
"""The kinds every wire of which is to be measured: plain switches on one circuit, all cables in use."""


def seen(old: OldSwitch) -> Box | None:
    """The box as a person enters it who looks and taps what is there; None where neither answer is what he sees."""
    gangs = len(old.screws)
    devices = tuple(Device(id=f"d{n}", gang=n, sheet="ostrel-smart-switch") for n in range(1, gangs + 1))
    planned = Contents(enclosure=Enclosure(gangs=gangs), devices=devices)
    box = Box(id="b", name="B", room="R", circuit="1", cables=tuple(old.hidden.cables), planned=planned)
    box = LookAtSwitch(box="b", on_off=True, worked=old.worked).on_box(box, SHEETS).box
    whites = {f"{cable.id}2" for cable in old.hidden.cables}
    on = {wire for screws in old.screws for tied in screws for wire in tied}
    if not old.tied and len(old.hidden.cables) == 1:
        return LookAtWires(box="b", way="both on the switch").on_box(box, SHEETS).box
    if [set(tied) for tied in old.tied] != [whites] or on & whites:
        return None
    alone = [[tied for tied in screws if len(tied) == 1] for screws in old.screws]
    if not all(alone):
        return None
    legs = tuple(of[-1][0][0] for of in alone)
    if len(old.hidden.cables) == 2 and gangs == 1:
        legs = ()
    try:
        return LookAtWires(box="b", way="whites tied", legs=legs).on_box(box, SHEETS).box
    except Rejected:
        return None


def probed(old: OldSwitch, row: Row) -> str:
    """What the tester shows at one touch [V]."""
    every = tuple(id for id in old.hidden.circuits if int(id) - 1 not in old.off) if old.off else (EVERY,)
    to = "lead" if row.to == "cord" else row.to
    asked = Reading(id="r", kind="volts", of=row.point.wires[0], to=to, on=every if row.step != "off" else (), volts=0)
    return str(float(measure(old.hidden, asked).volts or 0))


def after_testing(old: OldSwitch, random: Random | None = None) -> tuple[Box, LiveTest | None, int]:
    """The box after the person made every touch he was asked for, and how many; in any order where one is given."""
    box, touches = seen(old), 0
    if box is None:
        return Box(id="b", name="B", room="R"), None, 0
    while (test := live_test(box, 120)) is not None and test.next is not None:
        left = [row for row in test.rows if row.result is None]
        row = random.choice(left) if random else test.next
        said = TouchWire(
            box="b", wires=row.point.wires, to=row.to, on=row.step != "off", volts=probed(old, row)  # type: ignore[arg-type]
        )
        box, touches = said.on_box(box, SHEETS).box, touches + 1
        assert touches < 40
    return box, test, touches


def wrong(old: OldSwitch, test: LiveTest) -> list[str]:
    """The wires that are measured as what they are not."""
    return [wire for wire, found in test.wires.items() if ROLES.get(old.hidden.truth.get(wire, ""), "") != found]


@given(st.sampled_from(TO_CODE), st.integers(0, 2**32), st.booleans())
@settings(max_examples=300 * LONGER)
def test_nothing_is_measured_wrong_in_a_house_wired_to_code(kind: str, seed: int, shuffled: bool) -> None:
    """Against the hidden wiring: its generator knows nothing of the test (an import contract)."""
    old = old_switch(kind, seed)
    box, test, _ = after_testing(old, Random(seed) if shuffled else None)
    if test is None:
        return
    assert wrong(old, test) == []
    found = neutral_in(box, 120)
    if found.there is not None:
        assert found.there == bool(old.hidden.brought)


@pytest.mark.parametrize("kind", SETTLED)
def test_a_plain_box_is_measured_whole(kind: str) -> None:
    """Two looks and one live test name every wire; the most usual box takes four touches, and one with the breaker off."""
    for seed in range(20):
        old = old_switch(kind, seed)
        box, test, touches = after_testing(old)
        assert test is not None and test.is_done
        assert set(test.wires) == {wire for cable in box.cables for wire in cable.conductor_ids}
        if kind == "feed and light":
            assert touches == 5
            assert neutral_in(box, 120).words == "yes, measured"
