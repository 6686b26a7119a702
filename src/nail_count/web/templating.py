"""Templates: Jinja with escaping on, unknown names refused, and the heart's own words for figures."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache
from hashlib import blake2b, sha256
from importlib.resources import files
from typing import Any, Protocol
from uuid import uuid4

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import HTMLResponse

from .. import __version__
from ..drawing.front import Rect
from ..files.report import CAUTION
from ..trade.model.answer import Text
from ..trade.model.datasheet import BEHAVIORS, DEVICE_KINDS, LISTED
from ..trade.model.edition import EDITIONS
from ..trade.model.enclosure import MOST_GANGS
from ..trade.model.gauge import GAUGES
from ..trade.model.house import House
from ..trade.model.load import KIND_WORDS, LAMPS, LOAD_KINDS, RATED_KINDS, units_of
from ..trade.model.measure import write_number
from ..trade.model.panel import Circuit
from ..trade.model.survey import STAGES, TICKS
from ..trade.model.wish import DOES
from ..trade.plan.relamping import LABEL_WORDS
from ..trade.text.choices import choices
from ..trade.text.format import amount, figure, say, share, sum_up
from ..trade.text.glossary import WORDS
from . import urls
from .form_errors import NO_ERRORS, FormErrors

_STATIC = files("nail_count.web") / "static"
_STAMPS: dict[str, str] = {}

REVISION_SLOT = "\ue000"
"""Stands for the revision in every form until the page goes out. A page that acts by script keeps the one it was first
given there, so that what an act leaves as it was is the same to the letter, and says beside it which it shows."""

FORM_SLOT = "\ue001"
"""Stands for the token of its own that every form of an answer sends, until the page goes out."""
TOKEN = Markup(f'<input type="hidden" name="token" value="{FORM_SLOT}">')  # noqa: S704 – no text of anybody's

THEMES = ("system", "light", "dark")
GAUGE_CHOICES = [(gauge.written, str(gauge)) for gauge in GAUGES]
LOAD_CHOICES = [(kind, f"{KIND_WORDS[kind]}, {' or '.join(units_of(kind))}") for kind in LOAD_KINDS]
GANG_CHOICES = [(count, str(count)) for count in range(1, MOST_GANGS + 1)]


def edition_choices() -> list[tuple[str, str]]:
    """What a job can be judged under, by its id."""
    return [(edition.id, edition.title) for edition in EDITIONS.values()]


def static(name: str) -> str:
    """The address of a shipped file, changing with its content so that no stale copy is ever used."""
    if name not in _STAMPS:
        _STAMPS[name] = sha256((_STATIC / name).read_bytes()).hexdigest()[:10]
    return f"/static/{name}?{_STAMPS[name]}"


def percent(value: Fraction, whole: Fraction) -> str:
    """A position as a share of the drawing's width, for SVG: ``37.5%``."""
    return f"{float(value) / float(whole) * 100:.6g}%"


def sentence(text: Text) -> str:
    """A text as a sentence: with a full stop, unless it asks."""
    said = say(text)
    return said if said.endswith("?") else f"{said}."


def capitalize_first(text: str) -> str:
    """A text with a capital first letter, the rest as it is."""
    return text[:1].upper() + text[1:]


def mm(value: float) -> str:
    """A length in a drawing whose unit is the millimeter."""
    return f"{value:.5g}"


def rect(place: Rect) -> Markup:
    """Where a rectangle lies in a drawing whose unit is the millimeter, as SVG attributes."""
    lies = f'x="{mm(place.x)}" y="{mm(place.y)}" width="{mm(place.width)}" height="{mm(place.height)}"'
    return Markup(lies)  # noqa: S704 – made of numbers


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


@dataclass(frozen=True, slots=True)
class _Fragment:
    """A part of a page that was rendered before where its key was seen before."""

    key: tuple[object, ...]
    make: Callable[[], Markup] = field(compare=False)


@lru_cache(maxsize=20_000)
def _kept_fragment(fragment: _Fragment) -> Markup:
    return fragment.make()


def fragment(errors: FormErrors, macro: str, key: tuple[object, ...], *fields: Any) -> Markup:
    """What a macro makes, kept once rendered: the key must hold everything it depends on.

    A page with a refused act is rendered anew: what was typed stands in it.

    Args:
        errors: the first thing the macro is told.
        macro: its template and name, such as ``bench/forms.html:act``.
        key: what it depends on beside its name, hashable.
        fields: what else the macro is told.
    """

    def make() -> Markup:
        made: Markup = _macro(macro)(errors, *fields)
        return made

    return make() if errors.key else _kept_fragment(_Fragment((macro, *key), make))


