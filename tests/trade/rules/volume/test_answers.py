"""Whole counts written out by hand, line by line: NEC 314.16 and CSA C22.1 12-3034, from memory."""

from __future__ import annotations

from fractions import Fraction as F
from functools import partial
from typing import Any

import pytest

from nail_count.trade.model.answer import Answer, State, Text
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.gauge import awg
from nail_count.trade.rules.volume.allowances import judge
from nail_count.trade.rules.volume.csa import CSA_ALLOWANCES, csa_fill
from nail_count.trade.rules.volume.nec import fill_of
from nail_count.trade.rules.volume.spaces import space_of_gang, spaces
from tests.support import figures, flat
from tests.trade.rules.test_check import adds_up

IN3 = F("16.387064")
BODY = {"width": "1.5 in", "height": "2.5 in", "projection": "1 in"}
SHEETS: dict[str, Datasheet] = {
    str(one["id"]): Datasheet.model_validate({"name": str(one["id"]).capitalize(), "kind": "dimmer"} | one)
    for one in (
        {"id": "flat", "body": BODY},
        {"id": "deep", "gangs": 2, "body": BODY | {"projection": "5 cm"}},
        {"id": "dark"},
        {"id": "blank", "kind": "blank"},
        {"id": "small", "kind": "module", "body": {"width": "1 in", "height": "1 in", "projection": "1 in"}},
        {"id": "large", "kind": "module", "body": {"width": "2 in", "height": "2 in", "projection": "2 in"}},
        {"id": "exact", "kind": "module", "body": {"width": "1 in", "height": "2 in", "projection": "2 in"}},
        {"id": "bare", "kind": "module"},
    )
}


def made(*cables: dict[str, Any], **more: Any) -> Any:
    wires = [{"id": letter, "gauge": 14, "insulated": 2, **one} for letter, one in zip("ABCDEFG", cables, strict=False)]
    return flat({"id": "b", "name": "B", "room": "R", "enclosure": {"volume": "30 in3"}, "cables": wires, **more})


def devices(*standing: tuple[int, str, str]) -> list[dict[str, Any]]:
    return [{"id": f"d{gang}", "gang": gang, "sheet": sheet, "name": name} for gang, sheet, name in standing]


def written(answer: Answer) -> list[tuple[str, tuple[F, ...], F | None]]:
    """Each line: what it counts, the figures it names (its gang, its gauge, how many), and how much that is."""
    return [(line.kind, figures(line.what), line.value) for line in answer.lines]


def test_a_canadian_box_written_out() -> None:
    """24.6 mL a 14, 28.7 a 12; 32 mL a centimeter and gang; a looped wire twice; pairs of connectors; in mL."""
    box = made(
        {"run": "looped"}, {"gauge": 12, "insulated": 3}, {"gauge": 18, "canopy": True, "grounds": 0},
        enclosure={"volume": "500 mL", "gangs": 5, "fittings": ["stud"], "clamps": True,
                   "rings": [{"kind": "Ring", "volume": "2 in3"}]},
        devices=devices((5, "blank", ""), (3, "flat", "Sink"), (1, "deep", ""), (4, "dark", "")),
        modules=[{"id": "m1", "sheet": "large"}], connectors=[{"count": 3, "gauge": 14}],
    )  # fmt: skip
    answer = csa_fill(spaces(box, SHEETS)[0], SHEETS)
    assert written(answer) == [
        ("conductors", (), F(0)),
        ("conductors", (14,), 4 * F("24.6")),
        ("conductors", (12,), 3 * F("28.7")),
        ("devices", (1,), 32 * F(5) * 2),
        ("devices", (3,), 2 * F("28.7")),
        ("devices", (4,), None),
        ("modules", (), 8 * IN3),
        ("connectors", (3,), F("24.6")),
        ("fittings", (), F("28.7")),
        ("grounds", (), F(0)),
        ("clamps", (), F(0)),
    ]
    assert [(line.count, line.value) for line in answer.limit_lines] == [(F(1), F(500)), (F(1), 2 * IN3)]
    assert {part.id: part.count for line in answer.lines for part in line.parts if line.kind == "conductors"} == {
        "A": 4, "B": 3, "C": 0,
    }  # fmt: skip
    assert (answer.state, answer.about, answer.subject.kind) == (State.FAILS, "fill", "box")
    assert [remark.code for remark in answer.remarks] == ["looped-as-two"]


