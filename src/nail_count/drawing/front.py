"""The box from the front, in millimetres: box, gangs, bodies, cables where they come in.

Anything nobody measured is drawn at its usual size, and marked.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import groupby, pairwise

from ..trade.model.box import Box, Device, Module
from ..trade.model.datasheet import Datasheet
from ..trade.model.enclosure import Enclosure
from ..trade.model.gauge import Gauge, awg
from ..trade.model.wire import Cable, Side
from ..trade.rules.load.position import neighbors_of
from .way import Curve

GANG = 46.04
"""From one gang to the next [mm]: 1 13/16 in; common practice."""
STRAP = (30.0, 105.0)
"""A yoke, width and height [mm]; common practice."""
FIN = 4.0
"""A break-off side section, width [mm]; common practice."""
USUAL_INSIDE = (57.15, 88.9)
"""A one-gang nonmetallic box inside, width and height [mm]: 2 1/4 × 3 1/2 in; common practice."""
USUAL_MODULE = (42.0, 37.0)
"""A module, width and height [mm]; common practice."""
USUAL_BODY = (44.45, 69.85)
"""A device body, width and height [mm]: 1 3/4 × 2 3/4 in; common practice."""
INSULATED: dict[Gauge, float] = {
    awg(18): 2.1, awg(16): 2.4, awg(14): 2.8, awg(12): 3.3, awg(10): 4.2, awg(8): 5.5, awg(6): 6.5,
}  # fmt: skip
"""A building wire over its insulation, diameter [mm]; common practice."""
MARGIN = 14.0
CABLE_MARGIN = 34.0
WIDEST_SHEATH = 12.0
SHEATH_INSIDE = 7.0
"""How far a sheath reaches into the box [mm]: about 1/4 in; common practice."""


@dataclass(frozen=True, slots=True)
class Rect:
    """A rectangle [mm]."""

    x: float
    y: float
    width: float
    height: float

    @property
    def centre(self) -> tuple[float, float]:
        """Of the rectangle [mm]."""
        return self.x + self.width / 2, self.y + self.height / 2


@dataclass(frozen=True, slots=True)
class Body:
    """A device in its gang."""

    device: Device
    sheet: Datasheet
    rect: Rect
    strap: Rect
    fins: tuple[tuple[Rect, bool], ...]
    """Break-off side sections, left and right, each with whether it is broken off."""
    assumed: bool
    """Whether the sheet gives no body and the usual one is drawn."""


@dataclass(frozen=True, slots=True)
class LooseBody:
    """A module behind the devices."""

    module: Module
    sheet: Datasheet
    rect: Rect


@dataclass(frozen=True, slots=True)
class Entry:
    """A cable where it comes in."""

    cable: Cable
    sheath: Rect
    mouth: tuple[float, float]
    """Where the sheath ends in the box [mm]."""
    wires: tuple[tuple[Curve, float, bool], ...]
    """Each conductor: its way, thickness, whether it is a ground."""
    label: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Front:
    """Where everything lies."""

    view: Rect
    inside: Rect
    gangs: tuple[float, ...]
    """Middle of each gang [mm]."""
    bodies: tuple[Body, ...]
    entries: tuple[Entry, ...]
    barriers: tuple[float, ...]
    """Where fixed barriers stand [mm]."""
    loose: tuple[LooseBody, ...]
    empty: tuple[float, ...]
    """Middle of each gang that holds nothing [mm]."""
    assumed: bool
    """Whether the box is drawn at a usual size for want of a measure."""
    said: tuple[tuple[str, str], ...]
    """The same in sentences, each under a name of its own."""

    @property
    def facts(self) -> str:
        """The same as a text."""
        return " ".join(sentence for _, sentence in self.said)


NOWHERE: Mapping[str, str] = {}


def front(box: Box, sheets: Mapping[str, Datasheet], goes: Mapping[str, str] = NOWHERE) -> Front:
    """Where everything lies on the front view.

    Args:
        box: the box; its top left inside corner is the origin.
        sheets: the sheets its devices name, by id.
        goes: where its cables go, in words, by their letters.
    """
    inside, assumed = inside_of(box.enclosure)
    middle = inside.width / 2
    count = box.enclosure.gangs
    gangs = tuple(middle + (gang - (count + 1) / 2) * GANG for gang in range(1, count + 1))
    sides = neighbors_of(box, sheets)
    bodies = tuple(
        _body(device, sheets[device.sheet], sides[device.id], gangs, inside)
        for device in sorted(box.devices, key=lambda device: device.gang)
    )
    entries = tuple(
        entry
        for side, cables in groupby(sorted(box.entering, key=lambda cable: cable.enters), key=lambda c: c.enters)
        for entry in _entries(side, list(cables), inside, gangs)
    )
    taken = {gang for body in bodies for gang in range(body.device.gang, body.device.gang + body.sheet.gangs)}
    empty = tuple(x for gang, x in enumerate(gangs, 1) if gang not in taken)
    barriers = tuple((gangs[one.after - 1] + gangs[one.after]) / 2 for one in box.enclosure.barriers)
    loose = tuple(_loose(box, sheets, gangs, inside))
    facts = tuple(_facts(box, sheets, goes))
    return Front(_view(box, inside), inside, gangs, bodies, entries, barriers, loose, empty, assumed, facts)


def inside_of(enclosure: Enclosure) -> tuple[Rect, bool]:
    """The inside of a box seen from the front [mm], and whether any of it is a usual measure."""
    size = enclosure.size
    width, height = USUAL_INSIDE
    assumed = size is None
    if size is not None:
        width, height = float(size.width * 254 / 10), float(size.height * 254 / 10)
    if size is None or size.per_gang:
        width += (enclosure.gangs - 1) * GANG
    if enclosure.width is not None:
        width = float(enclosure.width.mm)
    if enclosure.height is not None:
        height = float(enclosure.height.mm)
    assumed = assumed and (enclosure.width is None or enclosure.height is None)
    return Rect(0.0, 0.0, width, height), assumed


def _view(box: Box, inside: Rect) -> Rect:
    sides: set[Side] = {cable.enters for cable in box.entering}
    left = CABLE_MARGIN if "left" in sides else MARGIN
    right = CABLE_MARGIN if "right" in sides else MARGIN
    over = max(0.0, (STRAP[1] - inside.height) / 2)
    top = max(CABLE_MARGIN if "top" in sides or not sides else MARGIN, over + 6)
    bottom = max(CABLE_MARGIN if "bottom" in sides else MARGIN, over + 6)
    return Rect(-left, -top, inside.width + left + right, inside.height + top + bottom)


def _body(device: Device, sheet: Datasheet, sides: tuple[bool, bool], gangs: tuple[float, ...], inside: Rect) -> Body:
    width, height = USUAL_BODY
    if sheet.body is not None:
        width, height = float(sheet.body.width.mm), float(sheet.body.height.mm)
    x = (gangs[device.gang - 1] + gangs[device.gang + sheet.gangs - 2]) / 2
    y = inside.height / 2
    rect = Rect(x - width / 2, y - height / 2, width, height)
    strap_width = STRAP[0] + (sheet.gangs - 1) * GANG
    strap = Rect(x - strap_width / 2, y - STRAP[1] / 2, strap_width, STRAP[1])
    fins: tuple[tuple[Rect, bool], ...] = ()
    if sheet.derating == "by position":
        left, right = sides
        fin_y, tall = rect.y + height * 0.06, height * 0.88
        fins = (
            (Rect(rect.x, fin_y, FIN, tall), left),
            (Rect(rect.x + width - FIN, fin_y, FIN, tall), right),
        )
    return Body(device, sheet, rect, strap, fins, sheet.body is None)


def _loose(box: Box, sheets: Mapping[str, Datasheet], gangs: tuple[float, ...], inside: Rect) -> Iterator[LooseBody]:
    """Modules at the bottom of the box, behind the gang that was entered, else in its middle."""
    beside: dict[float, float] = {}
    for module in box.modules:
        sheet = sheets[module.sheet]
        width, height = USUAL_MODULE
        if sheet.body is not None:
            width, height = float(sheet.body.width.mm), float(sheet.body.height.mm)
        known = module.gang is not None and module.gang <= len(gangs)
        x = gangs[(module.gang or 1) - 1] if known else inside.width / 2
        off = beside.get(x, 0.0)
        beside[x] = off + 4.0
        yield LooseBody(module, sheet, Rect(x - width / 2 + off, inside.height - height - 2 - off, width, height))


def _entries(side: Side, cables: list[Cable], inside: Rect, gangs: tuple[float, ...]) -> list[Entry]:
    """Cables of one side: in the gaps beside the yokes while these suffice, else spread evenly."""
    along = inside.width if side in ("top", "bottom") else inside.height
    gaps = _gaps(gangs, inside) if side in ("top", "bottom") else []
    if len(cables) > len(gaps):
        step = along / (len(cables) + 1)
        gaps = [step * (number + 1) for number in range(len(cables))]
    room = min((b - a for a, b in pairwise(gaps)), default=GANG)
    stride = (len(gaps) - 1) / max(len(cables) - 1, 1)
    return [_entry(side, cable, gaps[round(number * stride)], room, inside) for number, cable in enumerate(cables)]


def _gaps(gangs: tuple[float, ...], inside: Rect) -> list[float]:
    """The middle of each gap that the yokes leave along the top [mm]."""
    edges = [0.0, *(edge for x in gangs for edge in (x - STRAP[0] / 2, x + STRAP[0] / 2)), inside.width]
    return [(left + right) / 2 for left, right in zip(edges[::2], edges[1::2], strict=True)]


def _over(gauge: Gauge) -> float:
    """A wire over its insulation, diameter [mm]; of a size between, as the next one up."""
    return INSULATED.get(gauge) or INSULATED[min((one for one in INSULATED if one >= gauge), default=awg(6))]


def _entry(side: Side, cable: Cable, at: float, room: float, inside: Rect) -> Entry:
    """Drawn as if it came in at the top, then turned to its side."""
    thick = _over(cable.gauge)
    wires = [(thick, False)] * cable.insulated + [(_over(cable.grounded_by) * 0.6, True)] * cable.grounds
    total = sum(size for size, _ in wires)
    width = min(total + 2.0, room * 0.8, WIDEST_SHEATH)
    depth = inside.height if side in ("top", "bottom") else inside.width
    end = min(depth * 0.45, 40.0)
    paths = []
    offset = -total / 2
    spread = min(1.6, room * 0.9 / total) if total else 1.0
    for size, ground in wires:
        start, stop = offset + size / 2, (offset + size / 2) * spread
        squeeze = min(1.0, (width - 1.0) / total)
        curve = Curve(
            _turn(side, at + start * squeeze, SHEATH_INSIDE - 1, inside),
            _turn(side, at + start * squeeze, end * 0.5, inside),
            _turn(side, at + stop, end * 0.5, inside),
            _turn(side, at + stop, end + (3.0 if ground else 0.0), inside),
        )
        paths.append((curve, size, ground))
        offset += size
    mouth, label = _turn(side, at, SHEATH_INSIDE, inside), _turn(side, at, -CABLE_MARGIN + 14, inside)
    (x, y), (other_x, other_y) = (
        _turn(side, at - width / 2, -CABLE_MARGIN, inside),
        _turn(side, at + width / 2, SHEATH_INSIDE, inside),
    )
    sheath = Rect(min(x, other_x), min(y, other_y), abs(x - other_x), abs(y - other_y))
    return Entry(cable, sheath, mouth, tuple(paths), label)


def _turn(side: Side, along: float, into: float, inside: Rect) -> tuple[float, float]:
    """A point so far along a side and so far into the box."""
    if side == "top":
        return along, into
    if side == "bottom":
        return along, inside.height - into
    if side == "left":
        return into, along
    return inside.width - into, along


def _facts(box: Box, sheets: Mapping[str, Datasheet], goes: Mapping[str, str]) -> Iterator[tuple[str, str]]:
    """What the drawing shows, in words, by what it is of."""
    gangs = box.enclosure.gangs
    sides = neighbors_of(box, sheets)
    yield "box", f"Box with {gangs} {'gang' if gangs == 1 else 'gangs'} from the front."
    for device in sorted(box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        broken = sum(sides[device.id]) if sheet.derating == "by position" else 0
        fins = f", {broken} side section{'' if broken == 1 else 's'} broken off" if broken else ""
        named = f" “{device.name}”" if device.name else ""
        yield device.id, f"Gang {device.gang}: {sheet.name}{named}{fins}."
    for module in box.modules:
        where = f" behind gang {module.gang}" if module.gang else ""
        yield module.id, f"{sheets[module.sheet].name}, loose in the box{where}."
    for barrier in box.enclosure.barriers:
        yield f"barrier-{barrier.after}", f"A barrier behind gang {barrier.after}."
    if not box.devices:
        yield "no-device", "No device in it."
    for cable in box.entering:
        to = f", to {goes[cable.id]}" if cable.id in goes else ""
        yield f"cable-{cable.id}", f"Cable {cable.id}: {cable.size} from the {cable.enters}{to}."
    if not box.entering:
        yield "no-cable", "No cable in it."
