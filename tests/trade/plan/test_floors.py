"""The boxes of a house on a map: each stands once, rooms stay together, and a sheet never takes too many."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.box import Box
from nail_count.trade.plan.floors import bands, sheets

ROOMS = [f"Room {number}" for number in range(8)]
FLOORS = {room: f"Floor {number // 3}" for number, room in enumerate(ROOMS)}
STANDING = st.lists(st.sampled_from(ROOMS), max_size=90)
ON_PAPER = 4 * 3 * 2
"""Two bands of three columns of four boxes are read on a letter sheet; measured on paper."""


def boxes(rooms: list[str]) -> list[Box]:
    return [Box(id=f"b{number}", name=f"Box {number}", room=room) for number, room in enumerate(rooms)]


@given(STANDING, st.integers(1, 7))
def test_each_box_stands_once_and_no_band_is_too_wide(rooms: list[str], most: int) -> None:
    made = boxes(rooms)
    laid = bands(made, FLOORS, most)
    stand = [(band.floor, box) for band in laid for column in band.columns for box in column.boxes]
    assert sorted(box.id for _, box in stand) == sorted(box.id for box in made)
    assert all(FLOORS[box.room] == floor for floor, box in stand)
    assert all(1 <= len(band.columns) <= most for band in laid)
    assert all({box.room for box in column.boxes} == {column.room} for band in laid for column in band.columns)
    for band in laid:
        named = [column.room for column in band.columns if column.first]
        assert named == list(dict.fromkeys(column.room for column in band.columns)), "each room is named once a band"
    floors = [band.floor for band in laid if band.first]
    assert floors == list(dict.fromkeys(band.floor for band in laid)), "each floor is named once"


@given(STANDING)
def test_a_sheet_holds_what_can_be_read_and_all_sheets_hold_the_house(rooms: list[str]) -> None:
    made = boxes(rooms)
    each = sheets(made, FLOORS)
    assert sorted(box.id for here in each for box in here) == sorted(box.id for box in made)
    assert all(1 <= len(here) <= ON_PAPER for here in each)


def test_a_room_that_fits_a_band_is_not_torn() -> None:
    """Five boxes and nine: two columns and three, so the second begins a band of its own."""
    laid = bands(boxes(["Room 0"] * 5 + ["Room 1"] * 9), FLOORS, 4)
    assert [[column.room for column in band.columns] for band in laid] == [["Room 0"] * 2, ["Room 1"] * 3]
