"""The contents of a box, told as a whole: as it was found, as it was built."""

from __future__ import annotations

from typing import Literal

from ..model.box import Box
from ..model.contents import Built, Contents
from .base import BoxEdit, BoxEdited, Datasheets


class SayContents(BoxEdit):
    """These contents are what was found, or what was built; None: that is forgotten."""

    stage: Literal["found", "built"]
    contents: Contents | None = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with these contents as found, or as built; what was noted of its devices stays."""
        if self.contents is None:
            return BoxEdited(box.changed(**{self.stage: None}), f"What was {self.stage}: not known")
        if self.stage == "found":
            found = self.contents.staying(None)
            planned = box.planned.staying(found) if box.planned else None
            return BoxEdited(box.changed(found=found, planned=planned), "What was found is recorded")
        noted = box.built.commissioned if box.built else ()
        contents = self.contents.staying(box.planned)
        inside = {name: getattr(contents, name) for name in Contents.model_fields}
        return BoxEdited(box.changed(built=Built(**inside, commissioned=noted)), "What was built is recorded")
