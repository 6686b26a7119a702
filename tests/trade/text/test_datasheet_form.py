"""Sheets copied from a leaflet: what can be said reads back, what is wrong is said at its field, what lacks is open."""

from __future__ import annotations

from fractions import Fraction as F
from importlib.resources import files
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.files.job_json import read_job
from nail_count.trade.model.datasheet import DEVICE_KINDS, LISTED, TERMINAL_ROLES, Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Terms
from nail_count.trade.model.load import RATED_KINDS, RatedKind
from nail_count.trade.model.measure import Power
from nail_count.trade.plan.relamping import carries, relamping
from nail_count.trade.survey.datasheet_gaps import missing
from nail_count.trade.text.datasheet_form import read_sheet, write_sheet
from nail_count.trade.text.format import say
from tests.support import box, on

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
SHEETS = {sheet.id: sheet for sheet in HOUSE.sheets}


@pytest.mark.parametrize("id", SHEETS)
def test_what_the_form_shows_reads_back_as_the_sheet(id: str) -> None:
    assert read_sheet(write_sheet(SHEETS[id]), id) == SHEETS[id]


FIGURES = st.lists(st.fractions(1, 2000, max_denominator=8), min_size=0, max_size=6).map(
    lambda f: sorted(f, reverse=True)
)
WORDS = st.text("abcdefgh xyz", max_size=12).map(lambda text: " ".join(text.split()))


@st.composite
def ratings(draw: st.DrawFn, by_number: bool) -> dict[str, Any]:
    figures = [str(Power(one, "W")) for one in draw(FIGURES)]
    if by_number:
        return {"alone": figures[0], "ganged": figures[1:]} if figures else {}
    return dict(zip(("alone", "end", "middle"), figures, strict=False))


@st.composite
def channels(draw: st.DrawFn, by_number: bool) -> dict[str, Any]:
    kinds = draw(st.lists(st.sampled_from(RATED_KINDS), unique=True, max_size=4))
    listed, forbidden = kinds[:3], kinds[3:]
    rows = st.dictionaries(st.sampled_from(RATED_KINDS), ratings(by_number), min_size=1, max_size=3)
    mixed = draw(st.lists(rows, max_size=2))
    return {
        "name": draw(WORDS), "ratings": {kind: draw(ratings(by_number)) for kind in listed}, "not_permitted": forbidden,
        "minimum": draw(st.none() | st.just("10 W")), "minimums": dict.fromkeys(listed[:1], "5 W"),
        "mixing": "own table" if mixed else draw(st.sampled_from(("fractions add", "not allowed"))), "mixed": mixed,
        "inrush": draw(st.none() | st.just("80 A")),
    }  # fmt: skip


@st.composite
def sheets(draw: st.DrawFn) -> Datasheet:
    derating = draw(st.sampled_from(("by position", "by number", "none needed", "not stated")))
    degrees = sorted(draw(st.sets(st.integers(20, 90), max_size=4)))
    shares = sorted(draw(st.lists(st.fractions(0, 1, max_denominator=7), min_size=len(degrees), max_size=len(degrees))))
    points = [{"at": at, "share": share} for at, share in zip(degrees, reversed(shares), strict=True)]
    terminal = st.fixed_dictionaries(
        {"role": st.sampled_from(TERMINAL_ROLES), "kind": st.sampled_from(("lead", "screw")), "color": WORDS}
    )
    body = {"width": "1 3/4 in", "height": "70 mm", "projection": "1.3 in"}
    flags = {name: draw(st.booleans()) for name in ("continuous", "battery", "bypass", "class2", "metering")}
    unsure = ("reversible", "local", "full_range", "input_at_mains")
    return Datasheet.model_validate(
        flags
        | {name: draw(st.sampled_from((None, True, False))) for name in unsure}
        | {
            "id": "any", "name": "Any " + draw(WORDS), "maker": draw(WORDS),
            "kind": draw(st.sampled_from(DEVICE_KINDS)),
            "gangs": draw(st.integers(1, 4)), "derating": derating, "body": draw(st.none() | st.just(body)),
            "channels": draw(st.lists(channels(derating == "by number"), max_size=3)),
            "ambient": draw(st.none() | st.just({"stops_at": "95", "curve": points})),
            "terminals": draw(st.lists(terminal, max_size=5)), "heat": {"share": draw(st.none() | st.just(F(1, 30)))},
            "listed": draw(st.lists(st.sampled_from(LISTED))), "total": draw(st.none() | st.just("10 A")),
        }
    )  # fmt: skip


