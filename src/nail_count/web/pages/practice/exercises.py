"""What there is to practice on: boxes of the houses that ship, hooked up for a fault, bare to be hooked up, crowded."""

from __future__ import annotations

from functools import lru_cache
from importlib.resources import files

from ....files.job_json import read_job
from ....trade.documents import Documents, JobAtHand, wired_with
from ....trade.edits.hookup import ProposeHookup
from ....trade.model.box import Box
from ....trade.model.errors import Rejected
from ....trade.model.job import Job

HOOKED: tuple[tuple[str, str], ...] = (
    ("schoolhouse", "pantry"), ("hallway", "hallway"), ("schoolhouse", "front-door"), ("schoolhouse", "washroom"),
)  # fmt: skip
"""Boxes that can be hooked up, each with its house, from plain to odd."""
CROWDED: tuple[tuple[str, str], ...] = (
    ("schoolhouse", "cloakroom"), ("schoolhouse", "bell-room"), ("schoolhouse", "stair-foot"),
)  # fmt: skip
"""Boxes that fail as they are planned."""


@lru_cache(maxsize=2)
def shipped(house: str) -> Job:
    """A house that ships. At most two are kept."""
    return read_job((files("nail_count.demo") / f"{house}.json").read_bytes())


def hooked(number: int) -> tuple[Job, str]:
    """A box hooked up and proven, with all that it is wired together with, and its key."""
    house, key = HOOKED[number]
    documents = Documents(JobAtHand(shipped(house)), {})
    try:
        documents = ProposeHookup(box=key).apply(documents).documents
    except Rejected as wrong:
        raise AssertionError(f"{key} can't be hooked up: {wrong}") from wrong
    return wired_with(documents, documents.box(key)), key


def bare(number: int) -> tuple[Job, str]:
    """The same box and its group with nothing joined: to be hooked up."""
    job, key = hooked(number)
    bared = [_new(box, box.changed(splices=()).contents) for box in job.boxes]
    boxes = tuple(sorted(bared, key=lambda box: box.id != key))  # the one that is worked on comes first
    return _job(job, f"Practice: hook up {_named(job, key)}", boxes), key


def crowded(number: int) -> tuple[Job, str]:
    """A box that fails as it is planned, and that is what was found in it: to be made to hold."""
    house, key = CROWDED[number]
    job = shipped(house)
    box = next(one for one in job.boxes if one.id == key)
    mine = _new(box, box.contents).changed(found=box.contents)
    return _job(job, f"Practice: {box.name}, crowded", (mine,)), key


def _new(box: Box, contents: object) -> Box:
    """The box as planned only: nothing was found, built or noted of it."""
    return box.changed(found=None, built=None, planned=contents)


def _named(job: Job, key: str) -> str:
    return next(box.name for box in job.boxes if box.id == key)


def _job(job: Job, name: str, boxes: tuple[Box, ...]) -> Job:
    """A house of these boxes, with the runs between them and from the panel."""
    keys = {box.id for box in boxes}
    runs = tuple(run for run in job.runs if {end.box for end in run.box_ends} <= keys)
    return job.changed(name=name, boxes=boxes, runs=runs, ticks=(), shelf=())
