"""What joins what, proposed: the ways of the trade tried one by one, and the first that is proven is offered."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice, product

from ...model.answer import Text
from ...model.box import Box
from ...model.job import Job
from ...model.run import BoxEnd
from ...model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd, Splice
from ...text.device import item_name
from ...text.format import and_list
from .findings import Mending, said
from .graph import graph
from .nets import Link, Net, Place, Wanted, carried, conductors, links_of
from .network import Joined, Network, wired
from .proof import SHORTS, Proof, prove
from .spread import Spread, spread
from .stages import far_end, goes_on_with, has_terminals, is_grounded, not_known
from .unsaid import Feeds, Unsaid
from .wanted import AT_END, Plan, Scheme
from .work import is_screw, splices_for

MOST_WAYS = 64
"""How many ways are tried over all devices of a circuit."""


WAYS_OUT = ("another device", "the device at the other end", "a module at the outlet", "a cable with more wires")


@dataclass(frozen=True, slots=True)
class Proposal:
    """What joins what in the boxes it reaches, and how it was proven."""

    splices: dict[str, tuple[Splice, ...]]
    """By box."""
    ways: tuple[str, ...]
    """Which ways of the trade it takes, where there are several."""
    proof: Proof


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why nothing is proposed."""

    reasons: tuple[Text, ...]
    ways_out: tuple[str, ...] = ()


def propose(job: Job, box: str) -> Proposal | Refusal:
    """What joins what in a box, and in those that must agree with it.

    Args:
        job: with every box and run on the same circuits.
        box: key of the box it is asked for.
    """
    plan = Plan(job, links_of(job))
    reach = _group(plan, box)
    mains = sorted(plan.mains, key=lambda main: main.box.id not in reach)
    options = [list(plan.ways_of(main)) for main in mains]
    for place, main in enumerate(mains):
        if main.box.id not in reach:  # of what has nothing to do with this box, only what its wires must carry matters
            options[place] = [_fitting(plan, options[place])]
        elif end := plan.at_wrong_end(main):
            text: Text = (f"{main.box.name}: {main.sheet.name} must go {AT_END[end]}",)
            return Refusal((text,), ("put it at the other place", "another device"))
        elif not options[place]:
            text = (f"{main.box.name}: {main.sheet.name} shares its lamp with no other known switch",)
            return Refusal((text,), ("say where the cable to the other switch goes", "put that switch into its box"))
    if lacking := _lacking(plan, reach):
        return lacking
    refused: list[Refusal] = []
    for chosen in islice(product(*options), MOST_WAYS):
        wanted = plan.common()
        for _, put in chosen:
            put(wanted)
        names = tuple(name for (name, _), main in zip(chosen, mains, strict=True) if name and main.box.id in reach)
        first = _tried(plan, plan.with_feeds(wanted), reach, names)
        if isinstance(first, Proposal):
            return first
        over = spread(plan, list(zip(mains, chosen, strict=True)))
        second = _tried(plan, over.wanted, reach, names, over) if over else first
        if isinstance(second, Proposal):
            return second
        refused.append(first)
    return refused[0]


def _tried(
    plan: Plan, wanted: Wanted, reach: frozenset[str], names: tuple[str, ...], over: Spread | None = None
) -> Proposal | Refusal:
    """The joints wanted, laid into the runs and proven."""
    made = _laid(plan, wanted, reach, over)
    if isinstance(made, Refusal):
        return made
    seen = graph(_with(plan.job, made), "planned")
    base = wired(seen.network)
    if across := tuple(_switches_across(plan.job, made, seen.network, base)):
        return Refusal(across, SWITCH_FIRST)
    proof, mending = prove(seen.network), Mending(seen, base)
    mine = [one for one in proof.findings if one.rule == SHORTS or mending.concerns(one, reach)]
    idle = [one for one in seen.unsaid if one.box in made and _must(plan, one)]
    if not (mine or idle or proof.too_many):
        return Proposal(made, names, proof)
    reasons = [said(one, seen).text for one in mine[:3]] or [one.text for one in idle]
    return Refusal(tuple(reasons) or (("more states than are tried",),), WAYS_OUT)


SWITCH_FIRST = (
    "record how that switch is wired, and plan its hook-up first",
    "take that switch out and put a battery remote in its place",
    "a module with an input, so that the old switch can stay",
)


