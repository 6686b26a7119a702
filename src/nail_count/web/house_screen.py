"""Acts on a house, from whichever page: an edit, kept and undoable, and back to the page."""

from __future__ import annotations

from collections.abc import Callable

from starlette.exceptions import HTTPException
from starlette.responses import RedirectResponse, Response

from ..store.acts import NOTHING_SEEN
from ..store.snapshots import Done, EditConflict
from ..store.store import Store
from ..trade.documents import HEAD
from ..trade.edits.base import Edit
from ..trade.edits.registry import EDITS
from ..trade.model.errors import Rejected
from .deps import ActForm
from .form_errors import NO_NOTICE, FormErrors, Notice, stale

Refused = Callable[[FormErrors, Notice], Response]
"""Makes the answer from a refusal and a notice."""


def named_edit(name: str, form: ActForm) -> Callable[[], Edit]:
    """Reads the edit of this name from a form. Raises HTTPException where no edit has it."""
    if name not in EDITS:
        raise HTTPException(404)
    return lambda: EDITS[name].read(form.fields)


def act_on_house(
    store: Store,
    form: ActForm,
    job: str,
    *,
    read: Callable[[], Edit],
    back: str | Callable[[Done], str],
    refused: Refused,
) -> Response:
    """Makes an edit to a house and goes back to the page, or answers with the refusal.

    Args:
        form: the form; with a revision, the edit is refused where the house has changed since.
        read: makes the edit of what was typed; raises Rejected where that is none.
        back: where to go after it.
        refused: makes the answer to a refusal.
    """
    seen = NOTHING_SEEN if form.revision is None else {HEAD: form.revision}
    try:
        done = store.act(job, read(), seen, form.token, form.mend)
    except Rejected as wrong:
        return refused(FormErrors(form.asked_by, form.fields, wrong.problems), NO_NOTICE)
    except EditConflict as wrong:
        return refused(FormErrors(form.asked_by, form.fields, ()), stale("house", wrong.came_since))
    return RedirectResponse(back if isinstance(back, str) else back(done), 303)
