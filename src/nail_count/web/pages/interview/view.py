"""What the interview shows of a place."""

from __future__ import annotations

from dataclasses import dataclass

from ....store.snapshots import BoxSnapshot
from ....trade.model.wish import DOES, Wish
from ....trade.text.loads import write_loads
from ... import urls
from ...form_errors import FormErrors, Notice

NEW = Wish(id="new")


@dataclass(frozen=True, slots=True)
class InterviewView:
    """What the interview shows of a place."""

    kept: BoxSnapshot
    errors: FormErrors
    notice: Notice

    @property
    def base(self) -> str:
        """Where the acts of this screen go."""
        return urls.box(self.kept.job.key, self.kept.box.id, "interview")

    @property
    def wishes(self) -> tuple[tuple[Wish, str], ...]:
        """Each wish with its loads as written; one more to fill in last."""
        room = len(self.kept.box.wishes) < 8
        return tuple((wish, write_loads(wish.loads)) for wish in (*self.kept.box.wishes, *((NEW,) if room else ())))

    @property
    def does(self) -> tuple[str, ...]:
        """What a place can do."""
        return DOES
