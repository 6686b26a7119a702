"""What NEC 314.16(B) counts, line by line.

Source: NFPA 70 (NEC), 314.16(B), editions 2017 to 2023; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction
from functools import partial

from ...model.answer import Amount, Line, Part, Rule, Text
from ...model.box import Box, Module
from ...model.datasheet import Datasheet
from ...model.edition import Edition
from ...model.figure import Figure, every_nec
from ...model.gauge import Gauge, awg, largest
from ...model.job import ModuleCounting
from ...model.wire import Cable
from ..conductor_volumes import ALLOWANCES
from .allowances import counted as counted_by

_ONE = Fraction(1)


counted = partial(counted_by, allowances=ALLOWANCES)
"""So many allowances of the table."""


def conductors(box: Box, edition: Edition) -> Iterator[Line]:
    """(B)(1): one for each conductor that ends or runs through; two for an unbroken loop."""
    excepted = _excepted(box)
    for runs, times, what, why in (
        (("ends", "through"), 1, " conductors", "each insulated conductor that enters counts once"),
        (("looped",), 2, " conductors looped unbroken", "a loop with 12 in or more free counts twice"),
    ):
        found: dict[Gauge, list[Cable]] = {}
        for cable in box.entering:
            if cable.run in runs and cable.insulated and cable not in excepted:
                found.setdefault(cable.gauge, []).append(cable)
        for gauge in sorted(found):
            parts = tuple(Part(cable.id, Fraction(cable.insulated * times)) for cable in found[gauge])
            idle = any(wire.asserted_role == "unused" for cable in found[gauge] for wire in cable.conductors)
            said: Text = (why, "; one that is abandoned or capped counts as well") if idle else (why,)
            yield counted("conductors", (f"{gauge}{what}",), gauge, parts=parts, rule=edition.rule("(B)(1)"), why=said)
    yield from _canopy(box, edition)


MOST_CANOPY_WIRES = Figure("4", "", "Fixture wires from a canopy that count nothing", every_nec("314.16(B)(1) Exc."))
CANOPY_BELOW = awg(14)
"""Up to so many fixture wires smaller than 14 AWG are excepted."""


def _canopy_wires(box: Box) -> list[Cable]:
    """Those of its cables whose wires come from a canopy, end here, and are smaller than 14 AWG."""
    here = (cable for cable in box.entering if _from_a_canopy(cable))
    return [cable for cable in here if cable.insulated and cable.gauge < CANOPY_BELOW]


def _from_a_canopy(cable: Cable) -> bool:
    """Whether it comes from a domed luminaire or canopy, and ends here: looped or through, it is as any other."""
    return cable.canopy and cable.run == "ends"


def _excepted(box: Box) -> list[Cable]:
    """(B)(1) Exc.: up to four fixture wires smaller than 14 AWG in the box as a whole; past four, all of them count."""
    wires = _canopy_wires(box)
    return wires if sum(cable.insulated for cable in wires) <= MOST_CANOPY_WIRES else []


def _canopy(box: Box, edition: Edition) -> Iterator[Line]:
    wires, rule = _canopy_wires(box), edition.rule("(B)(1) Exc.")
    excepted = _excepted(box)
    if excepted:
        parts = tuple(Part(cable.id, Fraction(0)) for cable in excepted)
        why: Text = (
            f"up to {MOST_CANOPY_WIRES} fixture wires smaller than {CANOPY_BELOW} from a canopy count nothing",
        )
        yield Line("conductors", ("Fixture wires from a canopy",), rule, why, parts=parts)
    elif wires:
        count = sum(cable.insulated for cable in wires)
        why = (f"more than {MOST_CANOPY_WIRES}: all of them count, the stricter reading, and are counted above",)
        yield Line("conductors", (f"{count} fixture wires from a canopy",), rule, why)
    grounds = [cable for cable in box.entering if _from_a_canopy(cable) and cable.grounds]
    if grounds:
        parts = tuple(Part(cable.id, Fraction(0)) for cable in grounds)
        why = ("grounds from a canopy count nothing, by themselves",)
        yield Line("grounds", ("Grounds from a canopy",), rule, why, parts=parts)


def clamps(box: Box, edition: Edition, alone: bool) -> Line:
    """(B)(2): one in all, by the largest conductor in the box; `alone`: whether it is all of the box, not one space."""
    rule = edition.rule("(B)(2)")
    if not box.enclosure.clamps:
        return Line("clamps", ("No clamps inside the box",), rule, ("a clamp outside the box counts nothing",))
    gauge = largest(box.gauges)
    if not box.entering and not alone:
        return Line("clamps", ("No clamps in this space",), rule, ("nothing enters it, so nothing is clamped in it",))
    why: Text = ("one or more clamps count as one of the largest conductor in the box",)
    return counted("clamps", ("Clamps inside the box",), gauge, parts=(Part("clamps"),), rule=rule, why=why)


def devices(box: Box, sheets: Mapping[str, Datasheet], edition: Edition, first: int, last: int) -> Iterator[Line]:
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
            why += ("; which conductor that is isn't known, so the largest in the box is taken",)
        part = Part(device.id, Fraction(2 * sheet.gangs))
        yield counted("devices", (f"Gang {device.gang}: {which}",), gauge, parts=(part,), rule=rule, why=why)
    empty = [gang for gang in range(first, last + 1) if gang not in taken]
    if empty:
        gangs = ", ".join(map(str, empty))
        yield Line(
            "devices",
            (f"Gang {gangs}: no device",),
            rule,
            ("an empty gang or a blank filler counts nothing",),
        )


def fittings(box: Box, edition: Edition) -> Iterator[Line]:
    """(B)(3): one for each kind of stud or hickey, by the largest conductor in the box."""
    for fitting in dict.fromkeys(box.enclosure.fittings):
        why: Text = ("one for each kind present, of the largest conductor in the box",)
        what = "Luminaire stud" if fitting == "stud" else "Hickey"
        yield counted(
            "fittings", (what,), largest(box.gauges), parts=(Part(fitting),), rule=edition.rule("(B)(3)"), why=why
        )


MODULES = Rule("Common practice", "", "practice")


def modules(box: Box, sheets: Mapping[str, Datasheet], school: ModuleCounting) -> Iterator[Line]:
    """A module on no yoke: no article names it; the job says by which school it is counted."""
    for module in box.modules:
        sheet = sheets[module.sheet]
        two = counted(
            "modules",
            (f"{sheet.name}, loose in the box",),
            module.gauge or largest(box.gauges),
            parts=(Part(module.id, Fraction(2)),),
            rule=MODULES,
            why=("two of the largest conductor connected to it, as a device: the job's choice, no article names it",),
        )
        yield _by_school(module, sheet, two, school)


def _by_school(module: Module, sheet: Datasheet, two: Line, school: ModuleCounting) -> Line:
    body = sheet.body.volume if sheet.body else None
    if school == "none":
        why: Text = ("on no yoke, so counted as nothing: the job's choice; it takes room all the same",)
        return Line("modules", two.what, MODULES, why, parts=(Part(module.id, Fraction(0)),))
    if school == "device" or (school == "larger" and (body is None or two.value is None or two.value >= body)):
        return two
    if body is None:
        return Line("modules", two.what, MODULES, ("its sheet gives no body",), _ONE, None, None, (Part(module.id),))
    why = ("counted by its body, which is larger than two conductors: the job's choice, no article names it",)
    if school == "body":
        why = ("counted by its body: the job's choice, no article names it",)
    return Line("modules", two.what, MODULES, why, _ONE, body, body, (Part(module.id),))


def grounds(box: Box, edition: Edition) -> Iterator[Line]:
    """(B)(5): the grounds in one, past some number a share each, by the largest; by edition, an isolated set apart."""
    grounded = [cable for cable in box.entering if cable.grounds and not _from_a_canopy(cable)]
    if not grounded:
        if box.entering and not any(cable.grounds for cable in box.entering):
            yield Line("grounds", ("No grounds",), edition.rule("(B)(5)"), ("no ground enters the box",))
        return
    apart = [cable for cable in grounded if cable.isolated] if edition.nec_count.isolated_apart else []
    plain = [cable for cable in grounded if cable not in apart]
    if plain:
        yield from _ground_set(plain, edition, "")
    if apart:
        yield from _ground_set(apart, edition, " of an isolated set")


def _ground_set(grounded: list[Cable], edition: Edition, which: str) -> Iterator[Line]:
    rule, free = edition.rule("(B)(5)"), edition.nec_count.grounds_in_one
    count = sum(cable.grounds for cable in grounded)
    gauge = largest(cable.grounded_by for cable in grounded)
    parts = tuple(Part(cable.id, Fraction(cable.grounds)) for cable in grounded)
    what = f"1 ground{which}" if count == 1 else f"{min(count, free)} grounds{which}"
    why: Text = (f"up to {free} grounds count as one of the largest ground",)
    if edition.nec_count.isolated_apart:
        why = ("all grounds of a set count as one of the largest ground",)
    yield counted("grounds", (f"{what}, {gauge}",), gauge, parts=parts, rule=rule, why=why, count=_ONE)
    if (past := count - free) > 0:
        why = (f"each ground past {free} counts ", Amount(edition.nec_count.ground_past), " of the largest ground")
        what = f"{past} more past {free}"
        yield counted(
            "grounds", (what,), gauge, parts=parts, rule=rule, why=why, count=past * edition.nec_count.ground_past
        )


def blocks(box: Box, edition: Edition) -> Iterator[Line]:
    """(B)(6), 2023: one for each terminal block, by the largest conductor ended on it."""
    for number, block in enumerate(box.terminal_blocks, 1):
        part = (Part(f"block{number}", Fraction(block.count)),)
        what: Text = ("Terminal block",) if block.count == 1 else (f"{block.count} terminal blocks",)
        if not edition.nec_count.blocks_count:
            why: Text = ("this edition does not count terminal blocks; 2023 does",)
            yield Line("terminal blocks", what, edition.rule("(B)"), why, parts=part)
            continue
        why = ("one for each, of the largest conductor ended on it",)
        gauge = block.gauge or largest(box.gauges)
        yield counted("terminal blocks", what, gauge, parts=part, rule=edition.rule("(B)(6)"), why=why)


def leads(box: Box, sheets: Mapping[str, Datasheet], edition: Edition) -> Iterator[Line]:
    """(B)(1): what begins and ends in the box is not counted, however much room it takes."""
    if any(not sheets[device.sheet].is_blank for device in box.devices):
        why: Text = ("no part of them leaves the box, so they count nothing; they take room all the same",)
        yield Line("leads", ("Device leads, pigtails, wire connectors",), edition.rule("(B)(1)"), why)
