"""What joins what, proposed: the ways of the trade tried one by one, and the first that is proven is offered."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice, product

from ...model.answer import Text
from ...model.box import Box
from ...model.job import Job
from ...model.run import BoxEnd, CircuitEnd, OnwardEnd, WordsEnd
from ...model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd, Splice
from .colors import paired, wires_of
from .graph import Unsaid, far_end, graph
from .nets import Link, Missing, Net, Place, Wanted, carried, conductors, ways
from .proof import Proof, prove
from .splices import is_screw, splices_for
from .wanted import Plan
from .words import said

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


def links_of(job: Job, owner: dict[str, str]) -> tuple[Link, ...]:
    """The runs of a job as ways between places."""
    boxes, made = {box.id: box for box in job.boxes}, []
    code = job.terms.colors
    for run in job.runs:
        ends = [end for end in (run.one, run.other) if isinstance(end, BoxEnd) and end.box in boxes and end.cable]
        if not ends or (cable := boxes[ends[0].box].cable(ends[0].cable or "")) is None:
            continue
        here = boxes[ends[0].box]
        if cable not in here.entering:
            continue
        wires = wires_of(cable, code)
        same = {wire.id: wire.id for wire in wires}
        far = run.other if run.one == ends[0] else run.one
        if len(ends) == 2:
            there = boxes[ends[1].box]
            other = there.cable(ends[1].cable or "")
            pairs = paired(wires, wires_of(other, code)) if other in there.entering and other else None
            if pairs is not None:
                made.append(
                    Link(run.id, here.id, there.id, wires, (same, dict(pairs)), returns_on_neutral=code != "US")
                )
        elif isinstance(far, CircuitEnd) and far.circuit is not None:
            panel = f"panel {owner.get(far.circuit, far.circuit)}"
            made.append(Link(run.id, here.id, panel, wires, (same, same), far.circuit, from_panel=True))
        elif isinstance(far, OnwardEnd | WordsEnd):
            made.append(Link(run.id, here.id, f"{here.id}/{cable.id}", wires, (same, same)))
    return tuple(made)


def propose(job: Job, box: str) -> Proposal | Refusal:
    """What joins what in a box, and in those that must agree with it.

    Args:
        job: with every box and run on the same circuits.
        box: key of the box it is asked for.
    """
    links = links_of(job, Plan(job, ()).owner)
    plan = Plan(job, links)
    reach = _group(plan, box)
    mains = sorted(plan.mains, key=lambda main: main.box.id not in reach)
    options = [list(plan.ways_of(main)) for main in mains]
    for place, main in enumerate(mains):
        if main.box.id not in reach:  # of what has nothing to do with this box, only what its wires must carry matters
            options[place] = options[place][:1] or [("", lambda _: None)]
        elif end := plan.at_wrong_end(main):
            text: Text = (f"{main.box.name}: by its sheet {main.sheet.name} stands at the {end}",)
            return Refusal((text,), ("put it at the other place", "another device"))
        elif not options[place]:
            text = (f"{main.box.name}: {main.sheet.name} shares its lamp with no other switch that was said",)
            return Refusal((text,), ("say where the cable to the other switch goes", "put that switch into its box"))
    if unknown := tuple(_unknown(plan, reach)):
        return Refusal(unknown, ("say which cable leads there, or at which outlet it hangs",))
    refused: list[Refusal] = []
    for chosen in islice(product(*options), MOST_WAYS):
        wanted = plan.common()
        for _, put in chosen:
            put(wanted)
        made = _laid(plan, plan.with_feeds(wanted), reach)
        if isinstance(made, Refusal):
            refused.append(made)
            continue
        seen = graph(_with(job, made), "planned")
        proof = prove(seen.network)
        names = tuple(name for (name, _), main in zip(chosen, mains, strict=True) if name and main.box.id in reach)
        mine = [one for one in proof.findings if one.rule == 3 or _about(one.of, reach)]
        idle = [one for one in seen.unsaid if one.box in made and _must(plan, one)]
        if idle and not mine:
            refused.append(Refusal(tuple(one.text for one in idle), ("take it out of its box", *WAYS_OUT)))
            continue
        if not mine and not proof.too_many:
            return Proposal(made, names, proof)
        refused.append(Refusal(tuple(said(one, seen).text for one in mine[:3]), WAYS_OUT))
    return refused[0] if refused else Refusal((("nothing here switches anything yet",),), ("hang a lamp on a device",))


def group_of(job: Job, box: str) -> frozenset[str]:
    """The boxes that share a lamp or a place of control with a box, and it."""
    return _group(Plan(job, links_of(job, Plan(job, ()).owner)), box)


def _unknown(plan: Plan, reach: frozenset[str]) -> Iterator[Text]:
    """The loads of which nobody said where they hang."""
    for main in plan.mains:
        for load in main.item.loads:
            if main.box.id in reach and plan.place_of(main, load) is None:
                yield (f"{main.box.name}: which cable leads to {load.name or main.item.name or load.kind} is not said",)


def _must(plan: Plan, unsaid: Unsaid) -> bool:
    """Whether a device has no other use than what is not known of it: a place of control of a lamp elsewhere."""
    far = ("three-way", "four-way", "companion")
    idle = unsaid.code == "switches-nothing" and plan.kinds.get(unsaid.of) in far
    return idle or unsaid.code == "not-understood"


def _about(of: str, reach: frozenset[str]) -> bool:
    return any(of.startswith(f"{box}/") for box in reach)


def _group(plan: Plan, box: str) -> frozenset[str]:
    """The boxes that must agree: those that share a lamp or a place of control with this one."""
    reach = {box}
    for main in plan.mains:
        places = {plan.place_of(main, load) for load in main.item.loads} & set(plan.boxes)
        together = {main.box.id, *places, *(one.box.id for one in plan.far[main.id])}
        if together & reach:
            reach |= {one for one in together if one is not None}
    return frozenset(reach)


def _reached(plan: Plan, carries: dict[str, list[Net]], reach: frozenset[str]) -> frozenset[str]:
    """With the boxes their wires pass through, and those on the way from the panel where nobody has joined anything."""
    mains = {main.id for main in plan.mains if main.box.id in reach}
    bare = {box.id for box in plan.boxes.values() if not any(splice.ends for splice in box.splices)}
    for link in plan.links:
        if any(net.by in mains for net in carries[link.id]):
            reach |= {link.one, link.other} & set(plan.boxes)
    for panel in sorted({plan.panel(circuit.id) for circuit in plan.job.circuits}):
        way = ways(plan.links, panel)
        for box in sorted(reach):
            for link in way.get(box, ()):
                reach |= {link.one, link.other} & bare
    idle = {box for box in bare if not plan.boxes[box].equipment}
    for link in plan.links:  # what a cable no longer needed leads to: its wires are capped there too
        if not carries[link.id] and {link.one, link.other} & reach:
            reach |= {link.one, link.other} & idle
    return reach


def _laid(plan: Plan, wanted: Wanted, reach: frozenset[str]) -> dict[str, tuple[Splice, ...]] | Refusal:
    """The splices of the boxes it reaches, where every run has a conductor for what it must carry."""
    carries, lost = carried(plan.links, wanted)
    reach = _reached(plan, carries, reach)
    reasons: list[Text] = [_lost(plan, net, place) for net, place in lost if place.partition("/")[0] in reach]
    given: dict[str, dict[Net, str]] = {}
    for link in plan.links:
        found = conductors(link, carries[link.id])
        if found is None:
            if {link.one.partition("/")[0], link.other.partition("/")[0]} & reach:
                reasons.append(_short_of(plan, Missing(link, tuple(carries[link.id]))))
            continue
        given[link.id] = {net: wire.id for net, wire in found.items()}
    if reasons:
        return Refusal(tuple(dict.fromkeys(reasons)), WAYS_OUT)
    return {id: _splices(plan, box, wanted, given) for id, box in plan.boxes.items() if id in reach}


def _splices(plan: Plan, box: Box, wanted: Wanted, given: dict[str, dict[Net, str]]) -> tuple[Splice, ...]:
    groups: dict[str, list[End]] = {}
    used: set[End] = set()

    def put(name: str, ends: Sequence[End]) -> None:
        groups.setdefault(name, []).extend(ends)
        used.update(ends)

    put("ground", list(_grounds(plan, box)))
    for link in plan.links:
        side = 0 if link.one == box.id else 1 if link.other == box.id else None
        if side is None:
            continue
        for net, wire in given[link.id].items():
            put(f"{net.kind} {net.of}", [ConductorEnd(of=link.ids[side][wire])])
    for net, places in wanted.at.items():
        put(f"{net.kind} {net.of}", places.get(box.id, []))
    both = [(_called(name), ends) for name, ends in groups.items() if len(ends) > 1]
    spare = [("cap", [ConductorEnd(of=id)]) for id in _spare(plan, box, used)]
    leads = [("cap", [end]) for end in _unused_leads(plan, box, used)]
    return splices_for(box, [*both, *spare, *leads], plan.sheets)


def _called(net: str) -> str:
    return net.partition(" ")[0]


def _grounds(plan: Plan, box: Box) -> Iterator[End]:
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


def _spare(plan: Plan, box: Box, used: set[End]) -> Iterator[str]:
    """Conductors that carry nothing, of cables whose far end is known: capped at both ends, never cut off."""
    for cable in box.entering:
        if far_end(plan.job, box.id, cable.id) is not None:
            yield from (id for id in cable.conductor_ids if ConductorEnd(of=id) not in used)


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
    if place in plan.boxes:
        return plan.boxes[place].name
    box, _, cable = place.partition("/")
    return f"the far end of cable {cable} of {plan.boxes[box].name}" if box in plan.boxes else "the panel"


def _lost(plan: Plan, net: Net, place: Place) -> Text:
    return (f"{net.words} does not reach {_name(plan, place)}: no run that was said leads there",)


def _short_of(plan: Plan, missing: Missing) -> Text:
    link = missing.link
    needs = ", ".join(net.words for net in sorted(missing.nets))
    has = len(link.wires)
    return (
        f"from {_name(plan, link.one)} to {_name(plan, link.other)} there are {has} wires, and {len(missing.nets)} are "
        f"needed: {needs}",
    )
