"""The boxes, runs and panel of a house as one network of wires, as found or as planned; and what nobody has entered."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from ...model.answer import Text
from ...model.box import Box, Device, Equipment
from ...model.job import Job, by_id
from ...model.load import Load
from ...model.panel import partners, second_pole
from ...model.run import BoxEnd, CircuitEnd, OnwardEnd, Run
from ...model.splice import (
    BondEnd,
    ConductorEnd,
    End,
    FixtureEnd,
    GroundEnd,
    LeadEnd,
    PigtailEnd,
    Splice,
    conductor_end,
)
from ...model.wire import Cable
from ...rules.load.draw import drawn
from ...text.device import item_name
from .colors import Wire, outward, pairs_of, wires_of
from .gear import (
    gear_of,
    grounds_of,
    halves_of,
    idle_gear,
    is_split,
    needs_of,
    sources_of,
    tied,
    two_hots,
    with_controls,
)
from .network import CableWires, Gear, Joined, Loose, NetLoad, Network, Node, Pair, Yoke
from .stages import (
    Stage,
    beside_it,
    cables_at,
    contents_at,
    far_end,
    goes_out_with,
    is_grounded,
    is_grounded_by_sheath,
    node_of,
    not_known,
    switched_at,
    switched_half,
    way_to,
)
from .unsaid import (
    Feeds,
    Unsaid,
    beyond_not_known,
    colors_not_seen,
    feed_not_followed,
    ground_not_picked,
    in_no_splice,
    ways_not_said,
)


@dataclass(slots=True)
class Graph:
    """A network, and what its nodes are."""

    network: Network
    unsaid: list[Unsaid]
    names: dict[Node, Text]
    """What people call each node: cable B, black; gang 2, load."""
    box_of: dict[Node, str]
    """The box each node lies in; each device and each load too, by its id."""
    end_of: dict[Node, End]
    """The end each node is, where it is one of a box."""
    wire_of: dict[Node, Wire] = field(default_factory=dict)
    """The conductor each node is."""
    gear_names: dict[str, str] = field(default_factory=dict)
    """What people call each device."""
    load_names: dict[str, str] = field(default_factory=dict)
    """What people call each load."""
    box_names: dict[str, str] = field(default_factory=dict)

    def wires_by_box(self) -> dict[str, dict[str, Wire]]:
        """The conductors of every box, by what they are called there."""
        found: dict[str, dict[str, Wire]] = {}
        for node, wire in self.wire_of.items():
            found.setdefault(self.box_of[node], {})[wire.id] = wire
        return found

    def wires_in(self, box: str) -> dict[str, Wire]:
        """The conductors of a box, by what they are called there."""
        return {wire.id: wire for node, wire in self.wire_of.items() if self.box_of[node] == box}


MOST_GRAPHS = 32
"""Of how many jobs the graph is remembered: a value of a value, asked for again at every throw of a switch."""
FEW_BOXES = 40
"""Of a job with more boxes the graph is made again each time: to remember it would take more than to make it."""


def graph(job: Job, stage: Stage = "planned") -> Graph:
    """The boxes of a job, with what leads to and from them, as one network.

    Args:
        job: with those boxes and runs that are wired together; others do not hurt.
        stage: as found, or as planned.
    """
    return remembered(job, stage) if len(job.boxes) <= FEW_BOXES else _Maker(job, stage).made()


@lru_cache(maxsize=MOST_GRAPHS)
def remembered(job: Job, stage: Stage) -> Graph:
    """As [graph][nail_count.trade.wiring.hookup.graph.graph], of a job asked for again and again."""
    return _Maker(job, stage).made()


class _Maker:
    """Puts a network together, box by box and run by run."""

    def __init__(self, job: Job, stage: Stage) -> None:
        self.job, self.stage = job, stage
        self.sheets = by_id(job.sheets)
        self.boxes = {box.id: box for box in job.boxes}
        self.joined: list[Pair] = []
        self.spliced: list[Pair] = []
        """What splices join, each in its box."""
        self.cables: list[CableWires] = []
        self.gear: list[Gear] = []
        self.loads: list[NetLoad] = []
        self.grounds: list[Node] = []
        self.floating: list[Node] = []
        self.loose: list[Loose] = []
        self.through: list[Node] = []
        self.yokes: list[Yoke] = []
        self.carries: dict[Node, Fraction] = {}
        self.unsaid: list[Unsaid] = []
        self.names: dict[Node, Text] = {}
        self.box_of: dict[Node, str] = {}
        self.end_of: dict[Node, End] = {}
        self.wire_of: dict[Node, Wire] = {}
        self.gear_names: dict[str, str] = {}
        self.load_names: dict[str, str] = {}

    def made(self) -> Graph:
        """The network."""
        for box in self.job.boxes:
            self._box(box)
        for run in self.job.fed_runs:
            self._run(run)
        feeds, lit = Feeds(self.job, self.stage), {load.one for load in self.loads}
        for box in self.job.boxes:
            self.unsaid += ways_not_said(self.job, box, self.stage, lit)
            if box.id in feeds.hooked:
                self.unsaid += feed_not_followed(box, feeds)
                self._waiting(box, feeds)
        sources = sources_of(self.job)
        for source in sources:
            pole = ", its other pole" if source.pole_of else ""
            self.names[source.hot] = (f"breaker {source.breaker}{pole}",)
            self.names.setdefault(source.neutral, (f"neutral of circuit {source.breaker}",))
        grounds = frozenset(self.grounds)
        network = Network(
            sources,
            (*self.spliced, *self.joined),
            tuple(self.cables),
            tuple(self.gear),
            tuple(self.loads),
            tuple(self.grounds),
            tuple(self._grounds_apart(feeds.hooked)),
            floating=tuple(self.floating),
            loose=tuple(self.loose),
            through=tuple(self.through),
            insulated=tuple(node for node in self.end_of if node not in grounds),
            yokes=tuple(self.yokes),
            tied=tied(self.job),
            rings=self.job.terms.region.rings,
            carries=self.carries,
        )
        network = with_controls(network)
        senders = [
            f"{box.id}/{item.id}"
            for box in self.job.boxes
            for item in contents_at(box, self.stage).equipment
            if item.commands
        ]
        for gear in idle_gear(network, senders):
            if gear.kind != "protector":
                text: Text = (f"{self.gear_names[gear.id]}: nothing is known that it switches",)
                self.unsaid.append(Unsaid(self.box_of[gear.id], "switches-nothing", text, gear.id))
        return Graph(
            network,
            self.unsaid,
            self.names,
            self.box_of,
            self.end_of,
            self.wire_of,
            self.gear_names,
            self.load_names,
            {box.id: box.name for box in self.job.boxes},
        )

    def _grounds_apart(self, hooked: Collection[str]) -> Iterator[Node]:
        """The grounds of each hooked-up box that its own splices do not join with most of its others."""
        inside, by_box = Joined(self.spliced), dict[str, list[Node]]()
        for node in self.grounds:
            if self.box_of[node] in hooked:
                by_box.setdefault(self.box_of[node], []).append(node)
        for nodes in by_box.values():
            roots = [inside.find(node) for node in nodes]
            most = max(roots, key=roots.count)
            yield from (node for node, root in zip(nodes, roots, strict=True) if root != most)

    # a box

    def _box(self, box: Box) -> None:
        contents = contents_at(box, self.stage)
        for cable in cables_at(box, self.stage):
            self._cable(box, cable)
        self.unsaid += colors_not_seen(box, self.stage)
        for item in contents.equipment:
            self._item(box, item)
        grounded = is_grounded(box, self.stage)
        if box.enclosure.material == "metal":
            bond = self._end(box.id, BondEnd(), ("the metal box",), ground=grounded)
            if not grounded:
                self.floating.append(bond)
            elif is_grounded_by_sheath(box, self.stage):
                self.joined.append((bond, "ground"))
        if not grounded:
            self.unsaid += ground_not_picked(box, self.stage, self.sheets)
        for splice in contents.splices:
            self._splice(box, splice)
        spliced = {end for splice in contents.splices for end in splice.ends}
        if cables_at(box, self.stage) and not spliced:
            self.unsaid.append(Unsaid(box.id, "not-hooked-up", (f"{box.name}: not hooked up yet",)))
        for cable in cables_at(box, self.stage):
            for id in cable.conductor_ids:
                if conductor_end(id) not in spliced:
                    self.loose.append(Loose(f"{box.id}/{id}", False))
        self.unsaid += in_no_splice(box, self.stage, self.sheets, self.names)

    def _cable(self, box: Box, cable: Cable) -> None:
        wires = wires_of(cable, self.job.terms.colors)
        for wire in wires:
            node = self._end(box.id, conductor_end(wire.id), (f"{wire.id}, {wire.color or 'color not known'}",))
            self.wire_of[node] = wire
        if cable.grounds:
            self._end(box.id, GroundEnd(cable=cable.id), (f"ground of {cable.id}",), ground=True)

    def _end(self, box: str, end: End, name: Text, ground: bool = False) -> Node:
        node = node_of(box, end)
        self.names[node], self.box_of[node], self.end_of[node] = name, box, end
        if ground:
            self.grounds.append(node)
        return node

    def _item(self, box: Box, item: Equipment) -> None:
        sheet = self.sheets[item.sheet]
        called = item_name(item, contents_at(box, self.stage).equipment, self.sheets)
        id = f"{box.id}/{item.id}"
        self.gear_names[id], self.box_of[id] = f"{box.name}, {called}", box.id
        leads = []
        for number, terminal in enumerate(sheet.terminals, 1):
            leads.append(self._end(box.id, LeadEnd(of=item.id, terminal=number), (f"{called}: {terminal.role}",)))
            if terminal.most is not None:
                self.carries[leads[-1]] = terminal.most.value
        if isinstance(item, Device) and leads:
            self.yokes.append(Yoke(id, tuple(leads)))
        if not sheet.terminals and sheet.kind not in ("blank", "remote"):
            text: Text = (f"{box.name}: the sheet of {sheet.name} names no terminals",)
            self.unsaid.append(Unsaid(box.id, "no-terminals", text, item.sheet))
        (self.grounds if is_grounded(box, self.stage) else self.floating).extend(grounds_of(box.id, item, sheet))
        circuit = box.circuit_of(item)
        if gear := gear_of(box.id, item, sheet, self.sheets, circuit):
            self.gear.append(gear)
        elif sheet.terminals and sheet.kind not in ("blank", "remote", "receptacle"):
            text = (
                f"{box.name}: by its terminals {sheet.name} is nothing known, and no other sheet wants it beside it",
            )
            self.unsaid.append(Unsaid(box.id, "not-understood", text, id))
        halves = halves_of(box.id, item, sheet)
        for need in needs_of(box.id, item, sheet, bool(switched_at(self.job, box.id))):
            self.box_of[need.id], self.load_names[need.id] = box.id, f"whatever is plugged in at {called}"
            self.loads.append(need)
        neutrals = [neutral for _, neutral in halves]
        self.joined += [(neutrals[0], other) for other in neutrals[1:]]
        if not is_split(item):
            self.joined += [(halves[0][0], line) for line, _ in halves[1:]]
        for load in item.loads:
            self._load(box, load, item.name, circuit)

    def _splice(self, box: Box, splice: Splice) -> None:
        nodes = [node_of(box.id, end) for end in splice.ends]
        self.spliced += [(nodes[0], other) for other in nodes[1:]]
        if splice.connector is None and len(nodes) > 2:
            self.through.append(nodes[0])
        first = splice.ends[0] if len(splice.ends) == 1 else None
        if isinstance(first, ConductorEnd):
            letters = [cable.id for cable in box.cables if first.of in cable.conductor_ids]
            feed = any(isinstance(far_end(self.job, box.id, one), CircuitEnd) for one in letters)
            self.loose.append(Loose(nodes[0], True, feed or not_known(self.job, box, self.stage)))
        for end in splice.ends:
            if isinstance(end, PigtailEnd):
                self._jumper(box, splice, end)

    def _jumper(self, box: Box, splice: Splice, end: PigtailEnd) -> None:
        """A wire between two splices: it has an end in both, or joins nothing."""
        for other in contents_at(box, self.stage).splices:
            back = any(isinstance(one, PigtailEnd) and one.to == splice.id for one in other.ends)
            if other.id == end.to and back:
                self.spliced.append((node_of(box.id, end), node_of(box.id, other.ends[0])))

    # loads

    def _load(self, box: Box, load: Load, device: str, circuit: str | None) -> None:
        id, called = f"{box.id}/{load.id}", load.name or device or load.kind
        legs: Literal[1, 2] = 2 if two_hots(self.job, circuit) else 1
        amps = drawn(load, "A", self.job.terms.voltage * legs, self.job.terms.assume).total
        self.load_names[id], self.box_of[id] = called, box.id
        if load.outlet in self.boxes and (half := switched_half(self.job, self.boxes[load.outlet], load, self.stage)):
            self.loads.append(NetLoad(id, *half, circuit, legs, amps=amps))
            return
        if load.outlet in self.boxes:
            has_ground = any(cable.grounds for cable in cables_at(self.boxes[load.outlet], self.stage))
            hot, neutral = (
                self._end(load.outlet, FixtureEnd(box=box.id, load=load.id, side=side), (f"{called}: {words}",))
                for side, words in (("hot", "hot"), ("neutral", "neutral" if legs == 1 else "the other hot"))
            )
            if has_ground:
                end = FixtureEnd(box=box.id, load=load.id, side="ground")
                self._end(load.outlet, end, (f"{called}: ground",), ground=True)
            self.loads.append(NetLoad(id, hot, neutral, circuit, legs, amps=amps))
            return
        cable = way_to(self.job, box, load, self.stage)
        wires = outward(cable, self.job.terms.colors) if cable else ()
        hots = [wire.id for wire in wires if not wire.neutral]
        neutral_wire = next((wire.id for wire in wires if wire.neutral), None)
        place = beside_it(self.job, box, load, self.stage)
        if cable is None or neutral_wire is None or place >= len(hots):
            text: Text = (f"{box.name}: which cable leads to {called} is not known",)
            self.unsaid.append(Unsaid(box.id, "load-not-found", text))
            return
        self.loads.append(NetLoad(id, f"{box.id}/{hots[place]}", f"{box.id}/{neutral_wire}", circuit, legs, amps=amps))

    # runs

    def _run(self, run: Run) -> None:
        near = [end for end in (run.one, run.other) if isinstance(end, BoxEnd) and end.box in self.boxes]
        known = [(self.boxes[end.box], cable) for end in near if (cable := self._cable_at(end)) is not None]
        if len(known) == 2:
            self._between(run.id, *known)
        elif len(near) == 1 and known:
            other = run.other if run.one == near[0] else run.one
            self._outward(run.id, *known[0], other)

    def _cable_at(self, end: BoxEnd) -> Cable | None:
        box = self.boxes[end.box]
        if end.cable is None:
            return None
        return next((cable for cable in cables_at(box, self.stage) if cable.id == end.cable), None)

    def _between(self, id: str, one: tuple[Box, Cable], other: tuple[Box, Cable]) -> None:
        (a, cable_a), (b, cable_b) = one, other
        pairs = pairs_of(one, other, self.job.terms.colors)
        if cable_a.insulated != cable_b.insulated or cable_a.gauge != cable_b.gauge:
            text: Text = (f"cable {cable_a.id} of {a.name} is {cable_a.size}, and {cable_b.size} in {b.name}",)
            self.unsaid.append(Unsaid(a.id, "ends-differ", text))
        if pairs is None:
            text = (f"cable {cable_a.id} of {a.name}: its wires do not pair with those in {b.name}",)
            self.unsaid.append(Unsaid(a.id, "wires-do-not-pair", text))
            return
        wires = tuple((f"{a.id}/{x}", f"{b.id}/{y}") for x, y in pairs)
        self.cables.append(CableWires(id, wires))
        if cable_a.grounds and cable_b.grounds:
            self.joined.append((f"{a.id}/{cable_a.id}.g", f"{b.id}/{cable_b.id}.g"))

    def _outward(self, id: str, box: Box, cable: Cable, far: object) -> None:
        wires = outward(cable, self.job.terms.colors)
        hots = [f"{box.id}/{wire.id}" for wire in wires if not wire.neutral]
        neutral = next((f"{box.id}/{wire.id}" for wire in wires if wire.neutral), None)
        ground = f"{box.id}/{cable.id}.g"
        if isinstance(far, CircuitEnd):
            self._from_panel(id, box, far, hots, neutral)
            self.joined += [(ground, "ground")] if cable.grounds else []
        elif isinstance(far, OnwardEnd):
            self._goes_on(box, cable, goes_out_with(self.job, box, cable) or (None,))

    def _goes_on(self, box: Box, cable: Cable, circuits: Sequence[str | None]) -> None:
        """What a cable goes on to is fed in every position, by each of these circuits."""
        wires = outward(cable, self.job.terms.colors)
        neutral = next((wire.id for wire in wires if wire.neutral), None)
        for circuit, hot in zip(circuits, (wire.id for wire in wires if not wire.neutral), strict=False):
            if neutral is not None:
                name = f"{box.id}/onward {cable.id}{hot if circuit != circuits[0] else ''}"
                self.load_names[name], self.box_of[name] = f"what cable {cable.id} of {box.name} goes on to", box.id
                legs: Literal[1, 2] = 2 if two_hots(self.job, circuit) else 1
                ends = (f"{box.id}/{hot}", f"{box.id}/{neutral}")
                self.loads.append(NetLoad(name, *ends, circuit, legs, always=True))

    def _waiting(self, box: Box, feeds: Feeds) -> None:
        """Boxes that nobody hooked up yet: their feed goes on, or it is open what the cable there carries."""
        loads = [load for item in contents_at(box, self.stage).equipment for load in item.loads]
        for letter, beyond, is_fed in feeds.waiting(box):
            if any(beyond.id == load.outlet or (load.outlet is None and letter == load.cable) for load in loads):
                continue
            circuits = feeds.circuits_beyond(box, beyond)
            if circuits is not None and is_fed:
                cable = next(one for one in cables_at(box, self.stage) if one.id == letter)
                self._goes_on(box, cable, circuits)
            elif is_fed or (circuits is None and feeds.lacking(box) is None):
                self.unsaid.append(beyond_not_known(box, letter, beyond))

    def _from_panel(self, id: str, box: Box, far: CircuitEnd, hots: list[Node], neutral: Node | None) -> None:
        circuits = {one.id: one for one in self.job.circuits}
        circuit = circuits.get(far.circuit or "")
        if circuit is None:
            text: Text = (f"{box.name}: which circuit its feed comes from is not known",)
            self.unsaid.append(Unsaid(box.id, "feed-not-said", text))
            return
        if circuit.poles == 2 and circuit.serves != "one load":
            text = (
                f"{box.name}: breaker {circuit.id} has two poles. If it feeds one load, record that; if not, enter the"
                " two sides of the multiwire circuit as two that share a neutral",
            )
            self.unsaid.append(Unsaid(box.id, "two-poles", text))
        wires: list[Pair] = []
        others = [one for one in box.circuits if one == partners(self.job.circuits).get(circuit.id)]
        if two_hots(self.job, circuit.id):
            others = [second_pole(circuit.id)]
            if len(hots) == 1 and neutral is not None:  # two wires: the white is the other hot, re-marked
                hots, neutral = [*hots, neutral], None
        for hot, of in zip(hots, (circuit.id, *others), strict=False):
            wires.append((hot, f"panel/{of}"))
        if neutral is not None:
            wires.append((neutral, next(one.neutral for one in sources_of(self.job) if one.circuit == circuit.id)))
        self.cables.append(CableWires(id, tuple(wires)))
