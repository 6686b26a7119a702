"""Acts on a house, from whichever page: an edit, kept and undoable, and back to the page."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import ValidationError
from starlette.exceptions import HTTPException
from starlette.responses import RedirectResponse, Response

from ..store.snapshots import Stale
from ..store.store import Keep
from ..trade.edits.house.registry import HOUSE_EDITS, Around, HouseEdit, make_house_edit
from ..trade.model.errors import Refused, complaints_of
from ..trade.model.job import JobHead
from .deps import whole_number
from .form_errors import NO_NOTICE, Notice, Refusal

STALE = Notice(
    "This house was changed elsewhere since you last saw it. What you did was not done; what you typed is still here, "
    "beside the house as it is now."
)


def act_on_house(
    keep: Keep, typed: dict[str, str], job: str, name: str, back: str, refused: Callable[[Refusal, Notice], Response]
) -> Response:
    """Makes an edit to a house and goes back to the page, or answers with the refusal.

    Args:
        keep: what is kept.
        typed: the form; with `revision`, the edit is refused where the house has changed since.
        job: which job.
        name: which edit.
        back: where to go after it.
        refused: makes the answer from the refusal and a notice.
    """
    if name not in HOUSE_EDITS:
        raise HTTPException(404)
    said = {field: value for field, value in typed.items() if field not in ("revision", "asked_by")}
    form = typed.get("asked_by", "")

    def change(head: JobHead, around: Around) -> HouseEdit:
        return make_house_edit(head, name, said, around)

    seen = whole_number(typed["revision"]) if "revision" in typed else None
    try:
        keep.change_house(job, change, seen)
    except Refused as wrong:
        return refused(Refusal(form, typed, tuple(wrong.complaints)), NO_NOTICE)
    except ValidationError as wrong:
        return refused(Refusal(form, typed, tuple(complaints_of(wrong))), NO_NOTICE)
    except Stale:
        return refused(Refusal(form, typed, ()), STALE)
    return RedirectResponse(back, 303)
