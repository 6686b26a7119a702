"""From a cause that was found, the step of its box to go back to."""

from __future__ import annotations

from collections.abc import Sequence

from ...wiring.hookup.readings import SingleFault
from .step import InstallStep


def back_to(steps: Sequence[InstallStep], fault: SingleFault) -> int:
    """Which step of a box a fault leads back to, from 1: the splice that joined what came apart; else the comparison.

    Args:
        steps: of the box the fault is in.
        fault: what was found.
    """
    named = [number for number, one in enumerate(steps, 1) if fault.splice and fault.splice in one.step.subjects]
    kind = "compared" if fault.box else "energised"
    others = [number for number, one in enumerate(steps, 1) if one.step.kind == kind]
    return (named or others or [1])[0]
