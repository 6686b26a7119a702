"""What a person does with his hands in one step, as values: an act, the box, and the ends it is done to.

The sentences are made from these and from nothing else, so a step says what the plan says.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from ...rules.joints import Size
from ...text.format import and_list
from ...wiring.hookup.work import WorkEnd

Op = Literal[
    "turn off", "lock", "verify dead", "photograph", "put a clamp meter on", "mark", "disconnect", "uncap", "take out",
    "trim", "join", "add", "close", "cap", "land", "pigtail", "re-mark", "tug", "compare", "fold", "put in", "mount",
    "record", "turn on", "try", "set", "leave", "open others", "take out others", "take cable out", "bring in",
]  # fmt: skip
OPS: tuple[Op, ...] = get_args(Op)
INSIDE: frozenset[Op] = frozenset(
    ("disconnect", "uncap", "take out", "trim", "join", "add", "close", "cap", "land", "pigtail", "re-mark", "tug",
     "fold", "put in", "mount", "open others", "take out others", "take cable out", "bring in")
)  # fmt: skip
"""Treat bare ends: never while the box may be live."""


@dataclass(frozen=True, slots=True)
class Operation:
    """One act."""

    op: Op
    box: str
    circuits: tuple[str, ...] = ()
    """Breakers it is about; `main` for the main."""
    ends: tuple[WorkEnd, ...] = ()
    """In order. Of `land`: the wire, then the screw. Of `open others`: what stays joined."""
    splice: str = ""
    """Of the plan; of what was found where something is disconnected."""
    connector: Size | None = None
    pigtails: int = 0
    """Short wires that are joined too, each to a screw."""
    beside: WorkEnd | None = None
    """Of `add` and `close`: an end that is in the splice already."""
    device: str = ""
    """Of `take out` and `put in`: what it is called; of `take out others`: which stay, "" for none."""
    cable: str = ""
    """Of `take cable out` and `bring in`: its letter."""
    after: tuple[str, ...] = ()
    """Boxes whose own steps come first, up to turning on the power."""
    expects: str = ""
    """What the meter should show."""


def sentence_of(one: Operation, names: Mapping[WorkEnd, str]) -> str:
    """Return what a person is told to do.

    Args:
        one: something done to wires or devices.

    Raises:
        KeyError: it is done to neither; the step says it in its own words.
    """
    return _SENTENCES[one.op](one, _Words(one, names))


class _Words:
    """The parts of a sentence about an operation."""

    ends: list[str]
    listed: str
    joined: str
    connector: str
    using: str
    beside: str

    def __init__(self, one: Operation, names: Mapping[WorkEnd, str]) -> None:
        ends = [names[end] for end in one.ends]
        pigtails = _PIGTAILS.get(one.pigtails, f"{one.pigtails} pigtails")
        self.ends = ends
        self.listed = and_list(ends)
        self.joined = and_list([*ends, *([pigtails] if one.pigtails else [])])
        self.connector = f" with a {one.connector} wire connector" if one.connector else ""
        self.using = f" Use a new {one.connector} wire connector." if one.connector else ""
        self.beside = names[one.beside] if one.beside else ""


_SENTENCES: Mapping[Op, Callable[[Operation, _Words], str]] = {
    "disconnect": lambda _, words: f"Disconnect {words.listed}.",
    "uncap": lambda _, words: f"Take the cap off {words.listed}.",
    "join": lambda _, words: f"Join {words.joined}{words.connector}.",
    "add": lambda _, words: f"Add {words.joined} to the splice with {words.beside}.{words.using}",
    "close": lambda _, words: f"Close the splice with {words.beside} again.{words.using}",
    "cap": lambda _, words: f"Cap {words.listed}{words.connector}.",
    "land": lambda _, words: f"Land {words.ends[0]} on {words.ends[1]}.",
    "pigtail": lambda _, words: f"Land the pigtail on {words.ends[0]}.",
    "re-mark": lambda _, words: f"Mark {words.listed} with tape or a sleeve: hot, not neutral.",
    "take out": lambda one, _: f"Take out {one.device}.",
    "put in": lambda one, _: f"Put in {one.device}.",
    "leave": lambda one, words: f"Leave {words.listed} {'together' if len(one.ends) > 1 else 'capped'}.",
    "open others": lambda one, _: (
        "Open every{0} splice, take every{0} wire off its screw, and take off every{0} cap. "
        "Pull the tape off wires you marked."
    ).format(" other" if one.ends else ""),
    "take cable out": lambda one, _: (
        f"Take off every wire of cable {one.cable} that is still joined, and pull the cable out of the box."
    ),
    "bring in": lambda one, _: f"Bring cable {one.cable} into the box, and fasten it as its clamp asks.",
    "take out others": lambda one, _: f"Take out every device{f' but {one.device}' if one.device else ''}.",
}
"""Word a step that works on wires or devices; the other steps have words of their own."""
_PIGTAILS = {1: "a pigtail", 2: "two pigtails", 3: "three pigtails"}


def operation_data(one: Operation, names: Mapping[WorkEnd, str]) -> dict[str, object]:
    """Return an operation as a program reads it."""
    data: dict[str, object] = {
        "op": one.op,
        "box": one.box,
        "circuits": list(one.circuits),
        "ends": [
            {"contents": end.contents, **end.end.model_dump(mode="json"), "name": names.get(end, "")}
            for end in one.ends
        ],
        "splice": one.splice or None,
        "cable": one.cable or None,
        "connector": one.connector,
        "after": list(one.after),
        "expects": one.expects or None,
    }
    return data


def inside(operations: Sequence[Operation]) -> bool:
    """Return whether any of these touches bare ends."""
    return any(one.op in INSIDE for one in operations)
