"""What of a run does not fit, as a table: each end by itself."""

from __future__ import annotations

import pytest

from nail_count.trade.model.run import BoxEnd, CircuitEnd, OnwardEnd, Run, RunEnd
from nail_count.trade.rules.fit.run import run_misfits

CABLES = {"hall": ("A", "B")}


@pytest.mark.parametrize(
    ("end", "kind"),
    [
        (CircuitEnd(circuit="7"), None),
        (CircuitEnd(circuit="8"), "circuit"),
        (CircuitEnd(), None),
        (OnwardEnd(), None),
        (BoxEnd(box="hall", cable="A"), None),
        (BoxEnd(box="hall", cable="C"), "cable"),
        (BoxEnd(box="hall"), None),
        (BoxEnd(box="shed", cable="A"), "far_box"),
        (BoxEnd(box="shed"), "far_box"),
    ],
)
def test_an_end_must_be_there(end: RunEnd, kind: str | None) -> None:
    for one, other in ((end, OnwardEnd()), (OnwardEnd(), end)):
        found = run_misfits(Run(id="r", one=one, other=other), ("7",), CABLES.get)
        assert [wrong.field for wrong in found] == ([kind] if kind else [])
