"""The hook-up of a box as it was built, for the next electrician: what joins what, readings, pictures, deviations."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ...compare.boxes import differences
from ...documents import Documents, JobAtHand, wired_with
from ...model.box import Box
from ...model.commissioned import Commissioned
from ...model.job import Job, by_id
from ...model.splice import Splice
from ...model.tick import standing, ticked
from ...text.device import item_name
from ...text.format import figure
from ...text.wires import name_of_splice
from ...wiring.hookup.look import HookUp, look
from ...wiring.hookup.readings import expected
from ...wiring.hookup.stages import Named, ends_of, node_of
from ...wiring.hookup.work import held
from ..begun import still_so
from .paper import Block, Drawn, Paper, Para, Pictures, Section, listed, tabled


def not_done(job: Job, box: str) -> Iterator[str]:
    """Each step of a box that was refused, with why.

    Args:
        job: with its ticks.
    """
    _, refused = ticked(job.ticks, box)
    for step, tick in refused.items():
        yield f"{step.kind}: not done, {tick.because}"


NOT_SAID = "What was built isn't recorded yet: this is the plan."


def as_built_job(job: Job) -> Job:
    """The house with every box as it was built, where that is known, else as it is planned."""
    if not any(box.built for box in job.boxes):
        return job
    boxes = tuple(box.as_in(box.built) if box.built is not None else box for box in job.boxes)
    return job.changed(boxes=boxes)


def built_look(job: Job, key: str) -> HookUp:
    """The hook-up of a box as it was built, with the boxes it is wired together with."""
    whole = as_built_job(job)
    box = next(one for one in whole.boxes if one.id == key)
    return look(wired_with(Documents(JobAtHand(whole), {}), box), key)


def as_built_paper(job: Job, box: Box) -> Paper:
    """The record of one box.

    Args:
        job: the house, with its ticks.
        box: one of its boxes.
    """
    seen = built_look(job, box.id)
    named = ends_of(seen.job, seen.box, "planned")
    checked = (
        f"Checked in all {seen.proof.states} states." if seen.state.passes else "Not checked. Don’t work from it alone."
    )
    fed = f"Turn off breaker {' and '.join(seen.breakers)} before you touch it." if seen.breakers else ""
    said = "As built." if box.built is not None else NOT_SAID
    head: list[Block] = [Para(f"{said} {checked} {fed}".strip(), "strong")]
    if seen.said:
        head.append(Drawn("hook-up", box.id, built=True))
    joined = [one for one in seen.box.splices if one.ends]
    rows = ((name_of_splice(one.name, one.id), ", ".join(_ends(one, named)), _connector(seen, one)) for one in joined)
    sections = (
        Section("", tuple(head)),
        tabled("Splices", ("Splice", "What meets", "In"), (4, 12, 5), rows, "Nothing is joined yet."),
        _devices(job, box),
        _readings(job, seen, named),
        Section("Pictures", (Pictures(tuple(_pictures(box))) if box.survey.photos else Para("None taken."),)),
        listed("Deviations from the plan", _deviations(job, box), "None known."),
    )
    return Paper("as-built", "As built", job.name, sections, box.id, f"{box.room}: {box.name}")


def _ends(splice: Splice, named: Mapping[str, Named]) -> Iterator[str]:
    words = {one.end: one.words for one in named.values()}
    return (words.get(end, "a jumper") for end in splice.ends)


def _connector(seen: HookUp, splice: Splice) -> str:
    there = held(seen.box, splice, by_id(seen.job.sheets))
    size = splice.connector.size if splice.connector else there.size
    return f"{size} connector" if size else "under the screw"


def _devices(job: Job, box: Box) -> Section:
    """Its contents, each with the notes on it."""
    sheets, noted = by_id(job.sheets), {one.of: one for one in (box.built.commissioned if box.built else ())}
    rows = []
    items = (box.built or box.contents).equipment
    for item in items:
        sheet, one = sheets[item.sheet], noted.get(item.id, Commissioned(of=item.id))
        settings = "; ".join(f"{each.name} {each.value}" for each in one.settings)
        rows.append(
            (item_name(item, items, sheets), f"{sheet.maker} {sheet.name}".strip(), one.serial, one.firmware, settings)
        )
    return tabled("Devices", ("Device", "Sheet", "Serial", "Firmware", "Set"), (4, 5, 4, 3, 8), rows, "None.")


def _readings(job: Job, seen: HookUp, named: Mapping[str, Named]) -> Section:
    """The readings taken, beside the expected values."""
    should = expected(seen.seen, seen.box.id, job.terms_at(seen.box).voltage)
    nodes = {node_of(seen.box.id, one.end): one.words for one in named.values()}
    now = still_so(standing(job.ticks), seen.box)  # a reading says nothing about what was joined another way then
    taken = [tick for tick in now if tick.box == seen.box.id and tick.step.kind == "measured"]
    rows = []
    for tick in taken:
        point, state = tick.step.subjects
        says = should.get(point, {}).get(state)
        volts = f"{figure(tick.step.volts)} V" if tick.step.volts is not None else ""
        rows.append((nodes.get(point, point), state, volts, says.says if says else "not known"))
    return tabled("Readings taken", ("Point", "With", "Shown", "Expected"), (6, 6, 3, 6), rows, "None.")


def _pictures(box: Box) -> Iterator[tuple[str, str]]:
    for photo in box.survey.photos:
        yield photo.id, f"{photo.caption or 'Picture'}, {photo.at:%Y-%m-%d}"


def _deviations(job: Job, box: Box) -> Iterator[str]:
    if box.built is not None:
        yield from differences(box, box.as_in(box.built), by_id(job.sheets))
    yield from not_done(job, box.id)
