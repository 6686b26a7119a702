"""Every figure the rules reckon with, and where it comes from: read from the code that computes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from .model.answer import Rule
from .model.assume import ASSUME
from .model.trade_size import TRADE_SIZES
from .model.wire import Gauge
from .rules import bulk, capacity, csa, depth, limits, rating
from .rules.nec_editions import ALLOWANCES, EDITIONS
from .speak import figure


@dataclass(frozen=True, slots=True)
class Figure:
    """One figure in use."""

    what: str
    value: str
    """With its unit."""
    rule: Rule


def figures() -> tuple[tuple[str, tuple[Figure, ...]], ...]:
    """All figures by the rule they belong to, as the code has them now.

    >>> dict(figures())["Volume allowance of a conductor, NEC"][2].value
    '2 in³'
    """
    return (
        ("Volume allowance of a conductor, NEC", tuple(_allowances(ALLOWANCES, "in³", "NEC", "Table 314.16(B)"))),
        ("What the editions say otherwise", tuple(_editions())),
        ("Metal boxes by trade size", tuple(_sizes())),
        (
            "Barriers",
            (
                Figure("Barrier of metal, unmarked", f"{figure(capacity.BARRIER_METAL)} in³", _nec("314.16(A)")),
                Figure(
                    "Barrier of anything else, unmarked", f"{figure(capacity.BARRIER_OTHER)} in³", _nec("314.16(A)")
                ),
            ),
        ),
        (
            "The Canadian count",
            (
                *_allowances(csa.CSA_ALLOWANCES, "mL", csa.NAME, "12-3034"),
                Figure(
                    "A device up to so far behind its strap counts as two conductors",
                    f"{figure(csa.SHALLOW)} cm",
                    csa.RULE,
                ),
                Figure("A deeper one, for each centimeter and gang", f"{figure(csa.PER_CENTIMETER)} mL", csa.RULE),
            ),
        ),
        (
            "Depth",
            (
                Figure("No device enclosed", f"{figure(depth.NONE_ENCLOSED)} in", _nec("314.24(A)")),
                Figure("Supplied by 14 AWG and smaller", f"{figure(depth.SMALL_WIRE)} in", _nec("314.24(B)(5)")),
                Figure("Supplied by 12 or 10 AWG", f"{figure(depth.MIDDLE_WIRE)} in", _nec("314.24(B)(4)")),
                Figure("Supplied by 8, 6 or 4 AWG", f"{figure(depth.LARGE_WIRE)} in", _nec("314.24(B)(3)")),
                Figure("Clearance behind a deep body", f"{figure(depth.CLEARANCE)} in", _nec("314.24(B)")),
                Figure("A body is deep from", f"{figure(depth.DEEP_BODY)} in", _nec("314.24(B)(1)")),
                Figure("Room behind a body where depth is the rule", "10 mm", depth.PRACTICE),
            ),
        ),
        (
            "Bulk, an estimate",
            (
                *(_bulky(f"{size.capitalize()} connector", value) for size, value in bulk.CONNECTORS.items()),
                *(_bulky(f"Lead of {gauge} AWG", value) for gauge, value in bulk.LEAD.items()),
            ),
        ),
        (
            "Loads",
            (
                Figure(
                    "Power factor of an LED lamp that states none", figure(ASSUME.led_power_factor), limits.PRACTICE
                ),
                Figure("The same below 5 W", figure(ASSUME.small_led_power_factor), limits.PRACTICE),
                Figure("Tight above this share of a limit", f"{figure(rating.TIGHT_ABOVE * 100)}%", limits.PRACTICE),
            ),
        ),
    )


def _bulky(what: str, value: Fraction) -> Figure:
    return Figure(what, f"{figure(value)} in³", bulk.PRACTICE)


def _nec(article: str) -> Rule:
    return Rule("NEC, all editions", article)


def _allowances(table: Mapping[Gauge, Fraction], unit: str, source: str, article: str) -> list[Figure]:
    return [Figure(f"{gauge} AWG", f"{figure(value)} {unit}", Rule(source, article)) for gauge, value in table.items()]


def _editions() -> list[Figure]:
    found = []
    for edition in EDITIONS.values():
        rule = edition.rule("(B)(5)")
        if edition.isolated_apart:
            found.append(Figure(f"{edition.name}: grounds", "all in one; an isolated set in one more", rule))
        else:
            past = figure(edition.ground_past)
            found.append(
                Figure(f"{edition.name}: grounds", f"{edition.grounds_in_one} in one, {past} each past that", rule)
            )
        blocks = "one each" if edition.blocks_count else "not counted"
        found.append(Figure(f"{edition.name}: terminal blocks", blocks, edition.rule("(B)(6)")))
    return found


def _sizes() -> list[Figure]:
    rule = Rule("NEC, all editions", "Table 314.16(A)")
    return [
        Figure(size.name, f"{figure(size.in3)} in³{' per gang' if size.per_gang else ''}", rule)
        for size in TRADE_SIZES.values()
    ]
