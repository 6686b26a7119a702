"""Readings in plain words, for the screen, the sheet and the ladder."""

from __future__ import annotations

from ...model.conductor import EVERY, Reading

_TO = {
    "ground": "ground",
    "neutral": "a point proven neutral",
    "lead": "the ground of an extension lead",
    "hot": "a point proven hot",
    "panel hot": "the lifted hot",
    "panel neutral": "the lifted neutral",
    "free end": "its other end, found lying free",
    "lamp center": "the center contact of the lampholder, or the fixture's live lead",
    "lamp shell": "the shell of the lampholder, or the fixture's neutral lead",
    "next hot": "the hot terminal at the next place",
    "next neutral": "the neutral terminal at the next place",
}


def in_words(reading: Reading) -> str:
    """A reading in one sentence, with the state of breakers and switches.

    >>> in_words(Reading(id="r1", kind="tester", of="A1", on=("7",), yes=True))
    'Breaker 7 on: non-contact tester at A1'
    """
    said = f"{', '.join(state_in_words(reading))}: {what_in_words(reading)}"
    return said[:1].upper() + said[1:]


def what_in_words(reading: Reading) -> str:
    """Between which points it is taken, with what."""
    if reading.kind == "tester":
        return f"{with_in_words(reading)} at {reading.of}"
    return f"{with_in_words(reading)} from {reading.of} to {_point(reading)}"


def with_in_words(reading: Reading) -> str:
    """With what it is taken."""
    match reading.kind:
        case "tester":
            return "non-contact tester"
        case "continuity":
            return "ohms"
        case "volts":
            return {"loaded": "a loaded meter", "high impedance": "a high-impedance meter"}[reading.meter]


def points_in_words(reading: Reading) -> str:
    """Name the points it is taken between.

    >>> points_in_words(Reading(id="r1", kind="volts", of="A1", to="ground", volts=120))
    'A1 to ground'
    """
    return reading.of if reading.kind == "tester" else f"{reading.of} to {_point(reading)}"


def _point(reading: Reading) -> str:
    return _TO.get(reading.to, f"conductor {reading.to}")


def state_in_words(reading: Reading) -> tuple[str, ...]:
    """What must be so before it is taken, one by one."""
    if reading.kind == "tester":
        return (_breakers(reading),)
    dead = reading.kind == "continuity"
    lifted = f"hot and neutral of circuit {reading.circuit} lifted in the panel" if reading.circuit else ""
    said = (
        "every breaker off, verified dead" if dead else _breakers(reading),
        lifted,
        "wires apart" if dead else "wires apart and capped",
        _LAMPS[reading.lamps],
        "the far switch flipped" if reading.far == 2 else "",
        "" if reading.others == "as found" else "every other switch flipped one by one meanwhile",
    )
    return tuple(one for one in said if one)


_LAMPS = {
    "not said": "lamps as they were",
    "in": "lamps and plugs in",
    "out": "lamps and plugs out, fixtures disconnected",
    "cannot come out": "with what cannot come out",
}


def _breakers(reading: Reading) -> str:
    if EVERY in reading.on:
        return "every breaker on"
    if not reading.on:
        return "every breaker off"
    named = ["the breaker" if id == "?" else f"breaker {id}" for id in reading.on]
    return f"{' and '.join(named)} on"


def caution(reading: Reading) -> str:
    """What can hurt about a reading."""
    if reading.kind == "volts" and reading.on:
        return (
            "The wires are live. Open one connector at a time and use one hand. Prove the tester before and after. Then"
            " turn the breaker off and verify dead again"
        )
    return "Verify dead before you measure ohms. On a live wire the meter can fail and hurt you"
