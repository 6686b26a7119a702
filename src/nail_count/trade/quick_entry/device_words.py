"""The words of a line that name devices: dimmer, two switches, a sheet's name, empty."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..model.datasheet import Datasheet
from ..model.enclosure import MOST_GANGS
from .vocabulary import COUNT_WORDS, DEVICE_WORDS, TOKEN, sheet_words

_COUNT = re.compile(rf"(\d)[x×]?|{'|'.join(COUNT_WORDS)}", re.IGNORECASE)
"""How many, before a device."""


@dataclass(frozen=True, slots=True)
class DeviceWords:
    """Devices as some words name them."""

    tokens: int
    count: int
    sheet: Datasheet | None
    """None for gangs that stay empty."""


class Devices:
    """The devices that words can name, from the sheets of a job."""

    def __init__(self, sheets: Mapping[str, Datasheet]) -> None:
        known = sheet_words(sheets)
        self.words = tuple(known)
        """The words that name a device, those of kinds first."""
        # As the tokens of a line: a name may have commas.
        self._sheets = {" ".join(TOKEN.findall(word)): sheet for word, sheet in known.items()}
        self.longest = max((len(TOKEN.findall(word)) for word in known), default=1)
        """How many words the longest name has."""

    def find(self, words: Sequence[str]) -> DeviceWords | None:
        """Return the devices that the first of some words name; None where they name none.

        Args:
            words: the words from the one at hand on, one more than the longest name has.

        >>> dimmer = Datasheet(id="x", name="Rocker dimmer", kind="dimmer")
        >>> Devices({"x": dimmer}).find(["two", "dimmers"]).count
        2
        """
        counted = _COUNT.fullmatch(words[0]) if words else None
        if found := self._named(words, 0, 1):
            return found
        if counted is None:
            return None
        return self._named(words, 1, int(counted[1]) if counted[1] else COUNT_WORDS[counted[0].lower()])

    def _named(self, words: Sequence[str], before: int, count: int) -> DeviceWords | None:
        """So many of the device that is named after the first words, by the longest name that fits."""
        rest = words[before:]
        for tokens in range(min(self.longest, len(rest)), 0, -1):
            word = " ".join(rest[:tokens]).lower()
            if word in DEVICE_WORDS:
                return DeviceWords(before + tokens, count, None)
            names = (word, word.removesuffix("s"), word.removesuffix("es"))
            sheet = next((self._sheets[name] for name in names if name in self._sheets), None)
            if sheet and 1 <= count <= MOST_GANGS:
                return DeviceWords(before + tokens, count, sheet)
        return None
