"""From version 2: a planned device says which found one it is, and a built one which planned one.

Until then a device was the same where its id and its model were. No id changes, so setup codes, what was noted when a
device was set up, and ticks keep their subjects. Bodies that are none of version 2 pass as they are.
"""

from __future__ import annotations

from typing import Any

Body = dict[str, Any]
_KINDS = ("devices", "modules")


def box(body: Body) -> Body:
    """Return a box whose devices say what they were before.

    >>> old = {"id": "d1", "sheet": "toggle"}, {"id": "d2", "sheet": "toggle"}
    >>> new = {"id": "d1", "sheet": "toggle"}, {"id": "d2", "sheet": "dimmer"}
    >>> box({"found": {"devices": list(old)}, "planned": {"devices": list(new)}})["planned"]["devices"]
    [{'id': 'd1', 'sheet': 'toggle', 'stays': 'd1'}, {'id': 'd2', 'sheet': 'dimmer'}]
    """
    later = {"planned": body.get("found"), "built": body.get("planned")}
    return body | {
        stage: _staying(body[stage], before) for stage, before in later.items() if isinstance(body.get(stage), dict)
    }


def job(body: Body) -> Body:
    """Return a job file of version 3."""
    boxes = body.get("boxes")
    new = [box(one) if isinstance(one, dict) else one for one in boxes] if isinstance(boxes, list) else boxes
    return body | {"version": 3} | ({} if boxes is None else {"boxes": new})


def _staying(contents: Body, before: object) -> Body:
    known = _pairs(before)
    changed = {}
    for kind in _KINDS:
        if isinstance(contents.get(kind), list):
            changed[kind] = [
                one | {"stays": one["id"]} if isinstance(one, dict) and _pair(one) in known else one
                for one in contents[kind]
            ]
    return contents | changed


def _pairs(contents: object) -> set[tuple[str, str]]:
    if not isinstance(contents, dict):
        return set()
    listed = [one for kind in _KINDS if isinstance(contents.get(kind), list) for one in contents[kind]]
    return {pair for one in listed if isinstance(one, dict) and (pair := _pair(one)) is not None}


def _pair(one: Body) -> tuple[str, str] | None:
    id, sheet = one.get("id"), one.get("sheet")
    return (id, sheet) if isinstance(id, str) and isinstance(sheet, str) else None
