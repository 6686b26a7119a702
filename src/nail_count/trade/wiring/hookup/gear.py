"""Make devices, modules, and the panel's circuits parts of a network.

Each says which of its terminals are joined in which position, by what its sheet names, and which loads it is to work.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from ...model.box import Device, Equipment
from ...model.datasheet import Datasheet, TerminalRole
from ...model.job import Job
from ...model.panel import has_two_hots, partners, second_pole
from ...rules.circuit.panel import leg
from .network import Behavior, Gear, GearKind, Input, InputKind, Joined, NetLoad, Network, Node, Source, wired

LOADS: tuple[TerminalRole, ...] = ("load", "second load", "third load")
"""The outputs of a device, in the order of its channels."""


@dataclass(frozen=True, slots=True)
class Terminals:
    """The terminals of a device, by what they are for."""

    at: Mapping[TerminalRole, tuple[Node, ...]]

    def first(self, role: TerminalRole) -> Node | None:
        """The first terminal of a role; None where it has none."""
        return next(iter(self.at.get(role, ())), None)

    def all(self, role: TerminalRole) -> tuple[Node, ...]:
        """Every terminal of a role."""
        return self.at.get(role, ())

    @property
    def outputs(self) -> tuple[Node, ...]:
        """Its load terminals, in the order of its channels."""
        return tuple(node for role in LOADS for node in self.all(role))


def lead_node(box: str, item: str, terminal: int) -> Node:
    """A terminal of a device, counted from 1."""
    return f"{box}/{item}.{terminal}"


def terminals_of(box: str, item: Equipment, sheet: Datasheet) -> Terminals:
    """The terminals of a device as nodes."""
    at: dict[TerminalRole, tuple[Node, ...]] = {}
    for number, role in enumerate(sheet.roles, 1):
        at[role] = (*at.get(role, ()), lead_node(box, item.id, number))
    return Terminals(at)


def is_companion(sheet: Datasheet, sheets: Mapping[str, Datasheet]) -> bool:
    """Whether another sheet wants this one at its other places."""
    return any(one.companion == sheet.id for one in sheets.values())


def kind_of(sheet: Datasheet, sheets: Mapping[str, Datasheet]) -> GearKind | None:
    """What a device is in the hook-up; None where it has no contacts: a blank, a battery remote, a plain receptacle.

    By what its sheet names, so that a device of any name is what its terminals make it.
    """
    roles = sheet.roles
    outputs = sum(role in LOADS for role in roles)
    travelers = roles.count("traveler")
    lives = "neutral" in roles or sheet.neutral == "uses the ground" or travelers > 0
    plain = sheet.kind in ("switch", "fan control")
    kinds: tuple[tuple[bool, GearKind | None], ...] = (
        ("load neutral" in roles, "protector"),
        (is_companion(sheet, sheets), "companion"),
        (travelers == 4, "four-way"),
        (travelers == 2 and not outputs and "line" in roles, "three-way"),
        ("line" in roles and "input" in roles and not outputs, "module"),
        ("line" not in roles or not outputs, None),
        ("input" in roles, "module"),
        (lives, "powered"),
        (plain, "switch"),
    )
    return next((kind for so, kind in kinds if so), "two-wire")


def gear_of(
    box: str, item: Equipment, sheet: Datasheet, sheets: Mapping[str, Datasheet], circuit: str | None
) -> Gear | None:
    """A device or module as a thing with positions; None where it has none.

    Args:
        item: the device.
        circuit: what must feed it.
    """
    kind, there, id = kind_of(sheet, sheets), terminals_of(box, item, sheet), f"{box}/{item.id}"
    line, neutral = there.first("line"), there.first("neutral")
    if kind is None:
        return None
    mine = tuple(f"{box}/{load.id}" for load in item.loads)
    here = (mine,) if mine else ()
    if kind in ("three-way", "four-way"):
        return replace(_changeover(id, there), controls=here, leaks=sheet.neon)
    if kind == "protector":
        load, past = there.first("load"), there.first("load neutral")
        both = tuple((a, b) for a, b in ((line, load), (neutral, past)) if a is not None and b is not None)
        return Gear(id, kind, ((), both), ("tripped", "on"), line, load, neutral, circuit=circuit, past=past)
    if kind == "companion" or not there.outputs:
        return _signals(id, kind, there, sheet, circuit)
    assert line is not None
    leaks = kind == "two-wire" or sheet.neon or (kind == "powered" and sheet.dims)
    if is_two_pole(sheet):
        both = tuple(zip(there.all("line"), there.all("load"), strict=True))
        own, off_on = None if kind == "switch" else line, ("off", "on")
        return Gear(id, kind, ((), both), off_on, own, both[0][1], neutral, controls=here, circuit=circuit, leaks=leaks)
    outputs, feed = there.outputs, there.first("contact") or line
    positions = tuple(
        tuple((feed, node) for n, node in enumerate(outputs) if number >> n & 1) for number in range(2 ** len(outputs))
    )
    plain = kind == "switch"
    return Gear(
        id,
        kind,
        positions,
        tuple(_word(number, len(outputs)) for number in range(len(positions))),
        None if plain else line,
        outputs[0],
        neutral if kind in ("powered", "module") else None,
        _detached(_inputs(there, sheet, line)) if item.commands else tuple(_inputs(there, sheet, line)),
        controls=tuple(
            tuple(f"{box}/{load.id}" for load in item.loads if load.channel == n) for n in range(1, len(outputs) + 1)
        ),
        circuit=circuit,
        leaks=leaks,
    )


def _signals(id: str, kind: GearKind, there: Terminals, sheet: Datasheet, circuit: str | None) -> Gear:
    """What has no contact of its own: a companion, or a sender that tells another device what its input does."""
    line, neutral = there.first("line"), there.first("neutral")
    if kind == "companion":
        signal = there.first("traveler")
        return Gear(id, kind, ((),), ("left alone",), line, None, neutral, circuit=circuit, signal=signal)
    assert line is not None
    heard = _detached(_inputs(there, sheet, line))
    return Gear(id, kind, ((), ()), ("left alone", "told"), line, None, neutral, heard, circuit=circuit)


def _changeover(id: str, there: Terminals) -> Gear:
    """A three-way, or a four-way."""
    line, travelers = there.first("line"), there.all("traveler")
    if line is not None:
        one, other = travelers
        return Gear(id, "three-way", (((line, one),), ((line, other),)), ("one way", "the other way"))
    a1, a2, b1, b2 = travelers
    return Gear(id, "four-way", (((a1, b1), (a2, b2)), ((a1, b2), (a2, b1))), ("straight", "crossed"))


def is_two_pole(sheet: Datasheet) -> bool:
    """Whether a device opens two hots at once: two lines, two loads."""
    roles = sheet.roles
    return roles.count("line") == roles.count("load") == 2 and "traveler" not in roles and "input" not in roles


def _word(number: int, outputs: int) -> str:
    if outputs == 1:
        return ("off", "on")[number]
    return " ".join(f"{n + 1} {'on' if number >> n & 1 else 'off'}" for n in range(outputs))


def _inputs(there: Terminals, sheet: Datasheet, line: Node) -> list[Input]:
    """What it is switched by: a traveler closed onto its line or load; inputs as its sheet says."""
    found = [Input(node, "signal", (line, *there.outputs)) for node in there.all("traveler")]
    kind: InputKind = sheet.input or "mains"
    behavior: Behavior = "follows" if "follows" in sheet.behaviors and "toggles" not in sheet.behaviors else "toggles"
    outputs = max(len(there.outputs), 1)
    for number, node in enumerate(there.all("input")):
        found.append(Input(node, kind, there.all("input common"), min(number, outputs - 1), behavior))
    return found


def _detached(inputs: Iterable[Input]) -> tuple[Input, ...]:
    """Inputs that act on no contact of their own device."""
    return tuple(replace(one, behavior="detached") for one in inputs)


def halves_of(box: str, item: Equipment, sheet: Datasheet) -> tuple[tuple[Node, Node], ...]:
    """The hot and the neutral screw of each half of a receptacle, the upper one first; () for all else."""
    there = terminals_of(box, item, sheet)
    neutrals = there.all("neutral")
    if sheet.kind != "receptacle" or not neutrals or there.outputs:
        return ()
    return tuple((line, neutrals[min(n, len(neutrals) - 1)]) for n, line in enumerate(there.all("line")))


def is_split(item: Equipment) -> bool:
    """Whether the hot tab of a receptacle is broken off, so that its halves are two."""
    return isinstance(item, Device) and item.tab_broken


def needs_of(box: str, item: Equipment, sheet: Datasheet, switched: bool) -> tuple[NetLoad, ...]:
    """The halves of a receptacle that are fed in every position of every switch; () for all else.

    `switched`: whether a switch switches it: the lower half of one whose tab is broken off, else all of it.
    """
    halves = halves_of(box, item, sheet)
    kept = halves if not switched else halves[:1] if is_split(item) and len(halves) > 1 else ()
    return tuple(
        NetLoad(f"{box}/{item.id}{' half ' + str(n) if n > 1 else ''}", line, neutral, None, always=True)
        for n, (line, neutral) in enumerate(kept, 1)
    )


def grounds_of(box: str, item: Equipment, sheet: Datasheet) -> tuple[Node, ...]:
    """The ground terminals of a device."""
    return terminals_of(box, item, sheet).all("ground")


def with_controls(network: Network) -> Network:
    """The network with every place of control knowing its loads.

    A device names its loads. A three-way, a four-way, a switch in front of an input and a companion say nothing
    themselves: theirs are the loads of the device their wires lead to.
    """
    base = wired(network)
    ends = {base.find(node) for source in network.sources for node in (source.hot, source.neutral)}
    ends.add(base.find(network.ground))
    far = [gear for gear in network.gear if not gear.all_controls]
    together = Joined()
    for gear in far:
        roots = [root for node in gear.nodes if (root := base.find(node)) not in ends]
        for root in roots:
            together.join(f"gear {gear.id}", root)
    made = {gear.id: _led_to(gear, network, base, ends, together) for gear in far}
    return replace(
        network,
        gear=tuple(replace(gear, controls=made[gear.id]) if made.get(gear.id) else gear for gear in network.gear),
    )


def _led_to(
    gear: Gear, network: Network, base: Joined, ends: set[Node], together: Joined
) -> tuple[tuple[str, ...], ...]:
    here = together.find(f"gear {gear.id}")

    def reached(node: Node | None) -> bool:
        return node is not None and base.find(node) not in ends and together.find(base.find(node)) == here

    def outputs() -> Iterator[tuple[str, ...]]:
        for other in network.gear:
            for one in other.inputs:
                if reached(one.node) and one.output < len(other.controls):
                    yield other.controls[one.output]

    if found := dict.fromkeys(outputs()):
        return (tuple(dict.fromkeys(load for of_output in found for load in of_output)),)
    beside = [
        other
        for other in network.gear
        if other.kind in ("three-way", "four-way") and other.all_controls and any(reached(node) for node in other.nodes)
    ]
    loads = tuple(dict.fromkeys(load for other in beside for load in sorted(other.all_controls)))
    if not loads:  # a plain switch that says nothing of its lamp: the one on its wire
        loads = tuple(
            load.id for load in network.loads if not load.always and (reached(load.one) or reached(load.other))
        )
    return (loads,) if loads else ()


def idle_gear(network: Network, senders: Collection[str]) -> Iterator[Gear]:
    """Yield everything that switches no load, works nothing over the network, and is in front of nothing that does.

    Args:
        network: with its controls.
        senders: what works another device over the network, by its id.
    """
    base = wired(network)
    ends = {base.find(node) for source in network.sources for node in (source.hot, source.neutral)}
    told = {base.find(one.node) for gear in network.gear if gear.id in senders for one in gear.inputs} - ends
    for gear in network.gear:
        tells = gear.id in senders or any(base.find(node) in told for node in gear.nodes)
        if not gear.all_controls and not tells:
            yield gear


def neutral_owners(job: Job) -> dict[str, str]:
    """Under which circuit each circuit's neutral goes: the two of a multiwire circuit have one."""
    partner, known = partners(job.circuits), {circuit.id for circuit in job.circuits}
    owners = {id: min(id, partner[id]) if partner.get(id) in known else id for id in known}
    return owners | {second_pole(one.id): owners[one.id] for one in job.circuits if two_hots(job, one.id)}


