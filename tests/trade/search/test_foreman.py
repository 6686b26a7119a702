"""What a foreman would do first in an overfilled or overloaded box, and what he would never do.

Common practice, one experienced person's. A box is entered as a line, and what it can't say as facts of the survey.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from fractions import Fraction
from importlib.resources import files

import pytest

from nail_count.demo.house import library
from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.edits.survey import SetFound
from nail_count.trade.model.answer import State
from nail_count.trade.model.contents import Contents, Device
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.model.run import BoxEnd, CircuitEnd, WordsEnd
from nail_count.trade.model.stock import StockBox
from nail_count.trade.model.wish import Wish
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.trade.rules.check import check_box
from nail_count.trade.search.ways import ways
from nail_count.trade.search.whole_job import mended, total

STOCK = (
    StockBox.model_validate(
        {"name": "Handy-box extension", "kind": "extension", "gangs": 1, "volume": "10.3 in3", "depth": "1.5 in",
         "material": "metal"}
    ),
    StockBox.model_validate(
        {"name": "Old work, two gangs, deep", "kind": "old work", "gangs": 2, "volume": "42 in3", "depth": "3.5 in",
         "material": "nonmetallic", "clamps": True}
    ),
)  # fmt: skip
"""Boxes he has on the truck that the demo's stock list lacks."""
NEVER_FOR_VOLUME = {"device", "module behind"}
"""A flatter device changes nothing in the count."""


@dataclass(frozen=True)
class Case:
    """A box, and what he says about it."""

    line: str
    first: set[str]
    """Kinds of work he would accept as the first that is offered."""
    never: set[str]
    facts: dict[str, str] = field(default_factory=dict)
    breaker: int = 15


CASES = {
    "one 14 AWG wire too many, finished board, the plate stays": Case(
        '1g 18in3 plastic; 14/2 "feed", 14/2 "bath light", 14/3 "other end"; smart dimmer "Hall" 4x9W led',
        {"deeper box"}, {"extension", "wider box", "cable out"} | NEVER_FOR_VOLUME,
        {"neutral": "true", "cavity": "3 1/2 in", "built": "board", "mounted": "flush", "plate_stays": "true"},
    ),
    "the same, and nobody said how the box sits": Case(
        '1g 18in3 plastic; 14/2 "feed", 14/2 "bath light", 14/3 "other end"; smart dimmer "Hall" 4x9W led',
        {"deeper box", "wider box"}, {"extension", "cable out"} | NEVER_FOR_VOLUME,
        {"neutral": "true", "cavity": "3 1/2 in"},
    ),
    "three 12/2 in a small old-work box": Case(
        '1g 16in3 tabs plastic; 12/2 "feed", 12/2 "onward", 12/2 "to the lamp"; smart switch "Back hall" 4x9W led',
        {"deeper box", "wider box"}, {"extension"} | NEVER_FOR_VOLUME,
        {"neutral": "true", "cavity": "3 1/2 in", "built": "board", "mounted": "flush"}, 20,
    ),
    "a handy box on a bare stud": Case(
        '4x2-1/8x1-1/2 no clamps; 14/2 "feed", 14/2 "to the lamp"; smart switch "Bench lights" 6x18W led',
        {"extension"}, {"deeper box", "wider box"} | NEVER_FOR_VOLUME, {"neutral": "true", "mounted": "surface"},
    ),
    "the middle of three dimmers carries too much": Case(
        '3g 54in3 plastic; 14/2 x4; dimmer "Sofa" 5x9W led, dimmer "Cans" 12x9W led, dimmer "Table" 8x9W led',
        {"order", "lamp"}, {"wider box"}, {"neutral": "true"},
    ),
    "a square box too shallow, in a paneled wall": Case(
        '2g 4x1-1/2 square no clamps; 14/2 x2, 14/3; smart dimmer "Bar" 6x9W led, switch "Stairs" 2x9W led',
        {"deeper box"}, {"extension", "order"} | NEVER_FOR_VOLUME,
        {"neutral": "true", "mounted": "flush", "plate_stays": "true", "cavity": "4 in"},
    ),
    "tile that stays whole": Case(
        '1g 18in3 plastic; 14/2 "feed", 14/3 "to the fan and light", 14/2 "onward"; countdown "Fan" 0.6A',
        {"splice moved", "module to the outlet", ""},
        {"wider box", "deeper box", "extension"} | NEVER_FOR_VOLUME,
        {"neutral": "true", "built": "tile", "mounted": "flush"},
    ),
    "a steel box grouted in block, where surface work is fine": Case(
        '3-3/4x2x2-1/2 masonry no clamps; 12/2 "feed", 12/2 "to the lamp"; smart dimmer "Cellar" 6x9W led',
        {"extension", "module to the outlet"}, {"deeper box", "wider box"} | NEVER_FOR_VOLUME,
        {"neutral": "true", "built": "masonry", "mounted": "may stand proud"}, 20,
    ),
    "one dimmer for two cables of cans, a gang beside it empty": Case(
        '2g 34in3 plastic; 14/2 feed, 14/2, 14/2; dimmer "Great room" 9x9W led 9x9W led, empty',
        {"split load"}, {"order", "bypass"}, {"neutral": "true"},
    ),
    "half an inch over beside a barrier": Case(
        '1g 15.5in3 tabs plastic; 14/2 "feed", 14/2 "to the lamp"; smart dimmer "Theater" 6x9W led',
        {"deeper box"}, NEVER_FOR_VOLUME,
        {"neutral": "true", "built": "board", "cavity": "3 1/2 in", "mounted": "flush", "plate_stays": "true"},
    ),
}  # fmt: skip
"""In `first`, "" stands for leaving the box as it is."""