@pytest.mark.parametrize(
    ("enclosure", "codes"),
    [
        ({"volume": "20 in3"}, ["mark-turned-into-ml"]),
        ({"volume": "300 mL"}, []),
        ({"width": "2 in", "height": "3 in", "depth": "3 in"}, ["volume-measured"]),
        ({"volume": "300 mL", "width": "2 in", "height": "3 in", "depth": "3 in"}, []),
        ({}, []),
    ],
)
def test_remarks_of_the_canadian_count(enclosure: dict[str, Any], codes: list[str]) -> None:
    answer = csa_fill(spaces(made({}, enclosure=enclosure), SHEETS)[0], SHEETS)
    assert [remark.code for remark in answer.remarks] == codes
    assert (answer.limit is None) == (not enclosure)


@pytest.mark.parametrize(
    ("sheet", "school", "value"),
    [
        ("small", "larger", 2 * F("24.6")), ("large", "larger", 8 * IN3), ("bare", "larger", 2 * F("24.6")),
        ("small", "body", IN3), ("bare", "body", None), ("large", "device", 2 * F("24.6")), ("large", "none", F(0)),
    ],
)  # fmt: skip
def test_a_module_by_the_school_of_the_job_in_canada(sheet: str, school: Any, value: F | None) -> None:
    answer = csa_fill(spaces(made({}, modules=[{"id": "m1", "sheet": sheet}]), SHEETS)[0], SHEETS, school)
    (line,) = (line for line in answer.lines if line.kind == "modules")
    assert line.value == value and line.count * (line.each or 0) == (value or 0)
    assert [part.id for part in line.parts] == ["m1"]


@pytest.mark.parametrize(
    ("sheet", "school", "value", "count"),
    [
        ("small", "larger", F(4), 2),
        ("large", "larger", F(8), 1),
        ("exact", "larger", F(4), 2),
        ("small", "body", F(1), 1),
    ],
)
def test_a_module_by_the_school_of_the_job_in_the_nec(sheet: str, school: Any, value: F, count: int) -> None:
    """Two allowances of 14 AWG are 4 in³; the body of "exact" is 4 in³ too, and the two allowances stand."""
    answer = fill_of(
        spaces(made({}, modules=[{"id": "m1", "sheet": sheet}]), SHEETS)[0], SHEETS, school=school, code="nec-2023"
    )
    (line,) = (line for line in answer.lines if line.kind == "modules")
    assert (line.value, line.count) == (value, count), "its body once, or two allowances"


def test_an_american_box_written_out() -> None:
    """2 in³ a 14, 2.25 a 12, 1.5 an 18; grounds, one in one up to four and a quarter past that; two a yoke and gang."""
    box = made(
        {"run": "looped"}, {"gauge": 12, "insulated": 3}, {"gauge": 12, "run": "through"}, {"grounds": 2},
        enclosure={"volume": "90 in3", "gangs": 4, "fittings": ["stud", "hickey"], "clamps": True},
        devices=devices((4, "blank", ""), (3, "flat", "Sink"), (1, "deep", "")),
        terminal_blocks=[{"count": 1, "gauge": 14}, {"count": 2, "gauge": 12}],
    )  # fmt: skip
    answer = fill_of(spaces(box, SHEETS)[0], SHEETS, "nec-2023")
    lines = written(answer)
    assert lines == [
        ("conductors", (14,), F(4)),
        ("conductors", (12,), 5 * F("2.25")),
        ("conductors", (14,), F(8)),
        ("clamps", (), F("2.25")),
        ("fittings", (), F("2.25")),
        ("fittings", (), F("2.25")),
        ("devices", (1,), 4 * F("2.25")),
        ("devices", (3,), 2 * F("2.25")),
        ("devices", (4,), F(0)),
        ("grounds", (4, 12), F("2.25")),
        ("grounds", (1, 4), F("2.25") / 4),
        ("terminal blocks", (), F(2)),
        ("terminal blocks", (2,), 2 * F("2.25")),
        ("leads", (), F(0)),
    ], lines
    one = fill_of(spaces(made({"grounds": 1}), SHEETS)[0], SHEETS, code="nec-2023")
    assert ("grounds", (1, 14), F(2)) in written(one)
    four = fill_of(spaces(made({"grounds": 2}, {"grounds": 2}), SHEETS)[0], SHEETS, "nec-2023")
    assert [value for kind, _, value in written(four) if kind == "grounds"] == [F(2)]
    none = fill_of(spaces(made({"grounds": 0}), SHEETS)[0], SHEETS, code="nec-2023")
    assert [line.value for line in none.lines if line.kind == "grounds"] == [0]


