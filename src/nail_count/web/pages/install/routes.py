"""One box on the ladder: a step at a time; done, refused with a reason, taken back; left and found again anywhere."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.store import Store
from ....trade.edits.commission import NoteSerial
from ....trade.edits.fields import now
from ....trade.model.errors import Rejected
from ....trade.model.tick import Step, Tick, refusal
from ....trade.plan.install.progress import current, refuse_live
from ... import urls
from ...deps import ActForm, TheAct, TheStore
from ...form_errors import NO_ERRORS, FormErrors
from ...templating import render
from ...ticking import are_shown, label_in, on_the_ladder, refuse_while_open, remembering, take_back, who_asks, who_said
from .view import InstallView

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/install", include_in_schema=False)


def _view(request: Request, store: Store, job: str, box: str, at: int | None) -> InstallView:
    kept, done = on_the_ladder(store, job, box)
    shown = current(done) if at is None or not 0 <= at < len(done) else at
    return InstallView(kept, done, shown, who_asks(request))


@router.get("")
def show(request: Request, store: TheStore, job: str, box: str, step: int | None = None) -> Response:
    """A step, from 1; the first that is not settled where none is named."""
    return _page(request, _view(request, store, job, box, None if step is None else step - 1))


@router.get("/sheet")
def sheet(request: Request, store: TheStore, job: str, box: str) -> Response:
    """Every step with its drawing, to print and take up the ladder."""
    view = _view(request, store, job, box, None)
    return render(request, "install/sheet.html", kept=view.kept, view=view)


def _page(request: Request, view: InstallView, errors: FormErrors = NO_ERRORS) -> Response:
    status = 200 if errors is NO_ERRORS else 422
    return render(request, "install/page.html", status, kept=view.kept, view=view, errors=errors)


@router.post("/tick")
def tick(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A step done, several done in one go, or one refused with a reason; on to the next."""
    said = form.fields
    number = said.get("number", "")
    at = int(number) - 1 if number.isdecimal() and len(number) < 5 else -1
    view = _view(request, store, job, box, at)
    who, because = who_said(said), said.get("because", "").strip()
    try:
        again = bool(form.token) and store.tick_of(job, form.token) is not None
        steps = [] if again else _steps_of(store, view, said, job)
        _record(store, (job, box), form, steps)
        made = [Tick(id="t0", box=box, step=step, at=now(), by=who, because=because[:200]) for step in steps]
        store.tick_together(job, made, form.token)
    except Rejected as wrong:
        return _page(request, view, FormErrors(form.asked_by, said, wrong.problems))
    return remembering(RedirectResponse(urls.box(job, box, "install"), 303), who)


def _record(store: Store, where: tuple[str, str], form: ActForm, steps: Sequence[Step]) -> None:
    """Keep the serial number and the setup code that were typed at their step. Raises Rejected."""
    recorded = next((step for step in steps if step.kind == "recorded" and step.subjects), None)
    if recorded is None:
        return
    (job, box), (device, *_), said = where, recorded.subjects, form.fields
    label = label_in(said)
    if label.serial:
        edit = NoteSerial.read({"box": box, "device": device, "serial": label.serial})
        store.act_on_box(job, box, edit, token=f"{form.token}s"[:64] if form.token else "")
    if label.code:
        store.put_code(job, box, device, label.code)


def _steps_of(store: Store, view: InstallView, said: Mapping[str, str], job: str) -> list[Step]:
    """The steps a form ticks. Raises Rejected where the plan has changed since, or where they come too early."""
    together = "together" in said
    shown, meant = (view.said_together, said.get("together")) if together else (view.said, said.get("step"))
    if view.one is None or not are_shown(shown, meant):
        raise Rejected("Look at the steps again. The plan has changed, and this is the step now", "number")
    if said.get("refuse") == "true":
        if not said.get("because", "").strip():
            raise Rejected("Enter why it is not done", "because")
        return [refusal(view.one.at.step)]
    steps = [one.at.step for one in view.together] if together else [view.one.at.step]
    for step in steps:
        refuse_live(view.done, step)
        refuse_while_open(store, job, view.kept.box.id, step)
    return steps


@router.post("/untick")
def untick(store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A tick that does not hold is taken back; it stays among the ticks."""
    take_back(store, job, box, form)
    return RedirectResponse(urls.box(job, box, "install"), 303)
