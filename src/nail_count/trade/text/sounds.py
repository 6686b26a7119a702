"""Whether two names sound alike when they are read aloud: to a hub that listens, they are then one.

Source: common practice; the sounds are those of the Metaphone code, with voiced and unvoiced consonants taken as one.
"""

from __future__ import annotations

import jellyfish

_AS_HEARD = str.maketrans("BDGVZJN", "PTKFSXM")
"""Consonants that are mixed up across a room: b and p, d and t, g and k, v and f, z and s, m and n."""


def as_heard(name: str) -> str:
    """The sound of a name: words run together, digits as they are.

    >>> as_heard("Bath light") == as_heard("Path lite"), as_heard("Hall 1") == as_heard("Hall 2")
    (True, False)
    """
    heard = jellyfish.metaphone("".join(one if one.isalpha() else " " for one in name)).replace(" ", "")
    digits = "".join(one for one in name if one.isdigit())
    return heard.translate(_AS_HEARD) + digits or name.casefold()


def sound_alike(one: str, other: str) -> bool:
    """Whether two names are one to whoever only hears them.

    >>> sound_alike("Den", "Ten"), sound_alike("Den", "Stair")
    (True, False)
    """
    return one.casefold() == other.casefold() or as_heard(one) == as_heard(other)
