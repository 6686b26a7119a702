"""Bringing the devices of a box into use: notes, questions to the hub, ticks, the code on demand."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import cast, get_args

from fastapi import APIRouter
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.snapshots import EditConflict
from ....store.store import Store
from ....trade.documents import Documents, JobAtHand
from ....trade.edits.commission import NameInHub, NoteOfDevice, NoteSerial, NoteSetting, SayBuilt
from ....trade.edits.fields import now
from ....trade.edits.registry import EDITS
from ....trade.edits.together import Together
from ....trade.model.errors import Rejected
from ....trade.model.hub import Hub, Reply
from ....trade.model.tick import Tick, refusal
from ....trade.plan.commission.progress import DoneStep, refuse_early
from ....trade.wiring.simulate.hub import CASES, Act, Case, SimulatedHub
from ... import urls
from ...deps import ActForm, TheAct, TheStore
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, stale
from ...templating import render
from ...ticking import are_shown, label_in, remembering, take_back, who_said
from .view import CommissionView, commission_view

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/commission", include_in_schema=False)


@router.get("")
def show(
    request: Request, *, store: TheStore, job: str, box: str, device: str = "", step: int | None = None
) -> Response:
    """A step of a device; the first that is not settled where none is named."""
    return _page(request, commission_view(request, store, job, box=box, device=device, step=step))


def _page(
    request: Request, view: CommissionView, errors: FormErrors = NO_ERRORS, notice: Notice = NO_NOTICE
) -> Response:
    status = 409 if notice else 200 if errors is NO_ERRORS else 422
    answer = render(
        request, "commission/page.html", status, view.kept.number, kept=view.kept, view=view, errors=errors,
        notice=notice, cases=CASES, spoken=_spoken, trim_asked=_trim_asked,
    )  # fmt: skip
    if view.code:
        answer.headers["cache-control"] = "no-store"
    return answer


def _shown(request: Request, store: Store, job: str, box: str, form: ActForm) -> CommissionView:
    """The page a form was on."""
    number = form.fields.get("number", "")
    step = int(number) if number.isdecimal() and len(number) < 5 else None
    return commission_view(request, store, job, box=box, device=form.fields.get("device", ""), step=step)


def _step_of(view: CommissionView, form: ActForm) -> DoneStep:
    """The step a form is about. Raises Rejected where it is another one now."""
    one = view.one
    if one is None or view.said != form.fields.get("step"):
        raise Rejected("The plan has changed. This is the step now", "number")
    return one


def _answered(
    request: Request, store: Store, where: tuple[str, str], form: ActForm, act: Callable[[CommissionView], bool]
) -> Response:
    """Does something of a step and goes on, or shows the page with what was refused.

    `act`: does it, and says whether the page goes on to the next step.
    """
    job, box = where
    view = _shown(request, store, job, box, form)
    try:
        goes_on = act(view)
    except Rejected as wrong:
        return _page(request, view, FormErrors(form.asked_by, form.fields, wrong.problems))
    except EditConflict as wrong:
        errors = FormErrors(form.asked_by, form.fields, ())
        return _page(request, view, errors, stale("box", wrong.came_since))
    device = view.device.of.item.id if view.device else None
    if goes_on and view.device and all(one.settled or one is view.one for one in view.device.steps):
        device = None  # it is through: on to the next of them
    answer = RedirectResponse(
        urls.box(job, box, "commission", device=device, step=None if goes_on else view.step + 1), 303
    )
    return remembering(answer, who_said(form.fields)) if "who" in form.fields else answer


def _tick(
    store: Store, where: tuple[str, str], form: ActForm, *, view: CommissionView, one: DoneStep, no: str = ""
) -> None:
    job, box = where
    step = refusal(one.at.step) if no else one.at.step
    if not no and view.device:
        refuse_early(view.device, step)
    by = who_said(form.fields) if "who" in form.fields else view.who
    made = Tick(id="t0", box=box, step=step, at=now(), by=by, because=no[:200])
    store.tick(job, made, f"{form.token}t"[:64] if form.token else "")


@router.post("/tick")
def tick(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A step done, or not, and why."""

    def do(view: CommissionView) -> bool:
        one, because = _step_of(view, form), form.fields.get("because", "").strip()
        refused = form.fields.get("refuse") == "true"
        if refused and not because:
            raise Rejected("Enter why it is not done", "because")
        _tick(store, (job, box), form, view=view, one=one, no=because if refused else "")
        return True

    return _answered(request, store, (job, box), form, do)


