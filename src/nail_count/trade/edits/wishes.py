"""What people want of a place, asked before anything is chosen."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, Field

from ..model.box import Box
from ..model.errors import Rejected
from ..model.thing import Thing
from ..model.wish import Does, Stays, Wish
from ..text.loads import read_loads
from .base import Datasheets, Edit, next_id, with_
from .fields import Maybe, listed


class SetWish(Thing):
    """What people want of one thing controlled from here; without an id, of one more."""

    wish: str = ""
    what: Annotated[str, Field(max_length=60)] = ""
    places: Annotated[Annotated[int, Field(ge=1, le=9)] | None, Maybe] = None
    does: Annotated[tuple[Does, ...], BeforeValidator(listed)] = ()
    loads: Annotated[str, Field(max_length=300)] = ""
    without_network: Annotated[bool | None, Maybe] = None
    stays: Annotated[Stays | None, Maybe] = None


class RemoveWish(Thing):
    """A wish is dropped."""

    wish: str


def set_wish(box: Box, what: SetWish, sheets: Datasheets) -> Edit:
    """One wish as answered: changed where it has an id, else one more."""
    known = {wish.id for wish in box.wishes}
    if what.wish and what.wish not in known:
        raise Rejected("expected one of the wishes for this place", "wish")
    if not what.wish and len(box.wishes) >= 8:
        raise Rejected("expected at most 8 things controlled from one place", "what")
    loads = read_loads(what.loads)
    said = what.model_dump(exclude={"wish", "loads"})
    wish = Wish(id=what.wish or next_id("w", known), loads=loads, **said)
    wishes = tuple(wish if one.id == wish.id else one for one in box.wishes)
    if not what.wish:
        wishes = (*wishes, wish)
    does = ", ".join(wish.does) or "nothing said"
    return Edit(with_(box, wishes=wishes), f"Asked for {f'“{wish.what}”' if wish.what else 'the place'}: {does}")


def remove_wish(box: Box, what: RemoveWish, sheets: Datasheets) -> Edit:
    """The box without this wish."""
    gone = next((wish for wish in box.wishes if wish.id == what.wish), None)
    if gone is None:
        raise Rejected("expected one of the wishes for this place", "wish")
    rest = tuple(wish for wish in box.wishes if wish is not gone)
    return Edit(with_(box, wishes=rest), f"No longer asked for: {f'“{gone.what}”' if gone.what else 'a wish'}")
