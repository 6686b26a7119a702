"""The checks that tell causes apart: each one order, the answers to it, how long it takes, and its risk."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

CheckCode = Literal[
    "breaker", "reset", "others", "others too", "bulb", "plain bulb", "label", "full", "trim", "where", "near",
    "smart others", "listed", "upstream", "palm", "watts", "unload", "load off", "damp", "live", "ohms", "tug", "nick",
    "compare", "apart",
]  # fmt: skip
Answer = str
Risk = Literal["none", "live", "inside"]
"""Nothing is opened; a meter in an open box with the power on; hands in a box that is verified dead."""


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of check."""

    answers: Mapping[Answer, str]
    """Its answers, and the words on their buttons; of `tug` and `nick` more: a splice, two that touch."""
    usual: Answer
    """The answer where nothing is wrong that it can show."""
    minutes: int
    """How long it takes; common practice."""
    risk: Risk = "none"


SKIPPED: Answer = "skip"
"""The answer of somebody who can't do a check: it rules nothing out, and the check isn't asked again."""
YES_NO: Mapping[Answer, str] = {"yes": "Yes", "no": "No"}
STOPS: Mapping[Answer, str] = {"stops": "It stops", "same": "No change"}
KINDS: Mapping[CheckCode, Kind] = {
    "breaker": Kind({"on": "It’s on", "tripped": "It’s off or tripped"}, "on", 1),
    "reset": Kind({"holds": "It holds", "trips": "It trips again"}, "holds", 1),
    "others": Kind({"all": "All of them come on", "some": "Some don’t come on", "none": "None comes on"}, "all", 1),
    "others too": Kind(YES_NO, "no", 2),
    "bulb": Kind({"works": "It comes on", "same": "No change"}, "same", 3),
    "plain bulb": Kind(STOPS, "same", 4),
    "label": Kind(YES_NO, "yes", 2),
    "full": Kind(STOPS, "same", 1),
    "trim": Kind(STOPS, "same", 3),
    "where": Kind({"switch": "At the switch", "bulb": "At the bulb", "fan": "At the fan"}, "switch", 1),
    "near": Kind({"answers": "It answers", "same": "No change"}, "same", 3),
    "smart others": Kind({"all": "They answer", "none": "They don’t either"}, "all", 1),
    "listed": Kind(YES_NO, "yes", 2),
    "upstream": Kind(YES_NO, "no", 3),
    "palm": Kind({"bearable": "I can keep it there", "hot": "It’s too hot"}, "bearable", 1),
    "watts": Kind(YES_NO, "no", 3),
    "unload": Kind({"holds": "It holds", "trips": "It trips again"}, "trips", 20),
    "load off": Kind({"holds": "It holds", "trips": "It trips again"}, "trips", 15),
    "damp": Kind(YES_NO, "no", 3),
    "live": Kind({"full": "Full voltage", "nothing": "Under 2 V"}, "full", 5, "live"),
    "ohms": Kind({"open": "More, or no reading", "low": "Under 2 Ω"}, "open", 12, "inside"),
    "tug": Kind({"tight": "Every wire holds"}, "tight", 10, "inside"),
    "nick": Kind({"nothing": "I found nothing"}, "nothing", 10, "inside"),
    "compare": Kind({"same": "It’s as drawn", "different": "It’s different"}, "same", 10, "inside"),
    "apart": Kind({"holds": "It holds", "trips": "It trips again"}, "holds", 15, "inside"),
}
"""How each kind of check is answered."""


RISK: Mapping[Risk, int] = {"none": 0, "live": 4, "inside": 2}
"""How much longer a safer check may take before one of this risk comes first [min]; common practice."""


@dataclass(frozen=True, slots=True)
class Check:
    """A check of one kind at one place."""

    code: CheckCode
    of: str = ""
    """A circuit, a load, a point to measure at, two splices, a box: what the kind is about."""
    state: str = ""
    """Of a reading: which of the usual states."""

    @property
    def key(self) -> str:
        """How an address names it."""
        return "|".join((self.code, self.of, self.state))

    @property
    def kind(self) -> Kind:
        """How it is answered."""
        return KINDS[self.code]

    @property
    def cost(self) -> int:
        """Its minutes, and its risk as minutes more."""
        return self.kind.minutes + RISK[self.kind.risk]


def check_named(key: str) -> Check | None:
    """Return the check an address names; None where it names none.

    >>> check_named("breaker|5|").kind.minutes
    1
    """
    parts = key.split("|")
    if len(parts) != 3:
        return None
    code = next((one for one in KINDS if one == parts[0]), None)
    return Check(code, parts[1], parts[2]) if code else None
