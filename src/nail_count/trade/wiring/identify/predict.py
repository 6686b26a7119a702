"""What a reading can show, for each way a cable can be. Everything that can happen is allowed for.

A lamp is not a resistor: an LED lamp may pass nothing at a meter's voltage, so through a lamp a meter may show
anything between. A floating wire shows a ghost on a high-impedance meter and nothing on a loaded one.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import get_args

from ...model.conductor import EVERY, Reading, To
from ...rules.wires.shown import Shown
from .kinds import End, Guess

Outcome = str
"""What a meter can show, as far as a reading is foreseen: nominal, zero, between, double; yes or no."""

_ANY_VOLTS = frozenset(("nominal", "zero", "between", "double"))
_ANY = frozenset(("yes", "no"))
_CONTINUITY: Mapping[Shown | None, frozenset[str]] = {
    "joined": frozenset(("yes",)),
    "beeps": frozenset(("yes",)),
    "apart": frozenset(("no",)),
    "silent": frozenset(("no",)),
    "through": _ANY,
}
"""The part of the prediction each reading of continuity asks for: through a load, both must be possible."""


def fits(
    guess: Guess,
    number: int,
    reading: Reading,
    showed: Shown | None,
    circuits: Mapping[str, int],
    *,
    neutral_parts: bool = False,
) -> bool:
    """Whether a cable that is as guessed can show what a reading did.

    Args:
        guess: how the cable is taken to be.
        number: the conductor, from 0.
        reading: what was measured, in which state.
        showed: what it showed, in kind.
        circuits: the number of each circuit that may feed the box, by its id.
        neutral_parts: whether the main may open the neutral too, or ground be a rod of its own.
    """
    if showed is None:
        return False
    wanted = _CONTINUITY[showed] if reading.kind == "continuity" else frozenset((showed,))
    if reading.kind == "tester" or reading.electronic:
        return True
    states = (1, 2) if reading.others == "no change" else (reading.far,)
    standing = (_standing(reading, position) for position in states)
    return all(wanted <= allowed(guess, number, one, circuits, neutral_parts=neutral_parts) for one in standing)


def _standing(reading: Reading, position: int) -> Reading:
    return reading if reading.far == position else reading.model_copy(update={"far": position})


def allowed(
    guess: Guess, number: int, reading: Reading, circuits: Mapping[str, int], *, neutral_parts: bool = False
) -> frozenset[str]:
    """What a reading on conductor `number` of a cable may show if the cable is as guessed.

    Args:
        guess: how the cable is taken to be.
        number: the conductor, from 0.
        reading: what was measured, in which state; its value is not looked at.
        circuits: the number of each circuit that may feed the box, by its id.
        neutral_parts: whether the main may open the neutral too, or ground be a rod of its own.
    """
    if reading.kind == "tester" or reading.electronic:
        return _ANY | _ANY_VOLTS
    on = set(circuits.values()) if EVERY in reading.on else {circuits[id] for id in reading.on if id in circuits}
    now = _now(guess.ends[number], reading, on)
    if reading.kind == "continuity":
        parted = reading.to == "ground" and now == "neutral" and neutral_parts
        return _ANY if parted else _continuity(guess, number, reading, now, circuits)
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
    if end.reach == "far either":
        hot = end.far == reading.far
        lamp = "lamp" if reading.lamps != "out" else "nothing"
        return ("hot" if end.circuit in on else "off") if hot else lamp
    if end.far and end.far != reading.far:
        return "nothing"
    if end.reach in ("hot", "far hot"):
        return "hot" if end.circuit in on else "off"
    if end.reach in ("lamp", "far lamp"):
        return "lamp" if reading.lamps != "out" else "nothing"
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


def _continuity(guess: Guess, number: int, reading: Reading, now: str, circuits: Mapping[str, int]) -> frozenset[str]:
    end = guess.ends[number]
    loose = frozenset(("no",)) if now == "nothing" else _ANY
    if reading.to in ("ground", "neutral", "lead"):
        return frozenset(("yes",)) if now == "neutral" and reading.circuit is None else loose
    if reading.to == "panel hot":
        lifted = circuits.get(reading.circuit or "")
        return frozenset(("yes",)) if now in ("hot", "off") and end.circuit == lifted else loose
    if reading.to == "panel neutral":
        return frozenset(("yes",)) if now == "neutral" and len(circuits) == 1 else loose
    if reading.to == "free end":
        return frozenset(("yes",)) if end.role == "unused" and not end.broken else frozenset(("no",))
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
    if reading.lamps != "out" or now in ("neutral", "hot", "off") or not end.at:
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
            return _ANY if reading.lamps != "out" else frozenset(("no",))
    ends = guess.ends[number], guess.ends[other]
    loose = [end.broken or end.role == "unused" for end in ends]
    lone = [
        end.reach == "nothing" and not any(n in (li.one, li.other) for li in guess.links)
        for n, end in zip((number, other), ends, strict=True)
    ]
    return frozenset(("no",)) if any(loose) or any(lone) else _ANY


def other_of(reading: Reading) -> int | None:
    """The number, from 0, of the other conductor of the same cable; None where the other point is no conductor."""
    if reading.to in get_args(To):
        return None
    return int(reading.to.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ")) - 1
