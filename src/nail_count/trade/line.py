"""Quick entry: a whole box in one line of text, read word by word into edits, and written back.

    3g 54in3 tabs; 12/2 x2, 12/3; dimmer "Bench" 6x9W led, switch, fan 0.9A

Up to three parts, parted by semicolons: the box; its cables; its devices from the left, one for each gang. What it
cannot say: rings, inside measures, the circuit, a cable's or box's own letter or name, several channels of one device.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from .edits import Sheets, make_edit
from .line_words import CABLE_WORDS, DEVICE_WORDS, HEAD_WORDS, sheet_words
from .model.box import Box
from .model.complaint import Refused, complaints_of
from .model.enclosure import Enclosure
from .model.measure import Power, Volume, write_number
from .model.sheet import Sheet
from .model.trade_size import TRADE_SIZES, find_trade_size

MOST_LETTERS = 2000

_TOKEN = re.compile(r'"[^"]*"?|“[^”]*”?|[;,]|[^\s;,"“]+')
_CABLE = re.compile(r"(\d{1,2})/(\d{1,2})")
_TIMES = re.compile(r"[x×](\d{1,2})", re.IGNORECASE)
_LOAD = re.compile(r"(?:(\d{1,3})\s*[x×])?((?:\d+(?:\.\d+)?|\.\d+)(?:W|A|VA))", re.IGNORECASE)
_KINDS = {"led": "led", "incandescent": "incandescent", "bulb": "incandescent", "bulbs": "incandescent", "fan": "fan"}


@dataclass(frozen=True, slots=True)
class Word:
    """A piece of the line, and how it was understood."""

    text: str
    start: int
    """Where it begins in the line, from 0."""
    means: str = ""
    """What it was taken for; "" where it was not understood."""
    expected: str = ""
    """What would have been understood in its place; "" where it was."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A line as understood."""

    words: tuple[Word, ...]
    box: Box | None
    """What it makes; None while any word is not understood."""
    suggestions: tuple[str, ...]
    """Words that could come next."""

    @property
    def complaints(self) -> tuple[Word, ...]:
        """The words that were not understood."""
        return tuple(word for word in self.words if word.expected)


class _Wrong(Exception):
    """The word at hand was not understood; says what would be."""


def read_line(line: str, box: Box, sheets: Sheets) -> Reading:
    """The box a line describes, in place of what is in this one; its name, room and circuit stay.

    Args:
        line: the text, at most [MOST_LETTERS][] long; what is past that is not read.
        box: which box it is for.
        sheets: the sheets that device words can mean, by id.

    >>> from nail_count.trade.model.sheet import Sheet
    >>> plain = Sheet(id="plain", name="Plain switch", kind="switch")
    >>> box = Box(id="hall", name="Hall", room="Hall")
    >>> reading = read_line("1g 18in3; 14/2 x2; switch", box, {"plain": plain})
    >>> [word.means for word in reading.words if word.means]
    ['1 gang', '18 in3 marked in it', '14/2 cable', 'twice', 'Plain switch in gang 1']
    >>> read_line("1g; 14/7x", box, {}).complaints[0].expected
    'a cable such as 14/2 or 12/3'
    """
    return _Reader(line[:MOST_LETTERS], box, sheets).read()


