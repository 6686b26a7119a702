"""Every rule on a box, and on a whole job."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache

from .model.answer import Answer, State, worst
from .model.box import Box, Carrier
from .model.circuit import in_order
from .model.job import Job, Terms, by_id
from .model.sheet import Sheet
from .rules.bulk import bulk
from .rules.circuit import circuit_load
from .rules.csa import csa_fill
from .rules.depth import BY_DEPTH, depth
from .rules.gates import gates
from .rules.nec import fill_of
from .rules.places import Place, places
from .rules.rating import rating_at, total_at
from .rules.spaces import Space, spaces


@dataclass(frozen=True, slots=True)
class BoxCheck:
    """All answers for one box, and the one that binds."""

    box: Box
    fills: tuple[Answer, ...]
    """Volume of each space; () where no volume rule holds."""
    bulk: Answer
    """By real size; an estimate."""
    depth: Answer | None
    """None while the inside depth is not known."""
    ratings: tuple[Answer, ...]
    gates: Answer | None = None
    """What forbids a choice whatever the sums are; None where nothing does."""

    @property
    def fill(self) -> Answer:
        """The count that binds: the worst of the spaces; bulk where no volume rule holds."""
        return max(self.fills, key=lambda answer: answer.state, default=self.bulk)

    @property
    def answers(self) -> tuple[Answer, ...]:
        """Volume first, then depth and bulk, then each channel from left to right, then what forbids a choice."""
        return (
            *self.fills,
            *((self.depth,) if self.depth else ()),
            self.bulk,
            *self.ratings,
            *((self.gates,) if self.gates else ()),
        )

    @property
    def state(self) -> State:
        """The worst of its answers."""
        return worst(answer.state for answer in self.answers)

    @property
    def binding(self) -> Answer:
        """The answer that sets the state; the first of them where several do."""
        return max(self.answers, key=lambda answer: answer.state)


@dataclass(frozen=True, slots=True)
class JobCheck:
    """All boxes of a job."""

    boxes: tuple[BoxCheck, ...]
    circuits: tuple[Answer, ...] = ()

    @property
    def state(self) -> State:
        """Fails where anything fails, else open where anything is open, else a pass."""
        return worst((*(box.state for box in self.boxes), *(circuit.state for circuit in self.circuits)))


def check_box(box: Box, sheets: Mapping[str, Sheet], terms: Terms | None = None) -> BoxCheck:
    """Volume, depth and bulk of the box, and every channel of its devices.

    Args:
        box: the box.
        sheets: the sheets its devices name, by id.
        terms: rule set and voltage; the defaults of [Terms][nail_count.trade.model.job.Terms] where None.

    Raises:
        KeyError: a device names a sheet that is not given.
    """
    terms = terms or Terms()
    ratings = tuple(_ratings(box, sheets, terms))
    fills = () if terms.code in BY_DEPTH else tuple(_fill(space, sheets, terms) for space in spaces(box, sheets))
    return BoxCheck(
        box, fills, bulk(box, sheets, terms.code), depth(box, sheets, terms.code), ratings, gates(box, sheets, terms)
    )


def _ratings(box: Box, sheets: Mapping[str, Sheet], terms: Terms) -> Iterator[Answer]:
    """What hangs on every device and module, from left to right."""
    place = places(box, sheets, terms)
    for carrier in box.carriers:
        yield from ratings_of(place[carrier.id], carrier, sheets[carrier.sheet], terms)


@lru_cache(maxsize=4096)
def ratings_of(place: Place, carrier: Carrier, sheet: Sheet, terms: Terms) -> tuple[Answer, ...]:
    """Every channel of a device or module, and the total of several where its sheet states one.

    Kept once reckoned: it depends on nothing else of the box, and most acts leave most devices as they were.
    """
    channels = tuple(rating_at(place, carrier, n, sheet, terms) for n in range(1, len(sheet.channels) + 1))
    if sheet.total is None or not carrier.loads:
        return channels
    return *channels, total_at(place, carrier, sheet, terms)


def _fill(space: Space, sheets: Mapping[str, Sheet], terms: Terms) -> Answer:
    if terms.code == "csa":
        return csa_fill(space, sheets, terms.modules)
    return fill_of(space, sheets, terms.code, terms.modules)


def check_job(job: Job) -> JobCheck:
    """Every box of the job, in the job's order, and every circuit."""
    sheets = by_id(job.sheets)
    return JobCheck(tuple(check_box(box, sheets, job.terms_at(box)) for box in job.boxes), check_circuits(job))


def check_circuits(job: Job) -> tuple[Answer, ...]:
    """What hangs on every circuit, in the order of the panel."""
    sheets, known = by_id(job.sheets), {circuit.id: circuit for circuit in job.circuits}
    partner = {circuit.neutral_with: circuit.id for circuit in job.circuits if circuit.neutral_with}
    return tuple(
        circuit_load(
            circuit,
            job.boxes,
            sheets,
            job.terms,
            known.get(circuit.neutral_with or partner.get(circuit.id, "")),
        )
        for circuit in in_order(job.circuits)
    )
