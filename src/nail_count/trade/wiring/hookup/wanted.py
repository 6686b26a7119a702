"""Which ends are to be one net, device by device, and by which ways of the trade: what a proposal is made of."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import pairwise

from ...model.box import Box, Equipment
from ...model.datasheet import Datasheet, TerminalRole
from ...model.job import Job, by_id
from ...model.load import Load
from ...model.panel import second_pole
from ...model.run import OnwardEnd
from ...model.splice import End, FixtureEnd, LeadEnd
from .gear import LOADS, is_split, is_two_pole, kind_of, neutral_owners, two_hots
from .nets import Link, Net, Place, Routes, Wanted
from .stages import far_end, goes_out_with, switched_at, way_to

Scheme = tuple[str, Callable[[Wanted], None]]
"""A way of the trade: what it is called, and the ends it puts into nets."""


@dataclass(frozen=True, slots=True)
class Placed:
    """A device or module in its box."""

    box: Box
    item: Equipment
    sheet: Datasheet

    @property
    def id(self) -> str:
        """In all of the job."""
        return f"{self.box.id}/{self.item.id}"

    @property
    def place(self) -> Place:
        """Where it is."""
        return Place(self.box.id)

    def ends(self, role: TerminalRole) -> tuple[End, ...]:
        """Its terminals of a role."""
        return tuple(
            LeadEnd(of=self.item.id, terminal=number)
            for number, named in enumerate(self.sheet.roles, 1)
            if named == role
        )


AT_END = {
    "line end": "at the line end, in the box with the feed",
    "load end": "at the load end, in the box with the light",
}
"""Where a device goes by its sheet, in words."""


class Plan:
    """The devices of a job as planned, the loads of each, and from where each is switched."""

    def __init__(self, job: Job, links: Sequence[Link]) -> None:
        self.job, self.links, self.sheets = job, links, by_id(job.sheets)
        self.routes = Routes(links)
        self.boxes = {box.id: box for box in job.boxes}
        self.owner = neutral_owners(job)
        self.placed = [
            Placed(box, item, self.sheets[item.sheet]) for box in job.boxes for item in box.contents.equipment
        ]
        self.kinds = {one.id: kind_of(one.sheet, self.sheets) for one in self.placed}
        self.mains = [one for one in self.placed if one.item.loads and self.kinds[one.id]]
        self.senders = [
            one
            for one in self.placed
            if one.item.commands and not one.item.loads and self.kinds[one.id] in ("powered", "module")
        ]
        """Those that work another device over the network, and switch nothing by wire."""
        self.far = self._far_places()

    def hot(self, circuit: str) -> Net:
        """The net of a circuit's hot."""
        return Net("hot", circuit)

    def neutral(self, circuit: str) -> Net:
        """The net of a circuit's neutral."""
        return Net("neutral", self.owner.get(circuit, circuit))

    def returns(self, circuit: str) -> Net:
        """The net of the other side of what a circuit feeds: its neutral, or its other hot."""
        return self.hot(second_pole(circuit)) if two_hots(self.job, circuit) else self.neutral(circuit)

    def panel(self, circuit: str) -> Place:
        """Where a circuit begins."""
        return Place(circuit=self.owner.get(circuit, circuit))

    def circuit(self, one: Placed) -> str:
        """What feeds a device; "" where nobody entered it."""
        return one.box.circuit_of(one.item) or ""

    def place_of(self, one: Placed, load: Load) -> Place | None:
        """Where a load hangs; None where nobody entered it."""
        if load.outlet in self.boxes:
            return Place(load.outlet or "")
        cable = way_to(self.job, one.box, load, "planned")
        return Place(one.box.id, cable.id) if cable else None

    def together(self, main: Placed) -> set[str]:
        """The boxes of a device, of its loads and of its other places of control."""
        places = (self.place_of(main, load) for load in main.item.loads)
        return {place.box for place in (main.place, *places, *(one.place for one in self.far[main.id])) if place}

    def _far_places(self) -> Mapping[str, list[Placed]]:
        """For each device with loads, the places that switch it from elsewhere.

        Each belongs to the nearest: the one with the shortest way to it, and from it to the lamp. Of plain three-ways
        each takes one other, so that two pairs may stand in one box.
        """
        hearing = (*self.senders, *self.mains)
        found: dict[str, list[Placed]] = {one.id: [] for one in hearing}
        inside = Routes(link for link in self.links if not link.circuit)
        apart = {
            (main.id, far.id): self._apart(inside, main, far)
            for far in self.placed
            if not far.item.loads and self.kinds[far.id] in ("three-way", "four-way", "companion", "switch")
            for main in hearing
            if main.place in inside.ways(far.place) and self._hears(main, far)
        }
        placed = {one.id: one for one in self.placed}
        while apart:  # the nearest two; of two as near, the device that has fewer places yet
            main, far = min(apart, key=lambda pair: (apart[pair], len(found[pair[0]]), pair))
            found[main].append(placed[far])
            is_pair = self.kinds[main] == self.kinds[far] == "three-way"
            apart = {
                pair: how
                for pair, how in apart.items()
                if pair[1] != far and not (is_pair and pair[0] == main and self.kinds[pair[1]] == "three-way")
            }
        for ends in found.values():
            ends.sort(key=self.placed.index)
        return found

    def _apart(self, inside: Routes, main: Placed, far: Placed) -> tuple[bool, bool, int, bool]:
        """How little two places of control look like a pair: on two circuits, in one box, with many cables between
        them and the lamps; and, where all else is alike, whether the device can do without another place."""
        if main in self.senders:
            return False, False, -1, False  # it lies behind that switch
        way = inside.ways(far.place)
        lamps = [place for load in main.item.loads if (place := self.place_of(main, load)) is not None]
        cables = len(way[main.place]) + sum(len(way[lamp]) for lamp in lamps if lamp in way)
        other = self.circuit(main) != self.circuit(far)
        return other, main.place == far.place, cables, self.kinds[main.id] != "three-way"

    def _hears(self, main: Placed, far: Placed) -> bool:
        """Whether a device can be switched from elsewhere by such a thing."""
        kind, far_kind = self.kinds[main.id], self.kinds[far.id]
        if main in self.senders:
            gangs = (main.item.gang, far.item.gang)
            behind = main.place == far.place and bool(main.ends("input")) and (None in gangs or gangs[0] == gangs[1])
            return kind == "module" and behind and far_kind in ("switch", "three-way")
        if kind == "module":
            return far_kind in ("switch", "three-way", "four-way")
        if kind == "powered":
            if far_kind == "companion":
                return main.sheet.companion == far.sheet.id
            plain = main.sheet.companion == "" and main.sheet.places == "several" and bool(main.ends("traveler"))
            return plain and far_kind in ("three-way", "switch")
        return kind == "three-way" and far_kind in ("three-way", "four-way")

    def at_wrong_end(self, main: Placed) -> str:
        """At which end its sheet wants a device that does not stand there; "" where it may."""
        wants, far = main.sheet.end, self.far[main.id]
        if wants in (None, "either") or not far:
            return ""
        way = self.routes.ways(self.panel(self.circuit(main)))

        def beyond(place: Place, by: Place) -> bool:
            """Whether the way to a place leads through another."""
            return any(by in (link.one, link.other) for link in way.get(place, ()))

        lamps = [place for load in main.item.loads if (place := self.place_of(main, load)) is not None]
        behind_it = any(beyond(one.place, main.place) for one in far)
        if wants == "line end":
            return "" if behind_it or all(one.place == main.place for one in far) else wants
        last = all(beyond(lamp, main.place) for lamp in lamps) and not (
            behind_it and any(beyond(lamp, one.place) for lamp in lamps for one in far)
        )
        return "" if last else wants

    # what everybody needs

    def common(self) -> Wanted:
        """What must be one whatever the way: feeds, what goes onward, receptacles."""
        wanted = Wanted()
        for box in self.job.boxes:
            for cable in box.entering:
                far = far_end(self.job, box.id, cable.id)
                for circuit in goes_out_with(self.job, box, cable) if isinstance(far, OnwardEnd) else ():
                    wanted.put(self.hot(circuit), Place(box.id, cable.id))
                    wanted.put(self.returns(circuit), Place(box.id, cable.id))
        for one in self.senders:
            wanted.put(self.hot(self.circuit(one)), one.place, *one.ends("line"))
            wanted.put(self.neutral(self.circuit(one)), one.place, *one.ends("neutral"))
            if self.kinds[one.id] == "module":
                self._inputs(wanted, one, self.far[one.id], self.circuit(one))
        for one in self.placed:
            if one.sheet.kind == "receptacle" and (circuit := self.circuit(one)):
                switched = bool(switched_at(self.job, one.box.id))
                if not switched or is_split(one.item):
                    wanted.put(self.hot(circuit), one.place, *one.ends("line")[:1])
                wanted.put(self.neutral(circuit), one.place, *one.ends("neutral")[:1])
                if is_split(one.item) and not switched:
                    wanted.put(self.hot(circuit), one.place, *one.ends("line"))
        return wanted

    def with_feeds(self, wanted: Wanted) -> Wanted:
        """The same, each hot and neutral that is wanted beginning at the panel."""
        begun = Wanted()
        for net, places in wanted.at.items():
            if net.kind in ("hot", "neutral") and not net.via:
                begun.put(net, self.panel(net.of))
            for place, ends in places.items():
                begun.put(net, place, *ends)
        return begun

    # the ways of the trade

    def ways_of(self, main: Placed) -> Iterator[Scheme]:
        """The ways a device with loads can be hooked up, the usual one first."""
        far, kind = self.far[main.id], self.kinds[main.id]
        if kind == "three-way":
            yield from self._three_ways(main, far)
        elif kind == "powered" and any(self.kinds[one.id] in ("three-way", "switch") for one in far):
            yield "the far switch closes the signal onto the load", lambda w: self._main(w, main, far, onto="switched")
            yield "the far switch closes the signal onto the line", lambda w: self._main(w, main, far, onto="hot")
        elif kind == "module" and sum(self.kinds[one.id] == "three-way" for one in far) == 2:
            for turned in (0, 1):
                yield "the old pair as one input", partial(self._pair_as_input, main, far, turned)
        else:
            yield "", lambda w: self._main(w, main, far, onto="")

    def _outputs(self, wanted: Wanted, main: Placed) -> None:
        """Its loads, each output a net of its own, and their neutral."""
        circuit = self.circuit(main)
        for number, role in enumerate(LOADS, 1):
            loads = [load for load in main.item.loads if load.channel == number]
            if main.ends(role) and loads and not is_two_pole(main.sheet):
                wanted.put(self.switched(main, number), main.place, *main.ends(role))
            if is_two_pole(main.sheet):
                self._both_poles(wanted, main, loads, circuit)
                return
            for load in loads:
                self._hang(wanted, main, load, self.switched(main, number), self.returns(circuit))

    def _both_poles(self, wanted: Wanted, main: Placed, loads: Sequence[Load], circuit: str) -> None:
        """Two hots, each through a contact of its own."""
        nets = self.switched(main), Net("switched", f"{main.id}.other pole", main.id)
        for feed, net, line, out in zip(
            (self.hot(circuit), self.returns(circuit)), nets, main.ends("line"), main.ends("load"), strict=True
        ):
            wanted.put(feed, main.place, line)
            wanted.put(net, main.place, out)
        for load in loads:
            self._hang(wanted, main, load, *nets)

    def switched(self, main: Placed, number: int = 1) -> Net:
        """The net of an output."""
        return Net("switched", f"{main.id}.{number}", main.id)

    def _hang(self, wanted: Wanted, main: Placed, load: Load, net: Net, other: Net) -> None:
        """A load between the two."""
        place = self.place_of(main, load)
        if place is None:
            return
        here = [one for one in self.placed if one.place == place and one.sheet.kind == "receptacle"]
        if here and load.kind == "receptacle":
            wanted.put(net, place, here[0].ends("line")[-1] if is_split(here[0].item) else here[0].ends("line")[0])
            wanted.put(other, place, *here[0].ends("neutral")[:1])
            return
        at_box = not place.cable
        hot = (FixtureEnd(box=main.box.id, load=load.id, side="hot"),) if at_box else ()
        cold = (FixtureEnd(box=main.box.id, load=load.id, side="neutral"),) if at_box else ()
        wanted.put(net, place, *hot)
        wanted.put(other, place, *cold)

    def _main(self, wanted: Wanted, main: Placed, far: Sequence[Placed], onto: str) -> None:
        circuit = self.circuit(main)
        if not is_two_pole(main.sheet):
            wanted.put(self.hot(circuit), main.place, *main.ends("line"), *main.ends("contact"))
        if main.ends("neutral"):
            wanted.put(self.neutral(circuit), main.place, *main.ends("neutral"))
        self._outputs(wanted, main)
        if self.kinds[main.id] == "module":
            self._inputs(wanted, main, far, circuit)
            return
        signal = Net("signal", main.id, main.id)
        if far and main.ends("traveler"):
            wanted.put(signal, main.place, *main.ends("traveler"))
        for one in far:
            if self.kinds[one.id] == "companion":
                wanted.put(signal, one.place, *one.ends("traveler"))
                if line := one.ends("line"):
                    wanted.put(self.hot(circuit), one.place, *line)
                if neutral := one.ends("neutral"):
                    wanted.put(self.neutral(circuit), one.place, *neutral)
            elif self.kinds[one.id] in ("three-way", "switch"):
                to = self.hot(circuit) if onto == "hot" else self.switched(main)
                wanted.put(to, one.place, *one.ends("line"))
                wanted.put(signal, one.place, *(one.ends("traveler") or one.ends("load"))[:1])

    def _inputs(self, wanted: Wanted, main: Placed, far: Sequence[Placed], circuit: str) -> None:
        """The switches in front of a module: onto its live where its inputs take mains, onto its common where dry."""
        common = (
            self.hot(circuit) if main.sheet.input in (None, "mains") else Net("signal", f"{main.id} common", main.id)
        )
        if main.sheet.input not in (None, "mains"):
            wanted.put(common, main.place, *main.ends("input common"))
        for one, input in zip(far, main.ends("input"), strict=False):
            net = Net("signal", f"{main.id} {one.id}", main.id)
            wanted.put(net, main.place, input)
            wanted.put(common, one.place, *one.ends("line"))
            wanted.put(net, one.place, *(one.ends("traveler") or one.ends("load"))[:1])

    def _pair_as_input(self, main: Placed, far: Sequence[Placed], turned: int, wanted: Wanted) -> None:
        """The old pair stays as it is wired, and closes one input of the module together; `turned`: the other way."""
        circuit, mains = self.circuit(main), main.sheet.input in (None, "mains")
        self._main(wanted, main, (), onto="")
        common = self.hot(circuit) if mains else Net("signal", f"{main.id} common", main.id)
        net = Net("signal", f"{main.id} pair", main.id)
        ends = [one for one in far if self.kinds[one.id] == "three-way"]
        first, last = (ends[turned], ends[1 - turned])
        wanted.put(net, main.place, *main.ends("input")[:1])
        wanted.put(common, first.place, *first.ends("line"))
        wanted.put(net, last.place, *last.ends("line"))
        self._chain(wanted, main, first, last, [one for one in far if self.kinds[one.id] == "four-way"])

    def _three_ways(self, main: Placed, far: Sequence[Placed]) -> Iterator[Scheme]:
        ends = [one for one in far if self.kinds[one.id] == "three-way"]
        middle = [one for one in far if self.kinds[one.id] == "four-way"]
        if len(ends) != 1:
            return
        other = ends[0]
        where = self.routes.ways(self.panel(self.circuit(main)))
        first, second = sorted((main, other), key=lambda one: len(where.get(one.place, ())))
        lamp = self.place_of(main, main.item.loads[0])
        to_lamp, to_second = where.get(lamp or main.place, ()), where.get(second.place, ())
        if to_lamp[: len(to_second)] != to_second:
            first, second = second, first  # the lamp is not beyond the far one: the hot goes out, the switched comes in
        if self.job.terms.region.commons_joined and not middle:
            yield "commons joined, feed on one and lamp on the other", lambda w: self._converted(w, main, first, second)
        yield "hot to one common, lamp on the other", lambda w: self._travelers(w, main, first, second, middle)
        yield "hot to the other common", lambda w: self._travelers(w, main, second, first, middle)

    def _loads_on(self, wanted: Wanted, main: Placed, net: Net) -> None:
        for load in main.item.loads:
            self._hang(wanted, main, load, net, self.returns(self.circuit(main)))

    def _travelers(self, wanted: Wanted, main: Placed, hot: Placed, lamp: Placed, middle: Sequence[Placed]) -> None:
        net = self.switched(main)
        wanted.put(self.hot(self.circuit(main)), hot.place, *hot.ends("line"))
        wanted.put(net, lamp.place, *lamp.ends("line"))
        self._loads_on(wanted, main, net)
        self._chain(wanted, main, hot, lamp, middle)

    def _chain(self, wanted: Wanted, main: Placed, hot: Placed, lamp: Placed, middle: Sequence[Placed]) -> None:
        """The travelers from one three-way to the other, through every four-way between."""
        way = self.routes.ways(hot.place)
        chain = [hot, *sorted(middle, key=lambda one: (len(way.get(one.place, ())), one.id)), lamp]
        for number, (near, far) in enumerate(pairwise(chain)):
            out = near.ends("traveler")[-2:]
            back = far.ends("traveler")[:2]
            for n, (one, other) in enumerate(zip(out, back, strict=True)):
                traveler = Net("traveler", f"{main.id} {number}{n}", main.id)
                wanted.put(traveler, near.place, one)
                wanted.put(traveler, far.place, other)

    def _converted(self, wanted: Wanted, main: Placed, one: Placed, other: Placed) -> None:
        """Commons joined; the feed on one traveler of both, the lamp on the other."""
        commons, net = Net("traveler", f"{main.id} common", main.id), self.switched(main)
        self._loads_on(wanted, main, net)
        for place in (one, other):
            first, second = place.ends("traveler")
            wanted.put(commons, place.place, *place.ends("line"))
            wanted.put(self.hot(self.circuit(main)), place.place, first)
            wanted.put(net, place.place, second)