@settings(max_examples=50)
@given(sheets())
def test_whatever_a_sheet_holds_its_form_loses_nothing(sheet: Datasheet) -> None:
    assert read_sheet(write_sheet(sheet), "any") == sheet


def test_no_two_sheets_of_the_library_decide_alike() -> None:
    """All but names and makers differs between any two, and every kind of device is there."""
    said = [sheet.model_dump(exclude={"id", "maker", "name"}) for sheet in SHEETS.values()]
    assert all(one != other for number, one in enumerate(said) for other in said[:number])
    assert {sheet.kind for sheet in SHEETS.values()} == {
        *("switch", "dimmer", "smart switch", "fan control", "countdown", "sensor"),
        *("receptacle", "remote", "module", "blank"),
    }
    assert {len(sheet.channels) for sheet in SHEETS.values() if sheet.is_module} == {0, 1, 2, 3}
    assert any(sheet.metering for sheet in SHEETS.values())


def test_copying_a_leaflet_as_people_write() -> None:
    typed = {
        "name": "Odd dimmer", "kind": "dimmer", "derating": "by number", "body-width": "1 3/4", "body-height": "70 mm",
        "body-projection": "1.3 in", "heat-share": "1.5 %", "heat-standby": "0.6", "ambient-stops_at": "140 °F",
        "ambient-curve": "35: 100%, 60 °C: 0.3", "terminals": "second load red, ground green screw, traveler",
        "ch1-led-alone": "150 W", "ch1-led-second": "120", "ch1-led-third": "100 W", "ch1-elv-alone": "?",
        "ch1-cfl-alone": "no", "ch1-led-least": "5", "ch1-minimum": "10 W",
        "ch1-mixed": "100, 80 W LED + 300 W incandescent; 20 W led + 500 W incandescent",
        "ch1-incandescent-alone": "600 W",
    }  # fmt: skip
    sheet = read_sheet(typed, "odd")
    outlet = sheet.channels[0]
    assert [str(figure) for figure in outlet.ratings["led"].ganged] == ["120 W", "100 W"]
    assert outlet.ratings["elv"].alone is None and outlet.not_permitted == ("cfl",)
    assert str(outlet.minimums["led"]) == "5 W" and len(outlet.mixed) == 2 and outlet.mixing == "own table"
    assert sheet.body is not None and sheet.body.height.mm == 70 and sheet.heat.share == F(15, 1000)
    assert sheet.ambient is not None and (sheet.ambient.stops_at, sheet.ambient.curve[1].share) == (F(60), F(3, 10))
    assert [(one.role, one.color, one.kind) for one in sheet.terminals] == [
        ("second load", "red", "lead"), ("ground", "green", "screw"), ("traveler", "", "lead"),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("field", "text", "expected"),
    [
        ("name", "", "missing"),
        ("ch1-led-alone", "-5 W", "Enter a power such as"),
        ("ch1-led-alone", "140", "has no unit"),
        ("ch1-led-second", "160 W", "a neighbor never lets a device carry more"),
        ("ch1-led-alone", "1/2 hp", "Enter W or VA or A for LED, not hp"),
        ("ch1-minimum", "0.1 A", "Enter the minimum load in W"),
        ("ch1-mixed", "some LED", "Enter rows such as 100 W led"),
        ("body-width", "1.75", "Enter all three of the body"),
        ("terminals", "live black", "Enter leads such as line black"),
        ("ambient-curve", "40: 50%, 50: 60%", "fall as it gets warmer"),
        ("ambient-curve", "warm: much", "Enter points such as 40 °C: 100%"),
        ("heat-share", "60%", "from 0 to 0.2"),
        ("leads", "many", "a whole number"),
        ("total", "5 W", "in A"),
        ("channels", "9", "Enter at most 8 channels"),
        ("channels", "9" * 5000, "Enter at most 8 channels"),
    ],
)
def test_what_is_wrong_is_said_at_its_field(field: str, text: str, expected: str) -> None:
    typed = {"name": "Odd", "kind": "dimmer", "derating": "by position", "ch1-led-alone": "140 W"} | {field: text}
    with pytest.raises(Rejected) as wrong:
        read_sheet(typed, "odd")
    said = {str(c.path[0]): c.sentence for c in wrong.value.problems if c.path}
    where = next(name for name, sentence in said.items() if expected in sentence)
    assert where == {"body-width": "body-height"}.get(field, field)


