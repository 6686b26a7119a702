"""Look at the old wiring of a switch box, and enter what a live test of it showed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Literal, get_args

from pydantic import BeforeValidator, Field

from ..documents import Documents, Edited
from ..model.box import Box, Device
from ..model.conductor import Role
from ..model.contents import OLD_WIRING, Contents
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..model.job import Terms
from ..model.live_test import LiveResult, Place, Reference, Tapped
from ..model.measure import Number
from ..model.region import ColorCode
from ..model.run import CircuitEnd, WordsEnd, end_in_words
from ..model.splice import ConductorEnd, End, GroundEnd, LeadEnd, Splice
from ..model.thing import Mark, Moment
from ..model.wire import Cable
from ..rules.wires.live import live_test
from ..rules.wires.live_points import Found, old_cables, points_of
from ..wiring.hookup.colors import as_sold
from ..wiring.hookup.work import with_connector
from .base import BoxEdit, BoxEdited, Datasheets
from .fields import Maybe, in_volts, listed, now
from .replan import replanned
from .runs import run_at, said_to_go


class LookAtSwitch(BoxEdit):
    """Record the marks on the old switches, and whether they worked."""

    on_off: bool
    worked: Annotated[bool | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with its old switches looked at."""
        worked = {None: "", True: ", and worked", False: ", and didn't work"}[self.worked]
        marked = "marked ON and OFF" if self.on_off else "not marked ON and OFF"
        survey = box.survey.changed(on_off=self.on_off, worked=self.worked)
        return BoxEdited(box.changed(survey=survey), f"Old switch: {marked}{worked}")


class LookAtWires(BoxEdit):
    """How the wires lie in the box, nothing undone: it is the record of the old wiring."""

    way: Literal["whites tied", "both on the switch"]
    legs: Annotated[tuple[Mark, ...], BeforeValidator(listed)] = ()
    """For each old switch from the left, the cable whose black is alone on one of its screws."""
    capped: Annotated[tuple[Mark, ...], BeforeValidator(listed)] = ()
    """The cables that are not in use: each of their wires is under a cap of its own."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with its old wiring as it was seen; a live test of other wiring no longer counts."""
        return self._recorded(box, sheets, Terms().colors)

    def _edited(self, documents: Documents) -> Edited:
        edited = self._recorded(documents.box(self.box), documents.sheets, documents.head.terms.colors)
        return Edited(replanned(documents, documents.with_box(edited.box), self.box), edited.sentence)

    def _recorded(self, box: Box, sheets: Datasheets, colors: ColorCode) -> BoxEdited:
        old = old_cables(box)
        box = box.changed(cables=tuple(as_sold(one, colors) if one in old else one for one in box.cables))
        cables = old_cables(box)
        if not cables or any(cable.insulated != 2 for cable in cables):
            raise Rejected("Record this wiring on the hook-up page: this is for cables of two wires.", "way")
        found = _old_contents(box, sheets, _is_plain_switch)
        splices = self._insulated(found, cables, sheets)
        return BoxEdited(_as_found(box, found, splices, sheets), f"Old wiring seen: {_SEEN[self.way]}")

    def _insulated(self, found: Contents, cables: tuple[Cable, ...], sheets: Datasheets) -> list[list[End]]:
        """The splices of everything but the grounds."""
        idle = [cable for cable in cables if cable.id in self.capped]
        used = tuple(cable for cable in cables if cable.id not in self.capped)
        looped = self.way == "both on the switch"
        splices = _looped(found, used, sheets) if looped else self._tied(found, used, sheets)
        return splices + [[ConductorEnd(of=id)] for cable in idle for id in cable.conductor_ids]

    def _tied(self, found: Contents, cables: tuple[Cable, ...], sheets: Datasheets) -> list[list[End]]:
        """The blacks on the switches, those of no switch alone tied together, and the whites in one connector."""
        legs = self.legs or _only_legs(found, cables)
        if len(set(legs)) != len(found.devices) or not set(legs) < {cable.id for cable in cables}:
            raise Rejected("Pick for each switch the cable whose black is alone on one of its screws.", "legs")
        whites, blacks = _by_color(cables)
        hot: list[End] = [blacks[cable.id] for cable in cables if cable.id not in legs]
        splices: list[list[End]] = [hot, [whites[cable.id] for cable in cables]]
        for device, leg in zip(sorted(found.devices, key=lambda one: one.gang), legs, strict=True):
            line, load = _screws(device, sheets)
            hot.append(line)
            splices.append([load, blacks[leg]])
        return splices