def _switches_across(job: Job, made: dict[str, tuple[Splice, ...]], network: Network, base: Joined) -> Iterator[Text]:
    """The switches nobody hooked up that would sit across hot and neutral of the cable they are on."""
    feeds = Feeds(_with(job, made), "planned")
    hots = {base.find(source.hot) for source in network.sources}
    neutrals = {base.find(source.neutral) for source in network.sources}
    for key in made:
        for cable, beyond, _ in feeds.waiting(feeds.boxes[key]):
            (entering,) = (one for one in feeds.boxes[key].cables if one.id == cable)
            at = {base.find(f"{key}/{id}") for id in entering.conductor_ids}
            if feeds.switches_its_cable(feeds.boxes[key], beyond) and at & hots and at & neutrals:
                yield (f"{beyond.name}: the switch there would join hot and neutral, a dead short once it closes",)


def _fitting(plan: Plan, ways: Sequence[Scheme]) -> Scheme:
    """The first way for which the runs have the wires; the first where none fits; one that wants nothing of none."""
    for way in ways if len(ways) > 1 else ():
        wanted = Wanted()
        way[1](wanted)
        carries, _ = carried(plan.routes, plan.with_feeds(wanted))
        if all(conductors(link, carries[link.id]) is not None for link in plan.links):
            return way
    return ways[0] if ways else ("", lambda _: None)


def group_of(job: Job, box: str) -> frozenset[str]:
    """The boxes that share a lamp or a place of control with a box, and it."""
    return _group(Plan(job, links_of(job)), box)


def groups(job: Job) -> tuple[frozenset[str], ...]:
    """The boxes of a job in groups that share lamps or places of control; each box is in one, alone at least."""
    plan, together = Plan(job, links_of(job)), Joined()
    for main in plan.mains:
        for key in plan.together(main):
            together.join(key, main.box.id)
    found: dict[str, set[str]] = {}
    for box in job.boxes:
        found.setdefault(together.find(box.id), set()).add(box.id)
    return tuple(frozenset(one) for one in found.values())


def _lacking(plan: Plan, reach: frozenset[str]) -> Refusal | None:
    """Refuse while the breaker, or the place of a load, isn't known; None where both are."""
    unfed = [main.box.name for main in plan.mains if main.box.id in reach and not plan.circuit(main)]
    if unfed:
        text: Text = (f"the breaker of {and_list(tuple(dict.fromkeys(unfed)))} isn't known",)
        return Refusal((text,), ("find the breaker first, or enter it",))
    unknown = tuple(_unknown(plan, reach))
    return Refusal(unknown, ("say which cable leads there, or at which outlet it hangs",)) if unknown else None


def _unknown(plan: Plan, reach: frozenset[str]) -> Iterator[Text]:
    """Yield a reason for each load nobody placed, and for each module nobody gave something to control."""
    for one in plan.placed:
        idle = not (one.item.loads or one.item.commands)
        needs = ("module",) if any(main.box.id in reach for main in plan.mains) else ("module", "switch", "powered")
        if plan.kinds.get(one.id) in needs and one.box.id in reach and idle:
            yield (f"{one.box.name}: enter what {item_name(one.item, one.box.equipment, plan.sheets)} controls",)
    for main in plan.mains:
        for load in main.item.loads:
            if main.box.id in reach and plan.place_of(main, load) is None:
                called = load.name or main.item.name or load.kind
                yield (f"{main.box.name}: which cable leads to {called} is not known",)


def _must(plan: Plan, unsaid: Unsaid) -> bool:
    """Whether a device has no other use than one not known of it: a place of control of a lamp elsewhere."""
    far = ("three-way", "four-way", "companion")
    idle = unsaid.code == "switches-nothing" and plan.kinds.get(unsaid.of) in far
    return idle or unsaid.code == "not-understood"


def _group(plan: Plan, box: str) -> frozenset[str]:
    """The boxes that must agree: those that share a lamp or a place of control with this one, or with one of them.

    A device and what it works over the network are one piece of work too.
    """
    reach, before = {box}, set[str]()
    every = [plan.together(main) for main in plan.mains]
    every += [{one.box.id, one.item.commands.partition("/")[0]} & plan.boxes.keys() for one in plan.senders]
    while reach != before:
        before = set(reach)
        reach = reach.union(*(together for together in every if together & reach))
    return frozenset(reach)


