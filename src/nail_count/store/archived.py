"""A job with its history and pictures, taken out whole and put in whole."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from typing import IO

from pydantic import ValidationError
from sqlalchemy import Connection, insert, select, update

from ..files.archive import (
    Archive,
    BadArchive,
    ChangeLine,
    DocumentLine,
    HistoryLine,
    RevisionLine,
    Started,
    write_archive,
)
from ..files.photo import TakenIn, taken_in_before
from ..trade.edits.documents import HEAD, DocumentId
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.errors import Rejected, problems_of
from ..trade.model.job import Job
from ..trade.model.keys import free_key, slug
from ..trade.model.thing import Thing
from . import photos, revisions, ticks
from .bodies import read_any
from .index import put_index
from .revisions import GONE, Found, Revision
from .scratch import scratch
from .session import Session
from .snapshots import JobSnapshot
from .sources import KeptDocuments, boxes_of
from .summaries import put_summary
from .tables import ChangeRow, DocumentRow, JobRow, RevisionRow

_D, _R, _C = DocumentRow, RevisionRow, ChangeRow
_STATES = (_R.body, _R.format, _R.change_id, _R.back, _R.forth, _R.source_revision)


class Archives:
    """The jobs of one database, as archives."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def write(self, key: str, to: IO[bytes]) -> int:
        """Writes a job with its history and pictures as one archive; how many pictures. Raises NotFound."""
        with self._session.reading() as on:
            at = self._session.job(on, key)
            whole = Job(
                **at.head.shared(), sheets=tuple(at.sheets.values()), boxes=tuple(box for _, box in boxes_of(on, at)),
                runs=KeptDocuments(on, at).runs(), ticks=ticks.of_job(on, at),
            )  # fmt: skip
            ids = photo_ids(on, at)
            pictures = ((id, photos.content(on, id, small=False)) for id in ids)
            write_archive(to, whole, history_of(on, at), pictures)
        return len(ids)

    def file(self, key: str) -> IO[bytes]:
        """Return the archive of a job: an open file without a name, gone once it is closed.

        Raises:
            NotFound: no such job.
        """
        with scratch(self._session.file.parent) as folder:
            with (folder / "archive").open("wb") as out:
                self.write(key, out)
            return (folder / "archive").open("rb")

    def put(self, archive: Archive, told: Callable[[int, int], None] = lambda done, of: None) -> str:
        """Keeps the job of an archive as a new one, with its history and pictures; its key.

        Args:
            archive: that is open.
            told: hears after each picture how many are done, and of how many.

        Raises:
            BadArchive: something in it is not as it should be; the job was not kept then.
        """
        # Pictures first, one by one: they take long to look at, and others write meanwhile. One without a job harms
        # nobody; a job without its pictures would have lost them.
        for done, id in enumerate(archive.photo_ids, 1):
            photo = read_photo(archive, id)
            with self._session.writing() as on:
                photos.add(on, photo)
            told(done, len(archive.photo_ids))
        with self._session.writing() as on:
            return put_in(self._session, on, archive)


def history_of(on: Connection, job: JobSnapshot) -> Iterator[HistoryLine]:
    """The history of a job, line by line: when it was begun, its acts, its documents with every state of each."""
    yield Started(at=_utc(on.execute(select(JobRow.made).where(JobRow.id == job.id)).scalar_one()))
    here = (_D.job_id == job.id) & (_D.trial_id == 0)
    named = select(_R.change_id).join(_D, _D.id == _R.document_id).where(here)
    acts = select(_C.id, _C.sentence, _C.at, _C.by, _C.undoes).where(_C.id.in_(named)).order_by(_C.id)
    rows = on.execute(acts).all()
    number = {row.id: at for at, row in enumerate(rows, 1)}
    for row in rows:
        yield ChangeLine(sentence=row.sentence, at=_utc(row.at), by=row.by, undoes=number.get(row.undoes))
    of_job = select(_D.id, _D.kind, _D.key, _D.place, _D.deleted_at, _D.used).where(here).order_by(_D.id)
    for one in on.execute(of_job).all():
        gone, used = one.deleted_at and _utc(one.deleted_at), one.used and _utc(one.used)
        yield DocumentLine.model_validate(
            {"what": one.kind, "key": one.key, "place": one.place, "removed": gone, "used": used}
        )
        states = select(*_STATES).where(_R.document_id == one.id).order_by(_R.number)
        for state in on.execute(states):
            yield RevisionLine(
                body=state.body, format=state.format, change=number[state.change_id], back=state.back,
                forth=state.forth, source=state.source_revision,
            )  # fmt: skip


def photo_ids(on: Connection, job: JobSnapshot) -> tuple[str, ...]:
    """The pictures of a job that are kept here, those of earlier states among them; in the order of their ids."""
    wanted: set[str] = set()
    for found in revisions.every_state(on, job.id):
        thing = read_any(found, found.revision)
        wanted |= {photo.id for photo in thing.survey.photos} if isinstance(thing, Box) else set()
        wanted |= {thing.leaflet} if isinstance(thing, Datasheet) and thing.leaflet else set()
    return tuple(sorted(photos.here(on, wanted)))


def read_photo(archive: Archive, id: str) -> TakenIn:
    """A picture of an archive, ready to keep. Raises BadArchive."""
    try:
        return taken_in_before(id, archive.photo(id))
    except Rejected as wrong:
        raise BadArchive(f"photos/{id}.jpg: {wrong.sentence}") from wrong