def test_a_curve_agrees_with_where_the_rating_holds() -> None:
    """The sheet says that its rating holds to 50 °C, its curve gives 75% at 45 °C: one was misread."""
    typed = {"name": "Odd", "kind": "dimmer", "ch1-led-alone": "150 W", "ambient-holds_to": "50 °C"}
    warm = typed | {"ambient-stops_at": "60"}
    assert read_sheet(warm | {"ambient-curve": "55: 80%, 60: 40%"}, "odd").ambient is not None
    with pytest.raises(Rejected, match="make the curve agree") as wrong:
        read_sheet(warm | {"ambient-curve": "45: 75%, 60: 40%"}, "odd")
    assert [one.path for one in wrong.value.problems] == [("ambient-curve",)]


@given(
    st.dictionaries(
        st.sampled_from(sorted({name for s in HOUSE.sheets for name in write_sheet(s)})), st.text(max_size=12)
    )
)
def test_whatever_is_typed_is_a_sheet_or_a_sentence(typed: dict[str, str]) -> None:
    try:
        sheet = read_sheet(typed, "any")
    except Rejected as wrong:
        assert all(problem.sentence for problem in wrong.problems)
        return
    assert Datasheet.model_validate_json(sheet.model_dump_json(exclude_none=True)) == sheet


def labeled(sheet: Datasheet, *loads: dict[str, Any]) -> tuple[dict[RatedKind, str], tuple[str, ...]]:
    """What the label says of the first channel, and what one lamp may draw by the relamping table."""
    made = box("20 in3", 1, (), (on(1, sheet, None, *loads),))
    sheets_ = {sheet.id: sheet}
    label = {kind: say((most,)) for kind, most in carries(made, sheets_, Terms())[0].most if most}
    return label, tuple(say((row.most,)) if row.most else "" for row in relamping([made], sheets_, lambda _: Terms()))


def test_a_label_says_the_limit_the_bench_says() -> None:
    """A motor on a 15 A switch: 12 A; all day on a sheet that counts 125 %: 8.3 ÷ 1.25; lamps in VA stay in VA."""
    toggle, countdown = SHEETS["marrowby-toggle"], SHEETS["quillby-countdown"]
    assert labeled(toggle, {"kind": "motor", "each": "1/4 hp"})[0] == {"general": "12 A"}
    bulb = {"kind": "incandescent", "each": "60 W", "quantity": 2}
    assert labeled(countdown, bulb | {"continuous": True}) == ({"lighting": "6.64 A"}, ("398.4 W",))
    assert labeled(SHEETS["marrowby-rocker-dimmer"], {"kind": "mlv", "each": "60 VA", "quantity": 4})[1] == ("130 VA",)
    wide = labeled(SHEETS["ostrel-wide-dimmer"], bulb, {"kind": "led", "each": "9 W"})
    assert wide[1] == ("", "")  # its own table says what goes, and no one figure does


def test_what_a_leaflet_does_not_say_is_open() -> None:
    assert {point.field for point in missing(SHEETS["fennimar-two-wire-dimmer"])} == {"ch1-led-alone", "heat-standby"}
    bare = Datasheet(id="odd", name="Odd", kind="dimmer")
    assert {"body-width", "neutral", "channels", "terminals", "local"} <= {point.field for point in missing(bare)}
    known = set(write_sheet(SHEETS["tarn-two"])) | {"ch1-led-alone", "ch1-led-second", "ch1-elv-alone"}
    for sheet in HOUSE.sheets:
        for point in missing(sheet):
            assert point.field in known | set(write_sheet(sheet)) and point.sentence


def test_the_label_and_the_relamping_table() -> None:
    """Stair foot, gang 2: a dimmer in the middle, 90 W for nine lamps: 10 W each; mixed lamps share what is left."""
    boxes = {box.id: box for box in HOUSE.boxes}
    label = carries(boxes["stair-foot"], SHEETS, HOUSE.terms)
    said = [(one.title, [(kind, say((most,)) if most else "") for kind, most in one.most]) for one in label]
    assert said[1] == ("Gang 2: Assembly hall", [("led", "90 W")])
    rows = {(row.box.id, row.named): row for row in relamping(HOUSE.boxes, SHEETS, HOUSE.terms_at)}
    hall = rows["stair-foot", "hall pendants"]
    assert hall.most is not None and (hall.most.value, hall.quantity, hall.dims) == (F(10), 9, True)
    # 120 of 430 W are taken by bulbs, so LED may take (1 − 120/430) × 115 W ÷ 5 = 16.58, rounded down
    cache_version = rows["reading-room", "shelf lamps"]
    assert cache_version.most is not None and say((cache_version.most,)) == "16.5 W"
    loft = rows["loft", "loft lamps"]
    assert loft.most is None and loft.limit is None
