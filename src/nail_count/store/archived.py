"""A job with its history and pictures, taken out whole and put in whole."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from datetime import UTC, datetime
from typing import IO

from pydantic import ValidationError
from sqlalchemy import Connection, select

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
from ..trade.documents import HEAD, DocumentId
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.errors import Rejected, problems_of
from ..trade.model.job import Job
from . import photos, revisions, ticks
from .bodies import read_any
from .incoming import Incoming, IncomingDocument, put
from .kept_documents import KeptDocuments, boxes_of
from .revisions import GONE, Found, Revision
from .scratch import scratch
from .session import Session
from .snapshots import CannotBeRead, JobSnapshot
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
        # Photos first, one by one: they take long to look at, and others write meanwhile. One without a job harms
        # nobody; a job without its photos would have lost them.
        renamed: dict[str, str] = {}
        for done, id in enumerate(archive.photo_ids, 1):
            photo = read_photo(archive, id)
            if photo.id != id:
                renamed[id] = photo.id
            with self._session.writing() as on:
                photos.add(on, photo)
            told(done, len(archive.photo_ids))
        return put(self._session, incoming_of(archive, renamed))


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


def incoming_of(archive: Archive, renamed: Mapping[str, str]) -> Incoming:
    """Work out the job of an archive, but for its photos.

    Args:
        archive: that is open.
        renamed: photos that are kept under another id, because something beside the picture was left out.

    Raises:
        BadArchive: something in it is not as it should be.
    """
    job = archive.job()
    try:
        incoming = _History(job, renamed).read(archive.history())
        if incoming.whole() != _with_photos(job, renamed):
            raise BadArchive("The history in this archive ends in another job than the one beside it")
    except ValidationError as wrong:
        raise BadArchive(f"The documents in this archive can't be read: {problems_of(wrong)[0].sentence}") from wrong
    except CannotBeRead as wrong:
        raise BadArchive(f"The documents in this archive can't be read: one is no {wrong}") from wrong
    incoming.summaries = incoming.listed()
    return incoming


def _with_photos(job: Job, renamed: Mapping[str, str]) -> Job:
    return Job.model_validate_json(_renamed(job.model_dump_json(), renamed)) if renamed else job


def _renamed(text: str, renamed: Mapping[str, str]) -> str:
    """Text with the ids of photos as they are kept here: an id is 32 figures that nothing else consists of."""
    for old, new in renamed.items():
        text = text.replace(old, new)
    return text


class _History:
    """A history on its way in: each line is held against those before it."""

    def __init__(self, job: Job, renamed: Mapping[str, str]) -> None:
        self.renamed = renamed
        self.incoming = Incoming(job.name, revisions.now(), [], [], job.ticks)
        self.started = False
        self.known: set[DocumentId] = set()

    def read(self, lines: Iterable[HistoryLine]) -> Incoming:
        """All of it. Raises BadArchive, CannotBeRead."""
        for line in lines:
            match line:
                case Started():
                    _hold(not self.started, "a history that begins once")
                    self.started, self.incoming.made = True, _plain(line.at)
                case ChangeLine():
                    self._change(line)
                case DocumentLine():
                    self._document(line)
                case RevisionLine():
                    self._revision(line)
        self._end_document()
        if HEAD not in self.known:
            raise BadArchive("The history in this archive lacks the head of its job")
        changes = self.incoming.changes
        for one in changes:
            _hold((one["undoes"] or 0) <= len(changes), "an act that takes back one of its acts")
        return self.incoming

    def _change(self, line: ChangeLine) -> None:
        _hold(self.started and not self.incoming.documents, "acts before documents")
        made = {"sentence": line.sentence, "at": _plain(line.at), "by": line.by, "undoes": line.undoes}
        self.incoming.changes.append(made)

    def _document(self, line: DocumentLine) -> None:
        self._end_document()
        which = DocumentId(line.what, line.key)
        _hold(self.started and which not in self.known, "each document once")
        self.known.add(which)
        gone, used = line.removed and _plain(line.removed), line.used and _plain(line.used)
        self.incoming.documents.append(IncomingDocument(which, line.place, [], None, gone, used))

    def _revision(self, line: RevisionLine) -> None:
        known = bool(self.incoming.documents) and line.change <= len(self.incoming.changes)
        _hold(known, "revisions of one of its acts each")
        document = self.incoming.documents[-1]
        body = _renamed(line.body, self.renamed)
        document.states.append(
            {
                "body": body, "format": line.format, "change_id": line.change, "back": line.back,
                "forth": line.forth, "source_revision": line.source,
            }
        )  # fmt: skip
        number = len(document.states)
        _hold(line.source <= number, "revisions that stem from one before them")
        _hold(body != GONE or document.which.kind == "run", "only runs to be taken out for good")
        state = Revision(0, number, body, line.format, line.change, line.back, line.forth, line.source)
        document.latest = read_any(Found(document.which, 0, None, None, state), state)  # undo may lead to any

    def _end_document(self) -> None:
        if not self.incoming.documents:
            return
        states = self.incoming.documents[-1].states
        _hold(bool(states), "each document with at least one state")
        steps = [step for state in states for step in (state["back"], state["forth"]) if step is not None]
        _hold(all(step <= len(states) for step in steps), "steps back and forth that lead to a state")


def _hold(is_so: bool, expected: str) -> None:
    if not is_so:
        raise BadArchive(f"Put {expected} in the history of an archive")


def _utc(at: datetime) -> datetime:
    return at.replace(tzinfo=UTC)


def _plain(at: datetime) -> datetime:
    """In UTC, as it is kept."""
    return at.astimezone(UTC).replace(tzinfo=None)
