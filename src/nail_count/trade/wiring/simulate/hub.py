"""A simulated hub with the radio devices around it, and a clock of its own: it stands in for what a real one answers.

It plays what can go wrong, on purpose or from a seed, and each case ends as it does in the field: by what helps against
it, and by nothing else.
"""

from __future__ import annotations

from collections.abc import Callable
from random import Random
from typing import Annotated, Literal, get_args

from pydantic import Field

from ...model.hub import Reply, ReplyCode
from ...model.thing import Thing

Case = Literal[
    "joins", "window expired", "wrong band", "joined elsewhere", "weak signal", "hub full", "update fails", "name taken"
]
CASES: tuple[Case, ...] = get_args(Case)
"""What can happen when a device joins."""
Act = Literal["join", "wait", "band", "reset", "nearer", "cycle", "network", "exclude elsewhere"]
"""The acts by hand, beside what the hub is asked."""
MOST_JOINED = 32
"""As many as this hub takes."""
NEW, OLD = "2.4", "2.3"
"""The newest firmware of every device, and what they come with."""
BOOT = 20
"""From power to the first answer of a device [s]."""


class Radio(Thing):
    """A radio device, as the air knows it."""

    device: Annotated[str, Field(min_length=1, max_length=60)]
    case: Case = "joins"
    """What it plays."""
    plays: bool = True
    """Whether the case is still to come."""
    excluded: bool = False
    """Of one joined elsewhere: whether its old hub gave it up."""
    joined: bool = False
    name: Annotated[str, Field(max_length=60)] = ""
    came_with: Annotated[str, Field(max_length=40)] = OLD
    firmware: Annotated[str, Field(max_length=40)] = OLD
    on: bool = False
    """Whether its contact is closed: a device that the hub gives up stays as it is, until it is reset or cycled."""
    stuck: bool = False
    """Whether an update that failed left it silent until its power is cycled."""


class Heard(Thing):
    """An answer, and when it was given."""

    at: int
    """By the hub's clock [s]."""
    device: Annotated[str, Field(max_length=60)]
    code: ReplyCode
    says: str
    ways: tuple[str, ...] = ()


class HubMemory(Thing):
    """All that the hub and the devices around it know: kept between two visits."""

    seed: Annotated[int, Field(ge=0, lt=2**32)] = 0
    clock: Annotated[int, Field(ge=0)] = 0
    """Since it was put up [s]."""
    looks_for: Annotated[str, Field(max_length=60)] = ""
    looks_until: int = 0
    right_band: bool = True
    """Whether the phone is on the band that the devices are on."""
    network: bool = True
    """Whether the house's network is up."""
    radios: Annotated[tuple[Radio, ...], Field(max_length=2000)] = ()
    others: Annotated[tuple[str, ...], Field(max_length=64)] = ()
    """What it has joined that is none of this job's, by name."""
    heard: Annotated[tuple[Heard, ...], Field(max_length=30)] = ()
    """What it answered last."""


