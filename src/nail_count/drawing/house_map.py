"""The wiring of a house as a map: breakers, boxes by floor and room, and the runs in channels around the boxes."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..trade.model.box import Box
from ..trade.model.job import Job
from ..trade.model.run import BoxEnd, CircuitEnd, OnwardEnd
from ..trade.plan.floors import Band, bands
from ..trade.text.runs import end_words
from .channels import TRACK, Tracks
from .way import Line, Point

WIDE, TALL = 132.0, 66.0
"""Of a box on the map [units of the drawing]."""
LETTERS = 46.0
"""From the top of a box down to the letters of its cables."""
LEAST_GAP = 18.0
"""Between boxes, at least."""
HEAD = 22.0
"""Above the boxes of a room, for its name."""
BREAKER_WIDE, BREAKER_STEP = 62.0, 34.0
"""Of a breaker, and from one to the next."""
FLOOR_NAME = 18.0
"""Above the rooms of a floor, for its name."""
SIZES = 4
"""With more cables there is no room for their sizes in the box."""
MOST_REACH = 15.0
"""Around a letter, for a finger."""
LAST = 99.0
"""After every letter and every box, along a channel."""


@dataclass(frozen=True, slots=True)
class MapBox:
    """A box on the map."""

    box: Box
    x: float
    y: float
    state: str
    """How it stands; "" where that wasn't asked."""
    lamp: bool
    """Whether loads hang at it."""
    way: tuple[int, ...]
    """The runs from the panel to it, by their numbers."""


@dataclass(frozen=True, slots=True)
class MapEnd:
    """The letter of a cable in its box."""

    box: str
    cable: str
    size: str
    known: bool
    """Whether it is known where it goes."""
    words: str
    x: float
    y: float
    reach: float
    """How far around it a finger may tap."""
    roomy: bool
    """Whether there is room for its size beside those of the other cables."""
    way: tuple[int, ...]
    """The runs from the panel to it, by their numbers."""


@dataclass(frozen=True, slots=True)
class MapRun:
    """A cable between two boxes, or from a breaker to a box."""

    number: int
    way: Line


@dataclass(frozen=True, slots=True)
class MapRoom:
    """A room on the map."""

    name: str
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class MapFloor:
    """The name of a floor, and where it stands."""

    name: str
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class MapCircuit:
    """A breaker at the edge of the map."""

    id: str
    x: float
    y: float
    way: tuple[int, ...]
    """The runs it feeds, by their numbers."""


@dataclass(frozen=True, slots=True)
class HouseMap:
    """Where everything lies."""

    width: float
    height: float
    floors: tuple[MapFloor, ...]
    rooms: tuple[MapRoom, ...]
    boxes: tuple[MapBox, ...]
    circuits: tuple[MapCircuit, ...]
    runs: tuple[MapRun, ...]
    ends: tuple[MapEnd, ...]


@dataclass(frozen=True, slots=True)
class _Place:
    """Where a box stands: its band, its column in the band, its place in the column."""

    band: int
    column: int
    row: int


@dataclass(frozen=True, slots=True)
class _Stop:
    """An end of a run: the letter of a cable at a box."""

    box: str
    place: _Place
    letter: float
    """Its place among the letters of the box; the middle where it isn't known which cable it is."""


def house_map(job: Job, floors: Mapping[str, str], states: Mapping[str, str], most: int = 6) -> HouseMap:
    """Lay out the boxes, breakers and runs of a house; runs go around boxes in channels.

    Args:
        job: with the boxes to show.
        floors: of each room.
        states: how each box stands, by its key.
        most: how many columns of boxes stand side by side.
    """
    return _Map(job, bands(job.boxes, floors, most), states).drawn()


