"""What forbids a choice whatever the sums are, or leaves it open: each a finding with its rule and its ways out.

Source: NFPA 70 (NEC), the article named with each; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from fractions import Fraction
from functools import partial
from typing import Literal

from ..model.answer import Amount, Answer, Remark, State, Subject, Text
from ..model.box import Box, Device, Equipment, Module
from ..model.datasheet import Datasheet
from ..model.edition import first_with
from ..model.figure import Figure, every_nec
from ..model.job import Terms
from ..model.survey import GroundWay
from .citing import Cite
from .load.limits import PRACTICE, SHEET
from .load.rating import title_of
from .wires.neutral import Neutral, neutral_in


def prohibitions(box: Box, sheets: Mapping[str, Datasheet], terms: Terms) -> Answer | None:
    """The findings on where things are put; None where there are none.

    Args:
        sheets: the sheets of everything in it, by id.
        terms: whose edition is named. Where another code holds, what only the NEC asks for is left out, and the rest
            is common practice.
    """
    cite = Cite(terms.code)
    neutral = neutral_in(box, terms.voltage)
    everywhere = (
        partial(_neutral, terms.voltage),
        _listing,
        _aluminum,
        _class2,
        _ground,
        _circuits,
        _modules,
        _found,
        _legs,
        _apart,
    )
    of_the_nec = (partial(_through_ground, neutral), partial(_new_place, neutral), _stairs, _battery, _fan, _yoke)
    only_here = of_the_nec if cite.nec else ()
    found = tuple(remark for look in (*everywhere, *only_here) for remark in look(box, sheets, cite))
    if not found:
        return None
    worst = max(found, key=lambda remark: remark.state)
    headline = worst.text if worst.state > State.HOLDS else ("nothing here forbids it",)
    title = ("What goes where",)
    return Answer(
        "prohibitions", Subject("box", box.id), title, "", (), (), Fraction(0), None, worst.state, headline, found
    )


def _neutral(voltage: int, box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """110.3(B): what asks for a neutral is put in as its listing says, with one."""
    for item in box.equipment:
        sheet = sheets[item.sheet]
        called = title_of(item, sheet)
        neutral = neutral_in(box, voltage, circuit=box.circuit_of(item))
        if sheet.neutral == "needed" and neutral.there is not True:
            ways = ("a device that needs none", "a module at the fixture, where a neutral is", "a new cable with one")
            if neutral.there is False:
                text = (f"{called} needs a neutral, and none is in the box: {neutral.why}",)
                yield Remark("no-neutral", text, cite("110.3(B)"), State.FAILS, ways)
            else:
                why = f"{neutral.why[:1].upper()}{neutral.why[1:]}"
                text = (f"{called} needs a neutral. Does this box have one? {why}",)
                yield Remark(
                    "neutral-not-known",
                    text,
                    cite("110.3(B)"),
                    State.OPEN,
                    ("look, or take readings on the wires", *ways),
                )


def _listing(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """110.3(B): equipment is put in as it is listed; a modified unit, or one without a listing, isn't."""
    way = ("put in a listed device, as its maker made it",)
    for code, text in unlisted(box.equipment, sheets):
        yield Remark(code, (text,), cite("110.3(B)"), State.FAILS, way)


def unlisted(
    items: Iterable[Equipment], sheets: Mapping[str, Datasheet]
) -> Iterator[tuple[Literal["modified-device", "unlisted-device"], str]]:
    """Yield what voids the listing of each device or module, as a code and a sentence.

    Args:
        items: the devices and modules.
        sheets: the sheets they name, by id.
    """
    for item in items:
        sheet = sheets[item.sheet]
        called = title_of(item, sheet)
        if item.listing == "modified":
            yield "modified-device", f"{called} was modified: its listing no longer covers it"
        if item.listing == "none" or sheet.unlisted:
            yield "unlisted-device", f"{called} bears no listing mark"