class LookAtThreeWay(BoxEdit):
    """Where each wire is at an old three-way switch, nothing undone: it is the record of the old wiring."""

    places: Annotated[tuple[Place, ...], BeforeValidator(listed)]
    """Of each wire, cable by cable."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with its old wiring as it was seen; a live test of other wiring no longer counts."""
        return self._recorded(box, sheets, Terms().colors)

    def _edited(self, documents: Documents) -> Edited:
        edited = self._recorded(documents.box(self.box), documents.sheets, documents.head.terms.colors)
        return Edited(replanned(documents, documents.with_box(edited.box), self.box), edited.sentence)

    def _recorded(self, box: Box, sheets: Datasheets, colors: ColorCode) -> BoxEdited:
        at = self._at(box)
        cables = tuple(_sat(as_sold(one, colors), at) if one in old_cables(box) else one for one in box.cables)
        box = box.changed(cables=cables)
        found = _old_contents(box, sheets, _is_three_way_switch)
        (device,) = found.devices
        roles = sheets[device.sheet].roles
        dark, *others = sorted(
            (n for n, role in enumerate(roles, 1) if role in ("line", "traveler")),
            key=lambda n: roles[n - 1] != "line",
        )
        wires: dict[Place, list[End]] = {place: [] for place in get_args(Place)}
        for wire, where in at.items():
            wires[where].append(ConductorEnd(of=wire))
        splices = [[LeadEnd(of=device.id, terminal=dark), *wires["dark"]]]
        pairs = zip(others, wires["other"], strict=True)
        splices += [[LeadEnd(of=device.id, terminal=number), wire] for number, wire in pairs]
        splices += [wires[place] for place in ("tied", "tied apart") if wires[place]]
        splices += [[wire] for wire in wires["capped"]]
        return BoxEdited(_as_found(box, found, splices, sheets), "Old wiring of the three-way switch seen")

    def _at(self, box: Box) -> dict[str, Place]:
        """Where each wire is, by its id. Raises Rejected where no three-way switch can look so."""
        wires = [wire for cable in old_cables(box) for wire in cable.conductor_ids]
        if len(self.places) != len(wires):
            raise Rejected(f"Pick where each of the {len(wires)} wires is.", "places")
        count = self.places.count
        if not count("dark") or count("other") != 2:
            raise Rejected("Pick the wire on the dark screw, and one for each of the other two screws.", "places")
        if count("tied") == 1 or count("tied apart") == 1:
            raise Rejected("A splice has two wires or more. Pick “capped” for a wire alone.", "places")
        return dict(zip(wires, self.places, strict=True))


def _sat(cable: Cable, at: Mapping[str, Place]) -> Cable:
    """The cable with the screws its wires were on."""
    sat = {"dark": "common", "other": "other"}
    wires = ((cable.conductor(n), sat.get(at[id])) for n, id in enumerate(cable.conductor_ids, 1))
    return cable.changed(conductors=tuple(wire.changed(sat_on=on) for wire, on in wires))


_SEEN = {"whites tied": "blacks on the switch, whites tied together", "both on the switch": "both wires on the switch"}


def _as_found(box: Box, found: Contents, splices: list[list[End]], sheets: Datasheets) -> Box:
    """The box with these splices in it as found, and its grounds tied together; a test of other wiring is gone."""
    grounds: list[End] = [GroundEnd(cable=cable.id) for cable in old_cables(box) if cable.grounds]
    for device in found.devices:
        roles = sheets[device.sheet].roles
        if grounds and "ground" in roles:
            grounds.append(LeadEnd(of=device.id, terminal=roles.index("ground") + 1))
    every = splices + ([grounds] if len(grounds) > 1 else [])
    named = [Splice(id=f"s{n}", name="cap" if len(ends) == 1 else "", ends=ends) for n, ends in enumerate(every, 1)]
    before = box.as_in(found)
    made = tuple(with_connector(before, splice, sheets) for splice in named)
    rests = tuple(one for one in found.rests_on if one.code != OLD_WIRING)
    found = found.changed(splices=made, rests_on=rests)
    planned = box.planned.staying(found) if box.planned else None
    seen = box.changed(found=found, planned=planned)
    return seen if points_of(seen) == points_of(box) else seen.changed(live_test=())


