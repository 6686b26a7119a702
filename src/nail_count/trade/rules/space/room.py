"""The room behind the bodies and beside them, where the box was measured; and what does not go in at all.

Source: geometry and common practice; no code asks it. A gap too narrow for folded wire is no room.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import chain

from ...model.answer import Amount, Rule, Text
from ...model.box import Box
from ...model.datasheet import Body, Datasheet
from ...model.edition import Code
from ...model.figure import Figure
from ...model.measure import Length
from .depth import inside_depth

GAP = Figure(
    "1/4",
    "in",
    "Gap on a side of a body that takes folded wire, from",
    Rule("Estimate, common practice", "", "practice"),
)
"""On each side of a body, since its strap centers it in its gang [in]."""


def does_not_go(box: Box, sheets: Mapping[str, Datasheet], code: Code) -> Text | None:
    """The first body that does not go in by its width, its height or how far it reaches back; None where all do.

    A measure of the box that nobody took is left out.

    Args:
        sheets: the sheets its devices name, by id.
        code: whose table of trade sizes says the depth of a box nobody measured.
    """
    return next(chain(_bodies(box, sheets, code), _modules(box, sheets, code)), None)


def room_for_wires(box: Box, sheets: Mapping[str, Datasheet], code: Code) -> Fraction | None:
    """The room behind the bodies, and beside them where the gap takes folded wire [in³].

    None where a measure of the box or a body is not known, or where no body is in it.

    Args:
        sheets: the sheets its devices name, by id.
        code: whose table of trade sizes says the depth of a box nobody measured.
    """
    wide, high, deep = _inside(box, code)
    standing = _standing(box, sheets)
    if wide is None or high is None or deep is None or not standing:
        return None
    gang = wide / box.enclosure.gangs
    left = (box.enclosure.gangs - sum(one.gangs for one in standing)) * gang * high * deep
    for one in standing:
        if one.body is None:
            return None
        mine, width, height = gang * one.gangs, one.body.width.inches, one.body.height.inches
        back = min(one.body.projection.inches, deep)
        left += mine * high * (deep - back)
        if mine - width >= 2 * GAP:
            left += (mine - width) * high * back
        if high - height >= 2 * GAP:
            left += width * (high - height) * back
    return left


@dataclass(frozen=True, slots=True)
class _Standing:
    """A device that takes room in the box."""

    gang: int
    gangs: int
    body: Body | None


def _standing(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[_Standing, ...]:
    """The devices from the left; blank fillers take no room."""
    devices = sorted(box.devices, key=lambda device: device.gang)
    named = ((device, sheets[device.sheet]) for device in devices)
    return tuple(_Standing(device.gang, sheet.gangs, sheet.body) for device, sheet in named if not sheet.is_blank)


def _inside(box: Box, code: Code) -> tuple[Fraction | None, Fraction | None, Fraction | None]:
    """Inside width, height and depth [in], rings counted in the depth; None where it is not known."""
    deep = [line.value for line in inside_depth(box, code) if line.value is not None]
    return _inches(box.enclosure.width), _inches(box.enclosure.height), sum(deep, Fraction(0)) if deep else None


def _inches(length: Length | None) -> Fraction | None:
    return None if length is None else length.inches


def _bodies(box: Box, sheets: Mapping[str, Datasheet], code: Code) -> Iterator[Text]:
    """The devices whose bodies do not go in, each by itself, then all beside each other."""
    wide, high, deep = _inside(box, code)
    together = Fraction(0)
    for one in _standing(box, sheets):
        if one.body is None:
            continue
        together += one.body.width.inches
        measures = (
            (one.body.projection, deep, "deep"),
            (one.body.width, wide, "wide"),
            (one.body.height, high, "high"),
        )
        for size, inside, called in measures:
            if inside is not None and size.inches > inside:
                whose = f"will not go: gang {one.gang}, a body "
                yield whose, Amount(size.inches, "in"), f" {called} in ", Amount(inside, "in")
    if wide is not None and together > wide:
        yield "will not go: bodies ", Amount(together, "in"), " wide side by side in ", Amount(wide, "in")


def _modules(box: Box, sheets: Mapping[str, Datasheet], code: Code) -> Iterator[Text]:
    """The modules that lie neither behind a device nor beside one, however they are turned."""
    wide, high, deep = _inside(box, code)
    if wide is None or high is None or deep is None:
        return
    standing, gang = _standing(box, sheets), wide / box.enclosure.gangs
    rooms = [min(deep, gang)] if box.enclosure.gangs > sum(one.gangs for one in standing) else []
    for one in standing:
        if one.body is None:
            return
        body = one.body
        rooms += [deep - body.projection.inches, gang * one.gangs - body.width.inches, high - body.height.inches]
    widest = max(rooms)
    for module in box.modules:
        loose = sheets[module.sheet]
        if loose.body is None:
            continue
        thin = min(loose.body.width.inches, loose.body.height.inches, loose.body.projection.inches)
        if thin > widest:
            yield (
                f"will not go: {loose.name}, ",
                Amount(thin, "in"),
                " thin, in ",
                Amount(widest, "in"),
                " that is left",
            )