@pytest.mark.parametrize("count", [partial(fill_of, code="nec-2023"), csa_fill])
def test_two_spaces_are_counted_apart(count: Any) -> None:
    """Behind a barrier: what stands in its gangs, and what is said to lie there."""
    box = made(
        {"gauge": 12}, {"space": 2},
        enclosure={"volume": "40 in3", "gangs": 3, "barriers": [{"after": 1, "material": "metal"}]},
        devices=devices((1, "flat", ""), (2, "flat", ""), (3, "flat", "")),
        modules=[{"id": "m1", "sheet": "small"}, {"id": "m2", "sheet": "large", "space": 2}],
    )  # fmt: skip
    first, second = spaces(box, SHEETS)
    assert [(one.number, one.of, one.first, one.last, one.gangs) for one in (first, second)] == [
        (1, 2, 1, 1, 1),
        (2, 2, 2, 3, 2),
    ]
    assert [device.id for device in first.box.devices] == ["d1"]
    assert [device.id for device in second.box.devices] == ["d2", "d3"]
    assert [[module.id for module in one.box.modules] for one in (first, second)] == [["m1"], ["m2"]]
    assert [space_of_gang(box, gang) for gang in (1, 2, 3)] == [1, 2, 2]
    answers = [count(space, SHEETS) for space in (first, second)]
    assert [figures(answer.title) for answer in answers] == [(1, 1), (2, 3)], "gangs 1 to 1, 2 to 3"
    assert [(answer.subject.kind, answer.subject.number) for answer in answers] == [("space", 1), ("space", 2)]
    whole = spaces(made({}, enclosure={"volume": "40 in3", "gangs": 3}), SHEETS)[0]
    assert (whole.number, whole.of, whole.first, whole.last) == (1, 1, 1, 3)
    assert figures(count(whole, SHEETS).title) == () and count(whole, SHEETS).subject.kind == "box"


@pytest.mark.parametrize(("material", "taken"), [("metal", "0.5"), ("nonmetallic", "1")])
def test_a_barrier_takes_its_room(material: str, taken: str) -> None:
    """314.16(A): half a cubic inch of metal, one of anything else, where it is not marked."""
    said = {"volume": "40 in3", "gangs": 2, "barriers": [{"after": 1, "material": material}]}
    answers = [fill_of(space, SHEETS, code="nec-2023") for space in spaces(made({}, enclosure=said), SHEETS)]
    lines = [line for answer in answers for line in answer.limit_lines if line.count < 0]
    assert lines and {(line.count, line.each) for line in lines} == {(F(-1), F(taken))}
    assert sum(answer.limit or 0 for answer in answers) == 40 - F(taken)


