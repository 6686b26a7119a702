"""Tables as people save them: whatever encoding, separator and decimal point; what is no table is said to be none."""

from __future__ import annotations

import csv
from io import BytesIO, StringIO

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from nail_count.files.job_json import BadFile
from nail_count.files.spread import MOST_BYTES, MOST_ROWS, read_spread, text_of

CODES = ("utf-8", "utf-8-sig", "utf-16", "cp1252")
CELLS = st.text(st.characters(codec="cp1252", categories=("L", "N", "P", "S", "Zs")), max_size=12).map(str.strip)


def written(rows: list[list[str]], separator: str) -> str:
    out = StringIO()
    csv.writer(out, delimiter=separator).writerows(rows)
    return out.getvalue()


@given(st.lists(st.lists(CELLS, min_size=3, max_size=3), max_size=6), st.sampled_from(",;\t|"), st.sampled_from(CODES))
def test_what_was_written_is_read_whatever_the_separator_and_the_encoding(
    rows: list[list[str]], separator: str, code: str
) -> None:
    table = [["Box", "Room", "Volume"], *([a or "x", b, c] for a, b, c in rows)]
    content = written(table, separator).encode(code)
    if code == "cp1252" and content.decode("utf-8", "ignore").encode() == content:
        return  # the same bytes in UTF-8, which is tried first
    read = read_spread(text_of(content))
    steady = all(other not in cell for row in table for cell in row for other in ",;\t|" if other != separator)
    if steady:
        assert read.separator == separator and [list(row) for row in read.rows] == table


@pytest.mark.parametrize(
    ("text", "comma"),
    [
        ("a;b\nx;20,3", True),
        ("a,b\nx,20.3", False),
        ("a\tb\nx\t9,5", True),
        ("a;b\nx;20.3", False),
        ('a,b\nx,"9,5"', False),
    ],
)
def test_a_decimal_comma_is_one_only_where_commas_part_nothing(text: str, comma: bool) -> None:
    assert read_spread(text).decimal_comma is comma


def test_what_is_no_table_of_a_house_is_refused_with_a_sentence() -> None:
    for content, said in (
        (b"\0\1\2", "no text"),
        (b"\x89PNG\r\n\x1a\n\0\0", "no text"),
        (b"name,room\n" + b"x" * MOST_BYTES, "at most 900 kB"),
        (b"name,room\n" * 5_000_000, "at most 900 kB"),
    ):
        with pytest.raises(BadFile, match=said):
            text_of(content)
    for text, said in (
        ("", "There is nothing in this table"),
        (" \n \n", "There is nothing in this table"),
        (",,\n,,", "with something in it"),
        ("a," * 70, "60 columns"),
        ("name,room\n" + "x,y\n" * (MOST_ROWS + 1), "2000 rows"),
    ):  # fmt: skip
        with pytest.raises(BadFile, match=said):
            read_spread(text)


def test_a_spreadsheet_itself_is_told_from_a_table() -> None:
    file = BytesIO()
    Workbook().save(file)
    with pytest.raises(BadFile, match="This is a spreadsheet"):
        text_of(file.getvalue())


@given(st.binary(max_size=300))
def test_any_bytes_are_a_table_or_a_sentence(content: bytes) -> None:
    try:
        read = read_spread(text_of(content))
    except BadFile as wrong:
        assert wrong.problems[0].sentence[:1].isupper()
    else:
        assert read.rows and len({len(row) for row in read.rows}) == 1
