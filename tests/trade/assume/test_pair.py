"""Two switches of one light, planned on usual wiring: as the trade joins them, by hand (common practice)."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable
from itertools import combinations, pairwise

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.assume.verdict import verdicts_of
from nail_count.trade.assume.wired import as_usual, look_as_usual
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.enclosure import Rename
from nail_count.trade.edits.hookup import ProposeHookup, SayUsual
from nail_count.trade.edits.live import LookAtSwitch, LookAtThreeWay, UseMeasured
from nail_count.trade.edits.runs import SayRun
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.model.run import BoxEnd
from nail_count.trade.model.splice import ConductorEnd, LeadEnd
from nail_count.trade.plan.install.step import CHECK_WIRING
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.next_step import way_through
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.trade.rules.check import check_job
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.simulate.old_three_way import OldPair, old_pair
from tests.trade.assume.test_wired import joined, role_of, then
from tests.trade.rules.wires.test_live_three_way import look_taken, touched

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))

MAIN, ITS_COMPANION = 'smart pair dimmer "Stairs" 4x9W led', "companion of the smart pair dimmer"
HOT_COMPANION = "companion"
"""That of the smart dimmer, which takes hot, neutral and the signal; the smart dimmer must be where the feed is."""


def house(top: str, bottom: str, *, gangs: int = 1) -> Documents:
    """A house with a box at the top of the stairs and one at the bottom, each entered by a line."""
    begun = Documents(JobAtHand(Job(name="J", sheets=library(), circuits=[{"id": "5", "breaker": 15}])), {})
    for name, wide, line in (("Top", gangs, top), ("Bottom", 1, bottom)):
        begun = StartByLine(name=name, room="Stairs", line=f"{wide}g {20 * wide}in3; {line}").apply(begun).documents
    return begun


def around(documents: Documents, key: str = "stairs-top") -> Job:
    return wired_with(documents, documents.box(key))


def planned(documents: Documents, key: str = "stairs-top") -> Documents:
    return then(documents, ProposeHookup(box=key))


@pytest.mark.parametrize(
    ("top", "bottom", "at_top", "at_bottom"),
    [
        (f"14/2 feed, 14/3 to bottom; {MAIN}", f"14/2 to light, 14/3 to top; {ITS_COMPANION}",
         {"d1 line": "A1", "d1 load": "B1", "d1 traveler": "B2", "d1 neutral": "A2 B3", "d1 ground": "Ag Bg"},
         {"d1 traveler": "B2", "d1 neutral": "A2 B3", "switched": "A1 B1", "d1 ground": "Ag Bg"}),
        (f"14/2, 14/3 to bottom; {MAIN}", f"14/2 to light, 14/3 to top; {ITS_COMPANION}",
         {"d1 line": "A1", "d1 load": "B1", "d1 traveler": "B2", "d1 neutral": "A2 B3", "d1 ground": "Ag Bg"},
         {"d1 traveler": "B2", "d1 neutral": "A2 B3", "switched": "A1 B1", "d1 ground": "Ag Bg"}),
        (f"14/2 feed, 14/3 to bottom; {ITS_COMPANION}", f"14/2, 14/3 to top; {MAIN}",
         {"d1 traveler": "B2", "d1 neutral": "A2 B3", "hot": "A1 B1", "d1 ground": "Ag Bg"},
         {"d1 line": "B1", "d1 load": "A1", "d1 traveler": "B2", "d1 neutral": "A2 B3", "d1 ground": "Ag Bg"}),
        ('14/2, 14/2, 14/3 to bottom; smart dimmer "Stairs" 4x9W led', f"14/3; {HOT_COMPANION}",
         {"d1 line": "A1 C1", "d1 load": "B1", "d1 traveler": "C2", "d1 neutral": "A2 B2 C3", "d1 ground": "Ag Bg Cg"},
         {"d1 line": "A1", "d1 traveler": "A2", "d1 neutral": "A3", "d1 ground": "Ag"}),
    ],
)  # fmt: skip
def test_a_pair_is_joined_as_the_trade_joins_it(
    top: str, bottom: str, at_top: dict[str, str], at_bottom: dict[str, str]
) -> None:
    """Hot to the main, its load and the signal over the cable between, whites through to the light."""
    both = planned(house(top, bottom))
    assert joined(both.box("stairs-top")) == at_top
    assert joined(both.box("stairs-bottom")) == at_bottom
    for key in ("stairs-top", "stairs-bottom"):
        hookup, rests_on = look_as_usual(around(both, key), key)
        assert hookup.state is State.HOLDS
        assert rests_on
        assert look(around(both, key), key).state is State.OPEN, "nothing of it is entered"


def test_two_plain_three_ways_are_planned_with_the_feed_at_one_and_the_light_at_the_other() -> None:
    both = planned(house("14/2, 14/3 to bottom; three-way", '14/2 to light, 14/3; three-way "Stairs" 60W inc'))
    top, bottom = (joined(both.box(key)) for key in ("stairs-top", "stairs-bottom"))
    assert (top["d1 line"], bottom["d1 line"]) == ("A1", "A1")
    assert (top["d1 traveler"], top["neutral"]) == ("B2", "A2 B3")


def test_a_main_that_must_be_where_the_feed_is_is_refused_at_the_light() -> None:
    """Its companion needs hot, neutral and the signal: with the switched hot back, four wires over a cable of three."""
    with pytest.raises(Rejected, match="line end"):
        planned(house("14/2 feed, 14/3 to bottom; companion", '14/2, 14/3 to top; smart dimmer "Stairs" 9W led'))
    with pytest.raises(Rejected, match="3 wires"):
        planned(house('14/2 feed, 14/3 to bottom; smart dimmer "Stairs" 9W led', "14/2, 14/3 to top; companion"))


def test_where_the_feed_may_come_into_either_box_it_asks_once_and_plans_on_the_answer() -> None:
    begun = house(f"14/2, 14/3 to bottom; {MAIN}", f"14/2, 14/3 to top; {ITS_COMPANION}")
    assert as_usual(around(begun), "stairs-top").rests_on == ()
    ask = way_through(around(begun), "stairs-top", ()).next
    assert ask is not None
    assert (ask.code, ask.cable) == ("ends", "A")
    feed, light = (
        SayRun.model_validate({"box": "stairs-top", "cable": "A", **dict(one.fields)}) for one in ask.choices
    )
    fed_here, fed_there = (planned(then(begun, one)) for one in (feed, light))
    assert joined(fed_here.box("stairs-top"))["d1 line"] == "A1"
    assert joined(fed_there.box("stairs-top"))["d1 load"] == "A1"
    for one in (fed_here, fed_there):
        for key in ("stairs-top", "stairs-bottom"):
            after = way_through(around(one, key), key, ()).next
            assert after is not None
            assert after.code != "ends", "never asked twice"


@pytest.mark.parametrize("feed", ["14/2 feed", "14/2", "14/2 feed, 14/2"])
@pytest.mark.parametrize("at_light", ["14/2 to light, 14/3", "14/2, 14/3", "14/3"])
@pytest.mark.parametrize("devices", [(MAIN, ITS_COMPANION), (ITS_COMPANION, MAIN), ("three-way", "three-way 60W inc")])
def test_it_equals_the_hookup_with_both_boxes_tested(feed: str, at_light: str, devices: tuple[str, str]) -> None:
    """Entered as facts, box by box, the same joints are proven, and less is assumed each time."""
    begun = house(f"{feed}, 14/3 to bottom; {devices[0]}", f"{at_light} to top; {devices[1]}")
    try:
        both = planned(begun)
    except Rejected:
        return
    tested, keys = both, ("stairs-top", "stairs-bottom")
    for key in keys:
        before = as_usual(around(tested), "stairs-top").rests_on
        if any(one.box == key and one.code != "breaker" for one in before):
            tested = then(tested, SayUsual(box=key))
        tested = then(tested, Rename(box=key, name=tested.box(key).name, room="Stairs", circuit="5"))
        after = as_usual(around(tested), "stairs-top").rests_on
        assert set(after) <= set(before) | {one for one in after if one.code == "breaker"}
        assert not any(one.box == key for one in after)
    hookup, rests_on = look_as_usual(around(tested), "stairs-top")
    assert hookup.state is State.HOLDS
    assert rests_on == ()
    again = planned(tested)
    assert [joined(again.box(key)) for key in keys] == [joined(both.box(key)) for key in keys]


PORCH, STAIRS = 'smart switch "Porch" 60W inc', "14/2 to light, 14/3 to top"
FED_WIDE = "14/2 feed, 14/2 to porch, 14/3 to bottom"


@pytest.mark.parametrize(
    ("top", "bottom", "at_top", "at_bottom"),
    [
        (f"{FED_WIDE}; {PORCH}, {MAIN}", f"{STAIRS}; {ITS_COMPANION}",
         {"d1 line": "A1", "d2 line": "A1", "d1 load": "B1", "d2 load": "C1", "d2 traveler": "C2",
          "d1 neutral": "A2 B2 C3", "d2 neutral": "A2 B2 C3", "d1 ground": "Ag Bg Cg", "d2 ground": "Ag Bg Cg"},
         {"d1 traveler": "B2", "d1 neutral": "A2 B3", "switched": "A1 B1", "d1 ground": "Ag Bg"}),
        (f"{FED_WIDE}, 14/2 to stairs; {MAIN}, {PORCH}", f"14/3 to top; {ITS_COMPANION}",
         {"d1 line": "A1", "d2 line": "A1", "d2 load": "B1", "d1 load": "D1", "neutral": "A2 B2 C3 D2"},
         {"d1 neutral": "A3", "d1 ground": "Ag"}),
    ],
)  # fmt: skip
def test_a_pair_beside_another_switch_is_joined_as_the_trade_joins_it(
    top: str, bottom: str, at_top: dict[str, str], at_bottom: dict[str, str]
) -> None:
    """By hand: the porch switch shares the feed and the whites, and its light hangs at its own cable."""
    both = planned(house(top, bottom, gangs=2))
    assert at_top.items() <= joined(both.box("stairs-top")).items()
    assert at_bottom.items() <= joined(both.box("stairs-bottom")).items()
    for key in ("stairs-top", "stairs-bottom"):
        hookup, rests_on = look_as_usual(around(both, key), key)
        assert hookup.state is State.HOLDS
        assert {one.code for one in rests_on} >= {"whites-tied", "breaker"}, "the porch switch takes the neutral too"
        (check,) = (one for one in install_steps(around(both, key), key, ()) if one.step.subjects == CHECK_WIRING)
        assert check.to in (("hookup",) if key == "stairs-top" else ("wires", "")), "a live test takes one gang"
        told = " ".join(check.what)
        assert check.to != "hookup" or 0 < told.index("turn the breaker on") < told.index("verify dead") < told.index(
            "tap"
        )


def test_a_neutral_for_the_switch_beside_plain_three_ways_is_assumed_before_it_lands() -> None:
    both = planned(house(f"{FED_WIDE}; {PORCH}, three-way", f"{STAIRS}; three-way 60W inc", gangs=2))
    assert joined(both.box("stairs-top"))["d1 neutral"] == "A2 B2 C3"
    _, rests_on = look_as_usual(around(both), "stairs-top")
    assert [one.code for one in rests_on if one.box == "stairs-top"][:1] == ["whites-tied"]


@pytest.mark.parametrize(
    "top",
    [
        f"14/2 feed, 14/2, 14/3 to bottom; {PORCH}, {MAIN}",
        f"14/2 feed, 14/2 to yard, 14/3 to bottom; {PORCH}, {MAIN}",
        f"14/2, 14/2 to porch, 14/3 to bottom; {PORCH}, {MAIN}",
        f"14/2 feed, 14/2 feed, 14/2 to porch, 14/3 to bottom; {PORCH}, {MAIN}",
        f"{FED_WIDE}; {MAIN}, {MAIN}",
    ],
)
def test_beside_another_switch_nothing_is_planned_where_a_cable_may_be_either(top: str) -> None:
    """A cable nobody traced, no light by the switch's name, two feeds, two switches with a signal (by hand)."""
    with pytest.raises(Rejected):
        planned(house(top, f"{STAIRS}; {ITS_COMPANION}", gangs=2))


