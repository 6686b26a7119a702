"""Which loads a far switch or a companion is to change: those of what it stands in line with, or signals to."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import replace

from .network import Gear, Joined, Network, Node, wired


def with_controls(network: Network) -> Network:
    """The network with every place of control knowing its loads.

    A device names its loads. A three-way, a four-way, a switch in front of an input and a companion say nothing
    themselves: theirs are the loads of the device their wires lead to.
    """
    base = wired(network)
    ends = {base.find(node) for source in network.sources for node in (source.hot, source.neutral)}
    ends.add(base.find(network.ground))
    far = [gear for gear in network.gear if not gear.all_controls]
    together = Joined()
    for gear in far:
        roots = [root for node in gear.nodes if (root := base.find(node)) not in ends]
        for root in roots:
            together.join(f"gear {gear.id}", root)
    made = {gear.id: _led_to(gear, network, base, ends, together) for gear in far}
    return replace(
        network,
        gear=tuple(replace(gear, controls=made[gear.id]) if made.get(gear.id) else gear for gear in network.gear),
    )


def _led_to(
    gear: Gear, network: Network, base: Joined, ends: set[Node], together: Joined
) -> tuple[tuple[str, ...], ...]:
    here = together.find(f"gear {gear.id}")

    def reached(node: Node | None) -> bool:
        return node is not None and base.find(node) not in ends and together.find(base.find(node)) == here

    def outputs() -> Iterator[tuple[str, ...]]:
        for other in network.gear:
            for one in other.inputs:
                if reached(one.node) and one.output < len(other.controls):
                    yield other.controls[one.output]

    if found := dict.fromkeys(outputs()):
        return (tuple(dict.fromkeys(load for of_output in found for load in of_output)),)
    beside = [
        other
        for other in network.gear
        if other.kind in ("three-way", "four-way") and other.all_controls and any(reached(node) for node in other.nodes)
    ]
    loads = tuple(dict.fromkeys(load for other in beside for load in sorted(other.all_controls)))
    if not loads:  # a plain switch that says nothing of its lamp: the one on its wire
        loads = tuple(
            load.id for load in network.loads if not load.always and (reached(load.one) or reached(load.other))
        )
    return (loads,) if loads else ()


def idle_gear(network: Network, senders: Collection[str]) -> Iterator[Gear]:
    """Yield everything that switches no load, works nothing over the network, and is in front of nothing that does.

    Args:
        network: with its controls.
        senders: what works another device over the network, by its id.
    """
    base = wired(network)
    ends = {base.find(node) for source in network.sources for node in (source.hot, source.neutral)}
    told = {base.find(one.node) for gear in network.gear if gear.id in senders for one in gear.inputs} - ends
    for gear in network.gear:
        tells = gear.id in senders or any(base.find(node) in told for node in gear.nodes)
        if not gear.all_controls and not tells:
            yield gear