def entered(case: Case) -> tuple[Job, str]:
    """A house with this box, and the key of the box."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    circuits = [{"id": "1", "breaker": case.breaker}]
    bare = Job(name="J", sheets=library(), stock=(*demo.stock, *STOCK), lamps=demo.lamps, circuits=circuits)
    documents = StartByLine(name="B", room="R", line=case.line).apply(Documents(JobAtHand(bare), {})).documents
    (box,) = documents.job.boxes
    if case.facts:
        documents = SetFound.read({"box": box.id} | case.facts).apply(documents).documents
    return wired_with(documents, documents.box(box.id)), box.id


@pytest.mark.parametrize("case", CASES.values(), ids=CASES)
def test_the_first_way_is_one_he_would_choose_and_none_is_one_he_never_would(case: Case) -> None:
    found = ways(*entered(case))
    first = found.ways[0].moves[0].kind if found.ways else ""
    assert first in case.first
    offered = {move.kind for way in found.ways for move in way.moves}
    assert not offered & case.never


def test_what_the_customer_gives_up_is_said_and_asked_for() -> None:
    """Six watts on a dimmer that asks for ten and takes no bypass: a plain switch, if nobody dims that light."""
    line = '1g 18in3 plastic; 14/2 feed, 14/2 to light; dimmer "Sconce" 1x6W led'
    job, key = entered(Case(line, set(), set(), {"neutral": "true"}))
    found = ways(job, key)
    assert [move.kind for move in found.ways[0].moves] == ["device"]
    assert found.ways[0].gives_up and not found.holds
    no_hubs = job.changed(sheets=tuple(sheet for sheet in job.sheets if not sheet.radio))
    assert [way.gives_up for way in ways(no_hubs, key).ways] == ["Sconce no longer dims"]
    (box,) = job.boxes
    wish = Wish(id="w1", what="Sconce", does=("on and off", "dim"))
    assert not ways(no_hubs.changed(boxes=(box.changed(wishes=(wish,)),)), key).ways, "a dimmer was asked for"


def test_a_neutral_is_looked_for_before_anything_is_ordered() -> None:
    """One cable at a smart switch nobody has opened: with a neutral it holds, without one another device goes in."""
    job, key = entered(Case('1g 16in3 tabs plastic; 14/2; smart switch "Den" 3x9W led', set(), set()))
    found = ways(job, key)
    assert found.check.state is State.OPEN and found.if_there is not None and found.if_there.state is not State.FAILS
    sheets = by_id(job.sheets)
    for way in found.ways:
        (box,) = way.boxes
        assert way.rests_on and all(sheets[one.sheet].neutral != "needed" for one in box.devices)
    assert found.ways


def test_a_fan_and_its_light_apart_are_no_yes_on_one_cable_of_two_wires() -> None:
    """He pulls the canopy first: a third wire may be folded back there."""
    line = "1g 20.3in3 tabs plastic; 14/2 feed, 14/{}; fan and light control 3x9W led 0.6A ch2"
    for wires, state in ((2, State.OPEN), (3, State.HOLDS)):
        job, key = entered(Case(line.format(wires), set(), set(), {"neutral": "true"}))
        check = ways(job, key).check
        assert check.state is state
        assert ("too-few-wires" in {one.code for answer in check.answers for one in answer.remarks}) == (wires == 2)


def housed(*lines: tuple[str, str, str]) -> Documents:
    """A house of several boxes on circuit 1: of each its name, its use and its line."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    circuits = [{"id": "1", "breaker": 15}]
    bare = Job(name="J", sheets=library(), stock=demo.stock, lamps=demo.lamps, circuits=circuits)
    documents = Documents(JobAtHand(bare), {})
    for name, use, line in lines:
        documents = StartByLine(name=name, room="R", use=use, line=line).apply(documents).documents
    for box in documents.job.boxes:
        documents = acted(documents, ("rename", {"box": box.id, "name": box.name, "room": "R", "circuit": "1"}))
    return documents


