"""A box's history: any earlier state beside the present, the differences, and the way back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....drawing.front import front
from ....drawing.rail import rail
from ....store.snapshots import EditConflict
from ....trade.compare.boxes import differences, from_found
from ....trade.edits.stages import SayContents
from ....trade.model.box import Box
from ....trade.model.commissioned import Commissioned
from ....trade.model.contents import Built, Contents
from ....trade.model.datasheet import Datasheet
from ....trade.rules.fit.box import DoesNotFit
from ... import urls
from ...deps import TheAct, TheStore, whole_number
from ...form_errors import NO_NOTICE, Notice, did_not_fit, stale
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/history", include_in_schema=False)


@router.get("")
def show(
    request: Request, *, store: TheStore, job: str, box: str, at: int | None = None, beside: int | None = None
) -> Response:
    """All steps, newest first; the state at one of them beside the present, or beside another."""
    return _history(request, store, job, box=box, at=at, beside=beside)


@router.post("")
def take_back(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Takes the box back to a step, as a further step that can be undone."""
    number = whole_number(form.fields.get("at", ""))
    try:
        store.take_back(job, box, form.seen, number=number, token=form.token, mend=form.mend)
    except EditConflict as wrong:
        return _history(request, store, job, box=box, at=number, notice=stale("box", wrong.came_since))
    except DoesNotFit as wrong:
        again = did_not_fit(wrong, urls.box(job, box, "history"), revision=str(form.seen), at=str(number))
        return _history(request, store, job, box=box, at=number, notice=again)
    return RedirectResponse(urls.box(job, box), 303)


@router.post("/contents")
def say_contents(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """The contents at a step are those found, or those built; at no step, that is not known."""
    at, stage = whole_number(form.fields.get("at", "")), form.fields.get("stage", "")
    contents = store.earlier(job, box, at).then.box.contents if at else None
    try:
        edit = SayContents.read({"box": box, "stage": stage, "contents": contents})
        store.act_on_box(job, box, edit, seen=form.seen, token=form.token)
    except EditConflict as wrong:
        return _history(request, store, job, box=box, at=at or None, notice=stale("box", wrong.came_since))
    return RedirectResponse(urls.box(job, box, "history", at=at or None), 303)


@router.post("/code")
def delete_code(store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A setup code deleted for good."""
    came = form.fields.get("came", "")
    store.delete_code(job, box, form.fields.get("device", ""), whole_number(came) if came else None)
    return RedirectResponse(urls.box(job, box, "history"), 303)


@dataclass(frozen=True, slots=True)
class Version:
    """Compare the contents of a box at one stage of the work with its plan."""

    name: Literal["found", "built"]
    contents: Contents | None
    changed: tuple[str, ...]
    """The differences of the plan."""

    @property
    def commissioned(self) -> tuple[Commissioned, ...]:
        """What was noted of its devices when they were brought into use."""
        return self.contents.commissioned if isinstance(self.contents, Built) else ()


def _stages(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[Version, ...]:
    from_built = differences(box.as_in(box.built), box, sheets) if box.built else ()
    return Version("found", box.found, from_found(box, sheets)), Version("built", box.built, from_built)


def _history(
    request: Request,
    store: TheStore,
    job: str,
    *,
    box: str,
    at: int | None,
    beside: int | None = None,
    notice: Notice = NO_NOTICE,
) -> Response:
    number = at if at is not None else max(store.box(job, box).number - 1, 1)
    found = store.earlier(job, box, number, beside)
    now = found.now
    sheets = now.job.sheets
    other = found.beside or now.check
    title = f"Step {beside}" if beside is not None else "Now"
    states = [
        (title, check, rail(check.fill), front(check.box, sheets))
        for title, check in ((f"Step {number}", found.then), (title, other))
    ]
    changed = differences(found.then.box, other.box, sheets)
    status = 409 if notice else 200
    return render(
        request,
        "history/page.html",
        status,
        found=found,
        states=states,
        changed=changed,
        stages=_stages(now.box, sheets),
        ticks=store.ticks(job, box),
        codes=store.kept_codes(job, box),
        notice=notice,
    )
