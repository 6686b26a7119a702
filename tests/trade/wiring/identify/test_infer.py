"""Conductors told apart, held against hidden boxes that know nothing of how it is done."""

from __future__ import annotations

from functools import cache
from itertools import chain
from random import Random
from typing import Any

import pytest

from nail_count.trade.model.box import Box
from nail_count.trade.model.conductor import Conductor, Reading
from nail_count.trade.model.gauge import awg
from nail_count.trade.model.job import Terms
from nail_count.trade.model.splice import ConductorEnd, Splice
from nail_count.trade.model.wire import Cable
from nail_count.trade.wiring.identify.infer import infer
from nail_count.trade.wiring.identify.kinds import Guess
from nail_count.trade.wiring.identify.next_reading import candidates, next_reading, splitting
from nail_count.trade.wiring.identify.predict import allowed
from nail_count.trade.wiring.identify.suffice import suffice
from nail_count.trade.wiring.simulate.hidden import ARRANGEMENTS, Hidden, Often, make_hidden
from nail_count.trade.wiring.simulate.meter import measure
from tests.trade.editing import edit_box

TERMS = Terms()
TO = ("ground", "lead", "hot", "panel hot", "panel neutral", "lamp center", "lamp shell", "next hot", "next neutral")
FREE = "free end"


def box_of(hidden: Hidden) -> Box:
    more = tuple(hidden.circuits[1:])
    return Box(id="b", name="B", room="R", circuit="1", other_circuits=more, cables=tuple(hidden.cables))


def places(hidden: Hidden) -> int | None:
    return 1 if hidden.places == 1 else None


def any_reading(random: Random, hidden: Hidden, number: int) -> Reading:
    """A reading a person might take: any point, any state, either meter."""
    id = random.choice(list(hidden.truth))
    volts = random.random() < 0.6
    on = tuple(circuit for circuit in hidden.circuits if random.random() < 0.7) if volts else ()
    same = [other for other in hidden.truth if other[0] == id[0] and other != id]
    to = random.choice(TO[:3] if volts else [*TO[:2], *TO[3:], FREE, *same])
    said: dict[str, Any] = {"kind": "volts", "volts": 0} if volts else {"kind": "continuity", "yes": True}
    meter = random.choice(("loaded", "high impedance"))
    return Reading(
        id=f"r{number}", of=id, to=to, on=on, meter=meter, far=random.choice((1, 2)),
        lamps=random.choice(("in", "out", "out")), others=random.choice(("as found", "no change")),
        circuit=random.choice(hidden.circuits) if to.startswith("panel") else None, **said,
    )  # fmt: skip


@pytest.mark.parametrize("arrangement", ARRANGEMENTS)
def test_no_wrong_role_is_ever_called_proven(arrangement: str) -> None:
    """Ten hidden boxes of each arrangement, half of them with a broken conductor, colors swapped, sprayed over."""
    for seed in range(10):
        voltage = (120, 230)[seed % 2]
        hidden = make_hidden(arrangement, seed, voltage, Often(broken=0.5, swapped=0.5, sprayed=0.3, heavy=0.4))
        random = Random(seed)
        readings = [measure(hidden, any_reading(random, hidden, number)) for number in range(40)]
        terms = TERMS.changed(colors=hidden.colors, voltage=voltage)
        worked = infer(box_of(hidden).changed(readings=tuple(readings)), terms, places=places(hidden))
        assert worked.clashes == (), (seed, worked.clashes)
        for told in worked.conductors:
            whole = told.id != hidden.broken
            assert not whole or hidden.truth[told.id] in told.possible or not told.possible, (seed, told)
            if told.standing == "proven":
                assert told.best == hidden.truth[told.id] and whole, (seed, told)


WITHOUT_PROOF = {
    "three-way, feed here and lamp at the other place": ("neutral",),
    "four-way, between two switches": ("neutral",),
    "three-way, feed and lamp here": ("traveler", "switched"),
    "feed, and a receptacle half of it switched": ("onward",),
    "three-way, converted, the old place": ("onward", "switched", "traveler"),
    "three-way, converted, the new place": ("traveler",),
    "three-way, polarity switched at the lamp": ("switched",),
}
"""Roles that no reading tells from those of another arrangement with the same wires; they stay likely at most."""


