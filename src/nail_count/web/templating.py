"""Templates: Jinja with escaping on, unknown names refused, and the heart's own words for figures."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from functools import lru_cache
from hashlib import sha256
from importlib.resources import files
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import HTMLResponse

from .. import __version__
from ..files.report import CAUTION
from ..trade.model.circuit import Circuit
from ..trade.model.enclosure import MOST_GANGS
from ..trade.model.house import House
from ..trade.model.survey import STAGES, TICKS
from ..trade.model.wire import GAUGES
from ..trade.speak import amount, figure, say, share, sum_up
from ..trade.words import WORDS
from .bench_view import BenchView
from .refusal import NO_REFUSAL

_STATIC = files("nail_count.web") / "static"
_STAMPS: dict[str, str] = {}

THEMES = ("system", "light", "dark")
GAUGE_CHOICES = [(gauge, f"{gauge} AWG") for gauge in GAUGES]
GANG_CHOICES = [(count, str(count)) for count in range(1, MOST_GANGS + 1)]


def static(name: str) -> str:
    """The address of a shipped file, changing with its content so that no stale copy is ever used."""
    if name not in _STAMPS:
        _STAMPS[name] = sha256((_STATIC / name).read_bytes()).hexdigest()[:10]
    return f"/static/{name}?{_STAMPS[name]}"


def percent(value: Fraction, whole: Fraction) -> str:
    """A position as a share of the drawing's width, for SVG: ``37.5%``."""
    return f"{float(value) / float(whole) * 100:.6g}%"


def mm(value: float) -> str:
    """A length in a drawing whose unit is the millimeter."""
    return f"{value:.5g}"


def circuit_choices(circuits: Iterable[Circuit]) -> list[tuple[str, str]]:
    """The circuits a box may hang on, by their ids."""
    named = ((c.id, f"{c.id} · {c.label}" if c.label else c.id) for c in circuits)
    return [("", "not known"), *named]


def room_choices(rooms: Iterable[str]) -> list[tuple[str, str]]:
    """The rooms boxes can be sought in."""
    return [("", "any"), *((room, room) for room in rooms)]


def floor_choices(rooms: Iterable[str], house: House) -> list[tuple[str, str]]:
    """The rooms of a house, each with its floor where that was said."""
    return [(room, f"{room} · {floor}" if (floor := house.floor_of(room)) else room) for room in rooms]


def act_form(view: BenchView, name: str, key: str, *said: Any) -> Markup:
    """A form of the bench that says nothing of the box as it stands: kept once rendered, the revision beside it."""
    form: Markup
    if view.refusal.form == key:
        form = _macro(name)(view.refusal, view.base, key, *said)
    else:
        form = _kept_form(name, view.base, key, said)
    return form + Markup('<input type="hidden" form="{}" name="revision" value="{}">').format(key, view.kept.number)


@lru_cache(maxsize=20_000)
def _kept_form(name: str, base: str, key: str, said: tuple[Any, ...]) -> Markup:
    form: Markup = _macro(name)(NO_REFUSAL, base, key, *said)
    return form


def _macro(name: str) -> Any:
    return getattr(_ENVIRONMENT.get_template("bench/forms.html").module, name)


def make_environment() -> Environment:
    """The environment all templates are rendered in."""
    environment = Environment(
        loader=PackageLoader("nail_count.web"),
        autoescape=True,
        undefined=StrictUndefined,
        auto_reload=False,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.filters.update(say=say, figure=figure, share=share, percent=percent, mm=mm, sum_up=sum_up)
    environment.globals.update(
        amount=amount,
        static=static,
        circuit_choices=circuit_choices,
        room_choices=room_choices,
        act_form=act_form,
        floor_choices=floor_choices,
        GANG_CHOICES=GANG_CHOICES,
        GAUGE_CHOICES=GAUGE_CHOICES,
        CAUTION=CAUTION,
        version=__version__,
        WORDS=WORDS,
        STAGES=STAGES,
        TICKS=TICKS,
    )
    return environment


_ENVIRONMENT = make_environment()


def render(request: Request, template: str, status: int = 200, **values: Any) -> HTMLResponse:
    """A page, or the part of one that htmx asked for."""
    theme = request.cookies.get("theme", "system")
    values["theme"] = theme if theme in THEMES else "system"
    values["here"] = request.url.path
    return HTMLResponse(_ENVIRONMENT.get_template(template).render(values), status)