def _through_ground(neutral: Neutral, box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """404.22: what sends its own current through the ground for want of a neutral."""
    for item in box.equipment:
        sheet = sheets[item.sheet]
        called = title_of(item, sheet)
        if sheet.neutral == "uses the ground":
            rule = cite("404.22")
            if "replaces a switch without a neutral" not in sheet.listed:
                text = (f"{called} sends its own current through the ground, and is not listed for it",)
                yield Remark(
                    "ground-not-listed",
                    text,
                    rule,
                    State.FAILS,
                    ("a device with a neutral", "one listed for boxes without one"),
                )
            elif neutral.there:
                text = (f"{called} uses the ground though a neutral is in the box",)
                yield Remark("ground-beside-neutral", text, rule, State.FAILS, ("a device that takes the neutral",))
            else:
                text = (f"{called} uses the ground for want of a neutral: five at most on a branch circuit",)
                yield Remark("uses-ground", text, rule)


def _aluminum(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """404.14(C): on aluminum only devices listed for it."""
    if all(cable.metal == "copper" for cable in box.entering):
        return
    for device in sorted(box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        if sheet.is_blank or sheet.battery or "aluminum" in sheet.listed:
            continue
        if connector := box.survey.pigtails:
            done = (f"{title_of(device, sheet)}: on copper pigtails, joined to the aluminum with {connector}",)
            yield Remark("pigtailed", done, cite("110.14(B)"))
            continue
        text = (f"aluminum in the box, and {title_of(device, sheet)} is not listed for it",)
        ways = ("copper pigtails with connectors listed for both metals", "a device listed for aluminum")
        yield Remark("aluminum", text, cite("404.14(C)"), State.FAILS, ways)


def _class2(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """725.136: class 2 wires apart from mains, by a barrier or by listing."""
    rule = cite("725.136")
    for space in sorted({cable.space for cable in box.entering if cable.class2}):
        here = [sheets[one.sheet] for one in box.equipment if isinstance(one, Device) or one.space == space]
        mains = any(not cable.class2 and cable.space == space for cable in box.entering)
        if mains and not any("class 2 beside mains" in sheet.listed for sheet in here):
            ways = ("a barrier between them", "a device listed for both in one box", "a box of its own")
            yield Remark(
                "class2-beside-mains", ("class 2 wires lie beside mains with no barrier",), rule, State.FAILS, ways
            )
        for module in (one for one in box.modules if one.space == space):
            sheet = sheets[module.sheet]
            if sheet.input == "dry" and sheet.input_at_mains is not False:
                certain = sheet.input_at_mains is True
                sits = "sits at mains potential" if certain else "may sit at mains potential: its sheet does not say"
                text = (f"the dry input of {sheet.name} {sits}; no class 2 wire may end on it",)
                yield Remark(
                    "dry-input-at-mains",
                    text,
                    rule,
                    State.FAILS if certain else State.OPEN,
                    ("a wire of mains kind to its switch",),
                )


def _stairs(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """210.70(A)(2), since 2020: a stair switched from several places is dimmed only with the full range at each."""
    holds = cite.edition.stair_dimming
    for item in _lighting(box, "stairs"):
        sheet = sheets[item.sheet]
        if not sheet.dims or sheet.full_range is True:
            continue
        has = cite.edition if holds else first_with(lambda edition: edition.stair_dimming)
        rule = has.rule("210.70(A)(2)")
        ways = ("a dimmer whose companions have the full range", "a switch in its place")
        if sheet.full_range is None:
            text = (f"{title_of(item, sheet)} dims a stair; whether every place has the full range is not known",)
            yield Remark(
                "stair-range-not-said", text, rule, State.OPEN if holds else State.HOLDS, ("look on the sheet", *ways)
            )
        else:
            text = (f"{title_of(item, sheet)} dims a stair from one end only",)
            yield Remark("stair-dimmed-from-one-end", text, rule, State.FAILS if holds else State.HOLDS, ways)


def _battery(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """210.70(A)(2), 2023: a required light may not depend on a battery control alone."""
    for module in (one for one in _lighting(box, "required light", "stairs") if isinstance(one, Module)):
        called = title_of(module, sheets[module.sheet])
        holds = cite.edition.battery_control
        rule = (cite.edition if holds else first_with(lambda one: one.battery_control)).rule("210.70(A)(2)")
        ways = ("a wired switch on its input", "a wired smart switch in its place")
        if module.control == "battery only":
            text = (f"{called}: a required light depends on a battery control alone",)
            yield Remark(
                "battery-control", text, rule, State.FAILS if cite.edition.battery_control else State.HOLDS, ways
            )
        elif module.control is None and cite.edition.battery_control:
            text = (f"{called}: a required light; what switches it is not known",)
            yield Remark("control-not-said", text, rule, State.OPEN, ("say what switches it", *ways))


def _ground(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """404.9(B): no ground in an old box."""
    mains = [cable for cable in box.entering if not cable.class2]
    yokes = [device for device in box.devices if not sheets[device.sheet].is_blank]
    if mains and yokes and not any(cable.grounds for cable in mains):
        sheath = any(cable.has_metal_sheath for cable in mains)
        picked = box.survey.ground_way
        kept_to = (picked != "sheath" or sheath) and not (picked == "plate" and box.survey.metal_plate)
        if picked is not None and kept_to:
            text = (f"no ground wire in the box: {GROUND_WAYS[picked]}, as picked",)
            yield Remark("no-ground", text, cite("404.9(B)"))
            return
        text = ("no ground in the box: devices there only with one of these, picked and kept",)
        if sheath:
            text = ("no ground wire: prove that the armor or conduit is the ground, or pick another of these",)
        ways = tuple(words for way, words in GROUND_WAYS.items() if way != "sheath" or sheath)
        yield Remark("no-ground", text, cite("404.9(B)"), State.OPEN, ways)


def _yoke(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """314.25: in a square or a round box a device is carried by a plaster ring or a raised cover."""
    size, rings = box.enclosure.size, box.enclosure.rings
    carried = any(ring.kind != "extension" for ring in rings)
    if size is None or size.takes_a_yoke or carried or not box.devices:
        return
    looked = "ring" in box.survey.looked
    way = "a plaster ring or a raised cover"
    told = "and has none" if looked else "and whether it has one isn’t checked yet"
    text = (f"a {size.name} box needs {way} to hold a device, {told}",)
    ways = (f"put on {way}" if looked else f"look whether {way} is on it",)
    yield Remark("no-ring-for-device", text, cite("314.25"), State.FAILS if looked else State.OPEN, ways)


GROUND_WAYS: Mapping[GroundWay, str] = {
    "plate": "a nonmetallic plate with nonmetallic screws",
    "yoke": "a nonmetallic yoke",
    "GFCI": "protection against ground faults ahead of it",
    "sheath": "the armor or conduit, proven to be the ground",
}
"""Ways out where an old box has no ground wire, as 404.9(B) has them for replacements."""


def _new_place(neutral: Neutral, box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """404.2(C): at a new place for a lighting switch a neutral is provided."""
    lighting = any(load.is_lamp for item in box.equipment for load in item.loads)
    if not box.survey.new_place or not lighting or neutral.there:
        return
    known = neutral.there is False
    text = (f"a new switch place for lights has no neutral{'' if known else ', as far as is known'}: {neutral.why}",)
    ways = ("a cable with a neutral", "one of the exceptions of the article, which the inspector decides")
    yield Remark("new-switch-place", text, cite("404.2(C)"), State.FAILS if known else State.OPEN, ways)


SHORTEST_FREE = Figure("6", "in", "Free length of a conductor in a box, at least", every_nec("300.14"))


def short_ends(box: Box) -> list[str]:
    """The letters of the cables measured with less free length than a conductor must have."""
    return [cable.id for cable in box.entering if cable.free is not None and cable.free.inches < SHORTEST_FREE]


def _found(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """The defects the survey found, to put right: short or brittle ends, holes, bonding, a damp place."""
    survey, nec = box.survey, cite.nec
    ways: tuple[str, ...]
    short = short_ends(box)
    if short and not survey.pigtails:
        text: Text = (f"{_cables(short)}: less than ", Amount(SHORTEST_FREE, "in"), " free")
        ways = ("lengthen each with a pigtail and a connector", "pull in more of the cable")
        yield Remark("short-ends", text, cite("300.14"), State.FAILS if nec else State.HOLDS, ways)
    brittle = [cable.id for cable in box.entering if cable.condition in ("brittle", "nicked")]
    if brittle:
        ways = ("cut back to sound insulation", "sleeve each end with a sleeve listed for it", "a new cable")
        text = (f"{_cables(brittle)}: insulation or ends brittle or nicked",)
        yield Remark("brittle-ends", text, PRACTICE, State.OPEN, ways)
    if survey.holes == "broken":
        ways = ("a larger screw, where metal is left for it", "a repair clip made for the box", "another box")
        yield Remark("broken-holes", ("a screw hole for the devices is broken",), PRACTICE, State.OPEN, ways)
    if box.enclosure.material == "metal" and survey.bonded is False:
        ways = ("a bonding screw or clip and a pigtail to the grounds", "the armor or conduit, proven to be the ground")
        text = ("the metal box is not bonded",)
        yield Remark("bonding", text, cite("250.148"), State.FAILS if nec else State.HOLDS, ways)
    if survey.damp:
        ways = ("a box and plate listed for the place", "another place")
        yield Remark("damp-place", ("a damp or wet place",), cite("314.15"), State.OPEN, ways)


FAN_UNMARKED = Figure("35", "lb", "A fan on a box listed for one, without a mark: up to", every_nec("314.27(C)"))
FAN_MOST = Figure("70", "lb", "A fan on a box marked for its weight: up to", every_nec("314.27(C)"))


def _fan(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """314.27(C): a box a fan hangs at is listed for one; above 35 lb it is marked for the weight, 70 lb at most."""
    if box.use != "fan":
        return
    rule, fan = cite("314.27(C)"), box.enclosure.fan
    ways = ("a box listed for fans, on a brace or the framing", "hang the fan from the framing itself")
    if fan is None or fan.listed is None:
        text = ("whether the box is listed for a fan was not looked at",)
        yield Remark("fan-not-looked-at", text, rule, State.OPEN, ("look for the mark in the box", *ways))
        return
    if not fan.listed:
        yield Remark("fan-not-listed", ("a fan hangs at a box that is not listed for one",), rule, State.FAILS, ways)
        return
    most = min(fan.marked or Fraction(FAN_UNMARKED), Fraction(FAN_MOST))
    if fan.weight is None:
        text = (f"listed for a fan of up to {float(most):g} lb; what the fan weighs is not known",)
        yield Remark("fan-supported", text, rule)
    elif fan.weight > most:
        text = (f"the fan weighs {float(fan.weight):g} lb, and the box carries {float(most):g} lb",)
        yield Remark("fan-too-heavy", text, rule, State.FAILS, ways)
    else:
        text = (f"the fan weighs {float(fan.weight):g} lb, and the box carries {float(most):g} lb",)
        yield Remark("fan-supported", text, rule)


def _cables(letters: Sequence[str]) -> str:
    return f"cable {letters[0]}" if len(letters) == 1 else f"cables {', '.join(letters)}"


def _circuits(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """300.3(B), 300.13(B): two circuits in a box stay two."""
    if len(box.circuits) < 2:
        return
    listed = " and ".join(box.circuits)
    text = (f"circuits {listed} meet here: hots, neutrals and loads of each stay apart, and both go off for work",)
    yield Remark("circuits-meet", text, cite("300.3(B)"))
    for item in box.equipment:
        sheet = sheets[item.sheet]
        if item.circuit is None and item.loads:
            text = (f"{title_of(item, sheet)}: which circuit feeds it is not known; taken to be {box.circuit}",)
            yield Remark("circuit-not-said", text, PRACTICE)
        if sheet.is_module and len(sheet.channels) > 1:
            text = (f"{sheet.name}: one live feed for all its channels, never two",)
            yield Remark("one-feed", text, SHEET)


def _modules(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """Modules that share a box warm each other; without a figure on the sheet that is a remark."""
    silent = [module for module in box.modules if sheets[module.sheet].ambient is None]
    if len(box.modules) > 1 and silent:
        names = ", ".join(dict.fromkeys(sheets[module.sheet].name for module in silent))
        yield Remark(
            "modules-warm",
            (f"modules share the box and warm each other; no ambient limit on the sheet of {names}",),
            PRACTICE,
        )


def _legs(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """Two loads at one fixture, switched apart, take a wire each and one back: a cable of two wires has none for both.

    Source: common practice; all wires of a circuit in one cable, NEC 300.3(B), from memory of the publication.
    """
    if box.is_outlet:
        return
    mains = [cable for cable in box.entering if not cable.class2]
    legs: dict[tuple[str | None, str | None], set[tuple[str, int]]] = {}
    for item in box.equipment:
        for load in item.loads:
            if load.outlet is not None or load.cable is not None:
                legs.setdefault((load.outlet, load.cable), set()).add((item.id, load.channel))
    ways = ("a cable with three wires to the fixture", "one device for both", "a module at the fixture")
    for (_, letter), apart in legs.items():
        there = [cable for cable in mains if letter in (None, cable.id)]
        needed = len(apart) + 1
        if len(apart) < 2 or not there or max(cable.insulated for cable in there) >= needed:
            continue
        if len(there) == 1:
            text = (f"{needed} wires go to the fixture, {len(apart)} of them switched; cable {there[0].id} has fewer",)
            yield Remark("too-few-wires", text, cite("300.3(B)"), State.FAILS, ways)
        else:
            text = (f"{needed} wires go to one fixture, {len(apart)} of them switched, and no cable here has as many",)
            yield Remark("too-few-wires", text, cite("300.3(B)"), State.OPEN, ("say which cables go there", *ways))


def _apart(box: Box, sheets: Mapping[str, Datasheet], cite: Cite) -> Iterator[Remark]:
    """What one device switches apart takes a wire each, in cables that bring one back; one cable here is the feed.

    Only where nobody entered which cable goes to which load. Source: as above.
    """
    mains = [cable.insulated - 1 for cable in box.entering if not cable.class2]
    if box.is_outlet or not mains:
        return
    there = sum(mains) - (min(mains) if len(mains) > 1 else 0)
    unknown = {
        item.id: {load.channel for load in item.loads if load.outlet is None and load.cable is None}
        for item in box.equipment
    }
    needed = sum(len(channels) for channels in unknown.values())
    several = [item for item in box.equipment if len(unknown[item.id]) > 1]
    if not several or needed <= there:
        return
    called = title_of(several[0], sheets[several[0].sheet])
    wires = f"{there} wire{'' if there == 1 else 's'}"
    text = (f"{called} switches {len(unknown[several[0].id])} loads apart, and the cables here have {wires} for that",)
    ways = ("look at the fixture for a wire folded back", "a module at the fixture", "one switch for both")
    yield Remark("too-few-wires", text, cite("300.3(B)"), State.OPEN, ways)


def _lighting(box: Box, *purposes: str) -> Iterator[Equipment]:
    """What carries a light of these purposes."""
    return (one for one in box.equipment if any(load.lights in purposes for load in one.loads))
