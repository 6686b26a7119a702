"""The plan of whatever a step is about, put short: a step that was done for another plan is not done."""

from __future__ import annotations

import json
from hashlib import blake2s

from ..model.box import Box
from ..model.contents import Contents, Equipment
from ..model.splice import LeadEnd, Splice
from ..model.tick import Step, StepKind, Tick, refused_step
from ..wiring.hookup.work import WorkEnd, found_end, leaving

OF_ALL: frozenset[StepKind] = frozenset(
    ("tugged", "compared", "folded", "energised", "closed", "tried by hand", "done", "measured")
)
"""Steps about everything in the box: once the plan of anything in it changes, they must be done again."""
OF_CABLES: frozenset[StepKind] = frozenset(("marked", "trimmed"))
"""Steps about everything that enters the box."""
OF_DEVICE: frozenset[StepKind] = frozenset(("recorded", "joined the hub", "named", "updated", "paired"))
"""Steps about a device, whatever its loads."""
OF_LOADS: frozenset[StepKind] = frozenset(
    (
        "tried by hand",
        "set",
        "weighed",
        "tried from the hub",
        "tried over the network",
        "tried without the network",
        "tried after an outage",
    )
)
"""Steps about a device with its loads."""
SIZE = 6
"""Of the short form [bytes]."""


UNDO = "undo"
"""The subject of the step that undoes what was done for a plan before: what it names stays, whatever is planned."""
SCHEME = 2
"""Which way it is put short now. The first left out what a splice is opened for and whether a device stays."""


def planned_of(step: Step, box: Box, scheme: int | None = SCHEME) -> str | None:
    """The plan of whatever a step is about; the same where nothing of it is planned differently.

    What things are called, and the count's own figures, are nothing of it.

    Args:
        step: of the box, or its refusal.
        box: as planned.
        scheme: which way it is put short; None: the first there was.

    Returns:
        Twelve letters and figures; None where the step is about nothing that is planned: a breaker, a picture.

    >>> from nail_count.trade.model.wire import Cable
    >>> box = Box(id="b", name="Hall", room="Hall", cables=[Cable(id="A", gauge=14, insulated=2)])
    >>> planned_of(Step(kind="closed"), box) == planned_of(Step(kind="closed"), box.changed(name="Landing"))
    True
    >>> planned_of(Step(kind="closed"), box) == planned_of(Step(kind="closed"), box.changed(cables=()))
    False
    """
    at = refused_step(step) if step.kind == "refused" else step
    if at.subjects[:1] == (UNDO,):
        return None
    about = _about(at, box, scheme) + (_opened(at, box) if scheme else [])
    return blake2s(json.dumps(about).encode(), digest_size=SIZE).hexdigest() if about else None


def fits(tick: Tick, box: Box) -> bool:
    """Return whether what a tick of a box is about is planned as it was then; a tick that doesn't know that fits."""
    return tick.planned is None or tick.planned == planned_of(tick.step, box, tick.scheme)


def _about(step: Step, box: Box, scheme: int | None) -> list[object]:
    contents = box.contents
    if step.kind == "joined":
        return [_splice(one, contents, scheme) for one in contents.splices if one.id == step.subjects[-1]]
    if step.kind == "taken apart" and box.found is not None:
        return [_splice(one, box.found, scheme) for one in box.found.splices if one.id in step.subjects]
    about: list[object] = []
    if step.kind == "cabled":
        about += [box.work_of(cable.id) for cable in box.cables if cable.id in step.subjects]
    if step.kind in OF_ALL | OF_CABLES:
        about.append([(cable.id, cable.insulated, str(cable.gauge)) for cable in box.entering])
    if step.kind in OF_ALL:
        about += [
            sorted(_splice(one, contents, scheme) for one in contents.splices if one.ends),
            [(item.id, item.sheet, item.gang, *_stays(item, scheme)) for item in contents.equipment],
        ]
    for item in contents.equipment:
        if item.id in step.subjects[:1]:
            about += [item.sheet] if step.kind in OF_DEVICE | OF_LOADS else []
            if step.kind == "tried over the network":
                about.append(item.commands)
            if step.kind in OF_LOADS:
                about.append([(load.kind, load.quantity, str(load.each), load.channel) for load in item.loads])
    return about


def _opened(step: Step, box: Box) -> list[object]:
    """What becomes of an old splice or an old device by the plan: a splice is opened for the planned ones it is in."""
    if box.found is None or step.kind not in ("taken apart", "taken out"):
        return []
    if step.kind == "taken out":
        gone = leaving(box)
        return [(item.sheet, item.id in gone) for item in box.found.equipment if item.id in step.subjects]
    ends = {found_end(box, end) for one in box.found.splices if one.id in step.subjects for end in one.ends}
    return [
        _splice(one, box.contents, SCHEME)
        for one in box.contents.splices
        if any(WorkEnd("planned", end) in ends for end in one.ends)
    ]


def _stays(item: Equipment, scheme: int | None) -> tuple[str, ...]:
    return (item.stays,) if scheme and item.stays else ()


def _splice(splice: Splice, contents: Contents, scheme: int | None) -> list[str]:
    """Its ends, in whatever order, each lead with the sheet that numbers it; and what holds them."""
    items = {item.id: " ".join((item.sheet, *_stays(item, scheme))) for item in contents.equipment}
    ends = sorted(
        f"{end.model_dump_json()} {items.get(end.of, '') if isinstance(end, LeadEnd) else ''}" for end in splice.ends
    )
    return [*ends, splice.connector.model_dump_json() if splice.connector else ""]
