"""A device's label as it is typed or pasted: its serial number and its setup code."""

from __future__ import annotations

import re
from dataclasses import dataclass
from itertools import takewhile

_NAMES = re.compile(
    r"""\b(?:(?P<serial>s\s?/?\s?n|serial)(?:\s*(?:number|no|nr)\b)?
    |(?P<code>(?:(?:set-?\s?up|pairing|joining|install)\s*)?(?:code|pin))
    |(?P<other>model|type|mac|id|date|rev|lot|batch|volts|amps))(?=[\s.:\#=]|$)[\s.:\#=]*""",
    re.IGNORECASE | re.VERBOSE,
)
"""The words in front of what a label names. One with a hyphen behind it is part of a number: SN-4711."""
_END = re.compile(r"[\n;,]")


@dataclass(frozen=True, slots=True)
class Label:
    """What a label says."""

    serial: str = ""
    code: str = ""


def read_label(text: str) -> Label:
    """Read the serial number and the setup code off a label; "" for one that it doesn't name.

    Args:
        text: as it is typed, pasted or scanned. A serial number alone, or a code alone, names neither.

    >>> read_label("Model QX-2  S/N: 4K7P21  Setup code 1234-567-8901")
    Label(serial='4K7P21', code='1234-567-8901')
    >>> read_label("PIN 123 45 678"), read_label("4K7P21")
    (Label(serial='', code='12345678'), Label(serial='', code=''))
    """
    found = {"serial": "", "code": ""}
    names = list(_NAMES.finditer(text))
    ends = [*(one.start() for one in names[1:]), len(text)]
    for name, end in zip(names, ends, strict=False):
        words = _END.split(text[name.end() : end])[0].split()
        value = " ".join(takewhile(_has_figure, words)).strip(" .")  # what comes after has no name here
        if name.lastgroup in found:
            found[name.lastgroup] = found[name.lastgroup] or value
    return Label(found["serial"], "".join(found["code"].split()))


def _has_figure(word: str) -> bool:
    return any(one.isdigit() for one in word)
