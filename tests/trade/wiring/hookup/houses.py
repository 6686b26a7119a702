"""Houses to hook up: boxes, cables, devices and runs in a few words. Invented; what they come to stands in tests."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from nail_count.trade.model.job import Job

WATTS = "9 W"
ROLES: Mapping[str, tuple[str, Sequence[str], Mapping[str, Any]]] = {
    "switch": ("switch", ("line screw", "load screw", "ground screw"), {}),
    "three-way": ("switch", ("line screw", "traveler screw", "traveler screw", "ground screw"), {"places": "several"}),
    "four-way": ("switch", ("traveler screw",) * 4 + ("ground screw",), {"places": "several"}),
    "two-wire": ("dimmer", ("line", "load"), {}),
    "smart": ("smart switch", ("line", "load", "neutral", "ground"), {"neutral": "needed"}),
    "main": ("dimmer", ("line", "load", "traveler", "neutral", "ground"), {"neutral": "needed", "places": "several"}),
    "line-main": (
        "dimmer", ("line", "load", "traveler", "neutral"),
        {"neutral": "needed", "places": "several", "end": "line end"},
    ),
    "load-main": (
        "dimmer", ("line", "load", "traveler", "neutral"),
        {"neutral": "needed", "places": "several", "end": "load end"},
    ),
    "wired-main": (
        "dimmer", ("line", "load", "traveler", "neutral", "ground"),
        {"neutral": "needed", "places": "several", "companion": "companion"},
    ),
    "companion": ("switch", ("traveler", "neutral", "ground"), {"neutral": "needed"}),
    "hot-companion": ("switch", ("line", "traveler", "neutral", "ground"), {"neutral": "needed"}),
    "hot-main": (
        "dimmer", ("line", "load", "traveler", "neutral", "ground"),
        {"neutral": "needed", "places": "several", "companion": "hot-companion"},
    ),
    "fan-and-light": ("fan control", ("line", "load", "second load", "neutral", "ground"), {"neutral": "needed"}),
    "three-way-dimmer": ("dimmer", ("line", "traveler", "traveler", "ground"), {"places": "several"}),
    "mains-module": ("module", ("line", "load", "neutral", "input"), {"input": "mains", "behaviors": ["toggles"]}),
    "dry-module": (
        "module", ("line", "load", "neutral", "input", "input common"), {"input": "dry", "behaviors": ["toggles"]},
    ),
    "dry-pair-module": (
        "module", ("line", "load", "neutral", "input", "input"), {"input": "dry", "behaviors": ["toggles"]},
    ),
    "contact-module": (
        "module", ("line", "contact", "load", "neutral", "input"), {"input": "mains", "behaviors": ["toggles"]},
    ),
    "two-module": (
        "module", ("line", "load", "second load", "neutral", "input", "input"),
        {"input": "mains", "behaviors": ["toggles"]},
    ),
    "relay-module": ("module", ("line", "load", "neutral"), {}),
    "sender": ("module", ("line", "neutral", "input"), {"input": "mains", "behaviors": ["detached"]}),
    "dry-sender": ("module", ("line", "neutral", "input", "input common"), {"input": "dry", "behaviors": ["detached"]}),
    "two-pole": ("switch", ("line screw", "line screw", "load screw", "load screw", "ground screw"), {}),
    "neon": ("switch", ("line screw", "load screw", "ground screw"), {"neon": True}),
    "remote": ("remote", (), {}),
    "regulator": ("dimmer", ("line", "load"), {}),
    "receptacle": ("receptacle", ("line screw", "neutral screw", "ground screw"), {}),
    "gfci": (
        "receptacle",
        ("line screw", "neutral screw", "load screw", "load neutral screw", "ground screw"),
        {},
    ),
    "duplex": ("receptacle", ("line screw", "line screw", "neutral screw", "neutral screw", "ground screw"), {}),
}  # fmt: skip


def sheet(id: str) -> dict[str, Any]:
    """A sheet that names its terminals."""
    kind, terminals, more = ROLES[id]
    named = [
        {"role": one.removesuffix(" screw"), "kind": "screw" if one.endswith("screw") else "lead"} for one in terminals
    ]
    outputs = sum(one.startswith(("load", "second load", "third load")) for one in terminals)
    channels: list[Any] = [{"ratings": {"general": {}}}] * max(outputs, 1)
    return {"id": id, "name": id, "kind": kind, "terminals": named, "channels": channels, **more}


def box(id: str, cables: str, devices: Mapping[str, str] | None = None, loads: str = "", **more: Any) -> dict[str, Any]:
    """A box.

    Args:
        id: its key and its name.
        cables: each a letter and how many wires: A2 B3.
        devices: by id, the sheet of each; m1 is a module.
        loads: each the device, its output, and the outlet or the cable it hangs at: d1.1@lamp d2.1@C.
        more: further fields of the box.
    """
    made: dict[str, list[dict[str, Any]]] = {}
    for number, one in enumerate(loads.split(), 1):
        what, _, where = one.partition("@")
        device, _, channel = what.partition(".")
        place = {"cable": where} if len(where) == 1 else {"outlet": where}
        load = {"id": f"l{number}", "kind": "led", "each": WATTS, "channel": int(channel or 1), **place}
        made.setdefault(device, []).append(load)
    items: dict[str, list[dict[str, Any]]] = {"devices": [], "modules": []}
    for gang, (device, of) in enumerate((devices or {}).items(), 1):
        item: dict[str, Any] = {"id": device, "sheet": of, "loads": made.get(device, [])}
        if device.startswith("m"):
            items["modules"].append(item)
        else:
            items["devices"].append({"gang": gang, **item})
    enclosure = {"gangs": max(len(items["devices"]), 1), "volume": "60 in3"}
    return {
        "id": id, "name": id, "room": "R", "circuit": "1",
        "cables": [{"id": one[0], "gauge": "14 AWG", "insulated": int(one[1])} for one in cables.split()],
        "planned": {"enclosure": enclosure, **items}, **more,
    }  # fmt: skip


def lamp(id: str, cables: str = "A2", **more: Any) -> dict[str, Any]:
    """A box with a lamp."""
    return box(id, cables, use="luminaire", **more)


def job(boxes: Sequence[dict[str, Any]], runs: str, **more: Any) -> Job:
    """A house.

    Args:
        boxes: of it.
        runs: each two ends: a.A=1 from the panel, a.B=b.A between two boxes, a.C=on onward, a.D=? to a lamp in words.
        more: further fields of the job.
    """
    used = {item["sheet"] for one in boxes for what in ("devices", "modules") for item in one["planned"][what]}
    used |= {str(ROLES[one][2]["companion"]) for one in used if "companion" in ROLES[one][2]}
    made = []
    for number, one in enumerate(runs.split()):
        here, _, there = one.partition("=")
        made.append({"id": f"r{number}", "one": _end(here), "other": _end(there)})
    circuits = [{"id": "1", "space": 1}, {"id": "2", "space": 3}]
    said = {"name": "House", "circuits": circuits, "sheets": [sheet(one) for one in sorted(used)], "boxes": list(boxes)}
    return Job.model_validate({**said, "runs": made, **more})


def _end(said: str) -> dict[str, str]:
    if said == "on":
        return {"kind": "onward"}
    if said == "?":
        return {"kind": "words", "words": "to the lamp"}
    at, _, cable = said.partition(".")
    return {"kind": "box", "box": at, "cable": cable} if cable else {"kind": "circuit", "circuit": said}
