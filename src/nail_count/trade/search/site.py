"""What moves are worked out from: the box, its job, the wishes, and what each move would free and cost."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from fractions import Fraction
from functools import cached_property

from ..model.answer import Answer, State
from ..model.box import Box, Device, Equipment
from ..model.datasheet import Datasheet
from ..model.job import Job, by_id
from ..model.load import Load
from ..model.measure import exact_sum
from ..model.prices import MoveKind
from ..model.wish import Does, Wish
from ..rules.check import BoxCheck, check_box, check_circuits
from ..rules.load.draw import drawn
from ..rules.load.duty import QUARTER_MORE
from ..rules.minutes import minutes_of
from ..wiring.hookup.nets import links_of
from ..wiring.hookup.wanted import Plan
from .move import Move, Ruled

Offer = Move | Ruled


class Site:
    """A box in its job, looked at for what could be done."""

    def __init__(self, job: Job, box: str, spare: Collection[str] = ()) -> None:
        """`spare`: leftovers from elsewhere, and costs nothing again."""
        self.spare = frozenset(spare)
        self.job, self.sheets = job, by_id(job.sheets)
        self.boxes = {one.id: one for one in job.boxes}
        self.box = self.boxes[box]
        self.prices = {one.what: one.each for one in job.prices}

    @cached_property
    def check(self) -> BoxCheck:
        """The box as it is."""
        return self.check_of(self.box)

    def check_of(self, box: Box) -> BoxCheck:
        """A box of the job as it is."""
        volts = self.job.volts
        return check_box(box, self.sheets, self.job.terms_at(box), volts, frozenset(self.boxes))

    @cached_property
    def plan(self) -> Plan:
        """The places each load is switched from, by the runs."""
        return Plan(self.job, links_of(self.job))

    @cached_property
    def overloaded(self) -> frozenset[str]:
        """The circuits of the box that fail as they are."""
        return frozenset(one.subject.of for one in check_circuits(self.job) if one.state is State.FAILS) & set(
            self.box.circuits
        )

    @cached_property
    def radios(self) -> frozenset[str]:
        """The radios and hubs that something in the job needs already."""
        return frozenset(self.sheets[item.sheet].radio for box in self.job.boxes for item in box.equipment)

    def minutes(self, kind: MoveKind, times: int = 1) -> int:
        """How long a kind of work takes here [min]."""
        return minutes_of(kind, self.job.moves, self.box.survey.built) * times

    def money(self, parts: Iterable[str]) -> Fraction | None:
        """What parts cost; None where one of them has no price."""
        each = [Fraction(0) if part in self.spare else self.prices.get(part) for part in parts]
        return None if None in each else exact_sum(one for one in each if one is not None)

    @property
    def plate_stays(self) -> bool:
        """Whether the plate of the box must stay."""
        return self.plate_stays_at(self.box)

    @staticmethod
    def plate_stays_at(box: Box) -> bool:
        """Whether the plate of a box must stay, and with it what stands behind it, as the survey or a wish says."""
        return bool(box.survey.plate_stays) or any(one.stays in ("the plate", "both") for one in box.wishes)

    def wish_at(self, box: Box, item: Equipment) -> Wish | None:
        """What people want of a device: the wish naming its loads, else that of its gang; None: not asked."""
        named = {item.name, *(load.name for load in item.loads)} - {""}
        for wish in box.wishes:
            if wish.what in named:
                return wish
        gang = item.gang if isinstance(item, Device) else None
        return box.wishes[gang - 1] if gang and len(box.wishes) >= gang else None

    def wished(self, box: Box, item: Equipment) -> frozenset[Does]:
        """What a device is asked to do; where nobody was asked, all that it does now."""
        wish = self.wish_at(box, item)
        return frozenset(wish.does if wish else self.sheets[item.sheet].does)

    def does_it(self, box: Box, item: Equipment, sheet: Datasheet) -> bool:
        """Tell whether another sheet does all that a device must: by the same radio, from as many places."""
        wish, old = self.wish_at(box, item), self.sheets[item.sheet]
        plain_enough = wish is not None and not {"schedule", "looks lived in"} & set(wish.does)
        several = bool(self.plan.far.get(f"{box.id}/{item.id}")) or bool(wish and wish.places and wish.places > 1)
        wants = (
            self.wished(box, item) <= set(sheet.does),
            not (wish and wish.without_network and sheet.local is False),
            not box.survey.damp or "damp places" in sheet.listed,
            sheet.radio in ("", old.radio, self.job.house.hub, *self.radios),
            bool(sheet.radio) or not old.radio or plain_enough,
            not several or (sheet.places == "several" and sheet.companion == old.companion),
            not several or sheet.full_range is not False or old.full_range is False,
            not sheet.class2 or any(cable.class2 for cable in box.entering),
            sheet.neutral is not None or not sheet.radio,
        )
        return all(wants)

    # what a move could free

    def counted(self, check: BoxCheck, *parts: str) -> Fraction:
        """What devices, modules or cables of a box are counted as."""
        found = Fraction(0)
        for answer in check.fills:
            for line in answer.lines:
                mine = [part for part in line.parts if part.id in parts]
                if mine and line.value is not None:
                    every = exact_sum(part.count for part in line.parts)
                    own = exact_sum(part.count for part in mine)
                    found += line.value * own / every if every else Fraction(0)
        return found

    def of_kind(self, check: BoxCheck, *kinds: str) -> Fraction:
        """What lines of some kinds come to."""
        lines = (line for answer in check.fills for line in answer.lines if line.kind in kinds)
        return exact_sum(line.value for line in lines if line.value is not None)

    def more_volume(self, after: Box) -> Mapping[str, Fraction]:
        """The most another box, or more of it, could free: what it holds more, its clamps and its fittings."""
        fill, then = self.check.fill, self.check_of(after).fill
        if fill.limit is None or then.limit is None:
            return {self.box.id: Fraction(10**6)}
        inside = self.of_kind(self.check, "clamps", "fittings")
        return {self.box.id: then.limit - fill.limit + inside}

    def drawn(self, *loads: Load) -> Fraction:
        """The most some loads count on their circuit [VA]; an unknown one counts as more than any."""
        each = [drawn(load, "VA", self.job.terms.voltage, self.job.terms.assume).total for load in loads]
        known = exact_sum(one for one in each if one is not None)
        return known * QUARTER_MORE if None not in each else Fraction(10**6)

    def fails(self, *about: str) -> list[Answer]:
        """The answers of the box that fail."""
        return [one for one in self.check.answers if one.state is State.FAILS and one.about in about]
