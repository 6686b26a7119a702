"""The documents of a job as an edit sees them, those it makes in their place, and the boxes wired together with one."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple, Protocol, Self

from .model.box import Box, Use
from .model.datasheet import Datasheet
from .model.errors import Rejected
from .model.job import Job, JobHead, Library, by_id
from .model.run import Run
from .model.thing import Thing

DocumentKind = Literal["head", "sheet", "box", "run"]


class DocumentId(NamedTuple):
    """Which document of a job."""

    kind: DocumentKind
    key: str


HEAD = DocumentId("head", "head")


class BoxLine(NamedTuple):
    """What an edit of a house must know of a box without reading it; cheap to make: a house may have thousands."""

    name: str
    room: str
    use: Use
    circuits: tuple[str, ...] = ()
    """Every circuit that feeds it, or may, where that was asked for."""
    works: tuple[str, ...] = ()
    """What its devices work over the network: box/device."""

    @classmethod
    def of(cls, box: Box) -> Self:
        """Return the line of a box."""
        return cls(box.name, box.room, box.use, box.circuits, box.works)


class DocumentSource(Protocol):
    """Where the documents of a job come from: each is read when it is asked for."""

    @property
    def head(self) -> JobHead:
        """The job without its sheets and boxes."""

    @property
    def sheets(self) -> Library:
        """Its sheets by their ids."""

    def box(self, key: str, removed: bool = False) -> Box | None:
        """One of its boxes, or of those removed from it; None where there is none of this key."""

    def read_ahead(self, keys: Collection[str]) -> None:
        """These boxes will be asked for: they may be read together."""

    def place_of(self, key: str) -> int:
        """Where in the job's order a removed box stood, from 0."""

    def lines(self) -> Mapping[str, BoxLine]:
        """What lists show of every box, by its key, in the job's order."""

    def runs(self) -> tuple[Run, ...]:
        """All its runs."""

    def runs_at(self, box: str) -> tuple[Run, ...]:
        """Those of its runs that end at a box."""

    def taken(self, kind: DocumentKind) -> frozenset[str]:
        """Keys that are no longer free, those of removed documents among them."""


class JobAtHand:
    """A job that is all read already, as a source of documents."""

    def __init__(self, job: Job) -> None:
        self.head = JobHead(**job.shared(), order=tuple(box.id for box in job.boxes))
        self.sheets = by_id(job.sheets)
        self._boxes = {box.id: box for box in job.boxes}
        self._job = job

    def box(self, key: str, removed: bool = False) -> Box | None:
        """One of its boxes; none was ever removed from it."""
        return None if removed else self._boxes.get(key)

    def read_ahead(self, keys: Collection[str]) -> None:
        """All is read already."""

    def place_of(self, key: str) -> int:
        """Where in the job's order a removed box stood, from 0."""
        return len(self._boxes)

    def lines(self) -> Mapping[str, BoxLine]:
        """What lists show of every box, by its key, in the job's order."""
        return {key: BoxLine.of(box) for key, box in self._boxes.items()}

    def taken(self, kind: DocumentKind) -> frozenset[str]:
        """Keys that are no longer free."""
        if kind == "run":
            return frozenset(run.id for run in self._job.runs)
        return frozenset(self._boxes if kind == "box" else self.sheets)

    def runs(self) -> tuple[Run, ...]:
        """All its runs."""
        return self._job.runs

    def runs_at(self, box: str) -> tuple[Run, ...]:
        """Those of its runs that end at a box."""
        return tuple(run for run in self._job.runs if any(end.box == box for end in run.box_ends))


