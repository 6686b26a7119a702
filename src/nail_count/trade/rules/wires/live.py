"""Measure what the wires at old switches are, by looking at the old wiring and one live test."""

from __future__ import annotations

from ...model.box import Box
from .live_plain import is_plain, plain_test, waits_for_breaker
from .live_points import LiveTest
from .live_three_way import may_be_three_way, three_way_test


def live_test(box: Box, voltage: int) -> LiveTest | None:
    """Return how the live test of a box stands; None where somebody must look first, or its switches aren't usual ones.

    Args:
        voltage: of a circuit to neutral [V].
    """
    return plain_test(box, voltage) or three_way_test(box, voltage)


def has_live_test(box: Box, voltage: int) -> bool:
    """Tell whether one look and one live test can measure the wires of a box, at least once its breaker is found.

    Args:
        voltage: of a circuit to neutral [V].
    """
    return is_plain(box, voltage) or waits_for_breaker(box, voltage) or may_be_three_way(box, voltage)
