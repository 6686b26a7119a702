"""The simulated meter and tester: what they show at a hidden box, in every state of breakers, lamps and far switch."""

from __future__ import annotations

from fractions import Fraction
from math import inf

from ...model.conductor import EVERY, Reading
from .hidden import BAR, Hidden
from .network import Network

LOADED = 3e3
"""What a loaded meter is [ohm]; common practice."""
HIGH = 1e7
"""What a high-impedance meter is [ohm]; common practice."""
LEAK = 4.7e4
"""An electronic switch that is off [ohm]; common practice."""


def network(hidden: Hidden, reading: Reading, flipped: int | None = None) -> Network:
    """The box and what lies beyond it as wires and resistors, in the state a reading is taken in.

    Args:
        reading: taken in which state.
        flipped: another switch of the house that was flipped; None: all as found.
    """
    on = {number for number in hidden.legs if str(number + 1) in reading.on or EVERY in reading.on}
    net = Network(fixed={BAR: 0.0})
    for number in on:
        net.fixed[f"source {number}"] = float(hidden.voltage * hidden.legs[number])
    cold = reading.kind == "continuity"
    if hidden.grounded and not (cold and hidden.two_pole_main):
        if hidden.rod:
            net.resistors.append((BAR, "ground", hidden.rod))
        else:
            net.wires.append((BAR, "ground"))  # bonded in the panel
    for one, other, (what, which) in hidden.joins:
        so = {
            "always": True,
            "breaker": which in on,
            "far": which == reading.far,
            "other": hidden.closed.get(which, False) != (which == flipped),
            "bar": reading.circuit != str(which + 1),
        }
        if so[what]:
            net.wires.append((one, other))
        elif what == "far" and hidden.leaky:
            net.resistors.append((one, other, LEAK))
    there = [load for load in hidden.loads if load.fixed or reading.lamps in ("not said", "in")]
    net.resistors += [(one.one, one.other, one.cold if cold else one.ohms) for one in (*hidden.standing, *there)]
    return net


def measure(hidden: Hidden, reading: Reading) -> Reading:
    """The reading with what the meter shows.

    Args:
        reading: between which points, with which meter, in which state; its value is not looked at.

    >>> from .hidden import make_hidden
    >>> loop = make_hidden("switch loop", 7)
    >>> hot = next(id for id, role in loop.truth.items() if role == "line")
    >>> str(measure(loop, Reading(id="r1", kind="volts", of=hot, on=("1",), volts=0)).volts)
    '120'
    """
    if reading.lamps == "out" and any(load.fixed for load in hidden.loads):
        reading = reading.changed(lamps="cannot come out")
    found = _shown(hidden, reading)
    if reading.others == "as found":
        return found
    flipped = [_shown(hidden, reading, number) for number in hidden.closed]
    flipped.append(_shown(hidden, reading.changed(far=3 - reading.far)).changed(far=reading.far))
    same = all(_alike(found, one, hidden.voltage) for one in flipped)
    return found.changed(others="no change" if same else "change")


def _alike(one: Reading, other: Reading, voltage: int) -> bool:
    """Whether a person at the meter would say that nothing changed."""
    if one.volts is not None and other.volts is not None:
        return abs(one.volts - other.volts) < voltage * Fraction(1, 25)
    if one.ohms is None or other.ohms is None:
        return one.ohms == other.ohms and one.yes == other.yes
    return abs(one.ohms - other.ohms) < 1 + max(one.ohms, other.ohms) / 20


def _shown(hidden: Hidden, reading: Reading, flipped: int | None = None) -> Reading:
    """The reading with what the meter shows, with another switch flipped or all as found."""
    net = network(hidden, reading, flipped)
    if reading.kind == "continuity":
        ohms = min((net.resistance(reading.of, point) for point in _points(hidden, reading)), default=inf)
        return reading.changed(ohms=None if ohms > NOTHING else Fraction(round(ohms * 10), 10), yes=ohms <= NOTHING)
    if reading.kind == "tester":
        yes = any(abs(volts) > 30 for node, volts in net.voltages().items() if node[:1] == reading.of[:1])
        return reading.changed(yes=yes)
    volts = abs(_between(hidden, reading, net))
    return reading.changed(volts=Fraction(round(volts * 10), 10))


NOTHING = 1e7
"""From so much on a meter shows nothing [ohm]; common practice."""


def _points(hidden: Hidden, reading: Reading) -> list[str]:
    if reading.to in ("lamp center", "lamp shell"):
        terminal = reading.to.removeprefix("lamp ")
        nodes = {node for load in hidden.loads for node in (load.one, load.other)}
        return [node for node in nodes if node.startswith(terminal)]
    if reading.to in ("panel hot", "panel neutral"):
        number = int(reading.circuit or "1") - 1
        return [f"hot {number}" if reading.to == "panel hot" else f"panel neutral {number}"]
    if reading.to in ("next hot", "next neutral"):
        return [node for load in hidden.loads for node in (load.one, load.other) if node.startswith(reading.to)] or [
            reading.to
        ]
    return [_AT.get(reading.to, f"free {reading.of}" if reading.to == "free end" else reading.to)]


_AT = {"neutral": BAR, "lead": BAR}
"""The points a person brings: a neutral proven elsewhere, the ground of an extension lead."""


def _between(hidden: Hidden, reading: Reading, net: Network) -> float:
    """The voltage between the two points, with the meter and the coupling of the wires taken into account [V]."""
    before = net.voltages()
    if reading.to == "hot":
        lit = [f"hot {n}" for n in sorted(hidden.legs) if str(n + 1) in reading.on or EVERY in reading.on]
        other = lit[0] if lit else "ground"
    else:
        other = _AT.get(reading.to, reading.to)
    for id, ohms in hidden.ghosts.items():
        for beside, volts in before.items():
            if beside[:1] == id[:1] and beside != id and beside in hidden.ghosts and abs(volts) > 1:
                net.resistors.append((id, beside, ohms))
    net.resistors.append((reading.of, other, LOADED if reading.meter == "loaded" else HIGH))
    after = net.voltages()
    return after.get(reading.of, 0.0) - after.get(other, 0.0)
