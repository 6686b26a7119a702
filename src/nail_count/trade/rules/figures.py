"""Every figure the rules reckon with, and where it comes from: read from the code that computes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ..model.answer import Rule
from ..model.assumptions import ASSUME
from ..model.gauge import Gauge
from ..model.load import EQUIVALENT_ABOVE
from ..model.measure import write_number
from ..model.trade_size import TRADE_SIZES
from ..text.format import figure
from .circuit import branch as circuit
from .editions import ALLOWANCES, EDITIONS
from .load import draw, duty, heat, inrush, limits, motor, rating
from .space import bulk, depth
from .volume import capacity, csa

WARM = ASSUME.warming


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
                *(_bulky(f"Lead of {gauge}", value) for gauge, value in bulk.LEAD.items()),
            ),
        ),
        (
            "Heat, an estimate",
            (
                *(
                    Figure(f"Heat {said}, a gang", f"{figure(value)} W/K", heat.ESTIMATE)
                    for said, value in (
                        ("to the room", WARM.to_room),
                        ("to the wall", WARM.to_cavity),
                        ("to an insulated wall", WARM.to_insulated_cavity),
                        ("to the next gang", WARM.to_neighbor),
                    )
                ),
                Figure("The room", f"{figure(WARM.room)} °C", heat.ESTIMATE),
                Figure("A dimmer or fan control makes, of its load", f"{heat.SHARE['dimmer']:.1%}", heat.ESTIMATE),
                Figure("A radio takes at all times", f"{heat.RADIO:g} W", heat.ESTIMATE),
                Figure("A relay's contact and tracks", f"{heat.CONTACT:g} Ω", heat.ESTIMATE),
            ),
        ),
        (
            "Circuits",
            (
                Figure("A continuous load counts", f"{figure(duty.QUARTER_MORE * 100)}%", _nec("210.20(A)")),
                Figure("Continuous load, of its breaker", f"{figure(duty.CSA_SHARE * 100)}%", duty.CSA_RULE),
                *(
                    Figure(f"{gauge} {metal}: breaker at most", f"{amps} A", _nec("240.4(D)"))
                    for (metal, gauge), amps in circuit.SMALL_WIRE.items()
                ),
                Figure("Devices that use the ground, a circuit", str(circuit.GROUND_USERS_OF_CIRCUIT), _nec("404.22")),
                Figure("The same on a feeder", str(circuit.GROUND_USERS_OF_FEEDER), _nec("404.22")),
            ),
        ),
        (
            "Motors at 115 V",
            (
                *(
                    Figure(f"{write_number(hp)} hp", f"{figure(amps)} A", motor.TABLE)
                    for hp, amps in motor.MOTOR_AMPS.items()
                ),
                Figure(
                    "A snap switch carries of a motor", f"{figure(motor.SWITCH_SHARE * 100)}%", _nec(motor.SNAP_SWITCH)
                ),
            ),
        ),
        (
            "Inrush of LED drivers, worst case at 120 V",
            tuple(Figure(f"{figure(amps)} A steady", f"{most} A peak", inrush.NEMA) for amps, most in inrush.PEAKS),
        ),
        (
            "Loads",
            (
                Figure("One LED lamp is asked about above", f"{figure(EQUIVALENT_ABOVE)} W", limits.PRACTICE),
                Figure("Power factor of a compact fluorescent", figure(draw.CFL_POWER_FACTOR), limits.PRACTICE),
                Figure("Lamps of a transformer's VA", f"{figure(draw.LAMP_SHARE * 100)}%", limits.PRACTICE),
                Figure("Fallback derating, one neighbor", f"{figure(limits.FALLBACK[1] * 100)}%", limits.PRACTICE),
                Figure("Fallback derating, two neighbors", f"{figure(limits.FALLBACK[2] * 100)}%", limits.PRACTICE),
                Figure("LED by the rule of thumb", f"{figure(limits.LED_SHARE * 100)}%", limits.PRACTICE),
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
    return [Figure(f"{gauge}", f"{figure(value)} {unit}", Rule(source, article)) for gauge, value in table.items()]


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