@pytest.mark.parametrize("arrangement", ARRANGEMENTS)
def test_the_next_reading_proves_every_role_that_can_be(arrangement: str) -> None:
    """In houses without faults whose other loads don't read as a wire, in at most so many readings a conductor."""
    for seed, voltage in ((5, 120), (6, 120), (7, 230)):
        hidden = make_hidden(arrangement, seed, voltage, Often(heavy=0))
        terms = TERMS.changed(colors=hidden.colors, voltage=voltage)
        at, taken = box_of(hidden), 0
        while following := next_reading(infer(at, terms, places=places(hidden))):
            taken += 1
            reading = measure(hidden, following.reading).changed(id=f"r{taken}")
            at = at.changed(readings=(*at.readings, reading))
            assert taken <= 8 * len(hidden.truth)
        after = infer(at, terms, places=places(hidden))
        assert after.warnings == () and after.clashes == ()
        for told in after.conductors:
            role = hidden.truth[told.id]
            assert told.standing == "proven" or role in WITHOUT_PROOF.get(arrangement, ()), (seed, told)
            if told.standing == "proven":
                assert told.best == role
        if arrangement not in WITHOUT_PROOF:
            assert taken <= 6.1 * len(hidden.truth), (seed, taken)


def brute_force(left: tuple[Guess, ...], readings: list[Reading], ids: tuple[str, ...]) -> int:
    """The fewest readings that in the worst case leave one answer or what none can split: every order gone through."""
    masks = []
    for reading in readings:
        outcomes: dict[str, int] = {}
        for number, guess in enumerate(left):
            for shown in allowed(guess, ids.index(reading.of), reading, {"1": 0}):
                outcomes[shown] = outcomes.get(shown, 0) | 1 << number
        masks.append(tuple(outcomes.values()))

    @cache
    def needed(mask: int) -> int:
        if len({guess.roles for number, guess in enumerate(left) if mask >> number & 1}) < 2:
            return 0
        depths = []
        for outcomes in masks:
            parts = [part & mask for part in outcomes if part & mask]
            if mask not in parts:
                depths.append(1 + max(needed(part) for part in parts))
        return min(depths, default=0)

    return needed((1 << len(left)) - 1)


def by_the_rule(box: Box, given: int) -> int:
    """How many readings the rule takes when every reading shows the worst it can."""
    worked = infer(box, TERMS, places=given)
    following = splitting(worked)
    if following is None:
        return 0
    unit = worked.units[0]
    place = unit.ids.index(following.reading.of)
    shown = set(chain(*(allowed(guess, place, following.reading, worked.circuits) for guess in unit.left)))
    deepest = 0
    for outcome in shown:
        value = {"nominal": 120, "zero": 0, "between": 50, "double": 240}.get(outcome)
        said = {"volts": value} if value is not None else {"yes": outcome == "yes"}
        reading = following.reading.changed(**said, id=f"r{len(box.readings)}")
        after = box.changed(readings=(*box.readings, reading))
        if not infer(after, TERMS, places=given).clashes:
            deepest = max(deepest, by_the_rule(after, given))
    return 1 + deepest


SMALL_ONES: tuple[tuple[int, tuple[dict[str, Any], ...]], ...] = (
    (2, ()),
    (2, ({"of": "A1", "on": ("1",), "volts": 120},)),
    (3, ({"of": "A1", "on": ("1",), "volts": 120}, {"of": "A2", "to": "hot", "on": ("1",), "volts": 120})),
    (3, ({"of": "A1", "on": ("1",), "volts": 120}, {"of": "A3", "to": "lamp center", "yes": True})),
)


@pytest.mark.parametrize(("wires", "taken"), SMALL_ONES)
def test_the_rule_needs_no_more_readings_than_trying_every_order(wires: int, taken: tuple[dict[str, Any], ...]) -> None:
    readings = tuple(reading(f"r{number}", **said) for number, said in enumerate(taken))
    start = lone(*(Conductor(),) * wires, readings=readings)
    unit = infer(start, TERMS, places=1).units[0]
    best = brute_force(unit.left, list(candidates(unit, ("1",))), unit.ids)
    assert by_the_rule(start, 1) == best > 0


def lone(*conductors: Conductor, readings: tuple[Reading, ...] = (), more: tuple[Cable, ...] = ()) -> Box:
    cable = Cable(id="A", gauge=14, insulated=len(conductors), conductors=conductors)
    return Box(id="b", name="B", room="R", circuit="1", cables=(cable, *more), readings=readings)


def reading(id: str, of: str, **said: Any) -> Reading:
    return Reading.model_validate({"id": id, "kind": "volts" if "volts" in said else "continuity", "of": of, **said})


