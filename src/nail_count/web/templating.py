"""Templates: Jinja with escaping on, unknown names refused, and the heart's own words for figures."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, MutableMapping
from datetime import UTC, datetime
from fractions import Fraction
from hashlib import sha256
from importlib.resources import files
from secrets import token_hex
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import HTMLResponse

from .. import __version__
from ..drawing.badge import badge
from ..drawing.front import Rect
from ..drawing.hookup import DRAWN_COLORS
from ..files.report import CAUTION
from ..trade.model.answer import Text
from ..trade.model.clock import write_clock, write_minutes
from ..trade.model.datasheet import BEHAVIORS, DEVICE_KINDS, LISTED
from ..trade.model.edition import EDITIONS
from ..trade.model.enclosure import MOST_GANGS
from ..trade.model.gauge import GAUGES
from ..trade.model.house import House
from ..trade.model.load import KIND_WORDS, LAMPS, LOAD_KINDS, RATED_KINDS, units_of
from ..trade.model.measure import write_number
from ..trade.model.panel import Circuit
from ..trade.model.region import REGIONS
from ..trade.model.survey import TEST_NAMES, UNCOVERED
from ..trade.model.wish import DOES
from ..trade.plan.house_next import HousePhase
from ..trade.plan.progress import Phase
from ..trade.plan.relamping import LABEL_WORDS
from ..trade.rules import joints
from ..trade.rules.prohibitions import SHORTEST_FREE
from ..trade.text.choices import choices
from ..trade.text.format import amount, each_of, figure, say, share, sum_up
from ..trade.text.glossary import WORDS
from . import urls
from .form_errors import NO_ERRORS
from .sections import Section

_STATIC = files("nail_count.web") / "static"
_STAMPS: dict[str, str] = {}

BOX_SCREENS: Mapping[Phase, tuple[tuple[str, str], ...]] = {
    "Look": (("survey", "Survey"), ("interview", "Wishes")),
    "Wires": (("wires", "Wires"),),
    "Plan": (("", "Bench"), ("choose", "Choose"), ("fix", "Fix"), ("hookup", "Hook-up")),
    "Work": (("install", "Install"), ("commission", "Set up")),
    "Record": (("history", "History"),),
}
"""The screens of each phase of a box, by what stands behind the box's address, with what they are called."""
HOUSE_SCREENS: Mapping[HousePhase, tuple[str, ...]] = {
    "Walk through": ("", "next-visit", "panel", "map"),
    "Plan": ("parts", "fixes", "sheets"),
    "Work": ("progress", "day"),
    "Hand over": ("papers",),
}
"""The pages of each phase of a house, by what stands behind the house's address, the one to go to first."""
HOUSE_PATHS = tuple(path for paths in HOUSE_SCREENS.values() for path in paths)
BOX_PATHS = tuple(path for screens in BOX_SCREENS.values() for path, _ in screens)

REVISION_SLOT = "\ue000"
"""Stands for the revision in every form until the page goes out. A section that an act leaves alone keeps the one it
was sent with; the page says beside it which it shows, and its script sends that."""

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


def region_choices() -> list[tuple[str, str]]:
    """Return the regions a job can be wired in, each by its id."""
    return [(region.id, region.title) for region in REGIONS.values()]


def static(name: str) -> str:
    """The address of a shipped file, changing with its content so that no stale copy is ever used."""
    if name not in _STAMPS:
        _STAMPS[name] = sha256((_STATIC / name).read_bytes()).hexdigest()[:10]
    return f"/static/{name}?{_STAMPS[name]}"


def percent(value: Fraction, whole: Fraction | int) -> str:
    """A position as a share of the drawing's width, for SVG: ``37.5%``."""
    return f"{float(value) / float(whole) * 100:.5g}%"


def sentence(text: Text) -> str:
    """A text as a sentence: with a full stop, unless it asks."""
    said = say(text)
    return said if said.endswith("?") else f"{said}."


def capitalize_first(text: str) -> str:
    """A text with a capital first letter, the rest as it is."""
    return text[:1].upper() + text[1:]


def mm(value: float) -> str:
    """A length in a drawing whose unit is the millimeter."""
    return f"{float(value):.5g}"


