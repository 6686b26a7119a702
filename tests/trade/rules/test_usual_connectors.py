"""The connectors assumed before there is a hook-up, against those of the hook-up that is then proposed."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.quick_entry.parse import read_line
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.usual_connectors import usual_connectors
from nail_count.trade.wiring.hookup.propose import Proposal, propose

SHEETS = by_id(library())
ONE_PLACE = [
    sheet for sheet in library()
    if sheet.gangs == 1 and sheet.kind in ("switch", "dimmer", "smart switch", "countdown", "sensor")
    and {"line", "load"} <= set(sheet.roles) and "dimming" not in sheet.roles
]  # fmt: skip
"""Devices that switch one load from one place, or can."""


def wired(devices: list[Datasheet], onward: int, material: str = "nonmetallic") -> tuple[Job, Box]:
    """A box with a feed, a cable to the load of each device, and some that go on."""
    gangs, count = len(devices), len(devices) + 1 + onward
    cables = [{"id": "ABCDEFGH"[n], "gauge": 14, "insulated": 2} for n in range(count)]
    standing = [
        {"id": f"d{n}", "gang": n, "sheet": sheet.id,
         "loads": [{"id": f"l{n}", "kind": "led", "each": "9 W", "quantity": 4, "cable": cables[n]["id"]}]}
        for n, sheet in enumerate(devices, 1)
    ]  # fmt: skip
    planned = {"enclosure": {"gangs": gangs, "volume": f"{20 * gangs} in3", "material": material}, "devices": standing}
    box = Box.model_validate(
        {"id": "b", "name": "B", "room": "R", "circuit": "5", "cables": cables, "planned": planned}
    )
    ends = [{"kind": "circuit", "circuit": "5"}, *({"kind": "words", "words": "to the light"} for _ in devices)]
    ends += [{"kind": "onward"} for _ in range(onward)]
    runs = [
        {"id": f"r{n}", "one": {"kind": "box", "box": "b", "cable": cable["id"]}, "other": end}
        for n, (cable, end) in enumerate(zip(cables, ends, strict=True), 1)
    ]
    circuits = [{"id": "5", "breaker": 15}]
    job = Job.model_validate({"name": "J", "sheets": library(), "boxes": [box], "runs": runs, "circuits": circuits})
    return job, box


@given(
    st.lists(st.sampled_from(ONE_PLACE), min_size=1, max_size=3),
    st.integers(0, 2),
    st.sampled_from(("nonmetallic", "metal")),
)
@settings(max_examples=40, deadline=None)
def test_as_many_as_the_proposed_hookup_takes(devices: list[Datasheet], onward: int, material: str) -> None:
    job, box = wired(devices, onward, material)
    made = propose(job, "b")
    assert isinstance(made, Proposal), made
    taken = [splice.connector.size for splice in made.splices["b"] if splice.connector]
    assert sorted(usual_connectors(box, SHEETS)) == sorted(taken)


@pytest.mark.parametrize(
    ("line", "count"),
    [
        ("1g 20in3; 14/2; toggle", 0),
        ("1g 20in3; 14/2, 14/2; toggle", 2),
        ("1g 20in3; 14/2, 14/2, 14/2; toggle", 3),
        ("1g 20in3; 14/2, 14/2, 14/2; dimmer", 4),
        ("2g 34in3; 14/2, 14/2, 14/2; toggle; toggle", 3),
    ],
)
def test_by_hand(line: str, count: int) -> None:
    """Common practice: whites, grounds and hots in a connector each; a switch leg under its screw."""
    box = read_line(line, Box(id="b", name="B", room="R"), SHEETS).box
    assert box is not None
    assert len(usual_connectors(box, SHEETS)) == count


def test_canada_counts_them_before_there_is_a_hookup() -> None:
    """CSA C22.1 rule 12-3034, by hand: nine allowances of 24.6 mL are 221.4, more than 12.5 in³ (204.8 mL)."""
    job, box = wired([SHEETS["marrowby-toggle"]], 1)
    box = box.changed(enclosure=box.enclosure.changed(volume="12.5 in3"))
    fill = check_box(box, SHEETS, job.terms.changed(code="csa"), job.volts).fill
    assert fill.state.word == "fails" and float(fill.total) == pytest.approx(221.4)