@pytest.mark.parametrize(
    ("total", "limit", "state", "said"),
    [
        # in³ to spare; in³ over, and how many conductors of 14 AWG
        ("16", "18", State.HOLDS, ("2",)),
        ("16.01", "18", State.TIGHT, ("1.99",)),
        ("18", "18", State.TIGHT, ()),
        ("18.01", "18", State.FAILS, ("0.01", "14")),  # one
        ("20", "18", State.FAILS, ("2", "14")),
        ("20.01", "18", State.FAILS, ("2.01", "2", "14")),
        ("22", "18", State.FAILS, ("4", "2", "14")),
        ("22", None, State.OPEN, ()),
    ],
)
def test_what_is_left_and_what_is_too_much_in_whole_conductors(
    total: str, limit: str | None, state: State, said: tuple[str, ...]
) -> None:
    from nail_count.trade.rules.conductor_volumes import ALLOWANCES

    stands = judge(
        made({}).gauges, (), F(total), limit=None if limit is None else F(limit), allowances=ALLOWANCES, unit="in3"
    )
    assert (stands[0], figures(stands[1])) == (state, tuple(map(F, said)))


def test_what_is_over_beside_what_is_not_known_fails_and_what_is_not_over_is_open() -> None:
    empty = made(devices=devices((1, "flat", "")))
    answer = fill_of(spaces(empty, SHEETS)[0], SHEETS, code="nec-2023")
    assert (answer.state, figures(answer.headline)) == (State.OPEN, ())
    thin = csa_fill(spaces(made({"gauge": 20}, {}), SHEETS)[0], SHEETS)
    assert (thin.state, set(figures(thin.headline))) == (State.OPEN, {20}), "no allowance for 20 AWG"
    assert awg(20) not in CSA_ALLOWANCES


@pytest.mark.parametrize(
    ("enclosure", "device", "codes"),
    [
        ({"volume": "20 in3"}, None, []),
        ({"width": "2 in", "height": "3 in", "depth": "3 in"}, None, ["volume-measured"]),
        ({"volume": "20 in3", "width": "2 in", "height": "3 in", "depth": "3 in"}, None, []),
        (
            {"trade_size": "3x2x3-1/2", "material": "metal", "width": "2 in", "height": "3 in", "depth": "3 in"},
            None,
            [],
        ),
        ({"volume": "20 in3"}, 14, []),
        ({"volume": "20 in3"}, 12, ["gauge-not-in-box"]),
    ],
)
def test_remarks_of_the_american_count(enclosure: dict[str, Any], device: int | None, codes: list[str]) -> None:
    standing = [{"id": "d1", "gang": 1, "sheet": "flat", "gauge": device}]
    answer = fill_of(spaces(made({}, enclosure=enclosure, devices=standing), SHEETS)[0], SHEETS, code="nec-2023")
    assert [remark.code for remark in answer.remarks if remark.code in ("volume-measured", "gauge-not-in-box")] == codes


def test_a_size_by_the_gang_says_how_many_are_ganged() -> None:
    """Table 314.16(A): a 3 × 2 × 3½ device box holds 18.0 in³, two ganged 36.0, three 54.0."""
    said: list[Text] = []
    for gangs, held in ((1, 18), (2, 36), (3, 54)):
        enclosure = {"trade_size": "3x2x3-1/2", "material": "metal", "gangs": gangs}
        answer = fill_of(spaces(made({}, enclosure=enclosure), SHEETS)[0], SHEETS, code="nec-2023")
        assert answer.limit == held
        said.append(answer.limit_lines[0].what)
    assert [figures(one)[-1:] for one in said[1:]] == [(2,), (3,)] and len(figures(said[0])) < len(figures(said[1]))


def test_a_trade_size_says_nothing_where_the_code_goes_by_the_mark() -> None:
    """A size is another code's: it is said so. Of a box with neither, both ways to know it are named."""
    sized = made({}, enclosure={"trade_size": "3x2x3-1/2", "material": "metal"})
    answer = csa_fill(spaces(sized, SHEETS)[0], SHEETS)
    assert answer.limit is None and answer.limit_lines[0].value is None
    sized_why = answer.limit_lines[0].why
    answer = csa_fill(spaces(made({}, enclosure={}), SHEETS)[0], SHEETS)
    assert answer.limit is None and answer.limit_lines[0].why != sized_why, "the size is another code's"


