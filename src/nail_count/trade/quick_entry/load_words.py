"""The words of a line that are a load: 6x9W led, 6 x 9 W led, 6 9W led, 6x9 led, 85W fan pf 0.85."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from ..model.load import LAMPS
from ..model.measure import Power
from ..text.loads import KIND_OF_UNIT, KIND_OF_WORD

_LOAD = re.compile(
    r"(?:(?P<count>\d{1,3})(?:\s*[x×]\s*|\s+))?(?P<each>\d+/\d+|\d+(?:\.\d+)?|\.\d+)\s?(?P<unit>w|a|va|hp)?"
    r"(?:\s+(?P<kind>[a-z]+))?",
)
"""How many, what each draws, and what it is."""


class LoadWords(NamedTuple):
    """A load as some words tell it."""

    tokens: int
    told: dict[str, object]
    """The fields of the edit that adds it, but for the device."""
    means: str


def find_load(words: Sequence[str], *, on_fan: bool) -> LoadWords | None:
    """Return the load that the first of some words tell of; None where they tell of none.

    Args:
        words: the words from the one at hand on.
        on_fan: whether they stand after a fan control, where watts without a kind are a fan.

    Raises:
        ValueError: it is a load, but its figure can't be.

    >>> find_load(["6x9W", "led", ","], on_fan=False).means
    '6 × 9 W led'
    """
    for tokens in (4, 3, 2, 1):
        written = _LOAD.fullmatch(" ".join(words[:tokens]).lower()) if tokens <= len(words) else None
        kind = KIND_OF_WORD.get(written["kind"]) if written and written["kind"] else None
        if written is None or (written["kind"] and kind is None):
            continue
        if written["unit"] is None and (kind not in LAMPS or written["count"] is None):
            continue  # only of several lamps is it clear that a bare number is watts
        each = Power.parse(written["each"] + (written["unit"] or "W"))
        meant = KIND_OF_UNIT[each.unit]
        kind = kind or ("fan" if meant == "led" and on_fan else meant)
        count = written["count"] or 1
        told: dict[str, object] = {"kind": kind, "quantity": count, "each": str(each)}
        factor = re.fullmatch(r"pf ?(\S+)", " ".join(words[tokens : tokens + 2]), re.IGNORECASE)
        if factor is None:
            return LoadWords(tokens, told, f"{count} × {each} {kind}")
        means = f"{count} × {each} {kind}, power factor {factor[1]}"
        return LoadWords(tokens + 2, told | {"power_factor": factor[1]}, means)
    return None
