"""Hook-ups with ends moved, splices made one and parted at random, held against networkx and scipy.

Set NAIL_COUNT_FUZZ to a number to try that many times as many: `make fuzz`.
"""

from __future__ import annotations

import os
from itertools import islice
from random import Random

from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Job
from nail_count.trade.model.splice import Splice
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.network import InState, Network, NetworkState, thrown
from nail_count.trade.wiring.hookup.proof import prove
from tests.trade.wiring.hookup.outside import pieces, shorted, states, voltages
from tests.trade.wiring.hookup.schemes import PROVEN
from tests.trade.wiring.hookup.test_propose import hooked_up

REWIRED = 150 * int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
MOST = 64
"""States looked at of each."""


def moved(box: Box, random: Random) -> Box:
    """A box with one end elsewhere, two ends exchanged, two splices made one, or one parted."""
    splices = list(box.splices)
    one, other = random.sample(range(len(splices)), 2)
    alike = [n for n, splice in enumerate(splices) if splice.name == splices[one].name]
    if len(alike) > 1 and random.random() < 0.5:  # two travelers, two switched wires: such a change may still work
        one, other = random.sample(alike, 2)
    a, b = list(splices[one].ends), list(splices[other].ends)
    act = random.choice(("move", "exchange", "join", "part"))
    if act == "move":
        b.append(a.pop(random.randrange(len(a))))
    elif act == "exchange":
        i, j = random.randrange(len(a)), random.randrange(len(b))
        a[i], b[j] = b[j], a[i]
    elif act == "join":
        a, b = [*a, *b], []
    else:
        splices.append(Splice(id=f"n{random.randrange(10**6)}", ends=(a.pop(),)))
    splices[one], splices[other] = splices[one].changed(ends=tuple(a)), splices[other].changed(ends=tuple(b))
    return box.changed(splices=tuple(splice for splice in splices if splice.ends))


def rewired(house: Job, random: Random) -> Job:
    for _ in range(random.choice((1, 1, 2, 3))):
        number = random.choice([n for n, box in enumerate(house.boxes) if len(box.splices) > 1])
        boxes = list(house.boxes)
        boxes[number] = moved(boxes[number], random)
        house = house.changed(boxes=tuple(boxes))
    return house


def wrong_in(network: Network) -> list[str]:
    """What the proof says of a network and other people's libraries do not."""
    proof = prove(network)
    wrong = []
    for state in islice(states(network), MOST):
        now = InState(network, state)
        if shorted(network, state):
            wrong += ["a short is proven"] if proof.holds else []
            continue
        hot = {source.hot: source.circuit for source in network.sources if source.circuit in state.on}
        for piece in pieces(network, state):
            circuits = {hot[node] for node in piece & hot.keys()}
            wrong += [f"{node} is hot of {circuits}" for node in piece if set(now.hots(node)) != circuits]
        wrong += _of_loads(network, state, now, proof.holds)
    return wrong


def _of_loads(network: Network, state: NetworkState, now: InState, holds: bool) -> list[str]:
    volts = voltages(network, state)
    lit = {load.id: abs(volts[load.one] - volts[load.other]) > 100 for load in network.loads}
    # Of loads in line, each has a share; what burns by the rule has all of it.
    wrong = [f"{load.id} burns on {state}" for load in network.loads if now.burns(load) and not lit[load.id]]
    if not holds or not all(source.circuit in state.on for source in network.sources):
        return wrong
    for gear in network.gear:
        for output, mine in enumerate(gear.controls):
            after = voltages(network, thrown(network, state, gear, output)) if mine else volts
            changed = {
                load.id for load in network.loads if lit[load.id] != (abs(after[load.one] - after[load.other]) > 100)
            }
            wrong += [f"{gear.id} changes {changed}, not {mine}"] if changed != set(mine) else []
    return wrong


def test_what_is_proven_of_rewired_houses_holds_by_other_peoples_libraries_too() -> None:
    random, holding = Random(3), 0
    houses = [hooked_up(house)[0] for house in PROVEN.values()]
    for number in range(REWIRED):
        network = graph(rewired(random.choice(houses), random)).network
        assert wrong_in(network) == [], number
        holding += prove(network).holds
    print(f"{REWIRED} rewirings, {holding} still proven")
    assert 0 < holding < REWIRED, "neither none nor all of them hold"
