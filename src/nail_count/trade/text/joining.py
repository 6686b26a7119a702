"""How a device joins its hub, in a line as people write it; and back.

>>> write_joining(read_joining("toggles 5 times in 3 s; looks 180 s; reset: ten times"))
'toggles 5 times in 3 s; looks 180 s; reset: ten times'
>>> joining_words(read_joining("held button 7 s"))
'Hold its button for 7 s'
"""

from __future__ import annotations

import re

from pydantic import ValidationError

from ..model.errors import problems_of
from ..model.joining import JOIN_WAYS, Joining, JoinWay

_LINE = re.compile(
    rf"(?P<way>{'|'.join(JOIN_WAYS)})"
    r"(?: (?P<times>\d{1,3}) times)?(?:(?: in| for)? (?P<seconds>\d{1,4}) ?s(?:econds)?)?"
)
_LOOKS = re.compile(r"looks (?:for )?(\d{1,5}) ?s(?:econds)?")
EXPECTED = "Write it such as held button 7 s; looks 180 s; reset: hold 20 s"


def read_joining(text: str) -> Joining:
    """What a line says. Raises ValueError where it says something else.

    Args:
        text: way, seconds, times; how long it looks; how it is reset; parted by semicolons.
    """
    parts = [part.strip() for part in text.split(";") if part.strip()]
    first = _LINE.fullmatch(parts[0].lower()) if parts else None
    if first is None:
        raise ValueError(EXPECTED)
    said: dict[str, object] = {name: value for name, value in first.groupdict().items() if value is not None}
    for part in parts[1:]:
        if looks := _LOOKS.fullmatch(part.lower()):
            said["window"] = looks[1]
        elif part.lower().startswith("reset:"):
            said["reset"] = part[len("reset:") :].strip()
        else:
            raise ValueError(f"{EXPECTED}, not “{part[:30]}”")
    try:
        return Joining.model_validate(said)
    except ValidationError as wrong:
        raise ValueError(problems_of(wrong)[0].sentence) from wrong


def write_joining(one: Joining) -> str:
    """The line that [read_joining][] reads back as this."""
    words = [one.way, f"{one.times} times" if one.times else ""]
    if one.seconds is not None:
        words.append(f"in {one.seconds} s" if one.times else f"{one.seconds} s")
    line = [" ".join(filter(None, words))]
    line += [f"looks {one.window} s"] if one.window else []
    line += [f"reset: {one.reset}"] if one.reset else []
    return "; ".join(line)


_DOES: dict[JoinWay, str] = {
    "held button": "Hold its button", "two buttons": "Hold both buttons", "toggles": "Throw it",
    "first power": "Nothing: it looks for a hub by itself when it is first powered", "code": "Scan its setup code",
}  # fmt: skip


def joining_words(one: Joining) -> str:
    """The act, as a person tells it."""
    words = _DOES[one.way]
    if one.times:
        words += f" {one.times} times"
    if one.seconds is not None:
        words += f" within {one.seconds} s" if one.times else f" for {one.seconds} s"
    return words
