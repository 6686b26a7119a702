"""Edit a box by the name and fields a page would send."""

from __future__ import annotations

from collections.abc import Mapping

from nail_count.trade.edits.base import BoxEdit, BoxEdited, Datasheets
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.box import Box


def edit_box(box: Box, name: str, fields: Mapping[str, object], sheets: Datasheets) -> BoxEdited:
    """Return the box after the edit of this name with these fields."""
    edit = read_edit(name, {**fields, "box": box.id})
    assert isinstance(edit, BoxEdit)
    return edit.on_box(box, sheets)
