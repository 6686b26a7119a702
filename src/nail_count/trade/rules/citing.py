"""How an article is cited: from the edition of the NEC that the job uses; where another code holds, common practice."""

from dataclasses import dataclass

from ..model.answer import Rule
from ..model.edition import EDITIONS, Edition


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
