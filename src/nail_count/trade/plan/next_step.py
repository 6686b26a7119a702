"""Name the one thing to do next at a box, and how far each phase of its work has come.

What could change an answer comes first, then whatever is in the way of the next phase. Nothing is asked that makes no
difference here. What somebody put off is asked last.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from ..assume.pair import pair_of
from ..assume.usual import Assumption, ends_in, to_other_switch
from ..assume.verdict import Verdict, verdict_of
from ..assume.wired import as_usual, look_as_usual
from ..model.answer import State
from ..model.box import Box
from ..model.datasheet import Datasheet
from ..model.job import Job, by_id
from ..model.load import RatedKind
from ..model.run import BoxEnd, WordsEnd
from ..model.survey import PutOff
from ..model.tick import Tick
from ..rules.check import BoxCheck, check_box
from ..rules.wires.live import has_live_test
from ..rules.wires.live_plain import is_plain
from ..text.device import item_name
from ..text.format import say
from ..wiring.hookup.gear import kind_of
from ..wiring.hookup.look import HookUp, look
from ..wiring.hookup.propose import Refusal, propose
from ..wiring.hookup.work import arriving
from ..wiring.identify.weights import NOWHERE
from .begun import still_so
from .commission.progress import DeviceDone, is_recorded_as_built, progress_of_each
from .commission.steps import radios, to_commission
from .install.progress import AFTER_DEAD, Done, current, has_open_wires, has_wires_to_join, on_since, progress
from .install.step import CHECK_WIRING
from .install.steps import SEEN_AT_BOX, install_steps
from .install.texts import sentence
from .progress import PHASES, Phase

Screen = Literal["", "survey", "wires", "choose", "fix", "hookup", "install", "commission"]
"""Where something is done; "" for the bench."""


@dataclass(frozen=True, slots=True)
class Choice:
    """One of the answers to a question, as a tap."""

    label: str
    fields: tuple[tuple[str, str], ...]
    """What it enters, by the fields of the form."""


@dataclass(frozen=True, slots=True)
class Ask:
    """Something to do now."""

    code: PutOff
    phase: Phase
    order: str
    """What to do, as an order."""
    why: str
    screen: Screen
    edit: str = ""
    """The act that does it on that screen, in one tap or with one field; "" where more is needed."""
    field: str = ""
    """The field of that act; "" for none."""
    example: str = ""
    """A value for it, as people write it."""
    cable: str = ""
    """The cable it asks the other end of, by its letter; "" where it is about something else."""
    start: str = ""
    """The name of the box to start with a line; "" for none."""
    box: str = ""
    """The other box at which it is done, by its key; "" for this one."""
    choices: tuple[Choice, ...] = ()
    """The answers to pick from; () where more is needed than a tap."""
    steps: int = 1
    """How many steps it stands for."""


@dataclass(frozen=True, slots=True)
class WayThrough:
    """How far the work at a box has come."""

    next: Ask | None
    """None where nothing is left to do."""
    left: Mapping[Phase, int | None]
    """How many things are left in each phase; None: some, and nobody can tell yet how many."""


def way_through(job: Job, key: str, ticks: Iterable[Tick]) -> WayThrough:
    """Return the one thing to do next at a box, and the phases in which something is left.

    Args:
        job: with every box and run on its circuits.
        key: the box.
        ticks: of the job, in the order they were made.
    """
    seen = _Seen(job, key, tuple(ticks))
    asked = tuple(_asks(seen))
    late = seen.box.survey.put_off
    first = next((one for one in asked if one.code not in late), None)
    return WayThrough(first or next(iter(asked), None), _left(seen, asked))


def _left(seen: _Seen, asked: tuple[Ask, ...]) -> Mapping[Phase, int | None]:
    left: dict[Phase, int | None] = dict.fromkeys(PHASES, 0)
    if not asked:
        return left
    for one in asked:
        left[one.phase] = (left[one.phase] or 0) + one.steps
    for later in PHASES[PHASES.index(asked[-1].phase) + 1 :]:  # nobody can tell before this is answered
        left[later] = None
    if not left["Wires"] and not seen.is_wiring_checked:
        left["Wires"] = None
    return left


class _Seen:
    """A box, as the asks look at it."""

    def __init__(self, job: Job, key: str, ticks: tuple[Tick, ...]) -> None:
        (self.box,) = (one for one in job.boxes if one.id == key)
        self.job, self.ticks = job, ticks
        self.sheets = by_id(job.sheets)

    @cached_property
    def check(self) -> BoxCheck:
        return check_box(self.box, self.sheets, self.job.terms_at(self.box), self.job.volts)

    @cached_property
    def verdict(self) -> Verdict:
        ends = ends_in(self.job).get(self.box.id, NOWHERE)
        return verdict_of(self.check, self.sheets, self.job.terms_at(self.box), self.job.volts, ends)

    @cached_property
    def hookup(self) -> tuple[HookUp, tuple[Assumption, ...]]:
        return look_as_usual(self.job, self.box.id)

    @property
    def is_wiring_checked(self) -> bool:
        """Whether the hook-up is proven, and rests on no assumption about the wires in the box."""
        hookup, rests_on = self.hookup
        proven = hookup.said and hookup.state is State.HOLDS
        return proven and not any(one.code in SEEN_AT_BOX for one in rests_on)

    def on_the_ladder(self, box: Box) -> tuple[Done, ...]:
        """How far the work at a box has come."""
        live = on_since(self.job, self.ticks, box)
        return progress(install_steps(self.job, box.id, self.ticks), self.ticks, box, live)

    @property
    def has_work(self) -> bool:
        return bool(arriving(self.box))


def _asks(seen: _Seen) -> Iterator[Ask]:
    """Everything to do, in order; nothing past what the rest can't be told without."""
    before = [*_looked_for(seen), *_planned(seen)]
    yield from before
    if not before and seen.has_work:  # no work at the wires while something that could change it is put off
        yield from _worked(seen)


