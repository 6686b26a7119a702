"""The hub of a house, behind one small interface: a simulated one ships, a real one could take its place."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol

ReplyCode = Literal[
    "joined", "looking", "window expired", "wrong band", "joined elsewhere", "weak signal", "hub full", "left out",
    "named", "name taken", "updated", "update failed", "up to date", "switched", "not joined", "no answer", "done",
]  # fmt: skip
"""How a hub answers."""
REFUSALS: frozenset[ReplyCode] = frozenset((
    "window expired", "wrong band", "joined elsewhere", "weak signal", "hub full", "name taken", "update failed",
    "not joined", "no answer",
))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Reply:
    """What a hub answers."""

    code: ReplyCode
    says: str
    """In a sentence."""
    ways: tuple[str, ...] = ()
    """What helps, where it did not do it."""

    @property
    def did(self) -> bool:
        """Whether it did what was asked."""
        return self.code not in REFUSALS


class Hub(Protocol):
    """What commissioning asks of a hub. A device is named by its box and itself: front-door/d1."""

    @property
    def clock(self) -> int:
        """Its own time [s]."""

    @property
    def holds(self) -> tuple[str, ...]:
        """What it has joined: devices by their ids, others by their names."""

    def look_for(self, device: str, seconds: int) -> Reply:
        """It begins to look for a device, for so long [s]."""

    def seen(self, device: str) -> Reply:
        """Whether a device that was told to join has joined."""

    def call(self, device: str, name: str) -> Reply:
        """What it calls a device from now on."""

    def firmware(self, device: str) -> str:
        """The firmware a device has; "" where it does not know the device."""

    def update(self, device: str) -> Reply:
        """Brings a device to the newest firmware."""

    def switch(self, device: str, on: bool) -> Reply:
        """Switches a device."""

    def watts(self, device: str, drawn: float) -> float | None:
        """What a device that measures reports while so much passes through it [W]; None where it reports nothing."""

    def leave_out(self, device: str) -> Reply:
        """It gives up a device: excluded, which is not the same as reset."""