def _old_contents(box: Box, sheets: Datasheets, is_old: Callable[[Datasheet], bool]) -> Contents:
    """What was in the box as found; where nobody entered it, an old switch in the gang of each device planned now.

    Args:
        is_old: whether a sheet is of such an old switch.
    """
    if box.found is not None and box.found.devices:
        found = box.found
    else:
        plain = next((sheet for sheet in sheets.values() if is_old(sheet)), None)
        if plain is None:
            raise Rejected("Add the old switch to the device sheets of this job first.", "way")
        standing = [one for one in box.devices if not (sheets[one.sheet].is_blank or sheets[one.sheet].battery)]
        gangs = range(1, box.enclosure.gangs + 1)
        devices = tuple(
            device if is_old(sheets[device.sheet]) else _before(device, plain) for device in standing
        ) or tuple(Device(id=f"d{gang}", gang=gang, sheet=plain.id) for gang in gangs)
        found = Contents(enclosure=box.enclosure, devices=devices).staying(None)
    if not found.devices or not all(is_old(sheets[device.sheet]) for device in found.devices):
        raise Rejected("Record this wiring on the hook-up page: another kind of switch is recorded here.", "way")
    return found


def _before(device: Device, plain: Datasheet) -> Device:
    """The plain switch that stands where a device is planned."""
    return Device(id=device.id, gang=device.gang, sheet=plain.id, name=device.name, circuit=device.circuit)


def _is_plain_switch(sheet: Datasheet) -> bool:
    """Tell whether a sheet is of a switch with a line and a load screw, and nothing else but a ground."""
    return sheet.kind == "switch" and set(sheet.roles) - {"ground"} == {"line", "load"} and sheet.gangs == 1


def _is_three_way_switch(sheet: Datasheet) -> bool:
    """Tell whether a sheet is of a switch with a dark screw and two others, and nothing else but a ground."""
    screws = sorted(role for role in sheet.roles if role != "ground")
    return sheet.kind == "switch" and screws == ["line", "traveler", "traveler"] and sheet.gangs == 1


def _screws(device: Device, sheets: Datasheets) -> tuple[End, End]:
    roles = sheets[device.sheet].roles
    line, load = (LeadEnd(of=device.id, terminal=roles.index(role) + 1) for role in ("line", "load"))
    return line, load


def _only_legs(found: Contents, cables: tuple[Cable, ...]) -> tuple[str, ...]:
    """The leg of the only switch on two cables: each black is alone on a screw, and either may be called it."""
    return (cables[-1].id,) if len(found.devices) == 1 and len(cables) == 2 else ()


def _looped(found: Contents, cables: tuple[Cable, ...], sheets: Datasheets) -> list[list[End]]:
    """Both wires of the only cable on the only switch."""
    if len(cables) != 1 or len(found.devices) != 1:
        raise Rejected("Record this wiring on the hook-up page: this is for one cable and one switch.", "way")
    whites, blacks = _by_color(cables)
    line, load = _screws(found.devices[0], sheets)
    return [[line, whites[cables[0].id]], [load, blacks[cables[0].id]]]


WHITE = ("white", "gray")
"""The colors of a neutral in the US and Canada, NEC 200.6, from memory of the publication."""


def _by_color(cables: tuple[Cable, ...]) -> tuple[dict[str, End], dict[str, End]]:
    """The white and the black of each two-wire cable. Raises Rejected where its colors tell no white."""
    whites: dict[str, End] = {}
    blacks: dict[str, End] = {}
    for cable in cables:
        for number, id in enumerate(cable.conductor_ids, 1):
            (whites if cable.conductor(number).color in WHITE else blacks)[cable.id] = ConductorEnd(of=id)
    if len(whites) != len(cables) or len(blacks) != len(cables):
        raise Rejected("Record this wiring on the hook-up page: a cable has no white and black.", "way")
    return whites, blacks


