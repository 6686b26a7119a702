"""What should burn when a place is thrown, and when the hub says so: read off the graph of the proof, never guessed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ...assume.wired import look_as_usual
from ...model.answer import State as Passes
from ...model.box import Equipment
from ...model.datasheet import Datasheet
from ...model.job import Job
from ...wiring.hookup.graph import Graph
from ...wiring.hookup.look import HookUp
from ...wiring.hookup.network import Gear, GearKind, InState, NetworkState, thrown, wired
from ...wiring.hookup.over_network import called, device_at
from ...wiring.hookup.readings import usual_states

OF_HUB: frozenset[GearKind] = frozenset(("switch", "powered", "two-wire", "module"))
"""What a hub can have on or off; a three-way and a companion are neither."""
FROM = "breakers on, everything off"
"""The state every trial begins in."""


@dataclass(frozen=True, slots=True)
class Trial:
    """One throw, and what should burn after it."""

    gear: str
    """The place that is thrown: front-door/d1."""
    output: int
    """Which output of it, from 0."""
    do: str
    """The act."""
    burns: tuple[str, ...]
    """The loads of the device that should burn, by name."""
    dark: tuple[str, ...]
    """Those that should not."""

    @property
    def says(self) -> str:
        """What should be seen, in words."""
        on, off = ", ".join(self.burns), ", ".join(self.dark)
        return f"{on + ' on' if on else 'Nothing of it on'}{f'; {off} off' if off else ''}"


@dataclass(frozen=True, slots=True)
class ExpectedTrials:
    """What a device must do."""

    by_hand: tuple[Trial, ...]
    """At every place that changes its loads."""
    by_hub: tuple[Trial, ...]
    """From the hub, output by output."""
    open: str
    """Why nothing is expected; "" where it is."""


def expected(seen: HookUp, device: str) -> ExpectedTrials:
    """What a device must do at each place and from its hub, begun with everything off.

    Args:
        seen: the hook-up of its box; where that is not proven, nothing is expected.
        device: the box and the device: front-door/d1.
    """
    if not seen.state.passes:
        so = "fails" if seen.state is Passes.FAILS else "is not proven yet"
        return ExpectedTrials((), (), f"the hook-up {so}, so what should burn is not known")
    network = seen.seen.network
    own = next((gear for gear in network.gear if gear.id == device), None)
    if own is None or not own.all_controls:
        return ExpectedTrials((), (), "it has no load in the plan")
    begun = usual_states(seen.seen)[FROM]
    places = [gear for gear in network.gear if gear.all_controls & own.all_controls]
    by_hand = tuple(trial for gear in places for trial in _trials(seen.seen, begun, gear, own))
    itself = any(lit for _, lit in burning(seen, device, on=True))  # a switch in front of an input is of no hub
    by_hub = tuple(_trials(seen.seen, begun, own, own, by_hub=True)) if itself else ()
    return ExpectedTrials(by_hand, by_hub, "")


def over_network(job: Job, item: Equipment, sheet: Datasheet) -> ExpectedTrials:
    """Return what must burn when a device works another over the network: what that one lights when the hub has it on.

    Args:
        job: with every box and run on the circuits of both.
        item: the device that is worked by hand; `commands` names the other.
    """
    box, target = device_at(job, item.commands)
    if box is None or target is None:
        return ExpectedTrials((), (), "it works a device that isn’t here any more")
    must = expected(look_as_usual(job, box.id)[0], item.commands)
    if must.open or not must.by_hub:
        return ExpectedTrials((), (), must.open or "what it works has no load")
    do = f"{item.name or sheet.name}, by hand: it works {called(job, target)}, {box.name}"
    return ExpectedTrials(tuple(replace(trial, do=do) for trial in must.by_hub), (), "")


def burning(seen: HookUp, device: str, on: bool) -> tuple[tuple[str, bool], ...]:
    """The loads of a device, and whether each is lit once the hub has it on, or off; () where that is not proven.

    Args:
        device: the box and the device: front-door/d1.
        on: what the hub says of all its outputs.
    """
    network = seen.seen.network
    own = next((gear for gear in network.gear if gear.id == device), None)
    if own is None or own.kind not in OF_HUB or not seen.state.passes:
        return ()
    begun = usual_states(seen.seen)[FROM]
    state = begun.changed(own.id, len(own.positions) - 1) if on else begun
    now = InState(network, state)
    return tuple((seen.seen.load_names[one.id], now.burns(one)) for one in network.loads if one.id in own.all_controls)


def _trials(seen: Graph, begun: NetworkState, gear: Gear, own: Gear, by_hub: bool = False) -> Iterator[Trial]:
    base = wired(seen.network)
    several = len(gear.positions) > 2
    for output in range(len(gear.controls) if several else 1):
        after = InState(seen.network, thrown(seen.network, begun, gear, output, base), base)
        mine = [load for load in seen.network.loads if load.id in own.all_controls]
        named = {load.id: seen.load_names[load.id] for load in mine}
        which = f", output {output + 1}" if several else ""
        name = seen.gear_names.get(gear.id, gear.id)
        do = f"On from the hub: {name}{which}" if by_hub else f"{name}{which}, by hand"
        lit = {load.id: after.burns(load) for load in mine}  # two lamps may go by one name
        yield Trial(
            gear.id,
            output,
            do,
            tuple(named[id] for id, burns in lit.items() if burns),
            tuple(named[id] for id, burns in lit.items() if not burns),
        )
