"""Values: equal ones have one hash, whatever was worked out of them and however they were made."""

from __future__ import annotations

from copy import copy

from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.box import Box
from nail_count.trade.model.conductor import Reading
from nail_count.trade.model.wire import Cable


@given(st.integers(1, 6), st.sampled_from(["14", "12", "2.5 mm2"]), st.booleans())
def test_equal_values_are_one_in_a_set(insulated: int, gauge: str, asked: bool) -> None:
    one, other = (Cable.model_validate({"id": "A", "gauge": gauge, "insulated": insulated}) for _ in range(2))
    if asked:
        assert len(one.conductor_ids) == insulated and hash(one) == hash(one)
    box, same = (Box(id="b", name="B", room="R", cables=(cable,)) for cable in (one, other))
    assert one == other and {one, other} == {one} and {box: 1}[same] == 1


@given(st.sampled_from(["A1", "B2"]), st.booleans())
def test_a_copy_with_other_fields_is_another_value(of: str, asked: bool) -> None:
    """What was worked out of the one is not taken for the other's."""
    reading = Reading.model_validate({"id": "r1", "kind": "volts", "of": of, "volts": "120"})
    if asked:
        hash(reading)
    other = reading.model_copy(update={"volts": 0})
    assert hash(other) == hash(reading.changed(volts=0)) != hash(reading) and other != reading
    assert copy(reading) == reading and hash(copy(reading)) == hash(reading)
    cable = Cable.model_validate({"id": "A", "gauge": 14, "insulated": 2})
    assert cable.conductor_ids == ("A1", "A2")
    assert cable.model_copy(update={"insulated": 3}).conductor_ids == ("A1", "A2", "A3")
