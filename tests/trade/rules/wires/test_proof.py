"""What readings prove: nothing wrong in whatever house, and each condition of each proof is needed.

The houses know nothing of proofs: wires, switches and loads, solved by Kirchhoff's law. What suffices for each role is
common practice: a wire is traced with power off and under 2 Ω, a ground is tried on a proven hot before it is used.
"""

from __future__ import annotations

import os
from collections.abc import Iterator
from random import Random
from typing import Any

import pytest

from nail_count.trade.model.box import Box
from nail_count.trade.model.conductor import Conductor, Reading
from nail_count.trade.model.wire import Cable
from nail_count.trade.rules.wires.neutral import neutral_in
from nail_count.trade.rules.wires.proof import main_parts_neutral, proven
from nail_count.trade.rules.wires.shown import shown
from nail_count.trade.wiring.simulate.hidden import Hidden
from nail_count.trade.wiring.simulate.meter import measure
from nail_count.trade.wiring.simulate.odd import make_odd


def everything(hidden: Hidden) -> Iterator[dict[str, Any]]:
    """Every reading that any proof asks for, of every wire."""
    ways = ({"others": "no change"}, {"far": 1}, {"far": 2})
    for id in (id for cable in hidden.cables for id in cable.conductor_ids):
        ohms = {"kind": "continuity", "of": id, "yes": True, "lamps": "out"}
        for circuit in hidden.circuits:
            for way in ways:
                yield ohms | {"to": "panel hot", "circuit": circuit} | way
                yield ohms | {"to": "panel neutral", "circuit": circuit} | way
            yield ohms | {"to": "ground", "circuit": circuit}
        for way in ways:
            yield ohms | {"to": "lamp center"} | way
        for to in ("lamp shell", "next hot", "next neutral", "free end"):
            yield ohms | {"to": to, "others": "no change"}
        for to in ("ground", "lead"):
            yield ohms | {"to": to}
            yield {
                "kind": "volts",
                "of": id,
                "to": to,
                "on": ["every"],
                "lamps": "in",
                "others": "no change",
                "volts": 0,
            }
        from_hot = {"kind": "volts", "of": id, "to": "hot", "on": ["every"], "lamps": "out", "volts": 0}
        yield from_hot | {"others": "no change"}


def wrong_in(seed: int, leave_out: float, voltage: int) -> tuple[list[str], int]:
    """What is proven wrongly in a house wired at random, some readings never taken; and how much is proven."""
    hidden, random = make_odd(seed, voltage), Random(seed)
    asked = [one for one in everything(hidden) if random.random() >= leave_out]
    random.shuffle(asked)
    readings = [measure(hidden, Reading.model_validate({"id": f"r{n}"} | one)) for n, one in enumerate(asked)]
    seen = box(cables=tuple(hidden.cables)).model_copy(update={"readings": tuple(readings)})
    told = proven(seen, hidden.voltage)
    wrong = [
        f"house {seed}: {id} is {hidden.truth.get(id)}, proven {proof}"
        for id, proof in told.conductors.items()
        if hidden.truth.get(id) != proof.role or (proof.at == "panel neutral" and id not in hidden.brought)
    ]
    return wrong, len(told.conductors)


@pytest.mark.parametrize("voltage", [120, 230])
def test_nothing_wrong_is_proven_in_houses_wired_as_no_list_has_them(voltage: int) -> None:
    """Lost neutrals, neutrals switched or joined to ground beyond the panel, boxes without a ground, cold filaments and
    windings, so many of them that they read as a wire, loads nobody thinks of, switches nobody knows of; at 230 V mains
    that open the neutral too, and rods."""
    houses = 120 * int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
    found = [wrong_in(seed, 0.0 if seed % 2 else 0.2, voltage) for seed in range(houses)]
    assert [one for wrong, _ in found for one in wrong] == []
    proofs = sum(count for _, count in found)
    print(f"{houses} houses, {proofs} proofs")
    assert proofs > houses // 6, "expected proofs to be found at all"