def _looked_for(seen: _Seen) -> Iterator[Ask]:
    box = seen.box
    if box.use != "control":
        return
    if seen.check.fill.limit is None:
        yield Ask(
            "volume", "Look", "Enter the volume stamped in the box.", "It limits the fill.", "", "set-volume", "volume",
            "20.3 in³",
        )  # fmt: skip
    if not box.entering:
        yield Ask("cables", "Look", "Enter the cables in the box.", "Their wires fill it.", "")


def _planned(seen: _Seen) -> Iterator[Ask]:
    box = seen.box
    if box.use == "control" and not box.equipment:
        yield Ask("device", "Plan", "Choose the device that goes in.", "Nothing is planned here yet.", "choose")
        return
    if box.use == "control" and (empty := _empty_gangs(seen)):
        order = f"Choose what goes into gang {empty[0]}."
        yield Ask("device", "Plan", order, "Every gang takes a device or a blank.", "choose")
        return
    for item in box.equipment:
        sheet = seen.sheets[item.sheet]
        at_far_end = kind_of(sheet, seen.sheets) in ("three-way", "four-way", "companion")
        if box.built is None and sheet.channels and not (item.loads or item.commands or at_far_end):
            name = item_name(item, box.equipment, seen.sheets)
            what = _what_goes_on(sheet)
            yield Ask("loads", "Plan", f"Enter {what} on {name}.", "The device carries only so much.", "")
            break
    if seen.verdict.state is State.FAILS:
        why = sentence(say(seen.check.headline))
        yield Ask("fails", "Plan", "See what makes this box hold.", why, "fix")
        return
    if seen.has_work and (ends := _ends(seen)):
        yield ends
        return
    if seen.verdict.state is State.OPEN and seen.check.fill.limit is not None and box.entering:
        yield _open(seen) if box.circuits or box.enclosure.gangs == 1 else _breaker(box)
    if seen.has_work and box.entering:
        yield from _hooked_up(seen)


MADE_FOR: tuple[tuple[str, frozenset[RatedKind]], ...] = (
    ("the fan", frozenset({"fan", "motor"})),
    ("the heater", frozenset({"heater"})),
)
"""What a person connects to a channel that its sheet lists for these kinds alone; to any other, lights."""


def _what_goes_on(sheet: Datasheet) -> str:
    """Say what a person enters on a device, by what its sheet lists."""
    each = []
    for channel in sheet.channels:
        made_for = (words for words, kinds in MADE_FOR if channel.ratings and set(channel.ratings) <= kinds)
        each.append(next(made_for, "the lights"))
    return " and ".join(sorted(set(each), key="the lights".__ne__))


def _empty_gangs(seen: _Seen) -> list[int]:
    """Return the gangs without a device, where another one has one."""
    taken = {item.gang + n for item in seen.box.devices for n in range(seen.sheets[item.sheet].gangs)}
    return [gang for gang in range(1, seen.box.enclosure.gangs + 1) if gang not in taken] if taken else []


