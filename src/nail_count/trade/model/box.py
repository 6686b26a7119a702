"""A box with its contents in it: a value, so an edit makes another."""

from __future__ import annotations

from typing import Annotated, Literal, Self, get_args

from pydantic import Field, model_validator

from .conductor import Reading
from .contents import Built, Connectors, Contents, Device, Equipment, Module, TerminalBlock
from .enclosure import Enclosure
from .gauge import Gauge
from .live_test import LiveResult
from .practice import Practice
from .splice import ConductorEnd, Splice
from .survey import Survey
from .thing import Id, Mark, Thing
from .wire import Cable
from .wish import Wish

Use = Literal["control", "luminaire", "fan", "receptacle", "junction"]
"""What a box is for. All but `control` and `junction` are outlets: loads hang at them."""
CableWork = Literal["stays", "comes out", "new", "lands here"]
"""What a plan does with a cable."""
USES: tuple[Use, ...] = get_args(Use)
OUTLETS: frozenset[Use] = frozenset(("luminaire", "fan", "receptacle"))
EMPTY = Contents()


class Box(Thing):
    """One box of the house.

    Its contents stand there up to three times: as found, as planned, as built. It is judged as planned, else as found:
    `enclosure`, `devices` and the like are those of that.
    """

    id: Id
    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    use: Use = "control"
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which circuit of the job feeds it."""
    other_circuits: Annotated[tuple[str, ...], Field(max_length=3)] = ()
    """Further circuits that feed it, or may."""
    cables: Annotated[tuple[Cable, ...], Field(max_length=40)] = ()
    """All that ever enter it, those that come out and those that are new among them."""
    found: Contents | None = None
    """None: not known."""
    planned: Contents | None = None
    built: Built | None = None
    survey: Survey = Survey()
    """What was found at it."""
    readings: Annotated[tuple[Reading, ...], Field(max_length=200)] = ()
    """Taken on its conductors, in order."""
    live_test: Annotated[tuple[LiveResult, ...], Field(max_length=100)] = ()
    """What the live test showed at the switch, in order."""
    practice: Practice | None = None
    """Where it is a box to practice on, wired by the program and hidden."""
    wishes: Annotated[tuple[Wish, ...], Field(max_length=8)] = ()
    """What people want of the place."""

    @model_validator(mode="after")
    def _ids_of_their_own(self) -> Self:
        for what, ids in (
            ("cables", [cable.id for cable in self.cables]),
            ("readings", [reading.id for reading in self.readings]),
            ("wishes", [wish.id for wish in self.wishes]),
        ):
            if len(set(ids)) < len(ids):
                raise ValueError(f"Give each of the {what} an id of its own")
        return self

    def changed(self, **fields: object) -> Self:
        """A copy with these fields changed, checked like any other; its contents are changed as they are judged.

        Raises:
            ValidationError: they cannot be so.
        """
        inside = {name: fields.pop(name) for name in Contents.model_fields if name in fields}
        if inside:
            fields["planned"] = self._with_plan(inside)
        return super().changed(**fields)

    def _with_plan(self, inside: dict[str, object]) -> Contents:
        """The plan, with these fields changed. A plan that begins here begins as what was found."""
        if self.planned is not None or self.found is None:
            return self.contents.changed(**inside)
        plan = self.found.as_plan()
        for kind in ("devices", "modules"):
            if isinstance(given := inside.get(kind), tuple):
                inside[kind] = tuple(_begun(one, self.found.equipment) for one in given)
        return plan.changed(**inside)

    @property
    def contents(self) -> Contents:
        """What it is judged by: its plan, else what was found."""
        return self.planned or self.found or EMPTY

    @property
    def as_found(self) -> Contents:
        """What was found in it; where nobody entered that, what stands for it."""
        return self.found or self.contents

    def as_in(self, contents: Contents) -> Self:
        """The box as it is with these contents in it: those that are in it at another stage."""
        plain = Contents(**{name: getattr(contents, name) for name in Contents.model_fields})
        if contents is self.built and self.planned is not None:
            # What was built names what was planned, and a plan names what was found.
            of = {item.id: item.stays for item in self.planned.equipment}
            devices = [item.changed(stays=of.get(item.stays or "")) for item in plain.devices]
            modules = [item.changed(stays=of.get(item.stays or "")) for item in plain.modules]
            plain = plain.changed(devices=devices, modules=modules)
        return self.changed(planned=plain)

    @property
    def enclosure(self) -> Enclosure:
        """The box itself."""
        return self.contents.enclosure

    @property
    def devices(self) -> tuple[Device, ...]:
        """Its yokes."""
        return self.contents.devices

    @property
    def modules(self) -> tuple[Module, ...]:
        """What lies loose in it."""
        return self.contents.modules

    @property
    def splices(self) -> tuple[Splice, ...]:
        """The splices in it."""
        return self.contents.splices

    @property
    def connectors(self) -> tuple[Connectors, ...]:
        """Its wire connectors, by size and gauge."""
        return self.contents.connectors

    @property
    def terminal_blocks(self) -> tuple[TerminalBlock, ...]:
        """Its terminal blocks."""
        return self.contents.terminal_blocks

    @property
    def entering(self) -> tuple[Cable, ...]:
        """The cables that are in it as it is judged: but for those that come out."""
        out = self.contents.out
        return tuple(cable for cable in self.cables if cable.id not in out) if out else self.cables

    def work_of(self, cable: str) -> CableWork:
        """What the plan does with a cable."""
        planned: dict[CableWork, tuple[str, ...]] = {
            "comes out": self.contents.out,
            "new": self.contents.new,
            "lands here": self.contents.landed,
        }
        return next((work for work, cables in planned.items() if cable in cables), "stays")

    @property
    def is_outlet(self) -> bool:
        """Whether loads hang at it."""
        return self.use in OUTLETS

    @property
    def equipment(self) -> tuple[Equipment, ...]:
        """Return everything that can carry loads: devices from left to right, then modules."""
        return self.contents.equipment

    @property
    def circuits(self) -> tuple[str, ...]:
        """Every circuit that feeds it, or may, the main one first."""
        return tuple(dict.fromkeys(id for id in (self.circuit, *self.other_circuits) if id is not None))

    @property
    def works(self) -> tuple[str, ...]:
        """What its devices work over the network, as planned: box/device."""
        return tuple(item.commands for item in self.equipment if item.commands)

    def circuit_of(self, item: Equipment) -> str | None:
        """The circuit that feeds a device or module: the one entered as long as it feeds the box, else the main one."""
        return item.circuit if item.circuit in self.circuits else self.circuit

    @property
    def gauges(self) -> tuple[Gauge, ...]:
        """The gauge of every conductor that enters, grounds among them."""
        return tuple(gauge for cable in self.entering for gauge in cable.gauges)

    def cable(self, id: str) -> Cable | None:
        """The cable with this letter."""
        return next((cable for cable in self.cables if cable.id == id), None)

    def device(self, id: str) -> Device | None:
        """The device with this id."""
        return next((device for device in self.devices if device.id == id), None)

    def item(self, id: str) -> Equipment | None:
        """The device or module with this id."""
        return next((item for item in self.equipment if item.id == id), None)

    def spliced(self, conductor: str) -> Splice | None:
        """The splice a conductor was found in."""
        end = ConductorEnd(of=conductor)
        return next((splice for splice in self.as_found.splices if end in splice.ends), None)


__all__ = ["Box", "Device", "Equipment", "Id", "Mark", "Module", "TerminalBlock", "Use"]


def _begun(one: Equipment, known: tuple[Equipment, ...]) -> Equipment:
    """A device in a plan that begins: the one found, whatever else is entered of it now, unless it is of another
    model."""
    was = next((found for found in known if found.id == one.id and found.sheet == one.sheet), None)
    return one if was is None else one.changed(stays=was.id)
