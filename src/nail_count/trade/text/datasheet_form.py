"""A sheet as it is copied from a leaflet, field by field, in words; and back into such fields.

Ratings are a table of a row for each kind: alone, with one neighbor or two ganged, with two neighbors or three ganged,
four ganged, least. An empty row is a kind the leaflet does not list; `?` one it lists without a figure; `no` one it
names as not permitted.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from pydantic import ValidationError

from ..model.channel import Channel, Rating
from ..model.datasheet import TERMINAL_ROLES, CurvePoint, Datasheet, Packed, Terminal
from ..model.errors import BESIDE_OTHERS, Problem, Rejected, problems_of
from ..model.load import KIND_WORDS, RATED_KINDS, RatedKind
from ..model.measure import Length, Measure, Power, parse_number, write_number
from .joining import read_joining, write_joining

COLUMNS = ("alone", "second", "third", "fourth", "least")
"""Of the table of ratings."""
MOST_CHANNELS = 8
"""As many as a sheet may have."""
Typed = Mapping[str, str]

_PLAIN = (
    "id", "maker", "name", "kind", "gangs", "leads", "derating", "phase", "neutral", "radio", "pairing", "code_at",
    "places", "companion", "end", "input", "trim", "leaflet",
)  # fmt: skip
_LISTS = ("does", "behaviors", "lamp_settings", "listed")
_FLAGS = ("continuous", "battery", "bypass", "class2", "metering", "neon", "unlisted")
_YES_NO = ("reversible", "local", "full_range", "input_at_mains")
_LENGTHS = ("spacer", "least_depth")


def row_name(kind: RatedKind) -> str:
    """A kind in the name of a field: mlv-lamps."""
    return kind.replace(" ", "-")


def read_sheet(typed: Typed, id: str) -> Datasheet:
    """The sheet that was copied.

    Args:
        typed: the fields as typed; a missing or empty one leaves its value unknown.

    Raises:
        Rejected: with a sentence for each field to correct.

    >>> typed = {"name": "Dimmer", "kind": "dimmer", "ch1-led-alone": "140 W", "ch1-led-second": "115"}
    >>> sheet = read_sheet(typed | {"ch1-cfl-alone": "no"}, "dimmer")
    >>> str(sheet.channels[0].ratings["led"].end), sheet.channels[0].not_permitted
    ('115 W', ('cfl',))
    """
    return _Form(typed).sheet(id)


_INCHES = partial(Length.parse, unit="in")
_SIDES = ("width", "height", "projection")


class _Form:
    """What was typed, read field by field; errors are collected, so that all of it is answered at once."""

    def __init__(self, typed: Typed) -> None:
        self.typed = typed
        self.wrong: list[Problem] = []

    def text(self, field: str) -> str:
        """Return a field as typed, without spaces around it."""
        return self.typed.get(field, "").strip()

    def take(self, field: str, read: Callable[[str], Any]) -> Any:
        """Return a field, read; None where it is empty or cannot be read."""
        text = self.text(field)
        if not text:
            return None
        try:
            return read(text)
        except ValueError as refused:
            self.wrong.append(Problem((field,), str(refused)))
            return None

    def sheet(self, id: str) -> Datasheet:
        """Return the sheet. Raises Rejected with the error at each field."""
        data = {"id": id, **self._plain(), **self._read(), "body": self._body(), "ambient": self._ambient()}
        data["channels"] = self._channels()
        try:
            sheet = Datasheet.model_validate(data)
        except ValidationError as refused:
            told = {problem.sentence for problem in self.wrong}
            further = [Problem((_field(c.path),), c.sentence) for c in problems_of(refused)]
            raise Rejected.of([*self.wrong, *(one for one in further if one.sentence not in told)]) from refused
        if not self.wrong and sheet.ambient is not None and sheet.ambient.contradicts:
            agree = "make the curve agree with where the rating holds: it gives less than 100% there"
            self.wrong.append(Problem(("ambient-curve",), agree))
        if self.wrong:
            raise Rejected.of(self.wrong)
        return sheet

    def _plain(self) -> dict[str, Any]:
        """Return the fields that are taken as they are: words, lists, ticks, yes and no."""
        typed = self.typed
        return {
            **{name: self.text(name) for name in _PLAIN if self.text(name)},
            **{name: [one for one in typed.get(name, "").split(",") if one] for name in _LISTS},
            **{name: typed.get(name) == "true" for name in _FLAGS},
            **{name: {"true": True, "false": False}.get(typed.get(name, "")) for name in _YES_NO},
        }

    def _read(self) -> dict[str, Any]:
        """Return the fields that each have a way of being read."""
        return {
            **{name: self.take(name, _INCHES) for name in _LENGTHS},
            "total": self.take("total", partial(Power.parse, unit="A")),
            "heat": {
                "share": self.take("heat-share", _share),
                "standby": self.take("heat-standby", partial(Power.parse, unit="W")),
            },
            "terminals": self.take("terminals", _terminals) or (),
            "package": self.take("package", _package) or (),
            "joining": self.take("joining", read_joining),
            "torque": self.take("torque", _torque),
        }

    def _body(self) -> dict[str, Any] | None:
        """Return the three sides of the body; None where one is missing or none was typed."""
        sides = {side: self.take(f"body-{side}", _INCHES) for side in _SIDES}
        empty = [side for side in _SIDES if not self.text(f"body-{side}")]
        if len(empty) == len(_SIDES):
            return None
        self.wrong += [Problem((f"body-{side}",), "Enter all three of the body, or none") for side in empty]
        return sides if None not in sides.values() else None

    def _ambient(self) -> dict[str, Any] | None:
        """Return how it holds up as it gets warmer; None where nothing of it was typed."""
        if not any(self.text(f"ambient-{part}") for part in ("holds_to", "stops_at", "curve")):
            return None
        points = self.take("ambient-curve", _curve) or ()
        stops = self.text("ambient-stops_at") or (str(points[-1].at) if points else None)
        if stops is None and not self.wrong:
            self.wrong.append(Problem(("ambient-stops_at",), "Enter the stated maximum, such as 60 °C"))
        return {"holds_to": self.text("ambient-holds_to") or None, "stops_at": stops, "curve": points}

    def _channels(self) -> list[dict[str, Any]]:
        """Return every channel that was counted, or else those anything was typed of."""
        by_number = self.typed.get("derating") == "by number"
        typed = {name.split("-")[0] for name in self.typed if re.match(r"ch\d-", name) and self.text(name)}
        count = len(typed)
        if self.typed.get("channels", "").isdecimal():
            count = self.take("channels", _channel_count) or 0
        numbers = range(1, min(count, MOST_CHANNELS) + 1)
        return [_channel(number, self.take, by_number, self.wrong) for number in numbers]


def _channel_count(text: str) -> int:
    # Looked at before it is read: Python refuses whole numbers of thousands of digits.
    if len(text) > len(str(MOST_CHANNELS)) or int(text) > MOST_CHANNELS:
        raise ValueError(f"Enter at most {MOST_CHANNELS} channels")
    return int(text)


Take = Callable[[str, Callable[[str], Any]], Any]


def _channel(number: int, take: Take, by_number: bool, wrong: list[Problem]) -> dict[str, Any]:
    at = f"ch{number}-"
    ratings: dict[str, Any] = {}
    forbidden: list[str] = []
    minimums: dict[str, Any] = {}
    for kind in RATED_KINDS:
        row = at + row_name(kind) + "-"
        first = take(row + "alone", str)
        if first == "no":
            forbidden.append(kind)
            continue
        alone = None if first in (None, "?") else take(row + "alone", Power.parse)
        in_unit = partial(Power.parse, unit=alone.unit if alone else None)
        further = [take(row + column, in_unit) for column in COLUMNS[1:3]]
        more = take(row + COLUMNS[3], partial(_each, read=in_unit)) or []
        if first is not None or any(further) or more:
            if by_number:
                ratings[kind] = {"alone": alone, "ganged": [one for one in (*further, *more) if one is not None]}
            else:
                ratings[kind] = {"alone": alone, "end": further[0], "middle": further[1]}
            wrong += _of_row(row, kind, ratings[kind])
        least = take(row + "least", lambda text: Power.parse(text, "W"))
        if least is not None:
            minimums[kind] = least
    mixed = take(at + "mixed", partial(_mixed, by_number=by_number)) or []
    return {
        "name": take(at + "name", str) or "",
        "ratings": ratings,
        "not_permitted": forbidden,
        "minimum": take(at + "minimum", lambda text: Power.parse(text, "W")),
        "minimums": minimums,
        "mixing": "own table" if mixed else take(at + "mixing", str) or "fractions add",
        "mixed": mixed,
        "inrush": take(at + "inrush", lambda text: Power.parse(text, "A")),
    }


def _of_row(row: str, kind: RatedKind, rating: dict[str, Any]) -> list[Problem]:
    """The errors in one row of the table, at the figure it is about."""
    try:
        Channel.model_validate({"ratings": {kind: rating}})
    except ValidationError as refused:
        first = problems_of(refused)[0]
        return [Problem((row + ("second" if first.code == BESIDE_OTHERS else "alone"),), first.sentence)]
    return []


def _each(text: str, read: Callable[[str], Power]) -> list[Power]:
    """Several figures, parted by commas."""
    return [read(one) for one in text.split(",")]


def _share(text: str) -> Any:
    number = text.removesuffix("%").strip()
    return parse_number(number) / 100 if text.endswith("%") else parse_number(number)


def _curve(text: str) -> list[CurvePoint]:
    points = []
    for part in re.split(r"[,;]", text):
        at, _, share = part.partition(":")
        try:
            points.append(CurvePoint.model_validate({"at": at.strip(), "share": _share(share.strip())}))
        except ValidationError as wrong:
            raise ValueError(problems_of(wrong)[0].sentence) from wrong
        except ValueError as wrong:
            raise ValueError(
                f"Enter points such as 40 °C: 100%, 60 °C: 30%. “{part.strip()[:30]}” isn’t one"
            ) from wrong
    return points


def _terminals(text: str) -> list[Terminal]:
    found = []
    for part in (one.strip() for one in text.split(",") if one.strip()):
        role = next((role for role in sorted(TERMINAL_ROLES, key=len, reverse=True) if part.startswith(role)), None)
        if role is None:
            roles = ", ".join(TERMINAL_ROLES)
            raise ValueError(f"Enter leads such as line black, ground green screw; “{part[:30]}” is none of {roles}")
        said = part.removeprefix(role)
        most = re.search(r"[\d./]+ ?A\b", said)
        rest = (said.replace(most[0], "") if most else said).split()
        kind = "screw" if "screw" in rest else "lead"
        color = " ".join(word for word in rest if word not in ("screw", "lead"))
        carries = Power.parse(most[0], "A") if most else None
        found.append(Terminal.model_validate({"role": role, "kind": kind, "color": color, "most": carries}))
    return found


def _package(text: str) -> list[Packed]:
    """What lies in the package: 5 connectors, 2 screws, spacer."""
    found = []
    for part in (one.strip() for one in text.split(",") if one.strip()):
        count, _, what = part.partition(" ")
        many = count.isdecimal()
        try:
            found.append(Packed.model_validate({"what": what if many else part, "count": count if many else 1}))
        except ValidationError as wrong:
            raise ValueError(
                f"Enter a list such as 5 connectors, 2 screws, spacer. “{part[:30]}” isn’t understood"
            ) from wrong
    return found


def _torque(text: str) -> Any:
    return parse_number(re.sub(r"\s*(lb|in-lb|lb-in|lb·in)\.?$", "", text))


def _mixed(text: str, by_number: bool) -> list[dict[str, Any]]:
    """Rows parted by semicolons: 100, 80, 65 W led + 700, 630, 560 W incandescent; `?` for a kind without a figure."""
    words = {word.lower(): kind for kind, word in KIND_WORDS.items()} | {kind: kind for kind in RATED_KINDS}
    rows = []
    for part in (one.strip() for one in text.split(";") if one.strip()):
        row: dict[str, Any] = {}
        for each in part.split("+"):
            found = re.fullmatch(r"\s*(?:([\d./, ]+?)\s*(W|VA|A|hp)|\?)\s+(.+?)\s*", each)
            kind = words.get(found[3].lower()) if found else None
            if found is None or kind is None:
                raise ValueError(f"Enter rows such as 100 W led + 700 W incandescent. “{each.strip()[:40]}” isn’t one")
            figures = [Power.parse(figure, found[2]) for figure in (found[1] or "").split(",") if figure.strip()]
            row[kind] = {"alone": figures[0] if figures else None}
            if by_number:
                row[kind]["ganged"] = figures[1:]
            else:
                row[kind] |= dict(zip(("end", "middle"), figures[1:], strict=False))
        rows.append(row)
    return rows


def _field(path: tuple[str | int, ...]) -> str:
    """The field of the form that a place in the sheet is typed in."""
    if path[:1] == ("channels",) and len(path) > 1:
        at = f"ch{int(path[1]) + 1}-"
        if len(path) > 3 and path[2] in ("ratings", "minimums"):
            kind = row_name(str(path[3]))  # type: ignore[arg-type]
            column = {"end": "second", "middle": "third", "ganged": "second"}.get(
                str(path[4]) if len(path) > 4 else "", "alone"
            )
            return f"{at}{kind}-{'least' if path[2] == 'minimums' else column}"
        return at + (str(path[2]) if len(path) > 2 else "mixed")
    if path[:1] in (("terminals",), ("package",), ("joining",)):
        return str(path[0])
    if path[:1] in (("ambient",), ("heat",), ("body",)):
        part = str(path[1]) if len(path) > 1 else {"ambient": "curve", "heat": "share", "body": "width"}[str(path[0])]
        return f"{path[0]}-{part}"
    return str(path[0]) if path else ""


def write_sheet(sheet: Datasheet) -> dict[str, str]:
    """The fields that [read_sheet][] reads back as this sheet."""
    said: dict[str, str] = {name: _text(getattr(sheet, name)) for name in (*_PLAIN, *_LENGTHS, "total")}
    said |= {name: ",".join(getattr(sheet, name)) for name in _LISTS}
    said |= {name: "true" if getattr(sheet, name) else "" for name in _FLAGS}
    said |= {name: {None: "", True: "true", False: "false"}[getattr(sheet, name)] for name in _YES_NO}
    for side in ("width", "height", "projection"):
        said[f"body-{side}"] = _text(getattr(sheet.body, side)) if sheet.body else ""
    said["heat-share"] = f"{write_number(sheet.heat.share * 100)}%" if sheet.heat.share is not None else ""
    said["heat-standby"] = _text(sheet.heat.standby)
    said["terminals"] = ", ".join(
        " ".join(filter(None, (one.role, one.color, "screw" if one.kind == "screw" else "", _text(one.most))))
        for one in sheet.terminals
    )
    said["package"] = ", ".join(f"{one.count} {one.what}" if one.count > 1 else one.what for one in sheet.package)
    said["torque"] = _text(sheet.torque)
    said["joining"] = write_joining(sheet.joining) if sheet.joining else ""
    ambient = sheet.ambient
    said["ambient-holds_to"] = (
        f"{write_number(ambient.holds_to)} °C" if ambient and ambient.holds_to is not None else ""
    )
    said["ambient-stops_at"] = f"{write_number(ambient.stops_at)} °C" if ambient else ""
    points = ambient.curve if ambient else ()
    said["ambient-curve"] = ", ".join(f"{write_number(p.at)} °C: {write_number(p.share * 100)}%" for p in points)
    said["channels"] = str(len(sheet.channels))
    for number, channel in enumerate(sheet.channels, 1):
        said |= _channel_said(f"ch{number}-", channel)
    return said


def _channel_said(at: str, channel: Channel) -> dict[str, str]:
    said = {
        f"{at}name": channel.name,
        f"{at}minimum": _text(channel.minimum),
        f"{at}mixing": channel.mixing,
        f"{at}inrush": _text(channel.inrush),
        f"{at}mixed": "; ".join(
            " + ".join(f"{_slashed(rating)} {kind}" for kind, rating in row.items()) for row in channel.mixed
        ),
    }
    said |= {f"{at}{row_name(kind)}-alone": "no" for kind in channel.not_permitted}
    said |= {f"{at}{row_name(kind)}-least": _text(least) for kind, least in channel.minimums.items()}
    for kind, rating in channel.ratings.items():
        row = f"{at}{row_name(kind)}-"
        further = rating.ganged[:2] or (rating.end, rating.middle)
        said[f"{row}alone"] = _text(rating.alone) or "?"
        said |= {f"{row}{column}": _text(one) for column, one in zip(COLUMNS[1:3], further, strict=False)}
        said[f"{row}{COLUMNS[3]}"] = ", ".join(map(str, rating.ganged[2:]))
    return said


def _slashed(rating: Rating) -> str:
    figures = [
        figure for figure in (rating.alone, *(rating.ganged or (rating.end, rating.middle))) if figure is not None
    ]
    return f"{', '.join(write_number(figure.value) for figure in figures)} {figures[0].unit}" if figures else "?"


def _text(value: object) -> str:
    if value is None:
        return ""
    return str(value) if isinstance(value, str | int | Measure) else write_number(value)  # type: ignore[arg-type]
