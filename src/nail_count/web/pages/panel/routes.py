"""The panel: two columns of breakers, as found and as corrected, and what hangs on each."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.bar import bar
from ....drawing.panel import panel_drawing
from ....trade.model.panel import MOST_SPACES, Circuit
from ....trade.rules.check import check_circuits, fitting_job
from ....trade.rules.circuit.branch import feeder_findings
from ....trade.rules.circuit.panel import findings
from ... import urls
from ...deps import TheAct, TheStore
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house, named_edit
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/panel", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str, at: int | None = None, circuit: str = "") -> Response:
    """The panel, with the form for one space or one breaker."""
    return _panel(request, store, job, at=at, circuit=circuit)


@router.post("/edit/{name}")
def edit(request: Request, store: TheStore, form: TheAct, job: str, name: str) -> Response:
    """An act on the panel; the panel after it, or the refusal beside what was typed."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        number = form.fields.get("space", "")
        at = int(number) if number.isdecimal() and len(number) < 3 else None
        circuit = form.fields.get("was") or ("new" if errors.key == "circuit" else "")
        return _panel(request, store, job, errors, notice, at, circuit)

    return act_on_house(store, form, job, named_edit(name, form), urls.job(job, "panel"), refused)


def _panel(
    request: Request,
    store: TheStore,
    job: str,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
    at: int | None = None,
    circuit: str = "",
) -> Response:
    house, whole = store.house(job), fitting_job(store.whole_job(job))
    head = house.job.head
    sheets = house.job.sheets
    known = {one.id: one for one in head.circuits}
    chosen = known.get(circuit)
    at = at if at is not None and 1 <= at <= MOST_SPACES else None
    if chosen is None and (at is not None or circuit == "new"):
        chosen = Circuit(id=str(at) if at is not None and str(at) not in known else "0", space=at)
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        "panel/page.html",
        status,
        job=house.job,
        hanging=house.circuits,
        drawn=panel_drawing(head.panel, head.circuits),
        findings=(*findings(head.circuits, head.terms.code), *feeder_findings(whole.boxes, sheets, head.terms)),
        loads={answer.subject.of: (answer, bar(answer)) for answer in check_circuits(whole)},
        chosen=chosen,
        is_new=chosen is not None and chosen.id not in known,
        errors=errors,
        notice=notice,
    )
