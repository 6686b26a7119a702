"""From nothing to a finished record by the pages alone: a person in front of hidden boxes does only what Next says."""

from __future__ import annotations

import os
from collections import Counter
from pathlib import Path
from random import Random

import pytest
from starlette.testclient import TestClient

from nail_count.store.store import Store
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.model.splice import ConductorEnd, LeadEnd
from nail_count.trade.model.wire import Cable
from nail_count.trade.plan.commission.progress import progress_of_each
from nail_count.trade.plan.commission.steps import to_commission
from nail_count.trade.plan.next_step import Ask, way_through
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.rules.wires.live_points import Row
from nail_count.trade.wiring.simulate.old_switch import OldSwitch, old_switch
from nail_count.trade.wiring.simulate.old_three_way import OldPair, OldThreeWay, old_pair
from nail_count.web.app import make_app
from tests.trade.assume.test_pair import wired
from tests.trade.plan.test_next_pair import KINDS as PAIRS
from tests.trade.plan.test_next_step import KINDS as SINGLES
from tests.trade.plan.test_next_step import ROLES
from tests.trade.rules.wires import test_live, test_live_three_way
from tests.web.visitor import Visitor

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
HOUSES = 2 * LONGER
"""Of each sort; `make fuzz FUZZ=50` plays a hundred of each."""
MOST_ASKS = 200
ROOMS, PLACES = ("Oak", "Lantern", "Window"), ("corner", "table", "row", "spots", "bar")
NAMES = [f"{room} {place}" for room in ROOMS for place in PLACES]
"""Names no two of which sound alike."""
SIDE_BY_SIDE = ("two switches", "two switches, and onward", "three switches")
"""Boxes of several gangs on one circuit."""
WORDS = {
    "ostrel-smart-dimmer": "smart dimmer", "marrowby-rocker-dimmer": "rocker dimmer",
    "ostrel-pair-dimmer": "smart pair dimmer", "ostrel-pair-companion": "companion of the smart pair dimmer",
}  # fmt: skip
"""What each device is called in a line."""


