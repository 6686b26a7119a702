"""Quick entry: a whole box in one line of text, read word by word into edits, and written back.

    3g 54in3 tabs; 12/2 x2, 12/3; dimmer "Bench" 6x9W led, switch, fan 0.9A

Up to three parts, parted by semicolons: the box; its cables; its devices from the left, one for each gang. What it
cannot say stays as it is: rings, inside measures, name, room and circuit; cables are lettered afresh.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..documents import Documents, Edited
from ..edits.base import BoxEdit, BoxEdited, Datasheets
from ..edits.box_parts import pruned
from ..edits.house.boxes import StartBox
from ..edits.registry import edit_box
from ..edits.runs import said_to_go, without_runs
from ..model.box import Box, Device
from ..model.enclosure import Enclosure
from ..model.errors import Rejected
from ..model.gauge import read_gauge
from ..model.measure import Power, Volume
from ..model.run import end_in_words
from ..model.trade_size import find_trade_size
from ..text.loads import KIND_OF_UNIT, KIND_OF_WORD, LOAD
from .merge import carried
from .vocabulary import CABLE_WORDS, DEVICE_WORDS, HEAD_WORDS, sheet_words

MOST_LETTERS = 2000

_TOKEN = re.compile(r'"[^"]*"?|“[^”]*”?|[;,]|[^\s;,"“]+')
_CABLE = re.compile(r"(\d{1,2}(?:\.\d{1,2})?mm[2²]?|\d{1,2})/(\d{1,2})")
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


class _Wrong(Exception):
    """The word at hand was not understood; says what would be."""


def read_line(line: str, box: Box, sheets: Datasheets) -> Reading:
    """The box a line describes, in place of the contents of this one; its name, room and circuit stay.

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


class EnterLine(BoxEdit):
    """The box as a line describes it."""

    line: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """What a line says in place of what was there; what it cannot say stays where the thing it is about does."""
        _, edited = self._entered(box, sheets)
        return edited

    def _edited(self, documents: Documents) -> Edited:
        box = documents.box(self.box)
        reading, edited = self._entered(box, documents.sheets)
        entered = without_runs(documents, self.box).with_box(edited.box)
        for letter, words in reading.goes.items():
            entered = said_to_go(entered, edited.box, letter, end_in_words(words, box.circuit))
        return Edited(entered, edited.sentence)

    def _entered(self, box: Box, sheets: Datasheets) -> tuple[Reading, BoxEdited]:
        if box.enclosure.barriers:
            raise Rejected("expected a box without a barrier: a line cannot say what is behind one", "line")
        reading = read_line(self.line, box, sheets)
        if not reading.words:
            raise Rejected("expected a box in a line, such as 2g 34in3; 14/2 x3; switch; nothing was typed", "line")
        if reading.box is None:
            wrong = reading.problems[0]
            raise Rejected(f"at “{wrong.text}”: expected {wrong.expected}", "line")
        new = pruned(carried(box, reading.box))
        return reading, BoxEdited(new, f"Entered as a line: {self.line.strip()[:200]}")


class StartByLine(StartBox):
    """A box from nothing, as a line describes it where one was typed."""

    line: str = ""

    def _edited(self, documents: Documents) -> Edited:
        line = self.line.strip()
        if line and not line.startswith(";") and (self.volume or self.trade_size):
            raise Rejected("expected the volume in the line or in its field, not both", "line")
        begun = super()._edited(documents)
        if not line:
            return begun
        added = (thing for id, thing in begun.documents.changed.items() if id not in documents.changed)
        new = next(thing for thing in added if isinstance(thing, Box))
        entered = EnterLine(box=new.id, line=line).apply(begun.documents)
        return Edited(entered.documents, f"{begun.sentence}. {entered.sentence}")


