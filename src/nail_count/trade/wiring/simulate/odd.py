"""Hidden boxes wired as no list has them: every wire by itself leads to anything, with faults.

They are for tests: nothing may ever be proven of a wire that it is not.
"""

from __future__ import annotations

from collections.abc import Callable
from random import Random

from ...model.conductor import Role
from ...model.wire import Cable
from .hidden import ALWAYS, BAR, HEAVY, Hidden, HiddenLoad, When, earth, neutral

OddWay = tuple[Role | None, str, When]
NO_ROLE: Role | None = None
"""The truth of a wire that is none of what wires are told apart as: of such a one nothing is ever proven."""


class _Odd:
    """Wires a box at random."""

    def __init__(self, random: Random, voltage: int) -> None:
        self.random = random
        self.box = Hidden("odd", voltage)
        earth(self.box, random)
        self.box.grounded = random.random() < 0.7
        self.switches = self.lamps = self.fars = 0
        for number in range(random.choice((1, 1, 2, 3))):
            self._circuit(number)

    def _circuit(self, number: int) -> None:
        """A circuit with loads elsewhere on it; its neutral now and then lost, or behind a two-pole switch."""
        box, hot = self.box, f"hot {number}"
        box.legs[number] = self.random.choice((1, -1))
        box.joins.append((f"source {number}", hot, ("breaker", number)))
        box.joins.append((f"panel neutral {number}", BAR, ("bar", number)))
        fate = self.random.random()
        if fate < 0.7:
            box.joins.append((neutral(number), f"panel neutral {number}", ALWAYS))
        elif fate < 0.85:
            box.joins.append((neutral(number), f"panel neutral {number}", self.switch()))
        if box.grounded and self.random.random() < 0.1:
            box.joins.append(
                (neutral(number), "ground", ALWAYS)
            )  # joined to ground beyond the panel, as it must not be
        for _ in range(self.random.choice((0, 1, 1, 2))):
            ohms = self.random.uniform(15, 600)
            cold = self.random.choice((1.0, 0.5)) * ohms / 2
            if self.random.random() < 2 * HEAVY:
                cold = self.random.uniform(0.4, 2.5)
            box.standing.append(HiddenLoad(hot, neutral(number), ohms, cold))

    def switch(self) -> When:
        """Another switch of the house."""
        self.switches += 1
        self.box.closed[self.switches] = self.random.random() < 0.5
        return "other", self.switches

    def lamp(self, shell: str) -> str:
        """A lamp, a fan or a transformer whose other side is there; its live side."""
        self.lamps += 1
        center, kind = f"center {self.lamps}", self.random.choice(("filament", "led", "winding"))
        ohms, cold = {
            "filament": (self.random.uniform(120, 400), self.random.uniform(10, 20)),
            "led": (self.random.uniform(8e3, 4e4), self.random.uniform(1e5, 1e7)),
            "winding": (self.random.uniform(60, 300), self.random.uniform(5, 60)),
        }[kind]
        fixed = kind != "filament" and self.random.random() < 0.4
        self.box.loads.append(HiddenLoad(center, f"shell {self.lamps}", ohms, cold, fixed))
        self.box.joins.append((f"shell {self.lamps}", shell, ALWAYS))
        return center

    def elsewhere(self, to: str) -> str:
        """A load nobody thinks of, that stays in; its other side."""
        node = f"elsewhere {len(self.box.standing)}"
        self.box.standing.append(HiddenLoad(node, to, self.random.uniform(60, 400), self.random.uniform(5, 60)))
        return node

    def wire(self, id: str) -> OddWay:
        """What one wire leads to: the truth of it, the point it is joined with, and when."""
        k = self.random.choice(sorted(self.box.legs))
        make = self.random.choices([way for way, _ in WAYS], [often for _, often in WAYS])[0]
        return make(self, id, k)

    def neutral(self, id: str, k: int) -> OddWay:
        """The neutral of a circuit; where it is lost on the way, it is still the neutral side of loads."""
        if self._whole(k):
            self.box.brought.add(id)
        return "neutral", neutral(k), ALWAYS

    def loose_lamp(self) -> int:
        """A lamp whose neutral side goes nowhere else."""
        self.lamp(f"side {self.lamps + 1}")
        return self.lamps

    def _whole(self, k: int) -> bool:
        """Whether the neutral of a circuit reaches the panel through no switch."""
        return (neutral(k), f"panel neutral {k}", ALWAYS) in self.box.joins

    def throws(self) -> tuple[OddWay, OddWay]:
        """The throws of a three-way switch at the far end.

        Its common is at a hot, at a lamp, or, as in old ways that switch the polarity, at the neutral.
        """
        self.fars += 1
        k = self.random.choice(sorted(self.box.legs))
        common = self.random.choice((f"hot {k}", self.lamp(neutral(k)), neutral(k)))
        self.box.joins.append((common, f"far a {self.fars}", ("far", 1)))
        self.box.joins.append((common, f"far b {self.fars}", ("far", 2)))
        role: Role | None = NO_ROLE if common == neutral(k) else "traveler"
        return (role, f"far a {self.fars}", ALWAYS), (role, f"far b {self.fars}", ALWAYS)


