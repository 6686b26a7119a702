"""The survey of a box: what to look at, in order, on a ladder; its pictures; the breaker that feeds it."""

from __future__ import annotations

from anyio import to_thread
from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....trade.edits.survey import AddPhoto
from ....trade.model.errors import Rejected
from ... import urls
from ...box_screen import Screen, one_section, screen_router
from ...deps import SentFiles, TheStore, uploaded
from ...form_errors import NO_ERRORS, FormErrors
from ...workers import photo_taken_in
from .view import survey_view

SURVEY = Screen(
    "survey",
    "survey/page.html",
    one_section("survey", "survey/survey.html", lambda *shown: survey_view("survey", *shown)),
)

survey_router = screen_router(SURVEY)
router = APIRouter(include_in_schema=False)


@survey_router.post("/photos")
async def add_photos(request: Request, store: TheStore, sent: SentFiles, job: str, box: str) -> Response:
    """Pictures added, each as a step of its own; a bad file is refused with a sentence and the others stay.

    A picture takes nothing from what somebody else did meanwhile: it is added to the box as it is by then.
    """
    caption, step, number = (sent.form.get(name, "") for name in ("caption", "step", "number"))
    caption = caption[:80]
    back = urls.box(job, box, "survey", anchor="photos")
    if step:  # taken on the ladder: back to the step it was taken at
        back = urls.box(job, box, "install", step=number if number.isdecimal() else None)

    def land(name: str, content: bytes) -> str:
        """What was wrong with one of them; "" where it is in."""
        try:
            one = photo_taken_in(content)
            store.add_photo(one)
            if one.id not in {photo.id for photo in store.box(job, box).box.survey.photos}:
                store.act(job, AddPhoto.read({"box": box, "photo": one.id, "caption": caption, "step": step}))
        except Rejected as refused:
            return f"{name[:60]}: {refused.sentence}"
        return ""

    wrong = [said for name, content in sent.files if (said := await to_thread.run_sync(land, name, content))]
    if not sent.files:
        wrong.append("Choose a picture first")
    if answer := uploaded(sent.by_script, back, wrong):
        return answer
    if step and not wrong:
        return RedirectResponse(back, 303)
    problems = tuple(problem for said in wrong for problem in Rejected(said, "photo").problems)
    errors = FormErrors("photos", {"caption": caption}, problems) if wrong else NO_ERRORS
    return SURVEY.answer(request, store.box(job, box), errors)


@router.get("/photos/{id}/{size}.jpg")
def photo(store: TheStore, id: str, size: str) -> Response:
    """A picture, whole or small."""
    headers = {"cache-control": "private, max-age=31536000, immutable"}
    return Response(store.photo(id, small=size == "small"), media_type="image/jpeg", headers=headers)
