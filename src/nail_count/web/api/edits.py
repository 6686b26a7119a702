"""Every edit as JSON says it: its fields, and `edit` with its name."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, WithJsonSchema
from pydantic.json_schema import models_json_schema

from ...trade.documents import DocumentId
from ...trade.edits.base import Edit
from ...trade.edits.registry import EDITS
from ...trade.edits.together import Together
from ...trade.model.errors import Problem, Rejected
from ...trade.model.thing import Thing
from ...trade.quick_entry.enter_line import EnterLine, StartByLine
from ...trade.quick_entry.rows import BringInBoxes, BringInCircuits

BY_NAME: Mapping[str, type[Edit]] = EDITS | {
    kind.edit_name(): kind for kind in (EnterLine, StartByLine, BringInBoxes, BringInCircuits)
}
"""Every edit a program can ask for, by its name."""
MOST_EDITS = 500
"""Of one change."""
ANY_EDIT = "Edit"
"""What the description calls the choice of them all."""
EditSaid = Annotated[dict[str, Any], WithJsonSchema({"type": "object", "title": ANY_EDIT})]
"""An edit as sent; which fields it has, its own schema says, put in its place in the description."""


class SeenRevision(Thing):
    """A document as a program last saw it."""

    kind: Literal["head", "sheet", "box", "run"]
    key: Annotated[str, Field(min_length=1, max_length=60)]
    """Of the head: `head`."""
    revision: Annotated[int, Field(ge=1, le=2**53)]


class ChangeAsked(Thing):
    """The question for: one edit or several, done as one change, whole or not at all."""

    model_config = ConfigDict(defer_build=False)  # FastAPI takes the body of a request only as a kind that is built

    edits: Annotated[tuple[EditSaid, ...], Field(min_length=1, max_length=MOST_EDITS)]
    """In order; each sees what those before it made."""
    sentence: Annotated[str, Field(max_length=200)] = ""
    """The act in one sentence; "": the edits' own."""
    seen: Annotated[tuple[SeenRevision, ...], Field(max_length=100)] = ()
    """Documents that must still be as they were seen, or nothing is done (412)."""
    mend: bool = False
    """Leave out of boxes what would no longer fit, instead of refusing."""

    def edit(self) -> Edit:
        """The edits as one. Raises Rejected, at the field of the edit that is wrong."""
        made = tuple(_read(number, said) for number, said in enumerate(self.edits))
        if len(made) == 1 and not self.sentence:
            return made[0]
        return Together(edits=made, sentence=self.sentence or f"{len(made)} acts of a program")

    def seen_ids(self) -> dict[DocumentId, int]:
        """The revisions that must still be so."""
        return {DocumentId(one.kind, one.key): one.revision for one in self.seen}


def _read(number: int, said: Mapping[str, Any]) -> Edit:
    name = said.get("edit")
    kind = BY_NAME.get(name) if isinstance(name, str) else None
    if kind is None:
        raise Rejected.of([Problem(("edits", number, "edit"), "Give the name of an edit, such as add-cable")])
    try:
        return kind.read({field: value for field, value in said.items() if field != "edit"})
    except Rejected as wrong:
        raise Rejected.of(
            [Problem(("edits", number, *one.path), one.sentence, one.code) for one in wrong.problems]
        ) from wrong


def edit_data(edit: Edit) -> dict[str, Any]:
    """An edit as a program would say it.

    >>> edit_data(EDITS["rename"].read({"box": "hall", "name": "Hall", "room": "Hall"}))
    {'edit': 'rename', 'box': 'hall', 'name': 'Hall', 'room': 'Hall'}
    """
    return {"edit": edit.edit_name(), **edit.model_dump(mode="json", exclude_unset=True)}


def edit_schemas(at: str) -> dict[str, Any]:
    """The schema of every edit and of its parts, and of the choice of them all.

    Args:
        at: where they are found: "#/components/schemas/".
    """
    names, made = models_json_schema([(kind, "validation") for kind in BY_NAME.values()], ref_template=at + "{model}")
    schemas: dict[str, Any] = made["$defs"]
    mapping = {}
    for name, kind in BY_NAME.items():
        mapping[name] = names[kind, "validation"]["$ref"]
        own = schemas[mapping[name].removeprefix(at)]
        tag = {"const": name, "type": "string", "title": "Edit", "description": "Which edit this is."}
        own["properties"] = {"edit": tag, **own.get("properties", {})}
        own["required"] = ["edit", *own.get("required", [])]
    choice = {
        "title": ANY_EDIT,
        "description": "One act of a person on a job.",
        "oneOf": [{"$ref": ref} for ref in mapping.values()],
        "discriminator": {"propertyName": "edit", "mapping": mapping},
    }
    return {**schemas, ANY_EDIT: choice}
