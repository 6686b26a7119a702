"""A row of somebody's table of boxes, cell by cell: what each says, and the box they make."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from ..edits.base import Datasheets
from ..model.box import Box, Use
from ..model.keys import slug
from .parse import read_line

Column = Literal[
    "name", "room", "use", "circuit", "gangs", "volume", "material", "cables", "device", "watts"
]  # fmt: skip
COLUMNS: tuple[Column, ...] = get_args(Column)
_HEADS: dict[Column, tuple[str, ...]] = {
    "name": ("name", "box", "location", "what", "label"),
    "room": ("room", "area", "space", "where"),
    "use": ("use", "kind", "type"),
    "circuit": ("circuit", "circuits", "breaker", "ckt"),
    "gangs": ("gangs", "gang", "ganged"),
    "volume": ("volume", "vol", "cu in", "in3", "cubic inches", "fill limit"),
    "material": ("material", "made of"),
    "cables": ("cables", "cable", "wires", "wiring", "nm"),
    "device": ("device", "devices", "switch", "dimmer", "control", "everything in it"),
    "watts": ("watts", "watt", "w", "load", "loads", "each"),
}
_USES: dict[str, Use] = {
    "switch": "control", "control": "control", "luminaire": "luminaire", "light": "luminaire", "lamp": "luminaire",
    "ceiling": "luminaire", "fan": "fan", "receptacle": "receptacle", "outlet": "receptacle", "junction": "junction",
}  # fmt: skip
_CABLE = re.compile(
    r"(?:(?P<before>\d{1,2})\s*[x×*]\s*)?(?P<gauge>\d{1,2}(?:\.\d{1,2}\s*mm[2²]?)?)\s*[/-]\s*(?P<wires>\d)"
    r"(?:\s*(?:w/?\s?g(?:round)?|with ground|cable))?(?:\s*[x×*]\s*(?P<after>\d{1,2}))?",
    re.IGNORECASE,
)
_PARTS = re.compile(r"[,;+&\n]|\band\b", re.IGNORECASE)
_FORMULA = ("=", "+", "-", "@")
"""What a spreadsheet takes for a formula, and so is marked as text on the way out."""
_FIGURES: frozenset[Column] = frozenset(("gangs", "volume", "watts"))
"""Columns in which a comma between digits can be a decimal point; elsewhere it parts things, or is of a name."""
_BETWEEN_DIGITS = re.compile(r"(?<=\d),(?=\d)")


@dataclass(frozen=True, slots=True)
class Cell:
    """What one cell was taken for."""

    column: Column
    means: str = ""
    """"" where it was not understood."""
    expected: str = ""
    """What would have been; "" where it was."""


@dataclass(frozen=True, slots=True)
class RowReading:
    """A row as understood."""

    cells: tuple[Cell, ...]
    box: Box | None
    """None while any cell is not understood."""

    @property
    def problems(self) -> tuple[Cell, ...]:
        """The cells that were not understood."""
        return tuple(cell for cell in self.cells if cell.expected)


def column_of(head: str) -> Column | None:
    """What a column is taken for by what stands above it; None where that says nothing known here.

    >>> column_of("Box name"), column_of("Vol. (cu in)"), column_of("Remarks")
    ('name', 'volume', None)
    """
    words = " ".join(re.findall(r"[a-z0-9]+", head.lower()))
    exact = next((column for column in COLUMNS if words in _HEADS[column]), None)
    if exact is not None or not words:
        return exact
    said = f" {words} "
    order: tuple[Column, ...] = ("volume", "watts", "cables", "gangs", "circuit", "room", "name", "device")
    return next((column for column in order if any(f" {word} " in said for word in _HEADS[column])), None)


def read_row(
    cells: Mapping[Column, str], sheets: Datasheets, circuits: frozenset[str], decimal_comma: bool = False
) -> RowReading:
    """The box a row describes; its key is made from its room and name, and may be taken already.

    Args:
        cells: what stands under each column; a column that is not there says nothing.
        sheets: the sheets that device words can mean, by id.
        circuits: those of the panel.
        decimal_comma: whether a comma between digits is a decimal point.

    >>> row = {"name": "Bench", "room": "Kitchen", "gangs": "3", "volume": "54", "cables": "14/2 x3, 12-3"}
    >>> reading = read_row(row, {}, frozenset())
    >>> [cell.means for cell in reading.cells if cell.column == "cables"], len(reading.box.cables)
    (['14/2 cable, 3 times, 12/3 cable'], 4)
    >>> read_row({"name": "Bench", "room": "Kitchen", "cables": "two"}, {}, frozenset()).problems[0].expected
    'cables such as 14/2 x3, 12/3'
    """
    said = {column: _plain(column, text, decimal_comma) for column, text in cells.items() if text.strip()}
    read: dict[Column, Cell] = dict(_facts(said, circuits))
    spans, line = _line(said, read)
    begun = _begun(said, read, circuits)
    if begun is None:
        return RowReading(tuple(read.values()), None)
    reading = read_line(line, begun, sheets)
    for column in dict.fromkeys(column for column, _, _ in spans):
        here = [(start, end) for one, start, end in spans if one == column]
        words = [word for word in reading.words if any(start <= word.start < end for start, end in here)]
        wrong = next((word.expected for word in words if word.expected), "")
        read[column] = Cell(column, "" if wrong else ", ".join(word.means for word in words if word.means), wrong)
    in_order = tuple(read[column] for column in COLUMNS if column in read)
    whole = reading.box is not None and not any(cell.expected for cell in in_order)
    return RowReading(in_order, reading.box if whole else None)


def _plain(column: Column, text: str, decimal_comma: bool) -> str:
    """A cell without the mark that keeps it from being taken for a formula; of a figure, with a decimal point."""
    clean = text.strip()
    if clean[:1] == "'" and clean[1:2] in _FORMULA:
        clean = clean[1:].strip()
    return _BETWEEN_DIGITS.sub(".", clean) if decimal_comma and column in _FIGURES else clean


def _facts(said: Mapping[Column, str], circuits: frozenset[str]) -> Iterator[tuple[Column, Cell]]:
    """What the cells say that no line of quick entry does."""
    for column in ("name", "room"):
        text = said.get(column, "")
        expected = "" if 0 < len(text) <= 60 else f"a {column} of at most 60 characters"
        yield column, Cell(column, "" if expected else text, expected)
    if "circuit" in said:
        here = _circuit(said, circuits)
        expected = "" if here else "a breaker of this panel; import its directory first, or leave this out"
        yield "circuit", Cell("circuit", f"breaker {here}" if here else "", expected)
    if "use" in said:
        use = _use(said)
        expected = "" if use else f"one of {', '.join(_USES)}"
        yield "use", Cell("use", use or "", expected)


def _circuit(said: Mapping[Column, str], circuits: frozenset[str]) -> str | None:
    """The breaker a row says; None where it says none, or none of the panel."""
    text = said.get("circuit", "")
    written = (text, text.removesuffix(".0"))  # some spreadsheets write a whole number so
    return next((one for one in written if one in circuits), None)


def _use(said: Mapping[Column, str]) -> Use | None:
    """What a row says the box is for; None where it says nothing known here."""
    return _USES.get(said.get("use", "").lower())


def _begun(said: Mapping[Column, str], read: Mapping[Column, Cell], circuits: frozenset[str]) -> Box | None:
    """The box with nothing in it; None where it has no name."""
    if read["name"].expected or read["room"].expected:
        return None
    key = slug(f"{said['room']} {said['name']}")[:36].strip("-") or "box"
    circuit, use = _circuit(said, circuits), _use(said) or "control"
    return Box(id=key, name=said["name"], room=said["room"], circuit=circuit, use=use)


def _line(said: Mapping[Column, str], read: dict[Column, Cell]) -> tuple[list[tuple[Column, int, int]], str]:
    """The line of quick entry that cells make, and where in it each of them stands."""
    spans: list[tuple[Column, int, int]] = []
    line = ""

    def put(column: Column, text: str) -> None:
        nonlocal line
        spans.append((column, len(line), len(line) + len(text)))
        line += f"{text} "

    devices = [part.strip() for part in _PARTS.split(said.get("device", "")) if part.strip()]
    if gangs := said.get("gangs"):
        number = re.fullmatch(r"(\d)(?:\.0)?\s*-?\s*(?:g|gangs?)?", gangs, re.IGNORECASE)
        put("gangs", f"{number[1]}g" if number else _one_word(gangs))
    elif len(devices) > 1:
        line += f"{len(devices)}g "
    if volume := said.get("volume"):
        bare = re.fullmatch(r"\d+(?:\.\d+)?", volume)
        put("volume", f"{volume}in3" if bare else volume.replace(";", " ").replace(",", " "))
    if material := said.get("material"):
        put("material", _one_word(material.lower()))
    line += "; "
    if cables := said.get("cables"):
        found = [_CABLE.fullmatch(part.strip()) for part in _PARTS.split(cables) if part.strip()]
        sure = [one for one in found if one is not None and not (one["before"] and one["after"])]
        if len(sure) < len(found) or not found:
            read["cables"] = Cell("cables", "", "cables such as 14/2 x3, 12/3")
        else:
            put("cables", ", ".join(_cable(one) for one in sure))
    line += "; "
    _devices(said.get("watts", ""), devices, put, read)
    return spans, line


def _devices(watts: str, devices: list[str], put: Callable[[Column, str], None], read: dict[Column, Cell]) -> None:
    """Puts each device into the line, its watts behind it."""
    loads = [part.strip() for part in _PARTS.split(watts) if part.strip()]
    if loads and len(loads) != len(devices):
        several = {0: "no device", 1: "one device"}.get(len(devices), f"{len(devices)} devices")
        read["watts"] = Cell("watts", "", f"watts for each device, as many as there are: {several} here")
        loads = []
    for number, device in enumerate(devices):
        put("device", f"{', ' if number else ''}{device}")
        if loads:
            bare = re.fullmatch(r"\d+(?:\.\d+)?", loads[number])
            put("watts", f"{loads[number]}W" if bare else loads[number])


def _cable(found: re.Match[str]) -> str:
    times = found["before"] or found["after"]
    return f"{found['gauge'].replace(' ', '')}/{found['wires']}{f' x{times}' if times else ''}"


def _one_word(text: str) -> str:
    return text.replace(";", " ").replace(",", " ")
