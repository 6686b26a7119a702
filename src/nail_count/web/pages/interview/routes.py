"""The interview: what each place should do, asked before anything is chosen. Seven questions, one screen."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import Response

from ....store.snapshots import JobSnapshot
from ....trade.edits.house.base import BoxIndex, HouseEdit
from ....trade.edits.house.registry import make_house_edit
from ....trade.edits.registry import Edit, make_edit
from ....trade.model.box import Box
from ....trade.model.job import JobHead
from ...box_screen import Screen, act, screen_router
from ...deps import Form, TheStore
from .view import InterviewView

"""What stands in the form for one more: the usual answers, nothing taken for asked."""


INTERVIEW = Screen("interview", "interview/page.html", "interview/interview.html", InterviewView)
router = screen_router(INTERVIEW)


@router.post("/answer")
def answer(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
    """One wish as answered; the hub goes to the house, where every other place finds it."""
    hub = form.get("hub", "").strip()
    fields = {name: value for name, value in form.items() if name not in ("revision", "asked_by", "hub")}

    def change(before: Box, kept: JobSnapshot) -> Edit:
        return make_edit(before, "set-wish", fields, kept.sheets)

    def in_house(head: JobHead, around: BoxIndex) -> HouseEdit:
        return make_house_edit(head, "set-hub", {"hub": hub[:60]}, around)

    shown = act(request, store, form, (job, box), INTERVIEW, form, change)
    if shown.status_code < 400 and hub != (store.job(job).head.house.hub or ""):
        store.change_house(job, in_house)
        shown = INTERVIEW.answer(request, store.box(job, box))
    return shown
