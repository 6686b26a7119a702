"""The box cut from the side, true to scale: how far each body reaches back, the back wall, the clearance.

A lane for each gang, the room at the left. Millimeters from the mounting plane.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..trade.model.answer import Answer
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.edition import Code
from ..trade.rules.space.depth import inside_depth

USUAL_DEPTH = 73.0
"""Where the inside depth is not known [mm]: 2 7/8 in; common practice."""
LANE = 18.0
"""Height of a lane on the drawing [mm]."""
FRONT = 12.0
"""The strip drawn in front of the mounting plane [mm]."""


@dataclass(frozen=True, slots=True)
class Lane:
    """One device, cut from the side."""

    gang: int
    part: str
    name: str
    y: float
    back: float | None
    """How far its body reaches back [mm]; None where its sheet gives no body."""
    needs: float | None
    """The depth it needs [mm]."""
    touches: bool
    """Whether it reaches the back wall, or needs more than there is."""


@dataclass(frozen=True, slots=True)
class Side:
    """Where everything lies."""

    depth: float
    """Of the inside [mm]."""
    known: bool
    lanes: tuple[Lane, ...]
    width: float
    height: float
    facts: str


def side(box: Box, sheets: Mapping[str, Datasheet], depth: Answer | None, code: Code) -> Side:
    """Where everything lies on the view cut from the side."""
    lines = inside_depth(box, code)
    inside = float(sum((line.value or 0) for line in lines) * 254 / 10) if lines else USUAL_DEPTH
    needs = {line.parts[0].id: line.value for line in depth.lines if line.parts} if depth else {}
    lanes, facts = [], []
    for number, device in enumerate(sorted(box.devices, key=lambda device: device.gang)):
        sheet = sheets[device.sheet]
        back = float(sheet.body.projection.mm) if sheet.body else None
        needed = needs.get(device.id)
        needed_mm = None if needed is None else float(needed * 254 / 10)
        touches = bool(lines) and max(back or 0.0, needed_mm or 0.0) > inside + 1e-6
        y = 6.0 + number * LANE
        lanes.append(Lane(device.gang, device.id, device.name or sheet.name, y, back, needed_mm, touches))
        reach = f"reaches back {back:.0f} mm" if back is not None else "body not known"
        facts.append(f"Gang {device.gang}: {sheet.name} {reach}{', too deep' if touches else ''}.")
    furthest = max((max(lane.back or 0, lane.needs or 0) for lane in lanes), default=0.0)
    known = f"Inside depth {inside:.0f} mm." if lines else "Inside depth not measured."
    height = max(len(lanes), 1) * LANE + 12
    return Side(
        inside, bool(lines), tuple(lanes), max(inside, furthest) + FRONT + 10, height, " ".join((known, *facts))
    )
