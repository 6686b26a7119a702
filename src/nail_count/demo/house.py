"""Puts the made-up house into a database."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from importlib.resources import files

from ..files.job_json import read_job
from ..files.photo import take_in
from ..store.store import Store
from ..trade.model.datasheet import Datasheet
from ..trade.model.survey import Photo
from ..trade.wiring.simulate.hub import SimulatedHub

DEMO_KEY = "schoolhouse"
LEAFLET_OF = "ostrel-wide-dimmer"
"""The sheet whose leaflet the demo has a picture of."""

OPEN_BOX_OF = ("front-door", "washroom")
"""The boxes whose survey the demo has a picture of."""
DONE = "washroom"
"""The box that is wholly done: hooked up, proven, in its hub, on record."""
IN_HUB = "m1"
"""Its device that the simulated hub holds."""
LOOKED = datetime(2026, 3, 2, 9, 20)
"""When it was taken."""


@lru_cache
def library() -> tuple[Datasheet, ...]:
    """Return the invented sheets that ship: what a job from nothing begins with."""
    return read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes()).sheets


def put_demo(store: Store) -> None:
    """The demo house, where it is not there yet, with the picture of one leaflet and of one open box."""
    if store.has_job(DEMO_KEY):
        return
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    leaflet, open_box = _picture(store, "leaflet.png"), _picture(store, "open-box.png")
    sheets = tuple(s.changed(leaflet=leaflet) if s.id == LEAFLET_OF else s for s in job.sheets)
    seen = Photo(id=open_box, caption="as found, the old switch out", at=LOOKED)
    boxes = tuple(
        box.changed(survey=box.survey.changed(photos=(*box.survey.photos, seen))) if box.id in OPEN_BOX_OF else box
        for box in job.boxes
    )
    store.add_job(job.changed(sheets=sheets, boxes=boxes), DEMO_KEY)
    store.put_code(DEMO_KEY, DONE, IN_HUB, "0417-MADE-UP")
    store.ask_hub(DEMO_KEY, _brought_in)


def _brought_in(hub: SimulatedHub) -> None:
    """The hub as it was left after the box that is done."""
    at = f"{DONE}/{IN_HUB}"
    hub.place(at, "joins")
    hub.look_for(at, 240)
    hub.do("join", at)
    hub.update(at)
    hub.call(at, "Vanity mirror")


def _picture(store: Store, name: str) -> str:
    """Keeps a picture that ships with the demo; its id."""
    photo = take_in((files("nail_count.demo") / name).read_bytes())
    store.add_photo(photo)
    return photo.id
