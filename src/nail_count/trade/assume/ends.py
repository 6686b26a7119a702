"""Assume where the cables of a switch box go, where nobody has entered it.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ..model.box import Box, Device, Equipment
from ..model.load import Load
from ..model.run import BoxEnd, CircuitEnd, OnwardEnd, RunEnd, WordsEnd
from ..rules.wires.live_points import points_of
from .usual import Assumption, loop

LIGHT = "usual-light"
"""The light a switch loop comes from, by its key: no job has a box of it."""
AT_LIGHT = BoxEnd(box=LIGHT, cable="A")

_LIGHTS = ("light", "lights", "lamp", "lamps")


@dataclass(frozen=True, slots=True)
class UsualEnd:
    """Where a cable is assumed to go."""

    cable: str
    end: RunEnd
    assumption: Assumption | None
    """None where it was measured."""
    item: str = ""
    """The device whose loads hang there."""
    channel: int = 0


def usual_ends(box: Box, known: Mapping[str, RunEnd], outlets: frozenset[str]) -> tuple[UsualEnd, ...] | None:
    """Return where the cables of a box usually go; None where several ways are usual.

    With more cables than switches, the first brings the feed, the next go to the lights from the left, and those left
    over go on to the next box. A two-wire cable alone is a loop from the light.

    Args:
        box: with a load on each of its switches.
        known: where its cables go, by their letters, as far as somebody entered it.
        outlets: the boxes of the job at which loads hang.
    """
    return _looped(box, known) or _Deal(box, known, outlets).ends()


def _looped(box: Box, known: Mapping[str, RunEnd]) -> tuple[UsualEnd, ...] | None:
    """The one cable of one switch, from the light; None where the box isn't such a loop."""
    cables = [cable for cable in box.entering if not cable.class2]
    loads = box.devices[0].loads if len(box.devices) == 1 else ()
    if len(cables) != 1 or not loads or any(one.outlet or one.cable or one.channel != 1 for one in loads):
        return None
    if any(not isinstance(end, WordsEnd) for end in known.values()):
        return None
    roles = {wire.asserted_role for wire in cables[0].conductors}
    rests = None if roles == {"line", "switched"} else loop(box, cables[0].id)
    return (UsualEnd(cables[0].id, AT_LIGHT, rests, box.devices[0].id, 1),)


class _Deal:
    """Deals the cables of a box out: one for the feed, one for each load from the left, the rest onward."""

    def __init__(self, box: Box, known: Mapping[str, RunEnd], outlets: frozenset[str]) -> None:
        self.box, self.known = box, known
        cables = (cable.id for cable in box.entering if not cable.class2)
        self.tied = tied = _tied(box)
        self.legs = _legs_by_gang(box, tied)
        # A black that was seen alone on a switch is no feed where others are tied together.
        self.left = sorted((id for id in cables if id not in known), key=lambda id: (bool(tied) and id not in tied, id))
        far = [end.box for end in known.values() if isinstance(end, BoxEnd)]
        self.reached = frozenset(far)
        is_fed = any(isinstance(end, CircuitEnd) for end in known.values())
        self.is_fed = is_fed or not outlets.issuperset(far)
        taken = {load.cable for item in box.devices for load in item.loads}
        self.lit = [id for id, end in known.items() if isinstance(end, WordsEnd) and id not in taken]
        """The cables that somebody entered as going to a light, of no device yet."""

    def ends(self) -> tuple[UsualEnd, ...] | None:
        """Where each cable goes that nobody traced."""
        made: list[UsualEnd] = []
        if not self.is_fed:
            if not self.left:
                return None
            cable = self.left.pop(0)
            made.append(UsualEnd(cable, CircuitEnd(), unless_tied(self.box, cable, feed(self.box, cable))))
        unplaced = list(self._unplaced())
        if len(unplaced) == len(self.lit) == 1:
            unplaced = []  # the only light hangs at the only cable that goes to one
        for item, channel, load in sorted(unplaced, key=lambda one: not self._named(one[0], one[2])):
            if load.outlet or not (self.lit or self.left):
                return None
            made += self._lights(item, channel, load)
        rest = ((id, unless_tied(self.box, id, onward(self.box, id))) for id in self.left)
        return (*made, *(UsualEnd(id, OnwardEnd(), rests) for id, rests in rest))

    def _lights(self, item: Equipment, channel: int, load: Load) -> Iterator[UsualEnd]:
        """The cables to the lights of a switch: those on the old switch in its gang, as far as somebody looked."""
        if named := self._named(item, load):
            self.lit.remove(named)
            yield UsualEnd(named, self.known[named], None, item.id, channel)
            return
        left = self.lit or self.left
        seen = [id for id in left if id in self.legs.get(item.gang, ())] if isinstance(item, Device) else []
        measured = [id for id in seen if self._is_measured(id)]
        for cable in measured or seen[:1] or left[:1]:
            left.remove(cable)
            end = self.known.get(cable, WordsEnd(words="to the light"))
            unnamed = f"the light of gang {item.gang}" if self.box.enclosure.gangs > 1 else "the light"
            rests = None if cable in measured else leg(self.box, cable, load.name or item.name or unnamed)
            yield UsualEnd(cable, end, rests, item.id, channel)

    def _named(self, item: Equipment, load: Load) -> str:
        """The only cable that somebody entered as going to the light of this name; "" where there is none."""
        found = [id for id in self.lit if goes_to(self.known[id], load.name or item.name)]
        return found[0] if len(found) == 1 else ""

    def _is_measured(self, cable: str) -> bool:
        at = self.box.cable(cable)
        return at is not None and any(wire.asserted_role == "switched" for wire in at.conductors)

    def _unplaced(self) -> Iterator[tuple[Equipment, int, Load]]:
        """The first load of each channel whose loads nobody placed, from the left."""
        for item in sorted(self.box.devices, key=lambda one: one.gang):
            for channel in sorted({load.channel for load in item.loads}):
                loads = [load for load in item.loads if load.channel == channel]
                if not any(load.cable or load.outlet in self.reached for load in loads):
                    yield item, channel, loads[0]


