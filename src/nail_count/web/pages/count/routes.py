"""Show the count under another code beside this one, and in the boxes of the stock list."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.rail import rail
from ....trade.model.answer import Answer
from ....trade.model.edition import EDITIONS
from ....trade.rules.check import check_box
from ....trade.rules.figures import figures
from ....trade.search.smallest_box import smallest
from ....trade.text.format import say
from ... import urls
from ...deps import TheAct, TheStore
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house, named_edit
from ...templating import render

router = APIRouter(include_in_schema=False)
BOX = "/jobs/{job}/boxes/{box}/count"


@router.get(BOX)
def show(request: Request, store: TheStore, job: str, box: str, beside: str = "") -> Response:
    """The count under the job's code beside another; the smallest box for its contents."""
    return _count(request, store, job, box=box, beside=beside)


@router.post(BOX + "/edit/{name}")
def edit(request: Request, *, store: TheStore, form: TheAct, job: str, box: str, name: str) -> Response:
    """An act on the stock list."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _count(request, store, job, box=box, beside="", errors=errors, notice=notice)

    back = urls.box(job, box, "count", anchor="stock")
    return act_on_house(store, form, job, read=named_edit(name, form), back=back, refused=refused)


@router.get("/rules")
def rules(request: Request) -> Response:
    """Every rule and figure in use, from the code that computes."""
    return render(request, "about/rules.html", groups=figures())


def _count(
    request: Request,
    store: TheStore,
    job: str,
    *,
    box: str,
    beside: str,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    kept = store.box(job, box)
    terms = kept.job.head.terms_at(kept.box)
    names = {id: edition.title for id, edition in EDITIONS.items()}
    other = beside if beside in names else _beside(terms.code)
    there = check_box(kept.box, kept.job.sheets, terms.changed(code=other))
    pair = [(names[terms.code], kept.check, rail(kept.check.fill)), (names[other], there, rail(there.fill))]
    sentence = _compared(names[terms.code], kept.check.fill, names[other], there.fill)
    tried = smallest(kept.box, kept.job.head.stock, kept.job.sheets, terms)
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        "count/page.html",
        status,
        kept=kept,
        pair=pair,
        other=other,
        sentence=sentence,
        tried=tried,
        errors=errors,
        notice=notice,
    )


def _beside(code: str) -> str:
    """Return the edition to compare with where none was picked: the oldest of the NEC, or its newest."""
    nec = sorted((edition for edition in EDITIONS.values() if edition.nec), key=lambda edition: edition.year)
    return nec[0].id if code == nec[-1].id else nec[-1].id


def _compared(here: str, one: Answer, there: str, other: Answer) -> str:
    """Two counts of one box in a sentence."""
    first, second = (f"{answer.state.word}, {say(answer.headline)}" for answer in (one, other))
    return f"Under {here}: {first}. Under {there}: {second}."
