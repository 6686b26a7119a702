"""The simulated hub: each case ends by what helps against it in the field, and by nothing else."""

from __future__ import annotations

from typing import get_args

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from nail_count.trade.wiring.simulate.hub import CASES, MOST_JOINED, Act, Case, HubMemory, SimulatedHub

AT, WINDOW, TAKES = "hall/d1", 180, 7
HELPS: dict[Case, tuple[tuple[Act, ...], str]] = {
    "window expired": ((), "window expired"),
    "wrong band": (("band",), "wrong band"),
    "joined elsewhere": (("exclude elsewhere", "reset"), "joined elsewhere"),
    "weak signal": (("nearer",), "weak signal"),
}
"""Common practice: what is done against each before it is tried again, and what it is called."""
HANDS: tuple[Act, ...] = ("band", "exclude elsewhere", "reset", "nearer", "cycle", "wait")


def hub(case: Case, *others: str) -> SimulatedHub:
    made = SimulatedHub(HubMemory(seed=3, others=others))
    made.place(AT, case)
    return made


def bring_in(of: SimulatedHub) -> str:
    """Looked for, and done at the device what its sheet says: the last answer."""
    reply = of.look_for(AT, WINDOW)
    return of.do("join", AT, TAKES).code if reply.did else reply.code


@pytest.mark.parametrize("case", HELPS)
def test_a_case_ends_by_what_helps_and_by_nothing_else(case: Case) -> None:
    helps, code = HELPS[case]
    assert bring_in(hub(case)) == code
    # In the field a slow hand is quicker the second time; all else stays as it is until something is done about it.
    for wrong in [act for act in HANDS if act not in helps] if helps else []:
        tried = hub(case)
        bring_in(tried)
        tried.do(wrong, AT)
        assert bring_in(tried) == code, f"{wrong} does not help against it"
    of = hub(case)
    bring_in(of)
    for number, act in enumerate(helps):
        of.do(act, AT)
        if number + 1 < len(helps):
            assert bring_in(of) == code, "reset is not excluding: both are steps"
    assert bring_in(of) == "joined" and AT in of.holds


def test_reset_before_excluding_does_not_help() -> None:
    of = hub("joined elsewhere")
    bring_in(of)
    of.do("reset", AT)
    of.do("exclude elsewhere", AT)
    assert bring_in(of) == "joined elsewhere"
    of.do("reset", AT)
    assert bring_in(of) == "joined"


def test_a_full_hub_takes_one_for_each_it_leaves_out() -> None:
    of = hub("hub full")
    assert len(of.holds) == MOST_JOINED and bring_in(of) == "hub full"
    of.leave_out(of.memory.others[0])
    assert bring_in(of) == "joined" and len(of.holds) == MOST_JOINED


def test_an_update_that_failed_wants_its_power_cycled_and_then_goes_through() -> None:
    of = hub("update fails")
    assert bring_in(of) == "joined"
    before = of.firmware(AT)
    assert of.update(AT).code == "update failed" and of.firmware(AT) == before
    assert of.switch(AT, True).code == "no answer" and of.update(AT).code == "no answer"
    of.do("cycle", AT)
    assert of.update(AT).code == "updated" and of.firmware(AT) != before
    assert of.update(AT).code == "up to date"


def test_a_name_taken_is_given_to_nothing_else_and_another_name_goes() -> None:
    of = hub("name taken")
    bring_in(of)
    of.name_taken(AT, "Hall")
    assert of.call(AT, "hall").code == "name taken" and of.radio(AT).name == ""
    assert of.call(AT, "Stair").code == "named"
    of.leave_out("Hall")
    assert of.call(AT, "Hall").code == "named"


def test_a_reset_leaves_a_ghost_that_keeps_its_name() -> None:
    of = hub("joins")
    bring_in(of)
    of.call(AT, "Porch")
    of.do("reset", AT)
    assert AT not in of.holds and "Porch" in of.holds
    assert bring_in(of) == "joined" and of.call(AT, "Porch").code == "name taken"
    of.leave_out("Porch")
    assert of.call(AT, "Porch").code == "named"


def test_nothing_goes_out_with_the_network_down_and_it_is_off_after_its_breaker() -> None:
    of = hub("joins")
    bring_in(of)
    assert of.switch(AT, True).code == "switched" and of.radio(AT).on
    of.do("network", AT)
    assert of.switch(AT, False).code == "no answer" and of.radio(AT).on and of.watts(AT, 40.0) is None
    of.do("network", AT)
    of.do("cycle", AT)
    assert not of.radio(AT).on and of.watts(AT, 40.04) == 40.0


@example("joins", ["look", "join", "on", "leave"])
@given(st.sampled_from(CASES), st.lists(st.sampled_from([*get_args(Act), "look", "update", "on", "call", "leave"])))
def test_whatever_is_done_it_joins_only_while_it_is_looked_for(case: Case, acts: list[str]) -> None:
    """The clock never goes back, no more is held than fits, and all of it is kept and read back to the letter."""
    of = hub(case)
    for act in acts:
        was, joined, until, on = of.clock, AT in of.holds, of.memory.looks_until, of.radio(AT).on
        if act == "look":
            of.look_for(AT, WINDOW)
        elif act == "update":
            of.update(AT)
        elif act == "on":
            of.switch(AT, True)
        elif act == "call":
            of.call(AT, "Hall")
        elif act == "leave":
            of.leave_out(AT)
        else:
            of.do(act, AT, TAKES)  # type: ignore[arg-type]
        assert of.clock >= was and len(of.holds) <= MOST_JOINED
        if AT in of.holds and not joined:
            assert act == "join" and of.clock <= until
        if of.radio(AT).on and not on:
            assert act == "on" and joined, "expected the hub to switch only what it holds"
        if on and not of.radio(AT).on:
            assert act in ("reset", "cycle", "update"), "given up by the hub, its contact stays as it is"
        assert HubMemory.model_validate_json(of.memory.model_dump_json(exclude_defaults=True)) == of.memory
