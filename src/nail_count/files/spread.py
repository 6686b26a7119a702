"""A table as people save it from a spreadsheet: whatever its encoding, its separator, its decimal point."""

from __future__ import annotations

import csv
import re
from dataclasses import dataclass
from io import StringIO

from .job_json import BadFile

MOST_BYTES = 900_000
"""A table above this size is refused unread: of a house of 2,000 boxes it is a third of that."""
MOST_ROWS = 2000
MOST_COLUMNS = 60
_SEPARATORS = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}
_DECIMAL_COMMA = re.compile(r"\d+,\d{1,2}")


@dataclass(frozen=True, slots=True)
class Spread:
    """A table as it was read."""

    rows: tuple[tuple[str, ...], ...]
    """All of one length; rows without a word in them are left out."""
    separator: str
    decimal_comma: bool
    """Whether a comma between digits is a decimal point."""

    @property
    def width(self) -> int:
        """How many columns."""
        return len(self.rows[0])

    @property
    def how(self) -> str:
        """How it was read, in a few words."""
        comma = ", decimal comma" if self.decimal_comma else ""
        return f"{len(self.rows)} rows, {self.width} columns, parted by {_SEPARATORS[self.separator]}{comma}"


def text_of(content: bytes) -> str:
    """The text in a file: UTF-8 or UTF-16 where it says so or is such, else as older spreadsheets save it.

    Raises:
        BadFile: it is too large, or no text.

    >>> text_of("Entrée".encode("utf-16")), text_of("Entrée".encode("cp1252"))
    ('Entrée', 'Entrée')
    """
    if len(content) > MOST_BYTES:
        raise BadFile.because(f"Pick a table of at most {MOST_BYTES // 1000} kB: one of a whole house is smaller")
    if content[:4] == b"PK\x03\x04":
        raise BadFile.because("This is a spreadsheet. Save it as CSV first")
    codes = ("utf-16",) if content[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252", "latin-1")
    for code in codes:
        try:
            text = content.decode(code)
        except UnicodeDecodeError:
            continue
        if any(ord(letter) < 32 and letter not in "\t\r\n\f" for letter in text):
            break
        return text
    raise BadFile.because("This is no text. Save the table as CSV first")


def read_spread(text: str) -> Spread:
    """The table in a text.

    Raises:
        BadFile: there is none in it, or a larger one than a house has.

    >>> read_spread("name;volume\\nBench;20,3\\n").how
    '2 rows, 2 columns, parted by semicolons, decimal comma'
    """
    if len(text) > MOST_BYTES:
        raise BadFile.because(f"choose a table of at most {MOST_BYTES // 1000} kB: one of a whole house is smaller")
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines:
        raise BadFile.because("There is nothing in this table")
    try:
        separator = max(_SEPARATORS, key=lambda one: (_steady(lines[:20], one), one == ","))
        read = list(csv.reader(StringIO(text, newline=""), delimiter=separator, strict=False))
    except csv.Error as wrong:
        raise BadFile.because(f"save the table as CSV; this one has a cell that can't be read: {wrong}") from wrong
    rows = [[cell.strip() for cell in row] for row in read if any(cell.strip() for cell in row)]
    width = max((len(row) for row in rows), default=0)
    if not rows or width > MOST_COLUMNS:
        raise BadFile.because(f"Use a table of at most {MOST_COLUMNS} columns, with something in it")
    if len(rows) > MOST_ROWS + 1:
        raise BadFile.because(f"Use at most {MOST_ROWS} rows: as many boxes as a house has")
    comma = separator != "," and any(_DECIMAL_COMMA.fullmatch(cell) for row in rows for cell in row)
    return Spread(tuple(tuple(row + [""] * (width - len(row))) for row in rows), separator, comma)


def _steady(lines: list[str], separator: str) -> float:
    """How well a separator parts lines: into how many columns, less where lines differ."""
    counts = [len(next(csv.reader([line], delimiter=separator), [])) for line in lines]
    same = max(counts.count(count) for count in set(counts)) / len(counts)
    return same * (max(counts) > 1) * min(max(counts), 3)
