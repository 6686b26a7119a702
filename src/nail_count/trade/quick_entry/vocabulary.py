"""The words quick entry knows."""

from __future__ import annotations

import re
from collections.abc import Mapping

from ..edits.base import BoxEdit
from ..edits.enclosure import SetClamps, SetMaterial
from ..model.datasheet import Datasheet

TOKEN = re.compile(
    r'"[^"]*"?|“[^”]*”?|[;,:]|\dg(?=\d)|\d{1,2}[x×](?=\d\d[/-]\d)|\d\d[/-]\d{1,2}(?=[x×]\d)|[^\s;:,"“]+', re.IGNORECASE
)
"""A word; what people write without a space is parted too: 1g18in3, 2x14/2, 14/2x2."""

HEAD_WORDS: dict[str, tuple[type[BoxEdit], dict[str, object], str]] = {
    "tabs": (SetClamps, {"clamps": True}, "tabs counted as clamps inside"),
    "clamps": (SetClamps, {"clamps": True}, "clamps inside"),
    "no tabs": (SetClamps, {"clamps": False}, "no clamps inside"),
    "no clamps": (SetClamps, {"clamps": False}, "no clamps inside"),
    "metal": (SetMaterial, {"material": "metal"}, "metal"),
    "plastic": (SetMaterial, {"material": "nonmetallic"}, "nonmetallic"),
    "nonmetallic": (SetMaterial, {"material": "nonmetallic"}, "nonmetallic"),
}
"""Words about the box: the edit they make, what it is told, what they mean."""

CABLE_WORDS: dict[str, tuple[dict[str, object], str]] = {
    "no ground": ({"grounds": 0}, "without a ground"),
    "aluminum": ({"metal": "aluminum"}, "of aluminum"),
    "armored": ({"kind": "armored"}, "in armor"),
    "conduit": ({"kind": "conduit"}, "in conduit"),
    "in conduit": ({"kind": "conduit"}, "in conduit"),
    "class 2": ({"class2": True}, "of a class 2 circuit"),
    "looped": ({"run": "looped"}, "looped unbroken"),
    "through": ({"run": "through"}, "runs through"),
    "from top": ({"enters": "top"}, "comes in from the top"),
    "from bottom": ({"enters": "bottom"}, "comes in from the bottom"),
    "from left": ({"enters": "left"}, "comes in from the left"),
    "from right": ({"enters": "right"}, "comes in from the right"),
    "with ground": ({}, "with its ground"),
    "w/ground": ({}, "with its ground"),
    "w/g": ({}, "with its ground"),
    "nm": ({"kind": "sheathed"}, "in a plastic jacket"),
    "nm-b": ({"kind": "sheathed"}, "in a plastic jacket"),
    "cable": ({}, "a cable"),
    "cables": ({}, "cables"),
}
"""Words after a cable: what they say of it, what they mean."""

GOES_WORDS = {
    "feed": "feed", "in": "feed", "from panel": "feed", "onward": "onward", "out": "onward",
}  # fmt: skip
"""Words after a cable that tell where it goes: to the panel, or on to something outside the job."""
COUNT_WORDS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6}
GANG_WORDS = COUNT_WORDS | {"single": 1, "double": 2, "triple": 3}

DEVICE_WORDS = ("empty", "-", "none")
"""A gang without a device."""

_KINDS = {
    "fan control": ("fan",),
    "smart switch": ("smart",),
    "receptacle": ("outlet",),
    "countdown": ("timer",),
    "sensor": ("motion sensor", "motion", "occupancy sensor"),
}
_THREE_WAYS = ("3-way", "three-way", "3way", "three way", "3 way")
_FOUR_WAYS = ("4-way", "four-way", "4way", "four way", "4 way")
_TOGGLES = ("toggle", "single-pole", "single pole", "plain switch", "light switch", "regular switch")
_DOUBLES = ("double switch", "stacked switch", "two switches on one yoke", "switch and switch on one yoke")
"""Two switches on one yoke."""


def _by_terminals(sheet: Datasheet) -> tuple[str, ...]:
    """Return what a device is called by its travelers: two make a three-way, four a four-way, none a toggle."""
    travelers = sheet.roles.count("traveler")
    plain = sheet.kind == "switch" and "neutral" not in sheet.roles
    if plain and travelers == 2:
        return _THREE_WAYS
    if plain and travelers == 4:
        return _FOUR_WAYS
    if sheet.kind == "dimmer" and travelers == 2:
        return tuple(f"{word} dimmer" for word in _THREE_WAYS)
    if plain and "second load" in sheet.roles:
        return _DOUBLES
    return _TOGGLES if plain and sheet.roles and not travelers else ()


def sheet_words(sheets: Mapping[str, Datasheet]) -> dict[str, Datasheet]:
    """What device words mean, in small letters: a kind (its first sheet), "companion", a sheet's name, or its id."""
    words: dict[str, Datasheet] = {}
    sheets = {id: sheet for id, sheet in sheets.items() if not sheet.is_module}
    for sheet in sheets.values():
        for word in (sheet.kind, *_KINDS.get(sheet.kind, ()), *_by_terminals(sheet)):
            words.setdefault(word, sheet)
            if sheet.kind in ("switch", "dimmer") and not word.endswith(sheet.kind):
                words.setdefault(f"{word} {sheet.kind}", sheet)
    for main in sheets.values():
        if main.companion in sheets:
            words.setdefault("companion", sheets[main.companion])
    for sheet in sheets.values():
        words.setdefault(sheet.name.lower(), sheet)
        words[sheet.id] = sheet
    return words
