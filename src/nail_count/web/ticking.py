"""Ticks: who makes them, which come too early, and one taken back."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from urllib.parse import quote, unquote

from starlette.requests import Request
from starlette.responses import RedirectResponse

from ..store.snapshots import BoxSnapshot
from ..store.store import Store
from ..trade.assume.wired import look_as_usual
from ..trade.edits.fields import now
from ..trade.model.box import Box
from ..trade.model.errors import Rejected
from ..trade.model.tick import Step, Tick
from ..trade.plan.commission.progress import progress_of_each, refuse_early
from ..trade.plan.commission.steps import to_commission
from ..trade.plan.install.progress import (
    AFTER_DEAD,
    Done,
    has_open_wires,
    has_wires_to_join,
    on_since,
    progress,
    refuse_live,
)
from ..trade.plan.install.steps import install_steps
from ..trade.plan.parts.parts_list import parts_list
from ..trade.plan.planned import planned_of
from ..trade.rules.check import fitting_job
from ..trade.text.label import Label, read_label
from ..trade.wiring.hookup.look import look
from ..trade.wiring.hookup.readings import usual_states
from ..trade.wiring.hookup.stages import ends_of
from ..trade.wiring.hookup.work import arriving
from .deps import ActForm

CODE = re.compile(r"[A-Za-z0-9$%*+./:_-]+")


def label_in(fields: Mapping[str, str]) -> Label:
    """Return the serial number and the setup code that were typed, each by itself or as the whole label.

    A code that stands on the label beside the number is taken out of it, so that it never comes on paper.

    Raises:
        Rejected: the code can't be one.
    """
    serial, code = fields.get("serial", "").strip(), fields.get("code", "").strip()
    at_serial, at_code = read_label(serial), read_label(code)
    read = Label(
        at_serial.serial or at_code.serial or ("" if at_serial.code else serial),
        at_code.code or at_serial.code or ("" if at_code.serial else "".join(code.split())),
    )
    if read.code and not CODE.fullmatch(read.code):
        raise Rejected("The scan can't be read: enter the letters and figures of the code", "code")
    return read


"""What a setup code is made of, as it is printed or scanned."""
WHO = "who"
"""The cookie with what a person calls themselves."""
LONGEST_NAME = 60
_REMEMBERED = 400 * 86400
"""How long a browser keeps it [s]."""


def who_asks(request: Request) -> str:
    """What the person at this browser calls themselves; "" where they never gave a name."""
    return unquote(request.cookies.get(WHO, ""))[:LONGEST_NAME]


def who_said(said: Mapping[str, str]) -> str:
    """What a form says of who does it."""
    return said.get("who", "").strip()[:LONGEST_NAME]


def remembering(answer: RedirectResponse, who: str) -> RedirectResponse:
    """An answer that has the browser remember who it was."""
    # A header takes Latin letters only, and people have names in every script.
    answer.set_cookie(WHO, quote(who), max_age=_REMEMBERED, samesite="lax", httponly=True)
    return answer


def as_said(step: Step, box: Box) -> str:
    """A step as a form says it: its kind, its subject, and the plan of that where the form was shown."""
    return "|".join((step.kind, *step.subjects, planned_of(step, box) or ""))


def said_together(steps: Iterable[Step], box: Box) -> str:
    """Several steps as a form says them, a line each."""
    return "\n".join(as_said(step, box) for step in steps)


def are_shown(shown: str, meant: str | None) -> bool:
    """Whether the steps a form means are those shown now. Browsers send line breaks their own way."""
    return bool(shown) and meant is not None and shown.split() == meant.split()


def take_back(store: Store, job: str, box: str, form: ActForm) -> None:
    """Takes back the tick a form names; it stays among the ticks. Raises Rejected."""
    old = {one.id: one for one in store.ticks(job, box)}.get(form.fields.get("tick", ""))
    if old is None or old.takes_back is not None:
        raise Rejected("Pick one of the ticks of this box", "tick")
    store.tick(job, Tick(id="t0", box=box, step=old.step, at=now(), takes_back=old.id), form.token)


def on_the_ladder(store: Store, job: str, box: str) -> tuple[BoxSnapshot, tuple[Done, ...]]:
    """A box wired, and how far it has come on the ladder. Raises NotFound."""
    kept = store.wired_box(job, box)
    assert kept.wiring is not None
    ticks = store.ticks(job)
    live = on_since(store.whole_job(job), ticks, kept.box)
    return kept, progress(install_steps(kept.wiring, box, ticks), ticks, kept.box, live)


def refuse_while_open(store: Store, job: str, box: str, step: Step) -> None:
    """Refuse to turn on the power of a box while wires are open at one that is the same piece of work.

    Raises:
        NotFound: no such job or box.
        Rejected: one of them is open; it says which.
    """
    if step.kind not in AFTER_DEAD:
        return
    kept, mine = on_the_ladder(store, job, box)
    assert kept.wiring is not None
    if has_open_wires(mine):
        raise Rejected("join every wire in this box first", "step")
    for other in sorted(look(kept.wiring, box).group - {box}):
        near, done = on_the_ladder(store, job, other)
        if has_open_wires(done):
            raise Rejected(f"join every wire at {near.box.name} first: it is open, and this turns on its power", "step")
        if arriving(near.box) and has_wires_to_join(done):
            raise Rejected(
                f"do the steps of {near.box.name} up to turning on the power first: the two are wired together", "step"
            )


def refuse_untimely(store: Store, job: str, box: str | None, step: Step, not_done: bool) -> None:
    """Refuses a tick of a program that no page would offer, or that comes too early.

    Args:
        box: which box; None: of parts.
        step: what was done.
        not_done: whether a reason was given.

    Raises:
        NotFound: no such job or box.
        Rejected: it may not be ticked; why.
    """
    if box is None:
        known = {line.part for line in parts_list(fitting_job(store.whole_job(job)))}
        if tuple(step.subjects) not in {tuple(part) for part in known}:
            raise Rejected("Pick one of the parts of this job", "step")
        return
    if step.kind in ("begun", "done"):
        return
    kept, done = on_the_ladder(store, job, box)
    assert kept.wiring is not None
    if step.kind == "measured":
        seen = look_as_usual(kept.wiring, box)[0].seen
        ends, states = ends_of(kept.wiring, kept.box, "planned"), usual_states(seen)
        if step.subjects[0] not in ends or step.subjects[1] not in states:
            raise Rejected("Pick a point of this box and one of its states", "step")
        return
    for device in progress_of_each(to_commission(kept.wiring, box), store.ticks(job), kept.box):
        if step in [one.at.step for one in device.steps]:
            if not not_done:
                refuse_early(device, step)
            return
    if step not in [one.at.step for one in done]:
        if any(one.at.missing for one in done):
            raise Rejected("finish the hook-up first", "step")
        raise Rejected("Pick one of the steps of this box", "step")
    if not not_done:
        refuse_live(done, step)
        refuse_while_open(store, job, box, step)
