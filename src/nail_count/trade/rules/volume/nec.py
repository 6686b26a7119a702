"""Counting volume by NEC 314.16: the limit of a box against its contents."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from ...model.answer import Amount, Answer, Remark, State, Subject, Text, add_up, limit_of
from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.edition import EDITIONS, Edition
from ...model.job import ModuleCounting
from ..conductor_volumes import ALLOWANCES
from .allowances import judge
from .capacity import capacity
from .nec_lines import blocks, clamps, conductors, devices, fittings, grounds, leads, modules
from .spaces import Space, spaces


def fill(box: Box, sheets: Mapping[str, Datasheet], code: str) -> Answer:
    """Whether the box has the volume for its contents.

    Args:
        box: the box with its cables and devices.
        sheets: the sheets its devices name, by id.
        code: which edition, a key of [EDITIONS][nail_count.trade.model.edition.EDITIONS].

    Returns:
        Lines and limit in in³, one line per kind of thing, with a zero where the rule counts nothing.

    Raises:
        KeyError: a device names a sheet that is not given, or the edition is not known.

    Source: NFPA 70 (NEC) 2023, 314.16(A) and (B), from memory of the publication.

    >>> from nail_count.trade.model.enclosure import Enclosure
    >>> from nail_count.trade.model.box import Device
    >>> from nail_count.trade.model.measure import Volume
    >>> from nail_count.trade.model.wire import Cable
    >>> from nail_count.trade.text.format import say
    >>> old_work = Enclosure(volume=Volume.parse("22.5 in3"), clamps=True)
    >>> cables = [Cable(id=c, gauge=12, insulated=n) for c, n in (("A", 2), ("B", 2), ("C", 3))]
    >>> switch = Datasheet(id="switch", name="Plain switch", kind="switch")
    >>> inside = {"enclosure": old_work, "devices": [Device(id="d1", gang=1, sheet="switch")]}
    >>> box = Box(id="hall", name="Hall", room="Hall", cables=cables, planned=inside)
    >>> say(fill(box, {"switch": switch}, "nec-2023").headline)
    'over by 2.25 in³: one 12 AWG conductor too many'
    """
    return fill_of(spaces(box, sheets)[0], sheets, code)


def fill_of(space: Space, sheets: Mapping[str, Datasheet], code: str, school: ModuleCounting = "larger") -> Answer:
    """The same for one space of a box; a module is counted by the job's school."""
    edition, box = EDITIONS[code], space.box
    lines = (
        *conductors(box, edition),
        clamps(box, edition, space.of == 1),
        *fittings(box, edition),
        *devices(box, sheets, edition, space.first, space.last),
        *modules(box, sheets, school),
        *grounds(box, edition),
        *blocks(box, edition),
        *leads(box, sheets, edition),
    )
    limit_lines = capacity(space, edition.rule("(A)"), edition.rule("Table 314.16(A)"))
    total, limit = add_up(lines), limit_of(limit_lines)
    state, headline = judge(box.gauges, lines, total, limit=limit, allowances=ALLOWANCES, unit="in3")
    unseen = _clamps_not_seen(box, edition, total, limit) if space.of == 1 and state.passes else None
    if unseen is not None:
        state, headline = unseen.state, unseen.text
    title = ("Volume",) if space.of == 1 else (f"Volume, gangs {space.first} to {space.last}",)
    subject = Subject("box", box.id) if space.of == 1 else Subject("space", box.id, space.number)
    remarks = (*_remarks(box, edition), *([unseen] if unseen else []))
    return Answer("fill", subject, title, "in3", lines, limit_lines, total, limit, state, headline, remarks)


def _clamps_not_seen(box: Box, edition: Edition, total: Fraction, limit: Fraction | None) -> Remark | None:
    """Ask for a look where a metal box holds only without clamps inside.

    Common practice: many metal boxes are sold with them.
    """
    inside = box.enclosure
    if inside.material != "metal" or inside.clamps or "clamps" in box.survey.looked or limit is None:
        return None
    clamped = box.changed(planned=box.contents.changed(enclosure=inside.changed(clamps=True)))
    more = clamps(clamped, edition, True).value
    if more is None or total + more <= limit:
        return None
    text: Text = ("it holds only without clamps inside: look, metal boxes often have them",)
    ways = ("look inside, and answer in the survey", "a box with room to spare")
    return Remark("clamps-not-seen", text, edition.rule("(B)(2)"), State.OPEN, ways)


def _remarks(box: Box, edition: Edition) -> tuple[Remark, ...]:
    remarks = []
    volume = box.enclosure.volume
    if volume is None and box.enclosure.size is None and box.enclosure.measured is not None:
        text: Text = (
            "the volume is measured, which is an estimate: find the mark or the trade size before relying on it",
        )
        remarks.append(Remark("volume-measured", text, edition.rule("(A)")))
    if volume is not None and volume.unit != "in3":
        text = (
            Amount(volume.value, volume.unit),
            " was turned into ",
            Amount(volume.in3, "in3"),
            "; printed metric marks are rounded, so",
        )
        remarks.append(
            Remark("mark-turned-into-in3", (*text, " if the box shows in³ too, enter that"), edition.rule("(A)"))
        )
    present = set(box.gauges)
    for device in box.devices:
        if device.gauge is not None and present and device.gauge not in present:
            text = (f"gang {device.gang} is recorded with {device.gauge} on it, but none enters the box",)
            remarks.append(Remark("gauge-not-in-box", text, edition.rule("(B)(4)")))
    return tuple(remarks)