def test_the_cable_between_is_asked_for_before_anything_is_planned() -> None:
    begun = house(f"14/2 feed, 14/3; {MAIN}", f"14/2 to light, 14/3; {ITS_COMPANION}")
    ask = way_through(around(begun), "stairs-top", ()).next
    assert ask is not None
    assert (ask.code, ask.cable, ask.choices) == ("ends", "B", ())
    joined_up = SayRun(box="stairs-top", cable="B", to="box", far_box="stairs-bottom", far_cable="B")
    assert as_usual(around(then(begun, joined_up)), "stairs-top").rests_on


def test_each_box_of_a_pair_holds_if_its_whites_are_tied_together() -> None:
    begun = house(f"14/2 feed, 14/3 to bottom; {MAIN}", f"14/2 to light, 14/3 to top; {ITS_COMPANION}")
    verdicts = verdicts_of(begun.job, check_job(begun.job))
    assert [(one.state, [rest.code for rest in one.rests_on]) for one in verdicts] == [
        (State.HOLDS, ["whites-tied"]), (State.HOLDS, ["whites-tied"]),
    ]  # fmt: skip


@pytest.mark.parametrize(("first", "second"), [("to bottom", ""), ("", "to top"), ("to bottom", "to the top")])
def test_a_cable_to_a_box_by_its_name_is_one_cable(first: str, second: str) -> None:
    begun = house(f"14/2 feed, 14/3 {first}; {MAIN}", f"14/2 to light, 14/3 {second}; {ITS_COMPANION}")
    assert begun.job.far_ends["stairs-top", "B"] == BoxEnd(box="stairs-bottom", cable="B")
    assert begun.job.far_ends["stairs-bottom", "B"] == BoxEnd(box="stairs-top", cable="B")
    assert len(begun.job.runs) == 3


