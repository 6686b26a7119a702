"""Quick entry: a whole box in one line of text, read word by word into edits, and written back.

    3g 54in3 tabs; 12/2 x2, 12/3; dimmer "Bench" 6x9W led, switch, fan 0.9A

Parts, parted by semicolons, in any order: the box; its cables; its devices from the left, one for each gang. What it
cannot say stays as it is: rings, inside measures, name, room and circuit; cables are lettered afresh.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import takewhile
from typing import Any, NamedTuple

from ..edits.base import BoxEdit, Datasheets
from ..edits.cables import AddCable, RemoveCable
from ..edits.devices import ConnectDevice, PutDevice
from ..edits.enclosure import SetGangs, SetVolume
from ..edits.loads import AddLoad, RemoveLoad
from ..model.box import Box, Device
from ..model.enclosure import MOST_GANGS, Enclosure
from ..model.gauge import read_gauge
from ..model.load import LAMPS
from ..model.measure import Power, Volume
from ..model.trade_size import find_trade_size
from ..text.loads import KIND_OF_UNIT, KIND_OF_WORD
from .vocabulary import (
    CABLE_WORDS,
    COUNT_WORDS,
    DEVICE_WORDS,
    GANG_WORDS,
    GOES_WORDS,
    HEAD_WORDS,
    sheet_words,
)

MOST_LETTERS = 2000
MOST_TIMES = 20
"""How often a line can name one cable."""

_TOKEN = re.compile(
    r'"[^"]*"?|“[^”]*”?|[;,]|\dg(?=\d)|\d{1,2}[x×](?=\d\d[/-]\d)|\d\d[/-]\d{1,2}(?=[x×]\d)|[^\s;,"“]+', re.IGNORECASE
)
"""A word; what people write without a space is parted too: 1g18in3, 2x14/2, 14/2x2."""
_GANGS = re.compile(rf"(\d|{'|'.join(GANG_WORDS)})[\s-]?g(?:angs?)?", re.IGNORECASE)
_CABLE = re.compile(r"(\d{1,2}(?:\.\d{1,2})?mm[2²]?|\d{1,2})[/-](\d{1,2})")
_BEFORE = re.compile(rf"(\d{{1,2}})[x×]|({'|'.join(COUNT_WORDS)})", re.IGNORECASE)
"""How many, before a cable."""
_LOAD = re.compile(
    r"(?:(?P<count>\d{1,3})(?:\s*[x×]\s*|\s+))?(?P<each>\d+/\d+|\d+(?:\.\d+)?|\.\d+)\s?(?P<unit>w|a|va|hp)?"
    r"(?:\s+(?P<kind>[a-z]+))?",
)
"""How many, what each draws, and what it is."""
_BESIDE = ("and", "+", "&")
"""Between two cables, like a comma."""
_TIMES = re.compile(r"[x×](\d{1,2})", re.IGNORECASE)


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


class _OfBox(NamedTuple):
    """What some words tell of the box itself."""

    tokens: int
    edit: type[BoxEdit]
    told: Mapping[str, object]
    means: str
    once: str = ""
    """What can stand in a line only once."""


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
        self.tokens = [(found.group(), found.start()) for found in _TOKEN.finditer(line)]
        self.sheets = sheets
        self.known = sheet_words(sheets)
        self.devices = {" ".join(_TOKEN.findall(word)): sheet for word, sheet in self.known.items()}
        """What device words mean, as the tokens of a line: a name may have commas."""
        self.lengths = sorted({1, *(len(_TOKEN.findall(word)) for word in self.known)}, reverse=True)
        stays = box.enclosure.model_dump(include={"gangs", "rings", "fittings", "width", "height", "depth"})
        self.has_head = False
        """Whether some words are about the box itself; else it stays as it is."""
        self.kinds = self._kinds()
        """What each part is about: 0 the box, 1 its cables, 2 its devices, 3 nothing that is known."""
        enclosure = Enclosure.model_validate(stays) if self.has_head else box.enclosure
        self.grows = not (box.cables or box.equipment or box.enclosure.volume or box.enclosure.trade_size)
        """Whether the box is only begun, so that it gets as many gangs as devices are named."""
        told = {"cables": 1 in self.kinds, "devices": 2 in self.kinds}
        self.box = box.changed(enclosure=enclosure, **{name: () for name, is_told in told.items() if is_told})
        self.goes: dict[str, str] = {}
        """Where cables go, in words, by their letters."""
        self.said: set[str] = set()
        """The words read of the box itself; each stands once."""
        self.times = 1
        """How often the cable at hand is there."""
        self.words: list[Word] = []
        self.at = 0

    def read(self) -> Reading:
        number, gang = 0, 1
        fresh = True
        while self.at < len(self.tokens):
            text, start = self.tokens[self.at]
            part = self.kinds[number]
            if text == ";":
                number, fresh = number + 1, True
                self._note(Word(text, start))
                gang += self.kinds[number] == 2 and bool(self.box.devices)
                continue
            if text == "," or (part == 1 and not fresh and text.lower() in _BESIDE):
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
            except (_Wrong, ValueError) as wrong:
                self.at = begun
                self._note(Word(text, start, "", _said(wrong)))
                continue  # what could stand here is what could come next
            fresh = False
        whole = not any(word.expected for word in self.words)
        return Reading(tuple(self.words), self.box if whole else None, self._next(self.kinds[number], fresh), self.goes)

    def _kinds(self) -> list[int]:
        """Return what each part between semicolons is about: by its first words, else by its place."""
        kinds, fresh = list[int](), True
        for at, (text, _) in enumerate(self.tokens):
            if text == ";":
                if fresh:
                    kinds.append(self._usual(kinds))
                fresh = True
            elif fresh:
                self.at, fresh = at, False
                cable = _CABLE.fullmatch(self._ahead(2).split()[-1] if _BEFORE.fullmatch(text) else text)
                device = any(self._ahead(count).lower() in self.devices for count in self.lengths)
                place = self._usual(kinds)
                kinds.append(1 if cable else 0 if self._of_box() else 2 if device else place)
                self.has_head |= kinds[-1] == 0
        self.at = 0
        return [*kinds, self._usual(kinds)] if fresh else kinds

    @staticmethod
    def _usual(kinds: list[int]) -> int:
        """Return what the next part is about where its words don't tell."""
        return kinds[-1] + 1 if kinds and kinds[-1] < 3 else 3 if kinds else 0

    def _note(self, word: Word, tokens: int = 1) -> None:
        self.words.append(word)
        self.at += tokens

    def _edit(self, edit: type[BoxEdit], /, **fields: Any) -> None:
        self.box = edit.read({**fields, "box": self.box.id}).on_box(self.box, self.sheets).box

    def _ahead(self, count: int) -> str:
        """The next so many tokens as one text, spaces between."""
        return " ".join(text for text, _ in self.tokens[self.at : self.at + count])

    def _understood(self, tokens: int, means: str) -> None:
        text, start = self.tokens[self.at]
        self._note(Word(self._ahead(tokens) if tokens > 1 else text, start, means), tokens)

    def _head(self) -> None:
        """Gangs, volume or trade size, clamps, material."""
        found = self._of_box()
        if found is None:
            raise _Wrong("gangs such as 3g, a volume such as 54in3, a trade size, tabs, metal")
        if found.once:
            self._once(found.once)
        kept = {"volume": self.box.enclosure.volume, "trade_size": self.box.enclosure.trade_size}
        beside = {name: str(one) for name, one in kept.items() if one is not None and found.edit is SetVolume}
        self._edit(found.edit, **{**beside, **found.told})
        self._understood(found.tokens, found.means)

    def _of_box(self) -> _OfBox | None:
        """Return what the next words tell of the box itself; None where they tell nothing."""
        for tokens in (2, 1):
            ahead = self._ahead(tokens).lower()
            if gangs := _GANGS.fullmatch(ahead):
                count = GANG_WORDS.get(gangs[1], gangs[1])
                means = f"{count} gang{'' if count == '1' else 's'}"
                return _OfBox(tokens, SetGangs, {"gangs": count}, means, "gangs")
            if ahead in HEAD_WORDS:
                edit, told, words = HEAD_WORDS[ahead]
                return _OfBox(tokens, edit, told, words)
        for tokens in (4, 3, 2, 1):
            try:
                volume = Volume.parse(self._ahead(tokens))
            except ValueError:
                continue
            return _OfBox(tokens, SetVolume, {"volume": str(volume)}, f"{volume} marked in it", "volume")
        text = self.tokens[self.at][0].lower()
        for tokens in (3, 2, 1) if text[:1].isdigit() or text in ("fs", "fd") else ():
            try:
                size = find_trade_size(self._ahead(tokens))
            except ValueError:
                continue
            return _OfBox(tokens, SetVolume, {"trade_size": size.name}, f"trade size {size.name}", "trade size")
        return None

    def _once(self, what: str) -> None:
        if what in self.said:
            raise _Wrong(f"the {what} once; it stands there before")
        self.said.add(what)

    def _cable(self, fresh: bool) -> None:
        """A cable first, then the words about it: how often, ground, run, side, where it goes."""
        if fresh:
            self._new_cable()
            return
        if not self.box.cables:
            raise _Wrong("a cable such as 14/2 or 12/3 first")
        if not (self._more_of_it() or self._where_it_goes() or self._its_ground()):
            raise _Wrong("x2, g16, no ground, looped, through, from bottom, feed or to light after a cable")

    def _new_cable(self) -> None:
        """A cable, or several: 14/2, 2x 14/2, three 14/2."""
        text = self.tokens[self.at][0]
        before = _BEFORE.fullmatch(text)
        size = _CABLE.fullmatch(self._ahead(2).split()[-1] if before else text)
        if not size:
            raise _Wrong("a cable such as 14/2 or 12/3")
        count = int(before[1] or COUNT_WORDS[before[2].lower()]) if before else 1
        if not 1 <= count <= MOST_TIMES:
            raise _Wrong(f"how often, from 1 to {MOST_TIMES}")
        for _ in range(count):
            self._edit(AddCable, gauge=size[1], insulated=size[2])
        self.times = count
        words = f"{size[1]}/{size[2]} cable"
        self._understood(2 if before else 1, f"{count} × {words}" if before else words)

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
        if first[0] in ';,"“' or _TIMES.fullmatch(first) or _CABLE.fullmatch(first) or first in CABLE_WORDS:
            return True
        leads_on = first in _BESIDE or _BEFORE.fullmatch(first) is not None
        return pair in CABLE_WORDS or (leads_on and any(_CABLE.fullmatch(text) for text in texts[1:3]))

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

    def _device(self, gang: int, fresh: bool) -> int:
        """A device first, then its name, conductor and loads; returns how many gangs past the first it takes."""
        text = self.tokens[self.at][0]
        if fresh:
            for tokens in self.lengths:
                ahead = self._ahead(tokens).lower()
                if tokens == 1 and ahead in DEVICE_WORDS:
                    self._grow(gang)
                    if gang > self.box.enclosure.gangs:
                        raise _Wrong(f"at most {self.box.enclosure.gangs} devices in a box of so many gangs")
                    self._understood(1, f"gang {gang} stays empty")
                    return 0
                if ahead in self.devices:
                    sheet = self.devices[ahead]
                    self._grow(gang + sheet.gangs - 1)
                    self._edit(PutDevice, gang=gang, sheet=sheet.id)
                    self._understood(tokens, f"{sheet.name} in gang {gang}")
                    return sheet.gangs - 1
            known = ", ".join(word for word in list(self.known)[:4] if "," not in word)
            raise _Wrong(f"a device such as {known}, or empty" if known else "empty: this job has no datasheets yet")
        self._of_device(text, gang)
        return 0

    def _grow(self, gangs: int) -> None:
        """Make a box that is only begun as wide as its devices need, where no line tells its gangs."""
        if self.grows and "gangs" not in self.said and self.box.enclosure.gangs < gangs <= MOST_GANGS:
            self._edit(SetGangs, gangs=str(gangs))

    def _of_device(self, text: str, gang: int) -> None:
        """The words after a device: its name, the conductor on it, its loads and the words about those."""
        device = max(self.box.devices, key=lambda device: device.gang, default=None)
        if device is None or device.gang + self.sheets[device.sheet].gangs - 1 != gang:
            raise _Wrong("a comma before the next device")
        if text[0] in '"“':
            name = _unquoted(text)
            if device.loads:
                self._last_load(device, name=name)
            else:
                self._edit(ConnectDevice, device=device.id, name=name, gauge=device.gauge)
            self._understood(1, f"called {name}")
            return
        if (channel := re.fullmatch(r"ch(\d)", text, re.IGNORECASE)) and device.loads:
            self._last_load(device, channel=int(channel[1]))
            self._understood(1, f"on channel {channel[1]}")
            return
        on = re.fullmatch(r"on (\d{1,2}(?:\.\d{1,2}mm[2²]?)?|\d{1,2}mm[2²]?)", self._ahead(2).lower())
        if on:
            self._edit(ConnectDevice, device=device.id, name=device.name, gauge=on[1])
            self._understood(2, f"{read_gauge(on[1])} on it")
            return
        if self._load(device):
            return
        raise _Wrong("its name in quotes, on 14, or a load such as 6x9W led or 0.9A")

    def _load(self, device: Device) -> bool:
        """A load as people write it: 6x9W led, 6 x 9 W led, 6 9W led, 6x9 led; False where none stands here."""
        for count in (4, 3, 2, 1):
            written = _LOAD.fullmatch(self._ahead(count).lower()) if self.at + count <= len(self.tokens) else None
            kind = KIND_OF_WORD.get(written["kind"]) if written and written["kind"] else None
            if written is None or (written["kind"] and kind is None):
                continue
            if written["unit"] is None and (kind not in LAMPS or written["count"] is None):
                continue  # only of several lamps is it clear that a bare number is watts
            each = Power.parse(written["each"] + (written["unit"] or "W"))
            meant = KIND_OF_UNIT[each.unit]
            kind = kind or ("fan" if meant == "led" and self._is_fan(device.sheet) else meant)
            factor = re.fullmatch(r"pf ?(\S+)", " ".join(t for t, _ in self.tokens[self.at + count :][:2]), re.I)
            said = {"device": device.id, "kind": kind, "quantity": written["count"] or 1, "each": str(each)}
            if factor:
                said["power_factor"] = factor[1]
            self._edit(AddLoad, **said)
            means = f"{written['count'] or 1} × {each} {kind}"
            self._understood(count + 2 * bool(factor), means + (f", power factor {factor[1]}" if factor else ""))
            return True
        return False

    def _is_fan(self, sheet: str) -> bool:
        return self.sheets[sheet].kind == "fan control"

    def _last_load(self, device: Device, **said: Any) -> None:
        """The words after a load belong to it."""
        hung = device.loads[-1]
        before = hung.model_dump(exclude={"id"}, exclude_none=True) | {"device": device.id, "each": str(hung.each)}
        self._edit(RemoveLoad, load=hung.id)
        self._edit(AddLoad, **before | said)

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
    return str(wrong).removeprefix("Enter ")


def _unquoted(text: str) -> str:
    return text.strip('"“”')
