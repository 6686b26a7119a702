"""Troubleshooting: trouble put into a box by other means is found by doing what each check says, safely and soon.

Wiring faults are judged by networkx and scipy, and the others by a small physical model of a lamp, a dimmer, a joint
and a radio. Neither knows the tables of the causes.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from importlib.resources import files
from itertools import combinations
from random import Random
from typing import get_args

import pytest

from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.model.job import Job
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.trouble.causes import Cause
from nail_count.trade.plan.trouble.checks import KINDS, SKIPPED, Answer, Check, CheckCode, check_named
from nail_count.trade.plan.trouble.narrow import causes_left, grouped, left, next_check
from nail_count.trade.plan.trouble.symptoms import SEEN, STOP_FIRST, SYMPTOMS, Symptom
from nail_count.trade.plan.trouble.usual_causes import Trait, usual_causes
from nail_count.trade.plan.trouble.wiring_causes import STATES, Setting, faults_of
from nail_count.trade.plan.trouble.words import answers_of, order_of
from nail_count.trade.text.format import and_list
from nail_count.trade.wiring.hookup.network import Network, NetworkState
from nail_count.trade.wiring.hookup.readings import SingleFault
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.outside import pieces, shorted, voltages
from tests.trade.wiring.hookup.schemes import PROVEN

MOST_TESTS = 7
"""At the 95th percentile."""
FULL = 100.0
"""From how much a loaded meter is taken to show the full voltage [V]."""
AT = "a"


@dataclass
class Person:
    """Somebody at a box with something wrong in it, who does what a check says and sees what other libraries say."""

    at: Setting
    network: Network
    wrong: tuple[SingleFault, ...]

    @cached_property
    def volts(self) -> dict[str, dict[str, float]]:
        """The voltage of every wire in each state."""
        return {name: voltages(self.network, self.state(name)) for name in STATES}

    def burns(self, state: str) -> dict[str, bool]:
        """Which loads have voltage across them; none of a circuit that trips."""
        volts = self.volts[state]
        return {one.id: abs(volts[one.one] - volts[one.other]) > FULL for one in self.network.loads}

    def trips(self, state: str) -> frozenset[str]:
        """The circuits that trip by themselves."""
        asked, off = self.at.states[state], frozenset[str]()
        for source in self.network.sources:
            alone = NetworkState(asked.on & self.network.poles(source.circuit), asked.positions)
            if alone.on and shorted(self.network, alone):
                off |= self.network.poles(source.circuit)
        if not off and shorted(self.network, asked):
            off = asked.on
        return off

    def state(self, state: str) -> NetworkState:
        asked = self.at.states[state]
        tripped = self.trips(state) | frozenset[str]().union(*(one.tripped for one in self.wrong))
        return NetworkState(asked.on - tripped, asked.positions)

    def symptom(self, right: Person) -> Symptom | None:
        """What he complains of."""
        load = self.at.load
        if any(self.trips(name) for name in STATES):
            return "trips at once"
        mine, good = ([one.burns(name)[load] for name in STATES] for one in (self, right))
        if mine != good:
            return "dead" if not any(mine) else "stays on" if all(mine) else None
        return None

    def answer(self, check: Check, right: Person) -> Answer:
        """What he finds."""
        match check.code:
            case "breaker":
                off = frozenset[str]().union(*(one.tripped for one in self.wrong), *(self.trips(n) for n in STATES))
                return "tripped" if off & self.network.poles(check.of) else "on"
            case "reset":
                return "trips" if any(self.trips(name) for name in STATES) else "holds"
            case "others":
                mine, good = self.burns(STATES[1]), right.burns(STATES[1])
                of = [one.id for one in self.network.loads if one.circuit == check.of and one.id != self.at.load]
                works = [mine[one] for one in of if good[one]]
                return "all" if all(works) else "some" if any(works) else "none"
            case "live":
                shown = abs(self.volts[check.state].get(check.of, 0.0))
                return "full" if shown > FULL else "nothing" if shown < 2 else SKIPPED
            case "ohms":
                none = NetworkState(frozenset(), self.at.states[STATES[0]].positions)
                one, other = (next(s for s in self.at.splices if s.id == id) for id in check.of.split("+"))
                a, b = self.at.node(one), self.at.node(other)
                return "low" if any({a, b} <= piece for piece in pieces(self.network, none)) else "open"
            case "tug" | "nick" | "compare":
                return self._found(check)
            case _:
                return check.kind.usual

    def _found(self, check: Check) -> Answer:
        kinds = {"tug": ("loose",), "nick": ("touching",), "compare": ("exchanged", "reversed")}[check.code]
        found = [one for one in self.wrong if one.kind in kinds and one.box == check.of]
        return ("different" if check.code == "compare" else found[0].splice) if found else check.kind.usual


def search(person: Person, right: Person, symptom: Symptom) -> tuple[tuple[Cause, ...], int]:
    """Do what each check says until none is left; return the causes left, and how many checks it took."""
    answers: dict[Check, Answer] = {}
    at = person.at
    first = causes_left(at.job, at.box, at.load, symptom, {})
    while len(answers) < 3 * MOST_TESTS:
        causes = left(first, answers) or causes_left(at.job, at.box, at.load, symptom, answers)
        check = next_check(causes, answers)
        if check is None:
            return causes, len(answers)
        assert check not in answers and check_named(check.key) == check
        order = order_of(check, person.at, symptom)
        if check.kind.risk != "none":
            assert order.lines[0].startswith("Turn off") and "verify dead" in order.lines[0], "no hand inside before it"
        on = [number for number, line in enumerate(order.lines) if "Unlock" in line or "Reset" in line]
        if check.kind.risk != "none" and on:
            assert "Turn it off again" in order.lines[-1], "and it ends with the power off"
        said = person.answer(check, right)
        assert said in dict(answers_of(check, person.at, causes)), (check, said)
        answers[check] = said
    raise AssertionError(answers)


@pytest.mark.parametrize("key", ["front-door", "washroom", "kitchen-bench"])
def test_the_breakers_to_turn_off_are_those_of_the_ladder(key: str) -> None:
    """In a house of nine breakers only those of the box, as its own steps name them."""
    house = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    entered = next(one for one in house.boxes if one.id == key)
    around = wired_with(Documents(JobAtHand(house), {}), entered)
    at = Setting(around, next(one for one in around.boxes if one.id == key), "")
    steps = install_steps(around, key, ())
    off = [breaker for one in steps if one.step.kind == "switched off" for breaker in one.operations[0].circuits]
    first = order_of(Check("tug", key), at, "dead").lines[0]
    assert off and first.startswith(f"Turn off breaker{'s' if len(off) > 1 else ''} {and_list(off)}, lock")


def test_a_check_somebody_cannot_do_is_skipped() -> None:
    """It rules nothing out, and the search goes on without it to the end."""
    at = setting(hooked_up(PROVEN["feed at the switch, smart"]))
    every, answers = causes_left(at.job, at.box, at.load, "dead", {}), dict[Check, Answer]()
    while (check := next_check(left(every, answers), answers)) is not None:
        assert answers_of(check, at, every)[-1][0] == SKIPPED and check not in answers
        answers[check] = SKIPPED
    assert left(every, answers) == every and len(answers) > MOST_TESTS


def setting(house: Job) -> Setting:
    box = next(one for one in house.boxes if one.id == AT)
    made = Setting(house, box, "")
    load = next((one.id for one in made.seen.network.loads if not one.always), "")
    return replace(made, load=load)


def planted(at: Setting, faults: tuple[SingleFault, ...], network: Network) -> tuple[Person, Person, Symptom | None]:
    right = Person(at, at.seen.network, ())
    person = Person(at, network, faults)
    return person, right, person.symptom(right)


def is_among(wrong: tuple[SingleFault, ...], causes: tuple[Cause, ...]) -> bool:
    """Whether the causes left send a person to what is wrong: that very fault, or the splice it is in."""
    places = {(one.kind, one.box, one.splice) for cause in causes for one in cause.faults}
    return any((one.kind, one.box, one.splice) in places for one in wrong)


@pytest.mark.parametrize("name", sorted(PROVEN)[::4])
def test_a_fault_in_the_wiring_is_found_in_few_checks(name: str) -> None:
    at, counts = setting(hooked_up(PROVEN[name])), list[int]()
    for fault in faults_of(at):
        person, right, symptom = planted(at, (fault,), fault.network)
        if symptom is None:
            continue  # nobody would look for it
        causes, took = search(person, right, symptom)
        assert is_among((fault,), causes), (fault.words, symptom, [one.words for one in causes])
        assert len(grouped(causes)) <= 3, [one.words for one in causes]
        counts.append(took)
    assert len(counts) > 3 and sorted(counts)[int(0.95 * len(counts))] <= MOST_TESTS


def test_two_faults_at_once_are_found_one_by_one() -> None:
    """Where no single fault explains the answers, pairs are tried; one of the two is mended first."""
    random, found = Random(7), 0
    for name in ("feed at the switch, smart", "three-way, apart"):
        at = setting(hooked_up(PROVEN[name]))
        mine = [one for one in faults_of(at) if one.box == AT and one.kind in ("loose", "touching")]
        pairs = [(a, b) for a, b in combinations(mine, 2) if a.splice != b.splice]
        for one, other in random.sample(pairs, 12):
            kept = set(one.network.joined) & set(other.network.joined)
            added = (set(one.network.joined) | set(other.network.joined)) - set(at.seen.network.joined)
            network = replace(at.seen.network, joined=tuple(sorted(kept | added)))
            person, right, symptom = planted(at, (one, other), network)
            if symptom is not None:
                causes, took = search(person, right, symptom)
                assert is_among((one, other), causes), (one.words, other.words, symptom)
                assert took <= MOST_TESTS + 2
                found += 1
    assert found > 10


@dataclass(frozen=True)
class Room:
    """A lamp on a device in a house, by what physics says of it."""

    lamp_dims: bool = True
    watts: float = 40
    least: float = 10
    most: float = 300
    drops_out_at: float = 0.05
    trim: float = 0.1
    leak_ma: float = 0.0
    sags: bool = False
    signal_db: float = -60
    hub_up: bool = True
    upstream_off: bool = False
    joined: bool = True
    wet: bool = False
    circuit_amps: float = 8
    load_leaks: bool = False
    fan_on_dimmer: bool = False

    def flickers(self, level: float, incandescent: bool = False) -> bool:
        own = not incandescent and (not self.lamp_dims or self.watts < self.least or level < self.drops_out_at)
        return self.sags or own

    def glows(self, incandescent: bool = False) -> bool:
        return self.leak_ma > 0 and not incandescent

    def answers(self, nearer_db: float = 0.0) -> bool:
        return self.hub_up and self.joined and not self.upstream_off and self.signal_db + nearer_db > -80

    def does(self, check: Check, symptom: Symptom) -> Answer:
        """The answer to a check."""
        low = self.trim
        match check.code:
            case "plain bulb":
                before, after = self.glows() or self.flickers(low), self.glows(True) or self.flickers(low, True)
                hum = symptom == "hums" and not self.lamp_dims
                return "stops" if (before and not after) or hum else "same"
            case "label":
                return "yes" if self.lamp_dims else "no"
            case "full":
                return "same" if self.flickers(1.0) else "stops"
            case "trim":
                return "same" if self.flickers(low + 0.3) else "stops"
            case "others too":
                return "yes" if self.sags else "no"
            case "watts":
                return "yes" if (self.watts > self.most if symptom == "warm" else self.watts < self.least) else "no"
            case "palm":
                return "hot" if self.watts > self.most else "bearable"
            case "near":
                return "answers" if not self.answers() and self.answers(30) else "same"
            case "smart others":
                return "all" if self.hub_up else "none"
            case "listed":
                return "yes" if self.joined else "no"
            case "upstream":
                return "yes" if self.upstream_off else "no"
            case "damp":
                return "yes" if self.wet else "no"
            case "load off":
                return "holds" if self.load_leaks else "trips"
            case "unload":
                return "holds" if self.circuit_amps / 2 < 15 < self.circuit_amps else "trips"
            case "where":
                return "fan" if self.fan_on_dimmer else "bulb" if not self.lamp_dims else "switch"
            case _:
                return check.kind.usual


LIGHT: frozenset[Trait] = frozenset(("light", "dims", "electronic", "smart", "guarded"))


@pytest.mark.parametrize(
    ("symptom", "room", "traits", "cause"),
    [
        ("flickers", Room(lamp_dims=False), LIGHT, "not-dimmable"),
        ("flickers", Room(watts=5), LIGHT, "too-little"),
        ("flickers", Room(drops_out_at=0.25), LIGHT, "trim"),
        ("flickers", Room(sags=True), LIGHT, "sag"),
        ("glows", Room(leak_ma=2), LIGHT | {"two-wire"}, "leak"),
        ("glows", Room(leak_ma=2, watts=3), LIGHT | {"two-wire"}, "too-little"),
        ("hums", Room(lamp_dims=False), LIGHT, "not-dimmable"),
        ("hums", Room(fan_on_dimmer=True), LIGHT | {"fan"}, "fan-on-dimmer"),
        ("hums", Room(), LIGHT, "dimmer-hum"),
        ("warm", Room(watts=420), LIGHT, "over"),
        ("warm", Room(), LIGHT, "as-usual"),
        ("trips later", Room(circuit_amps=18), LIGHT, "overloaded"),
        ("off network", Room(signal_db=-92), LIGHT, "far"),
        ("off network", Room(hub_up=False), LIGHT, "hub-down"),
        ("off network", Room(upstream_off=True), LIGHT, "cut-off"),
        ("by hand only", Room(joined=False), LIGHT, "not-joined"),
        ("by hand only", Room(hub_up=False), LIGHT, "hub-down"),
        ("by hand only", Room(signal_db=-92), LIGHT, "far"),
        ("guard trips", Room(wet=True), LIGHT, "damp"),
        ("guard trips", Room(load_leaks=True), LIGHT, "load-faulty"),
    ],
)
def test_a_cause_outside_the_wiring_is_found(
    symptom: Symptom, room: Room, traits: frozenset[Trait], cause: str
) -> None:
    every, answers = tuple(usual_causes(symptom, traits, "x")), dict[Check, Answer]()
    while (check := next_check(left(every, answers), answers)) is not None:
        answers[check] = room.does(check, symptom)
        assert len(answers) <= MOST_TESTS
    assert [one.code for one in left(every, answers)] == [cause], answers


def test_every_table_is_complete() -> None:
    assert set(SEEN) == set(SYMPTOMS) and set(STOP_FIRST) == set(SYMPTOMS)
    assert set(KINDS) == set(get_args(CheckCode))
    at = setting(hooked_up(PROVEN["feed at the switch, smart"]))
    for code in KINDS:
        assert order_of(Check(code, AT), at, "dead").title
    others = [setting(hooked_up(PROVEN[name])) for name in ("three-way, apart", "fan and light, one control")]
    for symptom in SYMPTOMS:
        known = any(usual_causes(symptom, frozenset(get_args(Trait)), at.load))
        in_wiring = any(causes_left(one.job, one.box, one.load, symptom, {}) for one in others)
        assert known or in_wiring or symptom == "other trips", symptom