def test_a_module_as_large_as_two_conductors_is_no_larger() -> None:
    """Two of 14 AWG are 4 in³ by one code, as 2 × 2 × 1 in are, and 49.2 mL by another, as 41 × 40 × 30 mm are."""
    for count, twice, size in (
        (partial(fill_of, code="nec-2023"), F(4), ("2 in", "2 in", "1 in")),
        (csa_fill, F("49.2"), ("41 mm", "40 mm", "30 mm")),
    ):
        body = dict(zip(("width", "height", "projection"), size, strict=True))
        sheet = Datasheet.model_validate({"id": "even", "name": "Even", "kind": "module", "body": body})
        box = made({}, modules=[{"id": "m1", "sheet": "even", "gauge": 14}])
        (line,) = (one for one in count(spaces(box, {})[0], {"even": sheet}).lines if one.kind == "modules")
        assert (line.value, line.count) == (twice, 2)


def test_canadian_answers_add_up_in_their_own_unit() -> None:
    """In mL: the mark as read, a ring in in³ turned; the space behind a barrier holds its share, no more."""
    rings = [{"kind": "Ring", "volume": "2 in3"}]
    standing = devices((1, "dark", ""), (2, "flat", ""), (3, "deep", ""))
    box = made(
        {}, enclosure={"volume": "500 mL", "gangs": 4, "rings": rings}, devices=standing, connectors=[{"count": 1}]
    )
    answer = csa_fill(spaces(box, SHEETS)[0], SHEETS)
    adds_up(answer)
    assert [(figures(line.what), line.count, line.value) for line in answer.lines if line.kind == "devices"] == [
        ((1,), 1, None), ((2,), 2, 2 * F("24.6")), ((3,), 1, F(320)),
    ]  # fmt: skip
    assert [(figures(line.what), line.value) for line in answer.lines if line.kind == "connectors"] == [((1,), F(0))]
    modules = made({}, modules=[{"id": "m1", "sheet": "bare"}])
    (line,) = (line for line in csa_fill(spaces(modules, SHEETS)[0], SHEETS, "body").lines if line.kind == "modules")
    assert (line.count, line.value) == (1, None)
    ringed = csa_fill(spaces(box, SHEETS)[0], SHEETS).limit_lines
    assert [(line.each, line.value) for line in ringed] == [(F(500), F(500)), (2 * IN3, 2 * IN3)]
    halves = made({}, enclosure={"volume": "40 in3", "gangs": 2, "barriers": [{"after": 1, "material": "metal"}]})
    answers = [csa_fill(space, SHEETS) for space in spaces(halves, SHEETS)]
    assert sum(answer.limit or 0 for answer in answers) == (40 - F("0.5")) * IN3
    for one in answers:
        adds_up(one)
    both = made({}, enclosure={"volume": "20 in3", "fittings": ["stud", "hickey"]})
    assert ("fittings", (), F("24.6")) in written(csa_fill(spaces(both, SHEETS)[0], SHEETS))
    empty = made(connectors=[{"count": 5}])
    (open_,) = (line for line in csa_fill(spaces(empty, SHEETS)[0], SHEETS).lines if line.kind == "connectors")
    assert (open_.count, open_.value) == (2, None)
    unsaid = made(connectors=[{"count": 2, "gauge": 14}, {"count": 1}])
    kinds = [line.value for line in csa_fill(spaces(unsaid, SHEETS)[0], SHEETS).lines if line.kind == "connectors"]
    assert kinds == [None]
    six = made({}, connectors=[{"count": 6}])
    assert ("connectors", (6,), 3 * F("24.6")) in written(csa_fill(spaces(six, SHEETS)[0], SHEETS))
    first = made({}, enclosure={"volume": "40 in3", "gangs": 2}, devices=devices((1, "blank", ""), (2, "flat", "")))
    assert ("devices", (2,), 2 * F("24.6")) in written(csa_fill(spaces(first, SHEETS)[0], SHEETS))
    two = made({}, connectors=[{"count": 2}])
    assert ("connectors", (2,), F("24.6")) in written(csa_fill(spaces(two, SHEETS)[0], SHEETS))