def when(moment: datetime) -> Markup:
    """A moment kept in UTC, as an element that the page's script shows in the reader's own time."""
    moment = moment.astimezone(UTC).replace(tzinfo=None) if moment.tzinfo else moment
    said = moment.strftime("%b %-d, %H:%M")
    return Markup('<time datetime="{}Z">{} UTC</time>').format(moment.isoformat(timespec="seconds"), said)


def clock(minutes: int | None) -> str:
    """A time of the day in a field; "" where none is known."""
    return "" if minutes is None else write_clock(minutes)


def rect(place: Rect) -> Markup:
    """Where a rectangle lies in a drawing whose unit is the millimeter, as SVG attributes."""
    lies = f'x="{mm(place.x)}" y="{mm(place.y)}" width="{mm(place.width)}" height="{mm(place.height)}"'
    return Markup(lies)  # noqa: S704 – made of numbers


def circuit_choices(circuits: Iterable[Circuit]) -> list[tuple[str, str]]:
    """The circuits a box may be on, by their ids."""
    named = ((c.id, f"{c.id} · {c.label}" if c.label else c.id) for c in circuits)
    return [("", "not known"), *named]


def room_choices(rooms: Iterable[str]) -> list[tuple[str, str]]:
    """The rooms boxes can be sought in."""
    return [("", "any"), *((room, room) for room in rooms)]


def floor_choices(rooms: Iterable[str], house: House) -> list[tuple[str, str]]:
    """The rooms of a house, each with its floor where that is known."""
    return [(room, f"{room} · {floor}" if (floor := house.floor_of(room)) else room) for room in rooms]


def mark_kind(value: object) -> str:
    """Which of a few things a value is, so that a template can show each in its own way: para, table; stroke, disc."""
    return type(value).__name__.lower()


class _Templates(Environment):
    """Where each template holds the globals as one mapping: a chain of two is compared again at every import."""

    def make_globals(self, d: MutableMapping[str, Any] | None) -> MutableMapping[str, Any]:
        return {**self.globals, **(d or {})}


def make_environment() -> Environment:
    """The environment all templates are rendered in."""
    environment = _Templates(
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
        each_of=each_of,
        share=share,
        percent=percent,
        mm=mm,
        capitalize_first=capitalize_first,
        rect=rect,
        when=when,
        badge=badge,
        sum_up=sum_up,
        sentence=sentence,
        number=write_number,
        lasts=write_minutes,
        clock=clock,
        mark_kind=mark_kind,
    )
    environment.globals.update(
        HOOK_COLORS=DRAWN_COLORS,
        BOX_SCREENS=BOX_SCREENS,
        HOUSE_SCREENS=HOUSE_SCREENS,
        amount=amount,
        static=static,
        circuit_choices=circuit_choices,
        room_choices=room_choices,
        REVISION_SLOT=REVISION_SLOT,
        TOKEN=TOKEN,
        NO_ERRORS=NO_ERRORS,
        floor_choices=floor_choices,
        edition_choices=edition_choices,
        region_choices=region_choices,
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
        UNCOVERED=UNCOVERED,
        TEST_NAMES=TEST_NAMES,
        joints=joints,
        SHORTEST_FREE=SHORTEST_FREE,
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
    page = _ENVIRONMENT.get_template(template).render(values)
    return HTMLResponse(filled(page, revision), status)


def filled(html: str, revision: int) -> str:
    """What goes out: with the revision its forms were made for, and a token of their own."""
    return html.replace(REVISION_SLOT, str(revision)).replace(FORM_SLOT, token_hex(8))


def render_sections(sections: Iterable[Section], about: Mapping[str, object]) -> list[Markup]:
    """Render sections, each by its template, which places the sections `inside` by their ids.

    Args:
        about: what all sections of its page are told.
    """
    told = {**_ENVIRONMENT.globals, **about}

    def rendered(one: Section) -> Markup:
        inside = {each.id: rendered(each) for each in one.inside}
        told.update(view=one.view, errors=one.errors, section=one, inside=inside)
        template = _ENVIRONMENT.get_template(one.template)
        # Not `render`, which puts all globals together again for each section.
        written = template.root_render_func(template.new_context(told, shared=True))
        return Markup("".join(written).strip())  # noqa: S704 – escaped by the template

    return [rendered(one) for one in sections]
