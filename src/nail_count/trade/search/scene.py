"""A box, those around it, and what every check says of them after any set of moves."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from ..documents import Documents, JobAtHand, wired_with
from ..edits.base import Edit
from ..edits.devices import ArrangeGangs
from ..edits.hookup import ProposeHookup
from ..model.answer import Answer, State
from ..model.box import Box
from ..model.errors import Rejected
from ..model.job import Job, by_id
from ..model.panel import on_another_supply, partners
from ..model.splice import LeadEnd
from ..rules.check import BoxCheck, check_box
from ..rules.circuit.branch import circuit_load
from ..wiring.hookup.look import look
from .best_order import best_order
from .move import SETTLED, STRUCTURE, Key, Move

Plan = frozenset[int]
"""A set of moves, by their places in the list of all."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """What every check says after a set of moves."""

    failing: Mapping[Key, Answer]
    """Answers that fail, or that are open and were not."""
    refused: str = ""
    """Why the set cannot be made at all; "" where it can."""

    @property
    def holds(self) -> bool:
        """Whether everything it touches holds, and nothing more is open."""
        return not self.failing and not self.refused


class Scene:
    """A job as it is, asked again and again."""

    def __init__(self, job: Job, box: str, moves: Sequence[Move] = (), left: frozenset[Key] = frozenset()) -> None:
        """`left`: answers that fail as things are and are left as they are."""
        self.job, self.box, self.moves, self.left = job, box, tuple(moves), left
        self.sheets, self.volts = by_id(job.sheets), job.volts
        self.boxes = {one.id: one for one in job.boxes}
        self.keys = frozenset(self.boxes)
        self.documents = Documents(JobAtHand(job), {})
        self._checks: dict[tuple[str, Plan], BoxCheck] = {}
        self._circuits: dict[tuple[str, Plan], Answer] = {}
        self.on_circuit = {
            one.id: frozenset(box.id for box in job.boxes if self._of(one.id) & set(box.circuits))
            for one in job.circuits
        }

    def with_moves(self, moves: Sequence[Move]) -> Scene:
        """The same, asked about these moves."""
        return Scene(self.job, self.box, moves, self.left)

    def leaving(self, keys: Collection[Key]) -> Scene:
        """The same, some answers left failing as they are."""
        return Scene(self.job, self.box, self.moves, self.left | frozenset(keys))

    def _of(self, circuit: str) -> set[str]:
        partner = partners(self.job.circuits).get(circuit)
        return {circuit, partner} if partner else {circuit}

    # as it is

    def check(self, key: str) -> BoxCheck:
        """A box as it is."""
        return self._checked(key, frozenset(), self.boxes[key])

    def was_open(self, key: Key) -> bool:
        """Whether an answer is open as things are."""
        if key.about == "circuit":
            return self._circuit(key.subject.of, frozenset(), self.boxes).state is State.OPEN
        found = (one for one in self.check(key.box).answers if (one.about, one.subject) == (key.about, key.subject))
        return any(one.state is State.OPEN for one in found)

    def failing_circuits(self) -> dict[Key, Answer]:
        """The circuits of the box that fail as things are."""
        found = {}
        for circuit in self.boxes[self.box].circuits:
            if circuit in self.on_circuit:
                answer = self._circuit(circuit, frozenset(), self.boxes)
                if answer.state is State.FAILS:
                    found[Key("", "circuit", answer.subject)] = answer
        return found

    def is_warm(self, key: str) -> bool:
        """Whether something in a box is limited by how warm it gets."""
        return key in self.boxes and (self.check(key).warmth is not None or self._wary)

    @property
    def _wary(self) -> bool:
        """Whether any sheet that may come into a box is limited by warmth."""
        return any(new is not None and new.ambient for move in self.moves for _, _, new in move.sheets)

    # after a set of moves

    def made(self, plan: Collection[int]) -> Documents:
        """The documents after a set of moves, each made as its edits say. Raises Rejected where one cannot be made."""
        documents = self.documents
        for edit in self._acts(plan):
            made = edit(documents) if callable(edit) else edit
            documents = made.apply(documents).documents if made is not None else documents
        return documents

    def edits(self, plan: Collection[int]) -> Iterator[Edit]:
        """The edits of a set of moves, in order, with the hook-up proposed where it is proven again."""
        documents = self.documents
        for act in self._acts(plan):
            made = act(documents) if callable(act) else act
            if made is not None:
                documents = made.apply(documents).documents
                yield made
        yield from self._hookups(plan)

    def _acts(self, plan: Collection[int]) -> Iterator[Edit | Callable[[Documents], Edit | None]]:
        """The edits of a set in order; another order of the gangs is worked out from the devices there by then."""
        for move in sorted((self.moves[number] for number in plan), key=lambda one: one.rank):
            yield from move.edits
            if move.kind == "order":
                yield partial(self._order, next(iter(move.boxes)), move.stays)

    def _order(self, key: str, stays: tuple[str, ...], documents: Documents) -> Edit | None:
        box = documents.box(key)
        best = best_order(box, self.sheets, self.job.terms_at(box), stays, self.volts)
        if best is None:
            return None
        return ArrangeGangs(box=key, order=tuple(f"{id}:{gang}" for id, gang in best.gangs.items()))

    def outcome(self, plan: Plan) -> Outcome:
        """What every check says of everything a set of moves touches, and of the box."""
        try:
            documents = self.made(plan)
        except Rejected as wrong:
            return Outcome({}, wrong.sentence)
        touched = {self.box, *self.changed(documents)}
        after = {key: documents.box(key) for key in touched}
        failing = dict(self._failing(plan, after))
        return Outcome(failing)

    def _failing(self, plan: Plan, after: Mapping[str, Box]) -> Iterator[tuple[Key, Answer]]:
        for key, box in after.items():
            mine = frozenset(number for number in plan if key in self.moves[number].boxes)
            if not mine and box != self.boxes[key]:
                mine = plan  # changed along with what hangs there: a lamp that goes to another switch
            for answer in self._checked(key, mine, box).answers:
                yield from self._wrong(Key(key, answer.about, answer.subject), answer)
        moved = frozenset(n for n in plan if self.moves[n].kind not in (*STRUCTURE, "order"))
        every = {**self.boxes, **after}
        fed = {circuit for key, box in after.items() for circuit in (*box.circuits, *self.boxes[key].circuits)}
        for circuit in sorted(fed & set(self.on_circuit)):
            answer = self._circuit(circuit, moved, every)
            yield from self._wrong(Key("", "circuit", answer.subject), answer)

    def _wrong(self, key: Key, answer: Answer) -> Iterator[tuple[Key, Answer]]:
        newly_open = answer.state is State.OPEN and not self.was_open(key)
        if (answer.state is State.FAILS or newly_open) and key not in self.left:
            yield key, answer

    def _checked(self, key: str, mine: Plan, box: Box) -> BoxCheck:
        known = self._checks.get((key, mine))
        if known is None:
            known = check_box(box, self.sheets, self.job.terms_at(box), self.volts, self.keys)
            self._checks[key, mine] = known
        return known

    def _circuit(self, circuit: str, moved: Plan, boxes: Mapping[str, Box]) -> Answer:
        known = self._circuits.get((circuit, moved))
        if known is None:
            here = [boxes[one.id] for one in self.job.boxes if one.id in self.on_circuit[circuit]]
            by = {one.id: one for one in self.job.circuits}
            beside = by.get(partners(self.job.circuits).get(circuit, ""))
            other_supply = on_another_supply(by[circuit], self.job.circuits)
            known = circuit_load(
                by[circuit], here, self.sheets, terms=self.job.terms, beside=beside, other_supply=other_supply
            )
            self._circuits[circuit, moved] = known
        return known

    # what joins what

    def proven(self, plan: Collection[int]) -> tuple[Documents, str]:
        """The documents after a set of moves, hooked up again where they were; why that cannot be proven, "" if it is.

        Where devices, modules or cables change and the plan has a hook-up, or the move lives by its wires, its proposal
        must be proven.
        """
        documents = self.made(plan)
        for edit in self._hookups(plan):
            try:
                documents = edit.apply(documents).documents
            except Rejected as wrong:
                return documents, wrong.sentence
        for key in sorted({key for number in plan for key in self.moves[number].joined}):
            if look(wired_with(documents, documents.box(key)), key).state is State.FAILS:
                return documents, f"the hook-up made in {documents.box(key).name} does not hold"
        return documents, ""

    def _hookups(self, plan: Collection[int]) -> list[Edit]:
        plain = (*SETTLED, *STRUCTURE, "order")
        rewired = [self.moves[number] for number in plan if self.moves[number].kind not in plain]
        boxes = [(move, key) for move in rewired for key in move.boxes - move.joined]
        asked = {key for move, key in boxes if move.wires or hooked_up(self.boxes[key])}
        return [ProposeHookup(box=key) for key in sorted(asked)]

    def check_after(self, documents: Documents, key: str) -> BoxCheck:
        """A box as it is in these documents."""
        box = documents.box(key)
        return check_box(box, self.sheets, self.job.terms_at(box), self.volts, self.keys)

    def changed(self, documents: Documents) -> tuple[str, ...]:
        """The boxes that differ in these documents."""
        return tuple(
            id.key for id, thing in documents.changed.items() if id.kind == "box" and thing != self.boxes.get(id.key)
        )


def hooked_up(box: Box) -> bool:
    """Whether the plan of a box says what a device of it is joined with."""
    return any(isinstance(end, LeadEnd) for splice in box.splices for end in splice.ends)