def two_hots(job: Job, circuit: str | None) -> bool:
    """Whether a circuit of a job feeds its load by two hots."""
    found = next((one for one in job.circuits if one.id == circuit), None)
    return has_two_hots(found, job.terms.voltage)


def sources_of(job: Job) -> tuple[Source, ...]:
    """Every hot of the panel, with the neutral that goes with it; both hots of a breaker that feeds a load by two."""
    return tuple(_sources(job))


def _sources(job: Job) -> Iterator[Source]:
    owners, partner = neutral_owners(job), partners(job.circuits)
    for circuit in job.circuits:
        side, shares = leg(circuit), partner.get(circuit.id)
        hot, neutral = f"panel/{circuit.id}", f"panel/{owners[circuit.id]} neutral"
        if two_hots(job, circuit.id):
            first, second = ((circuit.space or 1) - 1) // 2 % 2, second_pole(circuit.id)
            yield Source(circuit.id, hot, neutral, first, second)
            yield Source(second, f"panel/{second}", neutral, 1 - first, circuit.id, pole_of=circuit.id)
            continue
        number = None if side is None else "AB".index(side)
        yield Source(circuit.id, hot, neutral, number, shares if shares in owners else None)


def tied(job: Job) -> tuple[frozenset[str], ...]:
    """The two circuits of each multiwire one whose breakers open together."""
    partner = partners(job.circuits)
    found = (frozenset((one.id, partner[one.id])) for one in job.circuits if one.tied and one.id in partner)
    return tuple(dict.fromkeys(found))
