"""Differences between two boxes: none where they are the same, some where anything is otherwise."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.compare.boxes import differences, from_found
from nail_count.trade.model.box import Box
from nail_count.trade.model.contents import Contents, Device
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import by_id
from tests.support import SHEETS, any_box
from tests.trade.editing import edit_box


def held(box: Box) -> Box:
    """The box with its devices in the order of their gangs, whatever they are called inside it; a lone ground by its
    own gauge, since what is said of insulated conductors it has not says nothing."""
    cables = tuple(c if c.insulated else c.changed(gauge=c.grounded_by, ground_gauge=None) for c in box.cables)
    devices = sorted((d.changed(id=f"d{d.gang}") for d in box.devices), key=lambda device: device.gang)
    return box.changed(devices=tuple(devices), cables=cables)


@given(any_box(), any_box())
def test_nothing_is_said_exactly_where_nothing_is_otherwise(one: Box, other: Box) -> None:
    same = held(one) == held(other)
    assert (differences(one, other, SHEETS) == ()) == same
    assert differences(one, one, SHEETS) == ()


@given(any_box(), st.integers(1, 4))
def test_one_edit_is_one_or_two_sentences(box: Box, gang: int) -> None:
    said: list[tuple[str, dict[str, object]]] = [
        ("add-cable", {"gauge": 14, "insulated": 2}),
        ("set-clamps", {"clamps": not box.enclosure.clamps}),
        ("put-device", {"gang": gang, "sheet": "dimmer", "name": "New"}),
        ("swap-gangs", {"one": 1, "other": gang}),
    ]
    for name, what in said:
        try:
            after = edit_box(box, name, what, SHEETS).box
        except Rejected:
            continue
        most = 1 if name in ("add-cable", "put-device") else 2  # that the clamps were looked at is said too
        assert len(differences(box, after, SHEETS)) <= most
        assert name == "swap-gangs" or differences(box, after, SHEETS)


def test_a_new_device_of_the_same_model_is_a_change_from_what_was_found() -> None:
    """A worn-out toggle goes, another one comes; one that stays is none."""
    toggle = Device(id="d1", gang=1, sheet="toggle", stays="d1")
    sheets = by_id([Datasheet(id="toggle", name="Toggle", kind="switch")])
    stays = Box(id="b", name="Hall", room="Hall", planned=Contents(devices=(toggle,)))
    kept = stays.changed(found=Contents(devices=(toggle.changed(stays=None),)))
    assert from_found(kept, sheets) == () == from_found(stays, sheets)
    fresh = kept.changed(planned=Contents(devices=(toggle.changed(stays=None),)))
    assert from_found(fresh, sheets) == ("Gang 1: a new Toggle in place of the old one",)