def box(*readings: Reading, cables: tuple[Cable, ...] = (), **more: Any) -> Box:
    cables = cables or (Cable(id="A", gauge=14, insulated=3), Cable(id="B", gauge=14, insulated=2))
    return Box(id="b", name="B", room="R", circuit="1", cables=cables, readings=readings, **more)


def ohms(of: str, to: str, ohms: str = "0.4", **more: Any) -> dict[str, Any]:
    return {"kind": "continuity", "of": of, "to": to, "ohms": ohms, "lamps": "out", **more}


def volts(of: str, to: str, volts: int, **more: Any) -> dict[str, Any]:
    return {"kind": "volts", "of": of, "to": to, "volts": volts, "on": ["every"], "lamps": "in", **more}


HELD = {"others": "no change"}
LINE = [
    ohms("A1", "panel hot", circuit="1", **HELD),
    ohms("A1", "panel neutral", "40", circuit="1"),
    ohms("A2", "panel hot", "40", circuit="1"),
    ohms("A3", "panel hot", "90000", circuit="1"),
]
GROUND = [*LINE, volts("A1", "ground", 120)]


def quiet(to: str) -> list[dict[str, Any]]:
    return [*GROUND, ohms("B1", to, **HELD), ohms("B1", "ground", "90000"), volts("B1", "ground", 0, **HELD)]


SUFFICIENT: dict[tuple[str, str], list[dict[str, Any]]] = {
    ("A1", "line"): LINE,
    ("A2", "neutral"): [
        *GROUND,
        ohms("A2", "panel neutral", circuit="1", **HELD),
        ohms("A2", "ground", "90000", circuit="1"),
        volts("A2", "ground", 0, **HELD),
    ],
    ("B1", "switched"): quiet("lamp center"),
    ("B1", "onward"): quiet("next hot"),
    ("B1", "unused"): quiet("free end"),
    ("B1", "neutral"): [*quiet("lamp shell"), ohms("B2", "lamp center", **HELD)],
    ("A2", "traveler"): [
        ohms("A2", "panel hot", circuit="1", far=1),
        ohms("A2", "panel hot", "90000", circuit="1", far=2),
        ohms("A3", "panel hot", "90000", circuit="1", far=1),
        ohms("A3", "panel hot", circuit="1", far=2),
        ohms("A2", "panel neutral", "40", circuit="1", far=1),
        ohms("A3", "panel neutral", "40", circuit="1", far=2),
    ],
}
"""For each role, the readings that suffice; not one of them can be left out."""
SPOILED: tuple[dict[str, Any], ...] = (
    {"electronic": True},
    {"ohms": "2"},
    {"ohms": None, "yes": True},
    {"lamps": "cannot come out"},
    {"lamps": "out"},
    {"lamps": "not said"},
    {"others": "change"},
    {"volts": 12},
    {"meter": "high impedance"},
    {"on": ["1"]},
    {"on": []},
)
"""What makes a reading say less than it must."""


def role_of(id: str, said: list[dict[str, Any]]) -> str | None:
    readings = [Reading.model_validate({"id": f"r{number}"} | one) for number, one in enumerate(said)]
    proof = proven(box(*readings), 120).conductors.get(id)
    return None if proof is None else proof.role


@pytest.mark.parametrize(("id", "role"), SUFFICIENT)
def test_the_readings_that_suffice_do_and_none_can_be_left_out(id: str, role: str) -> None:
    said = SUFFICIENT[id, role]
    assert role_of(id, said) == role
    for number in range(len(said)):
        assert role_of(id, [*said[:number], *said[number + 1 :]]) is None, said[number]


