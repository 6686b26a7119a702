"""All routes for programs under one version, and their description."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Depends, FastAPI
from fastapi.openapi.utils import get_openapi

from ...files.job_json import job_schema
from ..problems import ProblemDetails
from . import acts, answers, documents, jobs, taken_out, ticks
from .allowed import allowed
from .common import whole_characters
from .edits import ANY_EDIT, edit_schemas

router = APIRouter(prefix="/api/v1", dependencies=[Depends(allowed), Depends(whole_characters)])
for part in (jobs, documents, answers, taken_out, ticks, acts):
    router.include_router(part.router)

SCHEMAS = "#/components/schemas/"
ABOUT = """Everything the pages do, by the same values.

**Edits.** An act is one edit or several, done as one change, whole or not at all: `POST …/edits`. Each says by `edit`
which it is. What cannot be done is refused with the place and with what was expected (422); nothing is done then.

**Revisions.** Every box, sheet and job has a revision, which is its ETag. With `If-Match` an act is done only where
nothing has changed since (412); `seen` says it of any other document. `If-None-Match` spares sending what is known.

**Done once.** With `Idempotency-Key` an act that is sent again, because its answer was lost say, is not done again.

**Lists** come a piece at a time: `next` says where the next piece is.

**Problems** are problem details (RFC 9457), `application/problem+json`.

**Tokens.** A program on another machine needs a bearer token, made and withdrawn on the page Tokens.

Figures are estimates that defer to local code and licensed practice; no answer is a permission.
"""


def described(app: FastAPI) -> dict[str, Any]:
    """The description of all routes for programs (OpenAPI 3.1), with every edit."""
    made: dict[str, Any] = get_openapi(
        title="Nail Count", version=app.version, description=ABOUT, routes=app.routes,
        separate_input_output_schemas=False,
    )  # fmt: skip
    schemas = made["components"]["schemas"]
    every = edit_schemas(SCHEMAS)
    problem = ProblemDetails.model_json_schema(ref_template=f"{SCHEMAS}{{model}}")
    schemas |= {**problem.pop("$defs"), "ProblemDetails": problem}
    schemas |= {name: schema for name, schema in every.items() if name not in schemas}
    schemas["ChangeAsked"]["properties"]["edits"]["items"] = {"$ref": f"{SCHEMAS}{ANY_EDIT}"}
    schemas["Job"]["required"] = job_schema()["required"]
    for unused in ("HTTPValidationError", "ValidationError"):
        schemas.pop(unused, None)
    return made
