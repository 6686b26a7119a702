"""Everything known of each thing in a box, in words: two that say the same are the same."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping

from ..model.box import Box
from ..model.contents import Built, Contents, Equipment, Module
from ..model.datasheet import Datasheet
from ..model.load import KIND_WORDS, Load
from ..model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd
from ..model.thing import Thing
from ..model.wish import Wish
from ..text.device import equipment_words
from ..text.loads import write_loads
from ..text.wires import name_of_splice

Words = dict[str, str]
"""What things are called, and everything known of each."""
NOT_KNOWN = "not known"
_SURVEY = {
    "setback": "Set-back", "holes": "Screw holes", "neutral": "Neutral in the box",
    "insulated": "Insulation in the wall",
    "new_place": "A place that is new", "ground_way": "Made safe without a ground", "pigtails": "Pigtails joined with",
    "cavity": "Wall cavity", "built": "The wall is built of", "mounted": "The box sits",
    "plate_stays": "The plate stays",
    "metal_plate": "A plate of metal", "bonded": "The box is bonded", "damp": "Damp or wet",
    "looked": "Looked at", "tried": "Breakers tried", "put_off": "Put off",
}  # fmt: skip
"""The words for a field of the survey; of others their name."""


def said_of(thing: Thing, known: Collection[str]) -> str:
    """Return what a thing records beyond the known fields, each after a comma; "" for nothing.

    >>> from nail_count.trade.model.conductor import Conductor
    >>> said_of(Conductor(color="red", sprayed=True), ["color"])
    ', sprayed'
    """
    fields = type(thing).model_fields
    left = ((name, getattr(thing, name)) for name in fields if name not in known)
    return "".join(
        f", {name.replace('_', ' ')}{'' if value is True else f' {_value(value)}'}"
        for name, value in left
        if value != fields[name].default
    )


def _value(value: object) -> str:
    """A value of a field."""
    if value is None:
        return NOT_KNOWN
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Thing):
        return said_of(value, ()).removeprefix(", ") or "said"
    if isinstance(value, tuple):
        return "; ".join(map(_value, value)) or "none"
    return str(value) or "none"


def box_facts(box: Box) -> Words:
    """The words for the box and its place."""
    facts: dict[str, object] = {"Name": box.name, "Room": box.room, "For": box.use, "Circuit": box.circuit}
    facts["Further circuits"] = box.other_circuits
    for name in type(box.survey).model_fields:
        if name not in ("photos", "proofs"):
            facts[_SURVEY.get(name, name.replace("_", " ").capitalize())] = getattr(box.survey, name)
    facts["Proven dead"] = tuple(f"{proof.stage}: {proof.tick}" for proof in box.survey.proofs)
    facts["Pictures"] = len(box.survey.photos)
    return {name: _value(value) for name, value in facts.items()}


def contents_facts(contents: Contents) -> Words:
    """The words for the enclosure, and for what lies loose in it."""
    e = contents.enclosure
    facts: dict[str, object] = {
        "Gangs": e.gangs,
        "Material": e.material,
        "Volume": e.volume,
        "Trade size": e.trade_size,
        "Clamps inside": e.clamps,
        "Rings": tuple(
            f"{ring.kind} {ring.volume or 'unmarked'}{said_of(ring, ('kind', 'volume'))}" for ring in e.rings
        ),
        "Inside": " × ".join(str(length or "?") for length in (e.width, e.height, e.depth)),
        "Fittings": e.fittings,
        "Barriers": tuple(f"behind gang {one.after}{said_of(one, ('after',))}" for one in e.barriers),
        "Fan support": e.fan,
        "Modules": tuple(sorted(module.sheet for module in contents.modules)),
        "Connectors": tuple(
            f"{one.count} {one.size}{f' to {one.gauge}' if one.gauge else ''}" for one in contents.connectors
        ),
        "Terminal blocks": tuple(f"{one.count}{said_of(one, ('count',))}" for one in contents.terminal_blocks),
    }
    return {name: _value(value) for name, value in facts.items()}


def cable_words(box: Box, contents: Contents) -> Words:
    """The words for each cable, and what the contents do with it."""
    return {f"Cable {cable.id}": _cable(box, contents, cable.id) for cable in box.cables}


def _cable(box: Box, contents: Contents, id: str) -> str:
    cable = box.cable(id)
    assert cable is not None
    gauge = f" of {cable.ground_gauge}" if cable.ground_gauge else ""
    grounds = f"{cable.grounds} ground{'' if cable.grounds == 1 else 's'}{gauge}"
    marks = (
        (f"{cable.free} free", cable.free is not None),
        (f"{cable.condition}", cable.condition is not None),
        ("isolated ground", cable.isolated),
        ("from a canopy", cable.canopy),
        ("aluminum", cable.metal == "aluminum"),
        ("class 2", cable.class2),
        (f"space {cable.space}", cable.space > 1),
        ("comes out", id in contents.out),
        ("new", id in contents.new),
        ("ended elsewhere before", id in contents.landed),
    )
    more = "".join(f", {word}" for word, holds in marks if holds)
    known = (
        *("id", "gauge", "insulated", "grounds", "ground_gauge", "run", "enters", "free", "condition", "isolated"),
        *("canopy", "metal", "class2", "space", "conductors"),
    )
    return f"{cable.size}, {grounds}, {cable.run}, from the {cable.enters}{more}{said_of(cable, known)}"


def conductor_words(box: Box) -> Words:
    """The words for each conductor somebody looked at."""
    seen = {}
    for cable in box.cables:
        for number, conductor in enumerate(cable.conductors, 1):
            if words := said_of(conductor, ()).removeprefix(", "):
                seen[f"Conductor {cable.id}{number}"] = words
    return seen


def reading_words(box: Box) -> Words:
    """The words for each reading, but for when it was taken."""
    told, known = {}, ("id", "kind", "of", "to", "on", "far", "at")
    for one in box.readings:
        shown = "volts" if one.volts is not None else "ohms" if one.ohms is not None else "yes"
        more = said_of(one, (*known, shown))
        on = f", on: {' '.join(one.on)}" if one.on else ""
        told[f"Reading {one.id}"] = f"{one.kind} {one.of} to {one.to}{on}, far {one.far}: {one.value}{more}"
    return told


def live_words(box: Box) -> Words:
    """The words for each result of the live test, but for when it was taken."""
    shown = [
        (f"{' and '.join(one.wires)} to {one.to}{'' if one.on else ', breaker off'}", one) for one in box.live_test
    ]
    return {f"Live test {number}": f"{words}: {one.value}" for number, (words, one) in enumerate(shown, 1)}


def wish_words(box: Box) -> Words:
    """The words for each wish."""
    return {f"Wish {wish.id}": _wish(wish) for wish in box.wishes}


def _wish(wish: Wish) -> str:
    places = f"from {wish.places} place{'' if wish.places == 1 else 's'}" if wish.places else "from how many not known"
    network = {None: "", True: ", works without the network", False: ", needs no working without the network"}
    stays = f", {wish.stays} stays" if wish.stays else ""
    loads = f", {write_loads(wish.loads)}" if wish.loads else ""
    more = "".join(said_of(load, ("id", "kind", "quantity", "each", "name")) for load in wish.loads)
    does = " and ".join(wish.does)
    return f"{wish.what or 'not named'}, {places}, {does}{loads}{more}{network[wish.without_network]}{stays}"


def device_words(contents: Contents, sheets: Mapping[str, Datasheet]) -> Words:
    """The words for each device by its gang, and for each module known by more than its kind."""
    devices = sorted(contents.devices, key=lambda device: device.gang)
    gangs = {f"Gang {device.gang}": _device(device, sheets) for device in devices}
    modules = (one for one in contents.modules if one != Module(id=one.id, sheet=one.sheet))
    return gangs | {f"Module {module.id}": _device(module, sheets) for module in modules}


def _device(device: Equipment, sheets: Mapping[str, Datasheet]) -> str:
    words = [sheets[device.sheet].name]
    words += [f"“{device.name}”"] if device.name else []
    words += [", ".join(said)] if (said := equipment_words(device)) else []
    words += [f"with {_load(load)}" for load in device.loads]
    words += [f"kept from before ({device.stays})"] if device.stays else []
    known = (
        *("id", "stays", "gang", "sheet", "name", "gauge", "loads", "circuit", "broken", "lamp_setting", "control"),
        "listing",
    )
    return f"{' '.join(words)}{said_of(device, known)}"


def _load(load: Load) -> str:
    """A load with everything known of it."""
    name = f" “{load.name}”" if load.name else ""
    said = (
        (f"power factor {float(load.power_factor or 0):g}", load.power_factor is not None),
        (f"channel {load.channel}", load.channel > 1),
        ("draws that", load.actual),
        ("made for dimming" if load.dimmable else "not made for dimming", load.dimmable is not None),
        (f"transformer takes {load.loss}", load.loss is not None),
        (f"fewest {load.fewest}", load.fewest is not None),
        ("continuous" if load.continuous else "not continuous", load.continuous is not None),
        (f"lights {load.lights}", bool(load.lights)),
        (f"measured {load.measured.power} by {load.measured.by}" if load.measured else "", load.measured is not None),
        (f"at {load.outlet}", load.outlet is not None),
        (f"by cable {load.cable}", load.cable is not None),
        ("with a bypass", load.bypass),
        (f"fixture label {load.label}", load.label is not None),
    )
    more = "".join(f", {words}" for words, holds in said if holds)
    known = (
        *("id", "kind", "quantity", "each", "name", "power_factor", "channel", "actual", "dimmable", "loss", "fewest"),
        *("continuous", "lights", "measured", "outlet", "cable", "bypass", "label"),
    )
    return f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]}{name}{more}{said_of(load, known)}"


def assumed_words(contents: Contents) -> Words:
    """Return what its hook-up rests on, by what was assumed of what."""
    return {f"Rests on {one.code} {one.subject}".strip(): one.value or "yes" for one in contents.rests_on}


def splice_words(contents: Contents, sheets: Mapping[str, Datasheet]) -> Words:
    """The ends in each splice, and what holds it; those that were counted and nothing more are among the connectors."""
    items = {item.id: item for item in contents.equipment}

    def words(end: End) -> str:
        if isinstance(end, ConductorEnd):
            return end.of
        if isinstance(end, GroundEnd):
            return f"ground of {end.cable}"
        if isinstance(end, LeadEnd):
            item = items.get(end.of)
            if item is None:
                return f"{end.of}, terminal {end.terminal}"
            terminals = sheets[item.sheet].terminals
            role = terminals[end.terminal - 1].role if end.terminal <= len(terminals) else f"terminal {end.terminal}"
            return f"{item.name or sheets[item.sheet].name}: {role} ({end.terminal})"
        if isinstance(end, FixtureEnd):
            return f"{end.side} of load {end.load} of {end.box}"
        return (
            "bond of the metal box"
            if isinstance(end, BondEnd)
            else f"pigtail to {end.to}{said_of(end, ('kind', 'to'))}"
        )

    def said() -> Iterator[tuple[str, str]]:
        for splice in contents.splices:
            if splice.ends or splice.name or splice.space > 1:
                name = f"{name_of_splice(splice.name)}: " if splice.name else ""
                held = (
                    f"; {splice.connector.size} connector{said_of(splice.connector, ('size',))}"
                    if splice.connector
                    else ""
                )
                ends = ", ".join(sorted(map(words, splice.ends))) or "only counted"
                yield f"Splice {splice.id}", f"{name}{ends}{held}{said_of(splice, ('id', 'name', 'ends', 'connector'))}"

    return dict(said())


def commissioned_words(built: Built) -> Words:
    """What was noted of each device at commissioning, but for the time."""
    return {
        f"Set up, {one.of}": said_of(one, ("of", "at")).removeprefix(", ") or "nothing noted"
        for one in built.commissioned
    }
