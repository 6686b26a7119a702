"""What a reading can show, for each way a cable can be. Everything that can happen is allowed for.

A lamp is not a resistor: an LED lamp may pass nothing at a meter's voltage, so through a lamp a meter may show
anything between. A floating wire shows a ghost on a high-impedance meter and nothing on a loaded one.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Literal

from ...model.conductor import Reading
from .kinds import End, Guess

Outcome = Literal["nominal", "zero", "between", "double", "yes", "no"]

NOMINAL_FROM, NOMINAL_TO = Fraction(85, 100), Fraction(115, 100)
"""A reading within these shares of the nominal voltage is nominal; common practice."""
ZERO_TO = Fraction(5, 100)
DOUBLE_FROM, DOUBLE_TO = Fraction(160, 100), Fraction(230, 100)
"""Between two legs, or two phases: twice, or √3 times, the nominal voltage."""

_ANY_VOLTS = frozenset(("nominal", "zero", "between", "double"))
_ANY = frozenset(("yes", "no"))


def outcome(reading: Reading, voltage: int) -> Outcome | None:
    """What a reading shows, in kind; None where it can be nothing that a house of this voltage has.

    >>> outcome(Reading(id="r1", kind="volts", of="A1", volts="118"), 120)
    'nominal'
    """
    if reading.kind != "volts":
        return "yes" if reading.yes else "no"
    assert reading.volts is not None
    share = reading.volts / voltage
    if share <= ZERO_TO:
        return "zero"
    if NOMINAL_FROM <= share <= NOMINAL_TO:
        return "nominal"
    if DOUBLE_FROM <= share <= DOUBLE_TO:
        return "double"
    return "between" if share < NOMINAL_FROM else None


def allowed(guess: Guess, number: int, reading: Reading, circuits: Mapping[str, int]) -> frozenset[str]:
    """What a reading on conductor `number` of a cable may show if the cable is as guessed.

    Args:
        guess: how the cable is taken to be.
        number: the conductor, from 0.
        reading: what was measured, in which state; its value is not looked at.
        circuits: the number of each circuit that may feed the box, by its id.
    """
    if reading.kind == "tester" or reading.electronic:
        return _ANY | _ANY_VOLTS
    on = {circuits[id] for id in reading.on if id in circuits}
    now = _now(guess.ends[number], reading, on)
    if reading.kind == "continuity":
        return _continuity(guess, number, reading, now)
    ghost = frozenset(("zero", "between")) if reading.meter == "high impedance" else frozenset(("zero",))
    if reading.to == "hot":
        return _from_hot(now, on, ghost)
    if now == "hot":
        return frozenset(("nominal",))
    if now == "neutral":
        return frozenset(("zero",))
    return ghost


def _now(end: End, reading: Reading, on: set[int]) -> str:
    """What a conductor is at in this state: hot, off, neutral, lamp, nothing."""
    if end.far and end.far != reading.far:
        return "nothing"
    if end.reach in ("hot", "far hot"):
        return "hot" if end.circuit in on else "off"
    if end.reach in ("lamp", "far lamp"):
        return "lamp" if reading.lamps_in else "nothing"
    return "neutral" if end.reach == "neutral" else "nothing"


def _from_hot(now: str, on: set[int], ghost: frozenset[str]) -> frozenset[str]:
    """Measured from a point proven hot, which is hot only while some breaker is on."""
    if not on:
        return _ANY_VOLTS
    if now == "neutral":
        return frozenset(("nominal",))
    if now == "hot":
        return frozenset(("zero", "double"))
    if now == "lamp":
        return frozenset(("nominal", "between", "zero"))
    return ghost if now == "nothing" else frozenset(("nominal", "between", "zero"))


def _continuity(guess: Guess, number: int, reading: Reading, now: str) -> frozenset[str]:
    end = guess.ends[number]
    loose = frozenset(("no",)) if now == "nothing" else _ANY
    if reading.to == "ground":
        return frozenset(("yes",)) if now == "neutral" else loose
    if reading.to in ("lamp center", "lamp shell", "next hot", "next neutral"):
        return _terminal(end, reading, now)
    return _pair(guess, number, reading)


def _terminal(end: End, reading: Reading, now: str) -> frozenset[str]:
    """To a terminal beyond the box, the lamps out or in."""
    to = reading.to.removeprefix("lamp ")
    if end.broken or end.role == "unused":
        return frozenset(("no",))
    if end.at == to:
        return frozenset(("yes",))
    if end.reach == "far lamp" and end.far == reading.far and to == "center":
        return frozenset(("yes",))
    if end.far:
        return frozenset(("no",)) if end.far != reading.far and end.reach == "far lamp" else _ANY
    if reading.lamps_in or now in ("neutral", "hot", "off") or not end.at:
        return _ANY
    return frozenset(("no",))


def _pair(guess: Guess, number: int, reading: Reading) -> frozenset[str]:
    """To another conductor of the same cable."""
    other = other_of(reading)
    if other is None or other >= len(guess.ends) or other == number:
        return _ANY
    for link in guess.links:
        if {link.one, link.other} == {number, other}:
            if link.far and link.far != reading.far:
                return frozenset(("no",))
            if link.through == "wire":
                return frozenset(("yes",))
            return _ANY if reading.lamps_in else frozenset(("no",))
    ends = guess.ends[number], guess.ends[other]
    loose = [end.broken or end.role == "unused" for end in ends]
    lone = [
        end.reach == "nothing" and not any(n in (li.one, li.other) for li in guess.links)
        for n, end in zip((number, other), ends, strict=True)
    ]
    return frozenset(("no",)) if any(loose) or any(lone) else _ANY


def other_of(reading: Reading) -> int | None:
    """The number, from 0, of the other conductor of the same cable; None where the other point is no conductor."""
    digits = reading.to.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ")
    return int(digits) - 1 if digits.isdecimal() and digits != reading.to and reading.to.isupper() else None
