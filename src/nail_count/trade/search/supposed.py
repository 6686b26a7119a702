"""What can be taken as so while looking for ways: what a look may show, what the customer may agree to give up."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ..model.answer import State
from ..model.box import Box
from ..model.job import Job, by_id
from ..model.wish import Does, Wish
from ..rules.check import BoxCheck
from ..rules.wires.neutral import neutral_in
from .site import Site

NEUTRAL_THERE = "the neutral: one must be in the box"
NO_NEUTRAL = "whether a neutral is in the box. This is for a box without one"
NO_LONGER: Mapping[Does, str] = {
    "on and off": "no longer switches its load",
    "dim": "no longer dims",
    "fan speed": "no longer changes the fan’s speed",
    "countdown": "no longer turns off by itself after a while",
    "schedule": "no longer keeps a schedule",
    "looks lived in": "no longer makes the house look lived in",
}
"""What the customer gives up with each thing a device did."""


def waits_for_neutral(check: BoxCheck) -> bool:
    """Whether something in a box needs a neutral, and nobody knows whether one is there."""
    return any(
        remark.code == "neutral-not-known" and remark.state is State.OPEN
        for answer in check.answers
        for remark in answer.remarks
    )


def neutral_unknown(job: Job, box: Box) -> bool:
    """Whether nobody knows whether a neutral is in a box."""
    return neutral_in(box, job.terms_at(box).voltage).there is None


def with_neutral(job: Job, key: str, there: bool) -> Job:
    """Return the job as it is if a look finds a neutral in a box, or finds none."""
    boxes = (
        box.changed(survey=box.survey.changed(neutral=there)) if box.id == key else box for box in job.boxes
    )  # fmt: skip
    return job.changed(boxes=tuple(boxes))


def if_agreed(job: Job, key: str) -> Iterator[Job]:
    """Yield the job as it is if the customer agrees to another network, then if switching alone is enough.

    Only what nobody has asked about is taken so: no hub is entered, or no wish for the gang.
    """
    (box,) = (one for one in job.boxes if one.id == key)
    if not any(device.loads for device in box.devices):
        return
    sheets = by_id(job.sheets)
    there = {sheets[item.sheet].radio for one in job.boxes for item in one.equipment}
    others = {sheet.radio for sheet in job.sheets} - there - {""}
    for network in sorted(others) if not job.house.hub else ():
        yield job.changed(house=job.house.changed(hub=network))
    asked = tuple(Wish(id=f"gang{gang}") for gang in range(len(box.wishes) + 1, box.enclosure.gangs + 1))
    if asked:
        less = box.changed(wishes=(*box.wishes, *asked))
        yield job.changed(boxes=tuple(less if one is box else one for one in job.boxes))


def given_up(job: Job, key: str, after: Box) -> str:
    """Say what a customer gives up where devices are replaced: "Hall no longer dims"; "" for nothing.

    Nothing is given up of what a wish leaves out.
    """
    site = Site(job, key)
    then = {device.id: site.sheets[device.sheet] for device in after.devices}
    said = []
    for device in site.box.devices:
        was, now = site.sheets[device.sheet], then.get(device.id)
        lost = [
            NO_LONGER[one]
            for one in was.does
            if now is not None and one not in now.does and one in site.wished(site.box, device)
        ]
        if now is not None and now.radio != was.radio:
            instead = f" instead of the {was.radio}" if was.radio else ""
            lost.append(f"needs the {now.radio}{instead}" if now.radio else f"is no longer on the {was.radio}")
        said += [f"{device.name or was.name} {one}" for one in lost]
    return "; ".join(said)
