"""Counting volume by the Canadian code: in mL, and by the real depth of a device's body.

Source: CSA C22.1 rule 12-3034 and its tables; every figure from memory of the publication, not held against a printed
copy.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction
from functools import partial

from ...model.answer import Answer, Line, Part, Remark, Rule, Subject, Text, add_up, limit_of
from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.figure import Figure, table
from ...model.gauge import Gauge, awg, largest
from ...model.job import ModuleCounting
from ...model.measure import parse_number
from ..usual_connectors import usual_connectors
from .allowances import counted as counted_by
from .allowances import judge
from .capacity import capacity
from .nec_lines import MODULES
from .spaces import Space

NAME = "CSA C22.1"
RULE = Rule(NAME, "12-3034")
CSA_ALLOWANCES: dict[Gauge, Figure] = table(
    "mL",
    "{}",
    RULE,
    {awg(14): "24.6", awg(12): "28.7", awg(10): "36.9", awg(8): "45.1", awg(6): "73.7"},
)
"""Volume of one insulated conductor [mL]."""
counted = partial(counted_by, allowances=CSA_ALLOWANCES)
"""So many allowances of the table."""
SHALLOW = Figure("2.54", "cm", "A device up to so far behind its strap counts as two conductors", RULE)
"""Up to so far behind the strap a device counts as two conductors [cm]."""
PER_CENTIMETER = Figure("32", "mL", "A deeper one, for each centimeter and gang", RULE)
"""What a deeper one takes for each centimeter it reaches back, for each gang [mL]."""
LUMINAIRE = (awg(16), awg(18))
"""Wires of a luminaire that count nothing."""
ML_PER_IN3 = parse_number("16.387064")


def csa_fill(space: Space, sheets: Mapping[str, Datasheet], school: ModuleCounting = "larger") -> Answer:
    """Whether a space of a box has the volume for its contents.

    Args:
        space: of a box; its capacity comes from the marking alone.
        sheets: the sheets its devices name, by id.
        school: how a module on no yoke is counted.

    Returns:
        Lines and limit in mL.

    >>> from nail_count.trade.model.enclosure import Enclosure
    >>> from nail_count.trade.rules.volume.spaces import spaces
    >>> box = Box(id="b", name="B", room="R", planned={"enclosure": {"volume": "245 mL"}},
    ...           cables=[{"id": "A", "gauge": 14, "insulated": 2}])
    >>> csa_fill(spaces(box, {})[0], {}).total
    Fraction(246, 5)
    """
    box = space.box
    lines = (*_conductors(box), *_devices(space, sheets), *_modules(box, sheets, school), *_rest(box, sheets))
    limit_lines = tuple(_in_ml(line) for line in capacity(space, RULE, None))
    total, limit = add_up(lines), limit_of(limit_lines)
    counting = [cable.gauge for cable in box.entering if cable.insulated]
    state, headline = judge(counting, lines, total, limit=limit, allowances=CSA_ALLOWANCES, unit="mL")
    title: Text = ("Volume",) if space.of == 1 else (f"Volume, gangs {space.first} to {space.last}",)
    subject = Subject("box", box.id) if space.of == 1 else Subject("space", box.id, space.number)
    return Answer("fill", subject, title, "mL", lines, limit_lines, total, limit, state, headline, tuple(_remarks(box)))


def _in_ml(line: Line) -> Line:
    if line.value is None:
        return line
    value = line.value * ML_PER_IN3
    each = None if line.each is None else line.each * ML_PER_IN3
    return Line(line.kind, line.what, line.rule, line.why, line.count, each, value, line.parts)


def _conductors(box: Box) -> Iterator[Line]:
    found: dict[Gauge, list[Part]] = {}
    luminaire = [cable for cable in box.entering if cable.canopy and cable.insulated and cable.gauge in LUMINAIRE]
    if luminaire:
        parts = tuple(Part(cable.id, Fraction(0)) for cable in luminaire)
        why: Text = ("luminaire wires of 16 and 18 AWG count nothing",)
        yield Line("conductors", ("Luminaire wires",), RULE, why, parts=parts)
    for cable in box.entering:
        if cable.insulated and cable not in luminaire:
            times = 2 if cable.run == "looped" else 1
            found.setdefault(cable.gauge, []).append(Part(cable.id, Fraction(cable.insulated * times)))
    why = ("each insulated conductor counts by its size",)
    for gauge in sorted(found):
        what: Text = (f"{gauge} conductors",)
        yield counted("conductors", what, gauge, parts=tuple(found[gauge]), rule=RULE, why=why)


def _devices(space: Space, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    """Shallow: two conductors; deeper: its real space."""
    for device in sorted(space.box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        if sheet.is_blank:
            continue
        which = f"{sheet.name} “{device.name}”" if device.name else sheet.name
        what: Text = (f"Gang {device.gang}: {which}",)
        part = (Part(device.id, Fraction(2)),)
        if sheet.body is None:
            why: Text = ("its sheet gives no body, so how far it reaches back is open",)
            yield Line("devices", what, RULE, why, Fraction(1), None, None, part)
            continue
        back = sheet.body.projection.to("cm")
        if back <= SHALLOW:
            why = ("reaches back no more than 2.54 cm: two of the largest conductor connected to it",)
            gauge = device.gauge or _thickest(space.box)
            yield counted("devices", what, gauge, parts=part, rule=RULE, why=why)
            continue
        taken = PER_CENTIMETER * back * sheet.gangs
        why = ("deeper than 2.54 cm: 32 mL for each centimeter it reaches back, for each gang",)
        yield Line("devices", what, RULE, why, Fraction(1), taken, taken, (Part(device.id),))


def _modules(box: Box, sheets: Mapping[str, Datasheet], school: ModuleCounting) -> Iterator[Line]:
    for module in box.modules:
        sheet = sheets[module.sheet]
        what: Text = (f"{sheet.name}, loose in the box",)
        body = sheet.body.volume * ML_PER_IN3 if sheet.body else None
        part = (Part(module.id, Fraction(2)),)
        why: Text = ("as two conductors: the job's choice, no rule names it",)
        two = counted("modules", what, module.gauge or _thickest(box), parts=part, rule=MODULES, why=why)
        if school == "none":
            yield Line("modules", what, MODULES, ("counted as nothing: the job's choice",), parts=(Part(module.id),))
        elif school == "device" or (school == "larger" and (body is None or two.value is None or two.value >= body)):
            yield two
        elif body is None:
            yield Line("modules", what, MODULES, ("its sheet gives no body",), Fraction(1), None, None, part)
        else:
            yield Line("modules", what, MODULES, ("by its body: the job's choice",), Fraction(1), body, body, part)


def _rest(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    """Connectors by pairs, fittings, and those parts that count nothing."""
    yield from _connectors(box, sheets)
    if fittings := tuple(dict.fromkeys(box.enclosure.fittings)):
        what: Text = (" and ".join("fixture stud" if one == "stud" else "hickey" for one in fittings).capitalize(),)
        why: Text = ("stud and hickey count as one conductor together",)
        parts = tuple(Part(one) for one in fittings)
        yield counted("fittings", what, _thickest(box), parts=parts, rule=RULE, why=why, count=Fraction(1))
    if any(cable.grounds for cable in box.entering):
        yield Line("grounds", ("Bare grounds",), RULE, ("bare grounds count nothing",))
    if box.enclosure.clamps:
        yield Line("clamps", ("Clamps inside the box",), RULE, ("clamps count nothing",))


def _thickest(box: Box) -> Gauge | None:
    """The largest insulated conductor in the box: bare grounds count nothing, and size nothing."""
    return largest(cable.gauge for cable in box.entering if cable.insulated)


def _connectors(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    """Every pair by the larger of the conductors it joins; the largest are paired first.

    While none are entered, those the usual hook-up takes.
    """
    joined = [gauge for one in box.connectors for gauge in [one.gauge or _thickest(box)] * one.count]
    assumed = not joined
    if assumed:
        joined = [_thickest(box)] * len(usual_connectors(box, sheets))
    if not joined:
        return
    what: Text = (f"{len(joined)} wire connector{'' if len(joined) == 1 else 's'}",)
    why: Text = ("every pair counts as one conductor of the largest they join; one alone counts nothing",)
    if assumed:
        why = ("not entered: as many as the usual hook-up takes; ", *why)
    known = sorted((gauge for gauge in joined if gauge is not None), reverse=True)
    if len(set(known)) > 1:
        why = (*why, "; paired from the largest down, the job’s choice: no rule says which two make a pair")
    if len(known) < len(joined) and len(joined) > 1:
        yield counted(
            "connectors", what, None, parts=(Part("connectors"),), rule=RULE, why=why, count=Fraction(len(joined) // 2)
        )
    elif len(joined) == 1:
        yield Line("connectors", what, RULE, why)
    pairs = known[: len(known) // 2 * 2 : 2] if len(known) == len(joined) else []
    for gauge in dict.fromkeys(pairs):
        yield counted(
            "connectors",
            what,
            gauge,
            parts=(Part("connectors"),),
            rule=RULE,
            why=why,
            count=Fraction(pairs.count(gauge)),
        )


def _remarks(box: Box) -> Iterator[Remark]:
    volume = box.enclosure.volume
    if volume is None and box.enclosure.measured is not None:
        text = "the volume is measured, which is an estimate: find the mark before relying on it"
        yield Remark("volume-measured", (text,), RULE)
    if volume is not None and volume.unit == "in3":
        yield Remark(
            "mark-turned-into-ml", ("the mark in in³ was turned into mL; if the box shows mL too, enter that",), RULE
        )
    if any(cable.run == "looped" for cable in box.entering):
        yield Remark("looped-as-two", ("a conductor looped unbroken is taken as two; hold it against your code",), RULE)
