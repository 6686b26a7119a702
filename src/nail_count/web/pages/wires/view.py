"""What the screen shows of a box's conductors."""

from __future__ import annotations

from dataclasses import dataclass

from ....drawing.wires import Wires, wires
from ....store.snapshots import BoxSnapshot
from ....trade.model.conductor import COLORS, ROLES, Reading
from ....trade.wiring.identify.infer import Inference
from ....trade.wiring.identify.next_reading import Next, next_reading
from ....trade.wiring.identify.practice_score import Score, inference_of, score
from ....trade.wiring.identify.reading_words import in_words
from ....trade.wiring.identify.suffice import missing, suffice
from ... import urls
from ...form_errors import FormErrors, Notice


@dataclass(frozen=True, slots=True)
class WiresView:
    """What the screen shows of a box's conductors."""

    kept: BoxSnapshot
    errors: FormErrors
    notice: Notice
    worked: Inference
    following: Next | None
    drawn: Wires
    score: Score | None

    @property
    def base(self) -> str:
        """Where the acts of this screen go."""
        return urls.box(self.kept.job.key, self.kept.box.id, "wires")

    @property
    def practice(self) -> bool:
        """Whether it is a hidden box, measured with the simulated meter."""
        return self.kept.box.practice is not None

    @property
    def colors(self) -> list[tuple[str, str]]:
        """Colors to choose from."""
        return [("", "not looked at"), *((color, color) for color in COLORS)]

    @property
    def roles(self) -> list[tuple[str, str]]:
        """Roles to choose from."""
        return [("", "not known"), *((role, role) for role in ROLES)]

    @property
    def ids(self) -> list[tuple[str, str]]:
        """Conductors to choose from."""
        return [(told.id, told.id) for told in self.worked.conductors]

    @property
    def circuits(self) -> list[str]:
        """The circuits that may feed the box."""
        return list(self.worked.circuits)

    def splice(self, conductor: str) -> str:
        """What people call the splice a conductor was found in; "" for none."""
        found = self.kept.box.spliced(conductor)
        return found.name or found.id if found else ""

    def proves(self, conductor: str) -> list[tuple[str, bool]]:
        """The readings that would prove what a conductor is taken for, in words, and whether each was taken."""
        left = missing(self.worked, conductor)
        return [(in_words(one), one not in left) for one in suffice(self.worked, conductor)]

    def words(self, reading: Reading) -> str:
        """A reading taken, in plain words."""
        return in_words(reading)


def wires_view(kept: BoxSnapshot, errors: FormErrors, notice: Notice) -> WiresView:
    """The conductors of a box, told apart."""
    head, box = kept.job.head, kept.box
    worked = inference_of(box, head.terms, head.house.year, kept.ends)
    following = None if worked.stop else next_reading(worked)
    shown = box.practice is not None and box.practice.shown
    return WiresView(
        kept, errors, notice, worked, following, wires(box, worked), score(box, head.terms) if shown else None
    )
