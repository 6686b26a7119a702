"""Quick entry: what it understands, what it points at, and that what it can say reads back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.base import BoxEdited
from nail_count.trade.edits.together import Together
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.model.measure import Power, Volume
from nail_count.trade.quick_entry.enter_line import EnterLine, StartByLine
from nail_count.trade.quick_entry.parse import read_line
from nail_count.trade.quick_entry.write import without_ids, write_line
from nail_count.trade.rules.check import check_box
from nail_count.trade.text.format import say
from tests.support import DIMMER, SHEETS, any_box, box, flat, on

FAN = Datasheet.model_validate(
    {"id": "fan-four", "name": "Four-speed fan control", "kind": "fan control", "derating": "by position",
     "channels": [{"ratings": {"fan": {"alone": "1.8 A", "end": "1.5 A", "middle": "1.2 A"}}}]}
)  # fmt: skip
LIBRARY = SHEETS | {FAN.id: FAN}


def entered(box: Box, line: str) -> BoxEdited:
    return EnterLine(box=box.id, line=line).on_box(box, LIBRARY)


EMPTY = Box(id="box", name="Box", room="Room")


def test_a_whole_box_in_one_line() -> None:
    reading = read_line('3g 54in3 tabs; 12/2 x3, 12/3; dimmer "Bench" 6x9W led, fan 0.9A, switch', EMPTY, LIBRARY)
    assert reading.problems == () and reading.box is not None
    check = check_box(reading.box, LIBRARY)
    # nine 12 AWG conductors, clamps, three yokes, four grounds: (9 + 1 + 6 + 1) × 2.25
    assert check.fill.total == Volume.parse("38.25 in3").value
    assert [answer.total for answer in check.ratings] == [54, Power.parse("0.9 A").value, 0]
    assert [answer.limit for answer in check.ratings][:2] == [115, Power.parse("1.2 A").value]


def test_every_kind_of_load_has_a_word() -> None:
    general = Datasheet.model_validate(
        {"id": "all", "name": "All", "kind": "switch", "channels": [{"ratings": {"general": {"alone": "20 A"}}}]}
    )
    line = "1g 18in3; 12/2 aluminum class 2; all 40W halogen, all"
    kinds = "8x50W mlv 50W elv 13W cfl 32W tube 1/2hp 900W heater 15A outlet 60VA 0.9A"
    reading = read_line(line.replace("40W halogen, all", f"40W halogen {kinds}"), EMPTY, {"all": general})
    assert reading.problems == () and reading.box is not None
    assert [load.kind for load in reading.box.devices[0].loads] == [
        *("incandescent", "mlv", "elv", "cfl", "fluorescent", "motor", "heater", "receptacle", "mlv", "fan")
    ]
    assert reading.box.cables[0].metal == "aluminum" and reading.box.cables[0].class2
    assert "class 2" in write_line(reading.box, {"all": general})


def test_what_a_line_cannot_say_of_a_load_stays_while_the_load_does() -> None:
    lamps = {
        "kind": "led",
        "each": "9 W",
        "quantity": 4,
        "fewest": 2,
        "measured": {"power": "31 W", "at": "2026-11-20T10:00"},
    }
    known = box(
        "20.3 in3", 1, (), (on(1, DIMMER, None, lamps, lamps | {"quantity": 2, "fewest": 1, "measured": None}),)
    )
    line = write_line(known, LIBRARY)
    kept = entered(known, line).box.devices[0].loads
    assert [(load.fewest, load.measured) for load in kept] == [
        (load.fewest, load.measured) for load in known.devices[0].loads
    ]
    other = entered(known, line.replace("4x9W", "5x9W")).box.devices[0].loads
    assert other[0].fewest is None and other[0].measured is None and other[1].fewest == 1


def test_every_word_is_echoed_with_what_it_was_taken_for() -> None:
    line = '2 gang 20.3 cu in metal; 14/2 x2 g16 "feed"; empty, switch on 14 "Porch" 85W fan pf 0.85 "old fan"'
    reading = read_line(line, EMPTY, LIBRARY)
    assert [word.means for word in reading.words if word.text not in ",;"] == [
        "2 gangs", "20.3 in3 marked in it", "metal", "14/2 cable", "twice", "ground of 16 AWG", "goes to feed",
        "gang 1 stays empty", "Switch in gang 2", "14 AWG on it", "called Porch",
        "1 × 85 W fan, power factor 0.85", "called old fan",
    ]  # fmt: skip
    assert all(line[word.start :].startswith(word.text[:3]) for word in reading.words)
    assert reading.box is not None and reading.goes == {"A": "feed", "B": "feed"}
    assert reading.box.devices[0].loads[0].name == "old fan"


POINTED_AT = [
    ("3g 540; 14/2", "540", "gangs such as 3g, a volume such as 54in3"),
    ("9g", "9g", "8 or less"),
    ("1g; 13/2", "13/2", "one of the gauges 24, 22, 20, 18, 16"),
    ("1g; 14/2 x99", "x99", "how often, from x1 to x20"),
    ("1g; x2", "x2", "a cable such as 14/2 or 12/3"),
    ("1g; 14/2 sideways", "sideways", "x2, g16, no ground, looped"),
    ("1g; ; toaster", "toaster", "a device such as"),
    ("1g; ; switch, switch", "switch", "a gang from 1 to 1"),
    ("1g; ; switch toaster", "toaster", "its name in quotes, on 14, or a load"),
    ("1g; ; dimmer 9A led", "9A", "W for LED, not A"),
    ("1g; ; dimmer 0W", "0W", "more than 0"),
    ("1g 3x2x2 30in3", "30in3", "contradict each other"),
    ("1g 18in3 20in3", "20in3", "the volume once; it stands there before"),
    ("1g 2g", "2g", "the gangs once"),
    ("1g; ; switch; more", "more", "a cable such as 14/2, a device such as"),
]


@pytest.mark.parametrize(("line", "word", "said"), POINTED_AT)
def test_a_word_not_understood_is_pointed_at(line: str, word: str, said: str) -> None:
    reading = read_line(line, EMPTY, LIBRARY)
    assert reading.box is None
    assert [wrong.text for wrong in reading.problems][:1] == [word]
    assert said in reading.problems[0].expected
    assert line.rindex(word) == reading.problems[0].start


def test_channels_can_be_said_and_what_cannot_be_said_stays() -> None:
    about = {"ratings": {"led": {"alone": "100 W"}}}
    both = Datasheet.model_validate({"id": "both", "name": "Both", "kind": "fan control", "channels": [about, about]})
    kept = flat(EMPTY.model_dump() | {"circuit": "4", "enclosure": {"rings": [{"kind": "plaster ring"}]}})
    line = "1g 18in3; 14/2; both 2x9W led, "
    reading = read_line(f'{line[:-2]} 85W fan pf 0.9 ch2 "fan"', kept, {"both": both})
    assert reading.box is not None and reading.box.circuit == "4" and len(reading.box.enclosure.rings) == 1
    assert [(load.channel, load.name) for load in reading.box.devices[0].loads] == [(1, ""), (2, "fan")]
    assert read_line(write_line(reading.box, {"both": both}), kept, {"both": both}).box == reading.box


def test_a_line_without_its_first_part_leaves_the_box_itself_and_no_line_is_refused() -> None:
    marked = flat(EMPTY.model_dump() | {"enclosure": {"gangs": 2, "volume": "34 in3", "clamps": True}})
    reading = read_line("; 14/2; switch, switch", marked, LIBRARY)
    assert reading.box is not None and reading.box.enclosure == marked.enclosure and len(reading.box.devices) == 2
    for nothing in ("", "   "):
        with pytest.raises(Rejected, match="Type a box in a line"):
            entered(marked, nothing)


@given(st.permutations(("2g 40in3", '14/2, 12/3 "to hall"', 'dimmer "Bench" 6x9W led, switch')))
def test_parts_entered_one_after_the_other_make_the_box_they_make_together(parts: list[str]) -> None:
    whole = read_line("; ".join(parts), EMPTY, LIBRARY).box
    one_by_one = read_line("2g", EMPTY, LIBRARY).box
    for part in parts:
        assert one_by_one is not None
        one_by_one = read_line(part, one_by_one, LIBRARY).box
    assert whole is not None and whole == one_by_one


def test_a_breaker_in_a_line_feeds_the_box_and_is_in_the_panel_then() -> None:
    begun = StartByLine(name="Hall", room="Hall", line="18 cu in, 14/2 x2, switch").apply(
        Documents(JobAtHand(Job(name="House", sheets=tuple(LIBRARY.values()))), {})
    )
    (key,) = begun.documents.lines()
    for line in ("breaker 7", "on circuit 7", "ckt 7, switch"):
        made = EnterLine(box=key, line=line).apply(begun.documents).documents
        assert made.box(key).changed(circuit=None) == begun.documents.box(key)
        assert (made.box(key).circuit, [one.id for one in made.job.circuits]) == ("7", ["7"])
    fed = EnterLine(box=key, line="breaker 7").apply(begun.documents).documents
    with pytest.raises(Rejected, match="Breaker 9 isn't in the panel of this job"):
        EnterLine(box=key, line="breaker 9").apply(fed)
    reading = read_line("breaker 7 breaker 8", EMPTY, LIBRARY)
    assert reading.problems[0].expected == "the breaker once; it stands there before"


def test_what_could_come_next_is_offered() -> None:
    assert "54in3" in read_line("3g ", EMPTY, LIBRARY).suggestions
    assert "12/3" in read_line("3g; 12/2, ", EMPTY, LIBRARY).suggestions
    assert "dimmer" in read_line("3g; 12/2; ", EMPTY, LIBRARY).suggestions
    assert "dimmer" in read_line("3g; 12/2; toaster", EMPTY, LIBRARY).suggestions


@given(any_box(), st.integers(0, 9), st.sampled_from(("", "Bench", "over the sink")))
def test_what_a_line_can_say_reads_back(box: Box, lamps: int, name: str) -> None:
    devices = []
    for device in box.devices:
        loads: list[dict[str, object]] = []
        if device.sheet == DIMMER.id and lamps:
            loads = [{"id": f"m{device.gang}", "kind": "led", "quantity": lamps, "each": "9.5 W", "name": name}]
        devices.append(device.model_dump() | {"loads": loads, "name": name})
    made = flat(box.model_dump() | {"devices": devices})
    line = write_line(made, LIBRARY)
    reading = read_line(line, EMPTY, LIBRARY)
    assert reading.problems == () and reading.box is not None, line
    assert without_ids(reading.box) == without_ids(made.changed(id="box"))


@given(st.text(alphabet='0123456789gx/;,."“” inWAledtabsdimmer', max_size=60))
def test_any_text_is_read_without_an_accident(line: str) -> None:
    reading = read_line(line, EMPTY, LIBRARY)
    assert (reading.box is None) == bool(reading.problems)
    if reading.box is not None:
        assert all(say(answer.headline) for answer in check_box(reading.box, LIBRARY).answers)


def test_each_line_of_one_change_starts_its_own_box() -> None:
    """Two boxes started by lines in one request: what the second line says is in the second box."""
    lines = ("1g 18in3; 14/2", "2g 34in3; 14/2 x3")
    edits = tuple(StartByLine(name=f"N{n}", room="R", line=line) for n, line in enumerate(lines))
    made = Together(edits=edits, sentence="Two boxes").apply(Documents(JobAtHand(Job(name="House")), {})).documents.job
    assert [(box.enclosure.gangs, len(box.cables)) for box in made.boxes] == [(1, 1), (2, 3)]


@pytest.mark.parametrize(
    "name",
    [
        "Dimmer, 600 W",
        "Wide, deep, two-wire dimmer",
        "Relay; dry contact",
        "One, two , three",
        "A dimmer: in white or in gray, for one place or two, with a plate",
    ],
)
@pytest.mark.parametrize("spaced", [False, True])
def test_a_device_whose_name_has_commas_is_entered_by_its_name(name: str, spaced: bool) -> None:
    sheets = {
        "odd": Datasheet(id="odd", name=name, kind="dimmer"),
        "plain": Datasheet(id="plain", name="Plain", kind="switch"),
    }
    said = name.replace(",", " ,  ") if spaced else name.upper()
    for line, gangs in ((f"2g; ; {said}, plain", [("odd", 1), ("plain", 2)]), (f"2g; ; plain, {said} “Bench”", None)):
        reading = read_line(line, Box(id="b", name="B", room="R"), sheets)
        assert reading.box is not None, reading.problems
        found = [(one.sheet, one.gang) for one in reading.box.devices]
        assert found == (gangs or [("plain", 1), ("odd", 2)])


def test_what_holds_the_wires_is_said_after_a_cable_and_written_back() -> None:
    for word, kind in (("conduit", "conduit"), ("in conduit", "conduit"), ("armored", "armored")):
        reading = read_line(f"1g 18in3; 12/3 {word} no ground x2", EMPTY, LIBRARY)
        assert reading.box is not None, reading.problems
        assert [(cable.kind, cable.grounds) for cable in reading.box.cables] == [(kind, 0)] * 2
        again = read_line(write_line(reading.box, LIBRARY), EMPTY, LIBRARY).box
        assert again is not None and again.cables == reading.box.cables
