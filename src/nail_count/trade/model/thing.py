"""What every thing of the trade has in common: frozen, closed to unknown fields, cheap to make."""

from pydantic import BaseModel, ConfigDict


class Thing(BaseModel):
    """A frozen value. Fields nobody defined are refused, so a misspelled field never passes unseen."""

    model_config = ConfigDict(frozen=True, extra="forbid", str_strip_whitespace=True, use_attribute_docstrings=True)