def test_why_a_line_counts_what_it_counts() -> None:
    """A wide yoke, one whose conductor was not entered, an idle wire, blocks by edition, a module: each its reason."""
    idle = {"conductors": [{"asserted_role": "line"}, {"asserted_role": "unused"}]}
    standing = [*devices((1, "deep", "")), {"id": "d3", "gang": 3, "sheet": "flat", "gauge": 14}]
    more: dict[str, Any] = {
        "enclosure": {"volume": "90 in3", "gangs": 4},
        "devices": standing,
        "terminal_blocks": [{}, {"count": 2}],
    }
    box = made(idle, {"gauge": 12}, **more)
    lines = fill_of(spaces(box, SHEETS)[0], SHEETS, "nec-2023").lines
    why = {(line.kind, *map(int, figures(line.what))): line.why for line in lines}
    assert why["conductors", 14] != why["conductors", 12], "one of them is abandoned or capped"
    assert figures(why["devices", 1]) == (2, 2) and figures(why["devices", 3]) == (), "2 in, and 2 gangs"
    older = fill_of(spaces(box, SHEETS)[0], SHEETS, "nec-2020")
    blocks = [
        (figures(line.what), line.value, [part.id for part in line.parts])
        for line in older.lines
        if line.kind == "terminal blocks"
    ]
    assert blocks == [((), F(0), ["block1"]), ((2,), F(0), ["block2"])]
    loose = spaces(made({}, modules=[{"id": "m1", "sheet": "large"}]), SHEETS)[0]
    schools: tuple[Any, ...] = ("body", "larger")
    reasons = {
        line.why
        for school in schools
        for line in fill_of(loose, SHEETS, school=school, code="nec-2023").lines
        if line.kind == "modules"
    }
    assert len(reasons) == 2, "by its body; by its body, which is larger than two allowances"
    none = fill_of(
        spaces(made({}, modules=[{"id": "m1", "sheet": "large"}]), SHEETS)[0], SHEETS, school="none", code="nec-2023"
    )
    assert [part.count for line in none.lines if line.kind == "modules" for part in line.parts] == [0]
    blank = fill_of(spaces(made({}, devices=devices((1, "blank", ""))), SHEETS)[0], SHEETS, code="nec-2023")
    assert "leads" not in [line.kind for line in blank.lines]
    assert "grounds" not in [line.kind for line in fill_of(spaces(made(), SHEETS)[0], SHEETS, code="nec-2023").lines]
    canopy = fill_of(spaces(made({"gauge": 18, "canopy": True, "grounds": 1}), SHEETS)[0], SHEETS, code="nec-2023")
    nothing = [line for line in canopy.lines if line.value == 0 and line.parts]
    assert [part.count for line in nothing for part in line.parts if part.id == "A"] == [0, 0]


def test_a_lone_connector_of_the_canadian_count_is_nothing_whatever_it_joins() -> None:
    """Every pair counts; CSA C22.1 12-3034, from memory."""
    lone = csa_fill(spaces(made(connectors=[{"count": 1}]), SHEETS)[0], SHEETS)
    assert [line.value for line in lone.lines if line.kind == "connectors"] == [0]
    reasons = set()
    for gauges in ((14, 12), (14, 14)):
        mixed = made({}, connectors=[{"count": 1, "gauge": gauge} for gauge in gauges])
        (line,) = (one for one in csa_fill(spaces(mixed, SHEETS)[0], SHEETS).lines if one.kind == "connectors")
        reasons.add(line.why)
    assert len(reasons) == 2, "of two sizes the largest stands for the pair, and it says so"


def test_a_canadian_box_is_tight_by_what_counts_in_it() -> None:
    """Two 14 AWG are 49.2 mL: 79.2 mL leave 30, which is one more 14 (24.6), if not one of the bare 10 AWG ground."""
    for volume, state in (("79.2 mL", State.HOLDS), ("73.7 mL", State.TIGHT)):
        grounded = made({"grounds": 1, "ground_gauge": 10}, enclosure={"volume": volume})
        assert csa_fill(spaces(grounded, SHEETS)[0], SHEETS).state is state
