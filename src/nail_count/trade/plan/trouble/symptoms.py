"""What people see when something doesn't work."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, get_args

Symptom = Literal[
    "dead", "stays on", "one place", "folded in", "neighbors dead", "trips at once", "trips later", "other trips",
    "guard trips", "flickers", "glows", "hums", "warm", "off network", "by hand only",
]  # fmt: skip
"""Everything a person may see, in the order a page lists it."""
SYMPTOMS: tuple[Symptom, ...] = get_args(Symptom)

SEEN: Mapping[Symptom, str] = {
    "dead": "It never comes on",
    "stays on": "It won’t turn off",
    "one place": "It works from one switch only",
    "folded in": "It worked until it was folded in",
    "neighbors dead": "Other lights or receptacles went dead",
    "trips at once": "The breaker trips at once",
    "trips later": "The breaker trips after a while",
    "other trips": "Another breaker trips too",
    "guard trips": "A GFCI or AFCI trips",
    "flickers": "It flickers",
    "glows": "It glows when it’s off",
    "hums": "It hums or buzzes",
    "warm": "The plate is warm",
    "off network": "It drops off the network",
    "by hand only": "It works by hand only",
}
"""What a person picks."""
STOP_FIRST: Mapping[Symptom, str] = {
    "dead": "",
    "stays on": "",
    "one place": "",
    "folded in": "",
    "neighbors dead": "",
    "trips at once": "Don’t reset the breaker again before a check here tells you to.",
    "trips later": "",
    "other trips": "Two circuits may meet in this box. Turn off both breakers before you open it.",
    "guard trips": "Don’t take out a GFCI or AFCI to make it hold. It may be right.",
    "flickers": "If you hear crackling or smell burning, turn off the breaker now and leave it off.",
    "glows": "",
    "hums": "",
    "warm": "If you smell burning, or the plate is too hot to touch, turn off the breaker now and leave it off.",
    "off network": "",
    "by hand only": "",
}
"""What comes before any check; "" for nothing."""