def part(has: dict[str, str], html: str, errors: FormErrors = NO_ERRORS) -> Markup:
    """A part of a page, or only its name where the browser has it to the letter already.

    Args:
        has: what the browser has: the stamp of each part, by its id.
        html: the part; its outermost tag has an id.
        errors: with what was typed in it, a part is never left out, and is sent anew next time.
    """
    if errors.key:
        return Markup(html.strip())  # noqa: S704 – made of escaped templates
    id, stamp, same, whole = _stamped(html)
    return same if has.get(id) == stamp else whole


@lru_cache(maxsize=512)
def _stamped(html: str) -> tuple[str, str, Markup, Markup]:
    """Id and stamp of a part, its name only, and the part with its stamp. Kept: a kept fragment is the same text."""
    text = str(html).strip()
    tag, id = _ROOT.match(text).group(1, 2)  # type: ignore[union-attr]
    stamp = blake2b(text.encode(), digest_size=6).hexdigest()
    same = Markup(f'<{tag} id="{id}" data-same></{tag}>')  # noqa: S704
    return id, stamp, same, Markup(f'<{tag} data-stamp="{stamp}"{text[len(tag) + 1 :]}')  # noqa: S704


_ROOT = re.compile(r'<(\w+)[^>]*? id="([^"]+)"')


class ActingView(Protocol):
    """What a form needs to know of the screen it stands on."""

    @property
    def errors(self) -> FormErrors:
        """A refused act."""

    @property
    def base(self) -> str:
        """Where its acts go."""


def act_form(view: ActingView, name: str, key: str, *fields: Any) -> Markup:
    """A form of the bench that says nothing of the box as it stands: kept once rendered."""
    errors = view.errors if view.errors.key == key else NO_ERRORS
    return fragment(errors, f"bench/forms.html:{name}", (view.base, key, fields), view.base, key, *fields)


@lru_cache
def _macro(name: str) -> Any:
    template, _, macro = name.partition(":")
    return getattr(_ENVIRONMENT.get_template(template).module, macro)


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
    environment.filters.update(
        say=say,
        figure=figure,
        share=share,
        percent=percent,
        mm=mm,
        capitalize_first=capitalize_first,
        rect=rect,
        sum_up=sum_up,
        sentence=sentence,
        number=write_number,
    )
    environment.globals.update(
        amount=amount,
        static=static,
        circuit_choices=circuit_choices,
        room_choices=room_choices,
        act_form=act_form,
        fragment=fragment,
        part=part,
        REVISION_SLOT=REVISION_SLOT,
        TOKEN=TOKEN,
        NO_ERRORS=NO_ERRORS,
        floor_choices=floor_choices,
        edition_choices=edition_choices,
        GANG_CHOICES=GANG_CHOICES,
        GAUGE_CHOICES=GAUGE_CHOICES,
        KIND_WORDS=KIND_WORDS,
        LABEL_WORDS=LABEL_WORDS,
        RATED_KINDS=RATED_KINDS,
        LAMP_KINDS=[kind for kind in LOAD_KINDS if kind in LAMPS],
        DEVICE_CHOICES=[(kind, kind) for kind in DEVICE_KINDS],
        DOES=DOES,
        BEHAVIORS=BEHAVIORS,
        LISTED=LISTED,
        LOAD_CHOICES=LOAD_CHOICES,
        CAUTION=CAUTION,
        version=__version__,
        urls=urls,
        choices=choices,
        WORDS=WORDS,
        STAGES=STAGES,
        TICKS=TICKS,
    )
    return environment


_ENVIRONMENT = make_environment()


def render(request: Request, template: str, status: int = 200, revision: int = 0, **values: Any) -> HTMLResponse:
    """A page, or the part of one that htmx asked for.

    Args:
        request: whose answer it is.
        template: of the page.
        status: of the answer.
        revision: what its forms say the person has seen, on a page that acts on a box.
        values: what the template shows.
    """
    theme = request.cookies.get("theme", "system")
    values["theme"] = theme if theme in THEMES else "system"
    values["here"] = request.url.path
    seen = request.headers.get("x-forms", "")
    values["has"] = dict(one.split("=", 1) for one in request.headers.get("x-has", "").split() if "=" in one)
    values["forms"] = seen if seen.isdecimal() and len(seen) < 10 else str(revision)
    page = _ENVIRONMENT.get_template(template).render(values)
    own = page.replace(REVISION_SLOT, values["forms"]).replace(FORM_SLOT, uuid4().hex)
    return HTMLResponse(own, status)
