"""From version 1: the contents of a box become its plan; splices take the place of letters and of connectors
that were only counted; where a cable goes becomes a run.

Bodies that are none of version 1 pass as they are, so that reading them gives the error.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..model.keys import cut, free_key, slug
from ..model.run import end_in_words

Body = dict[str, Any]

INSIDE = ("enclosure", "devices", "modules", "terminal_blocks")
"""What of a box of version 1 is among its contents now."""


def box(body: Body) -> Body:
    """A box: its contents as planned. Where its cables go is taken out, and read by [goes][] before.

    >>> new = box({"id": "b", "devices": [], "connectors": [{"size": "small", "count": 2}],
    ...     "cables": [{"id": "A", "goes": "feed", "conductors": [{"joined": "x"}, {"thought": "neutral"}]}]})
    >>> [splice["id"] for splice in new["planned"]["splices"]], new["cables"][0]["conductors"]
    (['s1', 's2', 's3'], [{}, {'asserted_role': 'neutral'}])
    """
    splices = [*_joined(body), *_connectors(body)]
    planned: Body = {name: body[name] for name in INSIDE if name in body}
    if splices:
        planned["splices"] = [{"id": f"s{number}", **splice} for number, splice in enumerate(splices, 1)]
    rest = {name: value for name, value in body.items() if name not in (*INSIDE, "connectors")}
    if isinstance(body.get("cables"), list):
        rest["cables"] = [_cable(cable) if isinstance(cable, dict) else cable for cable in body["cables"]]
    return rest | {"planned": planned}


def contents(body: Body) -> Body:
    """What was in a box of version 1, as contents by themselves: for a state that was marked as found."""
    inside: Body = box(body)["planned"]
    return inside


def head(body: Body) -> Body:
    """A head: the change of the last act tells what it moved."""
    return {name: value for name, value in body.items() if name != "moved"}


def goes(body: Body) -> dict[str, str]:
    """Where each cable of a box of version 1 went by its record, in words, by its letter."""
    cables = body.get("cables")
    return {
        cable["id"]: cable["goes"].strip()
        for cable in (cables if isinstance(cables, list) else ())
        if isinstance(cable, dict) and isinstance(cable.get("id"), str)
        and isinstance(cable.get("goes"), str) and cable["goes"].strip()
    }  # fmt: skip


def runs(body: Body, taken: set[str]) -> Iterator[Body]:
    """The runs of a box of version 1; their ids are added to those taken."""
    box_id, circuit = body.get("id"), body.get("circuit")
    if not isinstance(box_id, str):
        return
    for letter, words in goes(body).items():
        id = free_key(f"{cut(box_id, 34)}-{slug(letter) or 'c'}", taken)
        taken.add(id)
        end = end_in_words(words[:60], circuit if isinstance(circuit, str) else None)
        near = {"kind": "box", "box": box_id, "cable": letter}
        yield {"id": id, "one": near, "other": end.model_dump(exclude_none=True)}


def job(document: Body) -> Body:
    """A job file."""
    boxes = document.get("boxes")
    if not isinstance(boxes, list):
        return document | {"version": 2}
    taken: set[str] = set()
    made = [run for one in boxes if isinstance(one, dict) for run in runs(one, taken)]
    new = [box(one) if isinstance(one, dict) else one for one in boxes]
    return document | {"version": 2, "boxes": new} | ({"runs": made} if made else {})


def _cable(cable: Body) -> Body:
    rest = {name: value for name, value in cable.items() if name != "goes" or not isinstance(value, str)}
    if isinstance(cable.get("conductors"), list):
        rest["conductors"] = [_conductor(one) if isinstance(one, dict) else one for one in cable["conductors"]]
    return rest


def _conductor(conductor: Body) -> Body:
    rest = {name: value for name, value in conductor.items() if name not in ("joined", "thought")}
    return rest | ({"asserted_role": conductor["thought"]} if "thought" in conductor else {})


def _joined(body: Body) -> Iterator[Body]:
    """The splices conductors were entered in, by their letters."""
    ends: dict[str, list[Body]] = {}
    cables = body.get("cables")
    for cable in cables if isinstance(cables, list) else ():
        conductors = cable.get("conductors") if isinstance(cable, dict) else None
        for number, conductor in enumerate(conductors if isinstance(conductors, list) else (), 1):
            name = conductor.get("joined") if isinstance(conductor, dict) else None
            if isinstance(name, str) and name.strip():
                ends.setdefault(name.strip(), []).append({"kind": "conductor", "of": f"{cable.get('id')}{number}"})
    for name, joined in ends.items():
        yield {"name": name, "ends": joined}


def _connectors(body: Body) -> Iterator[Body]:
    """A splice for each connector that was counted."""
    connectors = body.get("connectors")
    for one in connectors if isinstance(connectors, list) else ():
        count = one.get("count", 1) if isinstance(one, dict) else 0
        said = {name: one[name] for name in ("size", "gauge") if name in one} if isinstance(one, dict) else {}
        for _ in range(count if isinstance(count, int) and 0 < count <= 60 else 0):
            yield {"connector": said}
