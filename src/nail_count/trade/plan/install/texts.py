"""The words of the steps that are no operation on a wire: breakers, tests, what a breaker feeds."""

from __future__ import annotations

from collections.abc import Mapping

from ...model.conductor import Conductor
from ...model.panel import Circuit
from ...model.survey import Uncovered
from ...text.format import and_list

TO_TEST = ("Look at the old wiring, then do the live test. A different answer changes the plan.",)
"""How to check a plan that rests on usual wiring."""
TO_CHECK = (
    "Look at the old wiring: is it as the plan has it?",
    "Take the wires off the switches, each in its own connector, and turn the breaker on.",
    "Use a loaded tester. To ground, a hot shows full voltage; a switch leg, a traveler and a neutral show nothing.",
    "From the hot to the neutral beside it you read full voltage.",
    "Turn the breaker off again, and verify dead.",
    "If all of it was so, tap “I tested all of it” on Hook-up. If not, record the old wiring there.",
)
"""The same, where no live test tells the wires."""
TAG = "A tag on the panel door, a lock where one fits, the key in your pocket."
VERIFY: Mapping[Uncovered, tuple[str, ...]] = {
    "plate on": (
        "Check with the plate on",
        "Work every switch in this box, and everything it controls stays off.",
        "This proves nothing dead yet. Take the plate off as if the box were live.",
    ),
    "plate off": (
        "Verify dead with the plate off",
        "Try the tester on a live point you know, first and again after.",
        "Test each terminal you can reach to ground and to a neutral. Don't pull anything out yet.",
    ),
    "device out": (
        "Verify dead with the device out",
        "Hold it by its ears, pull it out, and keep your fingers off the wires.",
        "Try the tester on a live point you know, first and again after.",
        "Test every wire to every other wire and to ground, those of a second circuit too.",
    ),
}
"""What can be tested at each stage: probes reach no wire while the plate is on."""


def feeds(circuit: Circuit) -> str:
    """Return what a breaker feeds, as a sentence."""
    said = circuit.feeds or circuit.label
    feeds = f"It feeds: {said}." if said else "What it feeds isn't known."
    return f"{feeds} An inverter supplies it, with the mains off, too." if circuit.supply == "inverter" else feeds


def is_unsound(conductor: Conductor) -> bool:
    """Return whether a wire was seen nicked or brittle."""
    return conductor.condition in ("nicked", "brittle")


def sentence(text: str) -> str:
    """Return a text as a sentence of its own."""
    return f"{text[:1].upper()}{text[1:]}."


def turn_on(circuits: tuple[str, ...]) -> str:
    """Return the order to turn these breakers on."""
    if not circuits:
        return "Turn on the main"
    return f"Turn on {'breaker' if len(circuits) == 1 else 'breakers'} {and_list(circuits)}"