FEED_OR_LIGHT = (
    Choice("It brings the feed", (("to", "circuit"),)),
    Choice("It goes to the light", (("to", "words"), ("words", "to the light"))),
)


def _ends(seen: _Seen) -> Ask | None:
    """Ask where a cable goes, where two switches of one light can't be planned without it."""
    box, other = seen.box, to_other_switch(seen.box)
    signals = any("traveler" in seen.sheets[item.sheet].roles for item in box.equipment)
    if not other or not signals or box.use != "control" or any(splice.ends for splice in box.splices):
        return None
    end, why = seen.job.far_ends.get((box.id, other)), "It usually goes to the other switch of the same light."
    if end is None:
        order, waiting = f"Enter where the three-wire cable {other} goes.", tuple(_waiting(seen, other))
        return Ask("ends", "Plan", order, why, "", cable=other, choices=waiting)
    if isinstance(end, WordsEnd):
        name = end.place
        order = f"Start the box that cable {other} goes to: type it in a line."
        line = "18 cu in, 14/2, 14/3, companion"
        return Ask("ends", "Plan", order, why, "", start=name[:1].upper() + name[1:], example=line)
    if (bare := _bare_beyond(seen, other)) is not None:
        order = f"Enter the cables and the device of {bare.name}."
        return Ask("ends", "Plan", order, "Both boxes work the same light.", "", box=bare.id)
    pair = pair_of(seen.job, box)
    if pair is None or not pair.is_feed_open:
        return None
    here = pair.main if pair.main.box.id == box.id else pair.far
    order = f"Does cable {here.unknown[0]} bring the feed, or go to the light?"
    why = f"The feed may come into {pair.main.box.name} or {pair.far.box.name}."
    return Ask("ends", "Plan", order, why, "", cable=here.unknown[0], choices=FEED_OR_LIGHT)


def _waiting(seen: _Seen, cable: str) -> Iterator[Choice]:
    """The boxes from which a cable comes to this box, where nobody entered which cable that is here."""
    here = seen.box.cable(cable)
    for far in seen.job.boxes:
        for there in far.cables:
            to_here = seen.job.far_ends.get((far.id, there.id)) == BoxEnd(box=seen.box.id)
            if to_here and here is not None and there.insulated == here.insulated:
                fields = (("to", "box"), ("far_box", far.id), ("far_cable", there.id))
                yield Choice(f"To {far.name}, cable {there.id} there", fields)


def _bare_beyond(seen: _Seen, cable: str) -> Box | None:
    """Return the other switch box a cable goes to, as long as its cables or its device are missing."""
    end = seen.job.far_ends.get((seen.box.id, cable))
    far = next((one for one in seen.job.boxes if isinstance(end, BoxEnd) and one.id == end.box), None)
    bare = far is not None and far.use == "control" and not (far.entering and far.equipment)
    return far if bare else None


def _open(seen: _Seen) -> Ask:
    why = sentence(say(seen.check.headline))
    if seen.check.binding.about == "prohibitions":
        return Ask("open", "Wires", "Tell the wires apart.", why, "wires")
    return Ask("open", "Plan", "Settle the open points.", why, "")


def _hooked_up(seen: _Seen) -> Iterator[Ask]:
    if not any(splice.ends for splice in seen.box.splices):
        usual = as_usual(seen.job, seen.box.id)
        made = propose(usual.job, seen.box.id)
        if isinstance(made, Refusal):
            why = sentence(say(made.reasons[0]))
            if _may_be_tested(seen):
                yield _test_first()
                return
            finish = Ask("hook-up", "Plan", "Finish what joins what.", why, "hookup")
            yield _breaker(seen.box) if not (seen.box.circuits or usual.rests_on) else finish
        else:
            yield Ask("hook-up", "Plan", "Plan what joins what.", "One tap.", "hookup", "propose-hookup")
        return
    hookup, _ = seen.hookup
    if hookup.state is State.HOLDS and not hookup.proof.too_many:
        return
    if hookup.state is State.OPEN and _may_be_tested(seen):
        yield _test_first()
        return
    if hookup.state is State.FAILS and hookup.shown:
        why = say(hookup.shown[0].text)
    else:
        why = say(hookup.unsaid[0].text) if hookup.unsaid else "something in it is not known"
    yield Ask("hook-up", "Plan", "Finish what joins what.", sentence(why), "hookup")


def _may_be_tested(seen: _Seen) -> bool:
    """Whether a look and a live test would tell which cable is which, and nobody has made them."""
    box, terms = seen.box, seen.job.terms_at(seen.box)
    told = any(conductor.asserted_role for cable in box.cables for conductor in cable.conductors)
    return bool(box.circuits) and not told and terms.region.whites_tied and is_plain(box, terms.voltage)


