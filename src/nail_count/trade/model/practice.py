"""A hidden box to practice on: which arrangement, and which of its many wirings."""

from typing import Annotated

from pydantic import Field

from .thing import Thing


class Practice(Thing):
    """What the hidden box is made from; the same two always make the same box."""

    arrangement: Annotated[str, Field(max_length=60)]
    seed: Annotated[int, Field(ge=0, lt=2**32)]
    broken: bool = False
    """Whether a conductor may be broken beyond the box."""
    shown: bool = False
    """Whether the person has given in and looked."""
