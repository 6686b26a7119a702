"""How a device joins its hub, in a line as people write it; and back.

>>> write_joining(read_joining("toggles 5 times in 3 s; looks 180 s; reset: ten times"))
'toggles 5 times in 3 s; looks 180 s; reset: ten times'
>>> joining_words(read_joining("held button 7 s or presses 3 times"))
'Hold its button for 7 s, or press its button 3 times'
"""

from __future__ import annotations

import re

from pydantic import ValidationError

from ..model.errors import problems_of
from ..model.joining import JOIN_WAYS, JoinAct, Joining, JoinWay

_LINE = re.compile(
    rf"(?P<way>{'|'.join(JOIN_WAYS)})"
    r"(?: (?P<times>\d{1,3}) times)?(?:(?: in| for)? (?P<seconds>\d{1,4}) ?s(?:econds)?)?"
)
_LOOKS = re.compile(r"looks (?:for )?(\d{1,5}) ?s(?:econds)?")
EXPECTED = "Write it such as held button 7 s or first power; looks 180 s; reset: hold 20 s"


def read_joining(text: str) -> Joining:
    """What a line says. Raises ValueError where it says something else.

    Args:
        text: way, times, seconds, and further ways after "or"; how long it looks; how it is reset; semicolons between.
    """
    parts = [part.strip() for part in text.split(";") if part.strip()]
    ways = [_LINE.fullmatch(way.strip()) for way in parts[0].lower().split(" or ")] if parts else [None]
    acts = [{name: value for name, value in way.groupdict().items() if value} for way in ways if way is not None]
    if len(acts) != len(ways):
        raise ValueError(EXPECTED)
    said: dict[str, object] = {**acts[0], "others": acts[1:]}
    for part in parts[1:]:
        if looks := _LOOKS.fullmatch(part.lower()):
            said["window"] = looks[1]
        elif part.lower().startswith("reset:"):
            said["reset"] = part[len("reset:") :].strip()
        else:
            raise ValueError(f"{EXPECTED}. “{part[:30]}” isn’t understood")
    try:
        return Joining.model_validate(said)
    except ValidationError as wrong:
        raise ValueError(problems_of(wrong)[0].sentence) from wrong


def write_joining(one: Joining) -> str:
    """The line that [read_joining][] reads back as this."""
    line = [" or ".join(map(_written, (one, *one.others)))]
    line += [f"looks {one.window} s"] if one.window else []
    line += [f"reset: {one.reset}"] if one.reset else []
    return "; ".join(line)


def _written(one: JoinAct) -> str:
    words = [one.way, f"{one.times} times" if one.times else ""]
    if one.seconds is not None:
        words.append(f"in {one.seconds} s" if one.times else f"{one.seconds} s")
    return " ".join(filter(None, words))


_DOES: dict[JoinWay, str] = {
    "held button": "hold its button",
    "two buttons": "hold both buttons",
    "presses": "press its button",
    "toggles": "turn it off and on",
    "first power": "just power it: it looks for a hub by itself the first time",
    "access point": "join the device’s own Wi-Fi with a phone and follow it",
    "code": "scan its setup code",
}


def joining_words(one: Joining) -> str:
    """The act, or each of several, as a person tells it."""
    words = ", or ".join(map(_act_words, (one, *one.others)))
    return words[:1].upper() + words[1:]


def _act_words(one: JoinAct) -> str:
    words = _DOES[one.way]
    if one.times:
        words += f" {one.times} times"
    if one.seconds is not None:
        words += f" within {one.seconds} s" if one.times else f" for {one.seconds} s"
    return words
