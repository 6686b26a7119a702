"""What the NEC allows a conductor, and how its articles are cited.

Source: NFPA 70 (NEC), Table 314.16(B)(1); from memory of the publication, not held against a printed copy. What the
editions say otherwise is in [edition][nail_count.trade.model.edition].
"""

from dataclasses import dataclass

from ..model.answer import Rule
from ..model.edition import EDITIONS, Edition
from ..model.figure import Figure, every_nec, table
from ..model.gauge import Gauge, awg

ALLOWANCES: dict[Gauge, Figure] = table(
    "in3",
    "{}",
    every_nec("Table 314.16(B)(1)"),
    {
        awg(18): "1.50",
        awg(16): "1.75",
        awg(14): "2.00",
        awg(12): "2.25",
        awg(10): "2.50",
        awg(8): "3.00",
        awg(6): "5.00",
    },
)
"""Volume allowance per conductor [in³], Table 314.16(B)(1) (before 2023: Table 314.16(B))."""


@dataclass(frozen=True, slots=True)
class Cite:
    """Names articles of the job's own edition of the NEC; where another code holds, common practice."""

    code: str
    """Of the job: nec-2023, csa, uk."""

    @property
    def edition(self) -> Edition:
        """What the job is judged under."""
        return EDITIONS[self.code]

    @property
    def nec(self) -> bool:
        """Whether an edition of the NEC holds."""
        return self.edition.nec

    def __call__(self, article: str) -> Rule:
        """The rule at an article."""
        return Rule(self.edition.name, article) if self.nec else Rule("common practice", "", "practice")
