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
ABOUT = """Do everything the pages do, with the same values.

**Edits.** Send one edit or several to `POST …/edits`. They are one change, done whole or not at all. The field `edit`
names each. An act that can't be done is refused (422): the answer names each field and what to enter. Nothing is
done then.

**Revisions.** Every box, sheet and job has a revision, which is its ETag. Send it as `If-Match`, and the act is refused
(412) if the document has changed since; list the revisions of other documents in `seen`. With `If-None-Match` an answer
you already have isn't sent again (304).

**Done once.** Send an `Idempotency-Key`. If the answer is lost, send the act again with the same key: it is done once.

**Lists** come in pages: `next` is the address of the next page.

**Problems** are problem details (RFC 9457), `application/problem+json`.

**Tokens.** A program on another machine needs a bearer token. Make and withdraw tokens on the page Tokens.

Figures are estimates. Local code and licensed practice decide; no answer is a permit.
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
