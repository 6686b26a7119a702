"""The cheapest set of moves after which everything holds: exact, cheapest first; bounds prune, and nothing else.

A set that does not hold yet can only come to hold by a move that could change one of the answers in its way; so it is
enough to go on from it by the moves that could change one of them, whichever is chosen. Nothing cheaper is missed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from heapq import heappop, heappush
from itertools import count

from ..model.answer import Answer
from .move import SETTLED, WIRES, Key, Move, could_help, could_make_room
from .scene import Outcome, Plan, Scene

NEVER = 10**9
"""The price of something that can't be had [min]."""
MOST_CHECKED = 4000
"""Sets tried whole before the search gives up and says so."""


@dataclass(slots=True)
class Cheapest:
    """What a search came to."""

    plan: Plan | None
    """The set that holds; None where there is none, or it was stopped before."""
    minutes: int = 0
    """What it costs; where there is none, below which nothing holds."""
    checked: int = 0
    """How many sets were tried whole."""
    sets: int = 0
    """How many there are that cost less, or as much."""
    finished: bool = True
    """Whether it was gone through to the end: whether nothing cheaper holds is proven then."""
    in_the_way: Mapping[Key, Answer] = field(default_factory=dict)
    """Where no set holds: what stays in the way whatever is done, as near as it came."""
    unproven: str = ""
    """Where a set would hold but for its hook-up: why that cannot be proven."""


def cheapest(scene: Scene, going_on: Callable[[], bool] = lambda: True, most: int = MOST_CHECKED) -> Cheapest:
    """The cheapest set of the scene's moves after which everything it touches passes every check.

    Args:
        scene: the job, the box, the moves.
        going_on: asked before each set: whether to go on.
        most: sets tried whole before it gives up and says so.
    """
    search = _Search(scene)
    while search.queue:
        if search.found.checked >= most or not going_on():
            search.found.finished = False
            search.found.minutes = int(search.queue[0][0])
            return search.found
        if search.step():
            break
    return search.done()


