"""Quick entry: a whole box in one line of text, read word by word into edits, and written back.

    3g 54in3 tabs; 12/2 x2, 12/3; dimmer "Bench" 6x9W led, switch, fan 0.9A
    18 cu in box, 14/2 in, 14/2 to light, dimmer

The box, its cables and its devices stand in any order: each word tells by itself what it belongs to, and commas and
semicolons part them. Devices stand from the left, one for each gang. What a line cannot say stays as it is: rings,
inside measures, name, room and circuit; cables are lettered afresh.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import takewhile
from typing import Any

from ..edits.base import BoxEdit, Datasheets
from ..edits.cables import AddCable, RemoveCable
from ..edits.devices import ConnectDevice, PutDevice
from ..edits.enclosure import Rename, SetGangs, SetVolume
from ..edits.loads import AddLoad, RemoveLoad
from ..model.box import Box, Device
from ..model.enclosure import MOST_GANGS, Enclosure
from ..model.gauge import read_gauge
from .box_words import find_of_box
from .cable_words import find_cable
from .device_words import Devices, DeviceWords
from .load_words import find_load
from .vocabulary import CABLE_WORDS, GOES_WORDS, TOKEN

MOST_LETTERS = 2000
MOST_TIMES = 20
"""How often a line can name one cable."""

_BESIDE = ("and", "+", "&", "with", "plus")
"""Between two things, like a comma."""
_FILLERS = ("a", "an", "the", "box")
"""Words people write that tell nothing."""
_TIMES = re.compile(r"[x×](\d{1,2})", re.IGNORECASE)
_BOX, _CABLES, _DEVICES, _NO_MORE = range(4)
"""What the words at hand are about."""


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
    goes: Mapping[str, str]
    """Where cables go, in words, by their letters."""

    @property
    def problems(self) -> tuple[Word, ...]:
        """The words that were not understood."""
        return tuple(word for word in self.words if word.expected)


_NOT_SAID = {"id", "free", "condition", "conductors"}
"""Of a cable, what a line does not say."""


class _Wrong(Exception):
    """The word at hand was not understood; says what would be."""


def read_line(line: str, box: Box, sheets: Datasheets) -> Reading:
    """The box as a line describes it. Whatever the line says nothing of stays: the cables, the devices, the box itself.

    Args:
        line: the text, at most [MOST_LETTERS][] long; the rest is not read.
        box: which box it is for.
        sheets: the sheets that device words can mean, by id.

    >>> from nail_count.trade.model.datasheet import Datasheet
    >>> plain = Datasheet(id="plain", name="Plain switch", kind="switch")
    >>> box = Box(id="hall", name="Hall", room="Hall")
    >>> reading = read_line("1g 18in3; 14/2 x2; switch", box, {"plain": plain})
    >>> [word.means for word in reading.words if word.means]
    ['1 gang', '18 in3 marked in it', '14/2 cable', 'twice', 'Plain switch in gang 1']
    >>> read_line("1g; 14/7x", box, {}).problems[0].expected
    'a cable such as 14/2 or 12/3'
    """
    return _Reader(line[:MOST_LETTERS], box, sheets).read()


class _Reader:
    """Walks the words from left to right and makes an edit for each thing they say."""

    def __init__(self, line: str, box: Box, sheets: Datasheets) -> None:
        self.tokens = [(found.group(), found.start()) for found in TOKEN.finditer(line)]
        self.sheets = sheets
        self.devices = Devices(sheets)
        self.grows = not (box.cables or box.equipment or box.enclosure.volume or box.enclosure.trade_size)
        """Whether the box is only begun, so that it gets as many gangs as devices are named."""
        self.box = box
        self.part = _BOX
        """What the words at hand are about."""
        self.fresh = True
        """Whether nothing was read since the last comma."""
        self.told: set[int] = set()
        """What the line has told of so far; the rest stays as it is."""
        self.said: set[str] = set()
        """The words read of the box itself; each stands once."""
        self.goes: dict[str, str] = {}
        """Where cables go, in words, by their letters."""
        self.times = 1
        """How often the cable at hand is there."""
        self.gang = 0
        """The last gang told of."""
        self.device = ""
        """The device at hand, by its id; "" where its gang is empty."""
        self.words: list[Word] = []
        self.at = 0

    def read(self) -> Reading:
        while self.at < len(self.tokens):
            text, start = self.tokens[self.at]
            if text == ";":
                self.part = min(self.part + 1, _NO_MORE)
            if self._is_separator(text) or self._is_filler(text):
                self.fresh = self.fresh or self._is_separator(text)
                self._note(Word(text, start))
                continue
            begun = self.at
            try:
                self._understand()
            except (_Wrong, ValueError) as wrong:
                self.at = begun
                self._note(Word(text, start, "", _said(wrong)))
                continue  # what could stand here is what could come next
            self.fresh = False
        whole = not any(word.expected for word in self.words)
        return Reading(tuple(self.words), self.box if whole else None, self._next(), self.goes)

    def _is_separator(self, text: str) -> bool:
        """Whether a word stands between two things, as a comma does."""
        beside = text.lower() in _BESIDE and self._ahead(2).lower() not in CABLE_WORDS
        return text in ",;:" or (beside and not self.fresh)

    def _is_filler(self, text: str) -> bool:
        """Whether a word tells nothing where it stands."""
        if self.part == _BOX and text.lower() == "box":
            return True
        return self.fresh and text.lower() in _FILLERS and self._find_device() is None

    def _understand(self) -> None:
        """Take the words at hand for more of what came before, or for what they begin."""
        begins = (self._new_cable, self._new_device, self._of_box)
        if self.part != _DEVICES:
            begins = (self._new_cable, self._of_box, self._new_device)
        steps = (*begins[:2], self._goes_on, begins[2]) if self.fresh else (self._goes_on, *begins)
        if not any(step() for step in steps):
            raise _Wrong(self._expected())

    def _expected(self) -> str:
        """What would have been understood."""
        known = ", ".join(word for word in self.devices.words[:4] if "," not in word)
        device = f"a device such as {known}, or empty" if known else "empty: this job has no datasheets yet"
        if self.part == _CABLES:
            more = "x2, g16, no ground, looped, through, from bottom, feed or to light after a cable"
            return more if self.box.cables and not self.fresh else "a cable such as 14/2 or 12/3"
        if self.part == _DEVICES:
            return device if self.fresh else "its name in quotes, on 14, or a load such as 6x9W led or 0.9A"
        return f"gangs such as 3g, a volume such as 54in3, tabs, metal, a cable such as 14/2, {device}"

    def _begin(self, part: int) -> None:
        """Turn to what the words at hand are about; what the line tells of it takes the place of all there was."""
        self.part = part
        if part in self.told:
            return
        self.told.add(part)
        if part == _BOX:
            stays = self.box.enclosure.model_dump(include={"gangs", "rings", "fittings", "width", "height", "depth"})
            self.box = self.box.changed(enclosure=Enclosure.model_validate(stays))
        else:
            self.box = self.box.changed(**{"cables" if part == _CABLES else "devices": ()})

    def _goes_on(self) -> bool:
        """More of the cable or the device at hand."""
        if self.part == _CABLES and _CABLES in self.told and self.box.cables:
            return self._more_of_it() or self._where_it_goes() or self._its_ground()
        device = next((device for device in self.box.devices if device.id == self.device), None)
        return self.part == _DEVICES and device is not None and self._of_device(device)

    def _note(self, word: Word, tokens: int = 1) -> None:
        self.words.append(word)
        self.at += tokens

    def _edit(self, edit: type[BoxEdit], /, **fields: Any) -> None:
        self.box = edit.read({**fields, "box": self.box.id}).on_box(self.box, self.sheets).box

    def _texts(self, count: int = 8) -> list[str]:
        """The next words: as many as the box, a cable or a load can be told by."""
        return [text for text, _ in self.tokens[self.at : self.at + count]]

    def _ahead(self, count: int) -> str:
        """The next so many words as one text, spaces between."""
        return " ".join(text for text, _ in self.tokens[self.at : self.at + count])

    def _understood(self, tokens: int, means: str) -> None:
        text, start = self.tokens[self.at]
        self._note(Word(self._ahead(tokens) if tokens > 1 else text, start, means), tokens)

    def _of_box(self) -> bool:
        """Gangs, volume or trade size, clamps, material."""
        texts = self._texts()
        found = find_of_box(texts, bare=self.part == _BOX and find_load(texts, on_fan=False) is None)
        if found is None:
            return False
        if found.edit is not Rename:
            self._begin(_BOX)
        if found.once in self.said:
            raise _Wrong(f"the {found.once} once; it stands there before")
        self.said |= {found.once} - {""}
        kept = {"volume": self.box.enclosure.volume, "trade_size": self.box.enclosure.trade_size}
        beside = {name: str(one) for name, one in kept.items() if one is not None and found.edit is SetVolume}
        called = {"name": self.box.name, "room": self.box.room} if found.edit is Rename else {}
        self._edit(found.edit, **{**called, **beside, **found.told})
        self._understood(found.tokens, found.means)
        return True

    def _new_cable(self) -> bool:
        """A cable, or several."""
        found = find_cable(self._texts())
        if found is None:
            return False
        count = found.count
        if not 1 <= count <= MOST_TIMES:
            raise _Wrong(f"how often, from 1 to {MOST_TIMES}")
        self._begin(_CABLES)
        for _ in range(count):
            self._edit(AddCable, gauge=found.gauge, insulated=found.insulated)
        self.times = count
        words = f"{found.gauge}/{found.insulated} cable"
        self._understood(found.tokens, f"{count} × {words}" if found.tokens > 1 else words)
        return True

    def _more_of_it(self) -> bool:
        """How often it is there, and what CABLE_WORDS tell of it."""
        last = self.box.cables[-1]
        if times := _TIMES.fullmatch(self.tokens[self.at][0]):
            count = int(times[1])
            if not 1 <= count <= MOST_TIMES:
                raise _Wrong(f"how often, from x1 to x{MOST_TIMES}")
            for _ in range(count - self.times):
                self._add_cable(last.model_dump(exclude=_NOT_SAID), self.goes.get(last.id))
            self.times = max(count, self.times)
            self._understood(1, {1: "once", 2: "twice"}.get(count, f"{count} times"))
            return True
        for tokens in (2, 1):
            ahead = self._ahead(tokens).lower()
            if ahead in CABLE_WORDS:
                said, means = CABLE_WORDS[ahead]
                self._last_cable(**said)
                self._understood(tokens, means)
                return True
        return False

    def _where_it_goes(self) -> bool:
        """Feed, onward, to light, or anything in quotes."""
        text = self.tokens[self.at][0]
        for tokens in (2, 1):
            ahead = self._ahead(tokens).lower()
            if ahead in GOES_WORDS:
                self._goes(tokens, GOES_WORDS[ahead])
                return True
        count = self._up_to_comma() if text.lower() == "to" else 0
        if text[0] in '"“' or count > 1:
            self._goes(count or 1, self._ahead(count) if count else _unquoted(text))
            return True
        return False

    def _its_ground(self) -> bool:
        """Its gauge, or how many there are."""
        text = self.tokens[self.at][0]
        if ground := re.fullmatch(r"g(\d{1,2}(?:\.\d{1,2})?(?:mm[2²]?)?)", text, re.IGNORECASE):
            self._last_cable(ground_gauge=ground[1])
            self._understood(1, f"ground of {read_gauge(ground[1])}")
            return True
        if grounds := re.fullmatch(r"(\d)g", text, re.IGNORECASE):
            self._last_cable(grounds=int(grounds[1]))
            self._understood(1, f"{grounds[1]} grounds")
            return True
        return False

    def _goes(self, tokens: int, words: str) -> None:
        """Where the cable at hand goes."""
        for cable in self.box.cables[-self.times :]:
            self.goes[cable.id] = words
        self._understood(tokens, f"goes to {words.removeprefix('to ')}")

    def _up_to_comma(self) -> int:
        """How many words tell where a cable goes: up to a comma, a semicolon, a quote, or words about a cable."""
        texts = [text.lower() for text, _ in self.tokens[self.at :]]
        return sum(1 for _ in takewhile(lambda n: not self._ends_place(texts[n:]), range(len(texts))))

    @staticmethod
    def _ends_place(texts: list[str]) -> bool:
        """Whether what follows is no part of a place: x2, no ground, another cable."""
        first, pair = texts[0], " ".join(texts[:2])
        if first[0] in ';:,"“' or first in ("with", *CABLE_WORDS) or pair in CABLE_WORDS or _TIMES.fullmatch(first):
            return True
        return find_cable(texts[1:] if first in _BESIDE else texts) is not None

    def _last_cable(self, **said: Any) -> None:
        """The words after a cable hold for all of its kind."""
        last = self.box.cables[-1].model_dump(exclude=_NOT_SAID) | said
        goes = self.goes.get(self.box.cables[-1].id)
        for cable in self.box.cables[-self.times :]:
            self._edit(RemoveCable, cable=cable.id)
            self.goes.pop(cable.id, None)
        for _ in range(self.times):
            self._add_cable(last, goes)

    def _add_cable(self, said: dict[str, Any], goes: str | None) -> None:
        self._edit(AddCable, **said)
        if goes is not None:
            self.goes[self.box.cables[-1].id] = goes

    def _new_device(self) -> bool:
        """A device, several, or an empty gang."""
        found = self._find_device()
        if found is None:
            return False
        count, sheet = found.count, found.sheet
        self._begin(_DEVICES)
        first = self.gang + 1
        for _ in range(count):
            gang = self.gang + 1
            wide = sheet.gangs if sheet else 1
            self._grow(gang + wide - 1)
            if sheet:
                self._edit(PutDevice, gang=gang, sheet=sheet.id)
                self.device = next(device.id for device in self.box.devices if device.gang == gang)
            elif gang > self.box.enclosure.gangs:
                raise _Wrong(f"at most {self.box.enclosure.gangs} devices in a box of so many gangs")
            else:
                self.device = ""
            self.gang = gang + wide - 1
        gangs = f"gang {first}" if count == 1 else f"gangs {first} to {self.gang}"
        stays = "stays empty" if count == 1 else "stay empty"
        self._understood(found.tokens, f"{sheet.name} in {gangs}" if sheet else f"{gangs} {stays}")
        return True

    def _find_device(self) -> DeviceWords | None:
        return self.devices.find(self._texts(self.devices.longest + 1))

    def _grow(self, gangs: int) -> None:
        """Make a box that is only begun as wide as its devices need, where no line tells its gangs."""
        if self.grows and "gangs" not in self.said and self.box.enclosure.gangs < gangs <= MOST_GANGS:
            self._edit(SetGangs, gangs=str(gangs))

    def _of_device(self, device: Device) -> bool:
        """The words after a device: its name, the conductor on it, its loads and the words about those."""
        text = self.tokens[self.at][0]
        if text[0] in '"“':
            name = _unquoted(text)
            if device.loads:
                self._last_load(device, name=name)
            else:
                self._edit(ConnectDevice, device=device.id, name=name, gauge=device.gauge)
            self._understood(1, f"called {name}")
            return True
        if (channel := re.fullmatch(r"ch(\d)", text, re.IGNORECASE)) and device.loads:
            self._last_load(device, channel=int(channel[1]))
            self._understood(1, f"on channel {channel[1]}")
            return True
        on = re.fullmatch(r"on (\d{1,2}(?:\.\d{1,2}mm[2²]?)?|\d{1,2}mm[2²]?)", self._ahead(2).lower())
        if on:
            self._edit(ConnectDevice, device=device.id, name=device.name, gauge=on[1])
            self._understood(2, f"{read_gauge(on[1])} on it")
            return True
        load = find_load(self._texts(), on_fan=self.sheets[device.sheet].kind == "fan control")
        if load:
            self._edit(AddLoad, device=device.id, **load.told)
            self._understood(load.tokens, load.means)
        return load is not None

    def _last_load(self, device: Device, **said: Any) -> None:
        """The words after a load belong to it."""
        hung = device.loads[-1]
        before = hung.model_dump(exclude={"id"}, exclude_none=True) | {"device": device.id, "each": str(hung.each)}
        self._edit(RemoveLoad, load=hung.id)
        self._edit(AddLoad, **before | said)

    def _next(self) -> tuple[str, ...]:
        """What could come next."""
        if self.part == _BOX:
            return ("3g", "54in3", "tabs", "metal", ";")
        if self.part == _CABLES:
            return ("14/2", "14/3", "12/2", "12/3") if self.fresh else ("x2", "no ground", '"feed"', ",", ";")
        if self.part == _DEVICES:
            return (*self.devices.words[:6], "empty") if self.fresh else ('"name"', "6x9W led", "0.9A", "on 14", ",")
        return ()


def _said(wrong: Exception) -> str:
    return str(wrong).removeprefix("Enter ")


def _unquoted(text: str) -> str:
    return text.strip('"“”')