class SimulatedHub:
    """The hub, answering from what it remembers."""

    def __init__(self, memory: HubMemory) -> None:
        self.memory = memory

    # what a hub is asked

    @property
    def clock(self) -> int:
        """Its own time [s]."""
        return self.memory.clock

    @property
    def holds(self) -> tuple[str, ...]:
        """What it has joined."""
        return (*(one.device for one in self.memory.radios if one.joined), *self.memory.others)

    def look_for(self, device: str, seconds: int) -> Reply:
        """It begins to look for a device, for so long [s]."""
        if len(self.holds) >= MOST_JOINED:
            said = f"The hub is full: it holds {len(self.holds)}"
            return Reply("hub full", said, ("remove devices that are gone", "a second hub"))
        if not self.memory.right_band:
            return Reply(
                "wrong band", "The phone is on another band than the device", ("put the phone on the 2.4 GHz band",)
            )
        self._now(looks_for=device, looks_until=self.clock + seconds)
        return Reply("looking", f"It looks for {seconds} s")

    def seen(self, device: str) -> Reply:
        """Whether a device that was told to join has joined."""
        if self.radio(device).joined:
            return Reply("joined", "It has joined")
        return Reply("not joined", "Nothing has joined", ("do at it what its sheet says, while the hub looks",))

    def call(self, device: str, name: str) -> Reply:
        """What it calls a device from now on."""
        radio = self.radio(device)
        if not radio.joined:
            return Reply("not joined", "The hub does not know it", ("join it first",))
        taken = {one.name.casefold() for one in self.memory.radios if one.joined and one.device != device}
        if name.casefold() in taken | {one.casefold() for one in self.memory.others}:
            return Reply(
                "name taken", f"Something is called “{name}” already", ("another name", "leave the old one out")
            )
        self._put(radio.changed(name=name))
        return Reply("named", f"It is called “{name}”")

    def firmware(self, device: str) -> str:
        """The firmware a device has; "" where the hub does not know it."""
        radio = self.radio(device)
        return radio.firmware if radio.joined else ""

    def update(self, device: str) -> Reply:
        """Brings a device to the newest firmware."""
        radio = self.radio(device)
        if not radio.joined or radio.stuck:
            return self._silent(radio)
        if not self.memory.network:
            return Reply(
                "update failed", "The network is down: there is nothing to update from", ("bring it up again",)
            )
        if radio.firmware == NEW:
            return Reply("up to date", f"It has {NEW}, the newest")
        self.wait(240)
        if radio.case == "update fails" and radio.plays:
            self._put(radio.changed(plays=False, stuck=True))
            return Reply(
                "update failed", f"It stopped half way; it still has {radio.firmware}",
                ("its breaker off and on, then again",),
            )  # fmt: skip
        self._put(radio.changed(firmware=NEW, on=False))
        return Reply("updated", f"It has {NEW} now; what was set on it is as when it was new")

    def switch(self, device: str, on: bool) -> Reply:
        """Switches a device."""
        radio = self.radio(device)
        if not radio.joined or radio.stuck:
            return self._silent(radio)
        if not self.memory.network:
            return Reply("no answer", "The network is down: nothing goes out", ("by hand it must still work",))
        self._put(radio.changed(on=on))
        return Reply("switched", f"It says that it is {'on' if on else 'off'}")

    def watts(self, device: str, drawn: float) -> float | None:
        """What a device that measures reports while so much passes through it [W], to the tenth."""
        return round(drawn, 1) if self.radio(device).joined and self.memory.network else None

    def starts(self, device: str, level: int) -> bool:
        """Whether the lamps on a device start surely from cold at a level [%]; each device has its own."""
        least = Random(f"{self.memory.seed}/{device}/least").choice((2, 4, 6, 8, 12, 18, 22))  # noqa: S311 – a game
        return level >= least

    def leave_out(self, device: str) -> Reply:
        """It gives up a device, or one of the others by its name."""
        if device in self.memory.others:
            self._now(others=tuple(one for one in self.memory.others if one != device))
        else:
            self._put(self.radio(device).changed(joined=False, name=""))
        return Reply("left out", f"The hub no longer holds {device}; the device itself is still to be reset")

    # acts by hand

    def note(self, device: str, reply: Reply) -> Reply:
        """Keeps an answer, the newest first."""
        heard = Heard(at=self.clock, device=device, code=reply.code, says=reply.says, ways=reply.ways)
        self._now(heard=(heard, *self.memory.heard)[:30])
        return reply

    def place(self, device: str, case: Case | None = None) -> None:
        """A device comes into the air: it plays a case, on purpose, or one that the seed says."""
        drawn = Random(f"{self.memory.seed}/{device}")  # noqa: S311 – a game, not a secret
        case = case or (drawn.choice(CASES) if drawn.random() < 0.5 else "joins")
        self._put(Radio(device=device, case=case))
        if case == "hub full":
            missing = range(MOST_JOINED - len(self.holds))
            self._now(others=(*self.memory.others, *(f"Old lamp {len(self.memory.others) + n + 1}" for n in missing)))
        if case == "wrong band":
            self._now(right_band=False)

    def name_taken(self, device: str, name: str) -> None:
        """Somebody gave the name to something else before: of a device that plays that."""
        radio = self.radio(device)
        if radio.case == "name taken" and radio.plays and len(self.holds) < MOST_JOINED:
            self._put(radio.changed(plays=False))
            self._now(others=(*self.memory.others, name))

    def join(self, device: str, takes: int) -> Reply:
        """What its sheet says was done at a device; it took so long [s]."""
        radio = self.radio(device)
        slow = radio.case == "window expired" and radio.plays
        self.wait(takes + (self.memory.looks_until - self.clock if slow else 0))
        if self.memory.looks_for != device or self.clock > self.memory.looks_until:
            self._put(radio.changed(plays=radio.plays and not slow))
            return Reply("window expired", "The hub no longer looked", ("let it look again, and be quicker",))
        if radio.case == "joined elsewhere" and radio.plays:
            ways = ("leave it out at its old hub", "then reset it") if not radio.excluded else ("reset it",)
            return Reply("joined elsewhere", "It belongs to another hub still", ways)
        if radio.case == "weak signal" and radio.plays:
            said = "It was heard, and lost again: metal around it, or too far"
            return Reply("weak signal", said, ("a repeater between", "the hub nearer", "a box of plastic"))
        if len(self.holds) >= MOST_JOINED:
            return Reply("hub full", "The hub is full", ("remove devices that are gone",))
        self._put(radio.changed(joined=True))
        self._now(looks_for="", looks_until=0)
        return Reply("joined", "It has joined")

    def wait(self, seconds: int) -> None:
        """Time passes."""
        self._now(clock=self.clock + max(seconds, 0))

    def do(self, act: Act, device: str, takes: int = 5) -> Reply:
        """Something done by hand.

        Args:
            device: at which device.
            takes: how long joining takes at it [s].
        """
        radio = self.radio(device)
        acts: dict[Act, Callable[[], Reply]] = {
            "join": lambda: self.join(device, takes),
            "wait": self._a_minute,
            "band": self._other_band,
            "exclude elsewhere": lambda: self._excluded(radio),
            "reset": lambda: self._reset(radio),
            "nearer": lambda: self._nearer(radio),
            "cycle": lambda: self._cycled(radio),
            "network": self._network,
        }
        return acts[act]()

    def _a_minute(self) -> Reply:
        self.wait(60)
        return Reply("done", "A minute went by")

    def _other_band(self) -> Reply:
        self._now(right_band=True)
        return Reply("done", "The phone is on the 2.4 GHz band")

    def _excluded(self, radio: Radio) -> Reply:
        self._put(radio.changed(excluded=True))
        return Reply("done", "Its old hub no longer holds it; the device does not know that yet")

    def _reset(self, radio: Radio) -> Reply:
        free = radio.case != "joined elsewhere" or radio.excluded
        if radio.joined:  # the hub goes on holding a device that is gone
            self._now(others=(*self.memory.others, radio.name or radio.device))
        heard = radio.plays and not (radio.case == "joined elsewhere" and free)
        self._put(radio.changed(plays=heard, joined=False, name="", on=False))
        return Reply("done", "It is as when it was new" if free else "It is reset; its old hub still holds it")

    def _nearer(self, radio: Radio) -> Reply:
        self._put(radio.changed(plays=radio.plays and radio.case != "weak signal"))
        return Reply("done", "A repeater stands between")

    def _cycled(self, radio: Radio) -> Reply:
        self.wait(BOOT)
        self._put(radio.changed(stuck=False, on=False))
        return Reply("done", "Its breaker was off, and is on again")

    def _network(self) -> Reply:
        self._now(network=not self.memory.network)
        return Reply("done", f"The network is {'up' if self.memory.network else 'down'}")

    def radio(self, device: str) -> Radio:
        """A device as the air knows it; one that nobody placed plays what the seed says."""
        known = next((one for one in self.memory.radios if one.device == device), None)
        if known is None:
            self.place(device)
            known = next(one for one in self.memory.radios if one.device == device)
        return known

    def _silent(self, radio: Radio) -> Reply:
        if not radio.joined:
            return Reply("not joined", "The hub does not know it", ("join it first",))
        return Reply("no answer", "It does not answer", ("its breaker off and on",))

    def _put(self, radio: Radio) -> None:
        rest = tuple(one for one in self.memory.radios if one.device != radio.device)
        self._now(radios=(*rest, radio))

    def _now(self, **fields: object) -> None:
        self.memory = self.memory.changed(**fields)