LOOK, SEEN = LookAtSwitch(box="stairs-top", on_off=False, worked=True), ("dark", "tied", "other", "other", "tied")


def test_what_was_seen_is_assumed_and_what_cannot_be_is_not() -> None:
    """Whites seen tied together are the neutral until the test; a white on a screw of the switch is none."""
    begun = house(f"14/2 feed, 14/3 to bottom; {MAIN}", f"14/2 to light, 14/3 to top; {ITS_COMPANION}")
    usual = then(begun, LOOK, LookAtThreeWay(box="stairs-top", places=SEEN))
    (tied,) = (one for one in as_usual(around(usual), "stairs-top").rests_on if one.box == "stairs-top"
               and one.code == "whites-tied")  # fmt: skip
    assert "tied together in the back, are the neutral" in tied.text
    other = then(begun, LOOK, LookAtThreeWay(box="stairs-top", places=("dark", "capped", "other", "other", "capped")))
    assert as_usual(around(other), "stairs-top").rests_on == ()


KINDS = ("feed and light apart", "feed and light apart, and onward", "feed and light in one box", "hot sent on")
LINES = {"x": {2: "14/2, 14/3 to bottom", 3: "14/2, 14/2, 14/3 to bottom"}, "y": {1: "14/3", 2: "14/2, 14/3"}}