@pytest.mark.parametrize(
    ("kind", "said", "kind_of_it"),
    [
        ("volts", {"volts": "0"}, "zero"),
        ("volts", {"volts": "6"}, "zero"),
        ("volts", {"volts": "6.1"}, "between"),
        ("volts", {"volts": "101.9"}, "between"),
        ("volts", {"volts": "102"}, "nominal"),
        ("volts", {"volts": "138"}, "nominal"),
        ("volts", {"volts": "138.1"}, None),
        ("volts", {"volts": "191.9"}, None),
        ("volts", {"volts": "192"}, "double"),
        ("volts", {"volts": "276"}, "double"),
        ("volts", {"volts": "276.1"}, None),
        ("continuity", {"ohms": "1.9"}, "joined"),
        ("continuity", {"ohms": "2"}, "through"),
        ("continuity", {"ohms": "19999"}, "through"),
        ("continuity", {"ohms": "20000"}, "apart"),
        ("continuity", {"yes": True}, "beeps"),
        ("continuity", {"yes": False}, "silent"),
        ("tester", {"yes": True}, "lit"),
        ("tester", {"yes": False}, "dark"),
    ],
)
def test_what_a_reading_shows_in_kind(kind: str, said: dict[str, Any], kind_of_it: str | None) -> None:
    """Full voltage within 15 %, nothing to 5 %, two legs from 1.6 to 2.3 times; one wire below 2 Ω; common practice."""
    assert shown(Reading.model_validate({"id": "r", "kind": kind, "of": "A1", **said}), 120) == kind_of_it


AT = {
    ("A1", "line"): "panel hot", ("A2", "neutral"): "panel neutral", ("B1", "switched"): "lamp center",
    ("B1", "onward"): "next hot", ("B1", "unused"): "free end", ("B1", "neutral"): "lamp shell",
    ("A2", "traveler"): "panel hot",
}  # fmt: skip


@pytest.mark.parametrize(("id", "role"), SUFFICIENT)
def test_a_proof_names_its_point_and_the_readings_it_stands_on(id: str, role: str) -> None:
    readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(SUFFICIENT[id, role])]
    told = proven(box(*readings), 120)
    proof = told.conductors[id]
    mine = {
        one.id
        for one in readings
        if role in ("line", "traveler") or (one.of == id and one not in readings[: len(LINE)])
    }
    assert proof.at == AT[id, role] and set(proof.by) == mine
    assert told.trusted == (frozenset(("ground",)) if role not in ("line", "traveler") else frozenset())
    assert not told.contradicted


def test_a_hot_throw_of_the_far_switch_tries_a_ground_in_its_own_position_only() -> None:
    throws = SUFFICIENT["A2", "traveler"]
    for far, trusted in ((1, True), (2, False)):
        said = [*throws, volts("A2", "ground", 120, far=far)]
        readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(said)]
        told = proven(box(*readings), 120)
        assert ("ground" in told.trusted) == trusted
        assert set(told.hot_at) == {("A2", 1), ("A3", 2)}
    line = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(LINE)]
    assert set(proven(box(*line), 120).hot_at) == {("A1", 1), ("A1", 2)}


@pytest.mark.parametrize(("id", "role"), SUFFICIENT)
def test_a_reading_that_says_less_proves_nothing(id: str, role: str) -> None:
    said = SUFFICIENT[id, role]
    for number, one in enumerate(said):
        for spoil in SPOILED:
            (changed,) = spoil.keys() - {"yes"}
            fits = changed in one if changed in ("ohms", "volts", "on") else changed != "meter" or "volts" in one
            away = str(one.get("ohms")) in ("90000", "40")  # that two points are apart is shown by anything but a wire
            trusting = one is GROUND[-1] and changed in ("lamps", "others")  # of the reading that tries the ground
            breaker = one is GROUND[-1] and spoil == {"on": ["1"]}
            same = spoil == {"lamps": "out" if one["kind"] == "continuity" else "cannot come out"}
            if not fits or same or trusting or breaker or (away and changed in ("ohms", "lamps", "others")):
                continue
            assert role_of(id, [*said[:number], one | spoil, *said[number + 1 :]]) is None, (one, spoil)


