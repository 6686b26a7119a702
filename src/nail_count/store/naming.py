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
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:36].strip("-")


def free_key(wanted: str, taken: Collection[str]) -> str:
    """The key wanted, or with a number behind it where it is taken.

    >>> free_key("hall", {"hall", "hall-2"})
    'hall-3'
    """
    return next(key for n in count(1) if (key := wanted if n == 1 else f"{wanted}-{n}") not in taken)
