"""The interview: what each place should do, asked before anything is chosen. Seven questions, one screen."""

from __future__ import annotations

from starlette.requests import Request
from starlette.responses import Response

from ....trade.edits.wishes import SetWish
from ...box_screen import Screen, act, one_section, screen_router
from ...deps import TheAct, TheStore
from .view import InterviewView

INTERVIEW = Screen(
    "interview", "interview/page.html", one_section("interview", "interview/interview.html", InterviewView)
)
router = screen_router(INTERVIEW)


@router.post("/answer")
def answer(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """One wish as answered; the hub goes to the house, where every other place finds it."""
    return act(
        request, store, form, where=(job, box), screen=INTERVIEW, read=lambda: SetWish.read(form.fields | {"box": box})
    )