def test_two_things_proven_at_once_are_a_contradiction() -> None:
    """One wire with a lamp and with an end that lies free: one of the traces was not what it was said to be."""
    both = [*quiet("lamp center"), ohms("B1", "free end", **HELD)]
    readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(both)]
    assert proven(box(*readings), 120).contradicted == {"B1"} and role_of("B1", both) is None


def test_a_live_wire_is_no_neutral_whatever_it_is_traced_to() -> None:
    assert role_of("A1", [*GROUND, ohms("A1", "panel neutral", circuit="2", **HELD)]) == "line"
    hot = [*SUFFICIENT["A2", "neutral"], volts("A2", "ground", 120)]
    assert role_of("A2", hot) is None


BULBS = "1.5"
"""A dozen cold bulbs elsewhere on the circuit, or a pump, read so [ohm]; common practice."""


def test_other_loads_that_read_as_a_wire_prove_nothing() -> None:
    """The colors exchanged: A1 is the neutral, and reads to the hot through the other loads; A2 is hot."""
    through = [
        ohms("A1", "panel hot", BULBS, circuit="1", **HELD),
        ohms("A1", "panel neutral", "0.3", circuit="1", **HELD),
        ohms("A2", "panel hot", "0.3", circuit="1", **HELD),
        ohms("A2", "panel neutral", BULBS, circuit="1", **HELD),
        ohms("A3", "panel hot", "90000", circuit="1"),
    ]
    for of in ("A1", "A2"):
        for circuit in ("1", None):
            through.append(ohms(of, "ground", "90000", **({"circuit": circuit} if circuit else {})))
    assert role_of("A1", through) is None and role_of("A2", through) is None
    broken = [one | {"ohms": "90000"} if one["to"] == "panel neutral" else one for one in through]
    assert role_of("A1", broken) is None, "the neutral broken on its way"


def test_another_conductor_of_the_box_that_reaches_the_neutral_shows_it_whole() -> None:
    """Where nothing is plugged in, the hot reads apart from the lifted neutral; so does a neutral that is broken."""
    none_in = [LINE[0], LINE[1] | {"ohms": "90000"}, *LINE[2:]]
    assert role_of("A1", none_in) is None
    assert role_of("A1", [*none_in, ohms("B2", "panel neutral", circuit="1", **HELD)]) == "line"
    assert role_of("A1", [*none_in, ohms("B2", "panel neutral", circuit="2", **HELD)]) is None


def test_where_the_main_may_open_the_neutral_a_dead_wire_shows_nothing_from_a_hot() -> None:
    """UK and India: with the power off a neutral has no wire to ground, nor has one whose ground is a rod."""
    in_the_us = quiet("lamp center")
    readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(at_230(in_the_us))]
    assert "B1" not in proven(box(*readings), 230).conductors
    for shows, role in ((0, "switched"), (230, None)):
        from_hot = {"kind": "volts", "of": "B1", "to": "hot", "volts": shows, "on": ["every"], "lamps": "out", **HELD}
        for change in ({}, {"lamps": "in"}, {"on": ["1"]}, {"meter": "high impedance"}, {"others": "as found"}):
            one = Reading.model_validate({"id": "hot"} | from_hot | change)
            proof = proven(box(*readings, one), 230).conductors.get("B1")
            assert (proof.role if proof else None) == (None if change else role), (shows, change)


def test_from_200_volts_on_the_main_may_open_the_neutral() -> None:
    assert [main_parts_neutral(volts) for volts in (120, 199, 200, 230)] == [False, False, True, True]


def test_what_a_reading_from_a_hot_says_of_a_return() -> None:
    """One that shows it all takes the proof away; on a meter that loads nothing, or with lamps in, it says nothing."""
    said = at_230(quiet("lamp center"))
    zero = {"kind": "volts", "of": "B1", "to": "hot", "volts": 0, "on": ["every"], "lamps": "out", **HELD}
    full = zero | {"volts": 230}
    for more, role in (
        ([zero], "switched"),
        ([zero, full], None),
        ([zero, full | {"meter": "high impedance"}], "switched"),
        ([zero, full | {"lamps": "in"}], "switched"),
        ([zero | {"to": "ground"}], None),  # nothing to ground says nothing of a return
        ([zero | {"to": "ground"}, zero | {"on": []}], None),
    ):
        readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate([*said, *more])]
        proof = proven(box(*readings), 230).conductors.get("B1")
        assert (proof.role if proof else None) == role, more


