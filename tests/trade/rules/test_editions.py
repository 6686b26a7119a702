"""The other editions and codes: worked cases, and what must be true between them. From memory of the publications."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.gauge import awg
from nail_count.trade.model.job import Terms
from nail_count.trade.model.stock import USUAL_STOCK
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.space.bulk import bulk
from nail_count.trade.rules.space.depth import depth, depth_needed
from nail_count.trade.rules.volume.csa import csa_fill
from nail_count.trade.rules.volume.nec import fill, fill_of
from nail_count.trade.rules.volume.spaces import spaces
from nail_count.trade.search.smallest_box import smallest
from tests.support import DIMMER, SHEETS, SWITCH, any_box, any_cables, box, cables, flat, on
from tests.trade.editing import edit_box


def sheet(**more: Any) -> Datasheet:
    return Datasheet.model_validate({"id": "body", "name": "Body", "kind": "dimmer"} | more)


def body(projection: str, width: str = "1.75 in", height: str = "2.75 in") -> dict[str, str]:
    return {"width": width, "height": height, "projection": projection}


SIX = box("34 in3", 2, cables(*["14/2"] * 6), (on(1, SWITCH, 14), on(2, SWITCH, 14)))


@pytest.mark.parametrize(
    ("code", "grounds", "total", "state"),
    [("nec-2017", 2, 34, State.TIGHT), ("nec-2020", 3, 35, State.FAILS), ("nec-2023", 3, 35, State.FAILS)],
)
def test_six_grounds_by_edition(code: str, grounds: int, total: int, state: State) -> None:
    """2017: all grounds one allowance; since 2020 each past four a quarter: 24 + 8 + 2 or 3."""
    answer = fill(SIX, SHEETS, code)
    assert sum(line.value or 0 for line in answer.lines if line.kind == "grounds") == grounds
    assert (answer.total, answer.state) == (F(total), state)


def test_three_ganged_sections_in_2020() -> None:
    made = box("3x2x3-1/2", 3, cables(*["12/2"] * 4, "12/3"), tuple(on(g, SWITCH, 12) for g in (1, 2, 3)), clamps=True)
    answer = fill(made, SHEETS, "nec-2020")
    assert (answer.total, answer.limit, answer.margin) == (F("43.3125"), F(54), F("10.6875"))


def test_a_canadian_deep_body() -> None:
    """4 × 24.6 + one pair 24.6 + 3.2 cm × 32 = 225.4 of 245 mL."""
    deep = {"body": sheet(body=body("32 mm"))}
    made = flat(
        box("18 in3", 1, cables("14/2", "14/2"), (on(1, SWITCH, 14),)).model_dump()
        | {"enclosure": {"volume": "245 mL"}, "connectors": [{"size": "small", "count": 3}]}
        | {"devices": [{"id": "d1", "gang": 1, "sheet": "body", "gauge": 14}]}
    )
    answer = csa_fill(spaces(made, deep)[0], deep)
    lines = {line.kind: line.value for line in answer.lines if line.value}
    assert lines == {"conductors": F("98.4"), "connectors": F("24.6"), "devices": F("102.4")}
    assert (answer.total, answer.limit, answer.state) == (F("225.4"), F(245), State.TIGHT)
    shallow = {"body": sheet(body=body("25.4 mm"))}
    assert csa_fill(spaces(made, shallow)[0], shallow).lines[1].value == 2 * F("24.6")


def test_what_counts_besides() -> None:
    """Stud, hickey, canopy exception, isolated set (2017), terminal block (2023): by (B)(1) Exc., (B)(3), (5), (6)."""
    held = [
        {"id": "A", "gauge": 14, "insulated": 2},
        {"id": "B", "gauge": 12, "insulated": 2, "isolated": True},
        {"id": "C", "gauge": 18, "insulated": 4, "grounds": 1, "canopy": True},
    ]
    more = {"cables": held, "terminal_blocks": [{"count": 2, "gauge": 14}]}
    made = flat(box("40 in3", 1).model_dump() | more)
    made = edit_box(made, "set-fittings", {"stud": True, "hickey": True}, SHEETS).box

    def sums(code: str) -> dict[str, F]:
        found: dict[str, F] = {}
        for line in fill(made, SHEETS, code).lines:
            found[line.kind] = found.get(line.kind, F(0)) + (line.value or 0)
        return found

    new, old = sums("nec-2023"), sums("nec-2017")
    assert new["conductors"] == 2 * 2 + 2 * F("2.25") and new["fittings"] == 2 * F("2.25")
    assert (new["grounds"], old["grounds"]) == (F("2.25"), 2 + F("2.25"))
    assert (new["terminal blocks"], old["terminal blocks"]) == (F(4), F(0))


def test_an_abandoned_wire_counts_and_the_line_says_so() -> None:
    held = [
        {
            "id": "A",
            "gauge": 14,
            "insulated": 2,
            "conductors": [{"asserted_role": "unused"}, {"asserted_role": "unused"}],
        }
    ]
    line = fill(flat(box("18 in3", 1).model_dump() | {"cables": held}), SHEETS, code="nec-2023").lines[0]
    assert line.value == 4, "abandoned or capped ones count as well"


@given(any_box())
def test_2020_equals_2017_up_to_four_grounds_and_exceeds_it_past_four(made: Box) -> None:
    grounds = sum(cable.grounds for cable in made.cables)
    old, new = (fill(made, SHEETS, code).total for code in ("nec-2017", "nec-2020"))
    assert new == old if grounds <= 4 else new > old


@pytest.mark.parametrize(
    ("gauge", "projection", "needs", "good"),
    [
        (14, "1.3", "15/16", "1.55"),
        (12, "1.3", "1.55", None),
        (12, "0.9", "1 3/16", None),
        (14, "1.95", "2.2", None),
        (10, "1.0", "1 3/16", None),
        (14, "1.875", "15/16", "2.125"),
    ],
)
def test_depth_by_the_rows_of_314_24(gauge: Any, projection: str, needs: str, good: str | None) -> None:
    from nail_count.trade.model.measure import parse_number

    assert depth_needed(awg(gauge), parse_number(projection))[0] == parse_number(needs)
    deep = {"body": sheet(body=body(f"{projection} in"))}
    held = [{"id": "A", "gauge": gauge, "insulated": 2}]
    made = flat(
        {"id": "b", "name": "B", "room": "R", "cables": held, "enclosure": {"volume": "30 in3", "depth": f"{needs} in"}}
        | {"devices": [{"id": "d1", "gang": 1, "sheet": "body"}]}
    )
    answer = depth(made, deep, code="nec-2023")
    assert answer is not None and answer.state is State.HOLDS and answer.margin == 0
    assert ("little-room-behind" in {remark.code for remark in answer.remarks}) == (good is not None)
    less = made.changed(enclosure=made.enclosure.changed(depth=made.enclosure.depth))
    shallow = flat(less.model_dump() | {"enclosure": {"volume": "30 in3", "depth": "0.5 in"}})
    failed = depth(shallow, deep, code="nec-2023")
    assert failed is not None and failed.state is State.FAILS


def test_set_back_too_far_is_a_finding_and_never_credited() -> None:
    base = {"enclosure": {"volume": "30 in3", "depth": "1 in"}, "cables": [{"id": "A", "gauge": 14, "insulated": 2}]}

    def at(setback: str, wall: str) -> State:
        survey = {"setback": setback, "wall": wall}
        made = flat({"id": "b", "name": "B", "room": "R", "survey": survey} | base)
        answer = depth(made, {}, code="nec-2023")
        assert answer is not None and answer.limit == 1
        return answer.state

    assert at("1/4 in", "noncombustible") is State.HOLDS and at("3/8 in", "noncombustible") is State.FAILS
    assert at("1/8 in", "combustible") is State.FAILS and at("0 in", "combustible") is State.HOLDS


@pytest.mark.parametrize("code", ["uk", "india"])
def test_no_pass_on_volume_is_shown_where_depth_is_the_rule(code: Any) -> None:
    """A wall dimmer commonly asks for 35 mm; without a word of the sheet, its body and 10 mm behind it."""
    asks = {"body": sheet(least_depth="35 mm", body=body("20 mm"))}
    says = {"body": sheet(body=body("20 mm"))}

    def state(mm: int, sheets: dict[str, Datasheet]) -> State:
        made = flat(
            {"id": "b", "name": "B", "room": "R", "enclosure": {"depth": f"{mm} mm", "volume": "200 mL"}}
            | {"devices": [{"id": "d1", "gang": 1, "sheet": "body"}]}
        )
        check = check_box(made, sheets, Terms(code=code, voltage=230))
        assert check.fills == () and check.depth is not None
        return check.depth.state

    bare = flat({"id": "b", "name": "B", "room": "R", "enclosure": {"volume": "200 mL"}})
    assert check_box(bare, SHEETS, Terms(code=code, voltage=230)).state is State.OPEN  # nothing passes unmeasured
    assert (state(25, asks), state(35, asks)) == (State.FAILS, State.HOLDS)
    assert (state(25, says), state(30, says)) == (State.FAILS, State.HOLDS)


@given(any_box(), st.integers(1, 3))
def test_a_barrier_conserves_conductors(made: Box, after: int) -> None:
    assume(after < made.enclosure.gangs)
    cabled = edit_box(made, "add-barrier", {"after": after, "material": "metal"}, SHEETS).box
    split = cabled.changed(cables=tuple(c.changed(space=1 + n % 2) for n, c in enumerate(cabled.cables)))
    found = [fill_of(space, SHEETS, code="nec-2023") for space in spaces(split, SHEETS)]
    whole = fill(made, SHEETS, code="nec-2023")

    def conductors(*answers: Any) -> F:
        return sum((line.count for a in answers for line in a.lines if line.kind == "conductors"), F(0))

    assert conductors(*found) == conductors(whole)
    assert sum((answer.limit or 0 for answer in found), F(0)) == (whole.limit or 0) - F(1, 2)
    back = edit_box(split, "take-out", {"what": "barrier", "number": 1}, SHEETS).box
    assert fill(back, SHEETS, code="nec-2023").total == whole.total


@given(any_box(), any_cables())
def test_one_more_conductor_yoke_or_ground_never_lowers_the_fill(made: Box, more: Any) -> None:
    """Of a box whose yokes all have a conductor connected."""
    connected = flat(made.model_dump() | {"devices": [device.model_dump() | {"gauge": 14} for device in made.devices]})
    for code in ("nec-2017", "nec-2020", "nec-2023"):
        before = fill(connected, SHEETS, code).total
        for cable in more:
            new = connected.changed(cables=(*connected.cables, cable.changed(id="Z")))
            assert fill(new, SHEETS, code).total >= before
        wider = connected.enclosure.changed(gangs=connected.enclosure.gangs + 1)
        yoke = on(wider.gangs, SWITCH, 14)
        more_yokes = connected.changed(enclosure=wider, devices=(*connected.devices, yoke))
        assert fill(more_yokes, SHEETS, code).total == before + 4


@given(any_box(), st.randoms())
def test_the_order_of_entry_never_matters(made: Box, random: Any) -> None:
    held = list(made.cables)
    random.shuffle(held)
    mixed = made.changed(cables=tuple(held))
    for code in ("nec-2017", "nec-2023"):
        assert fill(mixed, SHEETS, code).total == fill(made, SHEETS, code).total
    assert bulk(mixed, SHEETS, code="nec-2023").total == bulk(made, SHEETS, code="nec-2023").total


def test_a_module_is_counted_by_the_school_the_job_chose() -> None:
    """The larger of two allowances and its body; or either; or nothing. Practice: no article names it."""
    small = sheet(id="mod", name="Mod", kind="module", body=body("0.6 in", "1.6 in", "1.4 in"))
    large = small.changed(body=sheet(body=body("1.5 in", "2 in", "2 in")).body)
    made = flat(
        box("30 in3", 1, cables("14/2")).model_dump() | {"modules": [{"id": "m1", "sheet": "mod", "gauge": 14}]}
    )

    def value(one: Datasheet, school: Any) -> F | None:
        lines = fill_of(spaces(made, {"mod": one})[0], {"mod": one}, "nec-2023", school).lines
        return next(line.value for line in lines if line.kind == "modules")

    assert [value(small, s) for s in ("larger", "device", "body", "none")] == [4, 4, F("1.344"), 0]
    assert [value(large, s) for s in ("larger", "device", "body", "none")] == [6, 4, 6, 0]


def test_the_smallest_box_of_the_stock_list() -> None:
    """Three 14/2 and a switch are 18 in³: exactly the 18 in³ box; a dimmer's body asks for more."""
    made = box("9 in3", 1, cables("14/2", "14/2", "14/2"), (on(1, SWITCH, 14),))
    assert smallest(made, USUAL_STOCK, SHEETS)[0].stock.volume.in3 == 18
    bodied = SHEETS | {DIMMER.id: DIMMER.changed(body=sheet(body=body("2.5 in", "2 in", "3.2 in")).body)}
    dimmed = made.changed(devices=(on(1, DIMMER, 14),))
    tried = smallest(dimmed, USUAL_STOCK, bodied)
    needs = check_box(dimmed, bodied).bulk.total
    assert tried[0].fits and 18 < needs <= tried[0].stock.volume.in3
    assert not any(needs <= one.stock.volume.in3 < tried[0].stock.volume.in3 for one in tried)
    assert smallest(made, (), SHEETS) == ()


@pytest.mark.parametrize(
    ("name", "said", "field"),
    [
        ("add-barrier", {"after": 2}, "barriers"),
        ("add-module", {"sheet": "switch"}, "sheet"),
        ("take-out", {"what": "module", "number": 1}, "number"),
        ("put-device", {"gang": 1, "sheet": "mod"}, "sheet"),
        ("set-gangs", {"gangs": 1}, "gangs"),
    ],
)
def test_what_cannot_be_is_refused(name: str, said: dict[str, Any], field: str) -> None:
    known = SHEETS | {"mod": sheet(id="mod", name="Mod", kind="module")}
    made = edit_box(box("30 in3", 2, cables("14/2")), "add-barrier", {"after": 1}, known).box
    with pytest.raises(Rejected, match=r"^(Put|Pick|Take|Mod is a module)"):
        edit_box(made, name, said, known)
