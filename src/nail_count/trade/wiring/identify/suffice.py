"""The readings that suffice to prove what a conductor is taken for, in the order they are taken."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from ...model.conductor import EVERY, Reading, Role, To
from ...rules.wires.proof import LOAD_SIDE, RETURN_SIDE
from ...rules.wires.shown import of_ohms
from .infer import NOT_KNOWN, Inference, Unit
from .kinds import End, Guess

GROUNDS: tuple[To, ...] = ("ground", "lead")


def suffice(worked: Inference, id: str) -> tuple[Reading, ...]:
    """The readings that together prove what a conductor is likeliest to be; () where it is proven, or none would.

    Their values are not set. Where a voltage must be measured, and nothing is trusted yet to measure it to, the
    reading that makes the ground trusted comes first.

    Args:
        worked: the inference so far, of the whole box.
        id: the conductor.
    """
    told = worked.told(id)
    unit = next((unit for unit in worked.units if id in unit.ids), None)
    if told.best is None or told.standing in ("proven", "clash") or unit is None:
        return ()
    place = unit.ids.index(id)
    guess = _likeliest(worked, unit, place, told.best)
    return tuple(_needed(worked, id, told.best, guess.ends[place], guess))


def missing(worked: Inference, id: str) -> tuple[Reading, ...]:
    """Those of them that were not taken yet, whatever they showed."""
    taken = {_points(one) for one in worked.readings if not one.electronic}
    return tuple(one for one in suffice(worked, id) if _points(one) not in taken)


def _points(one: Reading) -> tuple[object, ...]:
    return one.kind, one.of, one.to, one.circuit, one.far, one.others == "as found", one.lamps == "in", one.on


def _likeliest(worked: Inference, unit: Unit, place: int, role: Role) -> Guess:
    """The likeliest of the ways left in which a conductor is this."""
    share = worked.shares[worked.units.index(unit)]
    pairs = zip(unit.left, share, strict=True)
    return max((pair for pair in pairs if pair[0].roles[place] == role), key=lambda pair: pair[1])[0]


def _needed(worked: Inference, id: str, role: Role, end: End, guess: Guess) -> Iterator[Reading]:
    circuits = list(worked.circuits)
    circuit = circuits[end.circuit]
    if circuit == NOT_KNOWN and role in TRACED:
        return  # no wire can be lifted in the panel of a circuit nobody has found
    if role == "line":
        yield from _line(worked, id, guess, circuit)
    elif role == "neutral" and end.reach == "neutral":
        hot = next((circuits[one.circuit] for one in guess.ends if one.reach == "hot"), circuit)
        lifted = _lifted(worked, id, [hot, *(one for one in circuits if one != hot)])
        yield _wire(id, "panel neutral", lifted)
        yield from _apart(worked, id, lifted)
        yield from _dead(worked, id)
    elif role == "traveler":
        point: To = "panel hot" if end.reach == "far hot" else "lamp center"
        if end.far and end.reach != "far either":
            of = circuit if point == "panel hot" else None
            for far in (end.far, 3 - end.far):
                yield _wire(id, point, of).changed(others="as found", far=far)
            if of is not None:
                yield _wire(id, "panel neutral", of).changed(others="as found", far=end.far)
    elif not any(link.through == "wire" for link in guess.links):
        yield from _quiet(worked, id, role, _beyond(role, guess))


TRACED: tuple[Role, ...] = ("line", "neutral", "traveler")
"""Roles whose wires are traced to the panel."""


def _lifted(worked: Inference, id: str, circuits: Sequence[str]) -> str:
    """The circuit whose neutral a conductor is looked for at: the first that was not found to be another one."""
    apart = {
        one.circuit
        for one in worked.readings
        if one.of == id and one.to == "panel neutral" and of_ohms(one) != "joined"
    }
    return next((circuit for circuit in circuits if circuit not in apart), circuits[0])


def _beyond(role: Role, guess: Guess) -> To:
    """The point beyond the box that a dead conductor should be one wire with."""
    if role == "neutral":
        return RETURN_SIDE[1] if any(end.at.startswith("next") for end in guess.ends) else RETURN_SIDE[0]
    if role == "unused":
        return "free end"
    return LOAD_SIDE[1] if role == "onward" else LOAD_SIDE[0]


def _line(worked: Inference, id: str, guess: Guess, circuit: str) -> Iterator[Reading]:
    """One wire with the hot, none with the neutral, and no other conductor of the cable with the hot."""
    yield _wire(id, "panel hot", circuit)
    yield _wire(id, "panel neutral", circuit)
    unit = next(unit for unit in worked.units if id in unit.ids)
    for other, end in zip(unit.ids, guess.ends, strict=True):
        if other != id and end.reach == "far either":
            yield _wire(other, "panel hot", circuit).changed(others="as found", far=3 - end.far)
        elif other != id:
            yield _wire(other, "panel hot", circuit)


def _quiet(worked: Inference, id: str, role: Role, end: To) -> Iterator[Reading]:
    yield _wire(id, end)
    if worked.neutral_parts:
        yield from _to_trust(worked) if _trusted(worked) is None else ()
        yield Reading(id="next", kind="volts", of=id, to="hot", on=(EVERY,), lamps="out", others="no change", volts=0)
    else:
        yield from _apart(worked, id)
    yield from _dead(worked, id)


def _dead(worked: Inference, id: str) -> Iterator[Reading]:
    if (to := _trusted(worked)) is not None:
        yield Reading(id="next", kind="volts", of=id, to=to, on=(EVERY,), lamps="in", others="no change", volts=0)


def _trusted(worked: Inference) -> To | None:
    """A ground that has shown the full voltage."""
    return next((to for to in GROUNDS if to in worked.proven.trusted), None)


def _to_trust(worked: Inference) -> Iterator[Reading]:
    """What makes the ground, or else the ground of a lead, a point to measure to."""
    if not worked.proven.hot_at:
        return
    hot, far = worked.proven.hot_at[0]
    tried = {one.to for one in worked.readings if one.of == hot and one.kind == "volts" and EVERY in one.on}
    to = next((to for to in GROUNDS if to not in tried), None)
    if to is not None:
        yield Reading(id="next", kind="volts", of=hot, to=to, on=(EVERY,), far=far, lamps="out", volts=0)


def _wire(id: str, to: To, circuit: str | None = None) -> Reading:
    return Reading(
        id="next", kind="continuity", of=id, to=to, circuit=circuit, lamps="out", others="no change", yes=True
    )


def _apart(worked: Inference, id: str, circuit: str | None = None) -> Iterator[Reading]:
    """No wire to a ground that is one; where none is known to be, what shows that first."""
    to = _trusted(worked)
    if to is None:
        yield from _to_trust(worked)
    else:
        yield Reading(id="next", kind="continuity", of=id, to=to, circuit=circuit, lamps="out", yes=True)