def _test_first() -> Ask:
    order = "Look at the old wiring, then do the live test."
    return Ask("wiring", "Wires", order, "What joins what depends on which cable is the feed.", "wires")


def _breaker(box: Box) -> Ask:
    """Find what feeds a box. Only lights that all go out together show that one breaker feeds several gangs."""
    order = "Find the breaker. Turn on the light, then turn breakers off one by one until it goes out."
    why = "Until it is known, the main goes off."
    if box.enclosure.gangs > 1:
        order = (
            "Find the breaker. Turn on every light of this box, then turn breakers off one by one until all are out."
        )
        why = "If it takes two, enter the second on Wires, under “Further circuits that may feed this box”."
    return Ask("breaker", "Work", order, why, "survey", "found-breaker", "breaker", "9, 15 A")


def _wiring(seen: _Seen, why: str) -> Ask:
    """Check what the plan rests on: in this box first, then in the one wired together with it."""
    left = _to_look_at(seen)
    here = seen.box.id in left
    (box,) = (one for one in seen.job.boxes if one.id == (seen.box.id if here else left[0]))
    if has_live_test(box, seen.job.terms_at(box).voltage):
        page: Screen = "wires"
        look, test = "look at the old wiring", "do the live test"
    else:
        page = "hookup"
        look, test = "check the old wiring against the plan", "test each wire"
    if here:
        return Ask("wiring", "Wires", f"{look.capitalize()}, then {test}.", why, page)
    order = f"Put this switch back as it was. Then {look} in {box.name}, and {test} there."
    return Ask("wiring", "Wires", order, why, page, box=box.id)


def _to_look_at(seen: _Seen) -> list[str]:
    """Return the boxes in which the plan takes something for granted that a look and a live test show."""
    return [one.box for one in seen.hookup[1] if one.code in SEEN_AT_BOX]


def _open_beside(seen: _Seen) -> Box | None:
    """Return a box wired together with this one whose wires aren't joined yet."""
    group = look(seen.job, seen.box.id).group
    for one in seen.job.boxes:
        if one.id in group and one.id != seen.box.id:
            done = seen.on_the_ladder(one)
            if has_open_wires(done) or (arriving(one) and has_wires_to_join(done)):
                return one
    return None


def _worked(seen: _Seen) -> Iterator[Ask]:
    box, ticks = seen.box, still_so(seen.ticks, seen.box)
    unset = _unset(seen)
    if is_recorded_as_built(box, ticks) and (unset is None or not (box.built and box.built.commissioned)):
        return
    if box.live_test and box.id in _to_look_at(seen):
        why = "The power is on. Do nothing else at this box before the test is done."
        yield Ask("wiring", "Wires", "Finish the live test, and record the wires.", why, "wires")
        return
    steps = seen.on_the_ladder(box)
    at = current(steps)
    if at < len(steps):
        begun = any(one.tick for one in steps)
        if not box.circuits and not begun:
            yield _breaker(box)
        step = steps[at].at
        if step.step.subjects == CHECK_WIRING:
            yield _wiring(seen, step.what[0])
            return
        if step.step.kind in AFTER_DEAD and (first := _open_beside(seen)):
            order = f"Do the steps at {first.name} first, up to turning on the power."
            yield Ask("work", "Work", order, "The two boxes are wired together.", "install", box=first.id)
            return
        count, settled = sum(not one.at.idle for one in steps), sum(one.settled for one in steps if not one.at.idle)
        order = "Go on with the work at the box." if begun else "Start the work at the box."
        done = f"{settled} of {count} steps are done."
        yield Ask("work", "Work", order, done, "install", steps=count - settled)
        return
    if unset is not None:
        settled, count = unset.settled, len(unset.steps)
        why = f"{settled} of {count} steps are done."
        yield Ask("set-up", "Work", f"Set up {unset.of.name}.", why, "commission", steps=count - settled)
        return
    yield Ask("built", "Record", "Record the box as built.", "Then its papers are complete.", "", "say-built")


def _unset(seen: _Seen) -> DeviceDone | None:
    """Return the first device that isn't set up yet; None where there is none."""
    if not radios(seen.box, seen.sheets):
        return None
    each = progress_of_each(to_commission(seen.job, seen.box.id), still_so(seen.ticks, seen.box), seen.box)
    return next((one for one in each if not one.over), None)
