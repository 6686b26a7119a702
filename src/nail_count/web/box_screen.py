"""Screens that act on a box: each shows it in its own way; an act on any of them is an edit, saved, and shown again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter
from markupsafe import Markup
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from ..store.revisions import Direction
from ..store.snapshots import BoxSnapshot, EditConflict
from ..store.store import Store
from ..trade.edits.base import BoxEdit, Edit
from ..trade.edits.registry import EDITS
from ..trade.model.answer import Answer
from ..trade.model.errors import Rejected
from ..trade.rules.fit.box import DoesNotFit
from . import urls
from .deps import ActForm, TheAct, TheStore, asked_by_htmx
from .form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, did_not_fit, stale
from .sections import Section, changed, shown_by, with_errors
from .templating import filled, render, render_sections

BOX = "/jobs/{job}/boxes/{box}"
SectionsOf = Callable[[BoxSnapshot, FormErrors, Notice], tuple[Section, ...]]
"""The sections of a screen, of a box, a refused act, a notice."""


@dataclass(frozen=True, slots=True)
class Screen:
    """A way to show a box and act on it: a page of sections; an act sends those it changed."""

    path: str
    """Behind the box's own address: "" for the bench."""
    page: str
    """Template of the whole page, which places its sections."""
    sections: SectionsOf
    """What it shows: the box, a refused act, a notice."""
    wired: bool = False
    """Whether it shows what the box is wired together with, and not its history."""

    def of(self, store: Store, job: str, box: str) -> BoxSnapshot:
        """A box as this screen needs it. Raises NotFound."""
        return store.wired_box(job, box) if self.wired else store.box(job, box)

    def show(
        self,
        request: Request,
        kept: BoxSnapshot,
        errors: FormErrors = NO_ERRORS,
        notice: Notice = NO_NOTICE,
        status: int = 200,
    ) -> Response:
        """The whole page."""
        sections = with_errors(self.sections(kept, errors, notice), errors, ())
        about = self._about(kept)
        rendered = dict(zip((one.id for one in sections), render_sections(sections, about), strict=True))
        about |= {"section": rendered, "shown": shown_mark(kept.number), "kept": kept, "errors": errors}
        return render(request, self.page, status, kept.number, **about)

    def answer(
        self,
        request: Request,
        kept: BoxSnapshot,
        errors: FormErrors = NO_ERRORS,
        notice: Notice = NO_NOTICE,
        status: int = 200,
    ) -> Response:
        """What changed, for a page that acts by script; without script a whole page, or a way back to it."""
        refused = errors is not NO_ERRORS or bool(notice)
        status = 422 if refused and status == 200 else status
        if not asked_by_htmx(request):
            if refused:
                return self.show(request, kept, errors, notice, status)
            return RedirectResponse(urls.box(kept.job.key, kept.box.id, self.path), 303)
        sections = with_errors(self.sections(kept, errors, notice), errors, request.headers.get("x-within", "").split())
        differ = list(changed(sections, shown_by(request.headers.get("x-sections", ""))))
        rendered = zip((one.id for one in differ), render_sections(differ, self._about(kept)), strict=True)
        # The mark comes last: when a page says that it shows a revision, all of it does.
        sent = [*rendered, ("shown", shown_mark(kept.number))]
        return HTMLResponse(filled("\n".join(_partial(*one) for one in sent), kept.number), status)

    def _about(self, kept: BoxSnapshot) -> dict[str, Any]:
        """What all its parts are told."""
        base = urls.box(kept.job.key, kept.box.id)
        return {"base": base, "here": urls.under(base, self.path), "job": kept.job.key, "box": kept.box.id}


def one_section(id: str, template: str, view: Callable[[BoxSnapshot, FormErrors, Notice], object]) -> SectionsOf:
    """A screen that is one section, sent whole after each act: its template bears no digest.

    Args:
        id: of its element.
        template: of its element.
        view: of the box, a refused act, a notice.
    """
    return lambda kept, errors, notice: (Section(id, template, view(kept, errors, notice)),)


@dataclass(frozen=True, slots=True)
class Notices:
    """What was not done and why, and what does not fit the job."""

    notice: Notice
    misfits: Answer | None
    number: int
    """The box's revision where something does not fit, else 0."""


def notices_of(kept: BoxSnapshot, notice: Notice) -> Notices:
    """What stands above a screen of a box: of an act that was not done, and of what does not fit."""
    misfits = kept.check.fit
    return Notices(notice, misfits, kept.number if misfits else 0)


def _partial(id: str, html: str) -> str:
    """An element of the page as the browser's library takes it: it morphs the one there."""
    return f'<hx-partial id="{id}">{html}</hx-partial>'


def shown_mark(revision: int) -> Markup:
    """What a page says of itself: the revision it shows."""
    return Markup('<span id="shown" data-revision="{}" hidden></span>').format(revision)


def screen_router(screen: Screen) -> APIRouter:
    """The routes of a screen: the box as it is, an edit, undo and redo."""
    router = APIRouter(prefix=f"{BOX}/{screen.path}".rstrip("/"), include_in_schema=False)

    @router.get("")
    def show(request: Request, store: TheStore, job: str, box: str) -> Response:
        return screen.show(request, screen.of(store, job, box))

    @router.post("/edit/{name}")
    def edit(request: Request, *, store: TheStore, form: TheAct, job: str, box: str, name: str) -> Response:
        kind = EDITS.get(name)
        if kind is None or not issubclass(kind, BoxEdit):
            raise HTTPException(404)
        return act(
            request, store, form, where=(job, box), screen=screen, read=lambda: kind.read(form.fields | {"box": box})
        )

    def step(request: Request, store: Store, form: ActForm, where: tuple[str, str], way: Direction) -> Response:
        job, box = where
        try:
            kept = store.step_on_box(job, box, form.seen, way=way, token=form.token, mend=form.mend, wired=screen.wired)
        except EditConflict as wrong:
            return screen.answer(request, screen.of(store, job, box), notice=stale("box", wrong.came_since), status=409)
        except DoesNotFit as wrong:
            notice = did_not_fit(wrong, urls.box(job, box, screen.path, way), revision=str(form.seen))
            return screen.answer(request, screen.of(store, job, box), notice=notice, status=409)
        return screen.answer(request, kept)

    @router.post("/undo")
    def undo(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
        return step(request, store, form, (job, box), "undo")

    @router.post("/redo")
    def redo(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
        return step(request, store, form, (job, box), "redo")

    return router


def act(
    request: Request,
    store: Store,
    form: ActForm,
    *,
    where: tuple[str, str],
    screen: Screen,
    read: Callable[[], Edit],
) -> Response:
    """Makes an edit and shows the box after it, or the refusal beside what was typed.

    Args:
        request: whose answer it is.
        form: the form that asks for it.
        screen: which screen it is shown on.
        read: makes the edit of what was typed; raises Rejected where that is none.
    """
    try:
        kept = store.act_on_box(*where, read(), seen=form.seen, token=form.token, mend=form.mend, wired=screen.wired)
    except Rejected as wrong:
        return screen.answer(request, screen.of(store, *where), FormErrors(form.asked_by, form.fields, wrong.problems))
    except EditConflict as wrong:
        errors = FormErrors(form.asked_by, form.fields, ())
        return screen.answer(request, screen.of(store, *where), errors, stale("box", wrong.came_since), status=409)
    return screen.answer(request, kept)
