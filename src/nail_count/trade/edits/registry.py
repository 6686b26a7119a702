"""The changes a person makes to a box: (box, what) → a new box and one sentence for the history.

Taps, keys, forms, import and the search for fixes all go through here. Each edit is a function beside the model of what
it needs, so that a form, a key and a test say the same in the same words.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ..model.box import Box
from ..model.thing import Thing
from . import cables, conductors, contents, devices, enclosure, loads, survey, wishes
from .base import Datasheets, Edit
from .enclosure import copy_box, start_box

__all__ = ["EDITS", "Datasheets", "Edit", "Kind", "copy_box", "make_edit", "start_box"]


@dataclass(frozen=True, slots=True)
class Kind:
    """An edit by name: what it needs, and the function that does it."""

    what: type[Thing]
    do: Callable[[Box, Any, Datasheets], Edit]


EDITS: dict[str, Kind] = {
    "add-cable": Kind(cables.AddCable, cables.add_cable),
    "change-cable": Kind(cables.ChangeCable, cables.change_cable),
    "remove-cable": Kind(cables.RemoveCable, cables.remove_cable),
    "put-device": Kind(devices.PutDevice, devices.put_device),
    "remove-device": Kind(devices.RemoveDevice, devices.remove_device),
    "connect-device": Kind(devices.ConnectDevice, devices.connect_device),
    "swap-gangs": Kind(devices.SwapGangs, devices.swap_gangs),
    "arrange-gangs": Kind(devices.ArrangeGangs, devices.arrange_gangs),
    "add-load": Kind(loads.AddLoad, loads.add_load),
    "change-load": Kind(loads.ChangeLoad, loads.change_load),
    "draws-that": Kind(loads.DrawsThat, loads.draws_that),
    "measure-load": Kind(loads.MeasureLoad, loads.measure_load),
    "read-relay": Kind(loads.ReadRelay, loads.read_relay),
    "remove-load": Kind(loads.RemoveLoad, loads.remove_load),
    "set-volume": Kind(enclosure.SetVolume, enclosure.set_volume),
    "set-material": Kind(enclosure.SetMaterial, enclosure.set_material),
    "set-clamps": Kind(enclosure.SetClamps, enclosure.set_clamps),
    "set-gangs": Kind(enclosure.SetGangs, enclosure.set_gangs),
    "set-inside": Kind(enclosure.SetInside, enclosure.set_inside),
    "add-ring": Kind(enclosure.AddRing, enclosure.add_ring),
    "remove-ring": Kind(enclosure.RemoveRing, enclosure.remove_ring),
    "set-fittings": Kind(contents.SetFittings, contents.set_fittings),
    "add-connectors": Kind(contents.AddConnectors, contents.add_connectors),
    "add-terminal-block": Kind(contents.AddTerminalBlock, contents.add_terminal_block),
    "add-module": Kind(contents.AddModule, contents.add_module),
    "connect-module": Kind(contents.ConnectModule, contents.connect_module),
    "add-barrier": Kind(contents.AddBarrier, contents.add_barrier),
    "take-out": Kind(contents.TakeOut, contents.take_out),
    "rename": Kind(enclosure.Rename, enclosure.rename),
    "tick-dead": Kind(survey.TickDead, survey.tick_dead),
    "clear-dead": Kind(survey.ClearDead, survey.clear_dead),
    "add-photo": Kind(survey.AddPhoto, survey.add_photo),
    "remove-photo": Kind(survey.RemovePhoto, survey.remove_photo),
    "set-setback": Kind(survey.SetSetback, survey.set_setback),
    "set-holes": Kind(survey.SetHoles, survey.set_holes),
    "set-found": Kind(survey.SetFound, survey.set_found),
    "look": Kind(survey.Look, survey.look),
    "try-breaker": Kind(survey.TryBreaker, survey.try_breaker),
    "search-again": Kind(survey.SearchAgain, survey.search_again),
    "see-conductor": Kind(conductors.SeeConductor, conductors.see_conductor),
    "name-cable": Kind(conductors.NameCable, conductors.name_cable),
    "take-reading": Kind(conductors.TakeReading, conductors.take_reading),
    "drop-reading": Kind(conductors.DropReading, conductors.drop_reading),
    "set-other-circuits": Kind(conductors.SetOtherCircuits, conductors.set_other_circuits),
    "set-wish": Kind(wishes.SetWish, wishes.set_wish),
    "remove-wish": Kind(wishes.RemoveWish, wishes.remove_wish),
}
"""Every edit a person can make to a box, by the name that pages and keys use."""


def make_edit(box: Box, name: str, fields: Mapping[str, object], sheets: Datasheets) -> Edit:
    """Does the edit of this name with these fields.

    Raises:
        KeyError: no edit has this name.
        ValidationError: a field is not what the edit needs.
        Rejected: the box cannot be changed so.
    """
    kind = EDITS[name]
    return kind.do(box, kind.what.model_validate(fields), sheets)
