"""What pages in browsers show: the parts last sent to each, so that after an act only those are sent that differ."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence
from secrets import token_hex
from threading import Lock

from .parts import Part

MOST_PAGES = 40
"""How many pages are remembered; any other page gets all its parts again."""


class Shown:
    """The parts of the pages last sent, each under a name that the page itself bears.

    A page is forgotten when many others were sent after it, and when the program ends; nothing but a longer answer
    comes of it.
    """

    def __init__(self) -> None:
        self._pages: OrderedDict[str, tuple[Part, ...]] = OrderedDict()
        self._lock = Lock()

    def put(self, parts: Sequence[Part], instead: str = "") -> str:
        """Remembers what a page shows from now on; its new name.

        Args:
            parts: all of the page.
            instead: the name it had before.
        """
        name = token_hex(8)
        with self._lock:
            self._pages.pop(instead, None)
            self._pages[name] = tuple(parts)
            while len(self._pages) > MOST_PAGES:
                self._pages.popitem(last=False)
        return name

    def of(self, name: str, ids: Sequence[str]) -> tuple[Part, ...] | None:
        """What the page of a name shows; None where that is not known, or it has other parts at the top.

        Args:
            name: as the page sent it.
            ids: of the parts at the top of the page as it is now.
        """
        with self._lock:
            parts = self._pages.get(name)
        return parts if parts is not None and [part.id for part in parts] == list(ids) else None