@router.post("/together")
def tick_together(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Several settings noted at once, or several trials that came out as they should."""

    def do(view: CommissionView) -> bool:
        if form.token and store.tick_of(job, f"{form.token}t"[:64]) is not None:
            return True
        if view.device is None or not are_shown(view.said_together, form.fields.get("together")):
            raise Rejected("The plan has changed. This is the step now", "number")
        for one in view.together:
            refuse_early(view.device, one.at.step)
        if notes := tuple(_notes(view, form.fields, box)):
            edit = Together(edits=notes, sentence=f"{view.device.of.name}: {len(notes)} settings noted")
            store.act_on_box(job, box, edit, seen=form.seen, token=form.token, mend=form.mend)
        by = who_said(form.fields) if "who" in form.fields else view.who
        made = [Tick(id="t0", box=box, step=one.at.step, at=now(), by=by) for one in view.together]
        store.tick_together(job, made, f"{form.token}t"[:64] if form.token else "")
        return True

    return _answered(request, store, (job, box), form, do)


def _notes(view: CommissionView, said: Mapping[str, str], box: str) -> Iterator[NoteSetting]:
    """The settings a form notes; those left empty stay as they came."""
    assert view.device is not None
    for number, one in enumerate(view.together):
        value = said.get(f"value-{number}", "").strip()
        if one.at.setting is not None and value:
            fields = {"box": box, "device": view.device.of.item.id, "name": one.at.setting, "value": value}
            try:
                yield NoteSetting.read(fields)
            except Rejected as wrong:
                raise Rejected(wrong.problems[0].sentence, f"value-{number}") from wrong


@router.post("/untick")
def untick(store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A tick that does not hold is taken back; it stays among the ticks."""
    take_back(store, job, box, form)
    return RedirectResponse(urls.box(job, box, "commission"), 303)


@router.post("/edit/{name}")
def edit(request: Request, *, store: TheStore, form: TheAct, job: str, box: str, name: str) -> Response:
    """Something noted of a device, and its step ticked with it."""
    kind = EDITS.get(name)
    if kind is None or not issubclass(kind, (NoteOfDevice, SayBuilt)):
        raise HTTPException(404)
    fields = {name: value for name, value in form.fields.items() if name in kind.model_fields}

    def do(view: CommissionView) -> bool:
        one = _step_of(view, form)
        if view.device:
            refuse_early(view.device, one.at.step)
        said, code = _without_code(fields) if kind is NoteSerial else (fields, "")
        if code and not said["serial"]:
            _keep_code(store, job, box, view, code)
            return False  # the serial number is still to come
        read = kind.read(said | {"box": box})
        if isinstance(read, NameInHub):
            read = read.changed(hub=view.device.of.sheet.radio if view.device else "")
            _named(store, job, view, read)
        store.act_on_box(job, box, read, seen=form.seen, token=form.token, mend=form.mend)
        if code:
            _keep_code(store, job, box, view, code)
        _tick(store, (job, box), form, view=view, one=one)
        return True

    return _answered(request, store, (job, box), form, do)


def _without_code(fields: Mapping[str, str]) -> tuple[dict[str, str], str]:
    """The fields with a serial number where a whole label was typed, and the setup code on it. Raises Rejected."""
    label = label_in({"serial": fields.get("serial", "")})
    return {**fields, "serial": label.serial}, label.code


def _keep_code(store: Store, job: str, box: str, view: CommissionView, code: str) -> None:
    assert view.device is not None
    store.put_code(job, box, view.device.of.item.id, code)


def _named(store: Store, job: str, view: CommissionView, edit: NameInHub) -> None:
    """The hub calls it so first: what it refuses is not noted. Raises Rejected."""
    assert view.device is not None
    at = view.device.of.at
    # What would be refused here is refused before the hub hears of it.
    edit.apply(Documents(JobAtHand(store.whole_job(job)), {}))
    if at not in store.hub(job).holds:
        return  # it was joined to a real one

    def ask(hub: SimulatedHub) -> Reply:
        hub.name_taken(at, edit.name)
        return hub.note(at, hub.call(at, edit.name))

    if not (reply := store.ask_hub(job, ask)).did:
        raise Rejected(f"The hub doesn't take this name. {reply.says}: {', or '.join(reply.ways)}", "name")


@router.post("/hub/{asked}")
def hub(request: Request, *, store: TheStore, form: TheAct, job: str, box: str, asked: str) -> Response:
    """Something asked of the simulated hub, or done by hand at the simulated device."""
    said = form.fields

    def do(view: CommissionView) -> bool:
        if view.device is None:
            raise Rejected("There’s no device to set up", "device")
        to, at = view.device.of, view.device.of.at
        joining = to.sheet.joining
        takes = (joining.seconds or 5) if joining else 5

        def ask(hub: SimulatedHub) -> Reply:
            if asked in ("case", "hand"):
                return hub.note(at, _by_hand(hub, at, asked, said=said, takes=takes))
            return hub.note(at, _asked(hub, at, asked, other=said.get("other") or at, window=to.window))

        reply = store.ask_hub(job, ask)
        joined = reply.code == "joined" and view.one is not None and view.one.at.form == "join"
        if joined and view.one:
            _tick(store, (job, box), form, view=view, one=view.one)
        return joined

    return _answered(request, store, (job, box), form, do)


def _by_hand(hub: SimulatedHub, at: str, asked: str, *, said: Mapping[str, str], takes: int) -> Reply:
    """What a person does at the simulated device, and which case it plays: a real hub has neither."""
    if asked == "case":
        if said.get("case") not in CASES:
            raise Rejected("Pick one of the cases it can play", "case")
        hub.place(at, cast(Case, said["case"]))
        return Reply("done", f"It plays: {said['case']}")
    if said.get("act") not in get_args(Act):
        raise Rejected("Pick something that is done by hand", "act")
    return hub.do(cast(Act, said["act"]), at, takes)


def _asked(hub: Hub, at: str, asked: str, *, other: str, window: int) -> Reply:
    """What the hub answers, whichever it is."""
    if asked == "leave-out":
        if other not in hub.holds:
            raise Rejected("Pick something the hub holds", "other")
        return hub.leave_out(other)
    acts: dict[str, Callable[[], Reply]] = {
        "look": lambda: hub.look_for(at, window),
        "update": lambda: hub.update(at),
        "on": lambda: hub.switch(at, True),
        "off": lambda: hub.switch(at, False),
    }
    if asked not in acts:
        raise HTTPException(404)
    return acts[asked]()


@router.post("/code")
def code(request: Request, *, store: TheStore, form: TheAct, job: str, box: str, do: str = "keep") -> Response:
    """A setup code kept, or shown on demand, never beside anything that is printed."""
    view = _shown(request, store, job, box, form)
    device = view.device.of.item.id if view.device else ""
    if do == "show":
        shown = store.codes(job, box).get(device, "")
        return _page(
            request, commission_view(request, store, job, box=box, device=device, step=view.step + 1, code=shown)
        )
    try:
        label = label_in({"code": form.fields.get("code", "")})
        if not label.code:
            raise Rejected("Enter the setup code as it stands on the label", "code")
        store.put_code(job, box, device, label.code)
    except Rejected as wrong:
        return _page(request, view, FormErrors(form.asked_by, form.fields, wrong.problems))
    return RedirectResponse(urls.box(job, box, "commission", device=device, step=view.step + 1), 303)


def _spoken(values: Iterable[str]) -> list[tuple[str, str]]:
    """Choices that are shown as they are kept."""
    return [(value, value) for value in values]


def _trim_asked(view: CommissionView, sure: tuple[int, ...], unsure: tuple[int, ...]) -> list[tuple[str, str]]:
    """The question that says which levels were tried: going back takes the last one back."""
    assert view.device is not None
    at = [("device", view.device.of.item.id), ("step", str(view.step + 1))]
    return [*at, *(("sure", str(level)) for level in sure), *(("unsure", str(level)) for level in unsure)]
