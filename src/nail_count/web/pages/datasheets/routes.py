"""Sheets: the list of a job's, and the editor, which is copying from the leaflet with its picture beside it."""

from __future__ import annotations

from typing import Literal
from urllib.parse import quote
from zlib import crc32

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....files.photo import take_in
from ....store.snapshots import Effect, KeptSheet, Missing, Stale
from ....trade.model.datasheet import DEVICE_KINDS, Sheet
from ....trade.model.errors import Refused
from ....trade.rules.fit.box import DoesNotFit
from ....trade.survey.datasheet_gaps import missing
from ....trade.text.datasheet_form import MOST_CHANNELS, read_sheet, write_sheet
from ...beside import beside
from ...deps import SentFiles, TheKeep, Typed, uploaded, wants_mending, whole_number
from ...form_errors import NO_NOTICE, NO_REFUSAL, Notice, Refusal, did_not_fit
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/sheets", include_in_schema=False)

STALE = Notice(
    "This sheet was changed elsewhere since you last saw it. What you did was not done; what you typed is still here."
)
FORM = "sheet"


@router.get("")
def show(request: Request, keep: TheKeep, job: str) -> Response:
    """The sheets of a job by kind, with what is open on each and how many boxes use it."""
    kept = keep.job(job)
    by_kind = [
        (kind, [(sheet, len(missing(sheet))) for sheet in kept.sheets.values() if sheet.kind == kind])
        for kind in DEVICE_KINDS
    ]
    shown = [(kind, sheets) for kind, sheets in by_kind if sheets]
    return render(request, "sheets/page.html", job=kept, kinds=shown, uses=keep.uses(job))


@router.get("/new")
def new(request: Request, keep: TheKeep, job: str, like: str = "") -> Response:
    """An empty sheet, or one that begins as a copy of another."""
    kept = keep.job(job)
    if like and like not in kept.sheets:
        raise Missing("expected one of the sheets of this job")
    said = write_sheet(kept.sheets[like]) if like else {"channels": "1"}
    said |= {"id": "", "leaflet": "", "name": f"{said['name']}, another" if like else ""}
    return _editor(request, keep, job, None, said)


@router.get("/{id}")
def edit(request: Request, keep: TheKeep, job: str, id: str) -> Response:
    """A sheet, field by field."""
    kept = keep.sheet(job, id)
    return _editor(request, keep, job, kept, write_sheet(kept.sheet))


@router.post("")
def start(request: Request, keep: TheKeep, typed: Typed, job: str) -> Response:
    """A new sheet kept."""
    if typed.get("channels_to"):
        return _editor(request, keep, job, None, typed | {"channels": typed["channels_to"]})
    try:
        sheet = read_sheet(typed, "new")
    except Refused as wrong:
        return _editor(request, keep, job, None, typed, Refusal(FORM, typed, tuple(wrong.complaints)))
    return RedirectResponse(f"/jobs/{job}/sheets/{keep.start_sheet(job, sheet)}", 303)


@router.post("/{id}")
def change(request: Request, keep: TheKeep, typed: Typed, job: str, id: str) -> Response:
    """A sheet changed; where boxes use it, first what that does to them, to be said yes to."""
    kept = keep.sheet(job, id)
    seen = whole_number(typed.get("revision", ""))
    if typed.get("channels_to"):
        return _editor(request, keep, job, kept, typed | {"channels": typed["channels_to"]})
    try:
        sheet = read_sheet(typed, id)
        effects = keep.effects(job, sheet)
        if effects and typed.get("sure") != _mark(sheet, kept):
            return _editor(request, keep, job, kept, typed, effects=effects, sure=_mark(sheet, kept))
        if sheet != kept.sheet:
            keep.change_sheet(job, seen, sheet, f"{sheet.name} changed{_of(effects)}")
    except Refused as wrong:
        return _editor(request, keep, job, kept, typed, Refusal(FORM, typed, tuple(wrong.complaints)))
    except Stale:
        return _editor(request, keep, job, kept, typed, notice=STALE, status=409)
    return RedirectResponse(f"/jobs/{job}/sheets/{quote(id)}", 303)


