"""Keys of jobs and boxes, as they stand in addresses."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection
from itertools import count


def slug(text: str) -> str:
    """A name as it stands in an address: small letters, digits, single hyphens; may be empty.

    >>> slug("Infants’ classroom, 2nd")
    'infants-classroom-2nd'
    """
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    return cut(re.sub(r"[^a-z0-9]+", "-", plain).strip("-"), LONGEST - 4)


LONGEST = 40
"""A key never is longer: the id of a box."""


def cut(key: str, most: int) -> str:
    """A key of at most so many characters, never ending in a hyphen.

    >>> cut("upstairs-hall-by-the-door", 14)
    'upstairs-hall'
    """
    return key[:most].strip("-")


def free_key(wanted: str, taken: Collection[str]) -> str:
    """The key wanted, or with a number behind it where it is taken; shortened where it would be too long.

    >>> free_key("hall", {"hall", "hall-2"})
    'hall-3'
    """

    def numbered(n: int) -> str:
        end = "" if n == 1 else f"-{n}"
        return f"{cut(wanted, LONGEST - len(end))}{end}"

    return next(key for n in count(1) if (key := numbered(n)) not in taken)
