"""Whether the neutral of the panel is in a box: one answer for the bench, the prohibitions, choosing and the survey."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from ...model.box import Box
from ...model.wire import Cable
from .live import live_test
from .live_points import circuits_in, old_cables
from .proof import NO_WIRE, Proven, proven
from .shown import shown

Standing = Literal["proven", "measured", "said", "open"]


@dataclass(frozen=True, slots=True)
class Neutral:
    """What holds of the neutral in a box."""

    there: bool | None
    """None: not known."""
    standing: Standing
    """Proven by readings; measured by a live test; told by somebody who looked; open."""
    why: str

    @property
    def words(self) -> str:
        """As a person reads it: yes, proven."""
        standing = {"said": "as entered"}.get(self.standing, self.standing)
        return "not known yet" if self.there is None else f"{'yes' if self.there else 'no'}, {standing}"


def neutral_in(box: Box, voltage: int, told: Proven | None = None, circuit: str | None = None) -> Neutral:
    """Tell whether a box holds the neutral of the panel; of a named circuit, the neutral of that circuit.

    A device takes the neutral of its own circuit and no other (NEC 200.4(A), 300.3(B), from memory of the publication).
    A cable that comes out brings none. Readings outrank records: a conductor that was traced to the panel and not
    found there is no neutral, and a live test that shows trouble leaves it open. A missing neutral is never proven: a
    broken one reads the same.

    Args:
        voltage: of a circuit to neutral [V].
        told: the roles its readings prove, where known already.
        circuit: which circuit's neutral is asked for; None: any.

    >>> neutral_in(Box(id="b", name="B", room="R", survey={"neutral": True}), 120).words
    'yes, as entered'
    """
    told = told or proven(box, voltage) if box.readings else None
    if (known := _traced(box, told, circuit) or _pulled(box) or _tested(box, voltage)) is not None:
        return known
    lost = set(_lost(box, voltage))
    if box.survey.neutral is not None and not (box.survey.neutral and lost):
        return Neutral(box.survey.neutral, "said", "as the survey found")
    named = [id for id in _asserted(box) if id not in lost]
    if named:
        return Neutral(True, "said", f"{', '.join(named)} taken for it")
    if lost:
        return Neutral(None, "open", f"{', '.join(sorted(lost))} does not reach the panel: broken, or no neutral")
    return Neutral(None, "open", "not checked yet")


def _traced(box: Box, told: Proven | None, circuit: str | None) -> Neutral | None:
    """What tracing to the panel says of the neutral, of that of a circuit where one is named; None where nothing."""
    here = {id for cable in box.entering for id in cable.conductor_ids}
    traced = {id: proof for id, proof in told.conductors.items() if proof.at == "panel neutral"} if told else {}
    of = {one.id: one.circuit for one in box.readings}
    any_one = circuit is None or len(circuits_in(box)) == 1
    mine = sorted(id for id, proof in traced.items() if id in here and (any_one or of[proof.by[0]] == circuit))
    if mine:
        return Neutral(True, "proven", f"{', '.join(mine)} traced to the panel")
    if traced and not any_one:
        others = ", ".join(f"{id} is the neutral of circuit {of[proof.by[0]]}" for id, proof in sorted(traced.items()))
        return Neutral(None, "open", f"{others}; this is on circuit {circuit}")
    return None


def _pulled(box: Box) -> Neutral | None:
    """The neutral that a new cable brings, whatever was in the box before; None where none does."""
    pulled = [cable.id for cable in box.entering if cable.id in box.contents.new and _says_neutral(cable)]
    return Neutral(True, "said", f"the new cable {', '.join(pulled)} brings it") if pulled else None


def _tested(box: Box, voltage: int) -> Neutral | None:
    """What the live test says of the neutral; None where it says nothing yet, or a cable it was made on comes out."""
    test = live_test(box, voltage)
    if test is None or set(box.contents.out) & {cable.id for cable in old_cables(box)}:
        return None
    if test.troubles:
        return Neutral(None, "open", "the live test doesn't fit a plain switch box")
    if test.neutral:
        tied = [wire for wire, found in test.wires.items() if found == "neutral"]
        return Neutral(True, "measured", f"{', '.join(tied)}: full voltage from the hot, nothing to ground")
    if test.neutral is False:
        return Neutral(False, "measured", "every wire is on a switch, and one of them is hot")
    return None


def _says_neutral(cable: Cable) -> bool:
    return any(conductor.asserted_role == "neutral" for conductor in cable.conductors)


def _asserted(box: Box) -> Iterator[str]:
    """The conductors somebody took for neutral."""
    for cable in box.entering:
        for id, conductor in zip(cable.conductor_ids, cable.conductors, strict=False):
            if conductor.asserted_role == "neutral":
                yield id


def _lost(box: Box, voltage: int) -> Iterator[str]:
    """The conductors taken for neutral that a trace to the panel does not find."""
    asserted = set(_asserted(box))
    for one in box.readings:
        if one.to == "panel neutral" and one.of in asserted and shown(one, voltage) in NO_WIRE:
            yield one.of
