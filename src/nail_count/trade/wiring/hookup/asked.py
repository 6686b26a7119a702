"""Which devices ask for their hook-up: what was put into a box, and joined with nothing yet."""

from __future__ import annotations

from collections.abc import Mapping

from ...model.box import Box, Equipment
from ...model.datasheet import Datasheet
from ...model.splice import LeadEnd


def not_hooked_up(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[Equipment, ...]:
    """The devices and modules of a box none of whose leads is joined with anything, as planned.

    A battery remote, a blank, and a device whose sheet names no leads ask for nothing here.

    >>> leads = [{"role": "line"}, {"role": "load"}]
    >>> sheet = Datasheet.model_validate({"id": "s", "name": "Switch", "kind": "switch", "terminals": leads})
    >>> put = {"enclosure": {}, "devices": [{"id": "d1", "gang": 1, "sheet": "s"}]}
    >>> box = Box.model_validate({"id": "b", "name": "Hall", "room": "Hall", "planned": put})
    >>> [item.id for item in not_hooked_up(box, {"s": sheet})]
    ['d1']
    """
    joined = {end.of for splice in box.splices for end in splice.ends if isinstance(end, LeadEnd)}
    return tuple(item for item in box.equipment if item.id not in joined and sheets[item.sheet].terminals)
