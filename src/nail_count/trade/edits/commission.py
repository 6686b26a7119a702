"""The notes on a device at commissioning: serial, name, firmware, settings, watts. Never its code."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator
from typing import Annotated

from pydantic import BeforeValidator, Field

from ..documents import Documents, Edited
from ..model.box import Box
from ..model.commissioned import Commissioned, Setting, SettingName
from ..model.contents import Built, Contents
from ..model.errors import Rejected
from ..model.measure import Power
from ..model.thing import Moment
from ..text.sounds import sound_alike
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import called, item_of
from .fields import in_watts, now


def as_built(box: Box) -> Built:
    """What was built in a box; the plan, where nobody noted anything else."""
    if box.built is not None:
        return box.built
    return Built(**{name: getattr(box.contents, name) for name in Contents.model_fields})


def noted_of(box: Box, device: str) -> Commissioned:
    """What was noted of a device; nothing yet where nothing was."""
    noted = box.built.commissioned if box.built else ()
    return next((one for one in noted if one.of == device), Commissioned(of=device))


class NoteOfDevice(BoxEdit):
    """Something noted of a device or module."""

    device: str
    at: Moment = Field(default_factory=now)

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with it noted."""
        item = item_of(box, self.device)
        built, was = as_built(box), noted_of(box, self.device)
        new = self.noted(was).changed(at=self.at)
        rest = tuple(one for one in built.commissioned if one.of != self.device)
        return BoxEdited(
            box.changed(built=built.changed(commissioned=(*rest, new))), f"{called(item, sheets)}: {self.what()}"
        )

    @abstractmethod
    def noted(self, was: Commissioned) -> Commissioned:
        """The notes on it after this."""

    @abstractmethod
    def what(self) -> str:
        """It in a few words."""

    def others(self, documents: Documents) -> Iterator[tuple[Box, Commissioned]]:
        """What was noted of every other device of the house."""
        for key in documents.lines():
            box = documents.box(key)
            for one in box.built.commissioned if box.built else ():
                if (key, one.of) != (self.box, self.device):
                    yield box, one


class NoteSerial(NoteOfDevice):
    """The serial number on a device."""

    serial: Annotated[str, Field(max_length=60, pattern=r"^[\w .:/-]*$")]

    def noted(self, was: Commissioned) -> Commissioned:
        """With its serial."""
        return was.changed(serial=self.serial)

    def what(self) -> str:
        """The serial."""
        return f"serial {self.serial or 'not noted'}"

    def _edited(self, documents: Documents) -> Edited:
        for box, one in self.others(documents):
            if self.serial and one.serial.casefold() == self.serial.casefold():
                raise Rejected(f"Check the serial: {self.serial} is that of a device in {box.name}", "serial")
        return super()._edited(documents)


class NameInHub(NoteOfDevice):
    """What its hub and the people of the house call a device."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    hub: Annotated[str, Field(max_length=60)] = ""

    def noted(self, was: Commissioned) -> Commissioned:
        """With its name, and the hub that calls it so."""
        return was.changed(name=self.name, hub=self.hub or was.hub)

    def what(self) -> str:
        """The name."""
        return f"called {self.name}"

    def _edited(self, documents: Documents) -> Edited:
        for box, one in self.others(documents):
            if one.name and sound_alike(one.name, self.name):
                said = "is called so" if one.name.casefold() == self.name.casefold() else "sounds like it read aloud"
                raise Rejected(f"Pick another name; “{one.name}” in {box.name} {said}", "name")
        return super()._edited(documents)


class NoteFirmware(NoteOfDevice):
    """The firmware a device came with, and has now; an update resets what was set, so it goes before."""

    before: Annotated[str, Field(max_length=40)] = ""
    firmware: Annotated[str, Field(min_length=1, max_length=40)]

    def noted(self, was: Commissioned) -> Commissioned:
        """With its firmware; after an update, without what was set before it."""
        updated = bool(was.firmware) and was.firmware != self.firmware
        settings = () if updated else was.settings
        return was.changed(before=self.before or was.before, firmware=self.firmware, settings=settings)

    def what(self) -> str:
        """Before and after."""
        return f"firmware {f'{self.before}, now ' if self.before else ''}{self.firmware}"


class NoteSetting(NoteOfDevice):
    """Something set on a device; nothing: it is not set any more."""

    name: SettingName
    value: Annotated[str, Field(max_length=120)] = ""

    def noted(self, was: Commissioned) -> Commissioned:
        """With it set."""
        rest = tuple(one for one in was.settings if one.name != self.name)
        return was.changed(settings=(*rest, Setting(name=self.name, value=self.value)) if self.value else rest)

    def what(self) -> str:
        """The setting and its value."""
        return f"{self.name} {self.value or 'not set'}"


class NotePair(NoteOfDevice):
    """A companion or a remote paired with a device, or no longer."""

    other: Annotated[str, Field(min_length=1, max_length=60)]
    paired: bool = True

    def noted(self, was: Commissioned) -> Commissioned:
        """With the pair, or without it."""
        rest = tuple(one for one in was.pairs if one != self.other)
        return was.changed(pairs=(*rest, self.other) if self.paired else rest)

    def what(self) -> str:
        """With what."""
        return f"{'paired with' if self.paired else 'no longer paired with'} {self.other}"


class NoteWatts(NoteOfDevice):
    """What a device measured with everything on it on."""

    watts: Annotated[Power, BeforeValidator(in_watts)]

    def noted(self, was: Commissioned) -> Commissioned:
        """With the watts."""
        return was.changed(watts=self.watts)

    def what(self) -> str:
        """How much."""
        return f"measures {self.watts}"


class SayBuilt(BoxEdit):
    """The box was built as it is planned now; what was noted of its devices stays."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with the plan as built."""
        noted = box.built.commissioned if box.built else ()
        here = {item.id for item in box.equipment}
        contents = box.contents.staying(box.contents)
        inside = {name: getattr(contents, name) for name in Contents.model_fields}
        built = Built(**inside, commissioned=tuple(one for one in noted if one.of in here))
        return BoxEdited(box.changed(built=built), "Built as planned")
