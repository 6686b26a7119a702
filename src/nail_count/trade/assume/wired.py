"""Prove the hook-up of a box that is wired as usual, where nobody has entered how it is wired.

The assumptions are entered in a copy of the job, for which a hook-up can be proposed and proven. The copy is never
kept, and a proof made in it holds only if every assumption does.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
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
from ..wiring.hookup.colors import as_sold
from ..wiring.hookup.look import HookUp, look
from ..wiring.hookup.propose import Proposal, propose
from ..wiring.identify.weights import NOWHERE
from .ends import AT_LIGHT, LIGHT, UsualEnd, usual_ends
from .pair import Pair, Side, pair_of, usual_pair, whites_tied
from .usual import Assumption, ends_in, from_one_place, is_fed_once, usual

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
    if pair := pair_of(job, box):
        return _as_pair(job, box, pair)
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


def _as_pair(job: Job, box: Box, pair: Pair) -> AsUsual:
    """Return the job with the usual wiring of both boxes of a pair entered."""
    made = usual_pair(pair, frozenset(one.id for one in job.boxes if one.is_outlet))
    whites = whites_tied(pair, job)
    if made is None or whites is None:
        return AsUsual(job, ())
    sides = (pair.main, pair.far)
    circuit = next((id for side in sides for id in side.box.circuits), TO_FIND)
    boxes = {}
    for one in (_with_its_lights(pair.main, pair.main.device.id), _with_its_lights(pair.far)):
        colored = tuple(as_sold(cable, job.terms.colors) for cable in one.cables)
        boxes[one.id] = one.changed(cables=colored, circuit=one.circuit or circuit)
    names = {side.box.id: side.box.name for side in sides}
    sheets = by_id(job.sheets)
    takes = {side.box.id for side in sides if side.takes_neutral(sheets)}
    lands = tuple(one for one in whites if box.id in takes or one.box == box.id)
    seen = (*lands, *(one.assumption for _, one in made.ends if one.assumption))
    rests = (
        *(replace(one, text=f"in {names[one.box]}, {one.text}") for one in seen),
        *(_same_breaker(side.box, circuit) for side in sides if not side.box.circuits and circuit != TO_FIND),
        *((_breaker(box, "both boxes"),) if circuit == TO_FIND else ()),
        *(_colors(side.box, f" in {side.box.name}") for side in sides if boxes[side.box.id].cables != side.box.cables),
    )
    runs = [Run(id=f"usual-{at}-{one.cable.lower()}", one=BoxEnd(box=at, cable=one.cable), other=one.end)
            for at, one in made.ends]  # fmt: skip
    filled = job.changed(
        boxes=tuple(boxes.get(one.id, one) for one in job.boxes),
        runs=(*job.runs, *runs),
        circuits=(*job.circuits, Circuit(id=TO_FIND)) if circuit == TO_FIND else job.circuits,
    )
    return AsUsual(_lit_at(filled, pair, made.light) if made.light else filled, rests)


def _with_its_lights(side: Side, *unlit: str) -> Box:
    """Return the box of one side with a light on each of these devices, and on those beside at their own cables."""
    loaded = {one.id for one in side.box.devices if one.loads}
    box = _lit(side.box, *({*unlit, *side.beside} - loaded))
    return box.changed(devices=tuple(
        one.changed(loads=tuple(
            load if load.cable or load.outlet else load.changed(cable=side.beside[one.id]) for load in one.loads
        ))
        if one.id in side.beside else one
        for one in box.devices
    ))  # fmt: skip


def _lit_at(job: Job, pair: Pair, light: tuple[str, str]) -> Job:
    """Return the job with the light of a pair at this cable of this box."""
    at, cable = light
    (main,) = (one for one in job.boxes if one.id == pair.main.box.id)
    here = {"cable": cable} if at == main.id else {"outlet": LIGHT}
    main = main.changed(devices=tuple(
        one.changed(loads=tuple(load.changed(**here) for load in one.loads)) if one.id == pair.main.device.id else one
        for one in main.devices
    ))  # fmt: skip
    whole = job.changed(boxes=tuple(main if one.id == main.id else one for one in job.boxes))
    if at == main.id:
        return whole
    (lit,) = (one for one in whole.boxes if one.id == at)
    kept = tuple(run for run in whole.runs if run.far_from(at, cable) is None)
    run = Run(id="usual-light", one=BoxEnd(box=at, cable=cable), other=AT_LIGHT)
    return _hooked_up(whole.changed(runs=(*kept, run)), _light(whole, lit, cable), main.id)


def _same_breaker(box: Box, circuit: str) -> Assumption:
    return Assumption(
        "breaker", box.id, (), None, f"breaker {circuit} feeds {box.name} too",
        "The two switches of one light are usually on one circuit.",
        f"Turn off breaker {circuit}: test every wire in {box.name}.",
    )  # fmt: skip


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
    once = is_fed_once(box, ends_in(job).get(box.id, NOWHERE))
    place = box.use == "control" and once and from_one_place(box, by_id(job.sheets))
    usual_supply = job.terms.region.whites_tied and job.terms_at(box).voltage < SUPPLY_230
    return place and usual_supply and not (told or box.readings or box.contents.brought or box.modules)


def _with_lights(box: Box, job: Job) -> Box:
    """Return the box with a light on every switch that has no load entered."""
    sheets = by_id(job.sheets)
    idle = {
        one.id
        for one in box.devices
        if sheets[one.sheet].terminals and not (sheets[one.sheet].battery or one.loads or one.commands)
    }
    return _lit(box, *idle) if idle else box


def _lit(box: Box, *devices: str) -> Box:
    """Return the box with a light on each of these devices."""
    # A watt is as good as any: what a light draws changes nothing of how it is joined.
    lights = {id: Load(id=f"light{id}", kind="led", each=Power(value=Fraction(1), unit="W")) for id in devices}
    lit = (one.changed(loads=(lights[one.id],)) if one.id in devices else one for one in box.devices)
    return box.changed(devices=tuple(lit))


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
    (loop,) = (cable.id for cable in box.entering if not cable.class2)
    light = _light(job, box, loop, letters="AB")
    feed = Run(id="usual-feed", one=BoxEnd(box=LIGHT, cable="B"), other=CircuitEnd(circuit=box.circuit))
    return _hooked_up(job.changed(runs=(*job.runs, feed)), light, box.id)


def _light(job: Job, box: Box, cable: str, letters: str = "A") -> Box:
    """Return the light at the other end of a cable, by the letters of the cables there."""
    (entering,) = (one for one in box.cables if one.id == cable)
    sold = (Cable(id=letter, gauge=entering.gauge, insulated=2) for letter in letters)
    cables = tuple(as_sold(one, job.terms.colors) for one in sold)
    return Box(id=LIGHT, name="The light", room=box.room, use="luminaire", circuit=box.circuit, cables=cables)


def _hooked_up(job: Job, light: Box, key: str) -> Job:
    """Return the job with the light in it, hooked up as it is proposed for a box; bare where nothing is proposed."""
    whole = job.changed(boxes=(*job.boxes, light))
    made = propose(whole, key)
    if not isinstance(made, Proposal) or LIGHT not in made.splices:
        return whole
    return whole.changed(boxes=(*job.boxes, light.changed(splices=made.splices[LIGHT])))


def _breaker(box: Box, what: str = "this box") -> Assumption:
    if box.enclosure.gangs > 1:
        return Assumption(
            "breaker", box.id, (), None, f"one breaker feeds {what}",
            "Only one cable is a feed.",
            "Find the breaker: turn on every light, and turn breakers off one by one. All must go out together.",
        )  # fmt: skip
    return Assumption(
        "breaker", box.id, (), None, f"one breaker feeds {what}",
        "A one-gang box is usually on one circuit, and so are the two switches of one light.",
        "Find the breaker: turn on the light, and turn breakers off one by one until it goes out.",
    )  # fmt: skip


def _colors(box: Box, where: str = "") -> Assumption:
    return Assumption(
        "colors", box.id, (), None, f"the wires{where} have the colors such cables are sold in",
        "Nobody has entered their colors.", "Look at the wires of each cable, outside its jacket.",
    )  # fmt: skip
