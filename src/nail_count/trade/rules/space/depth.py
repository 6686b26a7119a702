"""Depth: whether the bodies go in before they meet the back of the box.

Source: NFPA 70 (NEC) 314.24, from memory of the publication; for regions that go by depth, the maker's sheet and
common practice.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from ...model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Subject, Text, add_up
from ...model.box import Box, Device
from ...model.datasheet import Datasheet
from ...model.edition import EDITIONS, Code, counting
from ...model.figure import Figure, every_nec
from ...model.gauge import Gauge, awg, largest
from ...model.measure import parse_number

PRACTICE = Rule("Common practice", "", "practice")
NONE_ENCLOSED = Figure("1/2", "in", "No device enclosed", every_nec("314.24(A)"))
"""Least inside depth with no device enclosed [in]."""
SMALL_WIRE = Figure("15/16", "in", "Supplied by 14 AWG and smaller", every_nec("314.24(B)(5)"))
"""Supplied by 14 AWG and smaller [in]."""
MIDDLE_WIRE = Figure("1 3/16", "in", "Supplied by 12 or 10 AWG", every_nec("314.24(B)(4)"))
"""Supplied by 12 or 10 AWG [in]."""
LARGE_WIRE = Figure("2 1/16", "in", "Supplied by 8, 6 or 4 AWG", every_nec("314.24(B)(3)"))
"""Supplied by 8, 6 or 4 AWG [in]."""
CLEARANCE = Figure("1/4", "in", "Clearance behind a deep body", every_nec("314.24(B)"))
"""Behind a body that needs it [in]."""
DEEP_BODY = Figure("1 7/8", "in", "Deep whatever supplies it: a body past", every_nec("314.24(B)(1)"))
"""A body that reaches back further needs the clearance whatever supplies it [in]."""
FLAT_BODY = Figure("1", "in", "Deep on 12 or 10 AWG: a body past", every_nec("314.24(B)(4)"))
"""On 12 or 10 AWG a body that reaches back further needs the clearance [in]."""
ROOM_BEHIND = Figure("10", "mm", "Room behind a body where depth is the rule", PRACTICE)
"""Room for the conductors behind a body where depth is the rule [mm]."""
MM_PER_IN = parse_number("25.4")
SHEET = Rule("Maker's sheet", "", "sheet")
TITLE = ("Depth",)
FLUSH = Figure("1/4", "in", "Set-back allowed in a noncombustible wall", every_nec("314.20"))
"""How far a box may stand back in a noncombustible wall [in], 314.20."""


def depth_needed(gauge: Gauge | None, projection: Fraction | None) -> tuple[Fraction, str]:
    """The least inside depth NEC 314.24 asks for [in], and the row of it.

    Args:
        gauge: of the conductor that supplies the device; None where no device is enclosed.
        projection: how far the device reaches back behind the mounting plane [in]; None: not known.

    >>> depth_needed(awg(12), Fraction(13, 10))
    (Fraction(31, 20), '(B)(4)')
    """
    if gauge is None:
        return NONE_ENCLOSED, "(A)"
    if projection is not None and projection > DEEP_BODY:
        return projection + CLEARANCE, "(B)(1)"
    if gauge <= awg(14):
        return SMALL_WIRE, "(B)(5)"
    if gauge <= awg(10):
        if projection is not None and projection > FLAT_BODY:
            return max(MIDDLE_WIRE, projection + CLEARANCE), "(B)(4)"
        return MIDDLE_WIRE, "(B)(4)"
    return LARGE_WIRE, "(B)(3)"


def inside_depth(box: Box, code: Code) -> tuple[Line, ...]:
    """What the inside depth is made of [in]; () where the box was not measured and no trade size says it."""
    enclosure, size = box.enclosure, box.enclosure.size
    if enclosure.depth is not None:
        inches = enclosure.depth.inches
        first = Line(
            "depth", ("Inside depth",), Rule("Measured", "", "practice"), ("as measured",), Fraction(1), inches, inches
        )
    elif size is not None:
        rule = Rule(counting(code).name, "Table 314.16(A)")
        first = Line(
            "depth", (f"Trade size {size.name}",), rule, ("depth of its name",), Fraction(1), size.depth, size.depth
        )
    else:
        return ()
    rings = (
        Line(
            "depth",
            (ring.kind,),
            Rule("Measured", "", "practice"),
            ("adds its depth",),
            Fraction(1),
            ring.depth.inches,
            ring.depth.inches,
        )
        for ring in enclosure.rings
        if ring.depth is not None
    )
    return first, *rings


def depth(box: Box, sheets: Mapping[str, Datasheet], code: Code) -> Answer | None:
    """Whether every device has the depth it needs; None where the inside depth is not known.

    Where depth is the rule itself, a depth that is not known leaves the answer open.

    Args:
        sheets: the sheets its devices name, by id.
        code: NEC editions go by 314.24; regions that go by depth by the sheet, else by the body and room behind it.

    Returns:
        Lines in inches: what each device needs. The total is the most any needs; the limit the inside depth.
    """
    limit_lines = inside_depth(box, code)
    by_code = EDITIONS[code].device_depth
    if not limit_lines:
        return None if EDITIONS[code].volume != "none" else _not_measured(box)
    lines = tuple(_needs(box, sheets, code, by_code))
    limit = add_up(limit_lines)
    known = [line.value for line in lines if line.value is not None]
    total = max(known, default=Fraction(0))
    state: State
    headline: Text
    if total > limit:
        state, headline = State.FAILS, ("needs ", Amount(total, "in"), ", short by ", Amount(total - limit, "in"))
    elif any(line.value is None for line in lines):
        unknown = next(line for line in lines if line.value is None)
        state, headline = State.OPEN, (*unknown.what, ": ", *unknown.why)
    else:
        state, headline = State.HOLDS, (Amount(limit - total, "in"), " to spare")
    remarks = tuple(_remarks(box, sheets, limit, code))
    finding = next((remark for remark in remarks if remark.state > state), None)
    if finding is not None:
        state, headline = finding.state, finding.text
    return Answer(
        "depth", Subject("box", box.id), ("Depth",), "in", lines, limit_lines, total, limit, state, headline, remarks
    )


def _not_measured(box: Box) -> Answer:
    """Open: where depth is the rule, nothing passes before it is measured."""
    why: Text = ("measure it: here the depth decides",)
    unknown = Line("depth", ("Inside depth not known",), Rule("Measured", "", "practice"), why, Fraction(1), None, None)
    said: Text = ("inside depth not measured, and here depth decides",)
    return Answer(
        "depth", Subject("box", box.id), ("Depth",), "in", (), (unknown,), Fraction(0), None, State.OPEN, said
    )


def _needs(box: Box, sheets: Mapping[str, Datasheet], code: Code, by_code: bool) -> Iterator[Line]:
    devices = [device for device in box.devices if not sheets[device.sheet].is_blank]
    if not devices:
        if by_code:
            least, row = depth_needed(None, None)
            rule = Rule(counting(code).name, f"314.24{row}")
            yield Line("devices", ("No device enclosed",), rule, ("the least of any box",), Fraction(1), least, least)
        return
    for device in sorted(devices, key=lambda device: device.gang):
        yield _need(device, box, sheets[device.sheet], code, by_code)


def _need(device: Device, box: Box, sheet: Datasheet, code: Code, by_code: bool) -> Line:
    what: Text = (f"Gang {device.gang}: {sheet.name}",)
    part = (Part(device.id),)
    asked = None if sheet.least_depth is None else sheet.least_depth.inches
    back = None if sheet.body is None else sheet.body.projection.inches
    if not by_code:
        rule, why, needs = _by_body(asked, back, EDITIONS[code].volume != "none")
        return Line("devices", what, rule, why, Fraction(1), needs, needs, part)
    gauge = device.gauge or largest(box.gauges)
    if gauge is None:
        return Line("devices", what, SHEET, ("no conductor has been entered yet",), Fraction(1), None, None, part)
    needs, row = depth_needed(gauge, back)
    if asked is not None and asked > needs:
        return Line(
            "devices", what, SHEET, ("what its sheet asks for, more than the code",), Fraction(1), asked, asked, part
        )
    rule = Rule(counting(code).name, f"314.24{row}")
    why = (f"supplied by {gauge}", *((", reaches back ", Amount(back, "in")) if back is not None else ()))
    if back is None:
        why = (*why, "; its sheet gives no body, so only the least of the code is asked")
    return Line("devices", what, rule, why, Fraction(1), needs, needs, part)


def _by_body(asked: Fraction | None, back: Fraction | None, counted: bool) -> tuple[Rule, Text, Fraction | None]:
    """What a device needs where no article says so: its sheet's depth; else its body, and the room behind it.

    Where the volume is `counted`, the count sees the body, and the room behind it is practice that fails nothing.
    """
    if asked is not None:
        return SHEET, ("what its sheet asks for",), asked
    if back is None:
        return SHEET, ("its sheet gives neither a depth nor a body",), None
    if counted:
        return PRACTICE, ("how far it reaches back",), back
    why: Text = ("reaches back ", Amount(back, "in"), ", and 10 mm for the conductors behind it")
    return PRACTICE, why, back + ROOM_BEHIND / MM_PER_IN


def _remarks(box: Box, sheets: Mapping[str, Datasheet], limit: Fraction, code: Code) -> Iterator[Remark]:
    by_code = EDITIONS[code].device_depth
    for device in box.devices:
        spacer = sheets[device.sheet].spacer
        if spacer is not None:
            forward: Text = (f"gang {device.gang}: its spacer brings it forward by ", Amount(spacer.inches, "in"))
            yield Remark("spacer-credits-nothing", (*forward, "; nothing is credited for it"), SHEET)
        body = sheets[device.sheet].body
        if body is None or sheets[device.sheet].is_blank:
            continue
        if not by_code:
            behind = body.projection.inches + ROOM_BEHIND / MM_PER_IN
            if EDITIONS[code].volume != "none" and body.projection.inches <= limit < behind:
                left: Text = (f"gang {device.gang}: less than 10 mm is left behind it for the conductors",)
                yield Remark("little-room-behind", left, PRACTICE)
            continue
        gauge = device.gauge or largest(box.gauges)
        good = body.projection.inches + CLEARANCE
        asked = gauge is None or gauge > awg(14) or body.projection.inches > DEEP_BODY  # the article speaks for itself
        if limit < good and not asked:
            text: Text = (
                f"gang {device.gang}: good practice is ",
                Amount(good, "in"),
                ", so that no wire is pinched behind it",
            )
            yield Remark("little-room-behind", text, PRACTICE)
    setback, wall = box.survey.setback, box.survey.wall
    if setback is not None and setback.mm > 0:
        yield Remark(
            "set-back-not-credited",
            ("where the ears bear on the face of the wall, the bodies gain the set-back; the article credits none",),
            PRACTICE,
        )
        if wall == "combustible" or setback.inches > FLUSH:
            nec = EDITIONS[code].nec
            rule = Rule(EDITIONS[code].name, "314.20") if nec else PRACTICE
            back: Text = ("so far behind the face of this wall it needs a ring or an extension",)
            yield Remark("too-far-back", back, rule, State.FAILS if nec else State.HOLDS)
    if box.survey.plaster == "to clear":
        yield Remark("plaster-to-clear", ("paint and plaster in the box take room: clear them",), PRACTICE)
