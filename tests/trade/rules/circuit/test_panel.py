"""Multiwire pairs by the way a panel is built: spaces 1 and 2 on one leg, 3 and 4 on the other (common practice)."""

from __future__ import annotations

import pytest

from nail_count.trade.model.answer import State
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.circuit.panel import findings, leg


def test_legs_alternate_row_by_row() -> None:
    assert [leg(Circuit(id=str(n), space=n)) for n in range(1, 13)] == [*"AABBAABBAABB"]
    assert leg(Circuit(id="1")) is None and leg(Circuit(id="1", space=1, poles=2)) is None


@pytest.mark.parametrize(
    ("spaces", "code"),
    [((1, 3), None), ((2, 4), None), ((1, 2), "one-leg"), ((1, 5), "one-leg"), ((1, None), "legs-not-known")],
)
def test_two_hots_on_one_leg_add_up_in_the_neutral(spaces: tuple[int, int | None], code: str | None) -> None:
    pair = [
        Circuit(id="a", space=spaces[0], neutral_with="b", tied=True),
        Circuit(id="b", space=spaces[1], neutral_with="a"),
    ]
    others = [Circuit(id="x"), *pair, Circuit(id="y", neutral_with="gone")]
    assert [one.code for one in findings(others, code="nec-2023")] == [*([code] if code else []), "open-together"]
    assert findings(others, code="nec-2023")[-1].state is State.HOLDS


@pytest.mark.parametrize(
    ("tied", "code", "state"),
    [
        ((True, None), "nec-2023", State.HOLDS),
        ((None, True), "nec-2023", State.HOLDS),
        ((False, None), "nec-2023", State.FAILS),
        ((None, False), "uk", State.HOLDS),
        ((None, None), "nec-2023", State.OPEN),
    ],
)
def test_the_breakers_of_a_pair_open_together(tied: tuple[bool | None, bool | None], code: str, state: State) -> None:
    """NEC 210.4(B), from memory."""
    one, other = tied
    pair = [Circuit(id="a", space=1, neutral_with="b", tied=one), Circuit(id="b", space=3, tied=other)]
    (found,) = findings(pair, code)
    assert (found.code, found.state) == ("open-together", state)
    assert ("210.4(B)" in found.rule.name) == code.startswith("nec")


def test_two_poles_are_asked_what_they_serve() -> None:
    known = [Circuit(id="a", poles=2, serves="one load"), Circuit(id="b"), Circuit(id="c", poles=2, serves="multiwire")]
    assert findings(known, code="nec-2023") == ()
    (asked,) = findings([*known, Circuit(id="d", poles=2)], code="nec-2023")
    assert (asked.code, asked.state) == ("two-poles-not-said", State.OPEN)
