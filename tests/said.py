"""What a person may say in any form: likely answers from the job at hand, and now and then nonsense."""

from __future__ import annotations

import types
from collections.abc import Sequence
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from hypothesis import strategies as st

from nail_count.store.snapshots import BoxSnapshot, JobSnapshot
from nail_count.trade.model.thing import Thing

NONSENSE = (
    *("", " ", "no", "-1", "0", "99", "9" * 5000, "1e9", "½", "A-1", "\ud800", "é́", "x" * 400),
    *("'; drop table job;", "2/1"),
)
VOLUMES = ("18", "20.3 in3", "34 in³", "54", "0", "1000 in3", "1000000 in3", "295 mL")
LENGTHS = ("2 1/8", "70 mm", "0", "1000000 in", "3.5 in", "0.1 mm")
WATTS = ("9", "9 W", "60", "0.9 A", "1/2 hp", "100 VA", "0", "20001 W")
BY_NAME: dict[str, tuple[str, ...]] = {
    "gauge": ("14", "12", "#10", "18", "13"),
    "ground_gauge": ("", "14", "10"),
    "insulated": ("2", "3", "1", "0", "20"),
    "grounds": ("1", "0", "2"),
    "space": ("1", "2", "3", "6", "12"),
    "volume": VOLUMES,
    "trade_size": ("", "3x2x3-1/2", "4x2-1/8 square"),
    "each": WATTS, "power": WATTS, "loss": WATTS,
    "quantity": ("1", "4", "500"), "fewest": ("", "1", "2"), "count": ("1", "3", "60"),
    "channel": ("1", "2", "3"), "power_factor": ("", "0.9", "2"),
    "free": LENGTHS, "depth": LENGTHS, "width": LENGTHS, "height": LENGTHS, "setback": LENGTHS,
    "gangs": ("1", "2", "3", "4", "8"), "ring": ("1", "2"), "number": ("1", "2"), "after": ("1", "2"),
    "voltage": ("120", "230"), "spaces": ("24", "42", "4"), "breaker": ("15", "20 A"), "poles": ("1", "2"),
    "main": ("", "100"), "year": ("", "1931"), "room": ("Attic", "Entry hall", "20", "20 °C"), "places": ("", "1", "3"),
    "volts": ("120", "0", "50 V", "240"), "loads": ("", "4x9W led", "fan 0.8 A"),
    "led_power_factor": ("0.9",), "retrofit_power_factor": ("0.6",), "motor_power_factor": ("", "0.8"),
    "to_room": ("2",), "to_cavity": ("3",), "to_insulated_cavity": ("6",), "to_neighbor": ("1",),
    "kind": ("plaster ring", "extension"), "photo": ("a" * 32, "b" * 8), "at": ("2026-11-02T10:00:00",),
    "to": ("ground", "hot", "lamp center", "up", "down"),
}  # fmt: skip


def of_job(job: JobSnapshot) -> dict[str, list[str]]:
    """What a job has, by the fields that name it."""
    circuits = [*(circuit.id for circuit in job.head.circuits), "31", "32"]
    return {
        "circuit": ["", *circuits], "id": circuits, "was": ["", *circuits], "neutral_with": ["", *circuits],
        "on": circuits, "other_circuits": circuits,
        "sheet": list(job.sheets), "box": list(job.head.order or ()),
        "name": ["Porch", "a name that is long enough to be cut at a hyphen-", *(one.name for one in job.head.stock)],
    }  # fmt: skip


def of_box(kept: BoxSnapshot) -> dict[str, list[str]]:
    """What a box has, by the fields that name it."""
    box = kept.box
    gangs = [str(gang) for gang in range(1, box.enclosure.gangs + 2)]
    devices = [device.id for device in box.devices]
    conductors = [id for cable in box.cables for id in cable.conductor_ids]
    return of_job(kept.job) | {
        "cable": [cable.id for cable in box.cables],
        "device": [item.id for item in box.equipment],
        "module": [module.id for module in box.modules],
        "load": [load.id for item in box.equipment for load in item.loads],
        "gang": gangs, "one": gangs, "other": gangs,
        "order": [f"{id}:{number}" for number, id in enumerate(reversed(devices), 1)],
        "conductor": conductors, "of": conductors,
        "reading": [reading.id for reading in box.readings],
        "wish": ["", *(wish.id for wish in box.wishes)],
    }  # fmt: skip


def choices(field: str, annotation: object, here: dict[str, list[str]]) -> list[str]:
    """Likely answers for a field."""
    said = [*here.get(field, ()), *BY_NAME.get(field, ())]
    return said or list(_literals(annotation)) or ["true", "false", "Porch", "1"]


def _literals(annotation: object) -> Sequence[str]:
    origin = get_origin(annotation)
    if origin is Literal:
        return [str(one) for one in get_args(annotation)]
    if origin in (Annotated, Union, types.UnionType, tuple):
        return [one for part in get_args(annotation) for one in _literals(part)]
    return ()


@st.composite
def any_said(draw: st.DrawFn, what: type[Thing], here: dict[str, list[str]]) -> dict[str, str]:
    """A form of this edit, filled in: mostly with what makes sense here."""
    said: dict[str, str] = {}
    for field, about in what.model_fields.items():
        if not about.is_required() and draw(st.integers(0, 3)) == 0:
            continue
        likely = choices(field, about.annotation, here)
        literal = list(_literals(about.annotation))
        pool: list[Any] = [*likely, *(literal if field in ("kind", "to") else ())]
        if draw(st.integers(0, 24)) == 0:
            said[field] = draw(st.sampled_from(NONSENSE))
        elif field == "order":
            said[field] = ",".join(likely)
        else:
            said[field] = draw(st.sampled_from(pool))
    return said
