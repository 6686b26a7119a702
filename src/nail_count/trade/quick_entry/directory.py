"""The directory of a panel pasted as text, line by line: the breaker each line says."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..edits.house.panel import PutCircuit
from ..model.errors import Rejected
from ..model.panel import BreakerKind

MOST_LINES = 200
_LINE = re.compile(
    r"(?:(?:no\.?|#|ckt|circuit|breaker|space)\s*)?(?P<one>\d{1,2})(?P<half>[ab])?"
    r"(?:(?:\s*[/&+]\s*|\s+and\s+|[,–-])(?P<two>\d{1,2}))?(?![\d/])(?:[\s.,:)|\t–-]+(?P<rest>.*))?",
    re.IGNORECASE,
)
_AMPS = re.compile(r"(?<![\w.])(\d{2,3})\s*(?:A|amps?)\b", re.IGNORECASE)
_POLES = re.compile(r"\b(?:2\s*-?\s*p(?:oles?)?|double[- ]pole|dp|two[- ]poles?)\b", re.IGNORECASE)
_ONE_POLE = re.compile(r"\b(?:1\s*-?\s*p(?:oles?)?|single[- ]pole|sp)\b", re.IGNORECASE)
_KINDS: tuple[tuple[re.Pattern[str], BreakerKind], ...] = (
    (re.compile(r"\b(?:dual[- ]function|a\s*/\s*gfci|afci\s*[/+&]\s*gfci)\b", re.IGNORECASE), "both"),
    (re.compile(r"\bafci\b", re.IGNORECASE), "AFCI"),
    (re.compile(r"\bgfci\b", re.IGNORECASE), "GFCI"),
)
_NOTHING = re.compile(r"(?:open|blank|empty|none|unused space|no breaker|[-–—.]*)", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class DirectoryLine:
    """A line as understood."""

    text: str
    circuit: PutCircuit | None = None
    means: str = ""
    """What it was taken for."""
    expected: str = ""
    """What would have been understood; "" where it was."""


def read_directory(text: str, amps: int | None = None) -> tuple[DirectoryLine, ...]:
    """The breakers that the lines of a directory say; empty lines are left out.

    Args:
        text: one breaker a line: its number, what it feeds, its amps, its poles, what it protects from.
        amps: the rating meant where a line names none [A]; None: that is not understood.

    >>> [line.means for line in read_directory("1 Kitchen lights 15A\\n7/9  Water heater, 30 A 2P\\n11) open")]
    ['1: 15 A, “Kitchen lights”', '7/9: 30 A, two poles, “Water heater”', '11: no breaker there']
    >>> read_directory("1 Kitchen lights")[0].expected
    'how many amps the breaker has, such as 15 A'
    """
    lines = [line.strip().strip("|").strip() for line in text.splitlines()]
    return tuple(_read(line, amps) for line in [one for one in lines if one][:MOST_LINES])


def _read(line: str, amps: int | None) -> DirectoryLine:
    found = _LINE.fullmatch(line)
    if found is None:
        return DirectoryLine(line, expected="the number of a breaker first, such as 7 or 7/9")
    one, half, rest = int(found["one"]), (found["half"] or "").lower(), found["rest"] or ""
    two = int(found["two"]) if found["two"] else None
    id = f"{one}{half}" if two is None else f"{one}/{two}"
    if _NOTHING.fullmatch(rest.strip()):
        return DirectoryLine(line, means=f"{id}: no breaker there")
    said = {int(number) for number in _AMPS.findall(rest)} or ({amps} if amps else set())
    expected = ""
    if two is not None and two != one + 2:
        expected = f"the two spaces of a breaker of two poles, such as {one}/{one + 2}"
    elif len(said) != 1:
        expected = "one breaker a line" if said else "how many amps the breaker has, such as 15 A"
    if expected:
        return DirectoryLine(line, expected=expected)
    kind = next((kind for pattern, kind in _KINDS if pattern.search(rest)), None)
    poles = 2 if two is not None or _POLES.search(rest) else 1
    facts = {"id": id, "breaker": said.pop(), "label": _label(rest), "poles": poles, "kind": kind}
    try:
        circuit = PutCircuit.read({**facts, "space": one, "half": half})
    except Rejected as wrong:
        return DirectoryLine(line, expected=wrong.sentence.removeprefix("Enter "))
    means = (
        f"{id}: {circuit.breaker} A", "two poles" if poles == 2 else "",
        "AFCI and GFCI" if kind == "both" else kind or "", f"“{circuit.label}”" if circuit.label else "not labeled",
    )  # fmt: skip
    return DirectoryLine(line, circuit, ", ".join(filter(None, means)))


def _label(rest: str) -> str:
    """What a line says beside amps, poles and what it protects from."""
    for pattern in (_AMPS, _POLES, _ONE_POLE, *(pattern for pattern, _ in _KINDS)):
        rest = pattern.sub(" ", rest)
    return re.sub(r"\s+", " ", re.sub(r"[\s,;|]*\(\s*\)|[|\t]", " ", rest)).strip(" ,;:-–.")[:80]