class _Map:
    """Lays a map out: which tracks every run takes, then where everything lies."""

    def __init__(self, job: Job, bands: Sequence[Band], states: Mapping[str, str]) -> None:
        self.job, self.bands, self.states = job, bands, states
        self.places = {
            box.id: _Place(band, column, row)
            for band, whole in enumerate(bands)
            for column, standing in enumerate(whole.columns)
            for row, box in enumerate(standing.boxes)
        }
        self.named = {box.id: box for box in job.boxes}
        self.breakers = [one.id for one in job.circuits]
        self.tracks = Tracks()
        self.runs = self._runs()
        for number, (one, other) in enumerate(self.runs):
            self._take(number, one, other)

    def _runs(self) -> list[tuple[_Stop | str, _Stop]]:
        """Every cable between boxes once, and every feed from a breaker."""
        made: list[tuple[_Stop | str, _Stop]] = []
        done: set[tuple[str, str]] = set()
        for box in self.job.boxes:
            for cable in box.entering:
                far = self.job.far_ends.get((box.id, cable.id))
                here = self._stop(box.id, cable.id)
                if isinstance(far, CircuitEnd) and far.circuit in self.breakers:
                    made.append((far.circuit, here))
                elif isinstance(far, BoxEnd) and far.box in self.places and (box.id, cable.id) not in done:
                    done.add((far.box, far.cable or ""))
                    made.append((here, self._stop(far.box, far.cable)))
        return made

    def _stop(self, box: str, cable: str | None) -> _Stop:
        letters = [one.id for one in self.named[box].entering]
        return _Stop(box, self.places[box], letters.index(cable) if cable in letters else (len(letters) - 1) / 2)

    def _net(self, number: int) -> object:
        """Feeds of one breaker share their way; every other run has its own."""
        one, _ = self.runs[number]
        return one if isinstance(one, str) else number

    def _take(self, number: int, one: _Stop | str, other: _Stop) -> None:
        """Take the tracks of a run."""
        net = self._net(number)
        if isinstance(one, str):
            self._down(net, other, other.place.column)
            self.tracks.take("trunk", net, -1, len(self.bands))  # its breaker may stand anywhere along it
            self.tracks.take(("corridor", other.place.band), net, -1, other.place.column)
            return
        side, far = self._sides(one.place, other.place)
        if one.place.band == other.place.band and side == far:
            self._beside(net, one, side, one.place.row, other.place.row)
            self._beside(net, other, side, one.place.row, other.place.row)
            return
        self._down(net, one, side)
        self._down(net, other, far)
        if one.place.band == other.place.band:
            self.tracks.take(("corridor", one.place.band), net, side, far)
        else:
            self.tracks.take(("corridor", one.place.band), net, -1, side)
            self.tracks.take(("corridor", other.place.band), net, -1, far)
            self.tracks.take("trunk", net, one.place.band, other.place.band)

    @staticmethod
    def _sides(one: _Place, other: _Place) -> tuple[int, int]:
        """Beside which columns a run between two boxes goes: on the near sides, one channel between neighbors."""
        if one.band != other.band or one.column == other.column:
            return one.column, other.column
        return (one.column + 1, other.column) if one.column < other.column else (one.column, other.column + 1)

    def _down(self, net: object, stop: _Stop, side: int) -> None:
        self._beside(net, stop, side, -1, stop.place.row)

    def _beside(self, net: object, stop: _Stop, side: int, start: int, end: int) -> None:
        place = stop.place
        self.tracks.take(("beside", place.band, side), net, start, end)
        out = -1.0 if side == place.column else LAST
        self.tracks.take(("under", stop.box), (net, stop.letter), out, stop.letter)

    def drawn(self) -> HouseMap:
        """Where everything lies."""
        self._lay_out()
        runs = tuple(MapRun(number, self._way(number)) for number in range(len(self.runs)))
        ways = self._ways()
        boxes = tuple(
            MapBox(box, *self.at[box.id], self.states.get(box.id, ""), box.is_outlet, ways.get(box.id, ()))
            for box in self.job.boxes
        )
        circuits = tuple(MapCircuit(one, 8, y, self._fed_by(ways, one)) for one, y in self.breaker_y.items())
        ends = tuple(self._ends(ways))
        return HouseMap(self.width, self.height, tuple(self.floors), tuple(self.rooms), boxes, circuits, runs, ends)

    def _lay_out(self) -> None:
        """Find where bands, columns and boxes lie, from how wide their channels are."""
        trunk = 8 + BREAKER_WIDE + self.tracks.width("trunk", 16)
        self.at: dict[str, Point] = {}
        self.corridor: dict[int, float] = {}
        self.beside: dict[tuple[int, int], float] = {}
        self.rooms: list[MapRoom] = []
        self.floors: list[MapFloor] = []
        y, widest = 8.0, 0.0
        for number, band in enumerate(self.bands):
            if band.first and band.floor:
                self.floors.append(MapFloor(band.floor, trunk, y + 12))
                y += FLOOR_NAME
            self.corridor[number] = y
            y += self.tracks.width(("corridor", number), 12)
            right, bottom = self._columns(number, band, trunk, y)
            widest, y = max(widest, right), bottom + 20
        self.breaker_y = {one: 26 + BREAKER_STEP * place for place, one in enumerate(self.breakers)}
        self.width = max(widest, 300.0) + 8
        self.height = max(y, 30 + BREAKER_STEP * len(self.breakers))

    def _columns(self, number: int, band: Band, x: float, top: float) -> tuple[float, float]:
        """Lay out the columns of a band; return how far right and how far down they reach."""
        bottom = top
        for column, standing in enumerate(band.columns):
            self.beside[number, column] = x
            left = x + self.tracks.width(("beside", number, column), 14)
            y = top + HEAD
            for box in standing.boxes:
                self.at[box.id] = (left, y)
                y += TALL + self.tracks.width(("under", box.id), LEAST_GAP)
            if standing.first:
                self.rooms.append(MapRoom(standing.room, left - 6, top, WIDE + 12, y - top))
            else:
                room = self.rooms[-1]
                wide = left + WIDE + 6 - room.x
                self.rooms[-1] = MapRoom(room.name, room.x, room.y, wide, max(room.height, y - top))
            x, bottom = left + WIDE + 6, max(bottom, y)
        self.beside[number, len(band.columns)] = x
        return x + self.tracks.width(("beside", number, len(band.columns)), 0), bottom

    def _letter(self, stop: _Stop) -> Point:
        x, y = self.at[stop.box]
        many = max(len(self.named[stop.box].entering), 1)
        return x + WIDE * (stop.letter + 1) / (many + 1), y + TALL

    def _way(self, number: int) -> Line:
        """The points of a run, from one end to the other."""
        one, other = self.runs[number]
        net = self._net(number)
        if isinstance(one, str):
            y = self.breaker_y[one] + 11
            trunk = 8 + BREAKER_WIDE + self.tracks.offset("trunk", net)
            points = [(8 + BREAKER_WIDE, y), (trunk, y), (trunk, self._corridor(net, other.place.band))]
            return Line((*points, *reversed(self._up(net, other, other.place.column))))
        side, far = self._sides(one.place, other.place)
        if one.place.band == other.place.band and side == far:
            return Line((*self._to_side(net, one, side), *reversed(self._to_side(net, other, side))))
        points = self._up(net, one, side)
        if one.place.band != other.place.band:
            trunk = 8 + BREAKER_WIDE + self.tracks.offset("trunk", net)
            points += [(trunk, points[-1][1]), (trunk, self._corridor(net, other.place.band))]
        return Line((*points, *reversed(self._up(net, other, far))))

    def _corridor(self, net: object, band: int) -> float:
        return self.corridor[band] + self.tracks.offset(("corridor", band), net)

    def _to_side(self, net: object, stop: _Stop, side: int) -> list[Point]:
        """From a letter down into the channel under its box, and across to the channel beside its column."""
        x, y = self._letter(stop)
        low = y + self.tracks.offset(("under", stop.box), (net, stop.letter))
        if side != stop.place.column:
            low += TRACK / 2  # in the channel beside it, it meets those that come in from the other side
        beside = self.beside[stop.place.band, side] + self.tracks.offset(("beside", stop.place.band, side), net)
        return [(x, y), (x, low), (beside, low)]

    def _up(self, net: object, stop: _Stop, side: int) -> list[Point]:
        points = self._to_side(net, stop, side)
        return [*points, (points[-1][0], self._corridor(net, stop.place.band))]

    def _ways(self) -> dict[str, tuple[int, ...]]:
        """The runs from the panel to each box, outward from the breakers."""
        ways: dict[str, tuple[int, ...]] = {}
        for number, (one, other) in enumerate(self.runs):
            if isinstance(one, str):
                ways.setdefault(other.box, (number,))
        reached = list(ways)
        for box in reached:
            for number, (one, other) in enumerate(self.runs):
                if isinstance(one, _Stop) and box in (one.box, other.box):
                    beyond = other.box if one.box == box else one.box
                    if beyond not in ways:
                        ways[beyond] = (*ways[box], number)
                        reached.append(beyond)
        return ways

    def _fed_by(self, ways: Mapping[str, tuple[int, ...]], circuit: str) -> tuple[int, ...]:
        return tuple(sorted({run for way in ways.values() if self.runs[way[0]][0] == circuit for run in way}))

    def _ends(self, ways: Mapping[str, tuple[int, ...]]) -> Iterator[MapEnd]:
        numbers: dict[tuple[str, float], int] = {}
        for number, (one, other) in enumerate(self.runs):
            for stop in (one, other):
                if isinstance(stop, _Stop):
                    numbers[stop.box, stop.letter] = number
        for box in self.job.boxes:
            cables = box.entering
            for letter, cable in enumerate(cables):
                far = self.job.far_ends.get((box.id, cable.id))
                words = end_words(far, self.named) if far else "where it goes is not known"
                known = (box.id, letter) in numbers or isinstance(far, BoxEnd | OnwardEnd)
                x, y = self._letter(_Stop(box.id, self.places[box.id], letter))
                own = numbers.get((box.id, letter))
                way = tuple(sorted({*ways.get(box.id, ()), *(() if own is None else (own,))}))
                at = y - TALL + LETTERS
                reach = min(MOST_REACH, WIDE / (len(cables) + 1) / 2)
                yield MapEnd(box.id, cable.id, cable.size, known, words, x, at, reach, len(cables) <= SIZES, way)
