"""What all edits are: values with their fields, and what they make of a job's documents."""

from __future__ import annotations

import re
from abc import abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Self, TypeVar

from pydantic import ValidationError

from ..documents import Documents, Edited
from ..model.box import Box, Id
from ..model.datasheet import Datasheet
from ..model.errors import Rejected, problems_of
from ..model.thing import Thing

Datasheets = Mapping[str, Datasheet]
T = TypeVar("T")
_INNER_CAPITAL = re.compile(r"(?<!^)(?=[A-Z])")


class Edit(Thing):
    """One act of a person on a job: the values entered, and the documents it makes."""

    @classmethod
    def edit_name(cls) -> str:
        """As forms, keys and files call it: AddCable is add-cable."""
        return _INNER_CAPITAL.sub("-", cls.__name__).lower()

    @classmethod
    def read(cls, fields: Mapping[str, object]) -> Self:
        """The edit these fields say. Raises [Rejected][nail_count.trade.model.errors.Rejected] where they say none."""
        try:
            return cls.model_validate(fields)
        except ValidationError as wrong:
            raise Rejected.of(problems_of(wrong)) from wrong

    def apply(self, documents: Documents) -> Edited:
        """What it makes of the documents of a job.

        Raises:
            Rejected: the job cannot be changed so; it says what was expected, at which field.
        """
        return self.checked(lambda: self._edited(documents))

    @abstractmethod
    def _edited(self, documents: Documents) -> Edited:
        """As [apply][Edit.apply], where what cannot be so still raises ValidationError."""

    def checked(self, make: Callable[[], T]) -> T:
        """The edit that is made; what cannot be so is rejected, at the field that says it where this edit has it."""
        try:
            return make()
        except ValidationError as wrong:
            fields = type(self).model_fields
            first = problems_of(wrong)[0]
            named = [step for step in first.path if isinstance(step, str) and step in fields]
            raise Rejected(first.sentence, named[-1] if named else self.blamed()) from wrong

    def blamed(self) -> str:
        """Return the field that shows an error of the thing as a whole: the first one entered."""
        given = (name for name in type(self).model_fields if name != "box" and getattr(self, name) is not None)
        return next(given, "")

    def said(self, *without: str) -> dict[str, object]:
        """Its fields as the thing they are about has them: all but these and the box."""
        return self.model_dump(exclude={"box", *without})

    def given(self, *without: str) -> dict[str, object]:
        """The same, but only those that were sent."""
        return self.model_dump(include=self.model_fields_set - {"box", *without})


@dataclass(frozen=True, slots=True)
class BoxEdited:
    """A box after an edit, and the act in one sentence."""

    box: Box
    sentence: str


class BoxEdit(Edit):
    """An act on one box."""

    box: Id
    """Which box."""

    def on_box(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """What it makes of this box.

        Raises:
            Rejected: the box cannot be changed so; it says what was expected, at which field.
        """
        return self.checked(lambda: self.change(box, sheets))

    @abstractmethod
    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """As [on_box][BoxEdit.on_box], where what cannot be so still raises ValidationError."""

    def _edited(self, documents: Documents) -> Edited:
        edited = self.change(documents.box(self.box), documents.sheets)
        return Edited(documents.with_box(edited.box), edited.sentence)
