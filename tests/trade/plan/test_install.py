"""On the ladder: the order of the trade for every scheme; dead before anything is touched; what lapses, is refused."""

from __future__ import annotations

from collections.abc import Mapping

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.model.load import Load
from nail_count.trade.model.splice import Connector, LeadEnd
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.model.wire import Cable
from nail_count.trade.plan.install.progress import Done, current, on_since, progress, refuse_live, together
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.planned import planned_of
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.houses import box, job
from tests.trade.wiring.hookup.schemes import PROVEN

ORDER = ("ground", "neutral", "switched", "hot", "traveler", "signal", "cap")
"""Ground, neutral, load, line, travelers: by common practice."""
SMART = hooked_up(PROVEN["feed at the switch, smart"])


def kinds(house: Job, key: str = "a") -> list[str]:
    return [" ".join((one.step.kind, *one.step.subjects)) for one in install_steps(house, key, ()) if not one.idle]


def test_the_steps_of_a_smart_switch_by_hand() -> None:
    """One breaker, nothing known as found: a ground, a neutral, a load and a line to join, one thing to try."""
    assert kinds(SMART) == [
        "switched off 1", "locked 1", "proven dead plate on", "proven dead plate off", "proven dead device out",
        "photographed", "marked", "clamped", "set told apart", "taken apart", "trimmed",
        "joined make s1", "joined make s2", "joined make s4", "joined make s3", "tugged", "compared", "folded",
        "energised", "tried by hand d1", "closed",
    ]  # fmt: skip
    names = {splice.id: splice.name for splice in SMART.boxes[0].splices}
    assert [names[one] for one in ("s1", "s2", "s4", "s3")] == ["ground", "neutral", "switched", "hot"]


@pytest.mark.parametrize("name", PROVEN)
def test_the_order_of_the_trade_in_every_scheme(name: str) -> None:
    """Each splice once, ground first; nothing touched before dead; codes before the plate; energised after the body."""
    house = hooked_up(PROVEN[name])
    for one in house.boxes:
        steps = [step.step for step in install_steps(house, one.id, ())]
        order = [step.kind for step in steps]
        assert order.index("switched off") < order.index("proven dead") < order.index("clamped") < order.index("joined")
        assert (
            max(n for n, kind in enumerate(order) if kind == "joined")
            < order.index("folded")
            < order.index("energised")
        )
        assert order.index("recorded") < order.index("energised") < order.index("closed")
        made = [
            step.subjects[1] for step in steps if step.kind == "joined" and step.subjects[:1] in (("make",), ("cap",))
        ]
        names = {splice.id: splice.name for splice in one.splices}
        assert sorted(made) == sorted(splice.id for splice in one.splices if splice.ends)
        assert [ORDER.index(names[id]) for id in made] == sorted(ORDER.index(names[id]) for id in made)
        assert len({step.model_dump_json() for step in steps if step.kind in ("joined", "proven dead")}) == sum(
            kind in ("joined", "proven dead") for kind in order
        ), "each has a name of its own"


def made(house: Job, *ticked: str, key: str = "a", at: str = "08:00") -> list[Tick]:
    """Ticks of steps, by kind and subjects."""
    steps = {" ".join((one.step.kind, *one.step.subjects)): one.step for one in install_steps(house, key, ())}
    return [
        Tick.model_validate(
            {
                "id": f"t{key}{n}{at[:2]}",
                "box": key,
                "step": steps.get(one) or {"kind": one},
                "at": f"2026-01-05T{at}:{n:02}",
            }
        )
        for n, one in enumerate(ticked)
    ]


DEAD = ("proven dead plate on", "proven dead plate off", "proven dead device out")


def stands(house: Job, ticks: list[Tick], key: str = "a") -> tuple[Done, ...]:
    (box,) = (one for one in house.boxes if one.id == key)
    return progress(install_steps(house, key, ticks), ticks, box, on_since(house, ticks, box))


def worked(house: Job, key: str = "a") -> tuple[list[Tick], list[int]]:
    """A box done by what the ladder asks for next, a minute each, until it asks for nothing; and what it asked."""
    ticks: list[Tick] = []
    asked: list[int] = []
    (box,) = (one for one in house.boxes if one.id == key)
    for minute in range(59):
        done = stands(house, ticks, key)
        if current(done) == len(done):
            return ticks, asked
        asked.append(current(done))
        step = done[asked[-1]].at.step
        ticks.append(
            Tick.model_validate(
                {"id": f"t{minute}", "box": key, "step": step, "at": f"2026-01-05T09:{minute:02}:00"}
                | {"planned": planned_of(step, box)}
            )
        )
    raise AssertionError("expected it to come to an end")