def test_a_wire_beside_the_hot_is_apart_in_one_position_of_the_far_switch_or_it_proves_nothing() -> None:
    """A converted pair: the third wire is at the hot in one position, and at the lamp in the other."""
    beside = ohms("A3", "panel hot", "0.4", circuit="1", far=1)
    for other, role in (("40", "line"), ("0.4", None)):
        said = [*LINE[:3], beside, ohms("A3", "panel hot", other, circuit="1", far=2)]
        assert role_of("A1", said) == role


def test_travelers_are_told_by_the_lamp_they_lead_to() -> None:
    one = [ohms("A2", "lamp center", far=1), ohms("A2", "lamp center", "90000", far=2)]
    other = [ohms("A3", "lamp center", "90000", far=1), ohms("A3", "lamp center", far=2)]
    assert role_of("A2", [*one, *other]) == role_of("A3", [*one, *other]) == "traveler"
    assert role_of("A2", one) is None


def at_230(said: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [one | {"volts": 230} if one.get("volts") == 120 else one for one in said]


def test_a_ground_that_fails_once_is_trusted_no_more() -> None:
    said = [*quiet("lamp center"), volts("A1", "ground", 3)]
    assert role_of("B1", said) is None


def neutral(*said: dict[str, Any], survey: bool | None = None, named: bool = False) -> tuple[bool | None, str]:
    seen = [{}, {"asserted_role": "neutral"}] if named else []
    cables = (Cable.model_validate({"id": "A", "gauge": 14, "insulated": 2, "conductors": seen}),)
    readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(said)]
    found = neutral_in(box(*readings, cables=cables, survey={"neutral": survey}), 120)
    return found.there, found.standing


def test_of_the_neutral_there_is_one_answer_with_its_standing() -> None:
    """A broken neutral is no neutral, whoever took it for one; readings stand above what was said."""
    brought = SUFFICIENT["A2", "neutral"]
    lost = [*GROUND, ohms("A2", "panel neutral", "90000", circuit="1", **HELD)]
    assert neutral() == (None, "open")
    assert neutral(survey=False) == (False, "said") and neutral(survey=True) == (True, "said")
    assert neutral(named=True) == (True, "said")
    assert neutral(*brought, survey=False) == (True, "proven")
    assert neutral(*lost, named=True) == (None, "open") and neutral(*lost, named=True, survey=True) == (None, "open")
    assert neutral(*lost, named=True, survey=False) == (False, "said")


def test_a_reading_kept_before_lamps_were_asked_says_nothing_of_them() -> None:
    old = Reading.model_validate({"id": "r1", "kind": "volts", "of": "A1", "volts": "0", "lamps_in": False})
    assert old.lamps == "not said"


CONTRADICTED: tuple[tuple[tuple[str, str], dict[str, Any]], ...] = (
    (("A1", "line"), ohms("A1", "panel hot", "90000", circuit="1", far=2)),
    (("A1", "line"), ohms("A1", "panel hot", circuit="1", others="change")),
    (("A2", "neutral"), ohms("A2", "panel neutral", "14", circuit="1", far=2)),
    (("A2", "neutral"), ohms("A2", "ground", "0.3", circuit="1", far=2)),
    (("A2", "neutral"), volts("A2", "ground", 120)),
    (("A2", "neutral"), volts("A2", "ground", 40, far=2)),
    (("B1", "switched"), ohms("B1", "lamp center", "90000", far=2)),
    (("B1", "switched"), volts("B1", "ground", 120, far=2)),
    (("B1", "switched"), {"kind": "continuity", "of": "B1", "to": "ground", "yes": True}),
    (("B1", "onward"), volts("B1", "ground", 120, lamps="out")),
    (("B1", "unused"), volts("B1", "ground", 120, far=2)),
    (("B1", "neutral"), ohms("B1", "lamp shell", "90000", far=2)),
)
"""Readings in another state that do not go with a proof: what they show is switched, live, or joined to ground."""


