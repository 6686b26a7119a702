"""Hook-ups changed by hand and proposed: ends are in one place, what must agree changes together, refusals say why."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.trade.documents import DocumentId, Documents, JobAtHand
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.hookup.over_network import senders_of, targets_of
from nail_count.trade.wiring.hookup.stages import ends_of
from nail_count.trade.wiring.hookup.work import is_assumed
from tests.trade.wiring.hookup.houses import box, job, lamp
from tests.trade.wiring.hookup.schemes import PROVEN, SHORT, apart, dead_end, feed


def documents(house: Job) -> Documents:
    return Documents(JobAtHand(house), {})


def after(house: Job, name: str, **said: object) -> Job:
    """The house after an edit."""
    edited = EDITS[name].read({"box": "a", **said}).apply(documents(house)).documents
    return edited.job.changed(ticks=house.ticks)


def spliced(house: Job, at: str = "a") -> list[set[str]]:
    """Which ends lie in one splice, by their keys."""
    it = next(one for one in house.boxes if one.id == at)
    keys = {named.end: key for key, named in ends_of(house, it, "planned").items()}
    return [{keys.get(end, "jumper") for end in splice.ends} for splice in it.splices if splice.ends]


def test_a_proposal_changes_every_box_that_must_agree_as_one() -> None:
    edit = EDITS["propose-hookup"].read({"box": "a"})
    edited = edit.apply(documents(apart("main", "three-way")))
    assert set(edited.documents.changed) == {DocumentId("box", id) for id in ("a", "b", "lamp")}
    assert edited.sentence == "Hook-up of a proposed, with b, lamp"
    assert look(edited.documents.job, "a").findings == ()


@pytest.mark.parametrize("house", SHORT.values(), ids=SHORT)
def test_what_cannot_be_proposed_is_refused_with_the_ways_out(house: Job) -> None:
    with pytest.raises(Rejected, match=r"wires, and . are needed.*To fix it: another device"):
        after(house, "propose-hookup")


def test_the_usual_old_wiring_is_assumed_and_never_changes_the_plan() -> None:
    house = after(after(feed("switch"), "propose-hookup"), "begin-found")
    with pytest.raises(Rejected, match="Record what was in the box"):
        after(feed("switch"), "propose-hookup", stage="found")
    replaced = after(house, "replace-device", device="d1", sheet="switch")  # planned anew, with nothing joined
    assumed = after(replaced, "propose-hookup", stage="found")
    assert spliced(assumed) == spliced(replaced) and is_assumed(assumed.boxes[0])
    assert open_as_found(assumed) == {"colors-not-seen"}
    planned = after(assumed, "propose-hookup")
    (last,) = (one for one in install_steps(planned, "a", ()) if one.missing)
    assert last == install_steps(planned, "a", ())[-1] and last.to == "hookup-found", "nothing is opened before"
    checked = after(planned, "confirm-found")
    assert not is_assumed(checked.boxes[0]) and checked.boxes[0].as_found.splices == planned.boxes[0].as_found.splices
    assert any(one.step.kind == "taken apart" for one in install_steps(checked, "a", ()))
    with pytest.raises(Rejected, match="Nothing is assumed"):
        after(checked, "confirm-found")


@pytest.mark.parametrize("name", PROVEN)
def test_the_usual_old_wiring_of_every_way_is_what_would_be_planned(name: str) -> None:
    """Where what was found is what is planned, the usual old wiring is the plan."""
    planned = after(PROVEN[name], "propose-hookup")
    begun = planned
    for one in planned.boxes:
        begun = after(begun, "begin-found", box=one.id)
    assumed = after(begun, "propose-hookup", stage="found")
    assert [one.as_found.splices for one in assumed.boxes] == [one.splices for one in planned.boxes]
    assert [one.planned for one in assumed.boxes] == [one.planned for one in begun.boxes]


def test_an_old_switch_of_which_nobody_said_what_it_controls_controls_what_the_new_one_does() -> None:
    house = after(feed("smart"), "begin-found")
    found = house.boxes[0].as_found
    bare = house.boxes[0].changed(found=found.changed(devices=tuple(one.changed(loads=()) for one in found.devices)))
    assumed = after(house.changed(boxes=(bare, *house.boxes[1:])), "propose-hookup", stage="found")
    assert [load.id for one in assumed.boxes[0].as_found.devices for load in one.loads] == ["l1"]
    assert open_as_found(assumed) == {"colors-not-seen"}


def open_as_found(house: Job) -> set[str]:
    """Return the codes of everything unknown about the old wiring; nothing fails."""
    seen = look(house, "a", "found")
    assert not seen.shown
    return {one.code for one in seen.unsaid}


def test_a_load_nobody_can_find_is_asked_for() -> None:
    lamps = [box("a", "A2 B2 C3", {"d1": "switch", "d2": "switch"}, "d1@B d2@C")]
    for item in lamps[0]["planned"]["devices"]:
        del item["loads"][0]["cable"]
    house = job(lamps, "a.A=1 a.B=? a.C=?")
    with pytest.raises(Rejected, match="No hook-up can be proposed: a: which cable leads to led is"):
        after(house, "propose-hookup")
    found = after(after(house, "lead-to", load="l1", cable="B"), "lead-to", load="l2", cable="C")
    assert {"B1", "d1-2"} in spliced(after(found, "propose-hookup"))
    with pytest.raises(Rejected, match="there is no cable Z"):
        after(house, "lead-to", load="l1", cable="Z")
    with pytest.raises(Rejected, match="one of the loads"):
        after(house, "lead-to", load="l9", cable="B")


def test_by_hand_an_end_is_in_one_splice_and_nowhere_else() -> None:
    house = feed("smart")
    for end, to in (("A1", "d1-1"), ("B1", "d1-2"), ("A2", "B2"), ("d1-3", "A2"), ("Ag", "Bg"), ("d1-4", "Ag")):
        house = after(house, "join-ends", end=end, to=to)
    assert spliced(house) == [{"A1", "d1-1"}, {"B1", "d1-2"}, {"A2", "B2", "d1-3"}, {"Ag", "Bg", "d1-4"}]
    moved = after(house, "join-ends", end="B1", to=house.boxes[0].splices[0].id)
    assert spliced(moved) == [{"A1", "d1-1", "B1"}, {"d1-2"}, {"A2", "B2", "d1-3"}, {"Ag", "Bg", "d1-4"}]
    assert moved.boxes[0].splices[0].connector is not None
    apart_again = after(moved, "take-apart", end="B1")
    assert {"A1", "d1-1"} in spliced(apart_again) and all("B1" not in splice for splice in spliced(apart_again))
    capped = after(apart_again, "cap-end", end="B1")
    assert {"B1"} in spliced(capped)
    assert spliced(after(capped, "clear-hookup")) == []


@pytest.mark.parametrize(
    ("name", "said", "expected"),
    [
        ("join-ends", {"end": "Z9", "to": "A1"}, "there is no Z9"),
        ("join-ends", {"end": "A1", "to": "s9"}, "there is no s9"),
        ("join-ends", {"end": "A1", "to": "A1"}, "another end"),
        ("take-apart", {"end": "A1"}, "an end that is in a splice"),
        ("cap-end", {"end": ""}, "there is no"),
        ("join-ends", {"end": "A1", "to": "B1", "stage": "found"}, "Record what was found first"),
    ],
)
def test_bad_input_says_what_was_expected(name: str, said: dict[str, str], expected: str) -> None:
    with pytest.raises(Rejected, match=expected):
        after(feed("smart"), name, **said)


def test_what_was_found_is_said_apart_from_the_plan() -> None:
    house = after(after(feed("smart"), "propose-hookup"), "begin-found")
    assert spliced(house) and not any(splice.ends for splice in house.boxes[0].as_found.splices)
    house = after(house, "join-ends", end="A1", to="B1", stage="found")
    (splice,) = house.boxes[0].as_found.splices
    assert len(splice.ends) == 2 and {"A1", "d1-1"} in spliced(house)
    assert {one.finding.code for one in look(house, "a", "found").findings} >= {"not-powered", "neutral-switched"}
    assert look(house, "a", "found").state.word == "fails" and look(house, "a").findings == ()
    with pytest.raises(Rejected, match="This box has a record of what was found already"):
        after(house, "begin-found")


def test_what_was_found_is_held_by_what_was_found() -> None:
    """A lead of the device found in the box counts, though the plan has none there."""
    house = after(feed("smart"), "begin-found")
    bare = house.boxes[0].changed(devices=())
    house = after(house.changed(boxes=(bare, *house.boxes[1:])), "join-ends", end="A1", to="d1-1", stage="found")
    (splice,) = house.boxes[0].as_found.splices
    assert splice.connector is not None and splice.connector.size == "small"


def test_colors_nobody_looked_at_leave_it_open_until_somebody_did() -> None:
    house = after(feed("switch"), "propose-hookup")
    assert look(house, "a").state.word == "open"
    assert {one.code for one in look(house, "a").unsaid} == {"colors-not-seen"}
    seen = after(house, "colors-as-usual")
    assert [one.color for one in seen.boxes[0].cables[0].conductors] == ["black", "white"]
    both = EDITS["colors-as-usual"].read({"box": "lamp"}).apply(documents(seen)).documents.job
    assert look(both, "a").state.word == "holds"
    with pytest.raises(Rejected, match="Pick a cable of two to four wires whose colors aren't"):
        after(seen, "colors-as-usual")


def test_a_device_that_names_no_terminals_is_asked_for_and_not_guessed() -> None:
    house = feed("switch")
    bare = tuple(sheet.changed(terminals=()) for sheet in house.sheets)
    at = look(house.changed(sheets=bare), "a")
    assert "no-terminals" in {one.code for one in at.unsaid} and at.state.word == "open"


def test_ends_of_a_run_that_differ_are_said() -> None:
    boxes = [box("a", "A2 B3", {"d1": "switch"}, "d1@lamp"), lamp("lamp", "A2")]
    at = look(job(boxes, "a.A=1 a.B=lamp.A"), "a")
    assert {"ends-differ", "wires-do-not-pair"} <= {one.code for one in at.unsaid} and at.state.word != "holds"


@given(st.sampled_from(sorted(PROVEN)), st.data())
@settings(max_examples=60, deadline=None)
def test_any_acts_by_hand_keep_every_end_in_one_place(name: str, data: st.DataObject) -> None:
    """Whatever is joined, taken apart and capped: no end is lost, none is twice, and what is said can be said again."""
    house = after(PROVEN[name], "propose-hookup")
    keys = sorted(ends_of(house, house.boxes[0], "planned"))
    for _ in range(data.draw(st.integers(1, 6))):
        act = data.draw(st.sampled_from(("join-ends", "take-apart", "cap-end")))
        places = [*keys, *(splice.id for splice in house.boxes[0].splices)]
        said = {"end": data.draw(st.sampled_from(keys))}
        said |= {"to": data.draw(st.sampled_from(places))} if act == "join-ends" else {}
        try:
            house = after(house, act, **said)
        except Rejected:
            continue
        every = [key for splice in spliced(house) for key in splice if key != "jumper"]
        assert len(every) == len(set(every))
        assert all(splice.ends or splice.connector for splice in house.boxes[0].splices)
        look(house, "a")


def test_what_a_device_works_over_the_network_is_picked_and_told() -> None:
    """With the network down it does nothing; what it works still works by hand where a hand can reach it."""
    pair = dead_end("smart", "smart")
    for said, expected in (({"item": "d9"}, "no such device"), ({"item": "d1", "commands": "a/d9"}, "Pick a device")):
        with pytest.raises(Rejected, match=expected):
            after(pair, "work-over", box="b", **said)
    with pytest.raises(Rejected, match="by wire"):
        after(pair, "work-over", box="a", item="d1")
    told = after(pair, "work-over", box="b", item="d1", commands="a/d1")
    edited = EDITS["work-over"].read({"box": "b", "item": "d1", "commands": "a/d1"}).apply(documents(pair))
    assert edited.sentence == "smart works smart in a over the network"
    radio = told.changed(sheets=tuple(one.changed(radio="2.4 GHz network") for one in told.sheets))
    far = next(one for one in radio.boxes if one.id == "b")
    (sender,) = senders_of(radio, far, "planned")
    assert sender.commands == "a/d1" and "still works by hand" in sender.told
    assert [key for key, _ in targets_of(radio, far)] == ["", "a/d1"]
    gone = radio.changed(boxes=tuple(one for one in radio.boxes if one.id != "a"))
    assert "isn’t here any more" in senders_of(gone, far, "planned")[0].told
    assert senders_of(radio, far, "found") == ()
    near = next(one for one in radio.boxes if one.id == "a")
    assert senders_of(radio, near, "planned") == (), "it switches its load by wire"
    relay = PROVEN["a radio pair behind a plain pair"]
    far = next(one for one in relay.boxes if one.id == "b")
    assert "switch on its own input" in senders_of(relay, far, "planned")[0].told
    assert senders_of(after(told, "work-over", box="b", item="d1"), pair.boxes[1], "planned") == ()