def put_in(session: Session, on: Connection, archive: Archive) -> str:
    """Puts the job of an archive in as another job, but for its pictures; its key.

    Raises:
        BadArchive: something in it is not as it should be; nothing of it may be kept then.
    """
    job = archive.job()
    key = free_key(slug(job.name) or "job", set(on.scalars(select(JobRow.key))))
    try:
        row = _History(on, key, job.name).put(archive.history())
        for tick in job.ticks:
            ticks.keep(on, row, tick)
        at = session.job(on, key)
        _put_lists(on, at)
    except ValidationError as wrong:
        raise BadArchive(f"expected documents as they are kept: {problems_of(wrong)[0].sentence}") from wrong
    if _whole(on, at, job) != job:
        raise BadArchive("expected a history that ends in the job beside it; it ends in another")
    return key


class _History:
    """A history on its way in: each line is held against those before it."""

    def __init__(self, on: Connection, key: str, name: str) -> None:
        self.on = on
        self.key, self.name = key, name
        self.job = 0
        self.changes: list[int] = []
        self.undoes: dict[int, int] = {}
        self.which: DocumentId | None = None
        self.row = 0
        self.states: list[RevisionLine] = []
        self.known: set[DocumentId] = set()

    def put(self, lines: Iterator[HistoryLine]) -> int:
        """All of it; the row of the job. Raises BadArchive, ValidationError."""
        for line in lines:
            match line:
                case Started():
                    self._start(line)
                case ChangeLine():
                    self._change(line)
                case DocumentLine():
                    self._document(line)
                case RevisionLine():
                    self._revision(line)
        self._end_document()
        if HEAD not in self.known:
            raise BadArchive("expected a history with the head of a job in it")
        for change, taken_back in self.undoes.items():
            _hold(taken_back <= len(self.changes), "an act that takes back one of its acts")
            of_change = update(_C).where(_C.id == change)
            self.on.execute(of_change.values(undoes=self.changes[taken_back - 1]))
        return self.job

    def _start(self, line: Started) -> None:
        _hold(not self.job, "a history that begins once")
        values = {"key": self.key, "name": self.name, "made": _plain(line.at), "cache_version": 1}
        self.job = revisions.new_id(self.on.execute(insert(JobRow), values))

    def _change(self, line: ChangeLine) -> None:
        _hold(bool(self.job) and self.which is None, "acts before documents")
        values = {"job_id": self.job, "sentence": line.sentence, "at": _plain(line.at), "by": line.by}
        self.changes.append(revisions.new_id(self.on.execute(insert(_C), values)))
        if line.undoes is not None:
            self.undoes[self.changes[-1]] = line.undoes

    def _document(self, line: DocumentLine) -> None:
        self._end_document()
        self.which = DocumentId(line.what, line.key)
        _hold(bool(self.job) and self.which not in self.known, "each document once")
        self.known.add(self.which)
        gone, used = line.removed and _plain(line.removed), line.used and _plain(line.used)
        values = {"job_id": self.job, "kind": line.what, "key": line.key, "place": line.place, "latest": 1}
        self.row = revisions.new_id(self.on.execute(insert(_D), {**values, "deleted_at": gone, "used": used}))

    def _revision(self, line: RevisionLine) -> None:
        _hold(self.which is not None and line.change <= len(self.changes), "revisions of one of its acts each")
        self.states.append(line)
        number = len(self.states)
        _hold(line.source <= number, "revisions that stem from one before them")
        state = Revision(
            self.row, number, line.body, line.format, self.changes[line.change - 1], line.back, line.forth, line.source
        )
        self._read(state)  # what undo could lead to must be readable
        revisions.keep(self.on, state)

    def _end_document(self) -> None:
        if self.which is None:
            return
        most = len(self.states)
        _hold(most > 0, "each document with at least one state")
        steps = [step for state in self.states for step in (state.back, state.forth) if step is not None]
        _hold(all(step <= most for step in steps), "steps back and forth that lead to a state")
        self.on.execute(update(_D).where(_D.id == self.row).values(latest=most))
        last = self.states[-1]
        state = Revision(self.row, most, last.body, last.format, 0, last.back, last.forth, last.source)
        put_index(self.on, self.row, self._read(state))
        self.states = []

    def _read(self, state: Revision) -> Thing | None:
        assert self.which is not None
        _hold(state.body != GONE or self.which.kind == "run", "only runs to be taken out for good")
        return read_any(Found(self.which, 0, None, None, state), state)


def _hold(is_so: bool, expected: str) -> None:
    if not is_so:
        raise BadArchive(f"expected {expected} in the history of an archive")


def _put_lists(on: Connection, job: JobSnapshot) -> None:
    """What lists show of every box, those removed among them."""
    for removed in (False, True):
        for found, box in boxes_of(on, job, removed):
            put_summary(on, found.row, job.check(box))


def _whole(on: Connection, at: JobSnapshot, job: Job) -> Job:
    here = tuple(box for _, box in boxes_of(on, at))
    runs = KeptDocuments(on, at).runs()
    return job.changed(**at.head.shared(), sheets=tuple(at.sheets.values()), boxes=here, runs=runs)


def _utc(at: datetime) -> datetime:
    return at.replace(tzinfo=UTC)


def _plain(at: datetime) -> datetime:
    """In UTC, as it is kept."""
    return at.astimezone(UTC).replace(tzinfo=None)
