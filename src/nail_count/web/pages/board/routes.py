"""The board: all jobs; a job file imported."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import IO

from anyio import to_thread
from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....demo.house import library
from ....files.archive import BEGINS, BadArchive
from ....files.job_json import MOST_BYTES, BadFile
from ....files.plan_report import plan_of_line
from ....store.backup import backup_file
from ....trade.documents import Documents, JobAtHand
from ....trade.edits.house.boxes import StartBox
from ....trade.model.answer import State
from ....trade.model.errors import Problem, Rejected
from ....trade.model.job import Job, by_id
from ....trade.rules.fit.box import DoesNotFit, fit
from ... import urls
from ...deps import Form, TheStore, sent_file, uploaded
from ...downloads import download
from ...form_errors import NO_ERRORS, FormErrors
from ...security import from_here
from ...templating import THEMES, render
from ...threads import beside
from ...transfers import import_archive, import_job

router = APIRouter(include_in_schema=False)


@router.get("/")
def show(request: Request, store: TheStore) -> Response:
    """All jobs."""
    return _board(request, store)


@router.post("/jobs")
def start_job(request: Request, store: TheStore, form: Form) -> Response:
    """A job from nothing, with the sheets of the demo house to begin with."""
    name = form.get("name", "").strip()
    if not 1 <= len(name) <= 120:
        return _board(request, store, FormErrors("job", form, (_NAME,)))
    return RedirectResponse(urls.job(store.add_job(Job(name=name, sheets=library()))), 303)


@router.post("/first")
def first_box(request: Request, store: TheStore, form: Form) -> Response:
    """The first box of all, with a house around it; straight to its bench."""
    house = form.pop("house", "").strip() or "My first house"
    form.pop("token", None)
    job = Job(name=house[:120], sheets=library())
    try:
        start = StartBox.read(form)
        job = start.apply(Documents(JobAtHand(job), {})).documents.job
        if wrong_here := fit(job.boxes[0], by_id(job.sheets), frozenset()).misfits:
            raise DoesNotFit(wrong_here)
    except Rejected as wrong:
        return _board(request, store, FormErrors("first", form | {"house": house}, wrong.problems))
    return RedirectResponse(urls.box(store.add_job(job), job.boxes[0].id), 303)


@router.post("/plan")
def plan_line(request: Request, store: TheStore, form: Form) -> Response:
    """A job of one box, planned from one line; to its hook-up, or to the bench where none can be proposed."""
    line = form.get("line", "").strip()
    try:
        plan = plan_of_line(line, Job(name="One box", sheets=library()), "First box", "First room", may_wait=True)
    except Rejected as wrong:
        return _board(request, store, FormErrors("plan", form, wrong.problems))
    called = next((device.name for device in plan.box.devices if device.name), "")
    key = store.add_job(plan.job.changed(name=f"One box: {called}"[:120] if called else "One box"))
    planned = not plan.refused and plan.checked[1].state is not State.FAILS
    return RedirectResponse(urls.box(key, plan.box.id, *(("hookup",) if planned else ())), 303)


@router.post("/jobs/{job}/put-away")
def put_away(store: TheStore, job: str) -> Response:
    """Takes a job off the board; everything in it stays."""
    store.remove_job(job)
    return RedirectResponse("/", 303)


@router.post("/jobs/{job}/take-up")
def take_up(store: TheStore, job: str) -> Response:
    """Puts a job back onto the board."""
    store.remove_job(job, back=True)
    return RedirectResponse("/", 303)


@router.post("/import")
async def bring_in(request: Request, store: TheStore) -> Response:
    """A job file, or an archive with its history and pictures, imported as a new job."""

    def land(file: IO[bytes] | None) -> str:
        if file is None:
            raise BadFile.because("Choose a job file or an archive first")
        begins = file.read(len(BEGINS))
        file.seek(0)
        if begins != BEGINS:
            return import_job(store, file.read(MOST_BYTES + 1))
        try:
            return import_archive(store, file)
        except BadArchive as wrong:
            raise BadFile.because(str(wrong)) from wrong

    async with sent_file(request) as (named, file, by_script):
        try:
            to = urls.job(await to_thread.run_sync(land, file))
        except BadFile as wrong:
            shown = wrong.problems[:20]
            sentences = [f"{one.where}: {one.sentence}" if one.where else one.sentence for one in shown]
            return uploaded(by_script, "", sentences) or _board(request, store, problems=shown, file=named)
    return uploaded(by_script, to, ()) or RedirectResponse(to, 303)


@router.post("/backup")
async def take_backup(request: Request, store: TheStore) -> Response:
    """Send everything kept here as one archive, made while others work. Only on this machine: it holds setup codes."""
    if not from_here(request):
        raise Rejected("take the backup on the computer Nail Count runs on, because a backup holds every setup code")
    file = await beside(backup_file, store.copy_to, store.file.parent)
    return download(file, f"nail-count-{datetime.now(UTC).strftime('%Y-%m-%d')}.backup")


@router.post("/theme")
def set_theme(request: Request, form: Form) -> Response:
    """Light, dark, or as the system says; kept in a cookie, back to where one was."""
    back = form.get("back", "/")
    safe = back if back.startswith("/") and not back.startswith(("//", "/\\")) else "/"
    answer = RedirectResponse(safe, 303)
    theme = form.get("theme", "system")
    if theme in THEMES:
        answer.set_cookie("theme", theme, max_age=400 * 86400, samesite="lax", httponly=True)
    return answer


_NAME = Problem(("name",), "Enter a name for the job, at most 120 characters")


def _board(
    request: Request,
    store: TheStore,
    errors: FormErrors = NO_ERRORS,
    problems: list[Problem] | None = None,
    file: str = "",
) -> Response:
    status = 422 if problems or errors is not NO_ERRORS else 200
    jobs = store.jobs()
    return render(
        request,
        "board/page.html",
        status,
        jobs=[job for job in jobs if not job.removed],
        removed=[job for job in jobs if job.removed],
        errors=errors,
        problems=problems or [],
        file=file,
        from_here=from_here(request),
    )
