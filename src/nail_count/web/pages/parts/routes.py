"""The parts and tools of a house: on the phone, on paper, as a table."""

from __future__ import annotations

from urllib.parse import quote

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....files.parts_report import parts_csv
from ....store.snapshots import NotFound
from ....store.store import Store
from ....trade.edits.fields import now
from ....trade.edits.together import Together
from ....trade.model.errors import Rejected, problems_of
from ....trade.model.shelf import PART_KINDS, PartKey
from ....trade.model.tick import OF_PARTS, Step, Tick
from ....trade.plan.parts.parts_list import parts_list
from ....trade.rules.check import fitting_job
from ....trade.search.left_overs import would_hold
from ... import urls
from ...deps import TheAct, TheStore
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house, named_edit
from ...templating import render
from .view import VERBS, parts_view, row_id

router = APIRouter(prefix="/jobs/{job}/parts", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str, kind: str = "", of: str = "") -> Response:
    """Everything the plans of a house take; `kind` and `of`: the part that stands open."""
    return _page(request, store, job, shown=_part(kind, of))


@router.post("/edit/{name}")
def edit(
    request: Request, *, store: TheStore, form: TheAct, job: str, name: str, kind: str = "", of: str = ""
) -> Response:
    """An act on what the shop has, or on a price; the part it is about, `kind` and `of`, stands open after it."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _page(request, store, job, errors=errors, notice=notice, shown=_part(kind, of))

    return act_on_house(store, form, job, read=named_edit(name, form), back=_at(job, kind, of), refused=refused)


@router.post("/tick")
def tick(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """So many of a part bought, loaded, put in, given back, or opened and looked through."""
    said = form.fields
    kind, of = said.get("kind", ""), said.get("of", "")
    try:
        part = _part(kind, of)
        known = {line.part for line in parts_list(fitting_job(store.whole_job(job)))}
        if part is None or part not in known:
            raise Rejected("Pick one of the parts of this list", "of")
        store.tick(job, Tick(id="t0", step=_step(part, said), at=now(), because=said.get("because", "")), form.token)
    except Rejected as wrong:
        errors = FormErrors(form.asked_by, said, wrong.problems)
        return _page(request, store, job, errors=errors, shown=_part(kind, of))
    opened = form.asked_by != ""  # by the form of the open part, and not by the button of its line
    return RedirectResponse(_at(job, kind, of) if opened else urls.job(job, "parts", anchor=row_id(part)), 303)


def _step(part: PartKey, said: dict[str, str]) -> Step:
    """The step that was ticked. Raises Rejected."""
    step = said.get("step", "")
    if step not in OF_PARTS:
        raise Rejected("Send bought, loaded, used, returned or unpacked", "step")
    count = said.get("count", "").strip()
    if not count.isdecimal() or not 0 < len(count) <= 6 or int(count) == 0:
        raise Rejected("Enter how many, such as 5", "count")
    try:
        return Step.model_validate({"kind": step, "subjects": tuple(part), "count": int(count)})
    except ValueError as wrong:
        raise Rejected.of(problems_of(wrong)) from wrong  # type: ignore[arg-type]


@router.post("/untick")
def untick(store: TheStore, form: TheAct, job: str) -> Response:
    """A tick that does not hold is taken back; it stays among the ticks."""
    known = {one.id: one for one in store.ticks(job)}
    old = known.get(form.fields.get("tick", ""))
    if old is None or old.step.count is None:
        raise Rejected("Pick one of the ticks made of parts", "tick")
    store.tick(job, Tick(id="t0", step=old.step, at=now(), takes_back=old.id), form.token)
    return RedirectResponse(_at(job, *old.step.subjects), 303)


@router.get("/checklist")
def checklist(request: Request, store: TheStore, job: str) -> Response:
    """Parts and tools with boxes to tick, for paper."""
    kept = store.job(job)
    view = parts_view(store.whole_job(job))
    return render(request, "parts/checklist.html", job=kept, view=view)


@router.get("/table")
def table(store: TheStore, job: str) -> Response:
    """The same as a table for a spreadsheet."""
    headers = {"content-disposition": f"attachment; filename*=UTF-8''{quote(f'{job}-parts.csv')}"}
    return Response(parts_csv(fitting_job(store.whole_job(job))), media_type="text/csv", headers=headers)


@router.get("/left-over/{sheet}")
def left_over(request: Request, store: TheStore, job: str, sheet: str) -> Response:
    """Where a device that is left over would hold."""
    return _left_over(request, store, job, sheet)


@router.post("/left-over/{sheet}")
def take(request: Request, store: TheStore, form: TheAct, job: str, sheet: str) -> Response:
    """It is planned in place of another one, if it still holds there; straight to that bench, where undo is."""
    wanted = (form.fields.get("box", ""), form.fields.get("device", ""))
    found = {(one.box.id, one.device.id): one for one in would_hold(fitting_job(store.whole_job(job)), sheet)}
    if wanted not in found:
        return _left_over(request, store, job, sheet, Notice("It does not hold there any more: these are its places."))
    one = found[wanted]
    sentence = f"Left over, and planned here: {one.words}"
    store.act(job, Together(edits=one.edits, sentence=sentence), token=form.token)
    return RedirectResponse(urls.box(job, one.box.id), 303)


def _left_over(request: Request, store: Store, job: str, sheet: str, notice: Notice = NO_NOTICE) -> Response:
    kept = store.job(job)
    if sheet not in kept.sheets:
        raise NotFound("Pick one of the sheets of this job")
    places = would_hold(fitting_job(store.whole_job(job)), sheet)
    status = 409 if notice else 200
    return render(
        request, "parts/left_over.html", status, job=kept, sheet=kept.sheets[sheet], places=places, notice=notice
    )


def _part(kind: str, of: str) -> PartKey | None:
    known = next((one for one in PART_KINDS if one == kind), None)
    return PartKey(known, of) if known is not None and of else None


def _at(job: str, kind: str, of: str) -> str:
    return urls.job(job, "parts", anchor="open-part", kind=kind, of=of)


def _page(
    request: Request,
    store: Store,
    job: str,
    *,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
    shown: PartKey | None = None,
) -> Response:
    kept = store.job(job)
    view = parts_view(store.whole_job(job), shown)
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(request, "parts/page.html", status, job=kept, view=view, VERBS=VERBS, errors=errors, notice=notice)
