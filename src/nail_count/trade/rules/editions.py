"""What NEC 314.16 says, edition by edition: its figures and its articles as data.

Source: NFPA 70 (NEC), article 314.16; every figure from memory of the publication, not held against a printed copy.
An edition that differs is one more entry of [EDITIONS][].
"""

from dataclasses import dataclass
from fractions import Fraction

from ..model.answer import Rule
from ..model.gauge import Gauge, awg
from ..model.measure import parse_number

ALLOWANCES: dict[Gauge, Fraction] = {
    awg(18): parse_number("1.50"),
    awg(16): parse_number("1.75"),
    awg(14): parse_number("2.00"),
    awg(12): parse_number("2.25"),
    awg(10): parse_number("2.50"),
    awg(8): parse_number("3.00"),
    awg(6): parse_number("5.00"),
}
"""Volume allowance per conductor [in³], Table 314.16(B)(1) (before 2023: Table 314.16(B))."""


@dataclass(frozen=True, slots=True)
class Edition:
    """One edition of the rule."""

    name: str
    """As shown: NEC 2023."""
    grounds_in_one: int
    """How many grounds share the one allowance."""
    ground_past: Fraction
    """Share of an allowance for each ground past those."""
    isolated_apart: bool = False
    """Whether an isolated set of grounds takes an allowance of its own."""
    blocks_count: bool = False
    """Whether terminal blocks are counted."""

    def rule(self, article: str) -> Rule:
        """The rule at this article of this edition, under 314.16 unless it names another."""
        return Rule(self.name, f"314.16{article}" if article.startswith("(") else article)


@dataclass(frozen=True, slots=True)
class Cite:
    """Names articles of the job's own edition of the NEC; where another code holds, common practice."""

    code: str
    """Of the job: nec-2023, csa, uk."""

    @property
    def nec(self) -> bool:
        """Whether an edition of the NEC holds."""
        return self.code in EDITIONS

    def __call__(self, article: str) -> Rule:
        """The rule at an article."""
        if not self.nec:
            return Rule("common practice", "", "practice")
        return Rule(EDITIONS[self.code].name, article)


EDITIONS: dict[str, Edition] = {
    "nec-2017": Edition("NEC 2017", grounds_in_one=10**6, ground_past=Fraction(0), isolated_apart=True),
    "nec-2020": Edition("NEC 2020", grounds_in_one=4, ground_past=Fraction(1, 4)),
    "nec-2023": Edition("NEC 2023", grounds_in_one=4, ground_past=Fraction(1, 4), blocks_count=True),
}
"""What each edition says otherwise than the others."""
