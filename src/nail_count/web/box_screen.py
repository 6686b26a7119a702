"""Screens that act on a box: each shows it in its own way; an act on any of them is an edit, saved, and shown again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, cast

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
from .parts import Part, Swap, swaps, with_errors
from .shown import Shown
from .templating import filled, render, render_parts

BOX = "/jobs/{job}/boxes/{box}"
PartsOf = Callable[[BoxSnapshot, FormErrors, Notice], tuple[Part, ...]]
"""The parts of a screen, of a box, a refused act, a notice."""


@dataclass(frozen=True, slots=True)
class Screen:
    """A way to show a box and act on it: a page of parts; an act sends those it changed."""

    path: str
    """Behind the box's own address: "" for the bench."""
    page: str
    """Template of the whole page, which says where its parts stand."""
    parts: PartsOf
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
        parts = with_errors(self.parts(kept, errors, notice), errors, ())
        about = self._about(kept)
        rendered = dict(zip((part.id for part in parts), render_parts(parts, about), strict=True))
        shown = shown_mark(kept.number, _pages(request).put(parts))
        about |= {"part": rendered, "shown": shown, "kept": kept, "errors": errors}
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
        parts = with_errors(self.parts(kept, errors, notice), errors, request.headers.get("x-within", "").split())
        pages, name = _pages(request), request.headers.get("x-page", "")
        before = pages.of(name, [part.id for part in parts])
        changed = [Swap("renew", part.id, part) for part in parts] if before is None else swaps(before, parts)
        about = self._about(kept)
        mark = _partial(Swap("renew", "shown"), shown_mark(kept.number, pages.put(parts, instead=name)))
        # The mark comes last: when a page says that it shows a revision, all of it does.
        rendered = render_parts((swap.part for swap in changed if swap.part), about)
        said = [*(_partial(swap, next(rendered) if swap.part else "") for swap in changed), mark]
        return HTMLResponse(filled("\n".join(said), kept.number), status)

    def _about(self, kept: BoxSnapshot) -> dict[str, Any]:
        """What all its parts are told."""
        base = urls.box(kept.job.key, kept.box.id)
        return {"base": base, "here": urls.under(base, self.path), "job": kept.job.key, "box": kept.box.id}

    def rendered(self, kept: BoxSnapshot, part: Part) -> Markup:
        """A part with all inside of it, for a page that is none of parts."""
        return next(render_parts((part,), self._about(kept)))


def one_part(id: str, template: str, view: Callable[[BoxSnapshot, FormErrors, Notice], object]) -> PartsOf:
    """A screen that is one part: whatever changes of it, it is sent whole.

    Args:
        id: of its element.
        template: what renders it.
        view: what it shows.
    """
    return lambda kept, errors, notice: (Part(id, template, view(kept, errors, notice)),)


@dataclass(frozen=True, slots=True)
class Notices:
    """What was not done and why, and what does not fit the job."""

    notice: Notice
    misfits: Answer | None
    number: int
    """The box's revision where something does not fit, else 0."""


def notices_part(kept: BoxSnapshot, notice: Notice) -> Part:
    """What stands above a screen of a box: of an act that was not done, and of what does not fit."""
    misfits = kept.check.fit
    return Part("notices", "notices.html", Notices(notice, misfits, kept.number if misfits else 0))


_SWAPS = {"renew": "", "drop": ' hx-swap="delete"', "first": ' hx-swap="afterbegin"', "after": ' hx-swap="afterend"'}


def _partial(swap: Swap, html: str) -> str:
    """A change of the page as the browser's library takes it; where nothing else is given, the element is morphed."""
    return f'<hx-partial id="{swap.at}"{_SWAPS[swap.how]}>{html}</hx-partial>'


def shown_mark(revision: int, name: str) -> Markup:
    """What a page says of itself: the revision it shows, and the name its parts are remembered under."""
    return Markup('<span id="shown" data-revision="{}" data-page="{}" hidden></span>').format(revision, name)


def _pages(request: Request) -> Shown:
    return cast(Shown, request.app.state.shown)


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
