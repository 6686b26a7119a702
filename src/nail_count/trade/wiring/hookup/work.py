"""The work between a box as found and as planned: what is left, taken apart, made, capped, re-marked, pigtailed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.splice import ConductorEnd, End, Splice
from .colors import Wire
from .splices import held

Act = Literal["leave", "take apart", "make", "add to", "cap", "re-mark", "pigtail"]
_ORDER = ("ground", "neutral", "switched", "hot", "traveler", "signal", "cap")
"""In order of work: ground, neutral, load, line, travelers."""
_NO_NEUTRAL = ("hot", "switched", "traveler", "signal")
"""What a white in it is re-marked for. In a splice that a person called otherwise it is left alone: it may be one."""


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do."""

    act: Act
    splice: Splice
    ends: tuple[End, ...]
    """Those it is about."""


def work(box: Box, sheets: Mapping[str, Datasheet], wires: Mapping[str, Wire]) -> tuple[Step, ...]:
    """What is to be done in a box, in order of work.

    Args:
        box: with what was found in it and what is planned.
        sheets: of everything in it, by id.
        wires: its conductors, by what they are called.
    """
    return tuple(_steps(box, sheets, wires))


def _steps(box: Box, sheets: Mapping[str, Datasheet], wires: Mapping[str, Wire]) -> Iterator[Step]:
    before = {frozenset(splice.ends): splice for splice in box.found.splices if splice.ends} if box.found else {}
    after = [splice for splice in box.splices if splice.ends]
    planned = [frozenset(splice.ends) for splice in after]
    for ends, splice in before.items():
        kept = max((ends & other for other in planned), key=len, default=frozenset())
        if ends not in planned and len(kept) < len(ends):
            yield Step("take apart", splice, tuple(end for end in splice.ends if end not in kept))
    for splice in sorted(after, key=lambda one: _ORDER.index(one.name) if one.name in _ORDER else len(_ORDER)):
        ends = frozenset(splice.ends)
        if ends in before:
            yield Step("leave", splice, splice.ends)
            continue
        old = max((one for one in before if one & ends), key=lambda one: len(one & ends), default=frozenset())
        stays = old & ends if len(old & ends) > 1 else frozenset()
        if len(ends) == 1:
            yield Step("cap", splice, splice.ends)
        elif stays:
            yield Step("add to", splice, tuple(end for end in splice.ends if end not in stays))
        else:
            yield Step("make", splice, splice.ends)
        if held(box, splice, sheets).pigtails:
            yield Step("pigtail", splice, splice.ends)
        if splice.name in _NO_NEUTRAL:
            white = [e for e in splice.ends if isinstance(e, ConductorEnd) and e.of in wires and wires[e.of].neutral]
            if white:
                yield Step("re-mark", splice, tuple(white))
