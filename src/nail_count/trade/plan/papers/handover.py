"""The paper for the people who live there: what each place does, which loads it takes, what helps."""

from __future__ import annotations

from collections.abc import Iterator

from ...documents import Documents, JobAtHand, wired_with
from ...model.box import Box
from ...model.job import Job, by_id
from ...model.tick import ticked
from ...text.device import item_name
from ...text.format import and_list, say
from ...text.joining import joining_words
from ..begun import still_so
from ..commission.progress import IN_USE, progress_of_each
from ..commission.steps import radios, to_commission
from ..relamping import relamping
from .as_built import as_built_job, not_done
from .paper import Bullets, Paper, Para, Section, Table, listed, tabled

HELPS = (
    "Try the switch itself. If that doesn’t work either, the Wi-Fi isn’t the problem.",
    "Turn its breaker off for ten seconds, then on. Its settings stay.",
    "If a light flickers or hums, check that its bulb is the kind the table names.",
    "If a breaker trips again, leave it off and call an electrician.",
    "If you smell burning, feel heat or hear crackling, turn off the breaker at once.",
)
HAND_OVER = (
    "Hub account handed over to ____________________", "Setup codes handed over. Kept by ____________________",
    "Warranty cards and instructions are kept at ____________________",
)  # fmt: skip


def handover_paper(job: Job) -> Paper:
    """The paper for the people of the house. No code stands on it, and no name of a person.

    Args:
        job: the house, with its ticks, as far as it fits together.
    """
    built = as_built_job(job)
    hub = job.house.hub
    sections = (
        tabled(
            "What each switch does", ("Where", "What it controls", "How", "Name in the hub"), (6, 7, 7, 5),
            (row for box in built.boxes for row in _does(built, box)), "No switch is in yet.",
        ),
        _lamps(built),
        listed("When something doesn’t work", HELPS, ""),
        listed("How to join or reset a device", dict.fromkeys(_resets(built)), "Nothing here is joined to a hub."),
        Section("Hub and account", (Para(f"The hub: {hub or 'not recorded'}."), Bullets(HAND_OVER, boxes=True))),
        listed(
            "What wasn’t tested", (row for box in built.boxes for row in _not_tested(job, box)),
            "Everything planned was tested.",
        ),
        Section("", (Para("Only an electrician should take off a cover plate, with its breaker off.", "small"),)),
    )  # fmt: skip
    return Paper("handover", "Handover", job.name, sections)


def _does(job: Job, box: Box) -> Iterator[tuple[str, ...]]:
    """In their own words, where they told some: what was wished, else its loads."""
    sheets = by_id(job.sheets)
    noted = {one.of: one for one in (box.built.commissioned if box.built else ())}
    for item in box.equipment:
        if not item.loads:
            continue
        sheet, one = sheets[item.sheet], noted.get(item.id)
        what = ", ".join(load.name or load.kind for load in item.loads)
        ways = ["on and off", *(["dims"] if sheet.dims else []), *(["works without Wi-Fi"] if sheet.local else [])]
        gang = f", gang {gang}" if len(box.equipment) > 1 and (gang := getattr(item, "gang", None)) else ""
        yield f"{box.room}, {box.name}{gang}", what, ", ".join(ways), one.name if one else ""


UNREAD_LABEL = "no more than the fixture’s label says: ____ W"
"""Where nobody read the label, it is read when a bulb is changed."""


def _lamps(job: Job) -> Section:
    rows = tuple(
        (
            f"{row.box.name}: {row.named or row.title}", f"{row.quantity} × {say((row.fitted,))} {row.kind}",
            say((row.largest,)) if row.largest else UNREAD_LABEL,
            say((row.most,)) if row.most else "see its sheet" if row.by_table else "not known",
            "dimmable" if row.dims else "",
        )
        for row in relamping(job.boxes, by_id(job.sheets), job.terms_at, job.volts)
    )  # fmt: skip
    if not rows:
        return Section("Which bulbs to use", (Para("No lights entered yet."),))
    head = ("Light", "Bulbs now", "Largest bulb", "The switch can take", "Bulb type")
    mind = "Never use a bulb larger than the fixture’s own label, whatever the switch can take."
    return Section("Which bulbs to use", (Table(head, rows, (7, 6, 6, 4, 4)), Para(mind, "small")))


def _resets(job: Job) -> Iterator[str]:
    sheets = by_id(job.sheets)
    for box in job.boxes:
        for item in radios(box, sheets):
            sheet = sheets[item.sheet]
            if sheet.joining is not None:
                reset = sheet.joining.reset
                again = f"To reset it: {reset}." if reset else "Its sheet doesn’t say how to reset it."
                yield f"{sheet.name}. To join: {joining_words(sheet.joining)}. {again}"
            else:
                yield f"{sheet.name}. To join: {sheet.pairing or 'its sheet doesn’t say'}."


def _not_tested(job: Job, box: Box) -> Iterator[str]:
    """What was refused, and what was not tried of what was planned."""
    done, _ = ticked(still_so(job.ticks, box), box.id)
    for said in not_done(job, box.id):
        yield f"{box.name}: {said}"
    tried = {step.subjects[:1] for step in done if step.kind in ("tried by hand", "tried over the network")}
    sheets = by_id(job.sheets)
    items = box.equipment
    left = [item_name(item, items, sheets) for item in items if item.loads and (item.id,) not in tried]
    if left:
        yield f"{box.name}: nobody tried {and_list(left)} by hand"
    joined = radios(box, sheets)
    if joined and not any(step.kind in IN_USE for step in done):
        names = ", ".join(item_name(item, items, sheets) for item in joined)
        yield f"{box.name}: {names} not set up yet"
    elif joined:  # its steps come from its hook-up, which is looked at only where they are begun
        near = wired_with(Documents(JobAtHand(job), {}), box)
        for each in progress_of_each(to_commission(near, box.id), job.ticks, box):
            if not each.over:
                yield f"{box.name}: {each.of.name} set up so far: {each.settled} of {len(each.steps)} steps"
