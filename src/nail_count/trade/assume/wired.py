"""Prove the hook-up of a box that is wired as usual, where nobody has entered how it is wired.

The assumptions are entered in a copy of the job, for which a hook-up can be proposed and proven. The copy is never
kept, and a proof made in it holds only if every assumption does.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from fractions import Fraction

from ..model.answer import State
from ..model.box import Box, Device
from ..model.job import Job, by_id
from ..model.load import Load
from ..model.measure import Power
from ..model.panel import Circuit
from ..model.run import BoxEnd, CircuitEnd, Run
from ..model.wire import Cable
from ..rules.joints import SUPPLY_230
from ..rules.wires.live import is_on_one_circuit
from ..wiring.hookup.colors import as_sold
from ..wiring.hookup.look import HookUp, look
from ..wiring.hookup.propose import Proposal, propose
from ..wiring.identify.weights import NOWHERE
from .ends import AT_LIGHT, LIGHT, UsualEnd, usual_ends
from .usual import Assumption, ends_in, from_one_place, usual

TO_FIND = "to find"
"""What a breaker that nobody has found goes by in the copy: "Breaker to find"."""


@dataclass(frozen=True, slots=True)
class AsUsual:
    """A job in which the usual wiring of one box is entered."""

    job: Job
    """To be judged; no edit applies to it, and it is never kept."""
    rests_on: tuple[Assumption, ...]
    """The assumptions entered; () where none is needed, or two ways are about as usual."""


def as_usual(job: Job, key: str) -> AsUsual:
    """Return a job with the usual wiring of a box entered where nobody has entered it.

    Args:
        job: with every box and run on the same circuits.
        key: the box it is asked for.
    """
    (box,) = (one for one in job.boxes if one.id == key)
    if not _is_usual(job, box):
        return AsUsual(job, ())
    known = {cable.id: job.far_ends[key, cable.id] for cable in box.entering if (key, cable.id) in job.far_ends}
    whole = _with_lights(box, job)
    whole = whole.changed(cables=tuple(as_sold(cable, job.terms.colors) for cable in whole.cables))
    ends = usual_ends(whole, known, frozenset(one.id for one in job.boxes if one.is_outlet))
    if ends is None:
        return AsUsual(job, ())
    if not box.circuits:
        whole = whole.changed(circuit=TO_FIND)
    rests = (
        *_neutral(job, box),
        *(one.assumption for one in ends if one.assumption),
        *(() if box.circuits else (_breaker(box),)),
        *(() if whole.cables == box.cables else (_colors(box),)),
    )
    return AsUsual(_filled(job, whole, ends, known) if ends or rests or whole != box else job, rests)


def _neutral(job: Job, box: Box) -> tuple[Assumption, ...]:
    """Assume where the neutral is, if a lead lands on it."""
    sheets = by_id(job.sheets)
    lands = any(one.role == "neutral" for item in box.devices for one in sheets[item.sheet].terminals)
    if not lands:
        return ()
    assumed = usual(box, sheets, job.terms_at(box), ends_in(job).get(box.id, NOWHERE))
    return tuple(one for one in assumed if one.code == "whites-tied")


def look_as_usual(job: Job, key: str) -> tuple[HookUp, tuple[Assumption, ...]]:
    """Return the planned hook-up of a box, and the assumptions it rests on.

    What can't be proven on assumptions either is shown as it was entered, and rests on none.
    """
    usual = as_usual(job, key)
    if usual.job is not job:
        seen = look(usual.job, key)
        if seen.said and seen.state is State.HOLDS:
            return seen, usual.rests_on
    return look(job, key), ()


def _is_usual(job: Job, box: Box) -> bool:
    """Tell whether the wiring of a box is one of the few usual ones, as far as it is known."""
    told = any(
        wire.asserted_role not in (None, "neutral")
        for cable in box.cables
        for wire in cable.conductors
        if (box.id, cable.id) not in job.far_ends
    )
    place = box.use == "control" and is_on_one_circuit(box) and from_one_place(box, by_id(job.sheets))
    usual_supply = job.terms.region.whites_tied and job.terms_at(box).voltage < SUPPLY_230
    return place and usual_supply and not (told or box.readings or box.contents.new or box.modules)


def _with_lights(box: Box, job: Job) -> Box:
    """Return the box with a light on every switch that has no load entered."""
    sheets = by_id(job.sheets)
    idle = {
        one.id
        for one in box.devices
        if sheets[one.sheet].terminals and not (sheets[one.sheet].battery or one.loads or one.commands)
    }
    if not idle:
        return box
    # A watt is as good as any: what a light draws changes nothing of how it is joined.
    lights = {id: Load(id=f"light{id}", kind="led", each=Power(value=Fraction(1), unit="W")) for id in idle}
    devices = (one.changed(loads=(lights[one.id],)) if one.id in idle else one for one in box.devices)
    return box.changed(devices=tuple(devices))


def _filled(job: Job, box: Box, ends: tuple[UsualEnd, ...], known: Collection[str]) -> Job:
    """Return the job with the ends entered, and the breaker to find."""
    here = box.changed(devices=tuple(_placed(one, [end for end in ends if end.item == one.id]) for one in box.devices))
    looped = any(one.end == AT_LIGHT for one in ends)
    entered = job.runs if not looped else tuple(run for run in job.runs if all(at.box != box.id for at in run.box_ends))
    runs = (
        Run(id=f"usual-{one.cable.lower()}", one=BoxEnd(box=box.id, cable=one.cable), other=one.end)
        for one in ends
        if looped or one.cable not in known
    )
    filled = job.changed(
        boxes=tuple(here if one.id == box.id else one for one in job.boxes),
        runs=(*entered, *runs),
        circuits=(*job.circuits, Circuit(id=TO_FIND)) if box.circuit == TO_FIND else job.circuits,
    )
    return _with_light(filled, here) if looped else filled


def _placed(device: Device, ends: list[UsualEnd]) -> Device:
    """A device with its loads at the ends of their cables; a cable more to a light gets a light of its own."""
    loads, taken = list(device.loads), set[int]()
    for end in ends:
        at = {"outlet": LIGHT} if end.end == AT_LIGHT else {"cable": end.cable}
        if end.channel in taken:
            first = next(load for load in loads if load.channel == end.channel)
            loads.append(first.changed(id=f"{first.id}{end.cable}", **at))
        else:
            loads = [load.changed(**at) if load.channel == end.channel else load for load in loads]
        taken.add(end.channel)
    return device.changed(loads=tuple(loads))


def _with_light(job: Job, box: Box) -> Job:
    """Return the job with the light that a loop comes from, and the feed there, hooked up the usual way."""
    (loop,) = (cable for cable in box.entering if not cable.class2)
    sold = (Cable(id=letter, gauge=loop.gauge, insulated=2) for letter in "AB")
    cables = tuple(as_sold(cable, job.terms.colors) for cable in sold)
    light = Box(id=LIGHT, name="The light", room=box.room, use="luminaire", circuit=box.circuit, cables=cables)
    feed = Run(id="usual-feed", one=BoxEnd(box=LIGHT, cable="B"), other=CircuitEnd(circuit=box.circuit))
    whole = job.changed(boxes=(*job.boxes, light), runs=(*job.runs, feed))
    made = propose(whole, box.id)
    if not isinstance(made, Proposal) or LIGHT not in made.splices:
        return whole
    return whole.changed(boxes=(*job.boxes, light.changed(splices=made.splices[LIGHT])))


def _breaker(box: Box) -> Assumption:
    return Assumption(
        "breaker", box.id, (), None, "one breaker feeds this box",
        "A one-gang box is usually on one circuit.",
        "Find the breaker: turn on the light, and turn breakers off one by one until it goes out.",
    )  # fmt: skip


def _colors(box: Box) -> Assumption:
    return Assumption(
        "colors", box.id, (), None, "the wires have the colors such cables are sold in",
        "Nobody has entered their colors.", "Look at the wires of each cable, outside its jacket.",
    )  # fmt: skip
