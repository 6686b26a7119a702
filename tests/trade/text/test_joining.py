"""How a device joins its hub: every line a person may write is read back as it was meant."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.joining import COUNTED, JOIN_WAYS, UNTIMED, JoinAct, Joining
from nail_count.trade.text.joining import joining_words, read_joining, write_joining


@st.composite
def acts(draw: st.DrawFn) -> dict[str, Any]:
    way = draw(st.sampled_from(JOIN_WAYS))
    times = draw(st.integers(2, 20)) if way in COUNTED else None
    seconds = None if way in UNTIMED else draw(st.none() | st.integers(1, 60))
    return {"way": way, "times": times, "seconds": seconds}


@given(acts(), st.lists(acts(), max_size=4), st.none() | st.integers(5, 1800), st.sampled_from(["", "hold for 20 s"]))
def test_a_line_is_read_back(
    first: dict[str, Any], others: list[dict[str, Any]], window: int | None, reset: str
) -> None:
    made = Joining(**first, others=tuple(JoinAct(**one) for one in others), window=window, reset=reset)
    assert read_joining(write_joining(made)) == made
    words = joining_words(made)
    assert words.count(", or ") == len(others) and words[0].isupper()


@pytest.mark.parametrize("line", ["", "wish hard", "toggles", "code 5 s", "held button 3 times", "code or", "code; 5"])
def test_a_line_that_says_nothing_of_the_kind_is_refused(line: str) -> None:
    with pytest.raises(ValueError):
        read_joining(line)