def _reached(plan: Plan, carries: dict[str, list[Net]], reach: frozenset[str]) -> frozenset[str]:
    """With the boxes their wires pass through, and those on the way from the panel where nobody has joined anything."""
    mains = {main.id for main in plan.mains if main.box.id in reach}
    bare = {box.id for box in plan.boxes.values() if not any(splice.ends for splice in box.splices)}
    for link in plan.links:
        if any(net.by in mains for net in carries[link.id]):
            reach |= link.boxes
    for panel in {plan.panel(circuit.id) for circuit in plan.job.circuits}:
        way = plan.routes.ways(panel)
        reach |= {box for at in reach for link in way.get(Place(at), ()) for box in link.boxes & bare}
    idle = {
        id
        for id in bare
        if not has_terminals(plan.job, plan.boxes[id], "planned") and not not_known(plan.job, plan.boxes[id], "planned")
    }
    for link in plan.links:  # what a cable no longer needed leads to: its wires are capped there too
        if not carries[link.id] and link.boxes & reach:
            reach |= link.boxes & idle
    return reach


def _fed_on(plan: Plan, wanted: Wanted, carries: dict[str, list[Net]], reach: frozenset[str]) -> bool:
    """Wants the feed of neighbors nobody hooked up, to which no cable carries anything yet: none is cut off.

    Returns:
        Whether there are any.
    """
    found = False
    for link in plan.links:
        for near, far in ((link.one, link.other), (link.other, link.one)):
            if carries[link.id] or not (near.box and far.box) or near.cable or far.cable:
                continue
            at, nets = plan.boxes[far.box], set[Net]()
            is_settled = far.box in reach or any(splice.ends for splice in at.splices)
            if is_settled and not not_known(plan.job, at, "planned"):
                continue
            for circuit in goes_on_with(plan.job, plan.boxes[near.box], at, "planned"):
                both = (plan.hot(circuit), plan.returns(circuit))
                if len(nets.union(both)) <= len(link.wires):
                    nets.update(both)
                    found = True
                    for net in both:
                        wanted.put(net, plan.panel(circuit))
                        wanted.put(net, far)
    return found


def _laid(
    plan: Plan, wanted: Wanted, reach: frozenset[str], over: Spread | None = None
) -> dict[str, tuple[Splice, ...]] | Refusal:
    """The splices of the boxes it reaches, where every run has a conductor for what it must carry."""
    instead = over.links if over else None
    carries, lost = carried(plan.routes, wanted, instead)
    if _fed_on(plan, wanted, carries, reach):
        carries, lost = carried(plan.routes, wanted, instead)
    reach = _reached(plan, carries, reach)
    reasons: list[Text] = [_lost(plan, net, place) for net, place in lost if place.box in reach]
    given: dict[str, dict[Net, str]] = {}
    for link in plan.links:
        found = conductors(link, carries[link.id])
        if found is None:
            if link.boxes & reach:
                reasons.append(_short_of(plan, link, carries[link.id]))
            continue
        given[link.id] = {net: wire.id for net, wire in found.items()}
    if reasons:
        return Refusal(tuple(dict.fromkeys(reasons)), WAYS_OUT)
    near = over.near if over else {}
    return {
        id: _splices(plan, box, wanted, given=given, reach=reach, near=near)
        for id, box in plan.boxes.items()
        if id in reach
    }


def _splices(
    plan: Plan,
    box: Box,
    wanted: Wanted,
    *,
    given: dict[str, dict[Net, str]],
    reach: frozenset[str],
    near: Mapping[str, Place],
) -> tuple[Splice, ...]:
    groups: dict[tuple[str, str], list[End]] = {}
    """By what it is called, and what it is of."""
    used: set[End] = set()

    def put(name: str, of: str, ends: Sequence[End]) -> None:
        groups.setdefault((name, of), []).extend(ends)
        used.update(ends)

    def which(net: Net) -> str:
        """What it is of; apart from its like where it came by a cable of its own."""
        return f"{net.of} by {net.via}" if net.via and near.get(net.via) != Place(box.id) else net.of

    put("ground", "", list(_grounds(plan, box)))
    for link in plan.links:
        side = 0 if link.one == Place(box.id) else 1 if link.other == Place(box.id) else None
        if side is None:
            continue
        for net, wire in given[link.id].items():
            put(net.kind, which(net), [ConductorEnd(of=link.ids[side][wire])])
    for net, places in wanted.at.items():
        put(net.kind, which(net), places.get(Place(box.id), []))
    both = [(name, ends) for (name, _), ends in groups.items() if len(ends) > 1]
    waits = [("cap", ends) for ends in groups.values() if len(ends) == 1 and isinstance(ends[0], ConductorEnd)]
    spare = [("cap", [ConductorEnd(of=id)]) for id in _spare(plan, box, used, reach, given)]
    leads = [("cap", [end]) for end in _unused_leads(plan, box, used)]
    return splices_for(box, [*both, *waits, *spare, *leads], plan.sheets)


