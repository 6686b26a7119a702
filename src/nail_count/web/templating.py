"""Templates: Jinja with escaping on, unknown names refused, and the heart's own words for figures."""

from __future__ import annotations

from fractions import Fraction
from hashlib import sha256
from importlib.resources import files
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from starlette.requests import Request
from starlette.responses import HTMLResponse

from .. import __version__
from ..files.report import CAUTION
from ..trade.model.answer import State
from ..trade.model.load import KIND_WORDS
from ..trade.speak import amount, figure, say, share, sum_up

_STATIC = files("nail_count.web") / "static"
_STAMPS: dict[str, str] = {}


def static(name: str) -> str:
    """The address of a shipped file, changing with its content so that no stale copy is ever used."""
    if name not in _STAMPS:
        _STAMPS[name] = sha256((_STATIC / name).read_bytes()).hexdigest()[:10]
    return f"/static/{name}?{_STAMPS[name]}"


def percent(value: Fraction, whole: Fraction) -> str:
    """A position as a share of the drawing's width, for SVG: ``37.5%``."""
    return f"{float(value / whole) * 100:.4g}%"


def mm(value: float) -> str:
    """A length in a drawing whose unit is the millimetre."""
    return f"{value:.2f}".rstrip("0").rstrip(".")


def make_environment() -> Environment:
    """The environment all templates are rendered in."""
    environment = Environment(
        loader=PackageLoader("nail_count.web"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.filters.update(say=say, figure=figure, share=share, percent=percent, mm=mm, sum_up=sum_up)
    environment.globals.update(
        amount=amount, static=static, State=State, KIND_WORDS=KIND_WORDS, CAUTION=CAUTION, version=__version__
    )
    return environment


_ENVIRONMENT = make_environment()
THEMES = ("system", "light", "dark")


def render(request: Request, template: str, status: int = 200, **values: Any) -> HTMLResponse:
    """A page, or the part of one that htmx asked for."""
    theme = request.cookies.get("theme", "system")
    values["theme"] = theme if theme in THEMES else "system"
    values["here"] = request.url.path
    return HTMLResponse(_ENVIRONMENT.get_template(template).render(values), status)