@pytest.mark.parametrize("name", PROVEN)
def test_the_usual_job_is_asked_for_step_by_step_and_never_goes_back(name: str) -> None:
    """From the breaker to the lamp set, each once: what lapses when the breaker goes on again had done its part."""
    house = hooked_up(PROVEN[name])
    for one in house.boxes:
        ticks, asked = worked(house, one.id)
        assert asked == sorted(set(asked)), "expected each step once, in order"
        assert len(ticks) == len(kinds(house, one.id))


def test_what_was_done_for_another_plan_is_to_be_done_again_after_the_breaker() -> None:
    """A cable more: nothing of it was tugged or folded; the splices that stay are as they were.
    As planned before, all is done again; under another name it always was."""
    ticks, _ = worked(SMART)
    (box,) = SMART.boxes[:1]

    def asked(new: Box) -> list[str]:
        done = stands(SMART.changed(boxes=(new, *SMART.boxes[1:])), ticks)
        if (first := current(done)) < len(done):
            assert first == 0 and done[0].lapsed == "a breaker has been turned on since"
            with pytest.raises(Rejected, match=r"verify dead with the|finish the hook-up"):
                refuse_live(done, next(one.at.step for one in done if one.at.step.kind == "joined"))
        return [" ".join((one.at.step.kind, *one.at.step.subjects)) for one in done if not one.settled]

    assert asked(box) == asked(box.changed(name="Landing", room="Upstairs")) == []
    off = ["switched off 1", "locked 1", *DEAD]
    rest = ["tugged", "compared", "folded", "energised", "tried by hand d1", "closed"]
    more = box.changed(cables=(*box.cables, Cable(id="Z", gauge=14, insulated=2)))
    assert asked(more) == [*off, "marked", "joined"], "where the new cable goes is missing: nothing goes on before"
    hot, switched = (one for one in box.splices if one.name in ("hot", "switched"))
    leads = {one.id: [end for end in one.ends if isinstance(end, LeadEnd)] for one in (hot, switched)}
    swapped = {
        one.id: one.changed(ends=(*(end for end in one.ends if end not in leads[one.id]), *leads[other.id]))
        for one, other in ((hot, switched), (switched, hot))
    }
    crossed = box.changed(splices=tuple(swapped.get(one.id, one) for one in box.splices))
    assert asked(crossed) == [*off, "joined"], "a plan that fails says so in place of joining"
    connector = box.splices[0].changed(connector=Connector(size="large"))
    other = box.changed(splices=(connector, *box.splices[1:]))
    left = " ".join(sorted(one.id for one in box.splices[1:] if one.ends))
    assert asked(other) == [*off, f"taken apart undo {left}", f"joined make {connector.id}", *rest]
    empty = Box(id="a", name="A", room="Hall")
    trimmed, entered = Step(kind="trimmed"), empty.changed(cables=more.cables)
    assert planned_of(trimmed, empty) not in (None, planned_of(trimmed, entered)), "where nothing entered, none was"


@given(st.sets(st.sampled_from(DEAD)))
def test_nothing_inside_is_done_before_dead_is_proven_at_all_three(proven: set[str]) -> None:
    done = stands(SMART, made(SMART, "switched off 1", *sorted(proven)))
    for one in done:
        inside = one.at.step.kind in (
            "clamped",
            "marked",
            "taken apart",
            "trimmed",
            "joined",
            "tugged",
            "compared",
            "folded",
        )
        if inside and len(proven) < len(DEAD):
            with pytest.raises(Rejected, match="verify dead with the"):
                refuse_live(done, one.at.step)
        else:
            refuse_live(done, one.at.step)


def test_a_dead_proof_lapses_when_a_breaker_is_on_again_wherever_it_was_closed() -> None:
    """Closed at another box of the same breaker it lapses; of another breaker it stands; a new proof holds again."""
    boxes = [box(key, "A2 B2", {"d1": "smart"}, "d1@B", circuit=of) for key, of in (("a", "1"), ("b", "1"), ("c", "2"))]
    house = job(boxes, "a.A=1 a.B=? b.A=1 b.B=? c.A=2 c.B=?")
    proven = made(house, *DEAD)
    assert not any(one.lapsed for one in stands(house, [*proven, *made(house, "energised", key="c", at="09:00")]))
    dark = house.changed(
        boxes=tuple(one.changed(circuit=None) if one.id == "c" else one for one in house.boxes), runs=()
    )
    main_on = made(dark, "energised", key="c", at="09:00")
    assert sum(bool(one.lapsed) for one in stands(dark, [*proven, *main_on])) == 3, (
        "nobody knows which: the main was on"
    )
    closed = [*proven, *made(house, "energised", key="b", at="09:00")]
    after = stands(house, closed)
    assert sum(bool(one.lapsed) for one in after) == 3 and not any(one.tick for one in after)
    with pytest.raises(Rejected):
        refuse_live(after, next(one.at.step for one in after if one.at.step.kind == "joined"))
    again = stands(house, [*closed, *made(house, *DEAD, at="10:00")])
    assert not any(one.lapsed for one in again) and sum(one.tick is not None for one in again) == 3


