"""The runs of a job as ways between places, each with the conductors it has."""

from __future__ import annotations

from ...model.job import Job
from ...model.run import BoxEnd, CircuitEnd, OnwardEnd, WordsEnd
from .colors import outward, wires_of
from .nets import Link, Place
from .pairing import pairs_of
from .panel_ends import neutral_owners


def links_of(job: Job) -> tuple[Link, ...]:
    """The runs of a job as ways between places."""
    boxes, owner, made = {box.id: box for box in job.boxes}, neutral_owners(job), []
    code, sleeved = job.terms.colors, job.terms.region.sleeved
    for run in job.runs:
        ends = [end for end in (run.one, run.other) if isinstance(end, BoxEnd) and end.box in boxes and end.cable]
        if not ends or (cable := boxes[ends[0].box].cable(ends[0].cable or "")) is None:
            continue
        here = boxes[ends[0].box]
        if cable not in here.entering:
            continue
        wires = wires_of(cable, code)
        same = {wire.id: wire.id for wire in wires}
        far = run.other if run.one == ends[0] else run.one
        if len(ends) == 2:
            there = boxes[ends[1].box]
            other = there.cable(ends[1].cable or "")
            pairs = pairs_of((here, cable), (there, other), code) if other in there.entering and other else None
            if pairs is not None:
                ids = (same, dict(pairs))
                made.append(Link(run.id, Place(here.id), Place(there.id), wires, ids, sleeved=sleeved))
            continue
        wires = outward(cable, code)
        if isinstance(far, CircuitEnd) and far.circuit is not None:
            panel = Place(circuit=owner.get(far.circuit, far.circuit))
            made.append(Link(run.id, Place(here.id), panel, wires, (same, same), far.circuit, sleeved))
        elif isinstance(far, OnwardEnd | WordsEnd):
            made.append(Link(run.id, Place(here.id), Place(here.id, cable.id), wires, (same, same), sleeved=sleeved))
    return tuple(made)
