"""The orders of the checks, and what stands on the buttons of their answers."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ...text.format import and_list, say
from ..day.places import breakers_off
from .causes import Cause
from .checks import SKIPPED, Answer, Check, CheckCode
from .symptoms import Symptom
from .wiring_causes import Setting, splice_name


@dataclass(frozen=True, slots=True)
class Order:
    """What a person does for a check."""

    title: str
    lines: tuple[str, ...] = ()


def order_of(check: Check, at: Setting, symptom: Symptom) -> Order:
    """Return what a person does for a check; a check inside the box begins with the breaker.

    Args:
        check: the check.
        at: the box and the load.
        symptom: as people see it.
    """
    made = _ORDERS[check.code]
    order = made if isinstance(made, Order) else made(check, at, symptom)
    return order if check.kind.risk == "none" else Order(order.title, (_off(check, at), *order.lines))


def _off(check: Check, at: Setting) -> str:
    """The order before the box of a check is opened."""
    box = next((one for one in at.job.boxes if one.id == check.of), at.box)
    breakers = breakers_off(at.job, box)
    if not breakers:
        return "Turn off the main, lock it off, and verify dead. Its line side stays live."
    if len(breakers) == 1:
        return f"Turn off breaker {breakers[0]}, lock it off, and verify dead."
    return f"Turn off breakers {and_list(breakers)}, lock them off, and verify dead."


def _under_or_over(_: Check, __: Setting, symptom: Symptom) -> Order:
    if symptom == "warm":
        return Order("Add up the bulbs on it", ("Are they more than its label allows?",))
    return Order("Add up the bulbs on it", ("Are they less than the least load on its label?",))


def _live(check: Check, at: Setting, _: Symptom) -> Order:
    where = say(at.seen.names[check.of]) if check.of in at.seen.names else check.of
    return Order(
        f"Measure {where}",
        (
            "Pull the devices out and spread the wires so that no bare ends touch and your probes reach.",
            f"Stand clear. Unlock, and set {check.state}.",
            "Measure with a loaded tester, from there to the neutral of the circuit. Touch nothing but the probes.",
            "Turn it off again. If the tester shows anything between, skip this check.",
        ),
    )


def _ohms(check: Check, at: Setting, _: Symptom) -> Order:
    names = _two(check.of, at)
    return Order(
        f"Measure ohms between the {names[0]} and the {names[1]}",
        ("Switch everything on this circuit off, and take out the bulbs you can reach.",),
    )


def _two(ids: str, at: Setting) -> tuple[str, str]:
    known = {one.id: splice_name(at, one) for one in at.splices}
    first, _, second = ids.partition("+")
    return known.get(first, first), known.get(second, second)


def _box(check: Check, at: Setting) -> str:
    return at.seen.box_names.get(check.of, at.box.name)


_ORDERS: Mapping[CheckCode, Order | Callable[[Check, Setting, Symptom], Order]] = {
    "breaker": lambda check, _, __: Order(f"Look at breaker {check.of}", ("Leave the panel cover on.",)),
    "reset": Order("Reset the tripped breaker once", ("Turn it all the way off, then on.", "Don’t hold it on.")),
    "others": lambda check, _, __: Order(f"Try the other lights and receptacles on breaker {check.of}"),
    "others too": Order("Watch other lights in the house", ("Do some of them flicker at the same moment?",)),
    "bulb": Order("Try another bulb", ("Switch it off.", "Put in a bulb that works somewhere else.", "Switch it on.")),
    "plain bulb": Order("Try an incandescent bulb", ("Switch it off while you change the bulb.",)),
    "label": Order("Read the bulbs", ("Does every one of them say “dimmable”?",)),
    "full": Order("Turn it up to full brightness"),
    "trim": Order("Raise the low-end trim a few steps", ("The device’s sheet says how.",)),
    "where": Order("Listen", ("Where does the hum come from?",)),
    "near": Order("Bring the hub or the phone within 10 ft of the box", ("Work it from there.",)),
    "smart others": Order("Try your other smart devices"),
    "listed": Order("Look in the hub’s list", ("Is this device there?",)),
    "upstream": Order("Look for another switch", ("Does one turn the power to this device off?",)),
    "palm": Order("Hold the back of your hand to the plate", ("Keep it there for 10 seconds.",)),
    "watts": _under_or_over,
    "unload": Order(
        "Turn off half of the lights and appliances on the circuit",
        ("Reset the breaker once.", "Wait as long as it took to trip before."),
    ),
    "load off": Order(
        "Leave this light or fan switched off", ("Reset the breaker once.", "Wait as long as it took to trip before.")
    ),
    "damp": Order("Look for water", ("Is there water, rust or fog in the fixture or in a box?",)),
    "live": _live,
    "ohms": _ohms,
    "tug": lambda check, at, _: Order(
        f"Tug every wire in {_box(check, at)}", ("Pull the devices out.", "Which splice has a loose wire?")
    ),
    "nick": lambda check, at, _: Order(
        f"Look along every wire in {_box(check, at)}",
        (
            "Pull the devices out.",
            "Look for a nick, a bare end outside its connector, or a wire pinched behind a device.",
        ),
    ),
    "compare": lambda check, at, _: Order(
        f"Compare the wires on the devices in {_box(check, at)} with the drawing",
        ("Pull the devices out.", "Go by the marking at each screw."),
    ),
    "apart": lambda _, at, __: Order(
        f"Take the feed’s hot out of its splice in {at.box.name} and cap it",
        (
            "Close the box so that nobody can touch a wire.",
            "Reset the breaker once, and see whether it holds.",
            "Turn it off again, verify dead, and put the hot back in its splice.",
        ),
    ),
}
"""The orders of every check; a function where they name a place."""


def answers_of(check: Check, at: Setting, causes: Sequence[Cause]) -> tuple[tuple[Answer, str], ...]:
    """Return the answers to a check, each with the words on its button.

    Args:
        check: the check.
        at: the box and the load.
        causes: those left: of wires that touch only what one of them shows.
    """
    answers = dict(check.kind.answers)
    found = [one for cause in causes for one in cause.shows.get(check, ()) if check.code in ("tug", "nick")]
    if check.code == "tug":
        box = next((one for one in at.job.boxes if one.id == check.of), at.box)
        found += [one.id for one in box.splices if len(one.ends) > 1]
    for answer in found:
        answers.setdefault(answer, _found(check, at, answer))
    return (*answers.items(), (SKIPPED, "I can’t check that"))


def _found(check: Check, at: Setting, answer: Answer) -> str:
    if check.code == "nick":
        return "The {} and the {}".format(*_two(answer, at))
    box = next((one for one in at.job.boxes if one.id == check.of), at.box)
    splice = next((one for one in box.splices if one.id == answer), None)
    return f"The {splice_name(Setting(at.job, box, at.load), splice)}" if splice else answer
