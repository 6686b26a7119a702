"""Where a device stands: who is beside it, how many are ganged, how warm it gets."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ...model.box import Box
from ...model.datasheet import Datasheet
from .heat import Warmth


@dataclass(frozen=True, slots=True)
class Position:
    """All that the limit of a device takes from where it stands."""

    neighbors: int = 0
    """Its side sections that are off: 0 alone, 1 end of gang, 2 middle."""
    ganged: int = 1
    """How many yokes stand side by side, itself among them."""
    ambient: Fraction | None = None
    """Around it, an estimate [°C]; None where its sheet has no limit by ambient."""
    reused: bool = False
    """Whether a side section came broken off."""


def neighbors_of(box: Box, sheets: Mapping[str, Datasheet]) -> dict[str, tuple[bool, bool]]:
    """For each device, by its id, whether its side section is off on the left and on the right.

    It is where a yoke stands in the gang right beside, or where it came broken off. An empty gang or a blank filler
    is no neighbor; a wide device has its neighbors at its outer edges; a barrier brings no section back.

    Source: the common form of makers' derating tables; common practice.
    """
    widths = {device.id: sheets[device.sheet].gangs for device in box.devices}
    yokes = [device for device in box.devices if not sheets[device.sheet].is_blank]
    starts = {device.gang for device in yokes}
    ends = {device.gang + widths[device.id] for device in yokes}
    return {
        device.id: (
            device.gang in ends or "left" in device.broken,
            device.gang + widths[device.id] in starts or "right" in device.broken,
        )
        for device in box.devices
    }


def positions(box: Box, sheets: Mapping[str, Datasheet], warm: Warmth | None) -> dict[str, Position]:
    """Where each device and module of a box stands, by its id. Modules have no neighbors.

    Args:
        sheets: the sheets its devices name, by id.
        warm: how warm it gets in it; None: not reckoned, and limits by ambient stay out.
    """
    neighbors, runs = neighbors_of(box, sheets), _runs(box, sheets)

    def ambient(id: str, sheet: Datasheet) -> Fraction | None:
        return warm.ambient(id) if warm is not None and sheet.ambient is not None else None

    found = {}
    for device in box.devices:
        around = ambient(device.id, sheets[device.sheet])
        found[device.id] = Position(sum(neighbors[device.id]), runs[device.id], around, bool(device.broken))
    return found | {m.id: Position(ambient=ambient(m.id, sheets[m.sheet])) for m in box.modules}


def _runs(box: Box, sheets: Mapping[str, Datasheet]) -> dict[str, int]:
    """How many yokes stand side by side with each device, by its id."""
    runs: dict[str, int] = {}
    run: list[str] = []
    end = 0
    for device in sorted(box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        if sheet.is_blank:
            runs[device.id] = 1
            continue
        run = [*run, device.id] if device.gang == end else [device.id]
        end = device.gang + sheet.gangs
        runs |= dict.fromkeys(run, len(run))
    return runs