class PagePerson:
    """Stands in front of hidden boxes, and knows of the pages only what they say."""

    def __init__(self, client: TestClient, old: dict[str, OldSwitch | OldThreeWay], sheets: dict[str, str], seed: int):
        self.client, self.visitor, self.random = client, Visitor(client), Random(seed)
        self.old, self.sheets = old, sheets
        self.store: Store = client.app.state.store  # type: ignore[attr-defined]
        self.keys: dict[str, str] = {}
        """The keys of the boxes as entered, by their names among the hidden ones."""
        self.asked: list[tuple[str, str]] = []
        """What was asked: the box and the code."""

    def until_done(self) -> None:
        """From an empty installation until nothing is left at any box; a third of the asks is put off."""
        self.visitor.go("/")
        first = next(iter(self.old))
        self.visitor.send("/plan", line=self.line(first))
        self.here, self.keys[first] = first, self.visitor.at.split("/")[4]
        self.job_key = self.visitor.at.split("/")[2]
        while True:
            ask = self.next_here() or self.next_there()
            if ask is None:
                return
            self.asked.append((self.here, ask.code))
            assert len(self.asked) < MOST_ASKS, self.asked[-6:]
            if ask.box:
                self.visitor.follow(f"/jobs/{self.job_key}/boxes/{ask.box}{'/' + ask.screen if ask.screen else ''}")
                self.here = next(name for name, key in self.keys.items() if key == ask.box)
            elif ask.code not in self.box.survey.put_off and self.random.random() < 1 / 3:
                self.visitor.send("/next/later")
            else:
                self.answer(ask)

    def next_here(self) -> Ask | None:
        """What the strip of the page says comes next; it says what the core says."""
        kept = self.store.wired_box(self.job_key, self.keys[self.here])
        assert kept.wiring is not None
        ask = way_through(kept.wiring, kept.box.id, self.store.ticks(self.job_key)).next
        says = self.visitor.strip()
        assert (f"Next: {ask.order}" if ask else "Nothing is left to do at this box.") in says, (says, ask)
        return ask

    def next_there(self) -> Ask | None:
        """What comes next at the other box, where one is entered."""
        there = [name for name in self.keys if name != self.here]
        if not there:
            return None
        self.here = there[0]
        self.visitor.go(self.address())
        return self.next_here()

    @property
    def box(self) -> Box:
        """The box this person stands at, as entered so far."""
        return self.store.box(self.job_key, self.keys[self.here]).box

    def address(self, screen: str = "") -> str:
        return f"/jobs/{self.job_key}/boxes/{self.keys[self.here]}{'/' + screen if screen else ''}"

    def cables(self, of: str) -> str:
        def written(cable: Cable) -> str:
            return f"{cable.gauge.number}/{cable.insulated}"

        return ", ".join(written(cable) for cable in self.old[of].hidden.cables)

    def line(self, of: str) -> str:
        """What the person knows of a box at first; each fact with a chance."""

        def known() -> bool:
            return self.random.random() < 2 / 3

        gangs = self.gangs(of)
        device = f'{WORDS[self.sheets[of]]} "{of}"' if known() else ""
        lights = " 4x9W led" if device and "companion" not in device and known() else ""
        devices = "; " + ", ".join([device + lights] * gangs) if device else ""
        volume = f" {22 * gangs}in3" if known() else ""
        return f"{gangs}g{volume}{'; ' + self.cables(of) if known() else ''}{devices}"

    def gangs(self, of: str) -> int:
        """How many old switches there are, side by side."""
        old = self.old[of]
        return len(old.screws) if isinstance(old, OldSwitch) else 1

    def answer(self, ask: Ask) -> None:
        """Do it, on the page the strip leads to."""
        visitor = self.visitor
        there = self.address(f"goes/{ask.cable}" if ask.cable else ask.screen)
        if not (ask.edit or ask.choices or ask.start) and visitor.at != there:
            visitor.follow(there)
        match ask.code:
            case "volume":
                visitor.send("/set-volume", volume=str(22 * self.gangs(self.here)))
            case "cables":
                visitor.send("/line", line=self.cables(self.here))
            case "device":
                visitor.send("/put-device", {"sheet": self.sheets[self.here]})
            case "loads":
                bare = next(one.id for one in self.box.devices if not one.loads)
                visitor.send("/add-load", {"device": bare}, kind="led", quantity="4", each="9 W")
            case "ends":
                self.say_where(ask)
            case "hook-up":
                visitor.send("/propose-hookup")
            case "breaker":
                visitor.send("/found-breaker", breaker="1, 15 A")
            case "wiring":
                self.test_the_wires()
            case "work":
                self.climb()
            case "set-up":
                self.set_up()
            case "built":
                visitor.send("/say-built")
            case "open" if ask.screen == "wires":
                self.test_the_wires()
            case "fails" | "open":
                raise AssertionError(ask.why)
        if not visitor.at.startswith(self.address()):
            visitor.go(self.address())

    def say_where(self, ask: Ask) -> None:
        """Where a cable goes: the other box is started, or it is to the one that stands; else feed or light."""
        other = next(name for name in self.old if name != self.here)
        truth = {self.old[self.here].hidden.truth[f"{ask.cable}{n}"] for n in (1, 2)} if ask.cable else {"traveler"}
        if ask.start:
            self.visitor.send("/boxes", line=self.line(other))
            self.here = other
            self.keys[other] = self.visitor.at.split("/")[4]
        elif truth != {"traveler"}:
            words = {"to": "circuit"} if "line" in truth else {"to": "words"}
            self.visitor.send(f"/goes/{ask.cable}", words)
        elif ask.choices:
            self.visitor.send(f"/goes/{ask.cable}", {"to": "box"})
        elif other in self.keys:
            self.visitor.send(f"/goes/{ask.cable}", to="box", far_box=self.keys[other], far_cable="")
        else:
            self.visitor.send(f"/goes/{ask.cable}", to="words", words=f"to {other}")

    def test_the_wires(self) -> None:
        """Look, and touch whatever the live test asks for."""
        old, visitor = self.old[self.here], self.visitor
        if isinstance(old, OldSwitch):
            visitor.send("/look-at-switch", {"on_off": "true", "worked": "true"})
            way = test_live.look_taken(old)
            assert way is not None
            legs = {"legs": list(way.legs)} if way.legs else {}
            visitor.send("/look-at-wires", way=way.way, **legs)
        else:
            visitor.send("/look-at-switch", {"on_off": "false", "worked": "true"})
            lie = test_live_three_way.look_taken(old)
            assert lie is not None
            visitor.send("/look-at-three-way", places=list(lie.places))
        while (test := live_test(self.box, 120)) is not None and (row := test.next) is not None:
            visitor.send("/touch-wire", {"wires": ",".join(row.point.wires)}, volts=self.probed(row))
        visitor.send("/use-measured")

    def probed(self, row: Row) -> str:
        old = self.old[self.here]
        return test_live.probed(old, row) if isinstance(old, OldSwitch) else test_live_three_way.probed(old, row)

    def climb(self) -> None:
        """One tap on the ladder: several steps in one go where that is offered."""
        visitor = self.visitor
        forms = {form.id: form for form in visitor.page.forms}
        way = "in-one-go" if "in-one-go" in forms else "done"
        typed = {"serial": f"N-{len(self.asked)}"} if "serial" in forms[way].names else {}
        visitor.send("/install/tick", {"asked_by": way}, who="Ann", **typed)

    def set_up(self) -> None:
        """One step of setting a device up."""
        kept = self.store.wired_box(self.job_key, self.keys[self.here])
        assert kept.wiring is not None
        each = progress_of_each(to_commission(kept.wiring, kept.box.id), kept.ticks, kept.box)
        left = next(one for one in each if not one.over)
        note, visitor = left.steps[left.next].at, self.visitor
        if any(form.id == "in-one-go" for form in visitor.page.forms):
            visitor.send("/commission/together")
            return
        match note.form:
            case "serial":
                visitor.send("/note-serial", serial="N-1")
            case "name":
                visitor.send("/name-in-hub", name=NAMES[len(self.asked) % len(NAMES)])
            case "firmware":
                visitor.send("/note-firmware", before="1.0", firmware="1.1")
            case "trim":
                visitor.send("/note-setting", value="12 %")
            case "setting":
                visitor.send("/note-setting", value=note.choices[0] if note.choices else "as it came")
            case "pair":
                visitor.send("/note-pair")
            case "watts":
                visitor.send("/note-watts", watts="36 W")
            case "built":
                visitor.send("/say-built")
            case _:
                visitor.send("/commission/tick", {"asked_by": "done"}, who="Ann")


