"""A move: something that can be done about a box that does not hold, with its price; and what it could help with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal, NamedTuple

from ..edits.base import Edit
from ..model.answer import Answer, State, Subject
from ..model.datasheet import Datasheet
from ..model.prices import MoveKind
from ..rules.minutes import WORK, Work

RANKS: tuple[MoveKind, ...] = (
    "wider box", "deeper box", "extension", "clamps outside", "new cable", "cable out", "splice moved",
    "main to the other end", "other place", "module to the outlet", "module at the fixture", "module behind", "remote",
    "one yoke", "device", "split load", "lamp", "bypass", "setting", "order",
)  # fmt: skip
"""In which order the moves of a set are made: what a later one needs comes first, another order of the gangs last."""
SETTLED: frozenset[MoveKind] = frozenset(("lamp", "bypass", "setting"))
"""Moves that change only the loads of one device, or its setting."""
STRUCTURE: frozenset[MoveKind] = frozenset(("wider box", "deeper box", "extension", "clamps outside"))
"""What changes the enclosure alone."""


class Decision(NamedTuple):
    """What a move decides: two that decide the same exclude each other."""

    what: Literal["box", "clamps", "device", "gang", "module", "load", "bypass", "run", "order"]
    box: str
    of: str = ""


class Key(NamedTuple):
    """Which answer."""

    box: str
    """"" for a circuit."""
    about: str
    subject: Subject


@dataclass(frozen=True, slots=True)
class Move:
    """One thing that can be done, tried on the documents of the job like any other act."""

    kind: MoveKind
    words: str
    """As a list says it."""
    boxes: frozenset[str]
    """Those it changes."""
    decides: frozenset[Decision]
    minutes: int
    edits: tuple[Edit, ...] = ()
    """() where it is worked out from what the others have made: another order of the gangs."""
    parts: tuple[str, ...] = ()
    """What has to be bought: a sheet's id, a box of the stock list, a lamp."""
    frees: tuple[str, ...] = ()
    """The sheets of the devices and modules it leaves over."""
    money: Fraction | None = Fraction(0)
    """What its parts cost; None: a part has no price."""
    items: frozenset[tuple[str, str]] = frozenset()
    """The devices and modules it is about, each with its box."""
    sheets: tuple[tuple[str, Datasheet | None, Datasheet | None], ...] = ()
    """For each box, the sheet that goes and the one that comes; None: none."""
    room: Mapping[str, Fraction] = field(default_factory=dict)
    """For each box, the most it could free of the count, whatever else is done; in the unit of the count."""
    eases: Fraction = Fraction(0)
    """The most it could take off a circuit, whatever else is done [VA]."""
    stays: tuple[str, ...] = ()
    """Of another order of the gangs: the devices that stay where they are."""
    look: str = ""
    """What has to be looked at before."""
    wires: bool = False
    """Whether it must be proven by the hook-up, and not only where a hook-up is entered."""
    joined: frozenset[str] = frozenset()
    """The boxes whose hook-up its edits make; it is held as it is, and no other is proposed."""

    @property
    def work(self) -> Work:
        """What kind of work it is."""
        return WORK[self.kind]

    @property
    def rank(self) -> int:
        """When its turn is among the moves of a set."""
        return RANKS.index(self.kind)


@dataclass(frozen=True, slots=True)
class Ruled:
    """A kind of work that is not offered here, and why."""

    kind: MoveKind
    why: str


def could_help(
    move: Move,
    key: Key,
    answer: Answer,
    *,
    on_circuit: frozenset[str],
    moved: frozenset[tuple[str, str]],
    warm: bool,
    barriers: bool,
) -> bool:
    """Whether a move could change an answer for the better, together with whatever others: never no where it could.

    Args:
        key: the answer.
        answer: the same, as it fails.
        on_circuit: the boxes on the circuit it is about; () where it is about none.
        moved: devices and modules that the moves made so far are about: their loads may be on another by now.
        warm: whether what one device of the box carries depends on all that is in it: by how warm it gets there, or by
            the best order of the gangs.
        barriers: whether the box has several spaces.
    """
    if key.about == "circuit":
        here = bool(move.boxes & on_circuit) and move.kind not in (*STRUCTURE, "order", "bypass", "setting")
        return here and _could_ease(move, answer)
    if key.box not in move.boxes:
        return False
    helps: dict[str, bool] = {
        "fill": barriers or move.room.get(key.box, 0) > 0,
        "bulk": barriers or _smaller(move, key.box),
        "depth": barriers or _smaller(move, key.box),
        "rating": _fits(move, key, moved) or (_by_place(answer) and (warm or _carries(move, key))),
        "prohibitions": move.kind not in (*SETTLED, "order"),
    }
    return helps.get(key.about, True)


def could_make_room(move: Move, boxes: frozenset[str]) -> bool:
    """Whether a move could make others possible that cannot be made as things are: by what stands in these boxes."""
    return bool(move.boxes & boxes) and move.kind not in (*SETTLED, "order", "extension", "clamps outside")


WIRES: frozenset[MoveKind] = frozenset(("cable out", "new cable", "splice moved"))
"""What changes the wire behind a breaker."""


def _could_ease(move: Move, answer: Answer) -> bool:
    """Whether a move could change a circuit that fails, by what it fails for: its wire, or its loads."""
    if any(one.code == "small-wire" and one.state is State.FAILS for one in answer.remarks):
        return move.kind in WIRES
    over = answer.limit is not None and answer.total > answer.limit
    return not over or move.eases > 0 or move.kind in WIRES


def _smaller(move: Move, box: str) -> bool:
    """Whether what stands in a box could take less room."""
    if move.kind in (*SETTLED, "order"):
        return False
    changes = [(old, new) for at, old, new in move.sheets if at == box]
    if move.kind in STRUCTURE or not changes:
        return True
    return any(_unlike(old, new) for old, new in changes)


def _unlike(old: Datasheet | None, new: Datasheet | None) -> bool:
    if old is None or new is None or old.body is None or new.body is None:
        return True
    reach = [one.body.projection.inches if one.body else Fraction(0) for one in (old, new)]
    return (
        new.body.volume < old.body.volume or reach[1] < reach[0] or old.leads != new.leads or old.spacer != new.spacer
    )


def _by_place(answer: Answer) -> bool:
    """Whether a channel fails by its sum, or its warmth: by what may depend on where its device stands."""
    over = answer.limit is not None and answer.total > answer.limit
    return over or answer.state is State.OPEN or any(one.code == "too-warm" for one in answer.remarks)


def _fits(move: Move, key: Key, moved: frozenset[tuple[str, str]]) -> bool:
    """Whether a move is about a device, or about its limits by now: lamps are on another device once two
    are on one yoke, or a module has taken them over."""
    return (key.box, key.subject.of) in move.items or (move.kind in SETTLED and bool(move.items & moved))


def _carries(move: Move, key: Key) -> bool:
    """Whether a device could carry more where it stands."""
    if move.kind in ("order", "wider box", "remote", "one yoke"):
        return True
    return any(at == key.box and _yokes(old) != _yokes(new) for at, old, new in move.sheets)


def _yokes(sheet: Datasheet | None) -> int:
    """In how many gangs it is somebody's neighbor."""
    return sheet.gangs if sheet is not None and not sheet.is_blank and not sheet.is_module else 0
