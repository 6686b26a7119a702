"""What the answer of a circuit says, device by device and figure by figure, by hand."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

from nail_count.trade.model.answer import State
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.circuit.branch import circuit_load, feeder_findings
from tests.support import cables, figures, flat
from tests.trade.rules.circuit.feeding import PART, SHEETS, asked, fed, watts
from tests.trade.rules.test_check import adds_up

OUTLET = Datasheet.model_validate({"id": "outlet", "name": "Outlet", "kind": "receptacle"})


RADIO_SWITCH = Datasheet.model_validate(
    {
        "id": "radio",
        "name": "Radio",
        "kind": "smart switch",
        "radio": "Mesh",
        "channels": [{"ratings": {"general": {"alone": "15 A"}}}],
    }
)


def remarks(
    code: str, *sheets_on: str, terms: Terms | None = None, loads: tuple[dict[str, Any], ...] = ()
) -> list[tuple[F, ...]]:
    """The figures of every remark of a kind."""
    devices = [{"id": f"d{n}", "gang": n, "sheet": sheet} for n, sheet in enumerate(sheets_on, 1)]
    if loads:
        devices[0]["loads"] = [{"id": f"l{n}", **load} for n, load in enumerate(loads)]
    made = flat({"id": "b", "name": "B", "room": "R", "circuit": "1", "enclosure": {"gangs": 6}, "devices": devices})
    known = SHEETS | {"outlet": OUTLET, "radio": RADIO_SWITCH}
    answer = circuit_load(Circuit(id="1"), [made], known, terms=terms or Terms())
    return [figures(one.text) for one in answer.remarks if one.code == code]


PLUG = {"kind": "receptacle", "each": "1 A"}


def test_what_is_counted_in_words() -> None:
    assert remarks("receptacles-not-counted", "outlet") == [(1,)]
    assert remarks("receptacles-not-counted", "outlet", "outlet") == [(2,)]
    assert remarks("receptacles-not-counted", "switch", loads=(PLUG | {"quantity": 2},)) == [(2,)]
    assert remarks("receptacles-not-counted", "switch", "outlet", loads=(PLUG,)) == [(2,)]
    assert remarks("receptacles-not-counted", "switch") == []
    assert remarks("nothing-entered", "switch") == [(1,)]
    assert remarks("nothing-entered", "switch", "switch") == [(2,)]
    assert remarks("nothing-entered", "switch", "outlet", loads=(watts(50),)) == []
    assert remarks("ground-users", "ground") == [(1, 5)], "five at most"
    assert remarks("ground-users", "ground", "ground") == [(2, 5)]
    assert remarks("ground-users", "switch") == [] and remarks("ground-users", "ground", terms=Terms(code="uk")) == []


def test_ways_out_only_where_there_are_too_many() -> None:
    """NEC 404.2(C) Exc., from memory: five on a circuit, twenty-five on a feeder."""
    ground = flat({"id": "b", "name": "B", "room": "R", "circuit": "1", "enclosure": {"gangs": 6},
                   "devices": [{"id": f"d{n}", "gang": n, "sheet": "ground"} for n in range(1, 7)]})  # fmt: skip
    five = ground.changed(devices=ground.devices[:5])
    for made, state in ((ground, State.FAILS), (five, State.HOLDS)):
        (one,) = (
            r for r in circuit_load(Circuit(id="1"), [made], SHEETS, terms=Terms()).remarks if r.code == "ground-users"
        )
        assert one.state is state and bool(one.ways) == (state is State.FAILS)
    assert list(feeder_findings([], SHEETS, Terms())) == []
    assert list(feeder_findings([five], SHEETS, Terms(code="uk"))) == []
    outlets = [fed(f"b{n}", *[watts(50)] * 6) for n in (1, 2)]
    for boxes, count, state in (
        (outlets, 12, State.HOLDS),
        ([*outlets, fed("c", watts(50))], 13, State.FAILS),
        ([fed("c", watts(50))], 1, State.HOLDS),
    ):
        (one,) = (r for r in asked(*boxes, terms=Terms(code="csa")).remarks if r.code == "outlets-of-circuit")
        assert one.state is state and bool(one.ways) == (state is State.FAILS)
        assert figures(one.text)[:2] == (count, 12), "twelve at most"


def test_cables_in_a_box_of_two_circuits_are_taken_for_neither() -> None:
    shared = fed("a", watts(50), other_circuits=["2"])
    lone = fed("b", watts(50))
    apart = fed("c", watts(50), circuit="2", other_circuits=["3"])
    assert [one.code for one in asked(shared, lone, apart).remarks].count("two-circuits-in-box") == 1
    assert [one for one in asked(lone, apart).remarks if one.code == "two-circuits-in-box"] == []


def test_of_several_wires_the_thinnest_is_named() -> None:
    """NEC 240.4(D), from memory: 14 AWG at 15 A, 12 AWG at 20 A, on a breaker of 30 A."""
    sizes = cables("10/2", "14/2", "12/2")
    answer = asked(fed("a", watts(50)).changed(cables=sizes), breaker=30)
    (wire,) = (line for line in answer.limit_lines if line.kind == "wire")
    assert (figures(wire.what), wire.value, answer.limit) == ((14,), F(-1800), F(1800))
    canadian = asked(
        fed("a", watts(50, continuous=True)).changed(cables=sizes[:1]), breaker=30, terms=Terms(code="csa")
    )
    assert canadian.limit == F(3600) * F(4, 5)
    thin = asked(fed("a", watts(50, continuous=True)).changed(cables=sizes[1:2]), breaker=30, terms=Terms(code="csa"))
    assert thin.limit == F(1800) * F(4, 5), "80 % of what its wire is protected at"
    over = asked(fed("a", watts(4000)).changed(cables=sizes), breaker=30)
    assert over.state is State.FAILS and figures(over.headline)[:2] == (14, 30), "14 AWG on a breaker of 30 A"


def test_standby_says_whose_figure_it_is() -> None:
    """A radio takes a watt where its sheet says nothing (common practice)."""

    def why(*on: str) -> tuple[tuple[F, ...], F | None]:
        devices = [{"id": f"d{n}", "gang": n, "sheet": sheet} for n, sheet in enumerate(on, 1)]
        made = flat(
            {"id": "b", "name": "B", "room": "R", "circuit": "1", "enclosure": {"gangs": 6}, "devices": devices}
        )
        answer = circuit_load(Circuit(id="1"), [made], SHEETS | {"radio": RADIO_SWITCH}, terms=Terms())
        (line,) = (line for line in answer.lines if line.kind == "standby")
        return figures(line.why), line.value

    assert why("smart") == ((), F("0.6"))
    assert why("radio") == ((1,), F(1)), "1 W where it is not known"
    assert why("smart", "radio") == ((1,), F("1.6"))


def test_a_switch_of_receptacles_is_judged_by_the_channel_they_hang_on() -> None:
    """NEC 404.14(F), from memory: rated for the breaker; where one alone hangs on it, for that."""
    two = Datasheet.model_validate({"id": "two", "name": "Two", "kind": "switch", "channels": [
        {"ratings": {"general": {"alone": "20 A"}}}, {"ratings": {"general": {"alone": "10 A"}}}]})  # fmt: skip

    def found(channel: int, quantity: int, each: str, code: Any = "nec-2023") -> list[tuple[F, ...]]:
        load = {"id": "l1", "kind": "receptacle", "quantity": quantity, "each": each, "channel": channel}
        made = flat(
            {
                "id": "b",
                "name": "B",
                "room": "R",
                "circuit": "1",
                "devices": [{"id": "d1", "gang": 1, "sheet": "two", "loads": [load]}],
            }
        )
        answer = circuit_load(Circuit(id="1"), [made], {"two": two}, terms=Terms(code=code))
        return [figures(one.text) for one in answer.remarks if one.code == "receptacle-switch-rating"]

    assert found(1, 2, "5 A") == [] and found(2, 2, "5 A", "uk") == []
    assert found(2, 2, "5 A") == [(10, 15)], "of 10 A, on a breaker of 15 A"
    assert found(2, 1, "12 A") == [(10,)], "for that receptacle"
    assert found(2, 1, "10 A") == []
    assert found(2, 1, "15 A") == [(10, 15)]


def test_every_figure_of_a_circuit_says_how_it_came() -> None:
    adds_up(asked(*PART))
    adds_up(asked(*PART, terms=Terms(code="csa")))
    assert [line.count for line in asked(*PART).lines if line.kind == "duty"] == [1]


def test_twenty_five_on_a_feeder() -> None:
    """NEC 404.2(C) Exc., from memory."""
    one = {"id": "d1", "gang": 1, "sheet": "ground"}
    boxes = [flat({"id": f"b{n}", "name": "B", "room": "R", "circuit": str(n), "devices": [one]}) for n in range(26)]
    states = [next(iter(feeder_findings(boxes[:count], SHEETS, Terms()))).state for count in (25, 26)]
    assert states == [State.HOLDS, State.FAILS]


def test_outlets_of_a_canadian_circuit_by_what_they_are() -> None:
    """CSA 8-304, from memory: lights and receptacles alike; where another code holds, neither is asked of a switch."""
    outlet = flat({"id": "o", "name": "O", "room": "R", "circuit": "1", "use": "receptacle",
                   "devices": [{"id": "d1", "gang": 1, "sheet": "outlet"}]})  # fmt: skip
    known = SHEETS | {"outlet": OUTLET}
    answer = circuit_load(Circuit(id="1"), [outlet, fed("a", watts(50))], known, terms=Terms(code="csa"))
    (one,) = (r for r in answer.remarks if r.code == "outlets-of-circuit")
    assert figures(one.text)[0] == 3, "the outlet box, the receptacle in it, and a lamp"
    assert remarks("receptacle-switch-rating", "switch", loads=(PLUG | {"quantity": 2},), terms=Terms(code="uk")) == []
    bare = Datasheet.model_validate(
        {"id": "bare", "name": "Bare", "kind": "switch", "channels": [{"ratings": {"led": {"alone": "9 W"}}}]}
    )
    made = flat(
        {
            "id": "b",
            "name": "B",
            "room": "R",
            "circuit": "1",
            "devices": [{"id": "d1", "gang": 1, "sheet": "bare", "loads": [{"id": "l1", **PLUG}]}],
        }
    )
    assert circuit_load(Circuit(id="1"), [made], {"bare": bare}, terms=Terms()).total == 0
