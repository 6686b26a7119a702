"""What every thing of the trade has in common: frozen, closed to unknown fields, cheap to make."""

import ast
import inspect
import sys
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime
from functools import cache
from itertools import pairwise
from typing import Annotated, Any, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, GetJsonSchemaHandler, WithJsonSchema
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

Mark = Annotated[str, Field(min_length=1, max_length=12, pattern=r"^[A-Za-z0-9]+$")]
"""What a thing is called inside its box: a cable's letter, d1, l2."""


Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$")]
"""What a document of a job is called: the key of a box, of a sheet, of a run."""


_EARLIEST, _LATEST = 1900, 2200
"""The years something can be dated of: none outside is meant, and a zone could take it out of the calendar."""


def in_reach(at: datetime) -> datetime:
    """Return a time as it is, where it can be meant. Raises ValueError."""
    if not _EARLIEST <= at.year <= _LATEST:
        raise ValueError(f"enter a date between {_EARLIEST} and {_LATEST}")
    return at


def _in_utc(at: datetime) -> datetime:
    in_reach(at)
    return at.astimezone(UTC).replace(tzinfo=None) if at.tzinfo else at


Moment = Annotated[
    datetime,
    AfterValidator(_in_utc),
    WithJsonSchema(
        {
            "type": "string",
            "description": "In UTC, as ISO 8601 has it, without a zone. One with a zone is taken and turned into UTC.",
            "examples": ["2026-10-12T09:10:00"],
        }
    ),
]
"""When something was: in UTC, so that any two can be compared.

>>> from pydantic import TypeAdapter
>>> str(TypeAdapter(Moment).validate_python("2026-10-12T11:10:00+02:00"))
'2026-10-12 09:10:00'
"""


class Thing(BaseModel):
    """A frozen value. Fields nobody defined are refused, so a misspelled field never passes unseen."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        str_strip_whitespace=True,
        defer_build=True,  # most commands use a few kinds of things, and each takes a while to build
    )

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        """Describe each field by the docstring under it; read only here, since commands start faster without."""
        made = handler(schema)
        properties = handler.resolve_ref_schema(made).get("properties", {})
        for name, text in described(cls).items():
            properties[cls.model_fields[name].alias or name]["description"] = text
        return made

    def __hash__(self) -> int:
        """By its fields, worked out once: a value stays what it is."""
        known: int | None = self.__dict__.get("_hash")
        if known is None:
            known = self.__dict__["_hash"] = hash(tuple(self.__dict__[name] for name in type(self).model_fields))
        return known

    def __eq__(self, other: object) -> bool:
        """By its fields; what it is compared with most is itself, or one that was read from the same text."""
        if self is other:
            return True
        if type(self) is not type(other):
            return NotImplemented
        mine, others = self.__dict__, other.__dict__
        if mine.keys() == others.keys():
            return mine == others
        return all(mine[name] == others[name] for name in type(self).model_fields)

    def __copy__(self) -> Self:
        """Without what was worked out of its fields: a copy may get others."""
        copy = super().__copy__()
        for name in copy.__dict__.keys() - type(self).model_fields.keys():
            del copy.__dict__[name]
        return copy

    def __getstate__(self) -> dict[Any, Any]:
        """Without what was worked out of its fields: in another process a hash is another."""
        state = super().__getstate__()
        fields = type(self).model_fields
        return state | {"__dict__": {name: value for name, value in self.__dict__.items() if name in fields}}

    def changed(self, **fields: object) -> Self:
        """A copy with these fields changed, checked like any other. Raises ValidationError where they cannot be so."""
        kept = {name: self.__dict__[name] for name in type(self).model_fields}
        return type(self).model_validate(kept | fields)


def described(kind: type[Thing]) -> Mapping[str, str]:
    """Return the docstrings under the fields of a kind of thing, by their names; fields without one are left out."""
    found: dict[str, str] = {}
    for one in reversed(kind.__mro__):
        if issubclass(one, Thing):
            found |= _in_module(one.__module__).get(one.__name__, {})
    return {name: found[name] for name in kind.model_fields if name in found}


@cache
def _in_module(name: str) -> Mapping[str, Mapping[str, str]]:
    """Return the docstrings under the fields of the classes at the top of a module."""
    tree = ast.parse(inspect.getsource(sys.modules[name]))
    return {one.name: dict(_under_fields(one)) for one in tree.body if isinstance(one, ast.ClassDef)}


def _under_fields(made: ast.ClassDef) -> Iterator[tuple[str, str]]:
    for field, under in pairwise(made.body):
        match field, under:
            case ast.AnnAssign(target=ast.Name(id=name)), ast.Expr(value=ast.Constant(value=str(text))):
                yield name, inspect.cleandoc(text)
            case _:
                pass
