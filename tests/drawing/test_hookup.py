"""A hook-up drawn: what works over the network stands at both of its ends."""

from __future__ import annotations

from nail_count.drawing.ink import Words
from nail_count.drawing.of_paper import drawing_of
from nail_count.trade.plan.papers.paper import Drawn
from tests.trade.wiring.hookup.schemes import PROVEN


def test_what_works_over_the_network_stands_at_both_ends() -> None:
    """The one that works another names it, and is named by it; two that work nothing have no such line."""
    house = PROVEN["a smart switch that works another over the network"]
    for key, words in (("b", "works smart, a"), ("a", "worked by smart, b")):
        drawn = drawing_of(house, Drawn("hook-up", key))
        assert f"smart {words} over the network." in drawn.facts
        assert any(mark.text[:8] == words[:8] for mark in drawn.marks if isinstance(mark, Words))
    plain = drawing_of(PROVEN["feed at the switch, smart"], Drawn("hook-up", "a"))
    assert "network" not in plain.facts
    assert plain.height < drawing_of(house, Drawn("hook-up", "a")).height
