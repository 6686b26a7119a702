"""The panel as it is found: its spaces, its breakers, what the labels say and what they turned out to feed."""

from collections.abc import Iterable, Sequence
from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from .thing import Thing

Half = Literal["", "a", "b"]
Serves = Literal["one load", "multiwire"]
Supply = Literal["mains", "inverter"]
BreakerKind = Literal["plain", "AFCI", "GFCI", "both"]
MOST_SPACES = 84


class Circuit(Thing):
    """A breaker, where it sits, what its label says it feeds and what it turned out to."""

    id: Annotated[str, Field(min_length=1, max_length=20, pattern=r"^[A-Za-z0-9][A-Za-z0-9/ .-]*$")]
    """Its number in the panel, as people say it: 7, 7a, 2/4."""
    breaker: Annotated[int, Field(ge=1, le=200)] = 15
    """[A]."""
    label: Annotated[str, Field(max_length=80)] = ""
    """What the directory says, as found; "" where it says nothing."""
    feeds: Annotated[str, Field(max_length=120)] = ""
    """What it turned out to feed, as corrected; "" while nobody has found out."""
    space: Annotated[int, Field(ge=1, le=MOST_SPACES)] | None = None
    """Where it sits, its upper space if it has two poles; None: not known."""
    poles: Literal[1, 2] = 1
    serves: Serves | None = None
    """Of two poles: one load at both legs, or the two sides of a multiwire circuit; None: not asked yet."""
    tied: bool | None = None
    """Where it shares its neutral with another one: whether the two open together; None: not looked at."""
    kind: BreakerKind | None = None
    """What it protects from beside too much current; None: not looked at."""
    half: Half = ""
    """Which half of its space it takes, where two thin breakers share one; "" for a whole space."""
    neutral_with: Annotated[str, Field(max_length=20)] | None = None
    """The circuit it shares a neutral with, where the two are one multiwire circuit."""

    supply: Supply = "mains"
    """What feeds it."""

    @model_validator(mode="after")
    def _one_thing_or_the_other(self) -> Self:
        if self.half and self.poles == 2:
            raise ValueError("Pick two poles or half of a space, not both")
        if self.serves is not None and self.poles != 2:
            raise ValueError("Pick two poles where it serves one load at both legs or a multiwire circuit")
        if self.neutral_with == self.id:
            raise ValueError("Pick another circuit to share its neutral with")
        return self

    @property
    def spaces(self) -> tuple[int, ...]:
        """The spaces it takes; () where that is not known."""
        if self.space is None:
            return ()
        return (self.space, self.space + 2) if self.poles == 2 else (self.space,)


def has_two_hots(circuit: Circuit | None, voltage: int) -> bool:
    """Whether a breaker feeds one load by two hots: two poles of a supply of 110 to 127 V.

    Elsewhere two poles open the hot and the neutral of one circuit together.

    Args:
        circuit: of the panel.
        voltage: of a circuit to neutral [V].
    """
    return circuit is not None and circuit.poles == 2 and circuit.serves == "one load" and 110 <= voltage <= 127


def second_pole(id: str) -> str:
    """What the other hot of a circuit goes by: no circuit of a panel can be called so."""
    return f"{id}·2"


def across(circuit: Circuit | None, voltage: int) -> int:
    """Across what a breaker feeds [V]: one load on two poles of a supply of 110 to 127 V has both legs, twice as much.

    The sides of a multiwire circuit have one leg each, and so has one nobody described.

    >>> dryer = Circuit(id="2/4", poles=2, serves="one load")
    >>> across(dryer, 120), across(dryer.changed(serves="multiwire"), 120), across(dryer.changed(serves=None), 120)
    (240, 120, 120)
    >>> across(None, 230)
    230
    """
    return voltage * 2 if has_two_hots(circuit, voltage) else voltage


def partners(circuits: Iterable[Circuit]) -> dict[str, str]:
    """For each circuit that shares its neutral, the one it shares it with, whichever of the two says so.

    >>> partners([Circuit(id="1", neutral_with="2"), Circuit(id="2"), Circuit(id="3")])
    {'2': '1', '1': '2'}
    """
    said = [(one.id, one.neutral_with) for one in circuits if one.neutral_with]
    return {other: id for id, other in said} | dict(said)


def on_another_supply(circuit: Circuit, circuits: Iterable[Circuit]) -> frozenset[str]:
    """Return the circuits that another supply than a circuit's feeds.

    >>> backed = Circuit(id="3", supply="inverter")
    >>> sorted(on_another_supply(backed, [Circuit(id="1"), Circuit(id="2", supply="inverter"), backed]))
    ['1']
    """
    return frozenset(one.id for one in circuits if one.supply != circuit.supply)


class Panel(Thing):
    """The panel: two columns of spaces, odd ones left, even ones right."""

    spaces: Annotated[int, Field(ge=2, le=MOST_SPACES)] = 24
    main: Annotated[int, Field(ge=15, le=600)] | None = None
    """Rating of the main breaker [A]; None: not read."""

    @field_validator("spaces")
    @classmethod
    def _two_columns(cls, spaces: int) -> int:
        if spaces % 2:
            raise ValueError("Enter an even number of spaces, for two columns")
        return spaces


def in_order(circuits: Sequence[Circuit]) -> tuple[Circuit, ...]:
    """Circuits by where they sit, then by their number as people count."""

    def key(circuit: Circuit) -> tuple[int, str, int, str]:
        digits = "".join(letter for letter in circuit.id if letter.isdigit())[:6]
        return circuit.space or int(digits or 999), circuit.half, len(circuit.id), circuit.id

    return tuple(sorted(circuits, key=key))


def misplaced(panel: Panel, circuits: Sequence[Circuit]) -> str | None:
    """The conflicts of breakers' places, as a sentence; None where it all fits."""
    taken: dict[tuple[int, str], str] = {}
    ids = {circuit.id for circuit in circuits}
    for circuit in circuits:
        if circuit.neutral_with is not None and circuit.neutral_with not in ids:
            return f"circuit {circuit.id} shares its neutral with {circuit.neutral_with}, which is not in the panel"
        for space in circuit.spaces:
            if space > panel.spaces:
                return f"circuit {circuit.id} would sit in space {space} of a panel with {panel.spaces}"
            for half in (circuit.half,) if circuit.half else ("a", "b"):
                if (space, half) in taken:
                    which = f"space {space}{half}" if circuit.half else f"space {space}"
                    return f"{which} would hold two breakers: {taken[space, half]} and {circuit.id}"
                taken[space, half] = circuit.id
    return None
