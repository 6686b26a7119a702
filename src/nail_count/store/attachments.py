"""What the store keeps beside the documents of jobs: ticks, setup codes, the simulated hub, pictures."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TypeVar

from sqlalchemy import Connection

from ..files.photo import TakenIn
from ..trade.documents import DocumentId
from ..trade.model.tick import Tick
from ..trade.plan.planned import SCHEME, planned_of
from ..trade.wiring.simulate.hub import SimulatedHub
from . import codes, hubs, photos, ticks
from .bodies import read_box
from .kept_documents import KeptDocuments
from .revisions import Found
from .session import Session
from .snapshots import JobSnapshot, KeptCode

T = TypeVar("T")


class KeptBeside:
    """What the store keeps beside documents: added or put, never as revisions."""

    def __init__(self, session: Session) -> None:
        self._session = session

    # ticks and setup codes

    def tick(self, job: str, tick: Tick, token: str = "") -> Tick:
        """Keep a tick, with the plan it was made for; one whose token is known is not kept again.

        Raises [NotFound][], Rejected.
        """
        return self.tick_together(job, (tick,), token)[0]

    def tick_together(self, job: str, made: Sequence[Tick], token: str = "") -> tuple[Tick, ...]:
        """Keep several ticks, all or none of them; those whose token is known are not kept again.

        Raises [NotFound][], Rejected.
        """
        kept = []
        with self._session.writing() as on:
            at = self._session.job(on, job)
            for number, one in enumerate(made):
                planned = one
                if one.box in at.boxes and one.takes_back is None:
                    box = at.mended(read_box(KeptDocuments(on, at).there(DocumentId("box", one.box))))
                    planned = one.changed(planned=planned_of(one.step, box), scheme=SCHEME)
                kept.append(ticks.add(on, at, planned, f"{token}-{number}" if token and number else token))
        return tuple(kept)

    def tick_of(self, job: str, token: str) -> Tick | None:
        """The tick that was kept with a token; None where none was. Raises [NotFound][]."""
        with self._session.reading() as on:
            return ticks.of_token(on, self._session.job(on, job), token)

    def ticks(self, job: str, box: str = "") -> tuple[Tick, ...]:
        """The ticks of a job, or of one of its boxes, in the order they were made. Raises [NotFound][]."""
        with self._session.reading() as on:
            return ticks.of_job(on, self._session.job(on, job), box)

    def put_code(self, job: str, box: str, device: str, code: str) -> None:
        """Keeps the setup code of a device, apart from everything else. Raises [NotFound][], Rejected."""
        with self._session.writing() as on:
            at = self._session.job(on, job)
            codes.put(on, at, _really(on, at, box), device, code)

    def codes(self, job: str, box: str) -> dict[str, str]:
        """The setup codes of a box's devices, by their ids: to be shown on demand only. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, job)
            return codes.of_box(on, at, _really(on, at, box))

    def kept_codes(self, job: str, box: str) -> tuple[KeptCode, ...]:
        """Return which setup codes are kept at a box, those of devices that have left it too. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, job)
            return codes.kept(on, at, _really(on, at, box))

    def delete_code(self, job: str, box: str, device: str, came: int | None = None) -> None:
        """Delete a setup code for good; no copy of it stays in this file. Raises [NotFound][].

        `came`: the revision its device came with; None for the device of this id that is in the box now.
        """
        with self._session.writing() as on:
            at = self._session.job(on, job)
            codes.delete(on, at, _really(on, at, box), device, came)
        self._session.forget_deleted()

    # the simulated hub

    def hub(self, job: str) -> SimulatedHub:
        """The simulated hub of a job, as it was left. Raises [NotFound][]."""
        with self._session.reading() as on:
            return hubs.remembered(on, self._session.job(on, job))

    def ask_hub(self, job: str, ask: Callable[[SimulatedHub], T]) -> T:
        """What comes of asking the simulated hub something; what it remembers of it is kept. Raises [NotFound][]."""
        with self._session.writing() as on:
            return hubs.asked(on, self._session.job(on, job), ask)

    # pictures

    def add_photo(self, photo: TakenIn) -> None:
        """Keeps a picture; the same one is kept once."""
        with self._session.writing() as on:
            photos.add(on, photo)

    def photo(self, id: str, small: bool) -> bytes:
        """A picture as JPEG. Raises [NotFound][]."""
        with self._session.reading() as on:
            return photos.content(on, id, small)

    def photos_here(self, ids: set[str]) -> set[str]:
        """Which of these pictures are kept here; a job file brings none."""
        with self._session.reading() as on:
            return photos.here(on, ids)


def _really(on: Connection, job: JobSnapshot, box: str) -> Found:
    """A box as it really is, whatever is tried out: codes are of devices that are there. Raises NotFound."""
    return KeptDocuments(on, replace(job, trial=0)).there(DocumentId("box", box))
