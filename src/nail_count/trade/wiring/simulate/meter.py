"""The simulated meter and tester: what they show at a hidden box, in every state of breakers, lamps and far switch."""

from __future__ import annotations

from fractions import Fraction

from ...model.conductor import Reading
from .hidden import Hidden
from .network import Network

LOADED = 3e3
"""What a loaded meter is [ohm]; common practice."""
HIGH = 1e7
"""What a high-impedance meter is [ohm]; common practice."""
BEEPS_BELOW = 50.0
"""Below so much a meter says continuity [ohm]; common practice."""
LEAK = 4.7e4
"""An electronic switch that is off [ohm]; common practice."""


def network(hidden: Hidden, reading: Reading) -> Network:
    """The box and what lies beyond it as wires and resistors, in the state a reading is taken in."""
    on = {number for number in hidden.legs if str(number + 1) in reading.on}
    net = Network(fixed={"ground": 0.0, "neutral": 0.0})
    for number in on:
        net.fixed[f"source {number}"] = float(hidden.voltage * hidden.legs[number])
    net.wires.append(("neutral", "ground"))  # bonded in the panel
    for one, other, (what, which) in hidden.joins:
        closed = what == "always" or (what == "breaker" and which in on) or (what == "far" and which == reading.far)
        if closed:
            net.wires.append((one, other))
        elif what == "far" and hidden.leaky:
            net.resistors.append((one, other, LEAK))
    net.resistors += hidden.standing
    if reading.lamps_in:
        net.resistors += hidden.loads
    return net


def measure(hidden: Hidden, reading: Reading) -> Reading:
    """The reading with what the meter shows.

    Args:
        hidden: the box.
        reading: between which points, with which meter, in which state; its value is not looked at.

    >>> from .hidden import make_hidden
    >>> loop = make_hidden("switch loop", 7)
    >>> hot = next(id for id, role in loop.truth.items() if role == "line")
    >>> str(measure(loop, Reading(id="r1", kind="volts", of=hot, on=("1",), volts=0)).volts)
    '120'
    """
    net = network(hidden, reading)
    if reading.kind == "continuity":
        points = _points(hidden, reading)
        yes = any(net.resistance(reading.of, point) < BEEPS_BELOW for point in points)
        return reading.changed(yes=yes)
    if reading.kind == "tester":
        yes = any(abs(volts) > 30 for node, volts in net.voltages().items() if node[:1] == reading.of[:1])
        return reading.changed(yes=yes)
    volts = abs(_shown(hidden, reading, net))
    return reading.changed(volts=Fraction(round(volts * 10), 10))


def _points(hidden: Hidden, reading: Reading) -> list[str]:
    if reading.to in ("lamp center", "lamp shell"):
        terminal = reading.to.removeprefix("lamp ")
        nodes = {node for load in hidden.loads for node in load[:2]}
        return [node for node in nodes if node.startswith(terminal)]
    return [reading.to]


def _shown(hidden: Hidden, reading: Reading, net: Network) -> float:
    """The voltage between the two points, with the meter and the coupling of the wires taken into account [V]."""
    before = net.voltages()
    if reading.to == "hot":
        lit = [f"hot {number}" for number in sorted(hidden.legs) if str(number + 1) in reading.on]
        other = lit[0] if lit else "ground"
    else:
        other = reading.to
    for id, ohms in hidden.ghosts.items():
        for beside, volts in before.items():
            if beside[:1] == id[:1] and beside != id and beside in hidden.ghosts and abs(volts) > 1:
                net.resistors.append((id, beside, ohms))
    net.resistors.append((reading.of, other, LOADED if reading.meter == "loaded" else HIGH))
    after = net.voltages()
    return after.get(reading.of, 0.0) - after.get(other, 0.0)