@router.post("/{id}/leaflet")
async def leaflet(request: Request, keep: TheKeep, sent: SentFiles, job: str, id: str) -> Response:
    """The picture of its leaflet, taken in and shown beside the form from now on."""
    kept = keep.sheet(job, id)
    seen, to = whole_number(sent.typed.get("revision", "")), f"/jobs/{job}/sheets/{quote(id)}"

    def land() -> None:
        if not sent.content:
            raise Refused("expected a picture to be chosen first", "photo")
        photo = take_in(sent.content)
        keep.add_photo(photo.id, photo.body, photo.small, photo.width, photo.height)
        keep.change_sheet(job, seen, kept.sheet.changed(leaflet=photo.id), "Picture of the leaflet added")

    try:
        await beside(land)
    except Refused as wrong:
        refusal = Refusal("leaflet", {}, tuple(Refused(wrong.sentence, "photo").complaints))
        beside_it = uploaded(sent, to, [wrong.sentence])
        return beside_it or _editor(request, keep, job, kept, write_sheet(kept.sheet), refusal)
    except Stale:
        beside_it = uploaded(sent, to, [STALE.text])
        return beside_it or _editor(request, keep, job, kept, write_sheet(kept.sheet), notice=STALE, status=409)
    return uploaded(sent, to, ()) or RedirectResponse(to, 303)


@router.post("/{id}/undo")
def undo(request: Request, keep: TheKeep, typed: Typed, job: str, id: str) -> Response:
    """Undoes one change of a sheet."""
    return _step(request, keep, typed, job, id, "undo")


@router.post("/{id}/redo")
def redo(request: Request, keep: TheKeep, typed: Typed, job: str, id: str) -> Response:
    """Redoes one change of a sheet."""
    return _step(request, keep, typed, job, id, "redo")


def _step(
    request: Request, keep: TheKeep, typed: dict[str, str], job: str, id: str, way: Literal["undo", "redo"]
) -> Response:
    seen = typed.get("revision", "")
    try:
        keep.step_sheet(job, id, whole_number(seen), way, mend=wants_mending(typed))
    except (Stale, DoesNotFit) as wrong:
        kept, again = keep.sheet(job, id), f"/jobs/{job}/sheets/{quote(id)}/{way}"
        notice = STALE if isinstance(wrong, Stale) else did_not_fit(wrong, again, revision=seen)
        return _editor(request, keep, job, kept, write_sheet(kept.sheet), notice=notice, status=409)
    return RedirectResponse(f"/jobs/{job}/sheets/{quote(id)}", 303)


def _editor(
    request: Request,
    keep: TheKeep,
    job: str,
    kept: KeptSheet | None,
    said: dict[str, str],
    refusal: Refusal = NO_REFUSAL,
    notice: Notice = NO_NOTICE,
    status: int = 200,
    effects: tuple[Effect, ...] = (),
    sure: str = "",
) -> Response:
    of = kept.job if kept else keep.job(job)
    photo = kept.sheet.leaflet if kept else ""
    return render(
        request,
        "sheets/editor.html",
        422 if refusal is not NO_REFUSAL else status,
        job=of,
        kept=kept,
        said=said,
        refusal=refusal,
        notice=notice,
        effects=effects,
        sure=sure,
        missing=missing(kept.sheet) if kept else (),
        channels=min(whole_number(said.get("channels", "")), MOST_CHANNELS),
        photo=photo if photo and keep.photos_here({photo}) else "",
        companions=[(sheet.id, sheet.name) for sheet in of.sheets.values()],
    )


def _mark(sheet: Sheet, kept: KeptSheet) -> str:
    """Stands for a change whose effects were shown, so that yes is said to these and no others."""
    return f"{kept.number}-{crc32(sheet.model_dump_json().encode())}"


def _of(effects: tuple[Effect, ...]) -> str:
    names = ", ".join(effect.name for effect in effects[:3])
    return f"; otherwise now in {names}{' and more' if len(effects) > 3 else ''}" if effects else ""
