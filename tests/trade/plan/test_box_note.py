"""The note in a box: what a person who opens it next would get wrong, by hand; and never a code."""

from __future__ import annotations

from nail_count.trade.plan.box_note import box_notes
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.houses import box, job
from tests.trade.wiring.hookup.schemes import PROVEN


def beware(name: str) -> dict[str, tuple[str, ...]]:
    return {note.box.id: note.beware for note in box_notes(hooked_up(PROVEN[name]))}


def test_what_is_not_what_it_looks_like() -> None:
    assert beware("feed at the switch, smart") == {"a": ()}, "all is as it looks"
    assert beware("loop, switch") == {"a": ("A2 is white and is hot",), "lamp": ("B2 is white and is hot",)}
    module = beware("dry module at the outlet")
    assert module["a"] == ("A2 is white and carries a signal to an input",)
    through = beware("main, far end spliced through")
    assert through["b"] == (
        "A1 and B1 are joined straight through: nothing here switches them",
        "A2 capped: not in use here, and perhaps live",
    )


def test_two_circuits_and_none_known() -> None:
    two = box("a", "A2 B2", {"d1": "smart"}, "d1@B", other_circuits=["2"])
    (note,) = box_notes(job([two], "a.A=1 a.B=?"))
    assert note.beware == ("Two circuits or more: 1 and 2. All of them off",) and note.done == ("smart",)
    (note,) = box_notes(job([{**two, "circuit": None, "other_circuits": []}], "a.B=?"))
    assert note.beware == ("Which breaker feeds it was not found: the main off",)