class _Reader:
    """Walks the words from left to right and makes an edit for each thing they say."""

    def __init__(self, line: str, box: Box, sheets: Sheets) -> None:
        self.tokens = [(found.group(), found.start()) for found in _TOKEN.finditer(line)]
        self.sheets = sheets
        self.known = sheet_words(sheets)
        emptied = box.__dict__ | {"enclosure": Enclosure(), "cables": (), "devices": ()}
        self.box = Box.model_validate(emptied)
        self.times = 1
        """How often the cable at hand is there."""
        self.words: list[Word] = []
        self.at = 0

    def read(self) -> Reading:
        part, gang = 0, 1
        fresh = True
        while self.at < len(self.tokens):
            text, start = self.tokens[self.at]
            if text == ";":
                part, fresh = part + 1, True
                self._note(Word(text, start))
                continue
            if text == ",":
                gang, fresh = gang + (part == 2), True
                self._note(Word(text, start))
                continue
            begun = self.at
            try:
                if part == 0:
                    self._head()
                elif part == 1:
                    self._cable(fresh)
                elif part == 2:
                    gang += self._device(gang, fresh)
                else:
                    raise _Wrong("nothing more: a line has three parts, the box; its cables; its devices")
            except (_Wrong, Refused, ValidationError, ValueError) as wrong:
                self.at = begun
                self._note(Word(text, start, "", _said(wrong)))
            fresh = False
        whole = not any(word.expected for word in self.words)
        return Reading(tuple(self.words), self.box if whole else None, self._next(part, fresh))

    def _note(self, word: Word, tokens: int = 1) -> None:
        self.words.append(word)
        self.at += tokens

    def _edit(self, edit: str, /, **said: Any) -> None:
        self.box = make_edit(self.box, edit, said, self.sheets).box

    def _ahead(self, count: int) -> str:
        """The next so many tokens as one text, spaces between."""
        return " ".join(text for text, _ in self.tokens[self.at : self.at + count])

    def _understood(self, tokens: int, means: str) -> None:
        text, start = self.tokens[self.at]
        self._note(Word(self._ahead(tokens) if tokens > 1 else text, start, means), tokens)

    def _head(self) -> None:
        """Gangs, volume or trade size, clamps, material."""
        text = self.tokens[self.at][0].lower()
        for tokens in (2, 1):
            ahead = self._ahead(tokens).lower()
            if gangs := re.fullmatch(r"(\d)\s?g(?:angs?)?", ahead):
                self._edit("set-gangs", gangs=gangs[1])
                self._understood(tokens, f"{gangs[1]} gang{'' if gangs[1] == '1' else 's'}")
                return
            if ahead in HEAD_WORDS:
                name, said, means = HEAD_WORDS[ahead]
                self._edit(name, **said)
                self._understood(tokens, means)
                return
        for tokens in (4, 3, 2, 1):
            ahead = self._ahead(tokens)
            try:
                volume = Volume.parse(ahead)
            except ValueError:
                continue
            self._edit("set-volume", volume=str(volume))
            self._understood(tokens, f"{volume} marked in it")
            return
        if text[:1].isdigit() or text in ("fs", "fd"):
            for tokens in (3, 2, 1):
                try:
                    size = find_trade_size(self._ahead(tokens))
                except ValueError:
                    continue
                self._edit("set-volume", trade_size=size.name)
                self._understood(tokens, f"trade size {size.name}")
                return
        raise _Wrong("gangs such as 3g, a volume such as 54in3, a trade size, tabs, metal")

    def _cable(self, fresh: bool) -> None:
        """A cable first, then what is said of it: how often, ground, run, side, where it goes."""
        text = self.tokens[self.at][0]
        if fresh:
            size = _CABLE.fullmatch(text)
            if not size:
                raise _Wrong("a cable such as 14/2 or 12/3")
            self._edit("add-cable", gauge=size[1], insulated=size[2])
            self.times = 1
            self._understood(1, f"{text} cable")
            return
        if not self.box.cables:
            raise _Wrong("a cable such as 14/2 or 12/3 first")
        last = self.box.cables[-1]
        if times := _TIMES.fullmatch(text):
            count = int(times[1])
            if not 1 <= count <= 20:
                raise _Wrong("how often, from x1 to x20")
            for _ in range(count - self.times):
                self._edit("add-cable", **last.model_dump(exclude={"id"}))
            self.times = max(count, self.times)
            self._understood(1, {1: "once", 2: "twice"}.get(count, f"{count} times"))
            return
        for tokens in (2, 1):
            ahead = self._ahead(tokens).lower()
            if ahead in CABLE_WORDS:
                said, means = CABLE_WORDS[ahead]
                self._last_cable(**said)
                self._understood(tokens, means)
                return
        if ground := re.fullmatch(r"g(\d{1,2})", text, re.IGNORECASE):
            self._last_cable(ground_gauge=int(ground[1]))
            self._understood(1, f"ground of {ground[1]} AWG")
            return
        if grounds := re.fullmatch(r"(\d)g", text, re.IGNORECASE):
            self._last_cable(grounds=int(grounds[1]))
            self._understood(1, f"{grounds[1]} grounds")
            return
        if text[0] in '"“':
            self._last_cable(goes=_unquoted(text))
            self._understood(1, f"goes to {_unquoted(text)}")
            return
        raise _Wrong("x2, g16, no ground, looped, through, from bottom, or “where it goes” after a cable")

    def _last_cable(self, **said: Any) -> None:
        """What is said after a cable holds for it as often as it is there."""
        last = self.box.cables[-1].model_dump(exclude={"id"}) | said
        for cable in self.box.cables[-self.times :]:
            self._edit("remove-cable", cable=cable.id)
        for _ in range(self.times):
            self._edit("add-cable", **last)

    def _device(self, gang: int, fresh: bool) -> int:
        """A device first, then its name, conductor and loads; returns how many gangs past the first it takes."""
        text = self.tokens[self.at][0]
        if fresh:
            for tokens in (5, 4, 3, 2, 1):
                ahead = self._ahead(tokens).lower()
                if tokens == 1 and ahead in DEVICE_WORDS:
                    if gang > self.box.enclosure.gangs:
                        raise _Wrong(f"at most {self.box.enclosure.gangs} devices in a box of so many gangs")
                    self._understood(1, f"gang {gang} stays empty")
                    return 0
                if ahead in self.known:
                    sheet = self.known[ahead]
                    self._edit("put-device", gang=gang, sheet=sheet.id)
                    self._understood(tokens, f"{sheet.name} in gang {gang}")
                    return sheet.gangs - 1
            raise _Wrong(f"a device such as {', '.join(list(self.known)[:4])}, or empty")
        device = max(self.box.devices, key=lambda device: device.gang, default=None)
        if device is None or device.gang + self.sheets[device.sheet].gangs - 1 != gang:
            raise _Wrong("a comma before the next device")
        if text[0] in '"“':
            name = _unquoted(text)
            if device.loads:
                self._name_load(device.loads[-1].id, name)
            else:
                self._edit("connect-device", device=device.id, name=name, gauge=device.gauge)
            self._understood(1, f"called {name}")
            return 0
        on = re.fullmatch(r"on (\d{1,2})", self._ahead(2).lower())
        if on:
            self._edit("connect-device", device=device.id, name=device.name, gauge=on[1])
            self._understood(2, f"{on[1]} AWG on it")
            return 0
        if load := _LOAD.fullmatch(text):
            tokens = 1
            after = self.tokens[self.at + 1][0].lower() if self.at + 1 < len(self.tokens) else ""
            kind = _KINDS.get(after)
            tokens += kind is not None
            kind = kind or ("fan" if load[2].upper().endswith("A") or self._is_fan(device.sheet) else "led")
            factor = re.fullmatch(r"pf ?(\S+)", " ".join(t for t, _ in self.tokens[self.at + tokens :][:2]), re.I)
            said = {"device": device.id, "kind": kind, "quantity": load[1] or 1, "each": str(Power.parse(load[2]))}
            if factor:
                said["power_factor"] = factor[1]
            self._edit("add-load", **said)
            means = f"{load[1] or 1} × {Power.parse(load[2])} {said['kind']}"
            self._understood(tokens + 2 * bool(factor), means + (f", power factor {factor[1]}" if factor else ""))
            return 0
        raise _Wrong("its name in quotes, on 14, or a load such as 6x9W led or 0.9A")

    def _is_fan(self, sheet: str) -> bool:
        return self.sheets[sheet].kind == "fan control"

    def _name_load(self, load: str, name: str) -> None:
        device = next(d for d in self.box.devices if any(hung.id == load for hung in d.loads))
        hung = next(each for each in device.loads if each.id == load)
        said = hung.model_dump(exclude={"id", "name"}, exclude_none=True) | {"each": str(hung.each), "name": name}
        self._edit("remove-load", load=load)
        self._edit("add-load", device=device.id, **said)

    def _next(self, part: int, fresh: bool) -> tuple[str, ...]:
        """What could come next."""
        if part == 0:
            return ("3g", "54in3", "tabs", "metal", ";")
        if part == 1:
            return ("14/2", "14/3", "12/2", "12/3") if fresh else ("x2", "no ground", '"feed"', ",", ";")
        if part == 2:
            return (*list(self.known)[:6], "empty") if fresh else ('"name"', "6x9W led", "0.9A", "on 14", ",")
        return ()


