"""What the panel shows that an electrician should know: multiwire pairs, and what sits where."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...model.answer import Remark, Rule, State
from ...model.panel import Circuit
from ..citing import Cite

SAME_LEG = Rule("Common practice", "", "practice")


def leg(circuit: Circuit) -> str | None:
    """Which leg of the supply a one-pole breaker sits on; None where its space is not known, or it has both.

    Rows alternate between the legs, so the spaces 1 and 2 are on one, 3 and 4 on the other; both halves of a space
    share its leg. Common practice; some panels differ: a meter tells.

    >>> leg(Circuit(id="1", space=1)), leg(Circuit(id="3", space=3)), leg(Circuit(id="4", space=4))
    ('A', 'B', 'B')
    """
    if circuit.space is None or circuit.poles == 2:
        return None
    return "AB"[(circuit.space - 1) // 2 % 2]


def findings(circuits: Sequence[Circuit], code: str) -> tuple[Remark, ...]:
    """The findings on multiwire pairs: two hots on one leg add up in the neutral; their breakers open together.

    Source: NEC 210.4(B), from memory of the publication; the legs of a panel are common practice.

    >>> pair = [Circuit(id="1", space=1, neutral_with="2"), Circuit(id="2", space=2)]
    >>> findings(pair, "nec-2023")[0].state.word
    'fails'
    """
    return tuple(_findings(circuits, Cite(code)))


def _findings(circuits: Sequence[Circuit], cite: Cite) -> Iterator[Remark]:
    known = {circuit.id: circuit for circuit in circuits}
    seen: set[frozenset[str]] = set()
    for circuit in circuits:
        other = known.get(circuit.neutral_with or "")
        if other is None or frozenset((circuit.id, other.id)) in seen:
            continue
        seen.add(frozenset((circuit.id, other.id)))
        pair = f"{circuit.id} and {other.id}"
        if circuit.supply != other.supply:
            text = (f"{pair} share a neutral, and one is fed by an inverter: each supply has a neutral of its own",)
            yield Remark("two-supplies", text, SAME_LEG, State.FAILS, ("a neutral of its own for each",))
        legs = leg(circuit), leg(other)
        if None in legs:
            text = (f"{pair} share a neutral; where they sit is not known, so neither is whether it carries the sum",)
            yield Remark("legs-not-known", text, SAME_LEG, State.OPEN)
        elif legs[0] == legs[1]:
            text = (
                f"{pair} share a neutral but sit on one leg: the neutral carries the sum of both, not the difference",
            )
            yield Remark("one-leg", text, SAME_LEG, State.FAILS)
        yield _together(pair, (circuit.tied, other.tied), cite)
    for circuit in circuits:
        if circuit.poles == 2 and circuit.serves is None:
            text = (
                f"{circuit.id} has two poles: one load at both legs, or a multiwire circuit of two sides? not known",
            )
            ways = ("say which; only the first has twice the volts",)
            yield Remark("two-poles-not-said", text, SAME_LEG, State.OPEN, ways)


def _together(pair: str, tied: tuple[bool | None, bool | None], cite: Cite) -> Remark:
    """NEC 210.4(B): the breakers of a multiwire circuit open together, by a tie or as one."""
    rule, ways = cite("210.4(B)"), ("a tie between the two handles", "one breaker of two poles")
    if True in tied:
        return Remark("open-together", (f"{pair} are one multiwire circuit, and tied",), rule)
    if False in tied:
        text = (f"{pair} are one multiwire circuit, and nothing ties their breakers: one stays on with the other off",)
        return Remark("open-together", text, rule, State.FAILS if cite.nec else State.HOLDS, ways)
    text = (f"{pair} are one multiwire circuit: whether their breakers open together was not looked at",)
    return Remark("open-together", text, rule, State.OPEN, ways)
