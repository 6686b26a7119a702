"""Houses put together in one box: gangs beside each other, on one circuit or on two."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from nail_count.trade.model.job import Job

AT = "a"
"""The box they share."""


def side_by_side(houses: Sequence[Job], circuits: Sequence[str]) -> Job:
    """Return one house with the boxes of all; what was in the box of each is in one box.

    Args:
        houses: each with a box `a`; of the colors of the first.
        circuits: which each is on.
    """
    parts = [
        _part(house, number, circuit) for number, (house, circuit) in enumerate(zip(houses, circuits, strict=True))
    ]
    first = houses[0].model_dump(mode="json", exclude_none=True, exclude={"sheets", "boxes", "runs", "circuits"})
    shared = [box for part in parts for box in part["boxes"] if box["id"] == AT]
    letters = iter("ABCDEFGHIJKLMNOPQRSTUVWXYZ")
    renamed: list[dict[str, str]] = []
    for box in shared:
        renamed.append({cable["id"]: next(letters) for cable in box["cables"]})
    whole: dict[str, Any] = {
        **shared[0],
        "cables": [],
        "planned": {**shared[0]["planned"], "devices": [], "modules": []},
    }
    for number, (box, names) in enumerate(zip(shared, renamed, strict=True)):
        first_gang = 1 + len(whole["planned"]["devices"])
        whole["cables"] += [{**cable, "id": names[cable["id"]]} for cable in box["cables"]]
        for what in ("devices", "modules"):
            for item in box["planned"].get(what, []):
                loads = [
                    {**load, "cable": names[load["cable"]]} if "cable" in load else load
                    for load in item.get("loads", [])
                ]
                behind = {"gang": first_gang} if box["planned"].get("devices") else {}
                gang = {"gang": 1 + len(whole["planned"]["devices"])} if what == "devices" else behind
                on = {"circuit": circuits[number]} if circuits[number] != circuits[0] else {}
                whole["planned"][what].append({**item, "loads": loads, **gang, **on})
    whole["planned"]["enclosure"]["gangs"] = max(len(whole["planned"]["devices"]), 1)
    whole["planned"]["enclosure"]["volume"] = "300 in3"
    whole["other_circuits"] = sorted(set(circuits) - {circuits[0]})
    others = [box for part in parts for box in part["boxes"] if box["id"] != AT]
    runs = [_run(run, names) for part, names in zip(parts, renamed, strict=True) for run in part["runs"]]
    sheets = {sheet["id"]: sheet for part in parts for sheet in part["sheets"]}
    spaces = [{"id": one, "space": 2 * number + 1} for number, one in enumerate(sorted(set(circuits)))]
    return Job.model_validate(
        {**first, "circuits": spaces, "sheets": list(sheets.values()), "boxes": [whole, *others], "runs": runs}
    )


def _part(house: Job, number: int, circuit: str) -> dict[str, Any]:
    """A house with names of its own, but for the shared box."""
    said = house.model_dump(mode="json", exclude_none=True)
    names = {box["id"]: AT if box["id"] == AT else f"{box['id']}{number}" for box in said["boxes"]}
    for box in said["boxes"]:
        box |= {"id": names[box["id"]], "name": names[box["id"]], "circuit": circuit}
        for what in ("devices", "modules"):
            for item in box["planned"].get(what, []):
                item["id"] = f"{item['id'][0]}{number}{item['id'][1:]}"
                if item.get("commands"):
                    to, of = item["commands"].split("/")
                    item["commands"] = f"{names[to]}/{of[0]}{number}{of[1:]}"
                for load in item.get("loads", []):
                    load["id"] = f"{load['id']}{number}"
                    if "outlet" in load:
                        load["outlet"] = names[load["outlet"]]
    for run in said["runs"]:
        run["id"] = f"{run['id']}x{number}"
        for end in (run["one"], run["other"]):
            if end["kind"] == "box":
                end["box"] = names[end["box"]]
            elif end["kind"] == "circuit":
                end["circuit"] = circuit
    return said


def _run(run: dict[str, Any], names: dict[str, str]) -> dict[str, Any]:
    """A run whose cable in the shared box has its new letter."""
    ends = {
        at: {**run[at], "cable": names[run[at]["cable"]]} if run[at].get("box") == AT else run[at]
        for at in ("one", "other")
    }
    return {**run, **ends}
