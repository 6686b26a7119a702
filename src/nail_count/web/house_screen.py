"""Acts on a house, from whichever page: an edit, kept and undoable, and back to the page."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import ValidationError
from starlette.exceptions import HTTPException
from starlette.responses import RedirectResponse, Response

from ..store.snapshots import EditConflict
from ..store.store import Store
from ..trade.edits.house.base import BoxIndex, HouseEdit
from ..trade.edits.house.registry import HOUSE_EDITS, make_house_edit
from ..trade.model.errors import Rejected, problems_of
from ..trade.model.job import JobHead
from .deps import whole_number
from .form_errors import NO_NOTICE, FormErrors, Notice

STALE = Notice(
    "This house was changed elsewhere since you last saw it. What you did was not done; what you typed is still here, "
    "beside the house as it is now."
)


def act_on_house(
    store: Store,
    form: dict[str, str],
    job: str,
    name: str,
    back: str,
    refused: Callable[[FormErrors, Notice], Response],
) -> Response:
    """Makes an edit to a house and goes back to the page, or answers with the refusal.

    Args:
        store: what is kept.
        form: the form; with `revision`, the edit is refused where the house has changed since.
        job: which job.
        name: which edit.
        back: where to go after it.
        refused: makes the answer from the refusal and a notice.
    """
    if name not in HOUSE_EDITS:
        raise HTTPException(404)
    fields = {field: value for field, value in form.items() if field not in ("revision", "asked_by")}
    key = form.get("asked_by", "")

    def change(head: JobHead, around: BoxIndex) -> HouseEdit:
        return make_house_edit(head, name, fields, around)

    seen = whole_number(form["revision"]) if "revision" in form else None
    try:
        store.change_house(job, change, seen)
    except Rejected as wrong:
        return refused(FormErrors(key, form, tuple(wrong.problems)), NO_NOTICE)
    except ValidationError as wrong:
        return refused(FormErrors(key, form, tuple(problems_of(wrong))), NO_NOTICE)
    except EditConflict:
        return refused(FormErrors(key, form, ()), STALE)
    return RedirectResponse(back, 303)
