"""Loads and limits of every kind: each figure is reckoned by hand beside it."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from nail_count.trade.check import check_box
from nail_count.trade.edits import make_edit
from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.assume import Assume
from nail_count.trade.model.box import Box, Device, Module
from nail_count.trade.model.complaint import Refused, complaints_of
from nail_count.trade.model.job import Terms
from nail_count.trade.model.load import LOAD_KINDS, Load, units_of
from nail_count.trade.model.measure import Power, parse_number
from nail_count.trade.model.sheet import Ambient, Sheet
from nail_count.trade.rules.inrush import PEAKS, peak
from nail_count.trade.rules.limits import share_at
from nail_count.trade.rules.motor import motor_amps
from nail_count.trade.rules.places import Place
from nail_count.trade.rules.rating import rating, rating_at
from nail_count.trade.speak import say
from tests.making import SWITCH, box, on

THREE = {"alone": "520 VA", "end": "430 VA", "middle": "350 VA"}


def sheet(channel: dict[str, Any] | None = None, **more: Any) -> Sheet:
    about = {"id": "odd", "name": "Odd", "kind": "dimmer", "channels": [channel] if channel else []}
    return Sheet.model_validate(about | more)


def hung(made: Sheet, *loads: dict[str, Any], place: Place | None = None, terms: Terms | None = None) -> Answer:
    """The first channel of a device of this sheet with these loads."""
    return rating_at(place or Place(), on(1, made, None, *loads), 1, made, terms or Terms())


def load(kind: str, each: str, quantity: int = 1, **more: Any) -> dict[str, Any]:
    return {"kind": kind, "each": each, "quantity": quantity, **more}


SNAP = sheet({"ratings": {"general": {"alone": "15 A"}}}, kind="switch")
SNAP_20 = sheet({"ratings": {"general": {"alone": "20 A"}}}, kind="switch")
MLV = sheet({"ratings": {"mlv": THREE, "incandescent": {"alone": "520 W"}}}, derating="by position")
MLV_AND_LAMPS = sheet({"ratings": {"mlv": {"alone": "520 VA"}, "mlv lamps": {"alone": "390 W"}}})
LISTS_ALL = sheet(
    {
        "ratings": {
            "led": {"alone": "90 W"},
            "elv": {"alone": "300 W"},
            "heater": {"alone": "8 A"},
            "cfl": {"alone": "100 VA"},
            "receptacle": {"alone": "15 A"},
            "motor": {"alone": "1/4 hp"},
        }
    }
)
RELAY = sheet({"ratings": {"lighting": {"alone": "6 A"}, "fan": {"alone": "2.5 A"}}}, kind="smart switch")

CASES: dict[str, tuple[Answer, str, str, State]] = {
    "MLV lamps without a transformer figure: 8 × 50 ÷ 0.75": (
        hung(MLV, load("mlv", "50 W", 8)),
        "520",
        "1600/3",
        State.FAILS,
    ),
    "the same with its loss known: 8 × (50 + 8)": (
        hung(MLV, load("mlv", "50 W", 8, loss="8 W")),
        "520",
        "464",
        State.HOLDS,
    ),
    "MLV given in VA": (hung(MLV, load("mlv", "60 VA", 5), place=Place(sides=2)), "350", "300", State.HOLDS),
    "lamps bind before the VA: 7 × 54 = 378 of 390 W (96.9 %), 7 × 57 = 399 of 520 VA (76.7 %)": (
        hung(MLV_AND_LAMPS, load("mlv", "54 W", 7, loss="3 W")),
        "390",
        "378",
        State.TIGHT,
    ),
    "½ hp on a 15 A snap switch: 9.8 of 12 A": (hung(SNAP, load("motor", "1/2 hp")), "12", "9.8", State.HOLDS),
    "¾ hp on the same: 13.8 of 12 A": (hung(SNAP, load("motor", "3/4 hp")), "12", "13.8", State.FAILS),
    "1 hp on 20 A: 16.0 of 16 A exactly": (hung(SNAP_20, load("motor", "1 hp")), "16", "16", State.TIGHT),
    "a fan's amps on a general-use switch are a motor's": (hung(SNAP, load("fan", "0.9 A")), "12", "0.9", State.HOLDS),
    "lamps on it take all of it: 10 × 60 ÷ 120": (hung(SNAP, load("incandescent", "60 W", 10)), "15", "5", State.HOLDS),
    "an outlet for the breaker of 15 A": (hung(SNAP, load("receptacle", "15 A")), "15", "15", State.TIGHT),
    "a heater: 900 ÷ 120 of 8 A": (hung(LISTS_ALL, load("heater", "900 W")), "8", "7.5", State.TIGHT),
    "compact fluorescents at half: 3 × 13 ÷ 0.5": (hung(LISTS_ALL, load("cfl", "13 W", 3)), "100", "78", State.HOLDS),
    "ELV in watts": (hung(LISTS_ALL, load("elv", "50 W", 4)), "300", "200", State.HOLDS),
    "hp against hp": (hung(LISTS_ALL, load("motor", "1/4 hp")), "0.25", "0.25", State.TIGHT),
    "measured in place of summed: 61 W instead of 72": (
        hung(LISTS_ALL, load("led", "12 W", 6, measured={"power": "61 W", "at": "2026-11-20T10:00:00"})),
        "90",
        "61",
        State.HOLDS,
    ),
    "two ratings, each its own: 85 ÷ (120 × 0.85) of 2.5 A": (
        hung(RELAY, load("fan", "85 W", power_factor="0.85")),
        "2.5",
        "5/6",
        State.HOLDS,
    ),
    "the job assumes a factor for motors: 90 ÷ (120 × 0.6)": (
        hung(RELAY, load("fan", "90 W"), terms=Terms(assume=Assume(motor_power_factor=F(3, 5)))),
        "2.5",
        "1.25",
        State.HOLDS,
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_worked_cases(name: str) -> None:
    answer, limit, connected, state = CASES[name]
    assert (answer.limit, answer.total) == (parse_number(limit), parse_number(connected))
    assert answer.state is state, say(answer.headline)


def test_motors_lose_a_fifth_on_a_snap_switch_under_the_nec_only() -> None:
    """404.14(A): 80 % of 15 A; elsewhere, and on a relay rated for anything, the figure stands."""
    relay = sheet({"ratings": {"general": {"alone": "15 A"}}}, kind="module")
    fan = load("fan", "2 A")
    assert [hung(SNAP, fan, terms=Terms(code=code)).limit for code in ("nec-2017", "nec-2023", "csa", "uk")] == [
        12,
        12,
        15,
        15,
    ]
    assert hung(relay, fan).limit == 15
    over = hung(SNAP, load("motor", "3/4 hp"))
    assert say(over.headline) == "13.8 A of motor on a switch of 15 A: 12 A at most"
    assert over.remarks[0].rule.article == "404.14(A), 430.109(C)" and len(over.remarks[0].ways) == 3
    large = hung(SNAP_20, load("motor", "3 hp", power_factor="0.9")).remarks[0]
    assert large.state is State.FAILS and "a motor of more than 2 hp" in say(large.text)
    named = hung(SNAP, fan, terms=Terms(code="nec-2017")).limit_lines[-1].rule.name
    assert named == "NEC 2017 404.14(A), 430.109(C)"


@pytest.mark.parametrize(
    ("hp", "amps"),
    [("1/6", "4.4"), ("1/4", "5.8"), ("1/3", "7.2"), ("1/2", "9.8"), ("3/4", "13.8"), ("1", "16")],
)
def test_motor_currents_of_the_table(hp: str, amps: str) -> None:
    """NEC Table 430.248, single-phase motors at 115 V; at 230 V half; from memory of the publication."""
    for voltage, times in ((115, 1), (120, 1), (230, 2), (240, 2)):
        assert motor_amps(parse_number(hp), voltage) == parse_number(amps) / times
    assert motor_amps(parse_number(hp), 208) is None and motor_amps(F(7, 8), 120) is None


def test_worst_case_inrush() -> None:
    """NEMA 410 at 120 V, from memory of the publication: the rows, halfway between two, and past the last."""
    assert [peak(parse_number(amps)) for amps in ("0.5", "1", "5", "16")] == [75, 107, 192, 242]
    assert peak(F(3, 2)) == F(107 + 144, 2) and peak(F(17)) is None
    assert [amps for amps, _ in PEAKS] == sorted(amps for amps, _ in PEAKS)
    stated = sheet({"ratings": {"lighting": {"alone": "6 A"}}, "inrush": "100 A"}, kind="smart switch")
    few, many = load("led", "9 W", 6, power_factor="0.9"), load("led", "9 W", 14, power_factor="0.9")
    assert hung(stated, few).state is State.HOLDS  # half an amp: 75 A
    found = hung(stated, many)  # 14 × 9 ÷ 108 = 7/6 A: 107 + 37/6 = 113.2 A
    assert found.state is State.FAILS and "113.17 A for an instant" in say(found.headline)


# by number ganged, reused sides, barriers, fallback, rule of thumb

BY_NUMBER = sheet({"ratings": {"led": {"alone": "150 W", "ganged": ["120 W", "100 W"]}}}, derating="by number")
BY_POSITION = sheet({"ratings": {"led": {"alone": "140 W", "end": "115 W", "middle": "90 W"}}}, derating="by position")
SILENT = sheet({"ratings": {"led": {"alone": "100 W"}}})
NO_LED = sheet({"ratings": {"led": {}, "incandescent": {"alone": "600 W", "end": "500 W"}}}, derating="by position")
LAMP = load("led", "9 W", 2)


def limit(made: Sheet, devices: tuple[Device, ...], gang: int = 1, **more: Any) -> F | None:
    terms = more.pop("terms", None)
    here = box("90 in3", 5, (), devices, **more)
    device = next(device for device in devices if device.gang == gang)
    return rating(here, device, 1, {made.id: made, SWITCH.id: SWITCH}, terms).limit


def test_by_number_ganged() -> None:
    """150 W for one, 120 for two, 100 for three and more; an empty gang parts the run."""
    rows = [
        tuple(on(gang, BY_NUMBER if gang == 1 else SWITCH) for gang in range(1, count + 1)) for count in (1, 2, 3, 5)
    ]
    assert [limit(BY_NUMBER, row) for row in rows] == [150, 120, 100, 100]
    assert limit(BY_NUMBER, (on(1, BY_NUMBER), on(3), on(4))) == 150


def test_a_side_once_broken_off_stays_off() -> None:
    """Reused from the end of a gang it carries 115 W alone; with its other side beside a neighbor, 90 W."""
    used = {"broken": ["left"]}
    alone = Device.model_validate(on(1, BY_POSITION).model_dump() | used)
    assert limit(BY_POSITION, (alone,)) == 115
    assert limit(BY_POSITION, (alone, on(2))) == 90  # its right side goes too
    last = Device.model_validate(on(2, BY_POSITION).model_dump() | used)
    assert limit(BY_POSITION, (on(1), last), 2) == 115  # the side that goes is gone already


def test_a_barrier_brings_no_side_back() -> None:
    devices = (on(1, BY_POSITION), on(2))
    assert (
        limit(BY_POSITION, devices, barriers=[{"after": 1, "material": "metal"}]) == limit(BY_POSITION, devices) == 115
    )


def test_what_the_sheet_does_not_say_holds_only_where_the_job_says_so() -> None:
    """No derating on the sheet: 100 W, or by the fallback 20 % and 35 % off. LED without one: a tenth of 600, 500."""
    fallback, thumb = Terms(assume=Assume(fallback_derating=True)), Terms(assume=Assume(tenth_for_led=True))
    row = (on(1), on(2, SILENT), on(3))
    assert [limit(SILENT, row[:2], 2), limit(SILENT, row, 2)] == [100, 100]
    assert [limit(SILENT, row[1:], 2, terms=fallback), limit(SILENT, row, 2, terms=fallback)] == [80, 65]
    shown = hung(SILENT, LAMP, place=Place(sides=1), terms=fallback).limit_lines[1]
    assert shown.rule.standing == "practice" and "the job takes off 20%" in say(shown.why)
    assert hung(NO_LED, LAMP).state is State.OPEN
    assert [hung(NO_LED, LAMP, place=Place(sides=n), terms=thumb).limit for n in (0, 1)] == [60, 50]
    assert hung(NO_LED, LAMP, terms=thumb).limit_lines[0].rule.standing == "practice"


# several kinds, minimums, duty

OWN_TABLE = sheet(
    {
        "ratings": {"led": {"alone": "300 W"}, "incandescent": {"alone": "1000 W"}, "elv": {"alone": "400 W"}},
        "mixing": "own table",
        "mixed": [
            {"led": {"alone": "100 W"}, "incandescent": {"alone": "700 W"}},
            {"led": {"alone": "200 W", "end": "160 W"}, "incandescent": {"alone": "300 W", "end": "240 W"}},
        ],
    },
    derating="by position",
)


def test_the_sheets_own_table_wins_over_adding_fractions() -> None:
    """150 W of LED and 240 W of bulbs: row 1 has 150/100; row 2 has 150/200 and 240/300, of which 0.8 binds."""
    both = (load("led", "10 W", 15), load("incandescent", "60 W", 4))
    assert (hung(OWN_TABLE, *both).total, hung(OWN_TABLE, *both).state) == (F(4, 5), State.HOLDS)
    beside = hung(OWN_TABLE, *both, place=Place(sides=1))  # 150/160 and 240/240
    assert (beside.total, beside.state) == (F(1), State.TIGHT) and len(beside.lines) == 2
    none = hung(OWN_TABLE, load("led", "10 W"), load("elv", "50 W"))
    assert none.state is State.FAILS and "no row of the sheet's table" in say(none.headline)


def test_minimum_by_kind_and_with_the_fewest_on() -> None:
    made = sheet({"ratings": {"led": {"alone": "150 W"}, "mlv": {"alone": "400 VA"}}, "minimum": "10 W",
                  "minimums": {"mlv": "40 W"}}, bypass=True)  # fmt: skip
    assert hung(made, load("led", "6 W", 2)).state is State.HOLDS
    fewest = hung(made, load("led", "6 W", 4, fewest=1))
    assert fewest.state is State.FAILS and "fewest of them on only 6 W" in say(fewest.headline)
    found = hung(made, load("mlv", "35 W"), load("led", "6 W", 2))
    assert found.state is State.FAILS and "35 W connected, below the minimum load of 40 W for magnetic" in say(
        found.headline
    )
    assert any("a bypass at the lamp" in way for remark in found.remarks for way in remark.ways)


def test_continuous_counts_125_percent_where_the_sheet_says_so() -> None:
    """8.3 A: all of it continuous leaves 8.3 ÷ 1.25 = 6.64 A; part of it counts 1.25 times: 2 + 1.25 × 4 = 7 A."""
    made = sheet(
        {"ratings": {"heater": {"alone": "8.3 A"}, "lighting": {"alone": "8.3 A"}}}, kind="countdown", continuous=True
    )
    heater = hung(made, load("heater", "6 A"))
    assert (heater.limit, heater.total, heater.state) == (F(664, 100), F(6), State.TIGHT)
    assert sum(line.value or 0 for line in heater.limit_lines if line.kind == "duty") == F(-166, 100)
    bulbs = (load("incandescent", "240 W"), load("incandescent", "480 W", continuous=True))
    assert (hung(made, *bulbs).limit, hung(made, *bulbs).total) == (F(83, 10), F(7))
    assert hung(made, *bulbs, terms=Terms(code="uk")).total == 6  # no such factor there


# heat and ambient, modules, totals

CURVE = Ambient.model_validate(
    {
        "stops_at": "60",
        "curve": [{"at": "35", "share": "1"}, {"at": "50", "share": "0.7"}, {"at": "60", "share": "0.3"}],
    }
)


@pytest.mark.parametrize(
    ("ambient", "around", "share"),
    [
        (CURVE, "30", "1"),
        (CURVE, "41", "0.88"),  # 1 − 0.3 × 6/15
        (CURVE, "55", "0.5"),
        (CURVE, "60.1", "0"),
        (Ambient.model_validate({"holds_to": "40 °C", "stops_at": "140 °F"}), "50", "0.5"),  # a straight line to 60 °C
        (Ambient.model_validate({"stops_at": "45"}), "45", "1"),
        (Ambient.model_validate({"stops_at": "45"}), "45.1", "0"),
    ],
)
def test_what_is_left_of_a_rating_in_the_warm(ambient: Ambient, around: str, share: str) -> None:
    assert share_at(ambient, parse_number(around)) == parse_number(share)


def test_steps_come_in_their_order_and_add_up() -> None:
    """520 VA alone, 430 at the end, half of it in the warm, and 125 %: 430 × 0.5 ÷ 1.25 = 172."""
    made = sheet({"ratings": {"mlv": THREE}}, derating="by position", continuous=True,
                 ambient={"holds_to": "40", "stops_at": "60"})  # fmt: skip
    answer = hung(made, load("mlv", "50 VA", continuous=True), place=Place(sides=1, ambient=F(50)))
    assert [(line.kind, line.value) for line in answer.limit_lines] == [
        ("rating", F(520)), ("position", F(-90)), ("heat", F(-215)), ("duty", F(-43)),
    ]  # fmt: skip
    assert answer.limit == 172


def test_channels_of_a_module_share_a_total() -> None:
    """Two channels of 6 A each, 10 A together: 5.5 + 5 A holds on each and is 0.5 A too much in all."""
    channel = {"ratings": {"incandescent": {"alone": "720 W"}}}
    two = sheet(None, kind="module", channels=[channel, channel], total="10 A")
    loads = [
        load("incandescent", "66 W", 10) | {"id": "a"},
        load("incandescent", "60 W", 10) | {"id": "b", "channel": 2},
    ]
    module = Module.model_validate({"id": "m1", "sheet": "odd", "loads": loads})
    made = Box(id="b", name="B", room="R", modules=(module,))
    one, other, together = check_box(made, {"odd": two}).ratings
    assert (one.state, other.state, together.state) == (State.TIGHT, State.HOLDS, State.FAILS)
    assert (together.subject, together.total, together.limit) == ("m1/total", F(21, 2), F(10))


# findings

DIMS = sheet({"ratings": {"led": {"alone": "150 W"}, "mlv": {"alone": "300 VA"}, "elv": {"alone": "300 W"}},
              "not_permitted": ["cfl"]}, phase="forward", lamp_settings=["led", "mlv"])  # fmt: skip


@pytest.mark.parametrize(
    ("hangs", "said", "article"),
    [
        (load("receptacle", "15 A"), "an outlet takes whatever is plugged in", "404.14(E)"),
        (load("fan", "0.8 A"), "fan is not on the sheet: not permitted", "404.14(E)"),
        (load("fluorescent", "32 W"), "fluorescent is not on the sheet", "404.14(E)"),
        (load("cfl", "13 W"), "the sheet does not permit it", "404.14(E)"),
        (load("elv", "50 W"), "wants reverse phase; this dims by forward phase", "110.3(B)"),
        (load("led", "9 W", dimmable=False), "not made for dimming", "110.3(B)"),
        (load("incandescent", "40 W"), "incandescent is not on the sheet", "110.3(B)"),
    ],
)
def test_what_may_not_hang_on_a_dimmer(hangs: dict[str, Any], said: str, article: str) -> None:
    answer = hung(DIMS, hangs)
    finding = next(remark for remark in answer.remarks if remark.state is State.FAILS)
    assert answer.state is State.FAILS and said in say(finding.text)
    assert finding.rule.article == article and finding.ways


def test_what_is_set_on_it_must_be_what_is_fitted() -> None:
    made = Device.model_validate(on(1, DIMS, None, load("mlv", "50 VA")).model_dump() | {"lamp_setting": "led"})
    answer = rating_at(Place(), made, 1, DIMS, Terms())
    assert answer.state is State.FAILS and "it is set to LED" in say(answer.headline)


def test_a_60_w_led_is_asked_about_and_never_converted() -> None:
    """More than 25 W for one LED lamp may be the lamp it replaces; said to be what it draws, it counts as it stands."""
    assert [hung(SILENT, load("led", each)).state for each in ("25 W", "25.5 W")] == [State.HOLDS, State.OPEN]
    asked = hung(SILENT, load("led", "60 W"))
    assert asked.state is State.OPEN and asked.total == 60 and "or the lamp it replaces?" in say(asked.headline)
    made = box("20 in3", 1, (), (on(1, SILENT, None, load("led", "60 W")),))
    edit = make_edit(made, "draws-that", {"load": "l10"}, {"odd": SILENT})
    assert rating(edit.box, edit.box.devices[0], 1, {"odd": SILENT}).state is State.HOLDS


BAD_LOADS = [
    (load("led", "1 hp"), "each", "expected W for LED, not hp"),
    (load("led", "0 W"), "each", "expected more than 0 and at most 500 W"),
    (load("led", "9000 W"), "each", "at most 500 W for one LED"),
    (load("fan", "85 W", power_factor="1.2"), "power_factor", "above 0 and at most 1"),
    (load("fan", "85 W", power_factor="0"), "power_factor", "above 0 and at most 1"),
    (load("led", "9 W", loss="4 W"), "loss", "only for magnetic low voltage"),
    (load("led", "9 W", 3, fewest=4), "fewest", "expected at most 3"),
]


@pytest.mark.parametrize(("said", "field", "sentence"), BAD_LOADS)
def test_absurd_loads_are_refused_beside_the_field(said: dict[str, Any], field: str, sentence: str) -> None:
    made = box("20 in3", 1, (), (on(1, SILENT),))
    with pytest.raises(Refused) as wrong:
        make_edit(made, "add-load", {"device": "d1", **said}, {"odd": SILENT})
    assert wrong.value.complaints[0].path[-1] == field and sentence in wrong.value.sentence


def test_negative_watts_are_refused() -> None:
    with pytest.raises(Refused, match="expected a power such as"):
        make_edit(
            box("20 in3", 1, (), (on(1, SILENT),)),
            "add-load",
            {"device": "d1", "kind": "led", "each": "-9 W"},
            {"odd": SILENT},
        )


@pytest.mark.parametrize(
    ("about", "sentence"),
    [
        ({"channels": [{"ratings": {"led": {"alone": "90 W", "end": "115 W"}}}]}, "a neighbor never lets"),
        ({"channels": [{"ratings": {"led": {"alone": "90 W", "ganged": ["80 W", "85 W"]}}}]}, "a neighbor never lets"),
        ({"channels": [{"ratings": {"led": {"alone": "1/2 hp"}}}]}, "expected W or VA or A for LED, not hp"),
        ({"channels": [{"ratings": {"led": {}}, "not_permitted": ["led"]}]}, "not both"),
        ({"channels": [{"mixing": "own table"}]}, "own table of mixed loads"),
        (
            {"ambient": {"stops_at": "60", "curve": [{"at": "40", "share": "0.5"}, {"at": "50", "share": "0.6"}]}},
            "falls as it gets warmer",
        ),
        ({"ambient": {"holds_to": "70", "stops_at": "60"}}, "at most the stated maximum"),
        ({"ambient": {"stops_at": "warm"}}, "expected a temperature such as 40 °C"),
        ({"total": "100 W"}, "expected the total of all channels in A"),
        ({"heat": {"share": "0.5"}}, "from 0 to 0.2"),
    ],
)
def test_a_sheet_that_cannot_be_is_refused(about: dict[str, Any], sentence: str) -> None:
    with pytest.raises(ValidationError) as wrong:
        sheet(None, **about)
    assert sentence in complaints_of(wrong.value)[0].sentence


# what is true of everything

FIGURES = st.lists(st.integers(1, 2000), min_size=3, max_size=3).map(lambda found: sorted(found, reverse=True))


@given(
    FIGURES,
    st.integers(0, 2),
    st.integers(20, 70),
    st.sampled_from(("by position", "by number", "not stated")),
    st.booleans(),
)
def test_every_step_only_lowers_and_a_neighbor_never_raises(
    figures: list[int], sides: int, warm: int, derating: str, continuous: bool
) -> None:
    one, two, three = (f"{figure} W" for figure in figures)
    rating_ = (
        {"alone": one, "ganged": [two, three]}
        if derating == "by number"
        else {"alone": one, "end": two, "middle": three}
    )
    made = sheet({"ratings": {"incandescent": rating_}}, derating=derating, continuous=continuous,
                 ambient={"holds_to": "40", "stops_at": "65"})  # fmt: skip
    hangs = load("incandescent", "40 W", continuous=True)
    found = [hung(made, hangs, place=Place(n, n + 1, F(warm))) for n in (sides, min(sides + 1, 2))]
    for answer in found:
        assert all(line.value is not None and line.value <= 0 for line in answer.limit_lines[1:])
        assert answer.limit is not None and 0 <= answer.limit <= figures[0]
    assert found[1].limit <= found[0].limit  # type: ignore[operator]
    warmer = hung(made, hangs, place=Place(sides, sides + 1, F(warm + 5))).limit
    assert warmer is not None and found[0].limit is not None and warmer <= found[0].limit


@given(st.sampled_from(LOAD_KINDS), st.integers(1, 40), st.integers(1, 9))
def test_more_of_a_load_never_leaves_more(kind: Any, quantity: int, each: int) -> None:
    """On every kind and unit, against a sheet that rates all kinds by one figure."""
    for unit in units_of(kind):
        fewer, more = (
            Load(id="l1", kind=kind, each=Power(F(each, 8), unit), quantity=n) for n in (quantity, quantity + 1)
        )
        answers = [
            rating_at(Place(), Device(id="d", gang=1, sheet="odd", loads=(one,)), 1, SNAP, Terms())
            for one in (fewer, more)
        ]
        assert (answers[0].lines[0].value is None) == (answers[1].lines[0].value is None)
        if answers[0].lines[0].value is not None:
            assert answers[0].margin is not None and answers[1].margin is not None
            assert answers[1].margin < answers[0].margin
