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
from . import changes as say
from . import load_changes as hang
from .base import Datasheets, Edit
from .enclosure import copy_box, start_box

__all__ = ["EDITS", "Datasheets", "Edit", "Kind", "copy_box", "make_edit", "start_box"]


@dataclass(frozen=True, slots=True)
class Kind:
    """An edit by name: what it needs, and the function that does it."""

    what: type[Thing]
    do: Callable[[Box, Any, Datasheets], Edit]


EDITS: dict[str, Kind] = {
    "add-cable": Kind(say.AddCable, cables.add_cable),
    "change-cable": Kind(say.ChangeCable, cables.change_cable),
    "remove-cable": Kind(say.RemoveCable, cables.remove_cable),
    "put-device": Kind(say.PutDevice, devices.put_device),
    "remove-device": Kind(say.RemoveDevice, devices.remove_device),
    "connect-device": Kind(say.ConnectDevice, devices.connect_device),
    "swap-gangs": Kind(say.SwapGangs, devices.swap_gangs),
    "arrange-gangs": Kind(say.ArrangeGangs, devices.arrange_gangs),
    "add-load": Kind(hang.AddLoad, loads.add_load),
    "change-load": Kind(hang.ChangeLoad, loads.change_load),
    "draws-that": Kind(hang.DrawsThat, loads.draws_that),
    "measure-load": Kind(hang.MeasureLoad, loads.measure_load),
    "read-relay": Kind(hang.ReadRelay, loads.read_relay),
    "remove-load": Kind(hang.RemoveLoad, loads.remove_load),
    "set-volume": Kind(say.SetVolume, enclosure.set_volume),
    "set-material": Kind(say.SetMaterial, enclosure.set_material),
    "set-clamps": Kind(say.SetClamps, enclosure.set_clamps),
    "set-gangs": Kind(say.SetGangs, enclosure.set_gangs),
    "set-inside": Kind(say.SetInside, enclosure.set_inside),
    "add-ring": Kind(say.AddRing, enclosure.add_ring),
    "remove-ring": Kind(say.RemoveRing, enclosure.remove_ring),
    "set-fittings": Kind(say.SetFittings, contents.set_fittings),
    "add-connectors": Kind(say.AddConnectors, contents.add_connectors),
    "add-terminal-block": Kind(say.AddTerminalBlock, contents.add_terminal_block),
    "add-module": Kind(say.AddModule, contents.add_module),
    "connect-module": Kind(say.ConnectModule, contents.connect_module),
    "add-barrier": Kind(say.AddBarrier, contents.add_barrier),
    "take-out": Kind(say.TakeOut, contents.take_out),
    "rename": Kind(say.Rename, enclosure.rename),
    "tick-dead": Kind(say.TickDead, survey.tick_dead),
    "clear-dead": Kind(say.ClearDead, survey.clear_dead),
    "add-photo": Kind(say.AddPhoto, survey.add_photo),
    "remove-photo": Kind(say.RemovePhoto, survey.remove_photo),
    "set-setback": Kind(say.SetSetback, survey.set_setback),
    "set-holes": Kind(say.SetHoles, survey.set_holes),
    "set-found": Kind(say.SetFound, survey.set_found),
    "look": Kind(say.Look, survey.look),
    "try-breaker": Kind(say.TryBreaker, survey.try_breaker),
    "search-again": Kind(say.SearchAgain, survey.search_again),
    "see-conductor": Kind(say.SeeConductor, conductors.see_conductor),
    "name-cable": Kind(say.NameCable, conductors.name_cable),
    "take-reading": Kind(say.TakeReading, conductors.take_reading),
    "drop-reading": Kind(say.DropReading, conductors.drop_reading),
    "set-other-circuits": Kind(say.SetOtherCircuits, conductors.set_other_circuits),
    "set-wish": Kind(say.SetWish, wishes.set_wish),
    "remove-wish": Kind(say.RemoveWish, wishes.remove_wish),
}
"""Every edit a person can make to a box, by the name that pages and keys use."""


def make_edit(box: Box, name: str, said: Mapping[str, object], sheets: Datasheets) -> Edit:
    """Does the edit of this name with what was said.

    Raises:
        KeyError: no edit has this name.
        ValidationError: a field is not what the edit needs.
        Refused: the box cannot be changed so.
    """
    kind = EDITS[name]
    return kind.do(box, kind.what.model_validate(said), sheets)
