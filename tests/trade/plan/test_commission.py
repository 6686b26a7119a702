"""Brought into use: in the order of the trade; what should burn by another solver; names, serials, trim, watts."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.assumptions import ASSUME
from nail_count.trade.model.box import Device
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.model.load import Load
from nail_count.trade.model.measure import Power
from nail_count.trade.model.tick import Step, Tick, refusal, ticked
from nail_count.trade.plan.commission.expect import burning, expected
from nail_count.trade.plan.commission.progress import progress_of_each, refuse_early
from nail_count.trade.plan.commission.steps import to_commission
from nail_count.trade.plan.commission.trim import LEVELS, next_trim
from nail_count.trade.plan.commission.watts import weighed
from nail_count.trade.plan.planned import planned_of
from nail_count.trade.text.sounds import sound_alike
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.hookup.network import thrown
from nail_count.trade.wiring.hookup.readings import usual_states
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.outside import voltages
from tests.trade.wiring.hookup.schemes import PROVEN, over_two_circuits

RADIO = {"radio": "hall hub", "pairing": "hold it", "local": True, "metering": True}


def with_radio(house: Job, **more: object) -> Job:
    """The house with a radio in every device that has a neutral."""
    sheets = tuple(
        one.changed(**{**RADIO, **more}) if any(end.role == "neutral" for end in one.terminals) else one
        for one in house.sheets
    )
    return house.changed(sheets=sheets)


def edited(house: Job, act: str, box: str = "a", **fields: object) -> Job:
    documents = read_edit(act, {"box": box, **fields}).apply(Documents(JobAtHand(house), {})).documents
    return documents.job


def looked_at(house: Job) -> Job:
    """The house hooked up, every color looked at: nothing of it is open."""
    for box in house.boxes:
        with suppress(Rejected):  # all of them were seen already
            house = edited(house, "colors-as-usual", box.id)
    return hooked_up(house)


SMART = with_radio(looked_at(PROVEN["feed at the switch, smart"]))


def test_the_order_is_that_of_the_trade() -> None:
    """Code before all, firmware before anything is set, a name before it is paired, tried after all of it."""
    (device,) = to_commission(SMART, "a")
    kinds = [one.step.kind for one in device.steps]
    order = ["recorded", "joined the hub", "named", "updated", "set", "paired", "tried by hand", "tried from the hub"]
    order += ["tried without the network", "tried after an outage", "weighed", "built"]
    assert list(dict.fromkeys(kinds)) == order
    assert len({one.step for one in device.steps}) == len(device.steps), "each by what it is, never by its number"
    assert to_commission(hooked_up(PROVEN["feed at the switch, switch"]), "a") == (), "a plain switch is in no hub"


@pytest.mark.parametrize("name", PROVEN)
def test_what_should_burn_is_what_another_solver_lights(name: str) -> None:
    """At every place of every scheme, begun with everything off: the loads named are those with voltage across them."""
    house = looked_at(PROVEN[name])
    for box in house.boxes:
        seen = look(house, box.id)
        network, begun = seen.seen.network, usual_states(seen.seen)["breakers on, everything off"]
        gear = {one.id: one for one in network.gear}
        for item in box.equipment:
            must = expected(seen, f"{box.id}/{item.id}")
            for trial in (*must.by_hand, *must.by_hub):
                volts = voltages(network, thrown(network, begun, gear[trial.gear], trial.output))
                mine = [load for load in network.loads if load.id in gear[f"{box.id}/{item.id}"].all_controls]
                apart = [abs(volts[load.one] - volts[load.other]) > 100 for load in mine]
                named = [seen.seen.load_names[load.id] for load in mine]
                assert sorted(trial.burns) == sorted(name for name, lit in zip(named, apart, strict=True) if lit)
                assert sorted(trial.dark) == sorted(name for name, lit in zip(named, apart, strict=True) if not lit)
            assert must.open or must.by_hand, "a device with something on it is tried somewhere"
            assert all(trial.burns for trial in must.by_hub), "on from the hub lights something"
            if must.by_hub:
                assert any(lit for _, lit in burning(seen, f"{box.id}/{item.id}", on=True))
                assert not any(lit for _, lit in burning(seen, f"{box.id}/{item.id}", on=False))


def test_nothing_is_expected_of_what_is_not_proven() -> None:
    bare = with_radio(PROVEN["feed at the switch, smart"])
    assert expected(look(bare, "a"), "a/d1").open
    (device,) = to_commission(bare, "a")
    (tried,) = (one for one in device.steps if one.step.kind == "tried by hand")
    assert not tried.idle and "isn't known yet" in tried.what[0], "what nobody said is not settled"


@pytest.mark.parametrize("house", (over_two_circuits(), PROVEN["a radio pair behind a plain pair"]))
def test_what_works_another_over_the_network_is_tried_so(house: Job) -> None:
    """What must burn is what the other lights in the other solver, though it hang on another circuit."""
    house = with_radio(looked_at(house))
    key, of = next((box.id, item) for box in house.boxes for item in box.equipment if item.commands)
    documents = Documents(JobAtHand(house), {})
    steps = to_commission(wired_with(documents, documents.box(key)), key)[0].steps
    (tried,) = (one for one in steps if one.step.kind == "tried over the network")
    far = look(house, of.commands.partition("/")[0])
    begun = usual_states(far.seen)["breakers on, everything off"]
    gear = next(one for one in far.seen.network.gear if one.id == of.commands)
    volts = voltages(far.seen.network, thrown(far.seen.network, begun, gear, 0))
    lit = [one for one in far.seen.network.loads if abs(volts[one.one] - volts[one.other]) > 100]
    assert tried.trial is not None and sorted(tried.trial.burns) == sorted(far.seen.load_names[one.id] for one in lit)
    assert lit and "tried by hand" not in {one.step.kind for one in steps}
    (without,) = (one for one in steps if one.step.kind == "tried without the network")
    assert any("it does nothing" in line for line in without.what)
    ended = planned_of(tried.step, documents.box(key))
    other = edited(house, "work-over", key, item=of.id, commands="")
    assert planned_of(tried.step, next(one for one in other.boxes if one.id == key)) != ended, "it is to be tried again"
    (early,) = progress_of_each(to_commission(house, key), (), documents.box(key))
    with pytest.raises(Rejected):
        refuse_early(early, tried.step)


def tick(number: int, step: Step, because: str = "") -> Tick:
    said = {"id": f"t{number}", "box": "a", "step": refusal(step) if because else step, "because": because}
    return Tick.model_validate({**said, "at": f"2026-03-02T{8 + number:02}:00"})


def test_out_of_order_is_refused_and_what_was_refused_opens_the_way() -> None:
    devices = to_commission(SMART, "a")
    steps = {one.step.kind: one.step for one in devices[0].steps}

    def refused(kind: str, *ticks: Tick) -> str:
        try:
            refuse_early(progress_of_each(devices, ticks, SMART.boxes[0])[0], steps[kind])  # type: ignore[index]
        except Rejected as wrong:
            return str(wrong)
        return ""

    assert "Join it to its hub first" in refused("named") and "firmware first" in refused("set")
    assert not refused("recorded") and not refused("tried after an outage")
    joined = tick(1, steps["joined the hub"])
    assert not refused("named", joined) and "firmware first" in refused("set", joined)
    assert not refused("set", joined, tick(2, steps["updated"], "no network yet"))
    back = joined.changed(id="t9", takes_back="t1")
    assert "Join it to its hub first" in refused("named", joined, back)


@given(st.lists(st.tuples(st.integers(0, 3), st.sampled_from(["done", "refused", "back"])), max_size=12))
def test_of_a_step_the_newest_word_holds(said: list[tuple[int, str]]) -> None:
    """Done, refused, taken back, in any order: what stands is what was said last of it."""
    steps = [Step(kind="set", subjects=("d1", str(n))) for n in range(4)]
    ticks: list[Tick] = []
    stands: dict[int, list[tuple[str, str]]] = {n: [] for n in range(4)}
    for number, (n, what) in enumerate(said):
        if what == "back":
            if stands[n]:
                id, _ = stands[n].pop()
                ticks.append(tick(number, steps[n]).changed(takes_back=id))
            continue
        ticks.append(tick(number, steps[n], "not so" if what == "refused" else ""))
        stands[n].append((ticks[-1].id, what))
    done, refused = ticked(ticks, "a")
    for n, words in stands.items():
        newest = words[-1][1] if words else ""
        assert (steps[n] in done, steps[n] in refused) == (newest == "done", newest == "refused")


TWO = with_radio(looked_at(PROVEN["main at the line end, companion"]))


def test_no_serial_twice_and_no_name_that_sounds_like_another() -> None:
    first, second = ((box.id, box.equipment[0].id) for box in TWO.boxes if box.equipment)
    house = edited(TWO, "note-serial", first[0], device=first[1], serial="SN 17")
    with pytest.raises(Rejected, match="Check the serial: sn"):
        edited(house, "note-serial", second[0], device=second[1], serial="sn 17")
    house = edited(house, "note-serial", first[0], device=first[1], serial="SN 17")
    house = edited(house, "name-in-hub", first[0], device=first[1], name="Bath light", hub="hall hub")
    for name in ("bath light", "Path lite"):
        with pytest.raises(Rejected, match="Pick another name"):
            edited(house, "name-in-hub", second[0], device=second[1], name=name)
    house = edited(house, "name-in-hub", second[0], device=second[1], name="Stair")
    noted = {box.id: box.built.commissioned[0] for box in house.boxes if box.built}
    assert (noted[first[0]].serial, noted[first[0]].name, noted[first[0]].hub) == ("SN 17", "Bath light", "hall hub")
    assert noted[second[0]].name == "Stair"


def test_an_update_forgets_what_was_set_and_building_otherwise_keeps_what_was_noted() -> None:
    at = {"device": "d1"}
    house = edited(SMART, "note-firmware", **at, before="1.0", firmware="1.0")
    house = edited(house, "note-setting", **at, name="indicator", value="off")
    house = edited(house, "say-built")
    assert house.boxes[0].built is not None and house.boxes[0].built.commissioned[0].setting("indicator") == "off"
    house = edited(house, "note-firmware", **at, firmware="1.1")
    (noted,) = house.boxes[0].built.commissioned if house.boxes[0].built else ()
    assert (noted.before, noted.firmware, noted.settings) == ("1.0", "1.1", ())


@pytest.mark.parametrize(
    ("one", "other", "alike"),
    [
        ("Den", "Ten", True), ("Fan", "Van", True), ("Hall", "Haul", True), ("Kitchen", "kitchen", True),
        ("Hall 1", "Hall 2", False), ("Porch", "Pantry", False), ("Stair foot", "Stair head", False),
    ],
)  # fmt: skip
def test_names_a_listener_takes_for_one(one: str, other: str, *, alike: bool) -> None:
    """Pairs any ear knows, and some that are apart: common practice."""
    assert sound_alike(one, other) is alike and sound_alike(other, one) is alike


@given(st.integers(0, 60))
def test_the_trim_is_the_lowest_level_that_starts_surely(least: int) -> None:
    """Whatever the lamps: down step by step, never tried twice, and the answer is found by trying all of them."""
    sure: list[int] = []
    unsure: list[int] = []
    while (level := next_trim(sure, unsure).next) is not None:
        assert level not in (*sure, *unsure) and level < min(sure, default=100)
        (sure if level >= least else unsure).append(level)
    assert next_trim(sure, unsure).found == min((level for level in LEVELS if level >= least), default=None)


def test_a_lamp_that_was_seen_to_fail_is_never_set() -> None:
    """Sure at 20 once, and not the second time: 25 is what holds."""
    assert next_trim((50, 40, 30, 25, 20), (20,)).found == 25


def lamps(watts: Mapping[str, int]) -> Device:
    loads = [Load.model_validate({"id": f"l{n}", "kind": "led", "each": f"{w} W", "name": name})
             for n, (name, w) in enumerate(watts.items(), 1)]  # fmt: skip
    return Device(id="d1", gang=1, sheet="s", loads=tuple(loads))


SHEET = Datasheet.model_validate({"id": "s", "name": "Relay", "kind": "module", "metering": True})


def says(measured: str, **watts: int) -> str:
    got = weighed(Power.parse(measured).value, lamps(watts), SHEET, 120, ASSUME)
    return ("alike: " if got.alike else "") + "".join(
        part if isinstance(part, str) else f"{float(part.value):g} {part.unit}" for part in got.says
    )


def test_measured_beside_the_sum_by_hand() -> None:
    """54 W of lamps: within a tenth they agree; 9 W less is one lamp out; 20 W more is one nobody entered."""
    six = {f"spot {n}": 9 for n in range(6)}
    assert says("56 W", **six).startswith("alike: ")
    assert says("45 W", **six).startswith("9 W less than its lamps, which is about one spot 0")
    assert says("74 W", **six).startswith("20 W more than its lamps")
    assert "alike" not in says("59.5 W", **six) and "alike" in says("59.4 W", **six)
    fan = Load.model_validate({"id": "l1", "kind": "fan", "each": "0.8 A"})
    motor = Device(id="d1", gang=1, sheet="s", loads=(fan,))
    unknown = weighed(Fraction(50), motor, SHEET, 120, ASSUME)
    assert not unknown.alike and unknown.sum is None
