"""The words quick entry knows."""

from __future__ import annotations

from collections.abc import Mapping

from ..model.datasheet import Datasheet

HEAD_WORDS: dict[str, tuple[str, dict[str, object], str]] = {
    "tabs": ("set-clamps", {"clamps": True}, "tabs counted as clamps inside"),
    "clamps": ("set-clamps", {"clamps": True}, "clamps inside"),
    "no tabs": ("set-clamps", {"clamps": False}, "no clamps inside"),
    "no clamps": ("set-clamps", {"clamps": False}, "no clamps inside"),
    "metal": ("set-material", {"material": "metal"}, "metal"),
    "plastic": ("set-material", {"material": "nonmetallic"}, "nonmetallic"),
    "nonmetallic": ("set-material", {"material": "nonmetallic"}, "nonmetallic"),
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
}
"""Words after a cable: what they say of it, what they mean."""

DEVICE_WORDS = ("empty", "-", "none")
"""A gang without a device."""

_KINDS = {"fan control": ("fan",), "smart switch": ("smart",), "receptacle": ("outlet",)}


def sheet_words(sheets: Mapping[str, Datasheet]) -> dict[str, Datasheet]:
    """What device words mean: a kind (its first sheet), a sheet's name, or its id; all in small letters."""
    words: dict[str, Datasheet] = {}
    sheets = {id: sheet for id, sheet in sheets.items() if not sheet.is_module}
    for sheet in sheets.values():
        for word in (sheet.kind, *_KINDS.get(sheet.kind, ())):
            words.setdefault(word, sheet)
    for sheet in sheets.values():
        words.setdefault(sheet.name.lower(), sheet)
        words[sheet.id] = sheet
    return words
