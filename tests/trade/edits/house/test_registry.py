"""The panel and the house, as edits."""

from __future__ import annotations

from typing import Any

import pytest

from nail_count.trade.documents import HEAD as HEAD_ID
from nail_count.trade.documents import DocumentId, Documents, JobAtHand
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job, JobHead
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.circuit.panel import findings, leg

BOXES = (
    Box(id="a", name="A", room="Hall", circuit="1"),
    Box(id="b", name="B", room="Hall"),
    Box(id="c", name="C", room="Loft", circuit="2", other_circuits=("3",)),
)
HEAD = JobHead(name="House", order=("a", "b", "c"), circuits=(Circuit(id="1", space=1), Circuit(id="2", space=2)))


def at_hand(head: JobHead) -> JobAtHand:
    return JobAtHand(Job(**head.shared(), boxes=BOXES))


def act(head: JobHead, name: str, **said: Any) -> JobHead:
    return read_edit(name, said).apply(Documents(at_hand(head), {})).documents.head


def test_a_panel_as_it_is_found() -> None:
    head = act(HEAD, "put-circuit", id="3/5", breaker="30 A", space="3", poles="2", label="Dryer")
    head = act(head, "put-circuit", id="4a", space="4", half="a", label="Plugs")
    head = act(head, "put-circuit", id="4b", space="4", half="b", feeds="Porch")
    assert [circuit.id for circuit in head.circuits] == ["1", "2", "3/5", "4a", "4b"]
    head = act(head, "put-circuit", was="4b", id="4c", space="4", half="b", feeds="Porch and shed")
    assert head.circuits[-1].feeds == "Porch and shed"
    assert [circuit.id for circuit in act(head, "remove-circuit", id="3/5").circuits] == ["1", "2", "4a", "4c"]


@pytest.mark.parametrize(
    ("name", "said", "sentence"),
    [
        ("put-circuit", {"id": "9", "space": 1}, "two breakers"),
        ("put-circuit", {"id": "9", "space": 23, "poles": 2}, "space 25 of a panel with 24"),
        ("put-circuit", {"id": "9", "space": 3, "poles": 2, "half": "a"}, "not both"),
        ("put-circuit", {"id": "9", "space": 3, "neutral_with": "77"}, "not in the panel"),
        ("put-circuit", {"id": "2", "was": "1"}, "Pick another number; there is a circuit"),
        ("put-circuit", {"id": "7", "was": "1"}, "Put"),
        ("remove-circuit", {"id": "2"}, "Put"),
        ("set-panel", {"spaces": 7}, "even number"),
        ("set-floor", {"room": "Cellar", "floor": "below"}, "one of the rooms"),
        ("move-box", {"box": "a", "to": "up"}, "another room"),
        ("move-box", {"box": "zz", "to": "up"}, "one of the boxes"),
    ],
)
def test_what_cannot_be_is_refused(name: str, said: dict[str, Any], sentence: str) -> None:
    with pytest.raises(Rejected, match=sentence):
        act(HEAD, name, **said)


def test_a_box_moves_among_those_of_its_room_and_between_rooms() -> None:
    assert act(HEAD, "move-box", box="b", to="up").order == ("b", "a", "c")
    edited = read_edit("move-box", {"box": "b", "room": "Loft"}).apply(Documents(at_hand(HEAD), {}))
    assert edited.documents.box("b").room == "Loft" and edited.documents.head == HEAD
    assert edited.sentence == "Box “B” moved from Hall to Loft"
    assert set(edited.documents.changed) == {HEAD_ID, DocumentId("box", "b")}, "expected undo on either page"


def test_legs_alternate_by_row_and_a_pair_on_one_leg_is_found() -> None:
    """As rows of a split-phase panel alternate (common practice)."""
    assert [leg(Circuit(id="x", space=space)) for space in (1, 2, 3, 4, 5)] == ["A", "A", "B", "B", "A"]

    def states(one: int, other: int | None) -> list[str]:
        pair = [Circuit(id="1", space=one, neutral_with="2"), Circuit(id="2", space=other)]
        return [finding.state.word for finding in findings(pair, code="nec-2023")]

    assert states(1, 2) == ["fails", "open"] and states(1, 3) == ["open"] and states(1, None) == ["open", "open"]
    tandem = [Circuit(id="7a", space=7, half="a", neutral_with="7b"), Circuit(id="7b", space=7, half="b")]
    assert findings(tandem, code="nec-2023")[0].state.word == "fails"  # both halves of a space hang on one leg
