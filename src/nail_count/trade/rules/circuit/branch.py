"""Everything a breaker feeds, over all boxes, against the breaker and the thinnest wire on the way.

Source: NFPA 70 (NEC) 210.20(A), 240.4(D), 404.2(C), 300.13(B), 210.4; CSA C22.1 8-104,
8-304; from memory of the publications.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ...model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Subject, Text, add_up, limit_of
from ...model.box import Box, Equipment
from ...model.datasheet import Datasheet
from ...model.edition import EDITIONS
from ...model.figure import Figure, every_nec
from ...model.gauge import Gauge, awg
from ...model.job import Terms
from ...model.load import Load
from ...model.panel import Circuit, across
from ...model.wire import Cable
from ..citing import Cite
from ..load.draw import drawn
from ..load.duty import CSA_RULE, CSA_SHARE, QUARTER_MORE, is_continuous
from ..load.heat import RADIO, standby_of
from ..load.limits import PRACTICE
from ..load.rating import TIGHT_ABOVE, line_kind, what
from .fastened import fastened_findings
from .panel import leg

SMALL_WIRE: Mapping[tuple[str, Gauge], Figure] = {
    (metal, gauge): Figure(amps, "A", f"{gauge} {metal}: breaker at most", every_nec("240.4(D)"))
    for metal, gauge, amps in (
        ("copper", awg(14), "15"), ("copper", awg(12), "20"), ("copper", awg(10), "30"), ("aluminum", awg(12), "15"),
        ("aluminum", awg(10), "25"),
    )
}  # fmt: skip
"""The largest breaker ahead of a small conductor [A], NEC 240.4(D)."""
GROUND_USERS_OF_CIRCUIT = Figure("5", "", "Devices that use the ground, a circuit", every_nec("404.2(C) Exc."))
GROUND_USERS_OF_FEEDER = Figure("25", "", "The same on a feeder", every_nec("404.2(C) Exc."))
"""How many devices may use the ground for want of a neutral, NEC 404.2(C), exception."""
NEW_CABLE = Figure("6", "ft", "New cable that brings no arc protection by itself: up to", every_nec("210.12"))
OUTLETS_OF_CIRCUIT = Figure("12", "", "Outlets a circuit", Rule("CSA C22.1", "8-304"))
"""How many outlets a circuit may have under the Canadian code; from memory."""


@dataclass(frozen=True, slots=True)
class Fed:
    """A device or module that a circuit feeds."""

    box: Box
    item: Equipment
    sheet: Datasheet


def fed_by(circuit: str, boxes: Sequence[Box], sheets: Mapping[str, Datasheet]) -> tuple[Fed, ...]:
    """Everything a circuit feeds: the load that is entered on it, and where none is, the circuit of its box."""
    return tuple(
        Fed(box, item, sheets[item.sheet]) for box in boxes for item in box.equipment if box.circuit_of(item) == circuit
    )


def circuit_load(
    circuit: Circuit,
    boxes: Sequence[Box],
    sheets: Mapping[str, Datasheet],
    *,
    terms: Terms,
    beside: Circuit | None = None,
    other_supply: Collection[str] = (),
) -> Answer:
    """Add up the loads of a circuit, and hold them against its breaker and its wire.

    Args:
        circuit: the breaker.
        boxes: of the whole job.
        sheets: of everything in them, by id.
        terms: code, voltage and assumptions.
        beside: the circuit it shares its neutral with, where it does.
        other_supply: the circuits that another supply feeds, by their ids.

    Returns:
        Lines and limit in VA: every load, standby, and under the NEC a quarter more of continuous loads.
    """
    voltage = across(circuit, terms.voltage)
    here = fed_by(circuit.id, boxes, sheets)
    lines = tuple(_lines(here, voltage, terms))
    cables = [cable for box in boxes if box.circuits == (circuit.id,) for cable in box.entering if not cable.class2]
    wire = _wire(circuit, cables, terms)
    limit_lines = tuple(_limit(circuit, wire, here, voltage, terms))
    total, limit = add_up(lines), limit_of(limit_lines)
    carried = _carried(lines)
    neutral = _neutral(circuit, beside, carried, boxes=boxes, sheets=sheets, terms=terms) if beside else ()
    loads = tuple(load for fed in here for load in fed.item.loads)
    plugs = any(fed.sheet.kind == "receptacle" for fed in here)
    found = (
        *_supplies(circuit, boxes, other_supply),
        *fastened_findings(circuit, loads, plugs, voltage, terms),
    )
    remarks = (*_remarks(circuit, wire, here, boxes, terms), *found, *neutral)
    state, headline = _stands(lines, total, limit or Fraction(0), voltage)
    if state is State.FAILS and circuit.poles == 2 and voltage == terms.voltage and total <= 2 * (limit or 0):
        state, headline = State.OPEN, ("more than one leg of it carries: which load is on which isn't known",)
    finding = max(remarks, key=lambda remark: remark.state, default=None)
    if finding is not None and finding.state > State.HOLDS and finding.state >= state:
        state, headline = finding.state, finding.text
    title = (f"Circuit {circuit.id}",)
    return Answer(
        "circuit",
        Subject("circuit", circuit.id),
        title,
        "VA",
        lines,
        limit_lines,
        total,
        limit,
        state,
        headline,
        remarks,
    )


def feeder_findings(boxes: Sequence[Box], sheets: Mapping[str, Datasheet], terms: Terms) -> Iterator[Remark]:
    """What holds for the whole panel: at most twenty-five devices that use the ground, NEC 404.2(C) Exc."""
    users = sum(sheets[item.sheet].neutral == "uses the ground" for box in boxes for item in box.equipment)
    if users and Cite(terms.code).nec:
        yield _ground_users(users, GROUND_USERS_OF_FEEDER, "on this feeder", terms)


def _lines(here: Sequence[Fed], voltage: int, terms: Terms) -> Iterator[Line]:
    continuous = Fraction(0)
    said = EDITIONS[terms.code].continuous == "said"
    held: list[Part] = []
    for fed in here:
        for load in (load for load in fed.item.loads if load.kind != "receptacle"):
            one = drawn(load, "VA", voltage, terms.assume)
            named: Text = (f"{fed.box.name}: ", *what(load))
            part = Part(f"{fed.box.id}/{load.id}")
            yield Line(line_kind(load), named, PRACTICE, one.why, one.count, one.each, one.total, (part,))
            if said and is_continuous(load, terms.code) and one.total is not None:
                continuous += one.total
                held.append(part)
    standing = [fed for fed in here if standby_of(fed.sheet)]
    if standing:
        value = sum((standby_of(fed.sheet) for fed in standing), Fraction(0))
        stated = all(fed.sheet.heat.standby is not None for fed in standing)
        why: Text = (
            ("by their sheets",) if stated else ("by their sheets, ", Amount(Fraction(RADIO), "W"), " where not known")
        )
        parts = tuple(Part(f"{fed.box.id}/{fed.item.id}") for fed in standing)
        yield Line(
            "standby", (f"Standby of {len(standing)}",), PRACTICE, why, Fraction(len(standing)), None, value, parts
        )
    if continuous:
        more = continuous * (QUARTER_MORE - 1)
        why = ("continuous loads count 125%",)
        rule = Cite(terms.code)("210.20(A)")
        yield Line("duty", ("A quarter more for continuous loads",), rule, why, Fraction(1), None, more, tuple(held))


def _carried(lines: Sequence[Line]) -> Fraction:
    """The real draw [VA]: without the quarter more that only counts against a breaker."""
    return add_up(line for line in lines if line.kind != "duty")


Wire = tuple[Cable, Fraction]
"""A cable, and the largest breaker ahead of it [A]."""


def _limit(circuit: Circuit, wire: Wire | None, here: Sequence[Fed], voltage: int, terms: Terms) -> Iterator[Line]:
    breaker = Fraction(circuit.breaker)
    full = breaker * voltage
    said: Text = (f"Breaker of {circuit.breaker} A at {voltage} V",)
    yield Line("rating", said, PRACTICE, ("amps times volts",), breaker, Fraction(voltage), full)
    if wire is not None:
        cable, amps = wire
        why: Text = (f"{cable.gauge} {cable.metal} is protected at {amps} A at most",)
        value = amps * voltage - full
        yield Line("wire", (f"{cable.gauge} on the way",), _small_wire(terms), why, value=value)
        full += value
    loads = [load for fed in here for load in fed.item.loads]
    presumed = EDITIONS[terms.code].continuous == "presumed"
    if presumed and any(is_continuous(load, terms.code) for load in loads):
        why = ("loads count as continuous unless recorded as not: 80% of the breaker",)
        yield Line("duty", ("continuous load",), CSA_RULE, why, value=full * (CSA_SHARE - 1))


def _wire(circuit: Circuit, cables: Sequence[Cable], terms: Terms) -> Wire | None:
    """The cable that this breaker protects worst; None where it protects all of them, or the code names no sizes."""
    if EDITIONS[terms.code].small_wire is None:
        return None
    known = [
        (cable, SMALL_WIRE[cable.metal, cable.gauge]) for cable in cables if (cable.metal, cable.gauge) in SMALL_WIRE
    ]
    return min((pair for pair in known if pair[1] < circuit.breaker), key=lambda pair: pair[1], default=None)


def _supplies(circuit: Circuit, boxes: Sequence[Box], other_supply: Collection[str]) -> Iterator[Remark]:
    """The mains and an inverter in one box: both are turned off, and neither’s neutral is the other’s."""
    for box in boxes:
        others = [id for id in box.circuits if id in other_supply]
        if circuit.id in box.circuits and others:
            text = (
                f"{box.name} is fed by the mains and by an inverter (circuits {circuit.id}, {', '.join(others)}): "
                "turn off both, and keep their hots and neutrals apart",
            )
            yield Remark("two-supplies", text, PRACTICE)


def _small_wire(terms: Terms) -> Rule:
    return EDITIONS[terms.code].small_wire or PRACTICE


def _remarks(
    circuit: Circuit, wire: Wire | None, here: Sequence[Fed], boxes: Sequence[Box], terms: Terms
) -> Iterator[Remark]:
    if wire is not None:
        cable, amps = wire
        text: Text = (f"{cable.gauge} {cable.metal} on a breaker of {circuit.breaker} A: {amps} A at most",)
        ways = (f"a breaker of {amps} A", "thicker wire all the way")
        yield Remark("small-wire", text, _small_wire(terms), State.FAILS, ways)
    shared = [box.name for box in boxes if circuit.id in box.circuits and len(box.circuits) > 1]
    if shared:
        text = (f"with another circuit in {', '.join(shared)}: cables there are not taken for this one's wire",)
        yield Remark("two-circuits-in-box", text, PRACTICE)
    yield from _two_poles(circuit, here, terms)
    yield from _arcs(circuit, boxes, terms)
    if EDITIONS[terms.code].outlets_counted:
        yield from _outlets(circuit, here, boxes)
    users = sum(fed.sheet.neutral == "uses the ground" for fed in here)
    if users and Cite(terms.code).nec:
        yield _ground_users(users, GROUND_USERS_OF_CIRCUIT, "on this circuit", terms)
    switched = [(fed, load) for fed in here for load in fed.item.loads if load.kind == "receptacle"]
    for fed, load in switched if Cite(terms.code).nec else ():
        yield from _switched_outlets(circuit, fed, load, terms)
    outlets = sum(fed.sheet.kind == "receptacle" for fed in here) + sum(load.quantity for _, load in switched)
    if outlets:
        said = "1 receptacle takes" if outlets == 1 else f"{outlets} receptacles take"
        yield Remark("receptacles-not-counted", (f"{said} whatever is plugged in: not counted",), PRACTICE)
    bare = sum(bool(fed.sheet.channels) and not fed.item.loads for fed in here)
    if bare:
        said = "1 device has" if bare == 1 else f"{bare} devices have"
        yield Remark("nothing-entered", (f"{said} nothing entered on it: only entered loads count",), PRACTICE)


def _two_poles(circuit: Circuit, here: Sequence[Fed], terms: Terms) -> Iterator[Remark]:
    """A breaker of two poles feeds one load at both legs, or two sides; which load is on which is asked."""
    if circuit.poles != 2 or not here:
        return
    if circuit.serves is None:
        text: Text = ("two poles: one load at both legs, or a multiwire circuit of two sides, is not known",)
        yield Remark(
            "two-poles-not-said", text, PRACTICE, State.OPEN, ("say which; only the first has twice the volts",)
        )
    elif circuit.serves == "multiwire":
        text = (f"two sides of {terms.voltage} V: counted as if all were on one side, which is the most it can be",)
        ways = ("enter its sides as two circuits that share their neutral, and enter which load is on which",)
        yield Remark("sides-not-told-apart", text, PRACTICE, State.HOLDS, ways)


def _arcs(circuit: Circuit, boxes: Sequence[Box], terms: Terms) -> Iterator[Remark]:
    """NEC 210.12: more than 6 ft of new cable, or any outlet or device added, brings arc protection with it."""
    here = [box for box in boxes if circuit.id in box.circuits]
    added = [box.name for box in here if box.survey.new_place]
    longer = [box.name for box in here if box.contents.new]
    if not (added or longer) or not Cite(terms.code).nec or circuit.kind in ("AFCI", "both"):
        return
    rule, ways = Cite(terms.code)("210.12"), ("a breaker that protects from arcs too", "a first outlet that does")
    if added:
        state = State.OPEN if circuit.kind is None else State.FAILS
        yield Remark("afci", (f"an outlet or device is added at {', '.join(added)}: arcs too",), rule, state, ways)
    else:
        text: Text = (
            f"new cable at {', '.join(longer)}: more than {NEW_CABLE} ft of it, or any outlet added, brings arcs too",
        )
        yield Remark("afci", text, rule, State.OPEN, ways)


def _outlets(circuit: Circuit, here: Sequence[Fed], boxes: Sequence[Box]) -> Iterator[Remark]:
    """CSA 8-304: outlets for lights and receptacles are counted; a load with no known outlet is one by itself."""
    count = sum(box.is_outlet for box in boxes if circuit.id in box.circuits)
    count += sum(fed.sheet.kind == "receptacle" for fed in here)
    count += sum(load.outlet is None for fed in here if not fed.box.is_outlet for load in fed.item.loads)
    if not count:
        return
    text: Text = (
        f"{count} {'outlet' if count == 1 else 'outlets'} counted: {OUTLETS_OF_CIRCUIT} at most on a circuit",
    )
    over = count > OUTLETS_OF_CIRCUIT
    ways = (
        ("move some to another circuit", "where every load is known, ask what the code allows beyond") if over else ()
    )
    yield Remark("outlets-of-circuit", text, OUTLETS_OF_CIRCUIT.rule, State.FAILS if over else State.HOLDS, ways)


def _switched_outlets(circuit: Circuit, fed: Fed, load: Load, terms: Terms) -> Iterator[Remark]:
    """NEC 404.14(F): what switches receptacles is rated for the breaker, or for the one where it is alone."""
    outlet = fed.sheet.channels[load.channel - 1]
    kind = outlet.rated_by(load)
    rating = outlet.ratings[kind].alone if kind else None
    least = Fraction(circuit.breaker) if load.quantity > 1 or load.each.unit != "A" else load.each.value
    if rating is not None and rating.unit == "A" and rating.value < least:
        of = f"a breaker of {circuit.breaker} A" if least == circuit.breaker else "that receptacle"
        text: Text = (
            f"{fed.box.name}: ",
            Amount(rating.value, "A"),
            f" switches receptacles; it must be rated for {of}",
        )
        yield Remark(
            "receptacle-switch-rating",
            text,
            Cite(terms.code)("404.14(F)"),
            State.FAILS,
            ("a switch rated for the breaker",),
        )


def _ground_users(users: int, most: Fraction, where: str, terms: Terms) -> Remark:
    rule = Cite(terms.code)("404.2(C) Exc.")
    devices = "device uses" if users == 1 else "devices use"
    text: Text = (f"{users} {devices} the ground for want of a neutral {where}: {most} at most",)
    state = State.FAILS if users > most else State.HOLDS
    return Remark("ground-users", text, rule, state, ("devices with a neutral",) if users > most else ())


def _neutral(
    circuit: Circuit,
    beside: Circuit,
    carried: Fraction,
    *,
    boxes: Sequence[Box],
    sheets: Mapping[str, Datasheet],
    terms: Terms,
) -> Iterator[Remark]:
    """What the shared neutral of a multiwire circuit carries: the difference on opposite legs, the sum on one."""
    other = _carried(tuple(_lines(fed_by(beside.id, boxes, sheets), terms.voltage, terms)))
    legs = leg(circuit), leg(beside)
    both = f"the neutral shared with {beside.id}"
    if None in legs:
        yield Remark(
            "neutral-legs-not-known", (f"{both}: on which legs the two sit is not known",), PRACTICE, State.OPEN
        )
    elif legs[0] == legs[1]:
        text: Text = (f"{both} carries the sum on one leg: ", Amount((carried + other) / terms.voltage, "A"))
        yield Remark("neutral-carries-sum", text, PRACTICE, State.FAILS, ("move one of the breakers to the other leg",))
    else:
        difference = Amount(abs(carried - other) / terms.voltage, "A")
        larger = Amount(max(carried, other) / terms.voltage, "A")
        text = (
            f"{both} carries the difference, ",
            difference,
            ", with both on; the larger, ",
            larger,
            ", with one off",
        )
        yield Remark("neutral-carries-difference", text, PRACTICE)
    text = (f"{both} may not depend on a device: splice it and bring a pigtail to the device",)
    yield Remark("neutral-not-through-device", text, Cite(terms.code)("300.13(B)"))


def _stands(lines: Sequence[Line], total: Fraction, limit: Fraction, voltage: int) -> tuple[State, Text]:
    if not lines:
        return State.HOLDS, ("no load entered on it",)
    if total > limit:
        return State.FAILS, ("over by ", Amount(total - limit, "VA"))
    unknown = next((line for line in lines if line.value is None), None)
    if unknown is not None:
        return State.OPEN, (*unknown.what, ": ", *unknown.why)
    amps: Text = (", ", Amount(total / voltage, "A"), " in all")
    return (State.TIGHT if total > limit * TIGHT_ABOVE else State.HOLDS), (
        Amount(limit - total, "VA"),
        " to spare",
        *amps,
    )