def acted(documents: Documents, *edits: tuple[str, dict[str, object]]) -> Documents:
    for name, fields in edits:
        documents = read_edit(name, fields).apply(documents).documents
    return documents


def test_a_module_goes_to_the_fixture_where_plate_and_plaster_stay() -> None:
    """A loop without a neutral behind a plate that stays; the fixture's box has the feed and the room."""
    documents = housed(
        ("Parlor", "control", '3x2x2-1/2 clamps; 14/2 no ground; smart switch "Parlor" 5x9W led'),
        ("Chandelier", "luminaire", "4x2-1/8 round clamps; 14/2 no ground, 14/2 no ground"),
    )
    here, there = documents.job.boxes
    load = here.devices[0].loads[0].id
    documents = acted(
        documents,
        ("set-found", {"box": here.id, "neutral": "false", "built": "lath", "plate_stays": "true",
                       "ground_way": "plate"}),
        ("set-found", {"box": there.id, "neutral": "true", "ground_way": "plate"}),
        ("say-run", {"box": there.id, "cable": "A", "to": "circuit", "circuit": "1"}),
    )  # fmt: skip
    unknown = ways(documents.job, here.id)
    assert not unknown.ways and any(one.kind == "module at the fixture" for one in unknown.ruled), "says what to enter"
    documents = acted(
        documents,
        ("change-load", {"box": here.id, "load": load, "kind": "led", "quantity": "5", "each": "9 W",
                         "outlet": there.id}),
        ("say-run", {"box": here.id, "cable": "A", "to": "box", "far_box": there.id, "far_cable": "B"}),
    )  # fmt: skip
    (first, *_) = ways(documents.job, here.id).ways
    assert [move.kind for move in first.moves] == ["module at the fixture"]
    after = {box.id: box for box in first.boxes}
    assert [one.loads for one in after[here.id].devices] == [()] and len(after[there.id].modules) == 1
    assert set(first.parts) == {after[there.id].modules[0].sheet, "marrowby-toggle"}
    old = Device(id="x1", gang=1, sheet="marrowby-toggle")
    near = documents.box(here.id)
    seen = near.changed(found=Contents(enclosure=near.enclosure, devices=(old,)))
    (first, *_) = ways(documents.with_box(seen).job, here.id).ways
    (switch,) = next(box for box in first.boxes if box.id == here.id).devices
    assert switch.stays == "x1" and set(first.parts) == {after[there.id].modules[0].sheet}, "the old switch is kept"