class TouchWire(BoxEdit):
    """What the tester showed at one touch of the live test."""

    wires: Annotated[tuple[Mark, ...], BeforeValidator(listed)]
    """The conductors under the connector: A1, or A2,B2."""
    to: Reference | Mark = "ground"
    on: bool = True
    flipped: bool = False
    volts: Annotated[Number | None, BeforeValidator(in_volts)] = None
    tapped: Annotated[Tapped | None, Maybe] = None
    at: Moment = Field(default_factory=now)

    def blamed(self) -> str:
        """What the tester showed."""
        return "volts"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One more result of the live test."""
        if self.wires not in {point.wires for point in points_of(box)}:
            raise Rejected("Pick one of the connections you saw in this box.", "wires")
        result = LiveResult.model_validate(self.said())
        if len(box.live_test) >= 100:
            raise Rejected("A box keeps at most 100 results of a live test. Start the test over.", "wires")
        state = ("" if self.on else ", its breaker off") + (", the other switch flipped" if self.flipped else "")
        sentence = f"Live test: {' and '.join(self.wires)} to {self.to}, {result.value}{state}"
        return BoxEdited(box.changed(live_test=(*box.live_test, result)), sentence)


class TestAgain(BoxEdit):
    """Start the live test over; history keeps what it showed."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without the results of its live test."""
        if not box.live_test:
            raise Rejected("This box has no live test yet.", "box")
        return BoxEdited(box.changed(live_test=()), "Live test started over")


_ROLES: dict[Found, Role] = {"line hot": "line", "neutral": "neutral", "switch leg": "switched", "traveler": "traveler"}


class UseMeasured(BoxEdit):
    """Record the wires as the live test measured them, and where their cables go."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with what its wires are; of hots tied together, which brings the feed stays open."""
        return self._recorded(box, Terms().voltage)

    def _recorded(self, box: Box, voltage: int) -> BoxEdited:
        roles = _roles(box, voltage)
        cables = tuple(_with_roles(cable, roles) for cable in box.cables)
        return BoxEdited(box.changed(cables=cables), "Wires recorded as measured")

    def _edited(self, before: Documents) -> Edited:
        documents, voltage = before, before.head.terms.voltage
        edited = self._recorded(documents.box(self.box), voltage)
        documents, roles = documents.with_box(edited.box), _roles(edited.box, voltage)
        for cable in old_cables(edited.box):
            mine = {roles.get(id) for id in cable.conductor_ids}
            goes = "feed" if mine == {"line", "neutral"} else "to the lamp" if "switched" in mine else None
            if goes and _is_open(documents, self.box, cable.id, goes):
                end = end_in_words(goes, edited.box.circuit)
                documents = said_to_go(documents, documents.box(self.box), cable.id, end)
        again = replanned(before, documents, self.box)
        return Edited(again, edited.sentence if again is documents else f"{edited.sentence}. Hook-up planned again")


def _is_open(documents: Documents, box: str, cable: str, goes: str) -> bool:
    """Whether nobody entered where a cable goes, or what he entered is not what was measured."""
    run = run_at(documents, box, cable)
    end = run.far_from(box, cable) if run else None
    return end is None or isinstance(end, WordsEnd if goes == "feed" else CircuitEnd)


def _roles(box: Box, voltage: int) -> dict[str, Role]:
    """The roles that were measured; none for hots tied together."""
    test = live_test(box, voltage)
    if test is None or not test.wires:
        raise Rejected("Finish the live test first.", "box")
    several = {wire for point in points_of(box) if point.on and len(point.wires) > 1 for wire in point.wires}
    told = test.wires.items()
    return {wire: _ROLES[found] for wire, found in told if found != "line hot" or wire not in several}


def _with_roles(cable: Cable, roles: Mapping[str, Role]) -> Cable:
    if not any(id in roles for id in cable.conductor_ids):
        return cable
    seen = [(cable.conductor(number), roles.get(id)) for number, id in enumerate(cable.conductor_ids, 1)]
    return cable.changed(conductors=tuple(one.changed(asserted_role=role) if role else one for one, role in seen))
