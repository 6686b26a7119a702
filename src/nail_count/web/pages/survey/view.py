"""What the survey, and the search for the breaker, show of a box."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from ....store.snapshots import BoxSnapshot
from ....trade.model.load import Load
from ....trade.model.survey import TEST_NAMES, UNCOVERED
from ....trade.rules.prohibitions import short_ends
from ....trade.survey.next_breaker import Candidate, next_breakers, panel_is_unlabelled
from ....trade.survey.open_points import SurveyStep, survey_steps, unread
from ... import urls
from ...form_errors import FormErrors, Notice
from ..bench.sections import cable_taps
from ..bench.view import CableTap


@dataclass(frozen=True, slots=True)
class SurveyView:
    """What the survey shows of a box."""

    kept: BoxSnapshot
    steps: tuple[SurveyStep, ...]
    candidates: tuple[Candidate, ...]
    errors: FormErrors
    notice: Notice
    path: str

    @property
    def base(self) -> str:
        """Where the acts of this screen go."""
        return urls.box(self.kept.job.key, self.kept.box.id, self.path)

    @property
    def done(self) -> int:
        """How many steps have nothing left."""
        return sum(step.done for step in self.steps)

    @property
    def at(self) -> str:
        """The step to work on: the first with something left."""
        return next((step.step for step in self.steps if not step.done), "")

    @property
    def ticked(self) -> dict[tuple[str, str], datetime]:
        """The time of each tick, by stage and tick."""
        return {(p.stage, p.tick): p.at for p in self.kept.box.survey.proofs}

    @property
    def breaker_kind(self) -> str | None:
        """What the breaker of the box protects from; None: not looked at."""
        mine = (one.kind for one in self.kept.job.head.circuits if one.id == self.kept.box.circuit)
        return next(mine, None)

    @property
    def short_ends(self) -> bool:
        """Whether a cable was measured with too little free length."""
        return bool(short_ends(self.kept.box))

    @property
    def next_tick(self) -> tuple[str, str] | None:
        """The tick that comes next."""
        made = self.ticked
        return next(((stage, tick) for stage in UNCOVERED for tick in TEST_NAMES if (stage, tick) not in made), None)

    @property
    def unread(self) -> tuple[Load, ...]:
        """The lamps whose fixture's label nobody read."""
        return unread(self.kept.box)

    @property
    def unlabelled(self) -> bool:
        """Whether the whole panel says nothing."""
        return panel_is_unlabelled(self.kept.job.head.circuits)

    @property
    def cable_taps(self) -> tuple[CableTap, ...]:
        """The cables counted most."""
        return cable_taps(self.kept.box)


def survey_view(path: str, kept: BoxSnapshot, errors: FormErrors, notice: Notice) -> SurveyView:
    """A box on one of the two screens, by its path."""
    steps = survey_steps(kept.box)
    return SurveyView(kept, steps, next_breakers(kept.box, kept.job.head.circuits), errors, notice, path)
