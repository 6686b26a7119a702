"""Parts: every scheme's hook-up counted by hand, splice by splice; sums that must come out whatever the house."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.gauge import awg
from nail_count.trade.model.job import Job
from nail_count.trade.model.measure import Length
from nail_count.trade.model.wire import Cable
from nail_count.trade.plan.parts.cables import bought_length, staples
from nail_count.trade.plan.parts.parts_list import PartLine, parts_list
from nail_count.trade.plan.parts.tools import tools
from nail_count.trade.wiring.hookup.propose import Proposal, propose
from tests.support import found_as
from tests.trade.wiring.hookup.schemes import PROVEN

COUNTED: Mapping[str, str] = {
    "feed at the switch, switch": "s4 m1 p1",
    "feed at the switch, two-wire": "s7",
    "feed at the switch, smart": "s5 m2",
    "feed at the switch, main": "s6 m2",
    "feed at the switch, UK": "s5 m2",
    "feed at the switch, old UK": "s4 m1 p1",
    "feed at the switch, India": "s5 m2",
    "loop, switch": "s3 m1 r2",
    "loop, two-wire": "s5 m1 r2",
    "loop of three wires": "s6 m2",
    "loop-in, UK": "s3 m1 r2",
    "loop-in of three cores, UK": "s7 m1",
    "loop-in, India": "s3 m1 r2",
    "dry module at the outlet": "s4 m2 r2",
    "mains module at the outlet": "s2 m3 r2",
    "dry module whose leaflet names two inputs, at the outlet": "s4 m2 r2",
    "module whose contact has a feed of its own, at the outlet": "s2 m3 r2",
    "the old pair as one dry input": "s6 m2 r4",
    "a sender behind each plain switch, a relay at the lamp": "s6 m7 p4",
    "a dry sender behind each plain switch, a relay at the lamp": "s6 m7 p2",
    "a radio pair behind a plain pair": "s7 m4 p3",
    "a smart switch that works another over the network": "s10 m3",
    "bath, a GFCI and a switch in two gangs": "s3 m3 p5",
    "the old pair as one input of mains": "s4 m3 r4",
    "the old pair and its four-way as one dry input": "s7 m3 p1 r6",
    "fan and light, two switches": "s3 m4 p4",
    "fan and light, switch and dimmer": "s4 m4 p2",
    "fan and light, one control": "s5 m4",
    "three-way, apart": "s5 m2 p2",
    "three-way dimmer, apart": "s8 m2 p1",
    "main at the line end": "s7 m4 p2",
    "main at the load end": "s7 m4 p2",
    "main at the line end, companion": "s8 m4",
    "main at the load end, companion": "s8 m4",
    "main at the load end, companion that wants hot": "s7 m5",
    "main, far end spliced through": "s11 m2",
    "main that belongs at the line end": "s8 m3 p2",
    "main that belongs at the load end": "s8 m3 p2",
    "line-end main at a dead end": "s7 m3",
    "three-way, dead end": "s5 m1 p1 r2",
    "main and dead end": "s7 m3",
    "main and companion at the dead end": "s11 m2",
    "main, dead end capped": "s12 m2",
    "two-way conversion, UK": "s4 m3 p3",
    "two-way strappers, UK": "s5 m2 p2",
    "three-way through the outlet": "s5 m1 r4",
    "four-way": "s6 m3 p3",
    "four-way out, main": "s11 m4 p2",
    "four-way out, companions": "s9 m7",
    "module behind modular switches, India": "s2 m2 l1 p4",
    "heater of two hots, one of them switched": "s4 m1 p1 r3",
    "heater of two hots, both switched": "s3 m1 p1 r3",
    "heater of two hots, electronic, a cable of three wires": "s7 m1 r2",
    "half-hot receptacle": "s1 m2 p2",
    "whole receptacle switched": "s1 m1 p1",
    "goes onward": "s4 m3",
}
"""Small, medium, large connectors, pigtails, re-marked whites: counted by hand from each splice, by common practice:
up to two 14 AWG go into a small one, four into a medium, five into a large; one wire goes under a screw by itself, and
more take a pigtail; a white that is no neutral is re-marked at both ends; what is capped takes a small one."""
LETTERS = {"small": "s", "medium": "m", "large": "l"}


def hooked_up(job: Job) -> Job:
    made = propose(job, "a")
    assert isinstance(made, Proposal)
    return job.changed(boxes=tuple(box.changed(splices=made.splices.get(box.id, ())) for box in job.boxes))


def joints(lines: tuple[PartLine, ...]) -> str:
    said = {LETTERS[line.part.of]: line.needed for line in lines if line.part.kind == "connector"}
    said |= {"p": sum(line.needed for line in lines if line.part.kind == "pigtail")}
    said |= {"r": sum(line.needed for line in lines if line.part.kind == "sleeve")}
    return " ".join(f"{letter}{said[letter]}" for letter in "smlpr" if said.get(letter))


@pytest.mark.parametrize("name", PROVEN)
def test_the_joints_of_every_scheme(name: str) -> None:
    assert joints(parts_list(hooked_up(PROVEN[name]))) == COUNTED[name]


def test_what_is_there_as_found_takes_nothing_and_one_wire_more_takes_one_connector() -> None:
    """By hand: all as found; then one onward cable more: hot, neutral and ground of it into splices that were there."""
    done = hooked_up(PROVEN["goes onward"])
    same = done.changed(boxes=tuple(found_as(box, box.planned) for box in done.boxes))
    assert parts_list(same) == () and tools(same, ()) != ()
    before = hooked_up(PROVEN["feed at the switch, smart"]).boxes
    grown = done.changed(boxes=tuple(found_as(box, was.planned) for box, was in zip(done.boxes, before, strict=True)))
    assert joints(parts_list(grown)) == "m3", "ground, neutral and hot are made anew; the lamp's box stays as it was"


def test_cable_and_staples_by_hand() -> None:
    """25 ft + 15 % = 28.75 ft, and 18 in at each end = 31.75: 32 ft; staples 8 in from each end, every 54 in."""
    cable = Cable(id="A", gauge=awg(14), insulated=2)
    assert bought_length(cable, Length.parse("25 ft"))[0] == 32
    assert bought_length(cable, Length.parse("300 in"))[0] == 32, "the same length in inches"
    metric = Cable.model_validate({"id": "A", "gauge": "2.5 mm2", "insulated": 2})
    assert bought_length(metric, Length.parse("1000 cm"))[0] == 13, "11.5 m and 0.91 m"
    assert [staples(Length.parse(f"{inches} in")) for inches in (16, 17, 70, 71, 124, 125)] == [1, 2, 2, 3, 3, 4]


HOUSE: dict[str, Any] = {
    "name": "House",
    "circuits": [{"id": "1"}],
    "sheets": [
        {"id": "toggle", "name": "Toggle", "kind": "switch", "trim": "toggle"},
        {"id": "rocker", "name": "Rocker", "kind": "dimmer", "trim": "rocker", "radio": "Hub radio"},
        {"id": "blank", "name": "Blank", "kind": "blank", "trim": "blank"},
        {"id": "wide", "name": "Wide", "kind": "dimmer", "trim": "rocker, two gangs", "gangs": 2},
        {"id": "remote", "name": "Remote", "kind": "remote", "battery": True},
    ],
}


def house(**boxes: tuple[str, str]) -> Job:
    """Boxes by their names, each the sheets found and planned, gang by gang; ? found: not said; - an empty gang."""
    made = []
    for key, (found, planned) in boxes.items():
        one: dict[str, Any] = {"id": key, "name": key, "room": "R", "circuit": "1", "planned": contents(planned)}
        made.append(one if found == "?" else kept(one | {"found": contents(found)}))
    return Job.model_validate({**HOUSE, "boxes": made})


def kept(box: dict[str, Any]) -> dict[str, Any]:
    """A box whose devices stay wherever one of the same sheet was found, moved or not."""
    there = list(box["found"]["devices"])
    for device in box["planned"]["devices"]:
        if old := next((one for one in there if one["sheet"] == device["sheet"]), None):
            there.remove(old)
            device["stays"] = old["id"]
    return box


def contents(sheets: str) -> dict[str, Any]:
    words = sheets.split()
    devices = [{"id": f"d{n}", "gang": n, "sheet": one} for n, one in enumerate(words, 1) if one != "-"]
    return {"enclosure": {"gangs": max(len(words), 1), "volume": "60 in3"}, "devices": devices}


def listed(job: Job) -> dict[str, int]:
    return {f"{line.part.kind} {line.part.of}": line.needed for line in parts_list(job) if line.needed}


def test_devices_plates_and_hubs_by_hand() -> None:
    assert listed(house(a=("toggle toggle", "toggle rocker"))) == {
        "device rocker": 1, "plate 2: toggle, rocker": 1, "hub Hub radio": 1,
    }  # fmt: skip
    assert listed(house(a=("toggle rocker", "rocker toggle"))) == {"plate 2: rocker, toggle": 1}, "moved, not bought"
    assert listed(house(a=("toggle -", "toggle blank"))) == {"blank blank": 1}, "the plate has a blank there already"
    assert listed(house(a=("- - -", "wide - -"))) == {"device wide": 1, "plate 3: rocker, rocker, blank": 1}
    assert listed(house(a=("toggle", "remote"))) == {
        "device remote": 1, "battery remote": 1, "plate 1: opening not on the sheet": 1,
    }  # fmt: skip
    plain = house(a=("toggle", "toggle"))
    other = plain.changed(boxes=tuple(found_as(box, box.contents) for box in plain.boxes))
    assert other.boxes[0].planned is not None
    fresh = [one.changed(stays=None) for one in other.boxes[0].planned.devices]
    new = changed(other, "a", planned=other.boxes[0].planned.changed(devices=fresh))
    (line,) = (one for one in parts_list(new) if one.part.kind == "device")
    assert (line.needed, line.to_buy) == (1, 1), "the same model, and another one: not the old one again"
    assert listed(house(a=("?", "toggle"))) == {"device toggle": 1, "plate 1: toggle": 1}, "not said: all is new"
    swapped = house(a=("toggle", "rocker"), b=("rocker", "toggle"))
    lines = {line.part.of: line for line in parts_list(swapped)}
    assert (lines["toggle"].from_job, lines["toggle"].to_buy, lines["rocker"].to_buy) == (1, 0, 0)
    stays = changed(house(a=("toggle", "rocker")), "a", survey={"plate_stays": True})
    assert "plate" not in {line.part.kind for line in parts_list(stays)}
    assert listed(house(a=("?", "-"))) == {}, "nothing is planned in it yet"
    crowd = {line.part.kind: line for line in parts_list(house(a=("?", "toggle rocker - toggle")))}
    assert "perhaps none is made so" in crowd["plate"].remarks[0], "three kinds of openings"


sheets = st.lists(st.sampled_from(("toggle", "rocker", "wide", "blank", "-")), min_size=1, max_size=3).map(
    lambda words: " ".join("rocker" if word == "wide" and n == len(words) - 1 else word for n, word in enumerate(words))
)
boxes = st.dictionaries(st.sampled_from("abcde"), st.tuples(sheets, sheets), max_size=4)
shelves = st.dictionaries(
    st.sampled_from(("toggle", "rocker", "wide")), st.tuples(st.integers(0, 3), st.integers(1, 4)), max_size=3
)
bought = st.dictionaries(st.sampled_from(("toggle", "rocker", "wide")), st.integers(1, 4), max_size=3)


def with_shop(job: Job, shelf: dict[str, tuple[int, int]], ticked: dict[str, int]) -> Job:
    kept = [
        {"kind": "device", "of": of, "on_hand": there, "pack": pack}
        for of, (there, pack) in shelf.items()
        if there or pack > 1
    ]
    ticks = [
        {
            "id": f"t{n}",
            "step": {"kind": "bought", "subjects": ["device", of], "count": count},
            "at": "2026-01-01T08:00",
        }
        for n, (of, count) in enumerate(ticked.items())
    ]
    return Job.model_validate({**job.model_dump(exclude_none=True), "shelf": kept, "ticks": ticks})


@given(boxes, shelves, bought)
def test_the_list_bought_and_the_plan_done_leave_what_it_says(
    houses: dict[str, tuple[str, str]], shelf: dict[str, tuple[int, int]], ticked: dict[str, int]
) -> None:
    """Played through, box by box: what comes out goes in, then the shelf's, then what was bought; never short."""
    job = with_shop(house(**houses), shelf, ticked)
    lines = {line.part.of: line for line in parts_list(job) if line.part.kind == "device"}
    need, out = Counter[str](), Counter[str]()
    for found, planned in houses.values():
        need += Counter(planned.split()) - Counter(found.split())
        out += Counter(found.split()) - Counter(planned.split())
    for of in ("toggle", "rocker", "wide"):
        line = lines.get(of)
        new = ticked.get(of, 0) + (line.to_buy if line else 0)
        there, pack = shelf.get(of, (0, 1))
        from_out = min(need[of], out[of])
        from_shelf = min(need[of] - from_out, there)
        from_new = need[of] - from_out - from_shelf
        assert from_new <= new, "something is short"
        left = (new - from_new) + (out[of] - from_out)
        assert (line.left_over if line else 0) == left
        assert line is None or (line.to_buy % pack == 0 and line.to_buy - pack < max(from_new - ticked.get(of, 0), 0))