@pytest.mark.parametrize(("proof", "against"), CONTRADICTED)
def test_a_reading_that_contradicts_a_proof_takes_it_away(proof: tuple[str, str], against: dict[str, Any]) -> None:
    id, role = proof
    assert role_of(id, SUFFICIENT[proof]) == role
    assert role_of(id, [*SUFFICIENT[proof], against]) is None


def test_traced_at_one_circuit_and_apart_from_another_is_no_contradiction() -> None:
    assert role_of("A1", [*LINE, ohms("A1", "panel hot", "90000", circuit="3", far=2)]) == "line"


def test_a_neutral_is_that_of_the_circuit_it_was_traced_to() -> None:
    """NEC 200.4(A), 300.3(B), from memory: a device takes the neutral of its own circuit."""
    readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(SUFFICIENT["A2", "neutral"])]
    traced = [one.changed(circuit="2") if one.circuit else one for one in readings]
    two = box(*traced).changed(circuit="1", other_circuits=("2",))
    second = neutral_in(two, 120, circuit="2")
    assert neutral_in(two, 120).there and (second.there, second.standing) == (True, "proven")
    assert neutral_in(two, 120, circuit="1").there is None
    other = two.changed(survey=two.survey.changed(neutral=True))
    assert neutral_in(other, 120, circuit="1").there is None, "whoever looked saw the other circuit's"


def test_a_cable_that_comes_out_brings_no_neutral() -> None:
    readings = [Reading.model_validate({"id": f"r{n}"} | one) for n, one in enumerate(SUFFICIENT["A2", "neutral"])]
    stays = box(*readings)
    assert neutral_in(stays, 120).standing == "proven"
    assert neutral_in(stays.changed(out=("A",)), 120).there is None


def test_a_new_cable_brings_the_neutral_it_was_pulled_for() -> None:
    """Whatever the survey found before it was pulled; said, not proven. One without a neutral brings none."""
    white = Conductor(asserted_role="neutral")
    old, pulled = Cable(id="A", gauge=14, insulated=2), Cable(id="N", gauge=14, insulated=2)
    for conductors, new, there in (
        ((Conductor(), white), ("N",), True),
        ((Conductor(), white), (), False),
        ((), ("N",), False),
    ):
        made = box(cables=(old, pulled.changed(conductors=conductors)), survey={"neutral": False}).changed(new=new)
        found = neutral_in(made, 120)
        assert (found.there, found.standing) == (there, "said")


def test_whether_lamps_were_in_is_kept_from_before_where_it_was_said() -> None:
    old = {"id": "r1", "kind": "volts", "of": "A1", "volts": "0", "lamps_in": True}
    assert Reading.model_validate(old).lamps == "in"


def test_only_a_trace_to_the_neutral_of_what_was_taken_for_it_takes_it_away() -> None:
    """A broken trace of another wire, or to the hot, says nothing of the neutral that somebody found."""
    said = box(
        survey={"neutral": True},
        cables=(
            Cable.model_validate(
                {
                    "id": "A",
                    "gauge": 14,
                    "insulated": 2,
                    "conductors": [{"asserted_role": "line"}, {"asserted_role": "neutral"}],
                }
            ),
        ),
    )
    broken = {"id": "r1", "kind": "continuity", "of": "A1", "to": "panel neutral", "circuit": "1", "ohms": "100000"}
    for change, there in (({}, True), ({"of": "A2", "to": "panel hot"}, True), ({"of": "A2"}, None)):
        reading = Reading.model_validate(broken | change)
        assert neutral_in(said.changed(readings=(reading,)), 120).there is there, change