def test_a_step_refused_is_kept_with_its_reason_until_it_is_done() -> None:
    said = Tick.model_validate({
        "id": "t9", "box": "a", "step": {"kind": "refused", "subjects": ["photographed"]}, "at": "2026-01-05T09:00",
        "because": "no light",
    })  # fmt: skip
    done = stands(SMART, [*made(SMART, "photographed"), said])
    one = next(each for each in done if each.at.step.kind == "photographed")
    assert one.tick is None and one.refused is said and one.settled and current(done) == 0
    later = stands(SMART, [said, *made(SMART, "photographed", at="10:00")])
    assert next(each for each in later if each.at.step.kind == "photographed").refused is None


def test_the_main_goes_off_where_it_is_not_known_for_sure() -> None:
    """A second cable from the panel that nobody traced; a house where the main always goes off."""
    two = job([box("a", "A2 B2 C2", {"d1": "smart"}, "d1@C")], "a.A=1 a.C=?")
    assert kinds(two)[0] == "switched off 1"
    loose = {"id": "more", "one": {"kind": "box", "box": "a", "cable": "B"}, "other": {"kind": "circuit"}}
    assert kinds(two.changed(runs=(*two.runs, loose)))[0] == "switched off main"
    alone = two.changed(runs=({**loose, "one": {"kind": "box", "box": "a", "cable": "A"}},))
    assert kinds(alone)[0] == "switched off 1", "one cable not traced, one circuit known: it is that"
    assert kinds(two.changed(house={"main_off": True}))[0] == "switched off main"


@pytest.mark.parametrize("scheme", ["fan and light, one control", "fan and light, two switches"])
def test_a_ceiling_fan_is_set_up_and_its_leads_are_named_by_their_usual_colors(scheme: str) -> None:
    """Black is the motor, blue the light; the receiver goes where a wall control drives the motor; common practice."""
    house = hooked_up(PROVEN[scheme])
    loads = [load for item in house.boxes[0].contents.equipment for load in item.loads]
    fan, light = loads
    fans = box_with_loads(house.boxes[0], {fan.id: fan.changed(kind="fan"), light.id: light})
    house = house.changed(boxes=tuple(
        fans if box.id == "a" else box.changed(use="fan") if box.id == "fan" else box for box in house.boxes
    ))  # fmt: skip
    steps = install_steps(house, "fan", ())
    (own,) = (one for one in steps if one.step.subjects == ("fan",) and one.step.kind == "set")
    assert ("out" in own.what[0]) == (scheme == "fan and light, one control")
    said = " ".join(line for one in steps for line in one.what)
    assert "(usually blue)" in said and "(usually black)" in said
    assert not [one for one in install_steps(house, "a", ()) if one.step.subjects == ("fan",)]


def box_with_loads(box: Box, loads: Mapping[str, Load]) -> Box:
    devices = tuple(one.changed(loads=tuple(loads[load.id] for load in one.loads)) for one in box.contents.devices)
    return box.changed(devices=devices)


@pytest.mark.parametrize("name", PROVEN)
def test_only_plain_work_is_ticked_in_one_go(name: str) -> None:
    """Facts of the trade: each test is its own; so is turning the power on, and so is anything that warns."""
    house = hooked_up(PROVEN[name])
    for one_box in house.boxes:
        done = progress(install_steps(house, one_box.id, ()), (), one_box, None)
        for at, first in enumerate(done):
            some = together(done, at)
            kinds = {one.at.step.kind for one in some}
            assert len(some) <= 4 and not kinds & {"proven dead", "energised", "tried by hand", "clamped", "recorded"}
            assert not kinds & {"switched off", "locked"} or kinds <= {"switched off", "locked"}
            assert not any(one.at.caution for one in some if one.at.step.kind not in ("switched off", "locked"))
            assert not some or first.at.idle or some[0] is first
