"""Runs: one cable between two ends. The only place that tells where a cable goes."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator

from .measure import Length
from .thing import Id, Mark, Thing


class BoxEnd(Thing):
    """A cable's entry into a box of the house."""

    kind: Literal["box"] = "box"
    box: Id
    cable: Mark | None = None
    """Its letter there; None: not known which."""


class CircuitEnd(Thing):
    """The panel."""

    kind: Literal["circuit"] = "circuit"
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which circuit of it; None: not known."""


class OnwardEnd(Thing):
    """It goes on to something outside this job."""

    kind: Literal["onward"] = "onward"


class WordsEnd(Thing):
    """What somebody told of it, which is no evidence."""

    kind: Literal["words"] = "words"
    words: Annotated[str, Field(min_length=1, max_length=60)]

    @property
    def place(self) -> str:
        """The place alone.

        >>> WordsEnd(words="to Hall").place
        'Hall'
        """
        return self.words.strip().removeprefix("to ").strip()


RunEnd = Annotated[BoxEnd | CircuitEnd | OnwardEnd | WordsEnd, Field(discriminator="kind")]


To = Literal["", "circuit", "box", "onward", "words"]
"""What a cable goes to: not known; the panel; another box or an outlet; out of this job; what somebody calls it."""


class Run(Thing):
    """One cable from one end to the other."""

    id: Id
    one: RunEnd
    other: RunEnd
    length: Length | None = None
    """As measured or guessed; None: neither."""
    passes: Id | None = None
    """A box of the house that can be got at, which it passes so closely that it could end there; None: not known."""
    fished: bool | None = None
    """Of a new cable: whether it is fished through closed walls, without staples; None: not known."""
    near_holes: Annotated[int, Field(ge=0, le=200)] = 0
    """Of a new cable: through how many holes that are too near to the face of a stud."""

    @field_validator("length")
    @classmethod
    def _some_length(cls, length: Length | None) -> Length | None:
        if length is not None and not 0 < length.mm <= 300_000:
            raise ValueError("Enter a length above 0 and at most 300 m (984 ft)")
        return length

    @property
    def box_ends(self) -> tuple[BoxEnd, ...]:
        """Those of its ends that are at boxes of the house."""
        return tuple(end for end in (self.one, self.other) if isinstance(end, BoxEnd))

    def far_from(self, box: str, cable: str) -> RunEnd | None:
        """Its other end, seen from a cable of a box; None where it does not end there."""
        here = BoxEnd(box=box, cable=cable)
        if self.one == here:
            return self.other
        return self.one if self.other == here else None


def end_in_words(words: str, circuit: str | None) -> RunEnd:
    """What was meant where a person only had words for it: two are ends, all others stay words.

    Args:
        words: as typed.
        circuit: what feeds the box.

    >>> end_in_words("Feed", "7"), end_in_words("to the lamp", "7")
    (CircuitEnd(kind='circuit', circuit='7'), WordsEnd(kind='words', words='to the lamp'))
    """
    meant = words.strip().casefold()
    if meant == "feed":
        return CircuitEnd(circuit=circuit)
    if meant == "onward":
        return OnwardEnd()
    return WordsEnd(words=words.strip())
