"""Where a cable goes: to the panel, to another box or an outlet, onward; entered at one end, it is known at the
other."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.snapshots import EditConflict, NotFound
from ....trade.documents import DocumentId
from ....trade.edits.runs import SayRun
from ....trade.model.errors import Rejected
from ....trade.model.run import BoxEnd, CircuitEnd, OnwardEnd, Run, RunEnd, WordsEnd
from ... import urls
from ...deps import TheAct, TheStore
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, stale
from ...templating import BOX_PATHS, render

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/goes/{cable}", include_in_schema=False)
FORM = "goes"


@router.get("")
def show(request: Request, store: TheStore, job: str, box: str, cable: str) -> Response:
    """Where it goes, as far as that is known."""
    return _goes(request, store, job, box=box, cable=cable)


@router.post("")
def say(request: Request, *, store: TheStore, form: TheAct, job: str, box: str, cable: str) -> Response:
    """Says where it goes; back to the screen that asked, or to the bench."""
    try:
        said = {name: value for name, value in form.fields.items() if name in SayRun.model_fields}
        edit = SayRun.read(said | {"box": box, "cable": cable})
        store.act(job, edit, {DocumentId("box", box): form.seen}, form.token, form.mend)
    except Rejected as wrong:
        return _goes(request, store, job, box=box, cable=cable, errors=FormErrors(FORM, form.fields, wrong.problems))
    except EditConflict as wrong:
        errors = FormErrors(FORM, form.fields, ())
        return _goes(request, store, job, box=box, cable=cable, errors=errors, notice=stale("box", wrong.came_since))
    at = form.fields.get("at") or ""
    return RedirectResponse(urls.box(job, box, *((at,) if at in BOX_PATHS and at else ())), 303)


def _goes(
    request: Request,
    store: TheStore,
    job: str,
    *,
    box: str,
    cable: str,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    kept = store.box(job, box)
    entry = kept.box.cable(cable)
    if entry is None:
        raise NotFound("Pick one of the cables of this box")
    run = store.run_at(job, box, cable)
    far = run.far_from(box, cable) if run else None
    cards = store.house(job).cards
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        "goes/page.html",
        status,
        kept=kept,
        cable=entry,
        said=_said(far) | _laid(run),
        boxes=[(card.key, f"{card.room}: {card.name}") for card in cards],
        errors=errors,
        notice=notice,
    )


def _laid(run: Run | None) -> dict[str, str]:
    """How it is laid, by the fields of the form."""
    if run is None:
        return {}
    fished = {None: "", True: "true", False: "false"}[run.fished]
    length = "" if run.length is None else str(run.length)
    return {"passes": run.passes or "", "length": length, "fished": fished, "near_holes": str(run.near_holes or "")}


def _said(far: RunEnd | None) -> dict[str, str]:
    """The other end, by the fields of the form."""
    if isinstance(far, CircuitEnd):
        return {"to": "circuit", "circuit": far.circuit or ""}
    if isinstance(far, BoxEnd):
        return {"to": "box", "far_box": far.box, "far_cable": far.cable or ""}
    if isinstance(far, WordsEnd):
        return {"to": "words", "words": far.words}
    return {"to": "onward"} if isinstance(far, OnwardEnd) else {"to": ""}
