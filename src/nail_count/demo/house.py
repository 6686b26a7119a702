"""Puts the made-up house into a database."""

from __future__ import annotations

from importlib.resources import files

from ..files.job_json import read_job
from ..files.photo import take_in
from ..store.store import Store

DEMO_KEY = "schoolhouse"
LEAFLET_OF = "ostrel-wide-dimmer"
"""The sheet whose leaflet the demo has a picture of."""


def put_demo(store: Store) -> None:
    """The demo house, where it is not there yet, with the picture of one leaflet."""
    if store.has_job(DEMO_KEY):
        return
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    photo = take_in((files("nail_count.demo") / "leaflet.png").read_bytes())
    store.add_photo(photo.id, photo.body, photo.small, photo.width, photo.height)
    sheets = tuple(s.changed(leaflet=photo.id) if s.id == LEAFLET_OF else s for s in job.sheets)
    store.add_job(job.changed(sheets=sheets), DEMO_KEY)
