"""Changes as programs see them: what each did, to which documents, and what they became."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import cast

from sqlalchemy import Connection, select

from ..trade.documents import DocumentId, DocumentKind
from .revisions import GONE
from .session import Session
from .snapshots import JobSnapshot, NotFound
from .tables import ChangeRow, DocumentRow, RevisionRow, TickRow

_C, _D, _R = ChangeRow, DocumentRow, RevisionRow
_COLUMNS = _C.id, _C.sentence, _C.at, _C.by, _C.undoes


@dataclass(frozen=True, slots=True)
class Touched:
    """A document as a change left it."""

    id: DocumentId
    revision: int
    gone: bool
    """Whether it was taken out."""


@dataclass(frozen=True, slots=True)
class ChangeSeen:
    """One act."""

    number: int
    sentence: str
    at: datetime
    by: str
    undoes: int | None
    """The change it takes back, or brings back."""
    touched: tuple[Touched, ...]


class Changes:
    """The changes of one database."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def one(self, job: str, number: int) -> ChangeSeen:
        """A change of a job. Raises NotFound."""
        with self._session.reading() as on:
            found = _seen(on, self._session.job(on, job), [number], newest_first=False)
        if not found:
            raise NotFound("Pick one of the changes of this job")
        return found[0]

    def before(self, job: str, number: int | None, most: int) -> list[ChangeSeen]:
        """The changes of a job before one of them, or all; the newest first. Raises NotFound."""
        with self._session.reading() as on:
            at = self._session.job(on, job)
            of_job = select(_C.id).where(_C.job_id == at.id, _C.trial_id == at.trial).order_by(_C.id.desc())
            ids = list(on.scalars((of_job if number is None else of_job.where(_C.id < number)).limit(most)))
            return _seen(on, at, ids, newest_first=True)

    def is_done(self, job: str, token: str) -> bool:
        """Whether an act with this token was done already. Raises NotFound."""
        with self._session.reading() as on:
            at = self._session.job(on, job)
            mine = select(_C.id).where(_C.job_id == at.id, _C.token == token)
            return bool(token) and on.scalar(mine) is not None

    def other_of_token(self, job: str | None, begins: str, token: str) -> bool:
        """Whether another act was done under the same key, or another tick made: its token begins so, and goes on with
        something else.

        Args:
            job: the job; None for any, where a job is begun.
            begins: how the tokens of the key begin.
            token: of the act that is asked for.
        """
        with self._session.reading() as on:
            at = None if job is None else self._session.job(on, job).id
            for row in (_C, TickRow):
                alike = select(row.id).where(row.token.startswith(begins), row.token != token)
                if at is not None:
                    alike = alike.where(row.job_id == at)
                if on.scalar(alike.limit(1)) is not None:
                    return True
        return False


def _seen(on: Connection, job: JobSnapshot, ids: Sequence[int], newest_first: bool) -> list[ChangeSeen]:
    rows = on.execute(select(*_COLUMNS).where(_C.job_id == job.id, _C.id.in_(ids)).order_by(_C.id)).all()
    states = select(_R.change_id, _D.kind, _D.key, _R.number, _R.body).join(_D, _D.id == _R.document_id)
    touched: dict[int, list[Touched]] = {}
    for change, kind, key, number, body in on.execute(states.where(_R.change_id.in_(ids)).order_by(_D.id, _R.number)):
        touched.setdefault(change, []).append(Touched(DocumentId(cast(DocumentKind, kind), key), number, body == GONE))
    made = [ChangeSeen(*row[:], tuple(touched.get(row.id, ()))) for row in rows]
    return made[::-1] if newest_first else made
