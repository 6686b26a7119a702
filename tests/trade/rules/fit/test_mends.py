"""What a mend leaves of a box: only what does not fit is changed, each thing by itself."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.rules.fit.box import DoesNotFit, fit, newly_wrong
from tests.support import DIMMER, SHEETS, SWITCH, box, cables, flat, on

RELAY = Datasheet.model_validate(
    {"id": "relay", "name": "Relay", "kind": "module", "channels": [{"ratings": {"led": {"alone": "100 W"}}}]}
)
ALL = SHEETS | {"relay": RELAY}
LOAD: dict[str, Any] = {"kind": "led", "each": "9 W"}


def said(**more: Any) -> Any:
    wires = [{"id": "A", "gauge": 14, "insulated": 2}, {"id": "B", "gauge": 14, "insulated": 2}]
    return flat(
        {"id": "b", "name": "B", "room": "R", "enclosure": {"gangs": 3, "volume": "40 in3"}, "cables": wires} | more
    )


def excess(made: Any, **more: Any) -> dict[str, F]:
    return {one.subject: one.excess for one in fit(made, ALL, **more).misfits}


def test_what_lies_in_a_space_that_is_not_there_comes_into_the_last_one() -> None:
    wires = [
        {"id": letter, "gauge": 14, "insulated": 2, "space": space}
        for letter, space in zip("ABC", (1, 2, 4), strict=True)
    ]
    made = said(
        enclosure={"gangs": 3, "volume": "40 in3", "barriers": [{"after": 1}]}, cables=wires,
        modules=[{"id": f"m{n}", "sheet": "relay", "space": n} for n in (1, 2, 3)],
        terminal_blocks=[{"space": 1}, {"space": 2}, {"space": 5}],
        planned={"splices": [{"id": f"s{n}", "space": n} for n in (1, 2, 4)]},
    )  # fmt: skip
    found = fit(made, ALL)
    assert {one.subject: int(one.excess) for one in found.misfits} == {"C": 2, "m3": 1, "s4": 2, "block3": 3}
    assert [one.space for one in found.box.cables] == [1, 2, 2]
    assert [one.space for one in found.box.modules] == [1, 2, 2]
    assert [one.space for one in found.box.splices] == [1, 2, 2]
    assert [one.space for one in found.box.terminal_blocks] == [1, 2, 2]


def test_a_load_hangs_only_on_a_channel_and_at_an_outlet_there_is() -> None:
    loads = [LOAD, LOAD | {"outlet": "lamp"}, LOAD | {"outlet": "gone"}, LOAD | {"channel": 3}]
    made = box("40 in3", 1, cables("14/2"), (on(1, SWITCH, None, *loads),))
    known = fit(made, ALL, boxes=("lamp",))
    assert {one.subject: (one.code, one.excess) for one in known.misfits} == {
        "l12": ("outlet", F(0)),
        "l13": ("channel", F(2)),
    }
    assert [(load.id, load.outlet) for load in known.box.devices[0].loads] == [
        ("l10", None),
        ("l11", "lamp"),
        ("l12", None),
    ]
    unasked = fit(made, ALL)
    assert [one.subject for one in unasked.misfits] == ["l13"]
    assert [load.outlet for load in unasked.box.devices[0].loads] == [None, "lamp", "gone"]
    assert excess(box(devices=(on(1, SWITCH, None, *[LOAD] * 43),))) == {"loads of d1": 3}


def test_of_several_only_the_wrong_one_goes() -> None:
    made = said(devices=[{"id": "d1", "gang": 1, "sheet": "gone"}, {"id": "d2", "gang": 2, "sheet": "switch"}])
    assert [one.id for one in fit(made, ALL).box.devices] == ["d2"]
    loose = said(
        modules=[
            {"id": "m1", "sheet": "switch"},
            {"id": "m2", "sheet": "relay", "gang": 3},
            {"id": "m3", "sheet": "relay", "gang": 4},
        ]
    )
    found = fit(loose, ALL)
    assert [(one.id, one.gang) for one in found.box.modules] == [("m2", 3), ("m3", None)]
    assert [(one.subject, one.field) for one in found.misfits] == [("m1", "sheet"), ("m3", "gang")]
    hung = said(
        modules=[{"id": "m1", "sheet": "relay", "loads": [{"id": "l1", **LOAD}, {"id": "l2", **LOAD, "channel": 2}]}]
    )
    assert [load.id for load in fit(hung, ALL).box.modules[0].loads] == ["l1"]
    wide = said(devices=[{"id": "d1", "gang": 1, "sheet": "wide"}, {"id": "d2", "gang": 3, "sheet": "switch"}])
    assert fit(wide, ALL).misfits == ()
    assert excess(said(devices=[{"id": "d1", "gang": 3, "sheet": "wide"}])) == {"d1": 1}


def test_a_barrier_may_stand_behind_a_device_and_not_within() -> None:
    for gang, barrier, fits in ((1, 2, True), (1, 1, False), (2, 1, True), (2, 2, False)):
        made = said(
            enclosure={"gangs": 3, "barriers": [{"after": barrier}]},
            devices=[{"id": "d1", "gang": gang, "sheet": "wide"}],
        )
        assert (fit(made, ALL).misfits == ()) == fits
    lost = said(enclosure={"gangs": 3, "barriers": [{"after": 1}]}, devices=[{"id": "d1", "gang": 1, "sheet": "gone"}])
    assert [one.code for one in fit(lost, ALL).misfits] == ["sheet"]


@pytest.mark.parametrize(
    ("circuit", "others", "fields", "left"),
    [
        ("9", ("1",), ["circuit"], (None, ("1",))),
        ("1", ("9", "2"), ["other_circuits"], ("1", ("2",))),
        ("8", ("9",), ["circuit", "other_circuits"], (None, ())),
        ("1", ("2",), [], ("1", ("2",))),
    ],
)
def test_of_circuits_only_those_that_are_gone_are_left_open(circuit: str, others: Any, fields: Any, left: Any) -> None:
    found = fit(said(circuit=circuit, other_circuits=others), ALL, ("1", "2"))
    assert [one.field for one in found.misfits] == fields and (found.box.circuit, found.box.other_circuits) == left


@pytest.mark.parametrize(
    ("ring", "fits"),
    [({"volume": "1000 in3"}, True), ({"volume": "1000.1 in3"}, False), ({"volume": "0.5 in3"}, True),
     ({"depth": "1000 mm"}, True), ({"depth": "1000.5 mm"}, False), ({"depth": "0 mm"}, True),
     ({"depth": "0.5 mm"}, True)],
)  # fmt: skip
def test_a_ring_no_ring_can_be(ring: dict[str, str], fits: bool) -> None:
    made = said(enclosure={"gangs": 1, "volume": "20 in3", "rings": [{"kind": "Ring"}, {"kind": "Ring", **ring}]})
    found = fit(made, ALL)
    assert (found.misfits == ()) == fits
    for one in found.misfits:
        assert one.subject in ("ring 2", "depth of ring 2")
        assert found.box.enclosure.rings[1].volume is None and found.box.enclosure.rings[1].depth is None
    assert excess(said(enclosure={"gangs": 1, "rings": [{"kind": "Ring"}] * 6})) == {"rings": 2}


def test_readings_that_name_too_many_breakers_go_and_others_stay() -> None:
    on_all = [str(n) for n in range(60)]
    reading = {"kind": "volts", "of": "A1", "volts": 0}
    made = said(readings=[reading | {"id": "r1", "on": ["1"]}, reading | {"id": "r2", "on": on_all}])
    found = fit(made, ALL)
    (wrong,) = found.misfits
    assert [one.id for one in found.box.readings] == ["r1"]
    assert wrong.excess > 0
    most = 60 - int(wrong.excess)
    assert fit(said(readings=[reading | {"id": "r", "on": on_all[:most]}]), ALL).misfits == ()
    assert fit(said(readings=[reading | {"id": "r", "on": on_all[: most + 1]}]), ALL).misfits != ()


def test_what_is_said_of_a_box_that_does_not_fit_is_its_first_misfit_and_may_be_mended() -> None:
    made = said(devices=[{"id": "d1", "gang": 1, "sheet": "gone"}, {"id": "d2", "gang": 3, "sheet": "wide"}])
    found = fit(made, ALL).misfits
    wrong = DoesNotFit(found)
    assert wrong.mendable and wrong.problems[0].sentence.count(found[0].sentence)
    worse = said(
        devices=[
            {"id": "d1", "gang": 1, "sheet": "gone"},
            {"id": "d2", "gang": 3, "sheet": "wide"},
            {"id": "d3", "gang": 2, "sheet": "gone"},
        ]
    )
    new = newly_wrong(made, worse, ALL)
    assert new is not None and new.subject == "d3" and newly_wrong(worse, made, ALL) is None
    assert DIMMER.id in ALL


def test_a_device_is_held_only_against_the_gangs_it_takes() -> None:
    """Whichever comes first in the document: one in gang 3 is no matter of one in gangs 1 and 2."""
    made = said(devices=[{"id": "d3", "gang": 3, "sheet": "switch"}, {"id": "d1", "gang": 1, "sheet": "wide"}])
    assert fit(made, ALL).misfits == ()
    both = said(devices=[{"id": "d2", "gang": 2, "sheet": "switch"}, {"id": "d1", "gang": 1, "sheet": "wide"}])
    assert [one.code for one in fit(both, ALL).misfits] == ["yokes"]