def test_a_lone_two_wire_cable_is_a_loop_and_its_white_is_hot() -> None:
    """200.7(C): in a switch loop the re-marked white is the hot down; white is never neutral by its color alone."""
    worked = infer(lone(Conductor(color="black"), Conductor(color="white")), TERMS, places=1)
    assert worked.cables[0][1] == "loop from the lamp"
    assert worked.told("A2").best == "line" and worked.told("A2").standing != "proven"


def test_a_switched_leg_reads_as_a_neutral_through_its_lamp() -> None:
    """Only with the lamps out does a reading from a hot tell the two apart; common practice."""
    colors = (Conductor(sprayed=True), Conductor(sprayed=True), Conductor(sprayed=True))
    hot = reading("r1", "A1", on=("1",), volts=120)
    lit = reading("r2", "A2", to="hot", on=("1",), volts=120)
    assert {"switched", "neutral"} <= set(
        infer(lone(*colors, readings=(hot, lit)), TERMS, places=1).told("A2").possible
    )
    out = reading("r2", "A2", to="hot", on=("1",), volts=120, lamps="out")
    told = infer(lone(*colors, readings=(hot, out)), TERMS, places=1).told("A2")
    assert told.possible == ("neutral",) and told.standing != "proven", "expected likely: a ground reads the same"


def test_behind_an_electronic_switch_no_reading_clears_a_wire() -> None:
    blind = tuple(reading(f"r{n}", f"A{n}", on=("1",), volts=volts, electronic=True) for n, volts in ((1, 120), (2, 0)))
    told = infer(lone(Conductor(), Conductor(), readings=blind), TERMS, places=1)
    assert all(one.standing != "proven" for one in told.conductors)


@pytest.mark.parametrize(
    ("volts", "said", "sentence"),
    [
        (340, {"on": ("1",)}, "more than a house of 120 V has"),
        (120, {"on": ()}, "every breaker ticked as off"),
        (50, {"on": ("1",), "lamps": "out"}, "no ghost"),
    ],
)
def test_impossible_readings_are_kept_flagged_and_stop_the_work(
    volts: int, said: dict[str, Any], sentence: str
) -> None:
    wild = reading("r1", "A1", volts=volts, **said)
    worked = infer(lone(Conductor(color="black"), Conductor(color="white"), readings=(wild,)), TERMS)
    assert worked.stop and any(sentence in warning for warning in worked.warnings)


def test_readings_that_clash_are_named_and_only_those() -> None:
    taken = (
        reading("r1", "A1", on=("1",), volts=120),
        reading("r2", "A2", on=("1",), volts=0),
        reading("r3", "A1", on=("1",), volts=0, meter="high impedance"),
    )
    worked = infer(lone(Conductor(), Conductor(), readings=taken), TERMS, places=1)
    assert [clash.readings for clash in worked.clashes] == [("r1", "r3")]
    assert worked.told("A1").standing == "clash" and "cannot both be so" in worked.clashes[0].sentence


def test_company_in_a_splice_weighs() -> None:
    """A white bundle no device uses is neutral; common practice."""

    seen = (Conductor(color="black"), Conductor(sprayed=True))
    three = tuple(Cable(id=letter, gauge=awg(14), insulated=2, conductors=seen) for letter in "ABC")
    alone = Box(id="b", name="B", room="R", cables=three)
    joined = alone.changed(splices=(Splice(id="s1", ends=tuple(ConductorEnd(of=f"{letter}2") for letter in "ABC")),))
    before, after = (infer(box, TERMS, places=1).told("B2") for box in (alone, joined))
    assert after.best == "neutral" and after.share > before.share and after.standing == "likely"


def test_a_match_the_way_it_leaves_and_a_tester_weigh_and_prove_nothing() -> None:
    three = tuple(Conductor(color=color) for color in ("black", "red", "white"))
    feed = Cable(id="B", gauge=14, insulated=2, enters="bottom")
    before = infer(lone(*three, more=(feed,)), TERMS)
    matched = three[0].changed(same_as="stair head B2")
    after = infer(lone(matched, *three[1:], more=(feed,)), TERMS)
    assert after.told("A1").best == "traveler" and after.told("A1").share > before.told("A1").share
    assert "it is the same wire as stair head B2" in after.told("A1").why
    live = Reading(id="r1", kind="tester", of="B1", on=("1",), yes=True)
    tested = infer(lone(*three, more=(feed,), readings=(live,)), TERMS)
    assert tested.told("B1").possible == before.told("B1").possible
    assert {c[0]: c[2] for c in tested.cables}["B"] > {c[0]: c[2] for c in before.cables}["B"]