@given(boxes, st.tuples(sheets, sheets))
def test_a_box_more_never_lowers_a_line_but_by_what_comes_out_of_it(
    houses: dict[str, tuple[str, str]], more: tuple[str, str]
) -> None:
    before = {line.part: line.to_buy for line in parts_list(house(**houses))}
    after = {line.part: line for line in parts_list(house(**houses, z=more))}
    for part, count in before.items():
        comes = sum(one.count for one in after[part].freed if one.box == "z")
        assert after[part].to_buy >= count - comes


def test_what_it_costs_and_what_lies_in_a_package() -> None:
    job = house(a=("toggle", "rocker"), b=("toggle", "rocker"))
    told = [sheet.changed(package=({"what": "spacer"},)) if sheet.id == "rocker" else sheet for sheet in job.sheets]
    job = job.changed(sheets=tuple(told), prices=({"what": "rocker", "each": "21.50"},))
    line = next(line for line in parts_list(job) if line.part.of == "rocker")
    assert line.money == Fraction(43) and [one.what for one in line.packages] == ["spacer"]


def changed(of: Job, key: str, **fields: Any) -> Job:
    """A job with a box changed."""
    return of.changed(boxes=tuple(one.changed(**fields) if one.id == key else one for one in of.boxes))


def test_a_new_cable_is_bought_once_with_its_staples_and_what_is_not_said_stays_open() -> None:
    """25 ft of new 14/2 between two boxes, both saying so: 32 ft once, stapled seven times, two holes near a face."""
    cable = {"id": "A", "gauge": "14 AWG", "insulated": 2}
    job = house(a=("toggle", "toggle"), b=("toggle", "toggle"))
    for key in ("a", "b"):
        box = next(one for one in job.boxes if one.id == key)
        assert box.planned is not None
        job = changed(job, key, cables=(cable,), planned=box.planned.changed(new=("A",)))
    assert [need.remark for line in parts_list(job) for need in line.needs] == [
        "where cable A goes, and how far, is not known"
    ] * 2
    run: dict[str, Any] = {"id": "r", "one": {"kind": "box", "box": "a", "cable": "A"}}
    run |= {"other": {"kind": "box", "box": "b", "cable": "A"}, "length": "25 ft", "near_holes": 2}
    asked = {line.part.kind: line for line in parts_list(job.changed(runs=(run,)))}
    assert asked["staple"].unknown and asked["cable"].needed == 32
    laid = {line.part.kind: line.needed for line in parts_list(job.changed(runs=({**run, "fished": False},)))}
    assert laid == {"cable": 32, "staple": 7, "nail plate": 2}, "284 in between the end staples: six steps of 54"
    fished = {line.part.kind for line in parts_list(job.changed(runs=({**run, "fished": True},)))}
    assert fished == {"cable", "nail plate"}
    assert "Fish tape" in " ".join(tool.name for tool in tools(job, parts_list(job)))