def _said(wrong: Exception) -> str:
    if isinstance(wrong, ValidationError):
        return complaints_of(wrong)[0].sentence.removeprefix("expected ")
    return str(wrong).removeprefix("expected ")


def _unquoted(text: str) -> str:
    return text.strip('"“”')


def write_line(box: Box, sheets: Mapping[str, Sheet]) -> str:
    """The line that [read_line][] reads as this box, as far as a line can say it.

    >>> box = Box.model_validate({"id": "b", "name": "B", "room": "R", "enclosure": {"volume": "18 in3"},
    ...     "cables": [{"id": "A", "gauge": 14, "insulated": 2}, {"id": "B", "gauge": 14, "insulated": 2}]})
    >>> write_line(box, {})
    '1g 18in3; 14/2 x2'
    """
    parts = [" ".join(_head_of(box.enclosure)), ", ".join(_cables_of(box)), ", ".join(_devices_of(box, sheets))]
    while parts and not parts[-1]:
        parts.pop()
    return "; ".join(parts)


def _head_of(enclosure: Enclosure) -> Iterator[str]:
    yield f"{enclosure.gangs}g"
    if enclosure.trade_size is not None:
        yield TRADE_SIZES[enclosure.trade_size].name
    elif enclosure.material == "metal":
        yield "metal"
    if enclosure.volume is not None and enclosure.trade_size is None:
        yield f"{write_number(enclosure.volume.value)}{enclosure.volume.unit}"
    if enclosure.clamps:
        yield "tabs"