def test_a_ceiling_box_is_changed_from_the_attic() -> None:
    """A relay makes a 1-1/2 in octagon half an inch too small: a 2-1/8 one holds 21.5 in³ (NEC Table 314.16(A))."""
    documents = housed(("Dining", "luminaire", "4x1-1/2 octagon clamps; 14/2, 14/2"))
    (box,) = documents.job.boxes
    documents = acted(documents, ("add-module", {"box": box.id, "sheet": "tarn-metering"}))
    for mounted, first in (("flush", "clamps outside"), ("open behind", "deeper box")):
        seen = acted(
            documents, ("set-found", {"box": box.id, "neutral": "true", "built": "lath", "mounted": mounted})
        )  # fmt: skip
        (way, *_) = ways(seen.job, box.id).ways
        assert [move.kind for move in way.moves] == [first]
        offered = {move.kind for one in ways(seen.job, box.id).ways for move in one.moves}
        assert not offered & {"extension", "wider box"}
    (after,) = way.boxes
    assert after.enclosure.volume is not None and after.enclosure.volume.in3 == Fraction("21.5")


def test_an_onward_cable_starts_in_the_attic_where_tile_stays_whole() -> None:
    """Feed and onward cable pass a box in the attic: joined there, one cable less comes down (314.16: 16 of 18)."""
    documents = housed(
        ("Fan", "control", '1g 18in3 plastic; 14/2 feed, 14/3 "to the fan and light", 14/2; countdown "Fan" 0.6A'),
        ("Attic", "junction", "4x2-1/8 square no clamps"),
    )
    here, attic = documents.job.boxes
    documents = acted(
        documents,
        ("set-found", {"box": here.id, "neutral": "true", "built": "tile"}),
        ("say-run", {"box": here.id, "cable": "A", "to": "circuit", "circuit": "1", "passes": attic.id}),
    )
    assert not ways(documents.job, here.id).ways, "nothing says that the closet’s cable passes there too"
    documents = acted(
        documents, ("say-run", {"box": here.id, "cable": "C", "to": "words", "words": "closet", "passes": attic.id})
    )
    (way,) = ways(documents.job, here.id).ways
    assert [move.kind for move in way.moves] == ["splice moved"]
    for edit in way.edits:
        documents = edit.apply(documents).documents
    house = documents.job
    near, there = house.boxes
    assert near.contents.out == ("C",) and there.contents.landed == ("A", "B", "C") and len(there.splices) == 3
    at_attic = {end.cable: run.far_from(there.id, end.cable or "") for run in house.runs for end in run.box_ends
                if end.box == there.id}  # fmt: skip
    assert at_attic == {
        "A": CircuitEnd(circuit="1"),
        "B": WordsEnd(words="closet"),
        "C": BoxEnd(box=here.id, cable="A"),
    }
    assert check_box(near, by_id(house.sheets), house.terms).fill.total == 16
    lines = [line for step in install_steps(house, near.id, ()) for line in (step.title, *step.what)]
    assert "Take out cable C" in lines


def test_an_extension_may_bring_a_box_that_stands_back_to_the_face() -> None:
    """Set back by as much as the extension is deep, it stands proud of nothing (NEC 314.20)."""
    case = CASES["the same, and nobody said how the box sits"]
    job, key = entered(case)
    for setback, offered in (("1 in", True), ("1/2 in", False)):
        back = job.changed(
            boxes=tuple(
                one.changed(survey=one.survey.model_validate({**one.survey.model_dump(), "setback": setback}))
                for one in job.boxes
            )
        )
        kinds = {move.kind for way in ways(back, key).ways for move in way.moves}
        assert ("extension" in kinds) == offered


def test_a_house_in_one_run_gives_nothing_up_unasked() -> None:
    line = '1g 18in3 plastic; 14/2 feed, 14/2 to light; dimmer "Sconce" 1x6W led'
    job, key = entered(Case(line, set(), set(), {"neutral": "true"}))
    (row,) = mended(job, (key,))
    assert row.ways.ways and row.way is None and total(job, [row]).minutes == 0
    assert replace(row, agreed=True).way is row.ways.ways[0]
