"""Boxes and channels at random, held against a second count written from the standard's text and the trade's rule.

It shares nothing with the code but the job it is asked about. Its figures are NFPA 70 (NEC) 2023, 314.16(B), from
memory of the publication; that a sheet's figure goes by how many sides are broken off is common practice. Set
NAIL_COUNT_FUZZ to a number to try that many times as many: `make fuzz`.
"""

from __future__ import annotations

import os
from fractions import Fraction as F
from random import Random
from typing import Any

from nail_count.trade.model.answer import State
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.volume.nec import fill
from tests.support import DIMMER, SHEETS, SWITCH, flat

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
INCHES = {"18": "1.5", "16": "1.75", "14": "2", "12": "2.25", "10": "2.5", "8": "3", "6": "5"}
"""What a conductor takes [in³], Table 314.16(B)(1)."""
Said = dict[str, Any]


def any_said(random: Random) -> Said:
    """A box as a job file says it."""
    gangs = random.randint(1, 4)
    cables = []
    for number in range(random.randint(0, 7)):
        cable: Said = {"id": "ABCDEFG"[number], "gauge": random.choice(list(INCHES)), "insulated": random.randint(0, 4)}
        cable |= {
            "grounds": random.choice((0, 1, 1, 1, 2)),
            "run": random.choice(("ends", "ends", "through", "looped")),
        }
        if random.random() < 0.2:
            cable["ground_gauge"] = random.choice(list(INCHES))
        if cable["insulated"] + cable["grounds"]:
            cables.append(cable)
    devices = []
    for gang in range(1, gangs + 1):
        if random.random() < 0.7:
            devices.append(
                {"id": f"d{gang}", "gang": gang, "sheet": random.choice(("switch", "dimmer", "blank", "remote"))}
            )
            if random.random() < 0.5:
                devices[-1]["gauge"] = random.choice(list(INCHES))
    enclosure = {
        "volume": f"{random.randint(8, 90)} in3", "gangs": gangs, "clamps": random.random() < 0.4,
        "fittings": random.sample(("stud", "hickey"), random.choice((0, 0, 1, 2))),
    }  # fmt: skip
    return {"id": "b", "name": "B", "room": "R", "cables": cables, "devices": devices, "enclosure": enclosure}


def counted(said: Said) -> F | None:
    """The cubic inches a box must have, 314.16(B)(1) to (5); None where a yoke's conductor is not known."""
    total = F(0)
    entering: list[tuple[int, str]] = []
    grounds: list[str] = []
    for cable in said["cables"]:
        passes = 2 if cable["run"] == "looped" else 1
        total += cable["insulated"] * passes * F(INCHES[cable["gauge"]])
        entering += [(int(cable["gauge"]), cable["gauge"])] if cable["insulated"] else []
        bare = cable.get("ground_gauge", cable["gauge"])
        grounds += [bare] * cable["grounds"]
        entering += [(int(bare), bare)] if cable["grounds"] else []
    largest = min(entering)[1] if entering else None
    if said["enclosure"]["clamps"] and largest:
        total += F(INCHES[largest])
    if largest:
        total += len(said["enclosure"]["fittings"]) * F(INCHES[largest])
    for device in said["devices"]:
        if device["sheet"] == "blank":  # a battery remote stands on a yoke too
            continue
        gauge = device.get("gauge") or largest
        if gauge is None:
            return None
        total += 2 * F(INCHES[gauge])
    if grounds:
        biggest = F(INCHES[min(grounds, key=int)])
        total += biggest + max(len(grounds) - 4, 0) * biggest / 4
    return total


def test_boxes_at_random_count_as_by_the_text() -> None:
    random, known = Random(5), 0
    for number in range(500 * LONGER):
        said = any_said(random)
        answer, expected = fill(flat(said), SHEETS, code="nec-2023"), counted(said)
        if expected is None or any(line.value is None for line in answer.lines):
            assert answer.state in (State.OPEN, State.FAILS), (number, said)
            continue
        known += 1
        assert answer.total == expected, (number, said)
        limit = F(said["enclosure"]["volume"].removesuffix(" in3"))
        assert (answer.state is State.FAILS) == (expected > limit), (number, said)
    print(f"{500 * LONGER} boxes, {known} counted")
    assert known > 250 * LONGER


WATTS = {"led": (140, 115, 90), "incandescent": (520, 430, 350)}
"""Of the dimmer: alone, at an end, between two."""
ANY = DIMMER.changed(channels=tuple(one.changed(minimum=None) for one in DIMMER.channels))


def test_channels_at_random_carry_what_their_place_leaves() -> None:
    """Sides broken off go by the neighbors; of two kinds each takes its share of its own figure."""
    random = Random(6)
    states: set[State] = set()
    for number in range(100 * LONGER):
        gangs = random.randint(1, 4)
        there = [random.choice(("dimmer", "switch", "")) for _ in range(gangs)]
        there[random.randrange(gangs)] = "dimmer"
        devices: list[Said] = []
        hangs: dict[int, list[tuple[str, int]]] = {}
        for gang, sheet in enumerate(there, 1):
            if not sheet:
                continue
            device: Said = {"id": f"d{gang}", "gang": gang, "sheet": sheet, "loads": []}
            if sheet == "dimmer":
                for kind in random.sample(list(WATTS), random.choice((1, 1, 2))):
                    each, count = random.randint(5, 60 if kind == "incandescent" else 20), random.randint(1, 9)
                    load = {
                        "id": f"l{gang}{kind[:3]}",
                        "kind": kind,
                        "quantity": count,
                        "each": f"{each} W",
                        "actual": True,
                    }
                    device["loads"].append(load)
                    hangs.setdefault(gang, []).append((kind, each * count))
            devices.append(device)
        made = flat({"id": "b", "name": "B", "room": "R", "enclosure": {"gangs": gangs}, "devices": devices})
        sheets = {
            "dimmer": DIMMER.changed(channels=tuple(one.changed(minimum=None) for one in DIMMER.channels)),
            "switch": SWITCH,
        }
        answers = {str(one.subject): one for one in check_box(made, sheets).ratings}
        for gang, loads in hangs.items():
            beside = sum(bool(there[at - 1]) for at in (gang - 1, gang + 1) if 1 <= at <= gangs)
            share = sum((F(watts, WATTS[kind][beside]) for kind, watts in loads), F(0))
            state = answers[f"d{gang}/1"].state
            assert (state is State.FAILS) == (share > 1), (number, gang, loads, beside)
            states.add(state)
    assert State.FAILS in states and State.HOLDS in states
