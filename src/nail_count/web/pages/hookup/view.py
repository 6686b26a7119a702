"""What the screen shows of a box's hook-up."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from types import MappingProxyType

from ....drawing.hookup import HookupDrawing, Titles, hookup_drawing
from ....store.snapshots import BoxSnapshot
from ....trade.assume.usual import Assumption, AssumptionCode
from ....trade.assume.wired import look_as_usual
from ....trade.model.answer import State
from ....trade.model.box import Box
from ....trade.model.errors import Rejected
from ....trade.model.job import by_id
from ....trade.model.run import BoxEnd
from ....trade.model.splice import Splice
from ....trade.model.tick import Tick
from ....trade.plan.install.names import names_of
from ....trade.plan.install.steps import install_steps
from ....trade.plan.parts.parts_list import needs_in
from ....trade.plan.planned import fits
from ....trade.text.wires import name_of_splice
from ....trade.wiring.hookup.look import HookUp, look
from ....trade.wiring.hookup.network import Gear, InState, NetworkState, wired
from ....trade.wiring.hookup.over_network import network_links
from ....trade.wiring.hookup.readings import Expected, Fault, agrees, expected, faults, shown_by, usual_states
from ....trade.wiring.hookup.stages import Named, Stage, box_at, cables_at, contents_at, ends_of, node_of
from ....trade.wiring.hookup.unsaid import Unsaid
from ....trade.wiring.hookup.work import Act, Held, Step, held, work
from ... import urls

BREAKER = "breaker "
"""Before a circuit, in the address that says which state is shown."""


ACT_WORDS: Mapping[Act, str] = {
    "leave": "leave joined",
    "take apart": "disconnect",
    "make": "join",
    "add to": "add",
    "close": "close again",
    "cap": "cap",
    "re-mark": "mark as hot with tape or a sleeve",
    "pigtail": "run a pigtail to",
}
"""What each kind of work is called."""


@dataclass(frozen=True, slots=True)
class Thrown:
    """Something on the plan that can be thrown."""

    name: str
    position: str
    """How it stands."""
    to: Mapping[str, str]
    """What the address says after it is thrown."""


@dataclass(frozen=True)
class Live:
    """The hook-up in one state."""

    hookup: HookUp
    kept: BoxSnapshot
    state: NetworkState
    before: Live | None = None
    """The same as found, where that is known."""
    rests_on: tuple[Assumption, ...] = ()
    """What it holds on, that nobody has checked."""

    @cached_property
    def now(self) -> InState:
        """The network in this state."""
        return InState(self.hookup.seen.network, self.state, wired(self.hookup.seen.network))

    @cached_property
    def ends(self) -> Mapping[str, Named]:
        """The ends of the box, by their keys."""
        return ends_of(self.hookup.job, self.hookup.box, self.hookup.stage)

    @cached_property
    def splices(self) -> tuple[Splice, ...]:
        """Those of the box that join something."""
        return tuple(s for s in contents_at(self.hookup.box, self.hookup.stage).splices if s.ends)

    def key_node(self, named: Named) -> str:
        """The node an end is."""
        return node_of(self.hookup.box.id, named.end)

    @cached_property
    def live(self) -> frozenset[str]:
        """The keys of the ends that are live."""
        return frozenset(key for key, named in self.ends.items() if self.now.hots(self.key_node(named)))

    @cached_property
    def drawing(self) -> HookupDrawing:
        """Where everything lies."""
        about = {one.finding.node for one in self.hookup.shown} | {one.finding.of for one in self.hookup.shown}
        about |= self.hookup.cut_off if self.hookup.shown else frozenset()
        failing = frozenset(key for key, named in self.ends.items() if self.key_node(named) in about)
        return hookup_drawing(self.ends, self.splices, self._titles(), live=self.live, failing=failing)

    def _titles(self) -> dict[str, Titles]:
        box, stage = self.hookup.box, self.hookup.stage
        titles: dict[str, Titles] = {}
        assumed = {id: f"{_GOES[one.code]}, assumed" for one in self.rests_on
            if one.box == self.kept.box.id and _GOES[one.code] for id in one.cables}  # fmt: skip
        for cable in cables_at(box, stage):
            lit = self._lit_beyond(cable.id)
            goes = assumed.get(cable.id) or self.kept.goes.get(cable.id, "where it goes: not known")
            titles[cable.id] = Titles(f"{cable.id} · {cable.size}", goes, True, bool(lit), lit is not None)
        sheets = by_id(self.hookup.job.sheets)
        links = network_links(self.hookup.job, box) if stage == "planned" else {}
        for item in contents_at(box, stage).equipment:
            id = f"{box.id}/{item.id}"
            gear = self._gear(id)
            word = gear.words[self.state.positions.get(id, 0)] if gear else ""
            titles[item.id] = Titles(
                item.name or sheets[item.sheet].name, word, False, word == "on", network=links.get(item.id, "")
            )
        burning = {load.id for load in self.hookup.seen.network.loads if self.now.burns(load)}
        for other in self.hookup.job.boxes:
            for item in contents_at(other, stage).equipment:
                for load in item.loads:
                    if load.outlet == box.id:
                        lit = f"{other.id}/{load.id}" in burning
                        name = load.name or item.name or load.kind
                        titles[f"{other.id}-{load.id}"] = Titles(name, "burns" if lit else "dark", False, lit, True)
        return titles | {"bond": Titles("bond", "metal box", False)}

    def _lit_beyond(self, cable: str) -> bool | None:
        """Whether what hangs at the far end of a cable burns; None where nothing is known to hang there."""
        at = self.hookup.box.cable(cable)
        ends = {f"{self.hookup.box.id}/{id}" for id in (at.conductor_ids if at else ())}
        end = self.hookup.job.far_ends.get((self.hookup.box.id, cable))
        far = end.box if isinstance(end, BoxEnd) else None
        seen = self.hookup.seen
        here = [
            self.now.burns(load)
            for load in seen.network.loads
            if load.one in ends or (far is not None and seen.box_of.get(load.one) == far)
        ]
        return any(here) if here else None

    def _gear(self, id: str) -> Gear | None:
        return next((gear for gear in self.hookup.seen.network.gear if gear.id == id), None)

    @property
    def lamps(self) -> list[tuple[str, bool]]:
        """The loads of the boxes shown, and whether each is lit."""
        seen = self.hookup.seen
        return [
            (seen.load_names[load.id], self.now.burns(load))
            for load in seen.network.loads
            if seen.box_of[load.id] in self.hookup.group
        ]

    @property
    def said(self) -> str:
        """The state in words."""
        return (
            ", ".join(f"{one.name[0].lower()}{one.name[1:]} {one.position}" for one in self.throws) or "nothing thrown"
        )

    @property
    def throws(self) -> list[Thrown]:
        """Everything that can be thrown: breakers, and what stands in the boxes of the group."""
        found = []
        for circuit in self.hookup.breakers:
            on = circuit in self.state.on
            changed = self.state.on ^ self.hookup.seen.network.poles(circuit)
            to = self._address(NetworkState(frozenset(changed), self.state.positions))
            found.append(Thrown(f"Breaker {circuit}", "on" if on else "off", to))
        for gear in self.hookup.seen.network.gear:
            if self.hookup.seen.box_of[gear.id] in self.hookup.group and len(gear.positions) > 1:
                at = self.state.positions.get(gear.id, 0)
                to = self._address(self.state.changed(gear.id, (at + 1) % len(gear.positions)))
                found.append(Thrown(self.hookup.seen.gear_names[gear.id], gear.words[at], to))
        return found

    def _address(self, state: NetworkState) -> dict[str, str]:
        said = {f"{BREAKER}{one.breaker}": "on" for one in self.hookup.seen.network.sources if one.circuit in state.on}
        return said | {id: str(number) for id, number in state.positions.items() if number}

    def shows(self, state: NetworkState | None) -> dict[str, str]:
        """What the address says to show a state."""
        return self._address(state or self.state)


_GOES: Mapping[AssumptionCode, str] = {
    "feed": "feed", "leg": "light", "onward": "next box", "switch-loop": "light",
    "whites-tied": "", "breaker": "", "colors": "",
}  # fmt: skip
"""Where an assumption says that a cable goes; "" where it tells nothing of that."""
_SCREENS = {"ground-not-picked": "survey", "colors-not-seen": "wires"}
"""Where some of the unknowns are entered."""
_ON_THE_MAP = ("way-not-said", "end-not-said", "feed-not-said", "feed-not-followed", "ends-differ", "wires-do-not-pair")
"""The unknowns of runs."""
PATHS: Mapping[Stage, str] = {"planned": "hookup", "found": "hookup-found"}


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading that was taken."""

    tick: Tick
    point: str
    state: str
    volts: str
    expected: str
    agrees: bool | None
    """None: it was taken before the plan of the box changed, and tells nothing of it now."""
    faults: tuple[Fault, ...]
    """What would give it, where it differs."""


