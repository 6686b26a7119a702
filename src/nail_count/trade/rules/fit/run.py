"""Whether a run fits its job: the boxes, cables and circuits it ends at."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator

from ...model.run import BoxEnd, CircuitEnd, Run
from .box import Misfit

CablesOf = Callable[[str], Collection[str] | None]
"""The letters of the cables of a box, by its key; None where there is no such box."""


def run_misfits(run: Run, circuits: Collection[str], cables: CablesOf) -> tuple[Misfit, ...]:
    """What of a run does not fit.

    Args:
        circuits: ids of the job's circuits.
        cables: the letters of the cables of a box.

    >>> lost = Run(id="r", one=BoxEnd(box="hall", cable="A"), other=CircuitEnd(circuit="7"))
    >>> [one.sentence for one in run_misfits(lost, ("7",), {"hall": ("B",)}.get)]
    ['cable A of “hall” has a run, and is not there']
    """
    return tuple(_found(run, circuits, cables))


def _found(run: Run, circuits: Collection[str], cables: CablesOf) -> Iterator[Misfit]:
    mend = "leave open where that cable goes"
    for end in (run.one, run.other):
        if isinstance(end, CircuitEnd) and end.circuit is not None and end.circuit not in circuits:
            sentence = f"a cable goes by its record to circuit “{end.circuit}”, which is not among the circuits"
            yield Misfit("run", run.id, sentence, mend, "circuit")
        if isinstance(end, BoxEnd):
            letters = cables(end.box)
            if letters is None:
                sentence = f"a cable goes by its record to the box “{end.box}”, which is not there"
                yield Misfit("run", run.id, sentence, mend, "far_box")
            elif end.cable is not None and end.cable not in letters:
                sentence = f"cable {end.cable} of “{end.box}” has a run, and is not there"
                yield Misfit("run", run.id, sentence, mend, "cable")
