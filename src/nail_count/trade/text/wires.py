"""Wires and splices in the words the trade has for them."""

from __future__ import annotations

from collections.abc import Mapping

from ..model.splice import Splice

SPLICE_WORDS: Mapping[str, str] = {"switched": "switch leg", "signal": "control wire", "cap": "capped"}
"""The words for a splice, where its name in the model isn't the trade's."""


CABLE_WORDS: Mapping[str, str] = {
    "feed": "feed",
    "to the lamp": "to the light",
    "onward": "on to the next box",
    "to the other switch": "to the other three-way",
    "loop from the lamp": "switch loop from the light",
}
"""The words for what a cable is, by what the model calls it."""


def name_of_splice(splice: Splice, without: str = "splice") -> str:
    """Return what a splice is called.

    Args:
        splice: proposed, or named by a person.
        without: what to call one without a name.

    >>> name_of_splice(Splice(id="s1", name="switched")), name_of_splice(Splice(id="s2"))
    ('switch leg', 'splice')
    """
    return SPLICE_WORDS.get(splice.name, splice.name) or without