class _Reader:
    """Walks the words from left to right and makes an edit for each thing they say."""

    def __init__(self, line: str, box: Box, sheets: Datasheets) -> None:
        self.tokens = [(found.group(), found.start()) for found in _TOKEN.finditer(line)]
        self.sheets = sheets
        self.known = sheet_words(sheets)
        self.devices = {" ".join(_TOKEN.findall(word)): sheet for word, sheet in self.known.items()}
        """What device words mean, as the tokens of a line: a name may have commas."""
        self.lengths = sorted({1, *(len(_TOKEN.findall(word)) for word in self.known)}, reverse=True)
        stays = box.enclosure.model_dump(include={"rings", "fittings", "width", "height", "depth"})
        headless = bool(self.tokens) and self.tokens[0][0] == ";"
        enclosure = box.enclosure if headless else Enclosure.model_validate(stays)
        self.box = box.changed(enclosure=enclosure, cables=(), devices=())
        self.goes: dict[str, str] = {}
        """Where cables go, in words, by their letters."""
        self.said: set[str] = set()
        """The words read of the box itself; each stands once."""
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
            except (_Wrong, ValueError) as wrong:
                self.at = begun
                self._note(Word(text, start, "", _said(wrong)))
                continue  # what could stand here is what could come next
            fresh = False
        whole = not any(word.expected for word in self.words)
        return Reading(tuple(self.words), self.box if whole else None, self._next(part, fresh), self.goes)

    def _note(self, word: Word, tokens: int = 1) -> None:
        self.words.append(word)
        self.at += tokens

    def _edit(self, edit: str, /, **said: Any) -> None:
        self.box = edit_box(self.box, edit, said, self.sheets).box

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
                self._once("gangs")
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
            self._once("volume")
            self._edit("set-volume", volume=str(volume), trade_size=self.box.enclosure.trade_size)
            self._understood(tokens, f"{volume} marked in it")
            return
        if text[:1].isdigit() or text in ("fs", "fd"):
            for tokens in (3, 2, 1):
                try:
                    size = find_trade_size(self._ahead(tokens))
                except ValueError:
                    continue
                self._once("trade size")
                self._edit("set-volume", trade_size=size.name, volume=self.box.enclosure.volume)
                self._understood(tokens, f"trade size {size.name}")
                return
        raise _Wrong("gangs such as 3g, a volume such as 54in3, a trade size, tabs, metal")

    def _once(self, what: str) -> None:
        if what in self.said:
            raise _Wrong(f"the {what} once; it was said before")
        self.said.add(what)

    def _cable(self, fresh: bool) -> None:
        """A cable first, then the words about it: how often, ground, run, side, where it goes."""
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
                self._add_cable(last.model_dump(exclude=_NOT_SAID), self.goes.get(last.id))
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
        if ground := re.fullmatch(r"g(\d{1,2}(?:\.\d{1,2})?(?:mm[2²]?)?)", text, re.IGNORECASE):
            self._last_cable(ground_gauge=ground[1])
            self._understood(1, f"ground of {read_gauge(ground[1])}")
            return
        if grounds := re.fullmatch(r"(\d)g", text, re.IGNORECASE):
            self._last_cable(grounds=int(grounds[1]))
            self._understood(1, f"{grounds[1]} grounds")
            return
        if text[0] in '"“':
            for cable in self.box.cables[-self.times :]:
                self.goes[cable.id] = _unquoted(text)
            self._understood(1, f"goes to {_unquoted(text).removeprefix('to ')}")
            return
        raise _Wrong("x2, g16, no ground, looped, through, from bottom, or “where it goes” after a cable")

    def _last_cable(self, **said: Any) -> None:
        """The words after a cable hold for all of its kind."""
        last = self.box.cables[-1].model_dump(exclude=_NOT_SAID) | said
        goes = self.goes.get(self.box.cables[-1].id)
        for cable in self.box.cables[-self.times :]:
            self._edit("remove-cable", cable=cable.id)
            self.goes.pop(cable.id, None)
        for _ in range(self.times):
            self._add_cable(last, goes)

    def _add_cable(self, said: dict[str, Any], goes: str | None) -> None:
        self._edit("add-cable", **said)
        if goes is not None:
            self.goes[self.box.cables[-1].id] = goes

    def _device(self, gang: int, fresh: bool) -> int:
        """A device first, then its name, conductor and loads; returns how many gangs past the first it takes."""
        text = self.tokens[self.at][0]
        if fresh:
            for tokens in self.lengths:
                ahead = self._ahead(tokens).lower()
                if tokens == 1 and ahead in DEVICE_WORDS:
                    if gang > self.box.enclosure.gangs:
                        raise _Wrong(f"at most {self.box.enclosure.gangs} devices in a box of so many gangs")
                    self._understood(1, f"gang {gang} stays empty")
                    return 0
                if ahead in self.devices:
                    sheet = self.devices[ahead]
                    self._edit("put-device", gang=gang, sheet=sheet.id)
                    self._understood(tokens, f"{sheet.name} in gang {gang}")
                    return sheet.gangs - 1
            known = ", ".join(word for word in list(self.known)[:4] if "," not in word)
            raise _Wrong(f"a device such as {known}, or empty" if known else "empty: this job has no datasheets yet")
        self._of_device(text, gang)
        return 0

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
                self._edit("connect-device", device=device.id, name=name, gauge=device.gauge)
            self._understood(1, f"called {name}")
            return
        if (channel := re.fullmatch(r"ch(\d)", text, re.IGNORECASE)) and device.loads:
            self._last_load(device, channel=int(channel[1]))
            self._understood(1, f"on channel {channel[1]}")
            return
        on = re.fullmatch(r"on (\d{1,2}(?:\.\d{1,2}mm[2²]?)?|\d{1,2}mm[2²]?)", self._ahead(2).lower())
        if on:
            self._edit("connect-device", device=device.id, name=device.name, gauge=on[1])
            self._understood(2, f"{read_gauge(on[1])} on it")
            return
        if load := LOAD.fullmatch(text):
            tokens = 1
            after = self.tokens[self.at + 1][0].lower() if self.at + 1 < len(self.tokens) else ""
            kind = KIND_OF_WORD.get(after)
            tokens += kind is not None
            meant = KIND_OF_UNIT[Power.parse(load[2]).unit]
            kind = kind or ("fan" if meant == "led" and self._is_fan(device.sheet) else meant)
            factor = re.fullmatch(r"pf ?(\S+)", " ".join(t for t, _ in self.tokens[self.at + tokens :][:2]), re.I)
            said = {"device": device.id, "kind": kind, "quantity": load[1] or 1, "each": str(Power.parse(load[2]))}
            if factor:
                said["power_factor"] = factor[1]
            self._edit("add-load", **said)
            means = f"{load[1] or 1} × {Power.parse(load[2])} {said['kind']}"
            self._understood(tokens + 2 * bool(factor), means + (f", power factor {factor[1]}" if factor else ""))
            return
        raise _Wrong("its name in quotes, on 14, or a load such as 6x9W led or 0.9A")

    def _is_fan(self, sheet: str) -> bool:
        return self.sheets[sheet].kind == "fan control"

    def _last_load(self, device: Device, **said: Any) -> None:
        """The words after a load belong to it."""
        hung = device.loads[-1]
        before = hung.model_dump(exclude={"id"}, exclude_none=True) | {"device": device.id, "each": str(hung.each)}
        self._edit("remove-load", load=hung.id)
        self._edit("add-load", **before | said)

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
    return str(wrong).removeprefix("expected ")


def _unquoted(text: str) -> str:
    return text.strip('"“”')