def _cables_of(box: Box) -> Iterator[str]:
    written: list[tuple[str, int]] = []
    for cable in box.cables:
        text = cable.size
        if cable.grounds == 0:
            text += " no ground"
        elif cable.grounds > 1:
            text += f" {cable.grounds}g"
        if cable.ground_gauge is not None:
            text += f" g{cable.ground_gauge}"
        if cable.run != "ends":
            text += f" {cable.run}"
        if cable.enters != "top":
            text += f" from {cable.enters}"
        if cable.goes:
            text += f' "{cable.goes}"'
        if written and written[-1][0] == text:
            written[-1] = text, written[-1][1] + 1
        else:
            written.append((text, 1))
    for text, times in written:
        size, _, rest = text.partition(" ")
        yield " ".join(filter(None, (size, f"x{times}" if times > 1 else "", rest)))


def _devices_of(box: Box, sheets: Mapping[str, Sheet]) -> Iterator[str]:
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
            words.append(f"on {device.gauge}")
        for load in device.loads:
            words.append(f"{load.quantity}x{write_number(load.each.value)}{load.each.unit} {load.kind}")
            if load.power_factor is not None:
                words.append(f"pf {write_number(load.power_factor)}")
            if load.name:
                words.append(f'"{load.name}"')
        yield " ".join(words)
        gang += sheets[device.sheet].gangs


def without_ids(box: Box) -> Box:
    """The box with its things numbered afresh, to compare what two boxes hold."""
    cables = tuple(cable.model_copy(update={"id": f"c{n}"}) for n, cable in enumerate(box.cables))
    devices = []
    for number, device in enumerate(sorted(box.devices, key=lambda device: device.gang)):
        loads = tuple(load.model_copy(update={"id": f"l{number}x{n}"}) for n, load in enumerate(device.loads))
        devices.append(device.model_copy(update={"id": f"d{number}", "loads": loads}))
    return box.model_copy(update={"cables": cables, "devices": tuple(devices)})
