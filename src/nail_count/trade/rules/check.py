"""Every rule on a box, and on a whole job."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field
from functools import lru_cache

from ..model.answer import Answer, State, Subject, Text, worst
from ..model.box import Box, Equipment
from ..model.datasheet import Datasheet
from ..model.edition import EDITIONS
from ..model.job import NO_VOLTS, Job, Terms, by_id, terms_of
from ..model.panel import Circuit, in_order, on_another_supply, partners
from .circuit.branch import circuit_load
from .fit.box import fit, fit_answer
from .fit.house import house_misfits
from .fit.run import run_misfits
from .load.heat import Warmth, warmth_that_limits
from .load.position import Position, positions
from .load.rating import rating_at, total_at
from .prohibitions import prohibitions
from .space.bulk import bulk
from .space.depth import depth
from .volume.csa import csa_fill
from .volume.nec import fill_of
from .volume.spaces import spaces


@dataclass(frozen=True, slots=True)
class BoxCheck:
    """All answers for one box, and the one that binds."""

    box: Box
    """As far as it fits: what the rules were asked about."""
    fills: tuple[Answer, ...]
    """Volume of each space; () where no volume rule holds."""
    bulk: Answer
    """By real size; an estimate."""
    depth: Answer | None
    """None while the inside depth is not known."""
    ratings: tuple[Answer, ...]
    prohibitions: Answer | None = None
    """What forbids a choice whatever the sums are; None where nothing does."""
    fit: Answer | None = None
    """Everything in the box that does not fit its job; None where all does."""
    positions: Mapping[str, Position] = field(default_factory=dict)
    """Where each device and module stands, by its id."""
    empty: int = 0
    """How many of its gangs hold nothing yet."""
    warmth: Warmth | None = None
    """How warm it gets, an estimate; None where no sheet has a limit by it, and it was not reckoned."""

    @property
    def fill(self) -> Answer:
        """The count that binds: the worst of the spaces; bulk where no volume rule holds."""
        return max(self.fills, key=lambda answer: answer.state, default=self.bulk)

    @property
    def answers(self) -> tuple[Answer, ...]:
        """Misfits, then volume, depth and bulk, each channel from the left, then prohibitions."""
        return (
            *((self.fit,) if self.fit else ()),
            *self.fills,
            *((self.depth,) if self.depth else ()),
            self.bulk,
            *self.ratings,
            *((self.prohibitions,) if self.prohibitions else ()),
        )

    @property
    def state(self) -> State:
        """The worst of its answers."""
        return worst(answer.state for answer in self.answers)

    @property
    def binding(self) -> Answer:
        """The answer that sets the state; the first of them where several do."""
        return max(self.answers, key=lambda answer: answer.state)

    @property
    def headline(self) -> Text:
        """What binds, in a few words: of anything but the count, with what it is about."""
        binding = self.binding
        so_far = (f" so far; {_count(self.empty)} empty",) if self.empty and binding.state.passes else ()
        if binding.about == "fill" or binding.state == State.HOLDS:
            return (*binding.headline, *so_far)
        return (*binding.title, ": ", *binding.headline, *so_far)


def _count(gangs: int) -> str:
    return "one gang" if gangs == 1 else f"{gangs} gangs"


@dataclass(frozen=True, slots=True)
class JobCheck:
    """All boxes of a job."""

    boxes: tuple[BoxCheck, ...]
    circuits: tuple[Answer, ...] = ()
    fit: Answer | None = None
    """What of the house does not fit together; None where all does."""

    @property
    def state(self) -> State:
        """Fails where anything fails, else open where anything is open, else a pass."""
        own = (self.fit,) if self.fit else ()
        return worst(answer.state for answer in (*self.boxes, *self.circuits, *own))


def check_box(
    box: Box,
    sheets: Mapping[str, Datasheet],
    terms: Terms | None = None,
    circuits: Collection[str] | Mapping[str, int] | None = None,
    boxes: Collection[str] | None = None,
) -> BoxCheck:
    """Whether the box fits its job, and of the part that does: volume, depth and bulk, every channel of its devices.

    Args:
        sheets: the sheets its devices name, by id.
        terms: rule set and voltage; the defaults of [Terms][nail_count.trade.model.job.Terms] where None.
        circuits: ids of the job's circuits, with the volts across what each feeds; None: whether one of them feeds it
            is not judged. Without volts, everything in it is at those of the terms.
        boxes: keys of the job's boxes; None: whether its loads hang at one of them is not judged.
    """
    terms = terms or Terms()
    fitted = fit(box, sheets, circuits, boxes)
    box = fitted.box
    volts = circuits if isinstance(circuits, Mapping) else NO_VOLTS
    warm = warmth_that_limits(box, sheets, terms, volts)
    place = positions(box, sheets, warm)
    ratings = tuple(_ratings(box, sheets, terms, place, volts))
    fills = tuple(_fills(box, sheets, terms))
    return BoxCheck(
        box,
        fills,
        bulk(box, sheets, terms.code, terms.assume),
        depth(box, sheets, terms.code),
        ratings,
        prohibitions(box, sheets, terms),
        fit_answer(Subject("box", box.id), fitted.misfits),
        place,
        _empty(box, sheets),
        warm,
    )


def _empty(box: Box, sheets: Mapping[str, Datasheet]) -> int:
    """How many gangs of a box for devices hold neither a device nor a blank filler."""
    taken = sum(sheets[device.sheet].gangs for device in box.devices)
    return 0 if box.use != "control" else box.enclosure.gangs - taken


def _ratings(
    box: Box, sheets: Mapping[str, Datasheet], terms: Terms, place: Mapping[str, Position], volts: Mapping[str, int]
) -> Iterator[Answer]:
    """The loads of every device and module, from left to right, each at the volts of the circuit it is on."""
    for item in box.equipment:
        yield from ratings_of(place[item.id], item, sheets[item.sheet], terms_of(item, box, terms, volts))


@lru_cache(maxsize=4096)
def ratings_of(place: Position, item: Equipment, sheet: Datasheet, terms: Terms) -> tuple[Answer, ...]:
    """Every channel of a device or module, and the total of several where its sheet states one.

    Kept once reckoned: it depends on nothing else of the box, and most acts leave most devices as they were.
    """
    channels = tuple(rating_at(place, item, n, sheet, terms) for n in range(1, len(sheet.channels) + 1))
    if sheet.total is None or not item.loads:
        return channels
    return *channels, total_at(place, item, sheet, terms)


def _fills(box: Box, sheets: Mapping[str, Datasheet], terms: Terms) -> Iterator[Answer]:
    """The count of each space by the volume rule of the job's code; none where depth and bulk decide."""
    rule = EDITIONS[terms.code].volume
    if rule == "csa":
        yield from (csa_fill(space, sheets, terms.modules) for space in spaces(box, sheets))
    elif rule == "nec":
        yield from (fill_of(space, sheets, terms.code, terms.modules) for space in spaces(box, sheets))