def goes_to(end: RunEnd, name: str) -> bool:
    """Tell whether somebody entered a cable as going to the light of this name: to hall, to the Hall light.

    >>> goes_to(WordsEnd(words="to the hall light"), "Hall"), goes_to(WordsEnd(words="to the garden"), "Den")
    (True, False)
    """
    return isinstance(end, WordsEnd) and bool(name) and _plain(end.place) == _plain(name)


def _plain(place: str) -> str:
    """A place in small letters, without its article, and without a word that is true of every light."""
    words = place.casefold().removeprefix("the ").split()
    return " ".join(words[:-1] if len(words) > 1 and words[-1] in _LIGHTS else words)


def unless_tied(box: Box, cable: str, assumed: Assumption) -> Assumption | None:
    """Return an assumption, unless the hots are tied together and measured: then nothing depends on which is which."""
    at = box.cable(cable)
    measured = at is not None and any(wire.asserted_role == "neutral" for wire in at.conductors)
    return None if measured and cable in _tied(box) else assumed


def _tied(box: Box) -> frozenset[str]:
    """The cables whose hot may be the feed as the wires were seen: tied together, or on every switch.

    What the live test showed to be a switch leg is none.
    """
    wires = ((f"{cable.id}{number}", wire) for cable in box.cables for number, wire in enumerate(cable.conductors, 1))
    legs = {id for id, wire in wires if wire.asserted_role == "switched"}
    switches = len(box.found.devices) if box.found else 0
    points = (point for point in points_of(box) if point.on)
    may = (point.wires for point in points if len(point.wires) > 1 or len(point.on) == switches > 1)
    return frozenset(wire.rstrip("0123456789") for wires in may for wire in wires if wire not in legs)


def _legs_by_gang(box: Box, tied: frozenset[str]) -> Mapping[int, frozenset[str]]:
    """The cables on the old switch of each gang and on no other: its lights hang at one of them."""
    gangs = {device.id: device.gang for device in (box.found.devices if box.found else ())}
    found: dict[int, frozenset[str]] = {}
    for point in points_of(box):
        if len(point.on) == 1:
            cables = frozenset(wire.rstrip("0123456789") for wire in point.wires)
            found[gangs[point.on[0]]] = found.get(gangs[point.on[0]], frozenset()) | cables - tied
    return found


def feed(box: Box, cable: str) -> Assumption:
    """Assume that a cable brings the feed."""
    return Assumption(
        "feed", box.id, (cable,), None, f"{cable} is the feed",
        "One cable brings the feed. Until the live test tells which, the first is taken to be it.",
        f"Do the live test: the hot is in cable {cable}.",
    )  # fmt: skip


def leg(box: Box, cable: str, name: str) -> Assumption:
    """Assume that a cable goes to the light of this name."""
    return Assumption(
        "leg", box.id, (cable,), None, f"{cable} goes to {name}",
        "A cable at a switch that isn't the feed usually goes to the light.",
        f"Do the live test: the black of {cable} is dead while it is off the switch.",
    )  # fmt: skip


def onward(box: Box, cable: str) -> Assumption:
    """Assume that a cable carries the feed on."""
    return Assumption(
        "onward", box.id, (cable,), None, f"{cable} goes on to the next box",
        "A cable more than the feed and the lights usually carries the feed on.",
        f"Look for the wires of {cable} in the splices of the feed.",
    )  # fmt: skip
