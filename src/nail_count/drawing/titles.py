"""What stands at each cable, device and lamp where a hook-up is drawn."""

from __future__ import annotations

from ..trade.model.box import Box
from ..trade.model.job import Job, by_id
from ..trade.model.run import BoxEnd, CircuitEnd, OnwardEnd, RunEnd
from ..trade.wiring.hookup.over_network import network_links
from ..trade.wiring.hookup.stages import Stage, cables_at, contents_at
from .hookup import Titles


def titles_of(job: Job, box: Box, stage: Stage = "planned") -> dict[str, Titles]:
    """Return what stands at each cable, device and lamp of a hook-up, by their ids, in no state of its switches.

    Args:
        job: with the boxes whose loads may hang at this one.
        box: one of its boxes.
        stage: as found, or as planned.
    """
    sheets, names = by_id(job.sheets), {one.id: one.name for one in job.boxes}
    titles: dict[str, Titles] = {}
    for cable in cables_at(box, stage):
        to = _to(job.far_ends.get((box.id, cable.id)), names)
        titles[cable.id] = Titles(f"{cable.id} · {cable.size}", to, True)
    links = network_links(job, box) if stage == "planned" else {}
    for item in contents_at(box, stage).equipment:
        titles[item.id] = Titles(item.name or sheets[item.sheet].name, "", False, network=links.get(item.id, ""))
    for other in job.boxes:
        for item in contents_at(other, stage).equipment:
            for load in item.loads:
                if load.outlet == box.id:
                    name = load.name or item.name or load.kind
                    titles[f"{other.id}-{load.id}"] = Titles(name, "", False, lamp=True)
    return titles | {"bond": Titles("bond", "metal box", False)}


def _to(end: RunEnd | None, names: dict[str, str]) -> str:
    match end:
        case None:
            return "not known"
        case BoxEnd():
            return names.get(end.box, "another box")
        case CircuitEnd():
            return f"breaker {end.circuit}" if end.circuit else "the panel"
        case OnwardEnd():
            return "next box"
    return end.words
