"""Ways to make a box hold: the cheapest there is, and the next best of another kind of work, each tried and proven."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, replace
from fractions import Fraction

from ..documents import Documents, JobAtHand
from ..edits.base import Edit
from ..model.answer import Amount, Answer, State, Text
from ..model.box import Box
from ..model.job import Job
from ..rules.check import BoxCheck
from ..rules.minutes import Work
from .cheapest import MOST_CHECKED, Cheapest, cheapest
from .move import Key, Move, Ruled
from .offers import offers
from .scene import Scene, hooked_up
from .supposed import (
    NEUTRAL_THERE,
    NO_NEUTRAL,
    given_up,
    if_agreed,
    neutral_unknown,
    waits_for_neutral,
    with_neutral,
)

FEW = 150
"""Sets tried whole for a box whose circuit fails as things are, before that is left for a work of its own."""
MOST_WAYS = 3
"""How many are shown side by side."""


@dataclass(frozen=True, slots=True)
class Way:
    """A set of moves after which the box, and everything it touches, holds."""

    moves: tuple[Move, ...]
    check: BoxCheck
    """The box after it."""
    boxes: tuple[Box, ...]
    """Every box it changes, as it is after it."""
    edits: tuple[Edit, ...]
    """What makes it, in order."""
    to_hook_up: tuple[str, ...]
    """The boxes without a hook-up yet, after devices have moved: nothing of that is proven."""
    found: Cheapest
    """The search it came out of."""
    rests_on: str = ""
    """The look that comes before all of it, since it holds only if that turns out so; "" for none."""
    gives_up: str = ""
    """What the customer must agree to do without; "" for nothing."""

    @property
    def minutes(self) -> int:
        """How long it takes."""
        return sum(move.minutes for move in self.moves)

    @property
    def parts(self) -> tuple[str, ...]:
        """What has to be bought for it."""
        return tuple(part for move in self.moves for part in move.parts)

    @property
    def frees(self) -> tuple[str, ...]:
        """The sheets of what it leaves over."""
        return tuple(sheet for move in self.moves for sheet in move.frees)

    @property
    def work(self) -> Work:
        """What kind of work it is: that of the move that takes longest."""
        return max(self.moves, key=lambda move: move.minutes).work

    @property
    def look(self) -> tuple[str, ...]:
        """What has to be looked at before."""
        every = (self.rests_on, *(move.look for move in self.moves))
        return tuple(dict.fromkeys(look for look in every if look))

    def money(self, hour: Fraction | None) -> Fraction | None:
        """What its parts and its time cost; None where one of them has no price.

        Args:
            hour: of an hour of work; None: not known.
        """
        parts = [move.money for move in self.moves]
        if hour is None or None in parts:
            return None
        return sum((one for one in parts if one is not None), Fraction(0)) + hour * self.minutes / MINUTES_IN_HOUR


MINUTES_IN_HOUR = 60


@dataclass(frozen=True, slots=True)
class Ways:
    """What can be done about a box."""

    check: BoxCheck
    """The box as it is."""
    ways: tuple[Way, ...]
    """The cheapest first, each of another kind of work; () where it holds, or nothing makes it hold."""
    found: Cheapest | None
    """The first search; None where the box does not fail."""
    ruled: tuple[Ruled, ...]
    """The moves not offered, and why."""
    leaves: tuple[Answer, ...] = ()
    """Circuits that fail as they are, and that nothing found here puts right: every way leaves them so."""
    through: bool = True
    """Whether the search is over."""
    if_there: BoxCheck | None = None
    """Where nothing fails, but a neutral is needed and was not looked for: the box with one. The ways are for none."""

    @property
    def unfinished(self) -> bool:
        """Whether the search broke off before it was through: nothing was found, and nothing is proven."""
        return self.found is not None and not self.ways and not self.found.finished

    @property
    def in_the_way(self) -> tuple[Answer, ...]:
        """Where no set holds: what stays in the way, as near as any came."""
        left = tuple(self.found.in_the_way.values()) if self.found and not self.ways else ()
        return (*self.leaves, *left)

    @property
    def holds(self) -> bool:
        """Whether nothing of the box fails, or the first way makes everything it touches hold."""
        if self.check.state is not State.FAILS:
            return True
        return bool(self.ways and not self.leaves and not self.ways[0].rests_on and not self.ways[0].gives_up)


@dataclass(frozen=True, slots=True)
class Asked:
    """How a search for ways is asked."""

    most: int = MOST_WAYS
    """How many ways of different kinds of work."""
    going_on: Callable[[], bool] = lambda: True
    """Asked again and again: whether to go on."""
    far: bool = True
    """Whether devices may change places with those of other boxes."""
    spare: Collection[str] = ()
    """Leftovers from elsewhere, and costs nothing again."""
    agreed: bool = False
    """Whether nothing more is asked of the customer: what can be agreed to is taken so already."""


def ways(
    job: Job,
    box: str,
    most: int = MOST_WAYS,
    *,
    going_on: Callable[[], bool] = lambda: True,
    far: bool = True,
    spare: Collection[str] = (),
) -> Ways:
    """Return what can be done about a box that fails: exact, and proven.

    Args:
        job: with the box and those around it; for moves between places, the whole house.
        most: how many ways of different kinds of work.
        going_on: asked again and again: whether to go on.
        far: whether devices may change places with those of other boxes.
        spare: leftovers from elsewhere, and costs nothing again.
    """
    return _every(job, box, Asked(most, going_on, far, spare))


def _every(job: Job, box: str, asked: Asked) -> Ways:
    found = one_more(job, box, None, asked)
    while not found.through:
        found = one_more(job, box, found, asked)
    return found


def one_more(job: Job, box: str, so_far: Ways | None, asked: Asked) -> Ways:
    """Return the ways found so far and the next one, of another kind of work.

    Args:
        job: with the box and those around it; for moves between places, the whole house.
        so_far: what this returned before for the same box; None to begin.
    """
    bare = Scene(job, box)
    check = bare.check(box)
    if check.state is State.OPEN and waits_for_neutral(check) and neutral_unknown(job, bare.boxes[box]):
        return _look_first(job, box, check, asked)
    if check.state is not State.FAILS:
        return Ways(check, (), None, ())
    moves, ruled = offers(job, box, asked.far, asked.spare)
    made = so_far.ways if so_far else ()
    leaves = so_far.leaves if so_far else ()
    bare = bare.leaving([Key("", "circuit", one.subject) for one in leaves])
    barred = {way.work for way in made}
    scene = bare.with_moves([move for move in moves if move.work not in barred])
    broken = bare.failing_circuits() if so_far is None else {}
    found = cheapest(scene, asked.going_on, FEW if broken else MOST_CHECKED)
    circuits = {key: answer for key, answer in broken.items() if key in found.in_the_way or not found.finished}
    if found.plan is None and circuits and asked.going_on():
        leaves = tuple(circuits.values())
        bare = bare.leaving(circuits)
        scene = bare.with_moves(scene.moves)
        found = cheapest(scene, asked.going_on)
    if found.plan is not None:
        made = (*made, _way(scene, found))
    elif not made and asked.going_on() and neutral_unknown(job, bare.boxes[box]):
        hoped = with_neutral(job, box, there=True)
        made = tuple(_supposing(job, hoped, box, asked, look=NEUTRAL_THERE))
    for agreed in if_agreed(job, box) if found.plan is None and not asked.agreed else ():
        if not made and asked.going_on():
            made = tuple(_supposing(job, agreed, box, replace(asked, agreed=True)))
    first = so_far.found if so_far else found
    return Ways(check, made, first, ruled, leaves, through=found.plan is None or len(made) >= asked.most)


def _look_first(job: Job, box: str, check: BoxCheck, asked: Asked) -> Ways:
    """Return how a box turns out if a look finds the neutral it needs, and the ways there are if it finds none."""
    there, none = (with_neutral(job, box, there=found) for found in (True, False))
    without = tuple(_supposing(job, none, box, asked, look=NO_NEUTRAL))
    return Ways(check, without, None, (), if_there=Scene(there, box).check(box))


def _supposing(job: Job, supposed: Job, box: str, asked: Asked, look: str = "") -> Iterator[Way]:
    """Yield the ways there are if something turns out so; each is shown as it stands before anybody knows.

    Args:
        supposed: the job in which it is so.
        look: what shows whether it is; "": the customer says.
    """
    for way in _every(supposed, box, asked).ways:
        documents = Documents(JobAtHand(job), {})
        for edit in way.edits:
            documents = edit.apply(documents).documents
        after = tuple(documents.box(one.id) for one in way.boxes)
        check = Scene(job, box).check_after(documents, box)
        lost = way.gives_up or given_up(job, box, documents.box(box))
        yield replace(way, check=check, boxes=after, rests_on=look or way.rests_on, gives_up=lost)


def _way(scene: Scene, found: Cheapest) -> Way:
    assert found.plan is not None
    chosen = sorted((scene.moves[number] for number in found.plan), key=lambda move: move.rank)
    documents, _ = scene.proven(found.plan)
    boxes = scene.changed(documents)
    rewired = {
        key for move in chosen if move.items and move.kind not in ("lamp", "bypass", "setting") for key in move.boxes
    }
    to_hook_up = tuple(sorted(key for key in rewired if not hooked_up(documents.box(key))))
    return Way(
        tuple(chosen),
        scene.check_after(documents, scene.box),
        tuple(documents.box(key) for key in boxes),
        tuple(scene.edits(found.plan)),
        to_hook_up,
        found,
    )


def would_do(answer: Answer) -> Text:
    """What size or limit would be enough for an answer that fails by its sum; () where no size would do."""
    if answer.limit is None or answer.total <= answer.limit:
        return ()
    needed = Amount(answer.total, answer.unit)
    named = {"fill": "a box of ", "bulk": "a box of ", "depth": "an inside depth of ", "rating": "a limit of "}
    return (named[answer.about], needed, " or more would do") if answer.about in named else ()