@pytest.fixture
def client(tmp_path: Path) -> TestClient:
    app = make_app(tmp_path / "kept.sqlite3", ("testserver",))
    return TestClient(app, client=("127.0.0.1", 50000))


def handed_over(person: PagePerson) -> None:
    """What comes next in the house, once nothing is left at its boxes."""
    says = person.client.get(f"/jobs/{person.job_key}/next").text
    assert "Print the papers and hand them over." in says


def never_twice(person: PagePerson) -> None:
    """Nothing is asked again unless it was put off, but for work of many steps."""
    counts = Counter(one for one in person.asked if one[1] not in ("work", "set-up", "ends", "wiring"))
    late = {
        (name, code)
        for name, key in person.keys.items()
        for code in person.store.box(person.job_key, key).box.survey.put_off
    }
    for (name, code), count in counts.items():
        once = person.gangs(name) if code in ("device", "loads") else 1
        assert count <= once + ((name, code) in late), (code, person.asked)


@pytest.mark.parametrize("kinds", [SINGLES, SIDE_BY_SIDE], ids=("one gang", "several gangs"))
@pytest.mark.parametrize("seed", range(HOUSES))
def test_a_swap_by_what_next_says(client: TestClient, kinds: tuple[str, ...], seed: int) -> None:
    old = old_switch(kinds[seed % len(kinds)], seed)
    sheet = "ostrel-smart-dimmer" if old.hidden.brought and seed % 2 else "marrowby-rocker-dimmer"
    person = PagePerson(client, {"Hall": old}, {"Hall": sheet}, seed)
    person.until_done()
    box, job = person.box, person.store.whole_job(person.job_key)
    assert box.built is not None and box.built.splices == box.splices
    _joined_right(job, box, old, sheet)
    never_twice(person)
    handed_over(person)


def _joined_right(job: Job, box: Box, old: OldSwitch, sheet: str) -> None:
    for splice in box.splices:
        truth = {old.hidden.truth[end.of] for end in splice.ends if isinstance(end, ConductorEnd)}
        for lead in (end for end in splice.ends if isinstance(end, LeadEnd)):
            role = by_id(job.sheets)[sheet].roles[lead.terminal - 1]
            assert truth <= ROLES.get(role, truth), (role, truth)


class Mistaken(PagePerson):
    """Takes the cable to the light for the feed, and says so."""

    def cables(self, of: str) -> str:
        hidden = self.old[of].hidden
        ends = ["to light" if hidden.truth[f"{cable.id}1"] == "line" else "feed" for cable in hidden.cables]
        sizes = [f"{cable.gauge.number}/{cable.insulated}" for cable in hidden.cables]
        return ", ".join(f"{size} {end}" for size, end in zip(sizes, ends, strict=True))


@pytest.mark.parametrize("seed", range(HOUSES))
def test_who_took_the_wrong_cable_for_the_feed_is_put_right_by_the_live_test(client: TestClient, seed: int) -> None:
    old, sheet = old_switch("feed and light", seed), "ostrel-smart-dimmer"
    person = Mistaken(client, {"Hall": old}, {"Hall": sheet}, seed)
    person.until_done()
    box = person.box
    assert box.built is not None and box.built.splices == box.splices
    _joined_right(person.store.whole_job(person.job_key), box, old, sheet)


@pytest.mark.parametrize("seed", range(HOUSES))
def test_a_pair_of_three_ways_by_what_next_says(client: TestClient, seed: int) -> None:
    old: OldPair = old_pair(PAIRS[seed % len(PAIRS)], seed)
    main, far = ("Top", "Bottom") if seed % 3 else ("Bottom", "Top")
    sheets = {main: "ostrel-pair-dimmer", far: "ostrel-pair-companion"}
    person = PagePerson(client, {"Top": old.x, "Bottom": old.y}, sheets, seed)
    person.until_done()
    boxes = {name: person.store.box(person.job_key, key).box for name, key in person.keys.items()}
    assert all(box.built is not None and box.built.splices == box.splices for box in boxes.values())
    together = wired(old, {"x": boxes["Top"], "y": boxes["Bottom"]})
    key = {"Top": "x", "Bottom": "y"}
    assert together(f"{key[main]}/line", "hot 0")
    assert together(f"{key[main]}/traveler", f"{key[far]}/traveler")
    assert any(together(lamp.one, f"{key[main]}/load") and together(lamp.other, "neutral 0") for lamp in old.lamps)
    never_twice(person)
    handed_over(person)