def check_job(job: Job) -> JobCheck:
    """Every box of the job, in the job's order, and every circuit."""
    sheets, known = by_id(job.sheets), job.volts
    keys = frozenset(box.id for box in job.boxes)
    boxes = tuple(check_box(box, sheets, job.terms_at(box), known, keys) for box in job.boxes)
    fitted = job.changed(boxes=tuple(check.box for check in boxes))
    letters = {box.id: frozenset(cable.id for cable in box.cables) for box in job.boxes}
    astray = (wrong for run in job.runs for wrong in run_misfits(run, known, letters.get))
    misfits = (*house_misfits(job.panel, job.circuits, job.stock, len(boxes)), *astray)
    return JobCheck(boxes, check_circuits(fitted), fit_answer(Subject("house", "house"), misfits))


def fitting_job(job: Job) -> Job:
    """The job with each of its boxes as far as it fits: answers about a whole house are worked out from this."""
    sheets, known = by_id(job.sheets), frozenset(circuit.id for circuit in job.circuits)
    keys = frozenset(box.id for box in job.boxes)
    return job.changed(boxes=tuple(fit(box, sheets, known, keys).box for box in job.boxes))


def check_circuits(job: Job) -> tuple[Answer, ...]:
    """The loads of every circuit of a job that fits, in the order of the panel."""
    sheets, known = by_id(job.sheets), {circuit.id: circuit for circuit in job.circuits}
    partner = partners(job.circuits)
    boxes: dict[str, list[Box]] = {}
    for box in job.boxes:
        for id in box.circuits:
            boxes.setdefault(id, []).append(box)
    order = {box.id: place for place, box in enumerate(job.boxes)}

    def load(circuit: Circuit) -> Answer:
        beside = known.get(partner.get(circuit.id, ""))
        here = boxes.get(circuit.id, [])
        if beside is not None:
            both = {box.id: box for box in (*here, *boxes.get(beside.id, []))}
            here = sorted(both.values(), key=lambda box: order[box.id])
        return circuit_load(
            circuit, here, sheets, terms=job.terms, beside=beside, other_supply=on_another_supply(circuit, job.circuits)
        )

    return tuple(load(circuit) for circuit in in_order(job.circuits))
