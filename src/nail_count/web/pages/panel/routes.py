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
from ...deps import TheKeep, Typed
from ...form_errors import NO_NOTICE, NO_REFUSAL, Notice, Refusal
from ...house_screen import act_on_house
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/panel", include_in_schema=False)


@router.get("")
def show(request: Request, keep: TheKeep, job: str, at: int | None = None, circuit: str = "") -> Response:
    """The panel, with the form for one space or one breaker."""
    return _panel(request, keep, job, at=at, circuit=circuit)


@router.post("/edit/{name}")
def edit(request: Request, keep: TheKeep, typed: Typed, job: str, name: str) -> Response:
    """An act on the panel; the panel after it, or the refusal beside what was typed."""

    def refused(refusal: Refusal, notice: Notice) -> Response:
        number = typed.get("space", "")
        at = int(number) if number.isdecimal() and len(number) < 3 else None
        circuit = typed.get("was") or ("new" if refusal.form == "circuit" else "")
        return _panel(request, keep, job, refusal, notice, at, circuit)

    return act_on_house(keep, typed, job, name, f"/jobs/{job}/panel", refused)


def _panel(
    request: Request,
    keep: TheKeep,
    job: str,
    refusal: Refusal = NO_REFUSAL,
    notice: Notice = NO_NOTICE,
    at: int | None = None,
    circuit: str = "",
) -> Response:
    house, whole = keep.house(job), fitting_job(keep.whole_job(job))
    head = house.job.head
    sheets = house.job.sheets
    known = {one.id: one for one in head.circuits}
    chosen = known.get(circuit)
    at = at if at is not None and 1 <= at <= MOST_SPACES else None
    if chosen is None and (at is not None or circuit == "new"):
        chosen = Circuit(id=str(at) if at is not None and str(at) not in known else "0", space=at)
    status = 409 if notice else 422 if refusal is not NO_REFUSAL else 200
    return render(
        request,
        "panel/page.html",
        status,
        job=house.job,
        hanging=house.circuits,
        drawn=panel_drawing(head.panel, head.circuits),
        findings=(*findings(head.circuits), *feeder_findings(whole.boxes, sheets, head.terms)),
        loads={answer.subject: (answer, bar(answer)) for answer in check_circuits(whole)},
        chosen=chosen,
        is_new=chosen is not None and chosen.id not in known,
        refusal=refusal,
        notice=notice,
    )
