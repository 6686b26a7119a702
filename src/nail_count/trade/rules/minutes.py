"""How long the work takes that makes a box hold, and what kind of work it is: what a person would rather not do.

Source: common practice; a job can have its own.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Literal

from ..model.figure import IN_PRACTICE, Figure, table
from ..model.prices import MoveKind, MovePrice
from ..model.survey import WallBuild

Work = Literal[
    "a setting", "at the lamp", "inside the box", "at the outlet", "at the wall’s face", "two boxes",
    "wall stays closed", "wall cut", "box out or wall open", "attic or basement", "fished",
]  # fmt: skip
"""What kind of work it is."""

MINUTES: Mapping[MoveKind, Figure] = table(
    "min",
    "To make a box hold: {}",
    IN_PRACTICE,
    {
        "order": "10",
        "device": "15",
        "lamp": "5",
        "bypass": "20",
        "cable out": "45",
        "clamps outside": "75",
        "setting": "2",
        "main to the other end": "40",
        "one yoke": "20",
        "remote": "20",
        "module to the outlet": "45",
        "module behind": "25",
        "splice moved": "120",
        "extension": "30",
        "deeper box": "60",
        "wider box": "90",
        "new cable": "120",
        "other place": "30",
        "split load": "30",
        "module at the fixture": "55",
    },
)
"""Each, or each lamp."""
IN_LATH: Mapping[MoveKind, Figure] = table(
    "min", "In plaster on lath: {}", IN_PRACTICE, {"deeper box": "120", "wider box": "150"}
)
A_FOOT = Figure("2", "min", "Of a new cable, each foot past the first twenty", IN_PRACTICE)
A_LOOK = Figure("10", "min", "Plate off, dead, device out, and a look at the whites", IN_PRACTICE)
A_WIDER_DEVICE = Figure("20", "min", "Of a device, each gang it is wider than the one it replaces", IN_PRACTICE)
FIRST_FEET = Figure("20", "ft", "Of a new cable, within its price", IN_PRACTICE)
WORK: Mapping[MoveKind, Work] = {
    "order": "inside the box",
    "device": "inside the box",
    "lamp": "at the lamp",
    "bypass": "at the outlet",
    "cable out": "two boxes",
    "clamps outside": "box out or wall open",
    "setting": "a setting",
    "main to the other end": "two boxes",
    "one yoke": "inside the box",
    "remote": "inside the box",
    "module to the outlet": "at the outlet",
    "module behind": "inside the box",
    "splice moved": "attic or basement",
    "extension": "at the wall’s face",
    "deeper box": "wall stays closed",
    "wider box": "wall cut",
    "new cable": "fished",
    "other place": "two boxes",
    "split load": "inside the box",
    "module at the fixture": "at the outlet",
}


def minutes_of(kind: MoveKind, own: Iterable[MovePrice], built: WallBuild | None = None) -> int:
    """How long a kind of work takes [min]: as the job says, else as is usual.

    Args:
        kind: of work.
        own: the times the job has of its own.
        built: what the wall is built of; None: as one of board.

    >>> minutes_of("deeper box", (), "lath"), minutes_of("order", (MovePrice(kind="order", minutes=7),))
    (120, 7)
    """
    said = next((one.minutes for one in own if one.kind == kind), None)
    if said is not None:
        return said
    return int(IN_LATH[kind] if built == "lath" and kind in IN_LATH else MINUTES[kind])
