"""What is different between two states of a box, in sentences."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ..model.box import Box, Equipment
from ..model.conductor import Reading
from ..model.datasheet import Datasheet
from ..model.load import KIND_WORDS, Load
from ..model.wire import Cable
from ..model.wish import Wish
from ..text.device import equipment_words
from ..text.loads import write_loads


def differences(before: Box, after: Box, sheets: Mapping[str, Datasheet]) -> tuple[str, ...]:
    """One sentence for each thing that is otherwise in `after`; () where the two are the same.

    Args:
        before: one state of a box.
        after: another.
        sheets: the sheets the devices of either name, by id.

    >>> one = Box(id="b", name="Hall", room="Hall")
    >>> other = one.changed(name="Landing", cables=(Cable(id="A", gauge=14, insulated=2),))
    >>> differences(one, other, {})
    ('Name: Hall → Landing', 'Cable A more: 14/2, 1 ground, ends, from the top')
    """
    return tuple(_sentences(before, after, sheets))


def _sentences(before: Box, after: Box, sheets: Mapping[str, Datasheet]) -> Iterator[str]:
    for label, old, new in zip(_LABELS, _facts(before), _facts(after), strict=True):
        if old != new:
            yield f"{label}: {old} → {new}"
    yield from _things("Cable", {c.id: _cable(c) for c in before.cables}, {c.id: _cable(c) for c in after.cables})
    yield from _things("Gang", _by_gang(before, sheets), _by_gang(after, sheets))
    yield from _things("Module", _modules(before, sheets), _modules(after, sheets))
    yield from _things("Conductor", _conductors(before), _conductors(after))
    yield from _things(
        "Reading", {r.id: _reading(r) for r in before.readings}, {r.id: _reading(r) for r in after.readings}
    )
    yield from _things("Wish", {w.id: _wish(w) for w in before.wishes}, {w.id: _wish(w) for w in after.wishes})


def _things(kind: str, before: Mapping[str, str], after: Mapping[str, str]) -> Iterator[str]:
    for name in dict.fromkeys((*before, *after)):
        old, new = before.get(name), after.get(name)
        if old is None:
            yield f"{kind} {name} more: {new}"
        elif new is None:
            yield f"{kind} {name} gone: {old}"
        elif old != new:
            yield f"{kind} {name}: {old} → {new}"


_LABELS = (
    *("Name", "Room", "Circuit", "Gangs", "Material", "Volume", "Trade size", "Set-back", "Wall", "Screw holes"),
    *("Plaster", "Clamps inside", "Rings", "Inside", "Pictures", "Fittings", "Barriers", "Modules", "Connectors"),
    *("Terminal blocks", "Neutral in the box", "Insulation in the wall"),
)


def _facts(box: Box) -> tuple[str, ...]:
    e = box.enclosure
    rings = ", ".join(f"{ring.kind} {ring.volume or 'unmarked'}" for ring in e.rings)
    inside = " × ".join(str(length or "?") for length in (e.width, e.height, e.depth))
    known = (box.name, box.room, box.circuit, e.gangs, e.material, e.volume, e.trade_size)
    found = (box.survey.setback, box.survey.wall, box.survey.holes, box.survey.plaster)
    facts = (str(fact) if fact is not None else "not known" for fact in (*known, *found))
    contents = (
        e.fittings,
        [f"behind gang {barrier.after}" for barrier in e.barriers],
        [module.sheet for module in sorted(box.modules, key=lambda module: module.sheet)],
        [f"{one.count} {one.size}" for one in box.connectors],
        [str(one.count) for one in box.terminal_blocks],
    )
    clamps, photos = "yes" if e.clamps else "no", str(len(box.survey.photos))
    held = (", ".join(one) or "none" for one in contents)
    looked = {None: "not looked at", True: "yes", False: "no"}
    wall = looked[box.survey.neutral], looked[box.survey.insulated]
    return *facts, clamps, rings or "none", inside, photos, *held, *wall


def _cable(cable: Cable) -> str:
    gauge = f" of {cable.ground_gauge}" if cable.ground_gauge else ""
    grounds = f"{cable.grounds} ground{'' if cable.grounds == 1 else 's'}{gauge}"
    free = f", {cable.free} free" if cable.free is not None else ""
    condition = f", {cable.condition}" if cable.condition else ""
    marks = (
        ("isolated ground", cable.isolated),
        ("from a canopy", cable.canopy),
        ("aluminum", cable.metal == "aluminum"),
        ("class 2", cable.class2),
        (f"space {cable.space}", cable.space > 1),
    )
    more = "".join(f", {word}" for word, holds in marks if holds)
    return f"{cable.size}, {grounds}, {cable.run}, from the {cable.enters}{free}{condition}{more}"


def _conductors(box: Box) -> dict[str, str]:
    """Those somebody looked at."""
    seen = {}
    for cable in box.cables:
        for number, conductor in enumerate(cable.conductors, 1):
            words = [f"{name} {value}" for name, value in conductor if value not in (None, "", False)]
            if words:
                seen[f"{cable.id}{number}"] = ", ".join(words).replace("_", " ")
    return seen


def _reading(reading: Reading) -> str:
    shown = reading.value
    on = f", on: {' '.join(reading.on)}" if reading.on else ""
    return f"{reading.kind} {reading.of} to {reading.to}{on}, far {reading.far}: {shown}"


def _wish(wish: Wish) -> str:
    places = f"from {wish.places} place{'' if wish.places == 1 else 's'}" if wish.places else "from how many not known"
    network = {None: "", True: ", works without the network", False: ", needs no working without the network"}
    stays = f", {wish.stays} stays" if wish.stays else ""
    loads = f", {write_loads(wish.loads)}" if wish.loads else ""
    does = " and ".join(wish.does)
    return f"{wish.what or 'not named'}, {places}, {does}{loads}{network[wish.without_network]}{stays}"


def _by_gang(box: Box, sheets: Mapping[str, Datasheet]) -> dict[str, str]:
    return {str(d.gang): _device(d, sheets) for d in sorted(box.devices, key=lambda device: device.gang)}


def _modules(box: Box, sheets: Mapping[str, Datasheet]) -> dict[str, str]:
    """Those with something said of them beside what they are."""
    return {m.id: _device(m, sheets) for m in box.modules if m.name or m.loads or m.gang or m.circuit or m.control}


def _device(device: Equipment, sheets: Mapping[str, Datasheet]) -> str:
    words = [sheets[device.sheet].name]
    words += [f"“{device.name}”"] if device.name else []
    words += [", ".join(said)] if (said := equipment_words(device)) else []
    words += [f"with {_load(load)}" for load in device.loads]
    return " ".join(words)


def _load(load: Load) -> str:
    """A load with everything that was said of it."""
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
        (f"measured {load.measured.power if load.measured else ''}", load.measured is not None),
    )
    more = "".join(f", {words}" for words, holds in said if holds)
    return f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]}{name}{more}"