def test_another_box_a_ring_a_fan_box_lamps_and_a_bypass_by_hand() -> None:
    lamps = {"id": "l1", "kind": "led", "each": "9 W", "quantity": 4}
    was = {"enclosure": {"gangs": 1, "volume": "18 in3"}, "devices": [{"id": "d1", "gang": 1, "sheet": "toggle"}]}
    was["devices"][0]["loads"] = [{**lamps, "each": "60 W", "kind": "incandescent"}]  # type: ignore[index]
    now = {
        "enclosure": {"gangs": 1, "volume": "22.5 in3", "rings": [{"kind": "plaster ring"}]},
        "devices": [{"id": "d1", "gang": 1, "sheet": "toggle", "stays": "d1", "loads": [{**lamps, "bypass": True}]}],
    }
    job = changed(house(a=("toggle", "toggle")), "a", found=was, planned=now)
    assert listed(job) == {
        "box New work, one gang, deep": 1, "ring plaster ring": 1, "bypass toggle": 1, "lamp LED lamp, 9 W": 4,
    }  # fmt: skip
    more = {**now["devices"][0], "loads": [{**lamps, "quantity": 6}]}  # type: ignore[index]
    two = changed(house(a=("toggle", "toggle")), "a", found={**was, "devices": [{**more, "loads": [lamps]}]})
    two = changed(two, "a", planned={**now, "enclosure": was["enclosure"], "devices": [more]})
    assert listed(two) == {"lamp LED lamp, 9 W": 2}, "two more of the same"
    up = {"id": "up", "name": "Up", "room": "R", "use": "fan", "found": {}}
    fan = Job.model_validate({**HOUSE, "boxes": [{**up, "planned": {"enclosure": {"fan": {"listed": True}}}}]})
    assert listed(fan) == {"fan box with brace": 1}
    new = changed(house(a=("?", "toggle")), "a", survey={"new_place": True})
    assert listed(new)["box Box, 1 gang, nonmetallic, 60 in3"] == 1, "no box of the stock list is so"


