"""Facts nobody has entered that the proof must know: colors, where cables go, where a feed comes from, ends left
over."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass

from ...model.answer import Text
from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.job import Job
from ...model.run import WordsEnd
from ...model.splice import ConductorEnd, End, LeadEnd, conductor_end
from ...text.format import say
from .colors import not_seen
from .feeds import Feeds
from .network import Node
from .stages import Stage, cables_at, contents_at, far_end, node_of

MOST_NAMED = 4
"""Ends in no splice, by their names; more are counted."""


@dataclass(frozen=True, slots=True)
class Unsaid:
    """Something nobody has entered that the proof must know."""

    box: str
    code: str
    text: Text
    of: str = ""
    """The device, the sheet or the other box it is about."""


def colors_not_seen(box: Box, stage: Stage) -> Iterator[Unsaid]:
    """The cables of a box whose wire colors aren’t entered."""
    unseen = [cable.id for cable in cables_at(box, stage) if not_seen(cable)]
    if unseen:
        of = f"{'cable' if len(unseen) == 1 else 'cables'} {', '.join(unseen)}"
        text: Text = (f"{box.name}: the colors of {of} aren't entered, and are taken as these cables are sold",)
        yield Unsaid(box.id, "colors-not-seen", text)


def ways_not_said(job: Job, box: Box, stage: Stage, lit: Collection[Node]) -> Iterator[Unsaid]:
    """The cables of a box whose far ends nobody entered, or the loads there.

    `lit`: the nodes at which loads take their hot.
    """
    for cable in cables_at(box, stage):
        if far_end(job, box.id, cable.id) is None:
            yield Unsaid(box.id, "way-not-said", (f"{box.name}: where cable {cable.id} goes is not known",))
    used = {one.cable for item in contents_at(box, stage).equipment for one in item.loads}
    for cable in cables_at(box, stage):
        is_lit = any(f"{box.id}/{id}" in lit for id in cable.conductor_ids)
        if isinstance(far_end(job, box.id, cable.id), WordsEnd) and cable.id not in used and not is_lit:
            text: Text = (f"{box.name}: the load at the far end of cable {cable.id} is not known",)
            yield Unsaid(box.id, "end-not-said", text)


def feed_not_followed(box: Box, feeds: Feeds) -> Iterator[Unsaid]:
    """That the feed of a hooked-up box comes through one that is not, or by no run at all."""
    lacking = feeds.lacking(box)
    if lacking:
        text: Text = (f"{box.name}: its feed comes through {feeds.boxes[lacking].name}, which is not hooked up yet",)
        yield Unsaid(box.id, "feed-not-followed", text, lacking)
    elif lacking is not None and box.id not in feeds.unnamed:
        yield Unsaid(box.id, "feed-not-followed", (f"{box.name}: by which cable its feed comes is not known",))


def beyond_not_known(box: Box, letter: str, beyond: Box) -> Unsaid:
    """That nobody can tell what a cable of a hooked-up box carries to one that is not."""
    what = f"cable {letter} leads to {beyond.name}, which is not hooked up, and what it carries is not known"
    return Unsaid(box.id, "beyond-not-known", (f"{box.name}: {what}",), beyond.id)


def ground_not_picked(box: Box, stage: Stage, sheets: Mapping[str, Datasheet]) -> Iterator[Unsaid]:
    """Ask what makes a device with a ground terminal safe where no ground comes into its box."""
    items = contents_at(box, stage).equipment
    needs = any(one.role == "ground" for item in items for one in sheets[item.sheet].terminals)
    if needs and box.survey.ground_way in (None, "sheath"):  # armor was picked, and none enters
        text: Text = (f"{box.name}: no ground comes here; pick what makes it safe without one, in the survey",)
        yield Unsaid(box.id, "ground-not-picked", text)


def in_no_splice(
    box: Box, stage: Stage, sheets: Mapping[str, Datasheet], names: Mapping[Node, Text]
) -> Iterator[Unsaid]:
    """The conductors and leads of a hooked-up box that are neither joined nor capped; a screw may stay empty."""
    contents = contents_at(box, stage)
    spliced = {end for splice in contents.splices for end in splice.ends}
    if not spliced:
        return
    ends: list[End] = [conductor_end(id) for cable in cables_at(box, stage) for id in cable.conductor_ids]
    for item in contents.equipment:
        for number, one in enumerate(sheets[item.sheet].terminals, 1):
            if one.kind == "lead" and one.role != "ground":
                ends.append(LeadEnd(of=item.id, terminal=number))
    left = [one for one in ends if one not in spliced]
    called = [one.of if isinstance(one, ConductorEnd) else say(names[node_of(box.id, one)]) for one in left]
    if len(left) == 1:
        yield Unsaid(box.id, "in-no-splice", (f"{box.name}: {called[0]} is in no splice; join it, or cap it",))
    elif left:
        what = ", ".join(called) if len(left) <= MOST_NAMED else f"{len(left)} ends"
        yield Unsaid(box.id, "in-no-splice", (f"{box.name}: {what} are in no splice; join each, or cap it",))
