"""Causes that no wiring shows: bulbs, minimum load, trim, supply, radio. Source: common practice."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from .causes import Cause
from .checks import Answer, Check, CheckCode
from .symptoms import Symptom

Trait = Literal["light", "fan", "dims", "electronic", "two-wire", "plain", "smart", "guarded"]
"""A trait of a load and its device: a light; a fan; it dims; it is electronic; electronic without a neutral; it is
not electronic; it has a radio; a GFCI or AFCI guards its circuit."""


@dataclass(frozen=True, slots=True)
class _Usual:
    code: str
    symptoms: tuple[Symptom, ...]
    needs: frozenset[Trait]
    words: str
    do: str
    shows: Mapping[CheckCode, Answer] = field(hash=False)
    weight: float = 2.0
    for_help: bool = False


def _of(*traits: Trait) -> frozenset[Trait]:
    return frozenset(traits)


_USUAL: tuple[_Usual, ...] = (
    _Usual(
        "bulb-dead", ("dead",), _of("light"), "The bulb or the fixture is dead.", "Replace it.", {"bulb": "works"}, 4,
    ),
    _Usual(
        "not-dimmable", ("flickers", "hums"), _of("light", "dims"), "The bulbs aren’t made for dimming.",
        "Use bulbs that say “dimmable”, of one kind.", {"label": "no", "plain bulb": "stops", "where": "bulb"}, 3,
    ),
    _Usual(
        "mismatch", ("hums",), _of("light", "dims"), "The bulbs don’t get along with this dimmer.",
        "Use bulbs from the dimmer’s list, or a dimmer of the other kind.", {"plain bulb": "stops", "where": "bulb"},
    ),
    _Usual(
        "too-little", ("flickers", "glows"), _of("light", "electronic"), "The bulbs are under the minimum load.",
        "Add a bulb, or a load resistor the maker lists, or use a device with a neutral.",
        {"watts": "yes", "plain bulb": "stops"}, 3,
    ),
    _Usual(
        "trim", ("flickers",), _of("light", "dims"), "The low-end trim is too low for these bulbs.",
        "Raise the low-end trim until every bulb is steady at the lowest setting.",
        {"full": "stops", "trim": "stops", "plain bulb": "stops"}, 3,
    ),
    _Usual(
        "sag", ("flickers",), _of(), "The supply of the house sags.",
        "Call the utility. A loose service neutral can put too much voltage on some circuits.", {"others too": "yes"},
        1, True,
    ),
    _Usual(
        "leak", ("glows",), _of("light", "two-wire"), "A device without a neutral lets a little current pass.",
        "Use a bypass the maker lists, other bulbs, or a device with a neutral.", {"plain bulb": "stops"}, 3,
    ),
    _Usual(
        "coupled", ("glows",), _of("light", "plain"), "A live wire beside the switch leg couples into it.",
        "Use other bulbs or a bypass at the fixture.", {"plain bulb": "stops"}, 1,
    ),
    _Usual(
        "dimmer-hum", ("hums",), _of("dims"), "The dimmer itself hums under this load.",
        "Take bulbs off it, or use a dimmer with a higher rating.", {"plain bulb": "same"},
    ),
    _Usual(
        "fan-on-dimmer", ("hums",), _of("fan", "dims"), "A dimmer drives the fan.",
        "Use a fan control. A light dimmer can overheat a fan’s motor.", {"where": "fan"}, 3,
    ),
    _Usual(
        "as-usual", ("warm",), _of("electronic"), "A dimmer gives off some heat. This one is fine.",
        "Leave it. Check it again with all lights on.", {}, 3,
    ),
    _Usual(
        "over", ("warm",), _of(), "The device controls more than it may carry.",
        "Take bulbs off it, or use a device with a higher rating.", {"palm": "hot", "watts": "yes"},
    ),
    _Usual(
        "overloaded", ("trips later",), _of(), "The circuit carries too much.",
        "Move some of the load to another circuit.", {"unload": "holds"}, 3,
    ),
    _Usual(
        "breaker-worn", ("trips later", "trips at once"), _of(), "The breaker is worn or loose in the panel.",
        "Have the breaker checked and replaced at the panel.", {"apart": "trips"}, 1, True,
    ),
    _Usual(
        "load-faulty", ("trips later", "guard trips"), _of(), "The fixture or the fan is faulty.",
        "Replace it.", {"load off": "holds", "unload": "holds"},
    ),
    _Usual(
        "damp", ("guard trips",), _of("guarded"), "Water gets into a box or a fixture.",
        "Dry it, seal it, and replace corroded parts.", {"damp": "yes"},
    ),
    _Usual(
        "guard-worn", ("guard trips",), _of("guarded"), "The GFCI or AFCI itself is worn.",
        "Replace it with the same kind and rating.", {"apart": "trips"}, 1,
    ),
    _Usual(
        "far", ("off network", "by hand only"), _of("smart"), "The signal is too weak at this box.",
        "Move the hub nearer, add a repeater, or use a plate that isn’t metal.", {"near": "answers"}, 3,
    ),
    _Usual(
        "hub-down", ("off network", "by hand only"), _of("smart"), "The hub or the Wi-Fi is down.",
        "Restart the hub and the router. Check that their names and passwords are the same as before.",
        {"smart others": "none"}, 3,
    ),
    _Usual(
        "not-joined", ("by hand only",), _of("smart"), "The device isn’t in the hub.",
        "Set it up again: “Set up” shows how.", {"listed": "no"},
    ),
    _Usual(
        "cut-off", ("off network",), _of("smart"), "Another switch takes the power from the device.",
        "Take that switch out of the way: splice through it, or put a guard on it.", {"upstream": "yes"},
    ),
    _Usual(
        "device-fails", ("off network", "by hand only"), _of("smart"), "The device is faulty.",
        "Reset it as its sheet says. If that doesn’t help, replace it.", {}, 1,
    ),
)  # fmt: skip


def usual_causes(symptom: Symptom, traits: frozenset[Trait], load: str) -> Iterator[Cause]:
    """Yield the causes outside the wiring that give a symptom.

    Args:
        symptom: as people see it.
        traits: of the load and its device.
        load: what doesn't work.
    """
    for one in _USUAL:
        if symptom in one.symptoms and one.needs <= traits:
            shows = {Check(code, load): (answer,) for code, answer in one.shows.items()}
            yield Cause(one.code, one.words, one.do, one.weight, shows, for_help=one.for_help)
