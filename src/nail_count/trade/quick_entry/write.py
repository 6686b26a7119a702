"""A box written as a line of quick entry, as far as a line can say it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ..model.box import Box
from ..model.datasheet import Datasheet
from ..model.enclosure import Enclosure
from ..model.gauge import Gauge
from ..model.measure import write_number
from ..model.survey import Survey
from ..model.trade_size import TRADE_SIZES
from ..model.wire import Cable

NOWHERE: Mapping[str, str] = {}


def write_line(box: Box, sheets: Mapping[str, Datasheet], goes: Mapping[str, str] = NOWHERE) -> str:
    """The line that [read_line][nail_count.trade.quick_entry.parse.read_line] reads as this box, as far as it can.

    >>> box = Box.model_validate({"id": "b", "name": "B", "room": "R",
    ...     "planned": {"enclosure": {"volume": "18 in3"}},
    ...     "cables": [{"id": "A", "gauge": 14, "insulated": 2}, {"id": "B", "gauge": 14, "insulated": 2}]})
    >>> write_line(box, {})
    '1g 18in3; 14/2 x2'
    """
    parts = [" ".join(_head_of(box.enclosure)), ", ".join(_cables_of(box, goes)), ", ".join(_devices_of(box, sheets))]
    while parts and not parts[-1]:
        parts.pop()
    return "; ".join(parts)


def _head_of(enclosure: Enclosure) -> Iterator[str]:
    yield f"{enclosure.gangs}g"
    if enclosure.trade_size is not None:
        yield TRADE_SIZES[enclosure.trade_size].name
    elif enclosure.material == "metal":
        yield "metal"
    if enclosure.volume is not None:
        yield f"{write_number(enclosure.volume.value)}{enclosure.volume.unit}"
    if enclosure.clamps:
        yield "tabs"


def _cables_of(box: Box, goes: Mapping[str, str]) -> Iterator[str]:
    written: list[tuple[str, int]] = []
    for cable in box.cables:
        text = " ".join(_words_of(cable, goes))
        if written and written[-1][0] == text:
            written[-1] = text, written[-1][1] + 1
        else:
            written.append((text, 1))
    for text, times in written:
        size, _, rest = text.partition(" ")
        yield " ".join(filter(None, (size, f"x{times}" if times > 1 else "", rest)))


def _words_of(cable: Cable, goes: Mapping[str, str]) -> Iterator[str]:
    """A cable's size, then the words about it."""
    yield f"{_written(cable.gauge)}/{cable.insulated}"
    if cable.grounds != 1:
        yield f"{cable.grounds}g" if cable.grounds else "no ground"
    if cable.ground_gauge is not None:
        yield f"g{_written(cable.ground_gauge)}"
    if cable.metal == "aluminum":
        yield "aluminum"
    if cable.has_metal_sheath:
        yield str(cable.kind)
    if cable.class2:
        yield "class 2"
    if cable.run != "ends":
        yield cable.run
    if cable.enters != "top":
        yield f"from {cable.enters}"
    if cable.id in goes:
        yield f'"{goes[cable.id]}"'


def _written(gauge: Gauge) -> str:
    return gauge.number if gauge.unit == "AWG" else f"{gauge.number}mm"


def _devices_of(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[str]:
    by_gang = {device.gang: device for device in box.devices}
    gang, last = 1, max(by_gang, default=0)
    while gang <= last:
        device = by_gang.get(gang)
        if device is None:
            yield "empty"
            gang += 1
            continue
        words = [device.sheet]
        if device.name:
            words.append(f'"{device.name}"')
        if device.gauge:
            words.append(f"on {_written(device.gauge)}")
        for load in device.loads:
            words.append(f"{load.quantity}x{write_number(load.each.value)}{load.each.unit} {load.kind}")
            if load.channel > 1:
                words.append(f"ch{load.channel}")
            if load.power_factor is not None:
                words.insert(-1 if load.channel > 1 else len(words), f"pf {write_number(load.power_factor)}")
            if load.name:
                words.append(f'"{load.name}"')
        yield " ".join(words)
        gang += sheets[device.sheet].gangs


def without_ids(box: Box) -> Box:
    """The box with its things numbered afresh and nothing of its survey, to compare what two boxes hold."""
    cables = tuple(cable.changed(id=f"c{n}") for n, cable in enumerate(box.cables))
    devices = []
    for number, device in enumerate(sorted(box.devices, key=lambda device: device.gang)):
        loads = tuple(load.changed(id=f"l{number}x{n}") for n, load in enumerate(device.loads))
        devices.append(device.changed(id=f"d{number}", loads=loads))
    return box.changed(cables=cables, devices=tuple(devices), survey=Survey())
