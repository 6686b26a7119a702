"""What a job can be judged under, edition by edition: every difference between two is data here.

An edition that is new is one more entry of [EDITIONS][], made from the one before it, so that what it does not change
still stands. Source: NFPA 70 (NEC) and CSA C22.1, from memory of the publications, not held against printed copies.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, WithJsonSchema

from .answer import Rule


@dataclass(frozen=True, slots=True)
class NecCount:
    """How an edition of the NEC counts volume, where editions differ: 314.16(B)(5) and (6)."""

    grounds_in_one: int
    """How many grounds share the one allowance."""
    ground_past: Fraction
    """Share of an allowance for each ground past those."""
    isolated_apart: bool
    """Whether an isolated set of grounds takes an allowance of its own."""
    blocks_count: bool
    """Whether terminal blocks are counted."""


@dataclass(frozen=True, slots=True)
class Edition:
    """One edition of a code, or a region's way of judging."""

    id: str
    """In documents: nec-2023."""
    name: str
    """In findings: NEC 2023."""
    title: str
    """Where it is chosen."""
    year: int
    """Of an edition; 0 for a region's way."""
    volume: Literal["nec", "csa", "none"]
    """Whose volume rule holds; none: depth and bulk decide."""
    count: NecCount | None
    """How the NEC counts in it; None where another code holds."""
    device_depth: bool
    """Whether 314.24 asks for a depth behind devices."""
    continuous: Literal["said", "presumed", "none"]
    """Which loads are continuous: those entered as continuous; all that nobody entered as not continuous; none."""
    small_wire: Rule | None
    """The rule that limits the breaker ahead of small conductors; None where there is none."""
    battery_control: bool
    """Whether a required light may not depend on a battery control alone, 210.70(A)(2)."""
    stair_dimming: bool = False
    """Whether stair lighting may be dimmed only where every place has the full range, 210.70(A)(2)."""
    outlets_counted: bool = False
    """Whether a circuit may have so many outlets only."""

    @property
    def nec(self) -> bool:
        """Whether it is an edition of the NEC."""
        return self.count is not None

    @property
    def nec_count(self) -> NecCount:
        """How it counts, where it is an edition of the NEC. Raises AssertionError where it is none."""
        assert self.count is not None
        return self.count

    def rule(self, article: str) -> Rule:
        """The rule at this article of it, under 314.16 unless it names another."""
        return Rule(self.name, f"314.16{article}" if article[:1] == "(" else article)

    def followed_by(self, id: str, name: str, year: int, **otherwise: object) -> Self:
        """The next edition: as this one, but for the fields that differ."""
        small_wire = Rule(name, self.small_wire.article) if self.small_wire else None
        new = {"id": id, "name": name, "title": name, "year": year, "small_wire": small_wire, **otherwise}
        return replace(self, **new)  # type: ignore[arg-type]


NEC_2017 = Edition(
    id="nec-2017",
    name="NEC 2017",
    title="NEC 2017",
    year=2017,
    volume="nec",
    count=NecCount(grounds_in_one=10**6, ground_past=Fraction(0), isolated_apart=True, blocks_count=False),
    device_depth=True,
    continuous="said",
    small_wire=Rule("NEC 2017", "240.4(D)"),
    battery_control=False,
)
NEC_2020 = NEC_2017.followed_by(
    "nec-2020",
    "NEC 2020",
    2020,
    count=NecCount(grounds_in_one=4, ground_past=Fraction(1, 4), isolated_apart=False, blocks_count=False),
    stair_dimming=True,
)
NEC_2023 = NEC_2020.followed_by(
    "nec-2023",
    "NEC 2023",
    2023,
    count=NecCount(grounds_in_one=4, ground_past=Fraction(1, 4), isolated_apart=False, blocks_count=True),
    battery_control=True,
)
CSA = Edition(
    id="csa",
    name="CSA C22.1",
    title="CSA C22.1, Canada",
    year=0,
    volume="csa",
    count=None,
    device_depth=False,
    continuous="presumed",
    outlets_counted=True,
    small_wire=Rule("CSA C22.1", "14-104"),
    battery_control=False,
)
BY_DEPTH = Edition(
    id="uk",
    name="by depth",
    title="by depth: UK and similar",
    year=0,
    volume="none",
    count=None,
    device_depth=False,
    continuous="none",
    small_wire=None,
    battery_control=False,
)
MODULAR = replace(BY_DEPTH, id="india", title="by depth: modular boxes")

EDITIONS: dict[str, Edition] = {one.id: one for one in (NEC_2023, NEC_2020, NEC_2017, CSA, BY_DEPTH, MODULAR)}
"""All there are, in the order they are offered."""


ESTIMATED_BY = NEC_2023
"""Whose count of wires and depths an estimate starts from, where the code of the job has none."""


def first_with(has: Callable[[Edition], bool]) -> Edition:
    """Return the earliest edition of the NEC that has a rule.

    >>> first_with(lambda edition: edition.stair_dimming).name
    'NEC 2020'
    """
    return min((one for one in EDITIONS.values() if one.nec and has(one)), key=lambda one: one.year)


def counting(code: str) -> Edition:
    """Return the edition whose count of wires an estimate starts from: that of the job, if it is of the NEC."""
    edition = EDITIONS[code]
    return edition if edition.nec else ESTIMATED_BY


def _known(code: str) -> str:
    if code not in EDITIONS:
        raise ValueError(f"Pick one of the editions {', '.join(EDITIONS)}")
    return code


Code = Annotated[str, AfterValidator(_known), WithJsonSchema({"type": "string", "enum": list(EDITIONS)})]
"""Which edition or region's way a job is judged under."""
