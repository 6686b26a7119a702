"""The ways of the trade, each as a house that asks for it. Invented; what each must come to stands in the tests."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Job
from tests.trade.wiring.hookup.houses import box, job, lamp


def feed(device: str, **more: Any) -> Job:
    """Feed at the switch."""
    return job([box("a", "A2 B2", {"d1": device}, "d1@lamp"), lamp("lamp")], "a.A=1 a.B=lamp.A", **more)


def loop(device: str, wires: int = 2, **more: Any) -> Job:
    """Feed at the lamp, a loop down to the switch."""
    boxes = [box("a", f"A{wires}", {"d1": device}, "d1@lamp"), lamp("lamp", f"A2 B{wires}")]
    return job(boxes, "lamp.A=1 a.A=lamp.B", **more)


def at_outlet(module: str) -> Job:
    """A module at the lamp, the old loop as its input."""
    canopy = {**lamp("lamp", "A2 B2"), "planned": box("x", "A2", {"m1": module}, "m1@lamp")["planned"]}
    return job([box("a", "A2", {"d1": "switch"}), canopy], "lamp.A=1 a.A=lamp.B")


def pair_as_input(module: str, middle: bool = False) -> Job:
    """A module at the lamp, fed there; the old pair on either side of it, and a four-way between, as one input."""
    canopy = {**lamp("lamp", "A2 B3 C3"), "planned": box("x", "A2", {"m1": module}, "m1@lamp")["planned"]}
    near, far = box("a", "A3", {"d1": "three-way"}), box("b", "A3", {"d1": "three-way"})
    if not middle:
        return job([near, far, canopy], "lamp.A=1 a.A=lamp.B b.A=lamp.C")
    between = box("m", "A3 B3", {"d1": "four-way"})
    return job([near, between, far, canopy], "lamp.A=1 a.A=lamp.B b.A=m.A m.B=lamp.C")


def over_the_network(house: Job, **commands: str) -> Job:
    """A house whose devices work others over the network: each by its box and id, b_d1="a/d1"."""

    def told(box: Box) -> Box:
        def each(item: Any) -> Any:
            return item.changed(commands=commands.get(f"{box.id}_{item.id}", ""))

        contents = box.contents
        devices, modules = tuple(map(each, contents.devices)), tuple(map(each, contents.modules))
        return box.changed(planned=contents.changed(devices=devices, modules=modules))

    return house.changed(boxes=tuple(map(told, house.boxes)))


def senders(sender: str) -> Job:
    """A sender behind each plain switch, a relay at the lamp; the travelers are freed."""
    boxes = [
        box("a", "A2 B3", {"d1": "three-way", "m1": sender}),
        box("b", "A3 B2", {"d1": "three-way", "m1": sender}),
        {**lamp("lamp"), "planned": box("x", "A2", {"m1": "mains-module"}, "m1@lamp")["planned"]},
    ]
    house = job(boxes, "a.A=1 a.B=b.A b.B=lamp.A")
    return over_the_network(house, a_m1="lamp/m1", b_m1="lamp/m1")


def radio_pair() -> Job:
    """A relay behind the plain switch that has feed and lamp, a sender behind the other."""
    boxes = [
        box("a", "A2 B3 C2", {"d1": "three-way", "m1": "mains-module"}, "m1@lamp"),
        box("b", "A3", {"d1": "three-way", "m1": "sender"}),
        lamp("lamp"),
    ]
    return over_the_network(job(boxes, "a.A=1 a.B=b.A a.C=lamp.A"), b_m1="a/m1")


def over_two_circuits() -> Job:
    """A relay at the lamp on one circuit, worked from a sender on another."""
    canopy = {**lamp("lamp", circuit="2"), "planned": box("x", "A2", {"m1": "mains-module"}, "m1@lamp")["planned"]}
    house = job([box("a", "A2", {"m1": "sender"}), canopy], "a.A=1 lamp.A=2")
    return over_the_network(house, a_m1="lamp/m1")


def apart(near: str, far: str, main: str = "a", wires: int = 3, **more: Any) -> Job:
    """Feed at one place, the lamp at the other."""
    boxes = [
        box("a", f"A2 B{wires}", {"d1": near} if near else {}, "d1@lamp" if main == "a" else ""),
        box("b", f"A{wires} B2", {"d1": far} if far else {}, "d1@lamp" if main == "b" else ""),
        lamp("lamp"),
    ]
    return job(boxes, "a.A=1 a.B=b.A b.B=lamp.A", **more)


def dead_end(near: str, far: str, **more: Any) -> Job:
    """Feed and lamp at one place, the other at the end of a cable."""
    boxes = [box("a", "A2 B3 C2", {"d1": near}, "d1@lamp"), box("b", "A3", {"d1": far} if far else {}), lamp("lamp")]
    return job(boxes, "a.A=1 a.B=b.A a.C=lamp.A", **more)


def through_outlet(near: str, far: str) -> Job:
    """Feed at the lamp, a place on either side of it."""
    boxes = [box("a", "A3", {"d1": near}, "d1@lamp"), box("b", "A3", {"d1": far}), lamp("lamp", "A2 B3 C3")]
    return job(boxes, "lamp.A=1 a.A=lamp.B b.A=lamp.C")


def three_places(near: str, middle: str, far: str) -> Job:
    """Feed at one end, the lamp at the other, a place between."""
    boxes = [
        box("a", "A2 B3", {"d1": near}, "d1@lamp"),
        box("m", "A3 B3", {"d1": middle} if middle else {}),
        box("b", "A3 B2", {"d1": far}),
        lamp("lamp"),
    ]
    return job(boxes, "a.A=1 a.B=m.A m.B=b.A b.B=lamp.A")


def fan_and_light(devices: Mapping[str, str], loads: str) -> Job:
    """A fan and its light by a cable of three wires."""
    return job([box("a", "A2 B3", devices, loads), lamp("fan", "A3")], "a.A=1 a.B=fan.A")


def modular() -> Job:
    """Two switches onto the inputs of one module, each lamp on an output."""
    devices = {"d1": "switch", "d2": "switch", "m1": "two-module"}
    boxes = [box("a", "A2 B2 C2", devices, "m1.1@B m1.2@C")]
    return job(boxes, "a.A=1 a.B=? a.C=?", terms={"colors": "India"})


def plugged(tab_broken: bool, wires: int = 3) -> Job:
    """A switch for a receptacle, or for its lower half, fed by the same cable."""
    near = box("a", f"A2 B{wires}", {"d1": "switch"}, "d1@plug")
    near["planned"]["devices"][0]["loads"][0] |= {"kind": "receptacle", "each": "10 A"}
    far = box("plug", f"A{wires}", {"d1": "duplex"}, use="receptacle")
    far["planned"]["devices"][0]["tab_broken"] = tab_broken
    return job([near, far], "a.A=1 a.B=plug.A")


def onward() -> Job:
    """A feed that goes on from the box."""
    return job([box("a", "A2 B2 C2", {"d1": "smart"}, "d1@lamp"), lamp("lamp")], "a.A=1 a.B=lamp.A a.C=on")


TWO_POLES: Any = [{"id": "1", "space": 1, "poles": 2, "serves": "one load"}]


def heater(device: str, wires: int = 2) -> Job:
    """A heater of two hots, at the end of a cable."""
    near = box("a", f"A{wires} B2", {"d1": device}, "d1@lamp")
    near["planned"]["devices"][0]["loads"][0] |= {"kind": "heater", "each": "1500 W"}
    return job([near, lamp("lamp")], "a.A=1 a.B=lamp.A", circuits=TWO_POLES)


UK: Any = {"colors": "UK today"}
OLD_UK: Any = {"colors": "UK before 2004"}
INDIA: Any = {"colors": "India"}
PROVEN: Mapping[str, Job] = {
    **{f"feed at the switch, {one}": feed(one) for one in ("switch", "two-wire", "smart", "main")},
    "feed at the switch, UK": feed("smart", terms=UK),
    "feed at the switch, old UK": feed("switch", terms=OLD_UK),
    "feed at the switch, India": feed("smart", terms=INDIA),
    **{f"loop, {one}": loop(one) for one in ("switch", "two-wire")},
    "loop of three wires": loop("smart", 3),
    "loop-in, UK": loop("switch", terms=UK),
    "loop-in of three cores, UK": loop("two-wire", 3, terms=UK),
    "loop-in, India": loop("switch", terms=INDIA),
    "dry module at the outlet": at_outlet("dry-module"),
    "mains module at the outlet": at_outlet("mains-module"),
    "dry module whose leaflet names two inputs, at the outlet": at_outlet("dry-pair-module"),
    "module whose contact has a feed of its own, at the outlet": at_outlet("contact-module"),
    "the old pair as one dry input": pair_as_input("dry-module"),
    "the old pair as one input of mains": pair_as_input("mains-module"),
    "the old pair and its four-way as one dry input": pair_as_input("dry-module", middle=True),
    "fan and light, two switches": fan_and_light({"d1": "switch", "d2": "switch"}, "d1@fan d2@fan"),
    "fan and light, switch and dimmer": fan_and_light({"d1": "switch", "d2": "two-wire"}, "d1@fan d2@fan"),
    "fan and light, one control": fan_and_light({"d1": "fan-and-light"}, "d1.1@fan d1.2@fan"),
    "three-way, apart": apart("three-way", "three-way"),
    "three-way dimmer, apart": apart("three-way-dimmer", "three-way"),
    "main at the line end": apart("main", "three-way"),
    "main at the load end": apart("three-way", "main", "b"),
    "main at the line end, companion": apart("wired-main", "companion"),
    "main at the load end, companion": apart("companion", "wired-main", "b"),
    "main at the load end, companion that wants hot": apart("hot-companion", "hot-main", "b"),
    "main, far end spliced through": apart("main", ""),
    "main that belongs at the line end": apart("line-main", "three-way"),
    "main that belongs at the load end": apart("three-way", "load-main", "b"),
    "line-end main at a dead end": dead_end("line-main", "three-way"),
    "three-way, dead end": dead_end("three-way", "three-way"),
    "main and dead end": dead_end("main", "three-way"),
    "main and companion at the dead end": dead_end("wired-main", "companion"),
    "main, dead end capped": dead_end("main", "remote"),
    "two-way conversion, UK": dead_end("three-way", "three-way", terms=UK),
    "two-way strappers, UK": apart("three-way", "three-way", terms=UK),
    "three-way through the outlet": through_outlet("three-way", "three-way"),
    "four-way": three_places("three-way", "four-way", "three-way"),
    "four-way out, main": three_places("main", "", "three-way"),
    "four-way out, companions": three_places("wired-main", "companion", "companion"),
    "module behind modular switches, India": modular(),
    "heater of two hots, one of them switched": heater("switch"),
    "heater of two hots, both switched": heater("two-pole"),
    "heater of two hots, electronic, a cable of three wires": heater("smart", 3),
    "bath, a GFCI and a switch in two gangs": job(
        [box("a", "A2 B2", {"d1": "gfci", "d2": "switch"}, "d2@lamp"), lamp("lamp")], "a.A=1 a.B=lamp.A"
    ),
    "a sender behind each plain switch, a relay at the lamp": senders("sender"),
    "a dry sender behind each plain switch, a relay at the lamp": senders("dry-sender"),
    "a radio pair behind a plain pair": radio_pair(),
    "a smart switch that works another over the network": over_the_network(dead_end("smart", "smart"), b_d1="a/d1"),
    "half-hot receptacle": plugged(tab_broken=True),
    "whole receptacle switched": plugged(tab_broken=False, wires=2),
    "goes onward": onward(),
}
"""Houses whose hook-up can be proposed."""
SWITCHES = {"d1": "switch", "d2": "switch", "d3": "switch"}


def two_pairs(near: str, far: str, feed_and_lamps: str) -> Job:
    """Two pairs of places in the same two boxes, with a cable of three wires for each pair."""
    first = box(
        "a", "A2 B3 C3 D2 E2" if feed_and_lamps == "a" else "A2 B3 C3", {"d1": near, "d2": near}, "d1@one d2@two"
    )
    second = box("b", "A3 B3" if feed_and_lamps == "a" else "A3 B3 C2 D2", {"e1": far, "e2": far})
    lamps = "a.D=one.A a.E=two.A" if feed_and_lamps == "a" else "b.C=one.A b.D=two.A"
    return job([first, second, lamp("one"), lamp("two")], f"a.A=1 a.B=b.A a.C=b.B {lamps}")


SEVERAL: Mapping[str, Job] = {
    "heater, fan, and light of a bath on a 12/2 and a 12/3": job(
        [box("a", "A2 B2 C3", SWITCHES, "d1@unit d2@unit d3@unit"), lamp("unit", "A2 B3")],
        "a.A=1 a.B=unit.A a.C=unit.B",
    ),
    "a loop beside a feed of the same circuit": job(
        [
            box("a", "A2 B2 C2", {"d1": "switch", "d2": "switch"}, "d1@one d2@two"),
            lamp("one"),
            lamp("two", "A2 B2"),
        ],
        "a.A=1 a.B=one.A two.A=1 a.C=two.B",
    ),
    "two three-ways, lamps beyond": two_pairs("three-way", "three-way", "b"),
    "two three-ways, dead ends": two_pairs("three-way", "three-way", "a"),
    "two smart mains, lamps beyond": two_pairs("main", "three-way", "b"),
    "two smart mains, dead ends": two_pairs("main", "three-way", "a"),
}
"""Houses in which a hot or a neutral reaches a box by two cables, which stay apart there."""
SHORT: Mapping[str, Job] = {
    "a neutral in a loop of two wires": loop("smart"),
    "a companion that wants hot behind the line end": apart("hot-main", "hot-companion"),
    "a half-hot receptacle on two wires": plugged(tab_broken=True, wires=2),
    "a main between two ends of the outlet": through_outlet("main", "three-way"),
}
"""Houses in which a conductor is missing."""
REFUSED: Mapping[str, tuple[Job, str]] = {
    "line-end main at the load end": (apart("three-way", "line-main", "b"), "at the line end"),
    "load-end main at the line end": (apart("load-main", "three-way"), "at the load end"),
    "a plain switch behind a main that wants its companion": (
        apart("wired-main", "three-way"),
        "nothing is known that it",
    ),
    "another main’s companion": (apart("main", "hot-companion"), "no other sheet wants it"),
}
"""Houses that no sheet of theirs allows, and what is said of them."""
