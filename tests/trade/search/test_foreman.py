"""What a foreman would do first in an overfilled or overloaded box, and what he would never do.

Common practice, one experienced person's. A box is entered as a line, and what it can't say as facts of the survey.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from importlib.resources import files

import pytest

from nail_count.demo.house import library
from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.survey import SetFound
from nail_count.trade.model.job import Job
from nail_count.trade.model.stock import StockBox
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.trade.search.ways import ways

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
    documents = SetFound.read({"box": box.id} | case.facts).apply(documents).documents
    return wired_with(documents, documents.box(box.id)), box.id


@pytest.mark.parametrize("case", CASES.values(), ids=CASES)
def test_the_first_way_is_one_he_would_choose_and_none_is_one_he_never_would(case: Case) -> None:
    found = ways(*entered(case))
    first = found.ways[0].moves[0].kind if found.ways else ""
    assert first in case.first
    offered = {move.kind for way in found.ways for move in way.moves}
    assert not offered & case.never


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
