"""Sheets: the list of a job's, and the editor, which is copying from the leaflet with its picture beside it."""

from __future__ import annotations

from zlib import crc32

from anyio import to_thread
from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.revisions import Direction
from ....store.snapshots import DatasheetSnapshot, EditConflict, Effect, NotFound
from ....store.store import Store
from ....trade.documents import DocumentId
from ....trade.edits.datasheets import AddSheet, ChangeSheet
from ....trade.model.datasheet import DEVICE_KINDS, Datasheet
from ....trade.model.errors import Rejected
from ....trade.rules.fit.box import DoesNotFit
from ....trade.survey.datasheet_gaps import missing
from ....trade.text.datasheet_form import MOST_CHANNELS, read_sheet, write_sheet
from ... import urls
from ...deps import ActForm, Form, SentFiles, TheAct, TheStore, act_form_of, uploaded, whole_number
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, did_not_fit, stale
from ...templating import render
from ...workers import photo_taken_in

router = APIRouter(prefix="/jobs/{job}/sheets", include_in_schema=False)

FORM = "sheet"


@router.get("")
def show(request: Request, store: TheStore, job: str) -> Response:
    """The sheets of a job by kind, with the gaps of each and how many boxes use it."""
    kept = store.job(job)
    by_kind = [
        (kind, [(sheet, len(missing(sheet))) for sheet in kept.sheets.values() if sheet.kind == kind])
        for kind in DEVICE_KINDS
    ]
    shown = [(kind, sheets) for kind, sheets in by_kind if sheets]
    return render(request, "datasheets/page.html", job=kept, kinds=shown, uses=store.uses(job))


@router.get("/new")
def new(request: Request, store: TheStore, job: str, like: str = "") -> Response:
    """An empty sheet, or one that begins as a copy of another."""
    kept = store.job(job)
    if like and like not in kept.sheets:
        raise NotFound("Pick one of the sheets of this job")
    fields = write_sheet(kept.sheets[like]) if like else {"channels": "1"}
    fields |= {"id": "", "leaflet": "", "name": f"{fields['name']}, another" if like else ""}
    return _editor(request, store, job, kept=None, fields=fields)


@router.get("/{id}")
def edit(request: Request, store: TheStore, job: str, id: str) -> Response:
    """A sheet, field by field."""
    kept = store.sheet(job, id)
    return _editor(request, store, job, kept=kept, fields=write_sheet(kept.sheet))


@router.post("")
def start(request: Request, store: TheStore, form: Form, job: str) -> Response:
    """A new sheet kept."""
    if form.get("channels_to"):
        return _editor(request, store, job, kept=None, fields=form | {"channels": form["channels_to"]})
    try:
        sheet = read_sheet(form, "new")
    except Rejected as wrong:
        return _editor(
            request, store, job, kept=None, fields=form, errors=FormErrors(FORM, form, tuple(wrong.problems))
        )
    done = store.act(job, AddSheet(sheet=sheet), token=act_form_of(request, form).token)
    return RedirectResponse(urls.datasheet(job, done.sheets[0]), 303)


@router.post("/{id}")
def change(request: Request, store: TheStore, form: Form, job: str, id: str) -> Response:
    """A sheet changed; where boxes use it, first what that does to them, to confirm."""
    kept = store.sheet(job, id)
    if form.get("channels_to"):
        return _editor(request, store, job, kept=kept, fields=form | {"channels": form["channels_to"]})
    try:
        sheet = read_sheet(form, id)
        effects = store.effects(job, sheet)
        if effects and form.get("sure") != _mark(sheet, kept):
            return _editor(request, store, job, kept=kept, fields=form, effects=effects, sure=_mark(sheet, kept))
        if sheet != kept.sheet:
            act = act_form_of(request, form)
            edit = ChangeSheet(sheet=sheet, because=f"{sheet.name} changed{_of(effects)}")
            store.act(job, edit, {DocumentId("sheet", id): act.seen}, act.token)
    except Rejected as wrong:
        return _editor(
            request, store, job, kept=kept, fields=form, errors=FormErrors(FORM, form, tuple(wrong.problems))
        )
    except EditConflict as wrong:
        return _editor(request, store, job, kept=kept, fields=form, notice=stale("sheet", wrong.came_since), status=409)
    return RedirectResponse(urls.datasheet(job, id), 303)