def test_what_is_given_back_is_to_be_bought_again() -> None:
    job = with_shop(house(a=("toggle", "rocker")), {}, {"rocker": 3})
    back = {"id": "t9", "step": {"kind": "returned", "subjects": ["device", "rocker"], "count": 2}}
    line = next(one for one in parts_list(job) if one.part.of == "rocker")
    assert (line.bought, line.to_buy, line.left_over) == (3, 0, 2)
    given = job.changed(ticks=(*job.ticks, {**back, "at": "2026-01-02T08:00"}))
    line = next(one for one in parts_list(given) if one.part.of == "rocker")
    assert (line.bought, line.to_buy, line.left_over) == (1, 0, 0)
    undone = given.changed(ticks=(*given.ticks, {**back, "id": "t10", "at": "2026-01-02T09:00", "takes_back": "t9"}))
    assert next(one for one in parts_list(undone) if one.part.of == "rocker").left_over == 2


def test_a_module_at_the_fixture_takes_a_closed_box_of_its_own() -> None:
    """Shut, dry, fixed down; common practice. One behind a switch lies in the box that is there."""
    for scheme, count in (("dry module at the outlet", 1), ("module behind modular switches, India", 0)):
        house = hooked_up(PROVEN[scheme])
        closed = [line for line in parts_list(house) if line.part.of == "module at the fixture"]
        assert [line.needed for line in closed] == [1] * count
        fixture = house.boxes[-1]
        there = house.changed(
            boxes=(*house.boxes[:-1], fixture.changed(found=fixture.planned, planned=fixture.contents.as_plan()))
        )
        assert not [line for line in parts_list(there) if line.part.of == "module at the fixture"]
