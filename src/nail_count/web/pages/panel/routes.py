"""The panel: two columns of breakers, as found and as corrected, and the loads of each."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.bar import Bar, bar
from ....trade.model.answer import Answer, Remark
from ....trade.model.job import Job
from ....trade.model.panel import MOST_SPACES, Circuit
from ....trade.plan.panel_rows import panel_rows
from ....trade.rules.check import check_circuits, fitting_job
from ....trade.rules.circuit.branch import feeder_findings
from ....trade.rules.circuit.panel import findings
from ... import urls
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house, named_edit
from ...templating import render

AT_ONCE = 200
"""Up to how many boxes the page adds up the loads of each breaker before it is shown; beyond, right after."""

router = APIRouter(prefix="/jobs/{job}/panel", include_in_schema=False)


@router.get("")
def show(
    request: Request, *, store: TheStore, job: str, at: int | None = None, circuit: str = "", reckoned: str = ""
) -> Response:
    """The panel, with the form for one space or one breaker; only its breakers where htmx asks for the loads.

    `reckoned`: the loads are added up however large the house is.
    """
    return _panel(request, store, job, at=at, circuit=circuit, reckoned=bool(reckoned))


@router.post("/edit/{name}")
def edit(request: Request, store: TheStore, form: TheAct, job: str, name: str) -> Response:
    """An act on the panel; the panel after it, or the refusal beside what was typed."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        number = form.fields.get("space", "")
        at = int(number) if number.isdecimal() and len(number) < 3 else None
        circuit = form.fields.get("was") or ("new" if errors.key == "circuit" else "")
        return _panel(request, store, job, errors=errors, notice=notice, at=at, circuit=circuit)

    return act_on_house(store, form, job, read=named_edit(name, form), back=urls.job(job, "panel"), refused=refused)


def _panel(
    request: Request,
    store: TheStore,
    job: str,
    *,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
    at: int | None = None,
    circuit: str = "",
    reckoned: bool = False,
) -> Response:
    house = store.house(job)
    head, sheets = house.job.head, house.job.sheets
    known = {one.id: one for one in head.circuits}
    chosen = known.get(circuit)
    at = at if at is not None and 1 <= at <= MOST_SPACES else None
    loads: dict[str, tuple[Answer, Bar]] | None = None
    over_all: tuple[Remark, ...] = ()
    if reckoned or len(house.job.boxes) <= AT_ONCE:
        whole = fitting_job(store.whole_job(job))
        loads = {answer.subject.of: (answer, bar(answer)) for answer in check_circuits(whole)}
        over_all = tuple(feeder_findings(whole.boxes, sheets, head.terms))
    chosen_load = None
    if chosen is not None:
        chosen_load = loads[chosen.id] if loads else _one(store.on_circuit(job, chosen), chosen)
    if chosen is None and (at is not None or circuit == "new"):
        chosen = Circuit(id=str(at) if at is not None and str(at) not in known else "0", space=at)
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        "panel/breakers.html" if asked_by_htmx(request) else "panel/page.html",
        status,
        job=house.job,
        boxes=len(house.job.boxes),
        hanging=house.circuits,
        drawn=panel_rows(head.panel, head.circuits),
        findings=(*findings(head.circuits, head.terms.code), *over_all),
        loads=loads,
        chosen=chosen,
        chosen_load=chosen_load,
        is_new=chosen is not None and chosen.id not in known,
        errors=errors,
        notice=notice,
    )


def _one(job: Job, circuit: Circuit) -> tuple[Answer, Bar]:
    """Return the loads of one breaker, from a job with the boxes it may feed."""
    answer = next(one for one in check_circuits(fitting_job(job)) if one.subject.of == circuit.id)
    return answer, bar(answer)
