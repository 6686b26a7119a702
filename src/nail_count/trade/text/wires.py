"""Wires and splices in the words the trade has for them."""

from __future__ import annotations

from collections.abc import Mapping

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


def name_of_splice(name: str, without: str = "splice") -> str:
    """Return what a splice is called.

    Args:
        name: its name, proposed or given by a person.
        without: what to call one without a name.

    >>> name_of_splice("switched"), name_of_splice("")
    ('switch leg', 'splice')
    """
    return SPLICE_WORDS.get(name, name) or without
