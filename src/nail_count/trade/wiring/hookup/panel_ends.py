"""The circuits of a panel as sources: their hots, whose neutral is whose, which breakers open together."""

from __future__ import annotations

from collections.abc import Iterator

from ...model.job import Job
from ...model.panel import has_two_hots, partners, second_pole
from ...rules.circuit.panel import leg
from .network import Source


def neutral_owners(job: Job) -> dict[str, str]:
    """Under which circuit each circuit's neutral goes: the two of a multiwire circuit have one."""
    partner, known = partners(job.circuits), {circuit.id for circuit in job.circuits}
    owners = {id: min(id, partner[id]) if partner.get(id) in known else id for id in known}
    return owners | {second_pole(one.id): owners[one.id] for one in job.circuits if two_hots(job, one.id)}


def two_hots(job: Job, circuit: str | None) -> bool:
    """Whether a circuit of a job feeds its load by two hots."""
    found = next((one for one in job.circuits if one.id == circuit), None)
    return has_two_hots(found, job.terms.voltage)


def sources_of(job: Job) -> tuple[Source, ...]:
    """Every hot of the panel, with the neutral that goes with it; both hots of a breaker that feeds a load by two."""
    return tuple(_sources(job))


def _sources(job: Job) -> Iterator[Source]:
    owners, partner = neutral_owners(job), partners(job.circuits)
    for circuit in job.circuits:
        side, shares = leg(circuit), partner.get(circuit.id)
        hot, neutral = f"panel/{circuit.id}", f"panel/{owners[circuit.id]} neutral"
        if two_hots(job, circuit.id):
            first, second = ((circuit.space or 1) - 1) // 2 % 2, second_pole(circuit.id)
            yield Source(circuit.id, hot, neutral, first, second)
            yield Source(second, f"panel/{second}", neutral, 1 - first, circuit.id, pole_of=circuit.id)
            continue
        number = None if side is None else "AB".index(side)
        yield Source(circuit.id, hot, neutral, number, shares if shares in owners else None)


def tied(job: Job) -> tuple[frozenset[str], ...]:
    """The two circuits of each multiwire one whose breakers open together."""
    partner = partners(job.circuits)
    found = (frozenset((one.id, partner[one.id])) for one in job.circuits if one.tied and one.id in partner)
    return tuple(dict.fromkeys(found))
