"""What was found at a box before anything is chosen: dead or not, what it looks like, what has been photographed."""

from typing import Annotated, Literal, get_args

from pydantic import Field

from .measure import Length
from .thing import Moment, Thing

Uncovered = Literal["plate on", "plate off", "device out"]
"""Each stage uncovers wires the one before could not reach."""
TestName = Literal["tester before", "box dead", "tester after"]
"""The tester proven on a known live point, the box tested, the tester proven again."""
UNCOVERED: tuple[Uncovered, ...] = get_args(Uncovered)
TEST_NAMES: tuple[TestName, ...] = get_args(TestName)

Holes = Literal["sound", "stripped", "broken"]
Plaster = Literal["clear", "to clear"]
GroundWay = Literal["plate", "yoke", "GFCI", "sheath"]
"""How a box without a ground wire is made safe: a plate and screws that are no metal, a yoke that is none, protection
ahead of it; or the armor or conduit, proven to be the ground."""
Wall = Literal["combustible", "noncombustible"]
WallBuild = Literal["board", "lath", "masonry", "tile"]
"""Of the wall: board; plaster on lath; brick, block or stone; tile that stays whole."""
Mounted = Literal["flush", "may stand proud", "surface", "open behind"]
"""How the box sits: flush in a finished wall; flush where something on the wall is all right; on the surface;
flush, but reached from behind or above, from an attic or an open wall."""
Looked = Literal["gangs", "material", "clamps", "ring", "cables", "labels"]
"""Points with a usual answer, which therefore must be ticked as looked at."""

PutOff = Literal[
    "volume", "cables", "device", "loads", "fails", "ends", "open", "hook-up", "breaker", "wiring", "work", "set-up",
    "built",
]  # fmt: skip
"""What a person can be asked to do next at a box, and can put off."""


class DeadTest(Thing):
    """One tick of proving dead, and when it was made."""

    stage: Uncovered
    tick: TestName
    at: Moment


class Photo(Thing):
    """A picture of the box. What it shows is kept beside the job; this says which."""

    id: Annotated[str, Field(min_length=8, max_length=64, pattern=r"^[0-9a-f]+$")]
    caption: Annotated[str, Field(max_length=80)] = ""
    at: Moment
    step: Annotated[tuple[str, ...], Field(max_length=25)] = ()
    """The step of the install it was taken at: its kind and what it is about; () for none."""


class Tried(Thing):
    """A breaker switched off while looking for the one that feeds the box."""

    circuit: Annotated[str, Field(min_length=1, max_length=20)]
    went_out: bool


class Survey(Thing):
    """What was found at the box. Whatever is None or missing has not been looked at yet."""

    proofs: Annotated[tuple[DeadTest, ...], Field(max_length=9)] = ()
    photos: Annotated[tuple[Photo, ...], Field(max_length=60)] = ()
    looked: tuple[Looked, ...] = ()
    setback: Length | None = None
    """How far the front of the box stands behind the face of the wall."""
    wall: Wall | None = None
    holes: Holes | None = None
    """The screw holes for the devices."""
    plaster: Plaster | None = None
    """Paint and plaster inside the box or over its edge."""
    neutral: bool | None = None
    """Whether a neutral is in the box, as somebody found."""
    on_off: bool | None = None
    """Whether every old switch is marked ON and OFF, so that it has two screws and is the only one of its load."""
    worked: bool | None = None
    """Whether every old switch turned its load on and off before it was taken out."""
    insulated: bool | None = None
    """Whether the wall is filled with insulation."""
    ground_way: GroundWay | None = None
    """What was picked where no ground wire is in the box; None: nothing yet."""
    pigtails: Annotated[str, Field(max_length=60)] = ""
    """The connector that pigtails are joined with, on aluminum one listed for both metals; "" for no pigtails."""
    new_place: bool | None = None
    """Whether no switch stood here before."""
    damp: bool | None = None
    """Whether the place is damp or wet."""
    bonded: bool | None = None
    """Whether a metal box is bonded to the ground."""
    plate_stays: bool | None = None
    """Whether the plate that is there must stay."""
    cavity: Length | None = None
    """How deep the wall cavity is, from the face of the wall to whatever lies behind; None: not measured."""
    built: WallBuild | None = None
    """What the wall is built of; None: not looked at."""
    mounted: Mounted | None = None
    """How the box sits in the wall, or on it; None: not looked at, and taken as flush in a finished wall."""
    metal_plate: bool | None = None
    """Whether the plate is of metal."""
    tried: tuple[Tried, ...] = ()
    """Breakers tried, in order."""
    put_off: Annotated[tuple[PutOff, ...], Field(max_length=13)] = ()
    """What somebody wants to be asked last."""

    def proven(self, stage: Uncovered) -> bool:
        """Whether all three ticks of a stage are made."""
        return {proof.tick for proof in self.proofs if proof.stage == stage} == set(TEST_NAMES)