def test_other_colors_mean_other_things_elsewhere() -> None:
    """Black is hot in one house and neutral in the next."""
    feed = lone(Conductor(color="red"), Conductor(color="black"), more=(Cable(id="B", gauge=14, insulated=2),))
    old = infer(feed, Terms(colors="UK before 2004", voltage=230), places=1)
    us = infer(lone(Conductor(color="black"), Conductor(color="white"), more=feed.cables[1:]), TERMS, places=1)
    assert old.told("A2").best == "neutral" and us.told("A1").best != "neutral"


@pytest.mark.parametrize(
    ("name", "said", "field"),
    [
        ("take-reading", {"kind": "volts", "of": "A9", "volts": "120"}, "of"),
        ("take-reading", {"kind": "volts", "of": "A1", "volts": ""}, "volts"),
        ("take-reading", {"kind": "volts", "of": "A1", "volts": "5000"}, "volts"),
        ("take-reading", {"kind": "continuity", "of": "A1", "yes": ""}, "yes"),
        ("take-reading", {"kind": "continuity", "of": "A1", "to": "A1", "yes": "true"}, "to"),
        ("take-reading", {"kind": "continuity", "of": "A1", "on": "1", "yes": "true"}, "yes"),
        ("see-conductor", {"conductor": "Z1"}, "conductor"),
        ("name-cable", {"cable": "Z", "means": "feed"}, "cable"),
        ("drop-reading", {"reading": "r7"}, "reading"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(name: str, said: dict[str, Any], field: str) -> None:
    from nail_count.trade.model.errors import Rejected

    with pytest.raises(Rejected, match=r"^[A-Z]") as wrong:
        edit_box(lone(Conductor(), Conductor()), name, said, {})
    assert wrong.value.field == field


@pytest.mark.parametrize(
    ("end", "name"),
    [("panel", "feed"), ("outlet", "loop from the lamp"), ("onward", "onward")],
)
def test_where_a_run_ends_weighs_and_proves_nothing(end: Any, name: str) -> None:
    """A cable that goes to the panel is a feed, one that goes to a lamp is not; said, not read."""
    other = Cable(id="B", gauge=14, insulated=2)
    seen = lone(Conductor(color="black"), Conductor(color="white"), more=(other,))
    before, after = (infer(seen, TERMS, places=1, ends=ends) for ends in ({}, {"A": end}))

    def likely(worked: Any, what: str) -> float:
        unit, share = worked.units[0], worked.shares[0]
        return float(sum(part for guess, part in zip(unit.left, share, strict=True) if guess.kind.name == what))

    assert likely(after, name) > likely(before, name)
    assert all(told.standing != "proven" for told in after.conductors)
    elsewhere = "to the lamp" if end == "panel" else "feed"
    assert likely(after, elsewhere) < likely(before, elsewhere)


def test_no_trace_is_asked_of_a_circuit_nobody_has_found() -> None:
    """Hot and neutral of which circuit would be lifted? The breaker is found first."""
    seen = (Conductor(color="black"), Conductor(color="white"))
    lost = lone(*seen, more=(Cable(id="B", gauge=14, insulated=2, conductors=seen),)).changed(circuit=None)
    for ends in ({"A": "panel"}, {}):
        worked = infer(lost, TERMS, places=1, ends=ends)  # type: ignore[arg-type]
        asked = [one for told in worked.conductors for one in suffice(worked, told.id)]
        assert not any(one.circuit is not None or "?" in one.on for one in asked)


def test_loads_that_read_as_a_wire_are_named_with_what_to_do() -> None:
    """A dozen cold bulbs elsewhere on the circuit; common practice."""
    traced = {"kind": "continuity", "of": "A1", "circuit": "1", "lamps": "out", "others": "no change"}
    cable = Cable(id="A", gauge=awg(14), insulated=2)
    for number, ohms in enumerate(("1.5", "40")):
        readings = [
            Reading.model_validate({"id": f"r{n}", "to": to, "ohms": value} | traced)
            for n, (to, value) in enumerate((("panel hot", "0.3"), ("panel neutral", ohms)))
        ]
        lone = Box(id="b", name="B", room="R", circuit="1", cables=(cable,), readings=tuple(readings))
        assert any("unplug" in why for why in infer(lone).told("A1").why) == (number == 0)
