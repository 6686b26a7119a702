"""Depth by hand: NEC 314.24 and 314.20, from memory; elsewhere the sheet, else the body and 10 mm (common practice)."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.survey import Survey
from nail_count.trade.rules.space.depth import depth
from tests.support import BLANK, box, cables, figures, on


def device(projection: str | None, least: str | None = None, id: str = "one") -> Datasheet:
    body = {"width": "1.5 in", "height": "2.5 in", "projection": projection} if projection else None
    return Datasheet.model_validate({"id": id, "name": "One", "kind": "dimmer", "body": body, "least_depth": least})


def asked(
    inside: str,
    *sheets: Datasheet,
    code: Any = "nec-2023",
    size: str = "14/2",
    survey: Survey | None = None,
    **more: Any,
) -> Answer:
    standing = tuple(on(gang, one) for gang, one in enumerate(sheets, 1))
    made = box("60 in3", max(len(sheets), 1), cables(size) if size else (), standing, depth=inside, **more)
    answer = depth(made.changed(survey=survey or Survey()), {one.id: one for one in (*sheets, BLANK)}, code)
    assert answer is not None
    return answer


@pytest.mark.parametrize(
    ("inside", "projection", "size", "state", "said"),
    [
        ("15/16 in", "0.9 in", "14/2", State.HOLDS, ("0",)),
        ("0.93 in", "0.9 in", "14/2", State.FAILS, ("0.9375", "0.0075")),
        ("1.25 in", "1 in", "12/2", State.HOLDS, ("0.0625",)),
        ("1.25 in", "1.01 in", "12/2", State.FAILS, ("1.26", "0.01")),
        ("2 in", "1 7/8 in", "14/2", State.HOLDS, ("1.0625",)),
        ("2.1 in", "1.88 in", "14/2", State.FAILS, ("2.13", "0.03")),
        ("1/2 in", None, "", State.HOLDS, ("0",)),
    ],
)
def test_the_american_rows(inside: str, projection: str | None, size: str, state: State, said: tuple[str, ...]) -> None:
    answer = asked(inside, *((device(projection),) if projection else ()), size=size)
    assert (answer.state, figures(answer.headline)) == (state, tuple(map(F, said))), "to spare; or needs, and short by"
    assert all(line.count == 1 and line.each == line.value for line in (*answer.lines, *answer.limit_lines))


def test_the_sheet_outranks_the_code_only_where_it_asks_for_more() -> None:
    rules = {}
    for least in ("0.5 in", "15/16 in", "2 in", None):
        (line,) = asked("3 in", device("0.9 in", least)).lines
        rules[least] = (line.rule.source, line.value, F("0.9") in figures(line.why))
    nec = ("NEC 2023", F(15, 16), True)
    assert rules == {"0.5 in": nec, "15/16 in": nec, "2 in": ("Maker's sheet", F(2), False), None: nec}
    (line,) = asked("3 in", device(None)).lines
    assert figures(line.why) == (14,), "only the least of the code is asked"
    assert asked("3 in", device(None), size="").state is State.OPEN


def test_rings_add_their_depth_and_devices_stand_from_the_left() -> None:
    rings = [{"kind": "Plaster ring", "depth": "1/2 in"}, {"kind": "Ring"}]
    answer = asked("1 in", device("1 in"), device("1.3 in", id="two"), rings=rings)
    assert [line.value for line in answer.limit_lines] == [1, F(1, 2)] and answer.limit == F(3, 2)
    assert [figures(line.what) for line in answer.lines] == [(1,), (2,)], "by their gangs"
    sized = box("4x2-1/8 square", 1, cables("14/2"), (on(1, device("1 in")),))
    by_name = depth(sized, {"one": device("1 in")}, code="nec-2023")
    assert by_name is not None and by_name.limit == F(17, 8) and by_name.limit_lines[0].count == 1
    blank = asked("1 in", BLANK, device("1 in"))
    assert [figures(line.what) for line in blank.lines] == [(2,)]


@pytest.mark.parametrize(
    ("inside", "code", "codes"),
    [
        ("1.25 in", "nec-2023", []),
        ("1.24 in", "nec-2023", ["little-room-behind"]),
        ("1.5 in", "csa", []),
        ("1.39 in", "csa", ["little-room-behind"]),
        ("1 in", "csa", ["little-room-behind"]),
        ("0.99 in", "csa", []),
    ],
)
def test_little_room_behind_a_body_is_a_remark(inside: str, code: Any, codes: list[str]) -> None:
    """A body of 1 in: a quarter inch under the NEC where no article asks it, 10 mm (0.394 in) by practice elsewhere."""
    answer = asked(inside, BLANK, device("1 in"), code=code)
    assert [one.code for one in answer.remarks] == codes
    if codes and code == "nec-2023":
        assert F("1.25") in figures(answer.remarks[0].text)


def test_no_remark_where_the_article_asks_it_itself() -> None:
    assert asked("1.1 in", device("1 in"), size="12/2").remarks == ()


@pytest.mark.parametrize(
    ("setback", "wall", "codes", "state"),
    [
        ("0 in", None, [], State.HOLDS),
        ("0 in", "combustible", [], State.HOLDS),
        ("0.1 mm", "combustible", ["set-back-not-credited", "too-far-back"], State.FAILS),
        ("1/4 in", "noncombustible", ["set-back-not-credited"], State.HOLDS),
        ("0.26 in", "noncombustible", ["set-back-not-credited", "too-far-back"], State.FAILS),
        ("0.5 mm", None, ["set-back-not-credited"], State.HOLDS),
    ],
)
def test_how_far_back_a_box_may_stand(setback: str, wall: str | None, codes: list[str], state: State) -> None:
    answer = asked("3 in", device("1 in"), survey=Survey.model_validate({"setback": setback, "wall": wall}))
    assert ([one.code for one in answer.remarks], answer.state) == (codes, state)


def test_plaster_to_clear_is_said_and_only_that() -> None:
    said = {
        value: [one.code for one in asked("3 in", device("1 in"), survey=Survey(plaster=value)).remarks]
        for value in ("to clear", "clear", None)
    }
    assert said == {"to clear": ["plaster-to-clear"], "clear": [], None: []}


@pytest.mark.parametrize(
    ("projection", "least", "needs"),
    [("1 in", None, 1 + F(100, 254)), ("1 in", "40 mm", F(400, 254)), (None, "40 mm", F(400, 254)), (None, None, None)],
)
def test_where_depth_is_the_rule(projection: str | None, least: str | None, needs: F | None) -> None:
    """The sheet's own depth first, else the body and 10 mm; not measured is open."""
    answer = asked("2 in", device(projection, least), code="uk")
    assert answer.lines[0].value == needs and answer.state is (State.OPEN if needs is None else State.HOLDS)
    unmeasured = box("60 in3", 1, cables("14/2"), (on(1, device("1 in")),))
    for code, opened in (("uk", True), ("nec-2023", False), ("csa", False)):
        found = depth(unmeasured, {"one": device("1 in")}, code)
        assert (found is not None) == opened
        assert found is None or (found.state, found.total, found.limit_lines[0].count) == (State.OPEN, F(0), F(1))


def test_every_line_of_depth_is_one_thing() -> None:
    rings = [{"kind": "Plaster ring", "depth": "1/2 in"}]
    answers = [
        asked("3 in", device("0.9 in", "2 in"), device(None, id="two"), rings=rings),
        asked("3 in", device(None), size=""),
        asked("3 in", device("1 in", "40 mm"), device(None, id="two"), code="uk"),
    ]
    for answer in answers:
        assert all(line.count == 1 for line in (*answer.lines, *answer.limit_lines))
    assert (answers[1].total, answers[1].state) == (0, State.OPEN)


def test_ten_millimeters_to_the_hair_and_each_body_by_itself() -> None:
    """25.4 and 10 mm are 35.4 mm: exactly that is room enough; a body not known says nothing of the next one."""
    assert asked("35.4 mm", device("1 in"), code="csa").remarks == ()
    later = asked("35.3 mm", device(None), device("1 in", id="two"), code="csa")
    assert [one.code for one in later.remarks] == ["little-room-behind"]
    both = asked("35.3 mm", device("1 in"), device("1.1 in", id="two"), code="csa")
    assert [figures(one.text)[0] for one in both.remarks] == [1, 2], "by their gangs"
