"""Every act of a person on a job, by name: taps, keys, forms, lines, files and fixes name the same values."""

from __future__ import annotations

from collections.abc import Mapping

from ..model.box import Box
from ..model.errors import Rejected
from . import (
    cables,
    commission,
    conductors,
    contents,
    datasheets,
    devices,
    enclosure,
    hookup,
    live,
    loads,
    mend,
    practice,
    refits,
    reroutes,
    runs,
    stages,
    survey,
    wishes,
)
from .base import BoxEdit, BoxEdited, Datasheets, Edit
from .house import boxes, days, own_box, panel, prices, rooms, shelf, stock

_ALL: tuple[type[Edit], ...] = (
    cables.AddCable,
    cables.ChangeCable,
    cables.RemoveCable,
    devices.PutDevice,
    devices.RemoveDevice,
    devices.ConnectDevice,
    devices.SwapGangs,
    devices.ArrangeGangs,
    loads.AddLoad,
    loads.ChangeLoad,
    loads.DrawsThat,
    loads.MeasureLoad,
    loads.ReadLabel,
    loads.ReadRelay,
    loads.RemoveLoad,
    enclosure.SetVolume,
    enclosure.SetMaterial,
    enclosure.SetClamps,
    enclosure.SetGangs,
    enclosure.SetInside,
    enclosure.SetFan,
    enclosure.AddRing,
    enclosure.RemoveRing,
    contents.SetFittings,
    contents.AddConnectors,
    contents.AddTerminalBlock,
    contents.AddModule,
    contents.ConnectModule,
    contents.AddBarrier,
    contents.TakeOut,
    enclosure.Rename,
    survey.TickDead,
    survey.ClearDead,
    survey.AddPhoto,
    survey.RemovePhoto,
    survey.SetSetback,
    survey.SetHoles,
    survey.SetFound,
    survey.SetBreakerKind,
    survey.Look,
    survey.TryBreaker,
    survey.SearchAgain,
    survey.FoundBreaker,
    survey.AskLater,
    conductors.SeeConductor,
    conductors.NameCable,
    conductors.TakeReading,
    conductors.DropReading,
    conductors.SetOtherCircuits,
    live.LookAtSwitch,
    live.LookAtWires,
    live.LookAtThreeWay,
    live.TouchWire,
    live.TestAgain,
    live.UseMeasured,
    wishes.SetWish,
    wishes.RemoveWish,
    panel.PutCircuit,
    panel.RemoveCircuit,
    panel.SetPanel,
    rooms.SetHouse,
    rooms.SetAssumptions,
    rooms.SetHub,
    rooms.SetFloor,
    rooms.AskHouseLater,
    stock.PutStock,
    stock.RemoveStock,
    boxes.MoveBox,
    boxes.StartBox,
    boxes.CopyBox,
    boxes.RemoveBox,
    boxes.BringBack,
    boxes.BringIn,
    mend.Mend,
    runs.SayRun,
    stages.SayContents,
    commission.NoteSerial,
    commission.NameInHub,
    commission.NoteFirmware,
    commission.NoteSetting,
    commission.NotePair,
    commission.NoteWatts,
    commission.SayBuilt,
    prices.PutPrice,
    prices.RemovePrice,
    prices.PutMovePrice,
    prices.RemoveMovePrice,
    prices.PutConnector,
    prices.RemoveConnector,
    prices.PutLamp,
    prices.RemoveLamp,
    shelf.PutOnShelf,
    days.SetDay,
    days.AddBreak,
    days.RemoveBreak,
    days.PutPromise,
    days.RemovePromise,
    days.KeepApart,
    days.AllowTogether,
    days.SetPlace,
    days.PlanFrom,
    hookup.JoinEnds,
    hookup.TakeApart,
    hookup.CapEnd,
    hookup.ClearHookup,
    hookup.ProposeHookup,
    hookup.BeginFound,
    hookup.ConfirmFound,
    hookup.SayUsual,
    hookup.ColorsAsUsual,
    hookup.LeadTo,
    hookup.WorkOver,
    refits.ReplaceDevice,
    refits.ReplaceBox,
    refits.PutLamps,
    refits.FitBypass,
    refits.OnOneYoke,
    refits.ModuleBehind,
    refits.DeviceForModule,
    reroutes.ExchangeDevices,
    reroutes.ModuleToOutlet,
    own_box.OwnBox,
    reroutes.TakeCableOut,
    reroutes.PullCable,
    reroutes.MoveSplice,
    practice.MeasureHere,
    practice.Reveal,
    datasheets.AddSheet,
    datasheets.ChangeSheet,
)

EDITS: dict[str, type[Edit]] = {edit.edit_name(): edit for edit in _ALL}
"""Every edit, by the name that pages, keys and files use."""


def read_edit(name: str, fields: Mapping[str, object]) -> Edit:
    """The edit of this name with these fields.

    Raises:
        KeyError: no edit has this name.
        Rejected: a field is not what the edit needs.
    """
    return EDITS[name].read(fields)


def edit_box(box: Box, name: str, fields: Mapping[str, object], sheets: Datasheets) -> BoxEdited:
    """A box after the edit of this name with these fields.

    Raises:
        KeyError: no edit has this name.
        Rejected: a field is not what the edit needs, or the box cannot be changed so.
    """
    edit = read_edit(name, {**fields, "box": box.id})
    if not isinstance(edit, BoxEdit):
        raise Rejected("Give an edit of a box", "edit")
    return edit.on_box(box, sheets)
