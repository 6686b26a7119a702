"""What a sheet does not say and an answer may come to need: shown as open, to be looked up on the leaflet."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..model.datasheet import Datasheet
from ..model.load import KIND_WORDS
from ..text.datasheet_form import row_name


@dataclass(frozen=True, slots=True)
class NotFound:
    """Something the sheet does not say."""

    field: str
    """Where it is typed."""
    sentence: str
    """What to look for, and what depends on it."""


def missing(sheet: Datasheet) -> tuple[NotFound, ...]:
    """The gaps of a sheet, in the order it is copied.

    >>> bare = Datasheet(id="odd", name="Odd", kind="blank")
    >>> [point.field for point in missing(bare)]
    ['body-width', 'trim']
    """
    return tuple(NotFound(*point) for look in (_size, _leads, _ratings, _limits, _use) for point in look(sheet))


_Point = tuple[str, str]
_WIRELESS = ("blank", "remote")


def _size(sheet: Datasheet) -> Iterator[_Point]:
    if sheet.body is None:
        yield "body-width", "its body: depth and bulk go by it"
    if not sheet.trim and not sheet.is_module:
        yield "trim", "which opening of the plate it takes"


def _leads(sheet: Datasheet) -> Iterator[_Point]:
    if sheet.kind in _WIRELESS:
        return
    if sheet.neutral is None:
        yield "neutral", "whether it needs a neutral"
    if sheet.leads is None and not sheet.terminals:
        yield "leads", "how many leads it brings: bulk goes by them"
    if not sheet.terminals:
        yield "terminals", "its leads and screws, and what each is for"
    if sheet.reversible is None and sheet.channels:
        yield "reversible", "whether line and load may be exchanged"
    if sheet.places == "several" and sheet.end is None and sheet.companion:
        yield "end", "which end of a multi-place pair may hold it"


def _ratings(sheet: Datasheet) -> Iterator[_Point]:
    if sheet.kind not in (*_WIRELESS, "receptacle") and not sheet.channels and sheet.places == "one":
        yield "channels", "what it may carry"
    for number, channel in enumerate(sheet.channels, 1):
        if not channel.ratings:
            yield f"ch{number}-led-alone", "what it may carry: a kind that is not listed is not permitted"
        for kind, rating in channel.ratings.items():
            at = f"ch{number}-{row_name(kind)}-"
            if rating.alone is None:
                yield f"{at}alone", f"the figure for {KIND_WORDS[kind]}: listed without one"
            elif sheet.derating == "by position" and (rating.end is None or rating.middle is None):
                yield f"{at}second", f"the figures for {KIND_WORDS[kind]} beside neighbors"
            elif sheet.derating == "by number" and not rating.ganged:
                yield f"{at}second", f"the figures for {KIND_WORDS[kind]} ganged"
        electronic = sheet.dims or sheet.kind in ("smart switch", "sensor", "module")
        if electronic and channel.minimum is None and "led" in channel.ratings:
            yield f"ch{number}-minimum", "the least load it works with"
        if not sheet.dims and channel.inrush is None and "led" not in channel.ratings and "lighting" in channel.ratings:
            yield f"ch{number}-inrush", "the inrush it stands: LED drivers draw many times as much for an instant"


def _limits(sheet: Datasheet) -> Iterator[_Point]:
    if sheet.channels and sheet.derating == "not stated" and not sheet.is_module:
        yield "derating", "what it says of neighbors"
    if sheet.dims and not sheet.phase and any({"mlv", "elv"} & set(channel.ratings) for channel in sheet.channels):
        yield "phase", "whether it dims by forward or reverse phase"
    if sheet.is_module and sheet.ambient is None:
        yield "ambient-stops_at", "up to which warmth it carries its rating"
    if len(sheet.channels) > 1 and sheet.total is None and sheet.is_module:
        yield "total", "what its channels may carry together"
    if sheet.radio and sheet.heat.standby is None and not sheet.battery:
        yield "heat-standby", "what it takes with everything off"


def _use(sheet: Datasheet) -> Iterator[_Point]:
    if sheet.local is None and sheet.kind not in ("blank", "receptacle"):
        yield "local", "whether it works by hand with the network down"
    if sheet.dims and sheet.channels and sheet.full_range is None and sheet.places == "several":
        yield "full_range", "whether every place has its full range: stairs go by it"
    if sheet.input == "dry" and sheet.input_at_mains is None:
        yield "input_at_mains", "whether its dry input sits at mains potential"
    if sheet.radio and not sheet.pairing:
        yield "pairing", "how to pair it"
    if sheet.radio and not sheet.code_at:
        yield "code_at", "where its setup code sits"
