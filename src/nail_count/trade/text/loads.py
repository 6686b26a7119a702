"""Loads as people write them: ``6x9W led``, ``85W fan pf 0.85``, ``0.9A``."""

from __future__ import annotations

import re
from collections.abc import Iterable

from pydantic import ValidationError

from ..model.errors import Rejected, problems_of
from ..model.load import Load, LoadKind
from ..model.measure import Power, write_number

LOAD = re.compile(r"(?:(\d{1,3})\s*[x×])?((?:\d+/\d+|\d+(?:\.\d+)?|\.\d+)(?:W|A|VA|hp))", re.IGNORECASE)
"""How many, and what each draws."""
KIND_OF_WORD: dict[str, LoadKind] = {
    "led": "led",
    "leds": "led",
    "incandescent": "incandescent",
    "inc": "incandescent",
    "bulb": "incandescent",
    "bulbs": "incandescent",
    "halogen": "incandescent",
    "cfl": "cfl",
    "fluorescent": "fluorescent",
    "tube": "fluorescent",
    "tubes": "fluorescent",
    "mlv": "mlv",
    "elv": "elv",
    "fan": "fan",
    "motor": "motor",
    "heater": "heater",
    "receptacle": "receptacle",
    "outlet": "receptacle",
}
"""The kind of load a word means."""
KIND_OF_UNIT: dict[str, LoadKind] = {"W": "led", "A": "fan", "hp": "motor", "VA": "mlv"}
"""The kind meant where no word says it."""
_ONE = re.compile(
    rf"(?:(\d{{1,3}})\s*[x×]\s*)?([\d./]+\s*[a-z]+)(?:\s+({'|'.join(KIND_OF_WORD)}))?(?:\s+pf\s*(\S+))?"
    r'(?:\s*["“]([^"”]*)["”])?',
    re.IGNORECASE,
)


def read_loads(text: str) -> tuple[Load, ...]:
    """The loads of a text, parted by commas; without a kind, watts are LED lamps and amps a fan.

    Raises:
        Rejected: at field `loads`, with what was expected.

    >>> [str(load.each) for load in read_loads("6 x 9 W led, 0.9A")]
    ['9 W', '0.9 A']
    """
    loads = []
    for number, part in enumerate(filter(str.strip, text.split(",")), 1):
        found = _ONE.fullmatch(part.strip())
        if found is None:
            raise Rejected(f"Enter loads such as 6x9W led, 85W fan, 0.9A. “{part.strip()[:40]}” isn’t one", "loads")
        quantity, each, kind, factor, name = found.groups()
        try:
            power = Power.parse(each)
            known = KIND_OF_WORD[kind.lower()] if kind else KIND_OF_UNIT[power.unit]
            said = {"kind": known, "quantity": quantity or 1, "each": power, "power_factor": factor, "name": name or ""}
            loads.append(Load.model_validate({"id": f"l{number}", **said}))
        except ValidationError as wrong:
            raise Rejected(problems_of(wrong)[0].sentence, "loads") from wrong
        except ValueError as wrong:
            raise Rejected(str(wrong), "loads") from wrong
    return tuple(loads)


def write_loads(loads: Iterable[Load]) -> str:
    """The text that [read_loads][] reads back as these loads, but for their channels.

    >>> write_loads(read_loads('6x9W led "bench"'))
    '6x9W led "bench"'
    """
    written = []
    for load in loads:
        text = f"{load.quantity}x" if load.quantity > 1 else ""
        text += f"{write_number(load.each.value)}{load.each.unit} {load.kind}"
        text += f" pf {write_number(load.power_factor)}" if load.power_factor is not None else ""
        written.append(f'{text} "{load.name}"' if load.name else text)
    return ", ".join(written)