@dataclass(frozen=True)
class HookupView:
    """What the screen shows of a box's hook-up."""

    kept: BoxSnapshot
    hookup: HookUp
    live: Live

    @property
    def box(self) -> Box:
        """The box."""
        return self.hookup.box

    @property
    def other(self) -> str:
        """The same at the other stage."""
        stage: Stage = "found" if self.hookup.stage == "planned" else "planned"
        return urls.box(self.kept.job.key, self.box.id, PATHS[stage])

    @property
    def begun(self) -> bool:
        """Whether there is something to say it of: what was found, where that is the stage."""
        return self.hookup.stage == "planned" or self.box.found is not None

    def held(self, splice: Splice) -> Held:
        """What holds a splice."""
        return held(box_at(self.box, self.hookup.stage), splice, by_id(self.hookup.job.sheets))

    def words(self, splice: Splice) -> list[tuple[str, str]]:
        """Its ends: key and words."""
        return [(key, named.words) for key, named in self.live.ends.items() if named.end in splice.ends]

    @cached_property
    def loose(self) -> list[tuple[str, str]]:
        """The ends in no splice."""
        joined = {end for splice in self.live.splices for end in splice.ends}
        return [(key, named.words) for key, named in self.live.ends.items() if named.end not in joined]

    @property
    def choices(self) -> list[tuple[str, str]]:
        """Every end to choose from."""
        return [(key, named.words) for key, named in self.live.ends.items()]

    @property
    def targets(self) -> list[tuple[str, str]]:
        """What an end can be joined with: a splice, or an end that is in none."""
        splices = [
            (s.id, f"{name_of_splice(s.name)}: {', '.join(w for _, w in self.words(s))}") for s in self.live.splices
        ]
        return [*splices, *self.loose]

    @cached_property
    def _expected(self) -> Mapping[str, Mapping[str, Expected]]:
        """What every point should show, by the key of its end and the name of the state."""
        voltage = self.kept.job.head.terms_at(self.box).voltage
        told = expected(self.hookup.seen, self.box.id, voltage)
        nodes = {key: self.live.key_node(named) for key, named in self.live.ends.items()}
        return {key: told[node] for key, node in nodes.items() if node in told}

    @property
    def readings(self) -> list[tuple[str, list[str]]]:
        """What each point should show, state by state."""
        return [
            (self.live.ends[key].words, [one.says for one in shows.values()]) for key, shows in self._expected.items()
        ]

    @property
    def points(self) -> list[tuple[str, str]]:
        """Where can be measured."""
        return [(key, self.live.ends[key].words) for key in self._expected]

    @property
    def state_choices(self) -> list[tuple[str, str]]:
        """In which states."""
        return [(name, name) for name in usual_states(self.hookup.seen)]

    def refuse_reading(self, point: str, state: str) -> None:
        """Refuses a reading of a point or a state that is none of this box. Raises Rejected."""
        if point not in self._expected:
            raise Rejected(f"Pick a point of this box, such as {next(iter(self._expected), 'A1')}", "point")
        if state not in usual_states(self.hookup.seen):
            raise Rejected(f"Pick one of the states: {', '.join(usual_states(self.hookup.seen))}", "state")

    @property
    def taken(self) -> list[Taken]:
        """Return the readings taken of the plan, the newest first, each against its expected value."""
        if self.hookup.stage != "planned":
            return []
        voltage = self.kept.job.head.terms_at(self.box).voltage
        states, made = usual_states(self.hookup.seen), []
        back = {tick.takes_back for tick in self.kept.ticks}
        for tick in self.kept.ticks:
            if tick.step.volts is None or tick.id in back or tick.takes_back is not None:
                continue
            key, name = tick.step.subjects
            if key not in self._expected or name not in states:
                continue  # of an end or a device that is in the box no more
            there, shown = self._expected[key][name], shown_by(tick.step.volts, voltage)
            node, same = self.live.key_node(self.live.ends[key]), agrees(there.kind, shown)
            old = not fits(tick, self.box)
            known = old or same
            why = (
                ()
                if known
                else faults(self.hookup.job, self.box.id, "planned", node=node, state=states[name], shown=shown)
            )
            volts = f"{float(tick.step.volts):g} V"
            made.append(Taken(tick, self.live.ends[key].words, name, volts, there.says, None if old else same, why))
        return made[::-1]

    @cached_property
    def on_the_ladder(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        """The steps at the wires, as Install shows them: the title of each, and the act, line by line."""
        wanted = ("taken apart", "taken out", "joined")
        steps = install_steps(self.hookup.job, self.box.id, self.kept.ticks)
        return tuple((one.title, one.what) for one in steps if one.step.kind in wanted and not one.idle)

    @cached_property
    def work(self) -> tuple[tuple[Step, str, str], ...]:
        """The work done: each step, its ends in words, its connector."""
        names = names_of(self.hookup.job, self.box)
        return tuple(
            (
                step,
                ", ".join(names.get(end, "a jumper") for end in step.ends),
                f"{step.splice.connector.size} connector" if step.splice.connector else "under the screw",
            )
            for step in work(self.box, by_id(self.hookup.job.sheets), self.hookup.seen.wires_in(self.box.id))
        )

    @property
    def unlit(self) -> list[tuple[str, str, str]]:
        """The loads of the box that hang at no box of the house: id, name, cable."""
        if any(_GOES[one.code] for one in self.live.rests_on):
            return []  # their cables are among the assumptions
        return [
            (load.id, load.name or item.name or load.kind, load.cable or "")
            for item in self.box.equipment
            for load in item.loads
            if load.outlet is None
        ]

    @property
    def parts(self) -> list[str]:
        """What its plan takes, each part once with how many."""
        if self.hookup.stage != "planned" or self.box.planned is None:
            return []
        count: Counter[str] = Counter()
        for need in needs_in(self.hookup.job, self.box, self.hookup.seen.wires_in(self.box.id)):
            count[need.name] += need.count or 0
        return [f"{number} × {name}" if number else name for name, number in count.items()]

    def address_for(self, unsaid: Unsaid) -> str:
        """Where the unknowns can be entered; "" where that is on this very page."""
        job = self.kept.job.key
        if unsaid.code == "no-terminals":
            return urls.datasheet(job, unsaid.of)
        if unsaid.code in _SCREENS:
            return urls.box(job, unsaid.box, _SCREENS[unsaid.code])
        if unsaid.code in ("feed-not-followed", "beyond-not-known") and unsaid.of:
            return urls.box(job, unsaid.of, "hookup")
        if unsaid.code in _ON_THE_MAP:
            return urls.job(job, "map")
        if unsaid.code in ("not-hooked-up", "load-not-found", "in-no-splice"):
            return "" if unsaid.box == self.box.id else urls.box(job, unsaid.box, "hookup")
        return urls.box(job, unsaid.box)

    @property
    def ways_out(self) -> list[tuple[str, str]]:
        """The cables a load may be at the end of."""
        return [
            (cable.id, f"{cable.id}, {self.kept.goes.get(cable.id, 'where it goes is not known')}")
            for cable in self.box.entering
        ]

    @property
    def state(self) -> State:
        """How it stands."""
        return self.hookup.state


def state_of(hookup: HookUp, said: Mapping[str, str]) -> NetworkState:
    """The state an address says; where it says none, every breaker on and everything off."""
    circuits = [source.circuit for source in hookup.seen.network.sources]
    if not said:
        return NetworkState(frozenset(circuits), {gear.id: 0 for gear in hookup.seen.network.gear})
    on = frozenset(one.circuit for one in hookup.seen.network.sources if f"{BREAKER}{one.breaker}" in said)
    positions = {}
    for gear in hookup.seen.network.gear:
        number = said.get(gear.id, "0")
        positions[gear.id] = int(number) if number in map(str, range(len(gear.positions))) else 0
    return NetworkState(on, positions)


def live_view(kept: BoxSnapshot, stage: Stage, said: Mapping[str, str]) -> Live:
    """The hook-up of a box in the state an address says; beside it as found, where something was joined."""
    assert kept.wiring is not None
    hookup, rests_on = (
        look_as_usual(kept.wiring, kept.box.id) if stage == "planned" else (look(kept.wiring, kept.box.id, stage), ())
    )
    found = kept.box.found
    before = None
    if stage == "planned" and found is not None and any(splice.ends for splice in found.splices):
        before = live_view(kept, "found", said)
    return Live(hookup, kept, state_of(hookup, said), before, rests_on)


def hookup_view(stage: Stage, kept: BoxSnapshot, said: Mapping[str, str] = MappingProxyType({})) -> HookupView:
    """The hook-up of a box, as found or as planned, in the state an address says."""
    live = live_view(kept, stage, said)
    return HookupView(kept, live.hookup, live)