@dataclass(frozen=True, slots=True)
class Documents:
    """The documents of a job, some of them changed since they were read."""

    source: DocumentSource
    changed: Mapping[DocumentId, Thing | None]
    """Those an edit made or touched, by their ids; one that is the same as before was touched all the same."""

    @property
    def head(self) -> JobHead:
        """The job without its sheets and boxes."""
        head = self.changed.get(HEAD)
        return head if isinstance(head, JobHead) else self.source.head

    @property
    def sheets(self) -> Library:
        """The sheets by their ids."""
        new = [thing for thing in self.changed.values() if isinstance(thing, Datasheet)]
        return by_id((*self.source.sheets.values(), *new)) if new else self.source.sheets

    def box(self, key: str) -> Box:
        """One of the boxes. Raises Rejected where there is none of this key."""
        box = self.changed.get(DocumentId("box", key)) or self.source.box(key)
        if not isinstance(box, Box):
            raise Rejected("Pick one of the boxes of this job", "box")
        return box

    def boxes(self, keys: Collection[str]) -> tuple[Box, ...]:
        """Some of the boxes, in the order of their keys. Raises Rejected where there is none of one of these keys."""
        self.source.read_ahead([key for key in keys if DocumentId("box", key) not in self.changed])
        return tuple(self.box(key) for key in keys)

    def runs(self) -> tuple[Run, ...]:
        """All runs."""
        return self._runs(self.source.runs())

    def runs_at(self, box: str) -> tuple[Run, ...]:
        """The runs that end at a box."""
        here = self._runs(self.source.runs_at(box))
        return tuple(run for run in here if any(end.box == box for end in run.box_ends))

    def _runs(self, known: tuple[Run, ...]) -> tuple[Run, ...]:
        changed = {id.key: thing for id, thing in self.changed.items() if id.kind == "run"}
        here = {**{run.id: run for run in known}, **changed}  # one that changed keeps its place
        return tuple(thing for thing in here.values() if isinstance(thing, Run))

    def taken(self, kind: DocumentKind) -> frozenset[str]:
        """Keys that are no longer free."""
        return self.source.taken(kind) | {id.key for id in self.changed if id.kind == kind}

    def lines(self) -> Mapping[str, BoxLine]:
        """What lists show of every box, by its key."""
        changed = {thing.id: BoxLine.of(thing) for thing in self.changed.values() if isinstance(thing, Box)}
        return {**self.source.lines(), **changed}

    @property
    def job(self) -> Job:
        """The whole job, every box of it read."""
        boxes = tuple(self.box(key) for key in self.head.order or ())
        return Job(**self.head.shared(), sheets=tuple(self.sheets.values()), boxes=boxes, runs=self.runs())

    def with_thing(self, id: DocumentId, thing: Thing | None) -> Self:
        """The documents with this one as it is here; None takes it out."""
        return replace(self, changed={**self.changed, id: thing})

    def with_head(self, head: JobHead) -> Self:
        """The documents with this head."""
        return self.with_thing(HEAD, head)

    def with_box(self, box: Box) -> Self:
        """The documents with this box, in place of the one of its key where there is one."""
        return self.with_thing(DocumentId("box", box.id), box)

    def with_sheet(self, sheet: Datasheet) -> Self:
        """The documents with this sheet, in place of the one of its id where there is one."""
        return self.with_thing(DocumentId("sheet", sheet.id), sheet)


@dataclass(frozen=True, slots=True)
class Edited:
    """What an edit makes of a job's documents, and the act in one sentence."""

    documents: Documents
    sentence: str


def wired_with(documents: Documents, box: Box) -> Job:
    """Return the job with every box on a circuit of this one, and every box that runs lead to from there.

    A box with a device that works one here over the network, or is worked from here, comes with its circuits too.
    """
    runs, lines = documents.runs(), {**documents.lines(), box.id: BoxLine.of(box)}
    circuits = frozenset(circuit for key in _on_one_network(lines, box.id) for circuit in lines[key].circuits)
    reached = {key for key, line in lines.items() if not circuits.isdisjoint(line.circuits)}
    reached |= _on_one_network(lines, box.id)
    joined = [frozenset(end.box for end in run.box_ends) for run in runs]
    grew = True
    while grew:
        near = {key for ends in joined if not reached.isdisjoint(ends) for key in ends}
        grew = not near <= reached
        reached |= near
    near_by = {one.id: one for one in documents.boxes([key for key in lines if key in reached and key != box.id])}
    boxes = tuple(box if key == box.id else near_by[key] for key in lines if key in reached)
    sheets = tuple(documents.sheets.values())
    return Job(**documents.head.shared(), sheets=sheets, boxes=boxes, runs=runs)


def _on_one_network(lines: Mapping[str, BoxLine], box: str) -> set[str]:
    """Return a box and the boxes whose devices work one another over the network, from there on."""
    links = [{key, place.partition("/")[0]} & lines.keys() for key, line in lines.items() for place in line.works]
    reached, before = {box}, set[str]()
    while reached != before:
        before = set(reached)
        reached = reached.union(*(link for link in links if link & reached))
    return reached