WAYS: tuple[tuple[Callable[[_Odd, str, int], OddWay], int], ...] = (
    (lambda w, id, k: ("line", f"hot {k}", ALWAYS), 14),
    (lambda w, id, k: ("switched", f"hot {k}", w.switch()), 6),
    (_Odd.neutral, 17),
    (lambda w, id, k: (NO_ROLE, neutral(k), w.switch()), 5),
    (lambda w, id, k: ("switched", w.lamp(neutral(k)), ALWAYS), 12),
    (lambda w, id, k: (NO_ROLE, w.lamp(f"hot {k}"), ALWAYS), 6),
    (lambda w, id, k: (NO_ROLE, w.lamp(neutral(k)), w.switch()), 5),
    (lambda w, id, k: (NO_ROLE, w.elsewhere(neutral(k)), ALWAYS), 6),
    (lambda w, id, k: (NO_ROLE, w.elsewhere(f"hot {k}"), ALWAYS), 5),
    (lambda w, id, k: ("onward", "next hot", ALWAYS), 4),
    (lambda w, id, k: ("neutral", f"shell {w.loose_lamp()}", ALWAYS), 5),
    (lambda w, id, k: (NO_ROLE, "ground", ALWAYS), 4),
    (lambda w, id, k: ("unused", f"free {id}", ALWAYS), 5),
    (lambda w, id, k: (NO_ROLE, f"broken {id}", ALWAYS), 6),
)
"""Where a wire may lead, and how often."""


def make_odd(seed: int, voltage: int = 120) -> Hidden:
    """A hidden box wired at random; the same seed makes the same box.

    Args:
        seed: which of them.
        voltage: of a circuit to neutral [V]; from 200 V on the main may open the neutral, and ground be a rod.

    >>> make_odd(3).truth == make_odd(3).truth
    True
    """
    random = Random(f"odd/{seed}")  # noqa: S311 – a test, not a secret
    odd = _Odd(random, voltage)
    for letter in "ABCD"[: random.choice((1, 2, 2, 3))]:
        count = random.choice((1, 2, 2, 3, 3))
        ways = [odd.wire(f"{letter}{number}") for number in range(1, count + 1)]
        if count > 1 and not odd.fars and random.random() < 0.25:
            ways[:2] = odd.throws()
        for number, (role, to, when) in enumerate(ways, 1):
            odd.box.joins.append((f"{letter}{number}", to, when))
            odd.box.ghosts[f"{letter}{number}"] = random.uniform(12e6, 40e6)
            if role is not None:
                odd.box.truth[f"{letter}{number}"] = role
        odd.box.cables.append(Cable.model_validate({"id": letter, "gauge": 14, "insulated": count}))
    odd.box.places = 2
    return odd.box
