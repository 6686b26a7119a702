"""Edits: each says what it did, refuses with a sentence and a field, and leads only to boxes that hold together."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.base import BoxEdit
from nail_count.trade.edits.house.boxes import StartBox
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.fit.box import newly_wrong
from tests.support import SHEETS, any_box
from tests.trade.editing import edit_box


def begun(**more: Any) -> Box:
    start = StartBox.read({"name": "Hall", "room": "Entry", "gangs": "3"} | more)
    return start.apply(Documents(JobAtHand(Job(name="House")), {})).documents.job.boxes[0]


def act(box: Box, *edits: tuple[str, dict[str, object]]) -> tuple[Box, str]:
    sentence = ""
    for name, said in edits:
        edit = edit_box(box, name, said, SHEETS)
        box, sentence = edit.box, edit.sentence
    return box, sentence


def test_a_box_from_nothing_to_a_verdict() -> None:
    box, _ = act(
        begun(volume="54"),
        ("add-cable", {"gauge": "12", "insulated": "2"}),
        ("add-cable", {"gauge": "12", "insulated": "3", "enters": "bottom", "goes": "fan"}),
        ("put-device", {"gang": "1", "sheet": "dimmer", "name": "Bench"}),
        ("put-device", {"gang": "3", "sheet": "switch", "gauge": ""}),
        ("add-load", {"device": "d1", "kind": "led", "quantity": "6", "each": "9"}),
        ("add-load", {"device": "d2", "kind": "fan", "each": "0.9"}),
        ("set-clamps", {"clamps": "true"}),
    )
    check = check_box(box, SHEETS)
    assert [cable.id for cable in box.cables] == ["A", "B"]
    assert check.fill.total == 5 * 9 / 4 + 9 / 4 + 9 + 9 / 4
    assert [answer.limit for answer in check.ratings] == [140, 2.5]


SENTENCES = [
    (("add-cable", {"gauge": 14, "insulated": 3}), "14/3 cable A added"),
    (("put-device", {"gang": 2, "sheet": "wide", "name": "Big"}), "Wide “Big” put into gang 2"),
    (("set-volume", {"volume": "20.3"}), "Volume marked 20.3 in3"),
    (("set-volume", {"trade_size": "3 x 2 x 2-1/2"}), "Trade size 3x2x2-1/2 device"),
    (("set-volume", {"volume": "", "trade_size": " "}), "Volume left open"),
    (("set-gangs", {"gangs": "1"}), "Box has 1 gang"),
    (("rename", {"name": "A", "room": "B", "circuit": "4"}), "Box is “A” in B, circuit 4"),
]


@pytest.mark.parametrize(("edit", "sentence"), SENTENCES)
def test_the_history_reads_as_sentences(edit: tuple[str, dict[str, object]], sentence: str) -> None:
    assert act(begun(), edit)[1] == sentence


REFUSED = [
    (("add-cable", {"gauge": "13", "insulated": "2"}), "gauge", "Enter one of the gauges 24, 22, 20, 18, 16, 14"),
    (("add-cable", {"gauge": "14", "insulated": "-1"}), "insulated", "Enter"),
    (("add-cable", {"gauge": "14", "insulated": "two"}), "insulated", "Enter a whole number"),
    (("remove-cable", {"cable": "Q"}), "cable", "there is no cable Q"),
    (("put-device", {"gang": "4", "sheet": "switch"}), "gang", "Pick a gang from 1 to 3"),
    (("put-device", {"gang": "3", "sheet": "wide"}), "gang", "would reach past gang 3 from gang 3"),
    (("put-device", {"gang": "1", "sheet": "nothing"}), "sheet", "Pick one of the job's sheets"),
    (("swap-gangs", {"one": "1", "other": "9"}), "other", "Pick a gang from 1 to 3"),
    (("swap-gangs", {"one": "1", "other": "2"}), "other", "at least one device"),
    (("set-volume", {"volume": "0"}), "volume", "Enter a volume above zero"),
    (("set-volume", {"volume": "big"}), "volume", "Enter a volume such as"),
    (("set-volume", {"volume": "33", "trade_size": "3x2x2"}), "volume", "contradict each other"),
    (("set-volume", {"trade_size": "7x7"}), "trade_size", "Enter a trade size such as"),
    (("set-gangs", {"gangs": "9"}), "gangs", "Enter"),
    (("rename", {"name": "", "room": "B"}), "name", "This is missing. Enter it"),
    (("connect-device", {"device": "d9"}), "device", "Pick a device that stands in this box"),
]


@pytest.mark.parametrize(("edit", "field", "said"), REFUSED)
def test_a_refusal_names_the_field_and_what_was_expected(
    edit: tuple[str, dict[str, object]], field: str, said: str
) -> None:
    with pytest.raises(Rejected) as wrong:
        act(begun(), edit)
    assert wrong.value.field == wrong.value.problems[0].path[-1] == field
    assert said in wrong.value.sentence


@pytest.mark.parametrize(
    ("load", "said"),
    [
        ({"kind": "led", "each": "9 A"}, "Enter W for LED, not A"),
        ({"kind": "fan", "each": "1/6 hp"}, "Enter A or W for fan, not hp"),
        ({"kind": "led", "each": "0"}, "Enter more than"),
        ({"kind": "led", "each": "9", "power_factor": "1.5"}, "Enter a power factor above 0 and at most 1"),
        ({"kind": "led", "each": "9", "channel": "2"}, "Dimmer can't control a load"),
    ],
)
def test_loads_are_refused_with_a_sentence(load: dict[str, object], said: str) -> None:
    box, _ = act(begun(), ("put-device", {"gang": 1, "sheet": "dimmer"}))
    with pytest.raises(Rejected, match=said):
        edit_box(box, "add-load", {"device": "d1", **load}, SHEETS)


def test_a_wide_device_changes_places_and_pushes_out_what_it_covers() -> None:
    box, _ = act(begun(), ("put-device", {"gang": 1, "sheet": "switch"}), ("put-device", {"gang": 2, "sheet": "wide"}))
    box, _ = act(box, ("swap-gangs", {"one": "1", "other": "2"}))
    assert {device.sheet: device.gang for device in box.devices} == {"wide": 1, "switch": 3}
    box, sentence = act(box, ("put-device", {"gang": "2", "sheet": "dimmer"}))
    assert sentence == "Dimmer put into gang 2 in place of Wide"
    assert {device.sheet: device.gang for device in box.devices} == {"dimmer": 2, "switch": 3}
    with pytest.raises(Rejected, match="Take the device out of gang"):
        act(box, ("set-gangs", {"gangs": 2}))


def any_said(box: Box) -> st.SearchStrategy[tuple[str, dict[str, object]]]:
    """Any edit with fields that may fit this box or not."""
    values = st.sampled_from(
        [
            "",
            "1",
            "2",
            "3",
            "12",
            "14",
            "A",
            "d1",
            "d2",
            "l1",
            "switch",
            "dimmer",
            "wide",
            "led",
            "fan",
            "9 W",
            "54",
            "metal",
        ]
    )
    names = st.sampled_from(sorted(name for name, edit in EDITS.items() if issubclass(edit, BoxEdit)))
    return names.flatmap(
        lambda name: st.tuples(st.just(name), st.fixed_dictionaries(dict.fromkeys(EDITS[name].model_fields, values)))
    )


@given(any_box(), st.data())
def test_whatever_is_said_the_box_holds_together_or_is_as_it_was(box: Box, data: st.DataObject) -> None:
    for _ in range(4):
        name, said = data.draw(any_said(box))
        try:
            edit = edit_box(box, name, said, SHEETS)
        except Rejected as wrong:
            assert all(problem.sentence for problem in wrong.problems)
            continue
        if newly_wrong(box, edit.box, SHEETS):
            continue  # refused before it is kept
        box = edit.box
        assert edit.sentence
        assert Box.model_validate_json(box.model_dump_json(exclude_none=True)) == box
        check_box(box, SHEETS)


@given(any_box(), st.integers(1, 4), st.integers(1, 4))
def test_swapping_twice_changes_nothing(box: Box, one: int, other: int) -> None:
    said: dict[str, object] = {"one": one, "other": other}
    try:
        once = edit_box(box, "swap-gangs", said, SHEETS).box
    except Rejected:
        return
    assert edit_box(once, "swap-gangs", said, SHEETS).box == box