@router.post("/{id}/leaflet")
async def leaflet(request: Request, store: TheStore, sent: SentFiles, job: str, id: str) -> Response:
    """The picture of its leaflet, taken in and shown beside the form from now on."""
    kept = store.sheet(job, id)
    seen, to = whole_number(sent.form.get("revision", "")), urls.datasheet(job, id)

    def land() -> None:
        if not sent.content:
            raise Rejected("Choose a picture first", "photo")
        photo = photo_taken_in(sent.content)
        store.add_photo(photo)
        edit = ChangeSheet(sheet=kept.sheet.changed(leaflet=photo.id), because="Picture of the leaflet added")
        store.act(job, edit, {DocumentId("sheet", id): seen})

    try:
        await to_thread.run_sync(land)
    except Rejected as wrong:
        errors = FormErrors("leaflet", {}, tuple(Rejected(wrong.sentence, "photo").problems))
        beside_it = uploaded(sent.by_script, to, [wrong.sentence])
        return beside_it or _editor(request, store, job, kept=kept, fields=write_sheet(kept.sheet), errors=errors)
    except EditConflict as wrong:
        notice = stale("sheet", wrong.came_since)
        beside_it = uploaded(sent.by_script, to, [notice.text])
        return beside_it or _editor(
            request, store, job, kept=kept, fields=write_sheet(kept.sheet), notice=notice, status=409
        )
    return uploaded(sent.by_script, to, ()) or RedirectResponse(to, 303)


@router.post("/{id}/undo")
def undo(request: Request, store: TheStore, form: TheAct, job: str, id: str) -> Response:
    """Undoes one change of a sheet."""
    return _step(request, store, form, job=job, id=id, way="undo")


@router.post("/{id}/redo")
def redo(request: Request, store: TheStore, form: TheAct, job: str, id: str) -> Response:
    """Redoes one change of a sheet."""
    return _step(request, store, form, job=job, id=id, way="redo")


def _step(request: Request, store: Store, form: ActForm, *, job: str, id: str, way: Direction) -> Response:
    try:
        store.step(job, DocumentId("sheet", id), form.seen, way=way, token=form.token, mend=form.mend)
    except (EditConflict, DoesNotFit) as wrong:
        kept, again = store.sheet(job, id), urls.datasheet(job, id, way)
        notice = (
            stale("sheet", wrong.came_since)
            if isinstance(wrong, EditConflict)
            else did_not_fit(wrong, again, revision=str(form.seen))
        )
        return _editor(request, store, job, kept=kept, fields=write_sheet(kept.sheet), notice=notice, status=409)
    return RedirectResponse(urls.datasheet(job, id), 303)


def _editor(
    request: Request,
    store: TheStore,
    job: str,
    *,
    kept: DatasheetSnapshot | None,
    fields: dict[str, str],
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
    status: int = 200,
    effects: tuple[Effect, ...] = (),
    sure: str = "",
) -> Response:
    of = kept.job if kept else store.job(job)
    photo = kept.sheet.leaflet if kept else ""
    return render(
        request,
        "datasheets/editor.html",
        422 if errors is not NO_ERRORS else status,
        job=of,
        kept=kept,
        fields=fields,
        errors=errors,
        notice=notice,
        effects=effects,
        sure=sure,
        missing=missing(kept.sheet) if kept else (),
        channels=min(whole_number(fields.get("channels", "")), MOST_CHANNELS),
        photo=photo if photo and store.photos_here({photo}) else "",
        companions=[(sheet.id, sheet.name) for sheet in of.sheets.values()],
    )


def _mark(sheet: Datasheet, kept: DatasheetSnapshot) -> str:
    """Stands for a change whose effects were shown, so that these and no others are confirmed."""
    return f"{kept.number}-{crc32(sheet.model_dump_json().encode())}"


def _of(effects: tuple[Effect, ...]) -> str:
    names = ", ".join(effect.name for effect in effects[:3])
    return f"; different now in {names}{' and more' if len(effects) > 3 else ''}" if effects else ""