def _grounds(plan: Plan, box: Box) -> Iterator[End]:
    if not is_grounded(box, "planned"):
        return
    for cable in box.entering:
        if cable.grounds:
            yield GroundEnd(cable=cable.id)
    for item in box.contents.equipment:
        for number, terminal in enumerate(plan.sheets[item.sheet].terminals, 1):
            if terminal.role == "ground":
                yield LeadEnd(of=item.id, terminal=number)
    if box.enclosure.material == "metal":
        yield BondEnd()
    for main in plan.mains:
        for load in main.item.loads:
            plugged = load.kind == "receptacle" and any(
                plan.sheets[i.sheet].kind == "receptacle" for i in box.equipment
            )
            if load.outlet == box.id and not plugged:
                yield FixtureEnd(box=main.box.id, load=load.id, side="ground")


def _spare(
    plan: Plan, box: Box, used: set[End], reach: frozenset[str], given: Mapping[str, Mapping[Net, str]]
) -> Iterator[str]:
    """Conductors that carry nothing, of cables whose far end is known: capped at both ends, never cut off.

    A cable that carries nothing is left where what it leads to may need something that nobody entered, and has no feed
    by another cable.
    """
    for cable in box.entering:
        far = far_end(plan.job, box.id, cable.id)
        spare = [id for id in cable.conductor_ids if ConductorEnd(of=id) not in used]
        at = plan.boxes.get(far.box) if isinstance(far, BoxEnd) and len(spare) == cable.insulated else None
        if far is not None and not (at and _may_need(plan, at, reach) and not _is_fed(plan, at, given)):
            yield from spare


def _is_fed(plan: Plan, box: Box, given: Mapping[str, Mapping[Net, str]]) -> bool:
    """Whether the hot of every circuit of a box comes to it by some cable."""
    links = (link for link in plan.links if box.id in link.boxes)
    hots = {net.of for link in links for net in given.get(link.id, ()) if net.kind == "hot"}
    return bool(box.circuits) and hots.issuperset(box.circuits)


def _may_need(plan: Plan, box: Box, reach: frozenset[str]) -> bool:
    """Tell whether a box may need more than is recorded: nothing is known of it, or its devices are not hooked up."""
    is_bare = box.id not in reach and not any(splice.ends for splice in box.splices)
    return not_known(plan.job, box, "planned") or (is_bare and has_terminals(plan.job, box, "planned"))


def _unused_leads(plan: Plan, box: Box, used: set[End]) -> Iterator[End]:
    for item in box.contents.equipment:
        for number, _ in enumerate(plan.sheets[item.sheet].terminals, 1):
            end = LeadEnd(of=item.id, terminal=number)
            if end not in used and not is_screw(box, end, plan.sheets):
                yield end


def _with(job: Job, splices: dict[str, tuple[Splice, ...]]) -> Job:
    boxes = tuple(box.changed(splices=splices[box.id]) if box.id in splices else box for box in job.boxes)
    return job.changed(boxes=boxes)


def _name(plan: Plan, place: Place) -> str:
    if place.circuit:
        return "the panel"
    box = plan.boxes[place.box].name
    return f"the far end of cable {place.cable} of {box}" if place.cable else box


def _lost(plan: Plan, net: Net, place: Place) -> Text:
    return (f"{net.words} does not reach {_name(plan, place)}: no known run leads there",)


def _short_of(plan: Plan, link: Link, nets: Sequence[Net]) -> Text:
    """A run that has fewer conductors than it would need."""
    needs = ", ".join(net.words for net in sorted(nets))
    one, other, has = _name(plan, link.one), _name(plan, link.other), len(link.wires)
    return (f"from {one} to {other} there are {has} wires, and {len(nets)} are needed: {needs}",)
