"""The survey of a box: what to look at, in order, on a ladder; its pictures; the breaker that feeds it."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter
from starlette.datastructures import UploadFile
from starlette.requests import Request
from starlette.responses import Response

from ...files.photo import TakenIn, take_in
from ...store.kept import KeptBox, KeptJob
from ...trade.edits import Edit, make_edit
from ...trade.model.box import Box
from ...trade.model.complaint import Refused
from ...trade.model.survey import STAGES, TICKS
from ...trade.open_points import SurveyStep, survey_steps
from ...trade.which_breaker import Candidate, next_breakers, panel_is_unlabelled
from ..bench_view import CableTap, cable_taps
from ..refusal import Refusal
from .acting import STALE, Screen, screen_router
from .common import TheKeep, whole_number


@dataclass(frozen=True, slots=True)
class SurveyView:
    """What the survey shows of a box."""

    kept: KeptBox
    steps: tuple[SurveyStep, ...]
    candidates: tuple[Candidate, ...]
    refusal: Refusal
    notice: str
    path: str

    @property
    def base(self) -> str:
        """Where the acts of this screen go."""
        return f"/jobs/{self.kept.job.key}/boxes/{self.kept.box.id}/{self.path}/"

    @property
    def done(self) -> int:
        """How many steps have nothing left."""
        return sum(step.done for step in self.steps)

    @property
    def at(self) -> str:
        """The step to work on: the first with something left."""
        return next((step.step for step in self.steps if not step.done), "")

    @property
    def ticked(self) -> dict[tuple[str, str], str]:
        """The time of each tick, by stage and tick."""
        return {(p.stage, p.tick): p.at.strftime("%b %-d, %H:%M") for p in self.kept.box.survey.proofs}

    @property
    def next_tick(self) -> tuple[str, str] | None:
        """The tick that comes next."""
        made = self.ticked
        return next(((stage, tick) for stage in STAGES for tick in TICKS if (stage, tick) not in made), None)

    @property
    def unlabelled(self) -> bool:
        """Whether the whole panel says nothing."""
        return panel_is_unlabelled(self.kept.job.head.circuits)

    @property
    def cable_taps(self) -> tuple[CableTap, ...]:
        """The cables counted most."""
        return cable_taps(self.kept.box)


def _view(path: str, kept: KeptBox, refusal: Refusal, notice: str) -> SurveyView:
    steps = survey_steps(kept.box)
    return SurveyView(kept, steps, next_breakers(kept.box, kept.job.head.circuits), refusal, notice, path)


SURVEY = Screen("/survey", "survey/page.html", "survey/survey.html", lambda *shown: _view("survey", *shown))
BREAKER = Screen("/breaker", "breaker/page.html", "breaker/breaker.html", lambda *shown: _view("breaker", *shown))

survey_router = screen_router(SURVEY)
breaker_router = screen_router(BREAKER)
router = APIRouter(include_in_schema=False)


@survey_router.post("/photos")
async def add_photos(request: Request, keep: TheKeep, job: str, box: str) -> Response:
    """Pictures added, each as a step of its own; a bad file is refused with a sentence and the others stay."""
    async with request.form(max_files=12) as form:
        files = [
            (file.filename or "", await file.read()) for file in form.getlist("photo") if isinstance(file, UploadFile)
        ]
        seen = whole_number(str(form.get("revision", "")))
        caption = str(form.get("caption", ""))[:80]
    taken: list[TakenIn] = []
    wrong: list[str] = []
    for name, content in files:
        if not name:
            continue
        try:
            taken.append(take_in(content))
        except Refused as refused:
            wrong.append(f"{name[:60]}: {refused.sentence}")
    if not taken and not wrong:
        wrong.append("expected a picture to be chosen first")
    kept = keep.box(job, box)
    if kept.number != seen:
        return SURVEY.answer(request, kept, Refusal("photos", {"caption": caption}, ()), STALE, status=409)
    for one in taken:
        keep.add_photo(one.id, one.body, one.small, one.width, one.height)
        if one.id in {photo.id for photo in kept.box.survey.photos}:
            continue

        def change(before: Box, of: KeptJob, id: str = one.id) -> Edit:
            return make_edit(before, "add-photo", {"photo": id, "caption": caption}, of.sheets)

        kept = keep.change_box(job, box, kept.number, change)
    if wrong:
        complaints = tuple(complaint for said in wrong for complaint in Refused(said, "photo").complaints)
        return SURVEY.answer(request, kept, Refusal("photos", {"caption": caption}, complaints))
    return SURVEY.answer(request, kept)


@router.get("/photos/{id}/{size}.jpg")
def photo(keep: TheKeep, id: str, size: str) -> Response:
    """A picture, whole or small."""
    headers = {"cache-control": "private, max-age=31536000, immutable"}
    return Response(keep.photo(id, small=size == "small"), media_type="image/jpeg", headers=headers)
