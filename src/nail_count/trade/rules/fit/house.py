"""Whether a house fits together: what belongs to one house, its panel, its stock list."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from ...model.panel import Circuit, Panel, misplaced
from ...model.stock import StockBox
from .box import MOST_DEPTH, MOST_VOLUME, Misfit

LEAST_DEPTH = Fraction(10)
"""Of a box of the stock list [mm]."""
MOST_BOXES = 2000
MOST_STOCK = 200
MOST_CIRCUITS = 200
"""More than a panel of 84 spaces has in halves."""


def house_misfits(
    panel: Panel, circuits: Sequence[Circuit], stock: Sequence[StockBox], boxes: int
) -> tuple[Misfit, ...]:
    """What of a house does not fit.

    Args:
        circuits: the breakers in it.
        stock: the shop's stock list.
        boxes: how many boxes it has.

    >>> [one.sentence for one in house_misfits(Panel(spaces=4), (Circuit(id="9", space=9),), (), 2001)]
    ['circuit 9 would sit in space 9 of a panel with 4', 'the job has 2001 boxes; at most 2000 can be there']
    """
    return tuple(_found(panel, circuits, stock, boxes))


def _found(panel: Panel, circuits: Sequence[Circuit], stock: Sequence[StockBox], boxes: int) -> Iterator[Misfit]:
    if wrong := misplaced(panel, circuits):
        yield Misfit("panel", wrong, wrong, "put the breaker right in the panel", "space")
    for what, count, most in (
        ("boxes", boxes, MOST_BOXES),
        ("circuits", len(circuits), MOST_CIRCUITS),
        ("boxes in stock", len(stock), MOST_STOCK),
    ):
        if count > most:
            sentence = f"the job has {count} {what}; at most {most} can be there"
            yield Misfit(
                "limit", what, sentence, "take some out, or make two jobs of it", "name", Fraction(count - most)
            )
    for one in stock:
        yield from stock_misfits(one)


def stock_misfits(one: StockBox) -> tuple[Misfit, ...]:
    """What of a box of the stock list no box can be.

    >>> [misfit.sentence for misfit in stock_misfits(StockBox.model_validate({"name": "Vast", "volume": "5000 in3"}))]
    ['“Vast” in stock has 5000 in3; Enter more than 0 and at most 1000 in³']
    """
    found = []
    if not 0 < one.volume.in3 <= MOST_VOLUME:
        sentence = f"“{one.name}” in stock has {one.volume}; Enter more than 0 and at most {MOST_VOLUME} in³"
        found.append(Misfit("size", f"volume of {one.name}", sentence, "put its volume right", "volume"))
    if one.depth is not None and not LEAST_DEPTH <= one.depth.mm <= MOST_DEPTH:
        sentence = f"“{one.name}” in stock is {one.depth} deep; enter {LEAST_DEPTH} to {MOST_DEPTH} mm"
        found.append(Misfit("size", f"depth of {one.name}", sentence, "put its depth right", "depth"))
    return tuple(found)
