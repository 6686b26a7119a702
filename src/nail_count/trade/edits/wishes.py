"""What people want of a place, asked before anything is chosen."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, Field

from ..documents import Documents, Edited
from ..model.box import Box
from ..model.errors import Rejected
from ..model.wish import Does, Stays, Wish
from ..text.loads import read_loads
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import next_id
from .fields import Maybe, listed


class SetWish(BoxEdit):
    """What people want of one thing controlled from here; without an id, of one more."""

    wish: str = ""
    what: Annotated[str, Field(max_length=60)] = ""
    places: Annotated[Annotated[int, Field(ge=1, le=9)] | None, Maybe] = None
    does: Annotated[tuple[Does, ...], BeforeValidator(listed)] = ()
    loads: Annotated[str, Field(max_length=300)] = ""
    without_network: Annotated[bool | None, Maybe] = None
    stays: Annotated[Stays | None, Maybe] = None
    hub: Annotated[str, Field(max_length=60)] | None = None
    """The hub or radio of the house, where that was asked too; it is kept with the house."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One wish as answered: changed where it has an id, else one more."""
        known = {wish.id for wish in box.wishes}
        if self.wish and self.wish not in known:
            raise Rejected("Pick one of the wishes for this place", "wish")
        if not self.wish and len(box.wishes) >= 8:
            raise Rejected("One place controls at most 8 things", "what")
        loads = read_loads(self.loads)
        said = self.said("wish", "loads", "hub")
        wish = Wish(id=self.wish or next_id("w", known), loads=loads, **said)
        wishes = tuple(wish if one.id == wish.id else one for one in box.wishes)
        if not self.wish:
            wishes = (*wishes, wish)
        does = ", ".join(wish.does) or "nothing asked for"
        return BoxEdited(
            box.changed(wishes=wishes), f"Asked for {f'“{wish.what}”' if wish.what else 'the place'}: {does}"
        )

    def _edited(self, documents: Documents) -> Edited:
        edited, house = super()._edited(documents), documents.head.house
        if self.hub is None or self.hub == (house.hub or ""):
            return edited
        head = documents.head.changed(house=house.changed(hub=self.hub))
        return Edited(edited.documents.with_head(head), f"{edited.sentence}; hub in the house: {self.hub or 'none'}")


class RemoveWish(BoxEdit):
    """A wish is dropped."""

    wish: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this wish."""
        gone = next((wish for wish in box.wishes if wish.id == self.wish), None)
        if gone is None:
            raise Rejected("Pick one of the wishes for this place", "wish")
        rest = tuple(wish for wish in box.wishes if wish is not gone)
        return BoxEdited(
            box.changed(wishes=rest), f"No longer asked for: {f'“{gone.what}”' if gone.what else 'a wish'}"
        )