class _Search:
    def __init__(self, scene: Scene) -> None:
        self.scene, self.found = scene, Cheapest(None)
        self.queue: list[tuple[int, Fraction, int, int, Plan]] = []
        self._number = count()
        self._seen: set[Plan] = set()
        self._nearest: Mapping[Key, Answer] | None = None
        self._push(frozenset(), 0)

    def _push(self, plan: Plan, bound: int) -> None:
        if plan in self._seen:
            return
        self._seen.add(plan)
        moves = [self.scene.moves[number] for number in plan]
        money = sum((move.money or Fraction(0) for move in moves), Fraction(0))
        cost = max(bound, sum(move.minutes for move in moves))
        heappush(
            self.queue, (cost, money + sum(bool(move.look) for move in moves), len(plan), next(self._number), plan)
        )

    def step(self) -> bool:
        """Tries the next set; whether it holds."""
        cost, _, _, _, plan = heappop(self.queue)
        self.found.checked += 1
        self.found.minutes = cost
        outcome = self.scene.outcome(plan)
        if outcome.holds:
            _, why = self.scene.proven(plan)
            if not why:
                self.found.plan = plan
                return True
            self.found.unproven = self.found.unproven or why
            self._on(plan, [self._left(plan, lambda move: move.wires or bool(move.items))])
            return False
        self._remember(outcome)
        if outcome.refused:
            here = frozenset(key for number in plan for key in self.scene.moves[number].boxes)
            self._on(plan, [self._left(plan, lambda move: could_make_room(move, here))])
            return False
        self._on(plan, [self._helpers(plan, key, outcome) for key in outcome.failing], self._room_needed(plan, outcome))
        return False

    def _on(self, plan: Plan, ways: Sequence[list[int]], at_least: int = 0) -> None:
        """Goes on from a set by the moves that could change the answer with the fewest of them."""
        if any(not way for way in ways) or at_least >= NEVER:
            return  # nothing could change one of them: no larger set holds either
        moves = self.scene.moves
        cheapest_each = [min(moves[number].minutes for number in way) for way in ways]
        spent = sum(moves[number].minutes for number in plan)
        bound = spent + max([*cheapest_each, at_least])
        fewest = min(zip(ways, cheapest_each, strict=True), key=lambda one: (len(one[0]), -one[1]))[0]
        for number in fewest:
            self._push(plan | {number}, bound)

    def _left(self, plan: Plan, which: Callable[[Move], bool]) -> list[int]:
        """The moves that can be added to a set."""
        decided = {one for number in plan for one in self.scene.moves[number].decides}
        return [
            number
            for number, move in enumerate(self.scene.moves)
            if number not in plan and not move.decides & decided and which(move)
        ]

    def _helpers(self, plan: Plan, key: Key, outcome: Outcome) -> list[int]:
        scene = self.scene
        around = scene.on_circuit.get(key.subject.of, frozenset()) if key.about == "circuit" else frozenset[str]()
        box = scene.boxes.get(key.box)
        # The best order depends on all that hangs in the box: where it is taken, anything may change what any carries.
        ordered = any(scene.moves[number].kind == "order" and key.box in scene.moves[number].boxes for number in plan)
        warm = key.about == "rating" and (ordered or scene.is_warm(key.box))
        barriers = box is not None and bool(box.enclosure.barriers)
        answer = outcome.failing[key]
        made = [scene.moves[number] for number in plan]
        moved = frozenset(item for move in made if move.kind not in SETTLED for item in move.items)
        return self._left(
            plan,
            lambda move: could_help(move, key, answer, on_circuit=around, moved=moved, warm=warm, barriers=barriers),
        )

    def _room_needed(self, plan: Plan, outcome: Outcome) -> int:
        """What must be spent at least for the room, or the load, that is missing: as if every move could be halved."""
        most = 0
        for key, answer in outcome.failing.items():
            box = self.scene.boxes.get(key.box)
            if answer.limit is None or answer.total <= answer.limit or (box is not None and box.enclosure.barriers):
                continue
            helpers = [self.scene.moves[number] for number in self._helpers(plan, key, outcome)]
            if key.about == "fill":
                offered = [(move.room[key.box], move.minutes) for move in helpers]
            elif key.about == "circuit" and not any(move.kind in WIRES for move in helpers):
                offered = [(move.eases, move.minutes) for move in helpers]
            else:
                continue
            most = max(most, _least(offered, answer.total - answer.limit))
        return most

    def _remember(self, outcome: Outcome) -> None:
        if outcome.refused:
            return
        if self._nearest is None:
            self._nearest = outcome.failing
            return
        kept = {
            key: _nearer(answer, outcome.failing[key])
            for key, answer in self._nearest.items()
            if key in outcome.failing
        }
        self._nearest = kept

    def done(self) -> Cheapest:
        """What it came to."""
        if self.found.plan is None:
            self.found.in_the_way = self._nearest or {}
            self.found.sets = subsets(self.scene.moves, None)
        else:
            self.found.sets = subsets(self.scene.moves, self.found.minutes)
        return self.found


def _nearer(one: Answer, other: Answer) -> Answer:
    """Of two answers in the way, the one that is over by less."""
    if one.margin is None or other.margin is None:
        return one
    return one if one.margin >= other.margin else other


def _least(offers: Iterable[tuple[Fraction, int]], missing: Fraction) -> int:
    """The least price at which so much could be had, if every offer could be taken in part; rounded down.

    >>> _least([(Fraction(2), 10), (Fraction(8), 60)], Fraction(6))
    40
    >>> _least([(Fraction(2), 10)], Fraction(6))
    1000000000
    """
    price = Fraction(0)
    for room, minutes in sorted(offers, key=lambda one: one[1] / one[0]):
        taken = min(room, missing)
        price += taken / room * minutes
        missing -= taken
        if missing <= 0:
            return int(price)
    return NEVER


def subsets(moves: Sequence[Move], most: int | None) -> int:
    """How many sets of moves there are that cost at most so many minutes, those that exclude each other among them.

    >>> free = [Move("lamp", "", frozenset(), frozenset(), minutes) for minutes in (5, 5, 10)]
    >>> subsets(free, 10), subsets(free, None)
    (5, 8)
    """
    if most is None:
        return int(2 ** len(moves))
    ways = [1] + [0] * most
    for move in moves:
        for price in range(most, move.minutes - 1, -1):
            ways[price] += ways[price - move.minutes]
    return sum(ways)