@given(st.sampled_from(KINDS), st.integers(0, 2**32), st.booleans(), st.booleans())
@settings(max_examples=40 * LONGER, deadline=None)
def test_what_is_joined_after_both_tests_is_what_the_hidden_pair_needs(
    kind: str, seed: int, swapped: bool, first: bool
) -> None:
    """Planned before or after the tests; every lead lands on the wire the hidden pair calls by its role."""
    old = old_pair(kind, seed)
    sides = {"stairs-top": old.x, "stairs-bottom": old.y}
    devices = (ITS_COMPANION, MAIN) if swapped else (MAIN, ITS_COMPANION)
    lines = (LINES[side][len(one.hidden.cables)] for side, one in (("x", old.x), ("y", old.y)))
    tested = house(*(f"{line}; {device}" for line, device in zip(lines, devices, strict=True)))
    for key, hidden in sides.items():
        if first:
            with contextlib.suppress(Rejected):
                tested = planned(tested, key)
        taken = look_taken(hidden, key)
        assert taken is not None
        tested = then(tested, LookAtSwitch(box=key, on_off=False, worked=True), taken)
        while (test := live_test(tested.box(key), 120)) is not None and (row := test.next) is not None:
            tested = then(tested, touched(hidden, row, key))
        tested = then(tested, UseMeasured(box=key))
    with contextlib.suppress(Rejected):
        tested = planned(tested)
    if not any(splice.ends for splice in tested.box("stairs-top").splices):
        return
    together = wired(old, {side: tested.box(key) for side, key in (("x", "stairs-top"), ("y", "stairs-bottom"))})
    main, far = ("y", "x") if swapped else ("x", "y")
    assert together(f"{main}/line", "hot 0")
    assert together(f"{main}/neutral", "neutral 0")
    assert together(f"{far}/neutral", "neutral 0")
    assert together(f"{main}/traveler", f"{far}/traveler")
    lit = [lamp for lamp in old.lamps if together(lamp.one, f"{main}/load") and together(lamp.other, "neutral 0")]
    assert lit, joined(tested.box("stairs-top"))
    for one, other in combinations(("hot 0", "neutral 0", f"{main}/load", f"{main}/traveler"), 2):
        assert not together(one, other), (one, other)


def wired(old: OldPair, boxes: dict[str, Box]) -> Callable[[str, str], bool]:
    """Whether two points are one, with the hidden cables, and the splices of both boxes as planned."""
    net = nx.Graph(old.runs)
    for side, box in boxes.items():
        for splice in box.splices:
            ends = [f"{side}/{end.of if isinstance(end, ConductorEnd) else role_of(box, end)}" for end in splice.ends
                    if isinstance(end, ConductorEnd | LeadEnd)]  # fmt: skip
            net.add_nodes_from(ends)
            net.add_edges_from(pairwise(ends))
    return lambda one, other: one in net and other in net and nx.has_path(net, one, other)
