"""What the panel shows that an electrician should know: multiwire pairs, and what sits where."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...model.answer import Remark, Rule, State
from ...model.panel import Circuit

SAME_LEG = Rule("Common practice", "", "practice")
TOGETHER = Rule("NEC 2023", "210.4(B)")


def leg(circuit: Circuit) -> str | None:
    """Which leg of the supply a one-pole breaker sits on; None where its space is not said, or it has both.

    Rows alternate between the legs, so the spaces 1 and 2 are on one, 3 and 4 on the other; both halves of a space
    share its leg. Common practice; some panels differ: a meter tells.

    >>> leg(Circuit(id="1", space=1)), leg(Circuit(id="3", space=3)), leg(Circuit(id="4", space=4))
    ('A', 'B', 'B')
    """
    if circuit.space is None or circuit.poles == 2:
        return None
    return "AB"[(circuit.space - 1) // 2 % 2]


def findings(circuits: Sequence[Circuit]) -> tuple[Remark, ...]:
    """What is found of multiwire pairs: two hots on one leg add up in the neutral; their breakers open together.

    Source: NEC 2023 210.4(B), from memory of the publication; the legs of a panel are common practice.

    >>> pair = [Circuit(id="1", space=1, neutral_with="2"), Circuit(id="2", space=2)]
    >>> findings(pair)[0].state.word
    'fails'
    """
    return tuple(_findings(circuits))


def _findings(circuits: Sequence[Circuit]) -> Iterator[Remark]:
    known = {circuit.id: circuit for circuit in circuits}
    seen: set[frozenset[str]] = set()
    for circuit in circuits:
        other = known.get(circuit.neutral_with or "")
        if other is None or frozenset((circuit.id, other.id)) in seen:
            continue
        seen.add(frozenset((circuit.id, other.id)))
        pair = f"{circuit.id} and {other.id}"
        legs = leg(circuit), leg(other)
        if None in legs:
            text = (f"{pair} share a neutral; where they sit is not known, so neither is whether it carries the sum",)
            yield Remark("legs-not-known", text, SAME_LEG, State.OPEN)
        elif legs[0] == legs[1]:
            text = (
                f"{pair} share a neutral but sit on one leg: the neutral carries the sum of both, not the difference",
            )
            yield Remark("one-leg", text, SAME_LEG, State.FAILS)
        text = (f"{pair} are one multiwire circuit: their breakers must open together, with a tie or as one",)
        yield Remark("open-together", text, TOGETHER)
