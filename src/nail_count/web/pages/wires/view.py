"""What the screen shows of a box's conductors."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ....drawing.wires import Wires, wires
from ....store.snapshots import BoxSnapshot
from ....trade.assume.places import usual_places
from ....trade.model.conductor import COLORS, Reading, Role
from ....trade.model.live_test import Place
from ....trade.rules.joints import full_voltage
from ....trade.rules.wires.live import live_test
from ....trade.rules.wires.live_plain import is_plain, waits_for_breaker
from ....trade.rules.wires.live_points import LiveTest, Row, old_cables, points_of
from ....trade.rules.wires.live_three_way import may_be_three_way
from ....trade.text.choices import choices
from ....trade.text.wires import CABLE_WORDS, name_of_splice
from ....trade.wiring.identify.infer import Inference
from ....trade.wiring.identify.live_words import (
    PLACES,
    SHOWN,
    TroubleWords,
    found_words,
    granted_words,
    row_words,
    state_words,
    trouble_words,
)
from ....trade.wiring.identify.next_reading import Next, next_reading
from ....trade.wiring.identify.practice_score import Score, inference_of, score
from ....trade.wiring.identify.reading_words import in_words, points_in_words, state_in_words, with_in_words
from ....trade.wiring.identify.suffice import missing, suffice
from ... import urls
from ...form_errors import FormErrors, Notice

LIKELY = 0.6
"""The share of all guesses at a cable from which one is shown as likely; practice."""


@dataclass(frozen=True, slots=True)
class Touched:
    """One touch of the live test, as the screen shows it."""

    row: Row
    words: str
    showed: str


@dataclass(frozen=True, slots=True)
class PlainBox:
    """What a person sees in a plain switch box, and the live test of it as far as it has come."""

    on_off: bool | None
    worked: bool | None
    seen: bool
    """Whether the old wiring was looked at."""
    ways: tuple[str, ...]
    """How the wires may lie, the usual way first."""
    switches: tuple[str, ...]
    """The old switches, where the cable to the load of each must be picked; () where none need be."""
    cables: tuple[str, ...]
    test: LiveTest | None
    touches: tuple[Touched, ...]
    state: tuple[str, ...]
    troubles: tuple[TroubleWords, ...]
    found: tuple[tuple[str, str], ...]
    taken: bool
    """Whether the wires are recorded as measured."""
    full: str
    """What full voltage is, in volts."""
    begun: bool
    """Whether the live test has a result."""
    granted: tuple[str, ...]
    places: tuple[tuple[str, Place], ...] = ()
    """At a three-way switch, each wire with where it usually is; () for plain switches."""


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
    look: PlainBox | None
    """None where the box is no plain switch box: then readings tell its wires apart."""

    @property
    def has_live_tests(self) -> bool:
        """Whether houses of this region are wired so that a live test can tell the wires of a switch box."""
        return self.kept.job.head.terms.region.whites_tied

    @property
    def waits_for_breaker(self) -> bool:
        """Whether the look and the live test come as soon as its breaker is found."""
        return self.has_live_tests and waits_for_breaker(self.kept.box, self.kept.job.head.terms.voltage)

    @property
    def likely(self) -> Mapping[str, str]:
        """What each cable likely is, by its letter, where one guess has more than that share."""
        cables = self.worked.cables
        return {letter: CABLE_WORDS.get(name, name) for letter, name, share in cables if share > LIKELY}

    @property
    def means(self) -> list[tuple[str, str]]:
        """What a person can say a cable is, and its words."""
        return list(CABLE_WORDS.items())

    @property
    def by_eye(self) -> bool:
        """Whether neither a look recorded here nor a live test settles its wires."""
        cables = old_cables(self.kept.box)
        return bool(cables) and not (self.look or self.practice or self.waits_for_breaker)

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
        return [("", "not known"), *choices("role")]

    @property
    def places(self) -> list[tuple[str, str]]:
        """Where a wire may be at a three-way switch, to choose from."""
        return list(PLACES.items())

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
        return name_of_splice(found.name, found.id) if found else ""

    def proves(self, conductor: str) -> list[tuple[str, bool]]:
        """The readings that would prove what a conductor is taken for, in words, and whether each was taken."""
        left = missing(self.worked, conductor)
        return [(in_words(one), one not in left) for one in suffice(self.worked, conductor)]

    @property
    def log(self) -> list[tuple[str, list[tuple[Reading, str]]]]:
        """The readings taken, in order; those in one state of the box stand together."""
        together: dict[str, list[tuple[Reading, str]]] = {}
        for one in self.kept.box.readings:
            together.setdefault(_state(one), []).append((one, points_in_words(one)))
        return list(together.items())


def _state(reading: Reading) -> str:
    """The state of the box in which a reading was taken, and with what."""
    unclear = ("an electronic switch connected: clears nothing",) if reading.electronic else ()
    said = ", ".join((*state_in_words(reading), with_in_words(reading), *unclear))
    return f"{said[:1].upper()}{said[1:]}"


def wires_view(kept: BoxSnapshot, errors: FormErrors, notice: Notice) -> WiresView:
    """The conductors of a box, told apart."""
    head, box = kept.job.head, kept.box
    worked = inference_of(box, head.terms, head.house.year, kept.ends)
    following = None if worked.stop else next_reading(worked)
    shown = box.practice is not None and box.practice.shown
    ended = score(box, head.terms) if shown else None
    return WiresView(kept, errors, notice, worked, following, wires(box, worked), ended, look_of(kept))


def _showed(row: Row) -> str:
    """What a touch showed; "" before it is made."""
    if row.result is None or row.shows is None:
        return ""
    kind = SHOWN[row.shows]
    return kind if row.result.volts is None else f"{row.result.value}: {kind}"


def _is_recorded(test: LiveTest | None, asserted: Mapping[str, Role | None]) -> bool:
    """Whether the wires that were measured are recorded; of hots tied together none need be."""
    mine = [wire for wire, found in test.wires.items() if found != "line hot"] if test else []
    return bool(mine) and all(asserted[wire] for wire in mine)


def look_of(kept: BoxSnapshot) -> PlainBox | None:
    """How the look at an old switch and its live test stand; None where neither settles its wires."""
    terms, box = kept.job.head.terms, kept.box
    three_way = may_be_three_way(box, terms.voltage)
    if not (terms.region.whites_tied and (three_way or is_plain(box, terms.voltage))):
        return None
    test, letters = live_test(box, terms.voltage), tuple(cable.id for cable in old_cables(box))
    loads = [one for one in (box.found or box.contents).devices if not kept.job.sheets[one.sheet].is_blank]
    names = tuple(one.name or f"gang {one.gang}" for one in loads) or tuple(
        f"gang {gang}" for gang in range(1, box.enclosure.gangs + 1)
    )
    pick = names if len(letters) > 2 or len(names) > 1 else ()
    low, high = full_voltage(terms.voltage)
    rows = test.rows if test else ()
    touches = tuple(Touched(row, row_words(box, row), _showed(row)) for row in rows)
    asserted = {
        id: cable.conductor(number).asserted_role
        for cable in old_cables(box)
        for number, id in enumerate(cable.conductor_ids, 1)
    }
    return PlainBox(
        box.survey.on_off, box.survey.worked, bool(points_of(box)),
        ("both on the switch",) if len(letters) == 1 else ("whites tied",), pick, letters, test, touches,
        state_words(box, test) if test else (),
        tuple(trouble_words(box, one) for one in test.troubles) if test else (),
        found_words(box, test) if test else (), _is_recorded(test, asserted),
        f"{float(low):g} to {float(high):g} V", bool(box.live_test), granted_words(box),
        usual_places(box, terms.colors) if three_way else (),
    )  # fmt: skip
