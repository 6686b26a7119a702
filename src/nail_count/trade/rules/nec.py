"""Counting volume by NEC 314.16: what a box may hold against what is in it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from ..model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Text, add_up, limit_of
from ..model.box import Box
from ..model.sheet import Sheet
from ..model.wire import Cable, Gauge, largest
from .nec_editions import ALLOWANCES, EDITIONS, Edition

_ONE = Fraction(1)
MEASURED = Rule("Measured", "", "practice")


def fill(box: Box, sheets: Mapping[str, Sheet], code: str = "nec-2023") -> Answer:
    """Whether the box has the volume for what is in it.

    Args:
        box: the box with its cables and devices.
        sheets: the sheets its devices name, by id.
        code: which edition, a key of [EDITIONS][nail_count.trade.rules.nec_editions.EDITIONS].

    Returns:
        Lines and limit in in³, one line per kind of thing, with a zero where the rule counts nothing.

    Raises:
        KeyError: a device names a sheet that is not given, or the edition is not known.

    Source: NFPA 70 (NEC) 2023, 314.16(A) and (B), from memory of the publication.

    >>> from nail_count.trade.model.enclosure import Enclosure
    >>> from nail_count.trade.model.box import Device
    >>> from nail_count.trade.model.measure import Volume
    >>> from nail_count.trade.speak import say
    >>> old_work = Enclosure(volume=Volume.parse("22.5 in3"), clamps=True)
    >>> cables = [Cable(id=c, gauge=12, insulated=n) for c, n in (("A", 2), ("B", 2), ("C", 3))]
    >>> switch = Sheet(id="switch", name="Plain switch", kind="switch")
    >>> box = Box(id="hall", name="Hall", room="Hall", enclosure=old_work, cables=cables,
    ...           devices=[Device(id="d1", gang=1, sheet="switch")])
    >>> say(fill(box, {"switch": switch}).headline)
    'over by 2.25 in³: one 12 AWG conductor too many'
    """
    edition = EDITIONS[code]
    lines = (
        *_conductors(box, edition),
        _clamps(box, edition),
        *_devices(box, sheets, edition),
        *_grounds(box, edition),
        *_leads(box, sheets, edition),
    )
    limit_lines = _capacity(box, edition)
    total = add_up(lines)
    limit = limit_of(limit_lines)
    state, headline = _judge(box, lines, total, limit)
    return Answer(
        "fill",
        box.id,
        ("Volume",),
        "in3",
        lines,
        limit_lines,
        total,
        limit,
        state,
        headline,
        _remarks(box, edition),
    )


def _conductors(box: Box, edition: Edition) -> Iterator[Line]:
    """(B)(1): one for each conductor that ends or runs through; two for an unbroken loop."""
    for runs, times, what, why in (
        (("ends", "through"), 1, " AWG conductors", "each insulated conductor that enters counts once"),
        (("looped",), 2, " AWG conductors looped unbroken", "a loop with 12 in or more free counts twice"),
    ):
        found: dict[Gauge, list[Cable]] = {}
        for cable in box.cables:
            if cable.run in runs and cable.insulated:
                found.setdefault(cable.gauge, []).append(cable)
        for gauge in sorted(found, reverse=True):
            parts = tuple(Part(cable.id, Fraction(cable.insulated * times)) for cable in found[gauge])
            yield _counted("conductors", (f"{gauge}{what}",), gauge, parts, edition.rule("(B)(1)"), (why,))


def _clamps(box: Box, edition: Edition) -> Line:
    """(B)(2): one in all, by the largest conductor in the box."""
    rule = edition.rule("(B)(2)")
    if not box.enclosure.clamps:
        return Line("clamps", ("No clamps inside the box",), rule, ("a clamp outside the box counts nothing",))
    gauge = largest(box.gauges)
    why: Text = ("one or more clamps count as one of the largest conductor in the box",)
    return _counted("clamps", ("Clamps inside the box",), gauge, (Part("clamps"),), rule, why)


def _devices(box: Box, sheets: Mapping[str, Sheet], edition: Edition) -> Iterator[Line]:
    """(B)(4): two for each gang a yoke needs, by the largest conductor connected to it."""
    rule = edition.rule("(B)(4)")
    taken: set[int] = set()
    for device in sorted(box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        if sheet.is_blank:
            continue
        taken |= set(range(device.gang, device.gang + sheet.gangs))
        gauge = device.gauge or largest(box.gauges)
        which = f"{sheet.name} “{device.name}”" if device.name else sheet.name
        why: tuple[str | Amount, ...] = ("a yoke counts as two of the largest conductor connected to it",)
        if sheet.gangs > 1:
            why = (f"wider than one 2 in gang: two for each of the {sheet.gangs} gangs it needs",)
        if device.gauge is None:
            why += ("; which conductor that is was not said, so the largest in the box is taken",)
        part = Part(device.id, Fraction(2 * sheet.gangs))
        yield _counted("devices", (f"Gang {device.gang}: {which}",), gauge, (part,), rule, why)
    empty = [gang for gang in range(1, box.enclosure.gangs + 1) if gang not in taken]
    if empty:
        gangs = ", ".join(map(str, empty))
        yield Line(
            "devices",
            (f"Gang {gangs}: no device",),
            rule,
            ("an empty gang or a blank filler counts nothing",),
        )


def _grounds(box: Box, edition: Edition) -> Iterator[Line]:
    """(B)(5): up to four in one, each past that a quarter, by the largest ground."""
    rule = edition.rule("(B)(5)")
    grounded = [cable for cable in box.cables if cable.grounds]
    count = sum(cable.grounds for cable in grounded)
    if not count:
        if box.cables:
            yield Line("grounds", ("No grounds",), rule, ("no ground enters the box",))
        return
    gauge = largest(cable.grounded_by for cable in grounded)
    free = edition.grounds_in_one
    parts = tuple(Part(cable.id, Fraction(cable.grounds)) for cable in grounded)
    what = "1 ground" if count == 1 else f"{min(count, free)} grounds"
    why: Text = (f"up to {free} grounds count as one of the largest ground",)
    yield _counted("grounds", (f"{what}, {gauge} AWG",), gauge, parts, rule, why, count=_ONE)
    if (past := count - free) > 0:
        why = (f"each ground past {free} counts ", Amount(edition.ground_past), " of the largest ground")
        yield _counted(
            "grounds",
            (f"{past} more past {free}",),
            gauge,
            parts,
            rule,
            why,
            count=past * edition.ground_past,
        )


def _leads(box: Box, sheets: Mapping[str, Sheet], edition: Edition) -> Iterator[Line]:
    """(B)(1): what begins and ends in the box is not counted, however much room it takes."""
    if any(not sheets[device.sheet].is_blank for device in box.devices):
        why: Text = ("no part of them leaves the box, so they count nothing; they take room all the same",)
        yield Line("leads", ("Device leads, pigtails, wire connectors",), edition.rule("(B)(1)"), why)


def _counted(
    kind: str,
    what: Text,
    gauge: Gauge | None,
    parts: tuple[Part, ...],
    rule: Rule,
    why: Text,
    count: Fraction | None = None,
) -> Line:
    """So many allowances of a gauge; an open line where no gauge is known."""
    count = sum((part.count for part in parts), Fraction(0)) if count is None else count
    if gauge is None:
        why = (*why, "; no conductor has been entered yet")
        return Line(kind, what, rule, why, count, None, None, parts)
    allowance = ALLOWANCES[gauge]
    return Line(kind, what, rule, why, count, allowance, count * allowance, parts)


def _capacity(box: Box, edition: Edition) -> tuple[Line, ...]:
    """(A): marked volume, else the trade size; rings add what is marked on them."""
    enclosure, rule = box.enclosure, edition.rule("(A)")
    size = enclosure.size
    if enclosure.volume is not None:
        volume = enclosure.volume.in3
        line = Line("capacity", ("Marked in the box",), rule, ("as read in the box",), _ONE, volume, volume)
    elif size is not None:
        count = Fraction(enclosure.gangs if size.per_gang else 1)
        table = Rule(edition.name, "Table 314.16(A)")
        gangs = f", {enclosure.gangs} ganged" if count > 1 else ""
        why: Text = ("least volume of this trade size; a ganged box is the sum of its sections",)
        line = Line("capacity", (f"Trade size {size.name}{gangs}",), table, why, count, size.in3, count * size.in3)
    elif (measured := enclosure.measured) is not None:
        why = ("width × height × depth as measured inside: an estimate, since walls taper and corners are round",)
        line = Line("capacity", ("Measured inside, an estimate",), MEASURED, why, _ONE, measured, measured)
    else:
        why = ("read the mark in the box, or choose its trade size if it is metal",)
        line = Line("capacity", ("Volume not known",), rule, why, _ONE, None, None)
    return line, *(_ring(ring.kind, ring.volume.in3 if ring.volume else None, rule) for ring in enclosure.rings)


def _ring(kind: str, in3: Fraction | None, rule: Rule) -> Line:
    if in3 is None:
        return Line("capacity", (f"{kind}, unmarked",), rule, ("a ring without a marked volume adds nothing",))
    return Line("capacity", (f"{kind}, marked",), rule, ("as marked on it",), _ONE, in3, in3)


def _judge(box: Box, lines: tuple[Line, ...], total: Fraction, limit: Fraction | None) -> tuple[State, Text]:
    """State and headline. Unknown lines can only add, so what is over without them fails whatever they are."""
    if limit is None:
        return State.OPEN, ("volume of the box not known",)
    spare = limit - total
    if spare < 0:
        return State.FAILS, ("over by ", Amount(-spare, "in3"), *_too_many(-spare, box))
    if any(line.value is None for line in lines):
        return State.OPEN, ("no conductor entered yet, so the devices cannot be counted",)
    thickest = largest(box.gauges)
    if thickest is not None and spare < ALLOWANCES[thickest]:
        return State.TIGHT, (("exactly full",) if spare == 0 else (Amount(spare, "in3"), " to spare"))
    return State.HOLDS, (Amount(spare, "in3"), " to spare")


def _too_many(over: Fraction, box: Box) -> Text:
    """What the overrun is worth in conductors of the box's largest gauge."""
    gauge = largest(box.gauges)
    if gauge is None:
        return ()
    count = -(-over // ALLOWANCES[gauge])
    if count == 1:
        return (f": one {gauge} AWG conductor too many",)
    return (f": {count} conductors of {gauge} AWG too many",)


def _remarks(box: Box, edition: Edition) -> tuple[Remark, ...]:
    remarks = []
    volume = box.enclosure.volume
    if volume is None and box.enclosure.size is None and box.enclosure.measured is not None:
        text: Text = (
            "the volume is measured, which is an estimate: find the mark or the trade size before relying on it",
        )
        remarks.append(Remark(text, edition.rule("(A)")))
    if volume is not None and volume.unit != "in3":
        text = (
            Amount(volume.value, volume.unit),
            " was turned into ",
            Amount(volume.in3, "in3"),
            "; printed metric marks are rounded, so",
        )
        remarks.append(Remark((*text, " if the box shows in³ too, enter that"), edition.rule("(A)")))
    present = set(box.gauges)
    for device in box.devices:
        if device.gauge is not None and present and device.gauge not in present:
            text = (f"gang {device.gang} is said to have {device.gauge} AWG on it, but none enters the box",)
            remarks.append(Remark(text, edition.rule("(B)(4)")))
    return tuple(remarks)
