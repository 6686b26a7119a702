"""Sheets come to a job, and are put right."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..documents import Documents, Edited
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..model.keys import free_key, slug
from .base import Edit


class AddSheet(Edit):
    """A sheet more, under an id made from its maker and name."""

    sheet: Datasheet

    def _edited(self, documents: Documents) -> Edited:
        taken = documents.source.taken("sheet")
        key = free_key(slug(f"{self.sheet.maker} {self.sheet.name}") or "sheet", taken)
        return Edited(documents.with_sheet(self.sheet.changed(id=key)), f"Sheet {self.sheet.name} added")


class ChangeSheet(Edit):
    """A sheet as it is put right, in place of the one of its id."""

    sheet: Datasheet
    because: Annotated[str, Field(max_length=400)] = ""
    """The sentence about it; "" for only that it was changed."""

    def _edited(self, documents: Documents) -> Edited:
        if self.sheet.id not in documents.sheets:
            raise Rejected("Pick one of the sheets of this job", "sheet")
        return Edited(documents.with_sheet(self.sheet), self.because or f"{self.sheet.name} changed")
