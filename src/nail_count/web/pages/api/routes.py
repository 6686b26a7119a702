"""For programs: a page that describes every route, loading nothing from elsewhere; tokens, made and withdrawn."""

from __future__ import annotations

import json
from typing import Annotated, Any

from fastapi import APIRouter, Path
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....files.job_json import job_schema
from ....store.store import Store
from ....trade.model.errors import Rejected
from ... import urls
from ...deps import Form, TheStore
from ...form_errors import NO_ERRORS, FormErrors
from ...security import from_here
from ...templating import render

router = APIRouter()


@router.get("/docs", include_in_schema=False)
def docs(request: Request) -> Response:
    """Every route for programs and every edit, from the application's own OpenAPI description."""
    described = request.app.openapi()
    routes = [
        (method.upper(), path, described_as)
        for path, methods in described["paths"].items()
        for method, described_as in methods.items()
    ]
    schemas = described["components"]["schemas"]
    refs = schemas["Edit"]["discriminator"]["mapping"]
    edits = [(name, schemas[ref.rpartition("/")[2]]) for name, ref in sorted(refs.items())]
    return render(request, "api/page.html", routes=routes, edits=edits, schema=json.dumps(job_schema(), indent=1))


@router.get("/schema/job.json", tags=["files"])
def schema() -> dict[str, Any]:
    """The JSON Schema of the job file."""
    return job_schema()


@router.get("/tokens", include_in_schema=False)
def tokens(request: Request, store: TheStore) -> Response:
    """The tokens there are, and a form for one more."""
    return _tokens(request, store)


@router.post("/tokens", include_in_schema=False)
def make_token(request: Request, store: TheStore, form: Form) -> Response:
    """A token made and shown, this once. Only on this machine: whoever comes from elsewhere may read, not hand out."""
    days = form.get("days", "").strip()
    try:
        if not from_here(request):
            raise Rejected("Do this on the machine Nail Count runs on; elsewhere tokens can only be withdrawn")
        if days and not (days.isdecimal() and len(days) < 6):
            raise Rejected("Enter after how many days, such as 90, or leave it empty for always", "days")
        made = store.tokens.make(form.get("name", ""), int(days) if days else None)
    except Rejected as wrong:
        return _tokens(request, store, FormErrors("token", form, wrong.problems))
    return _tokens(request, store, made=made)


@router.post("/tokens/{id}/withdraw", include_in_schema=False)
def withdraw_token(store: TheStore, id: Annotated[int, Path(ge=1, le=2**53)]) -> Response:
    """From now on it is refused."""
    store.tokens.withdraw(id)
    return RedirectResponse(urls.page("tokens"), 303)


def _tokens(request: Request, store: Store, errors: FormErrors = NO_ERRORS, made: str = "") -> Response:
    status = 200 if errors is NO_ERRORS else 422
    every, here = store.tokens.all(), from_here(request)
    return render(request, "api/tokens.html", status, errors=errors, tokens=every, made=made, from_here=here)
