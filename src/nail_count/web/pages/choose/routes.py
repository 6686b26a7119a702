"""What can go there: every option for a gang and a wish, with every reason for and against."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....store.snapshots import BoxSnapshot
from ....trade.assume.usual import usual
from ....trade.model.box import Box, Device
from ....trade.model.wish import Wish
from ....trade.select.options import options
from ....trade.select.situation import Situation
from ....trade.text.choices import CHOICES
from ....trade.wiring.identify.neutral import at_fixture, end_here, likely_neutral
from ....trade.wiring.identify.practice_score import inference_of
from ...deps import TheStore
from ...templating import render
from .view import BESIDE, compared, ruled_out

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/choose", include_in_schema=False)


@router.get("")
def show(
    request: Request, *, store: TheStore, job: str, box: str, gang: int = 0, wish: str = "", neutral: str = ""
) -> Response:
    """The options for one gang, ranked; for the first empty one where none is named."""
    kept = store.box(job, box)
    head, at = kept.job.head, kept.box
    filled = {one.gang for one in at.devices}
    gang = gang or next((number for number in range(1, at.enclosure.gangs + 1) if number not in filled), 1)
    gang = min(max(gang, 1), at.enclosure.gangs)
    wishes = at.wishes or (Wish(id="none"),)
    asked = next((one for one in wishes if one.id == wish), wishes[min(gang, len(wishes)) - 1])
    worked = inference_of(at, head.terms, head.house.year, kept.ends)
    standing = next((one for one in at.devices if one.gang == gang), None)
    found = kept.job.neutral(at, at.circuit_of(standing) if standing else at.circuit)
    terms = head.terms_at(at)
    assumed = () if found.there is not None or neutral else usual(_begun(at, kept), kept.job.sheets, terms, kept.ends)
    taken = {"yes": True, "no": False}.get(neutral, assumed[0].neutral if assumed else found.there)
    fixture, proven = at_fixture(worked)
    situation = Situation(
        at,
        gang,
        asked,
        kept.job.sheets,
        taken,
        terms,
        head.house.hub,
        end_here(worked),
        fixture,
        proven,
        kept.job.volts,
        bool(assumed),
        store.around(job, at),
    )
    found_options = options(situation)
    choices, alike = compared([one for one in found_options if one.possible and not one.for_other_cases])
    others, _ = compared([one for one in found_options if one.possible and one.for_other_cases])
    return render(
        request,
        "choose/page.html",
        kept=kept,
        gang=gang,
        there=standing,
        asked=asked,
        stays=CHOICES["stays"][1],
        found=found,
        likely=likely_neutral(worked),
        neutral=neutral,
        taken=taken,
        assumed=assumed,
        choices=choices,
        others=others,
        alike=alike,
        beside=BESIDE,
        ruled_out=ruled_out(found_options),
    )


def _begun(box: Box, kept: BoxSnapshot) -> Box:
    """Return the box with a plain switch in each gang while nothing is planned in it: its wiring is as usual."""
    sheets = kept.job.sheets.values()
    plain = next((one.id for one in sheets if one.kind == "switch" and not one.is_three_way), "")
    if box.devices or not plain:
        return box
    gangs = range(1, box.enclosure.gangs + 1)
    return box.changed(devices=tuple(Device(id=f"d{gang}", gang=gang, sheet=plain) for gang in gangs))
