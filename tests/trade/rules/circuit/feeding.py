"""Circuits to ask of, and boxes on them."""

from __future__ import annotations

from typing import Any

from nail_count.trade.model.answer import Answer, Remark
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.circuit.branch import circuit_load
from tests.support import SWITCH, flat, on

GENERAL = Datasheet.model_validate(
    {"id": "switch", "name": "Switch", "kind": "switch", "channels": [{"ratings": {"general": {"alone": "20 A"}}}]}
)


SMART = Datasheet.model_validate({"id": "smart", "name": "Smart", "kind": "smart switch", "heat": {"standby": "0.6 W"}})


GROUND = Datasheet.model_validate(
    {"id": "ground", "name": "Grounded", "kind": "smart switch", "neutral": "uses the ground",
     "listed": ["replaces a switch without a neutral"]}
)  # fmt: skip


SHEETS = {"switch": GENERAL, "smart": SMART, "ground": GROUND}


def watts(total: int, **more: Any) -> dict[str, Any]:
    return {"kind": "incandescent", "quantity": total // 50, "each": "50 W", **more}


def fed(id: str, *loads: dict[str, Any], circuit: str = "1", **more: Any) -> Box:
    devices = [on(1, SWITCH, None, *loads).model_dump()]
    return flat({"id": id, "name": id, "room": "R", "circuit": circuit, "devices": devices} | more)


def asked(
    *boxes: Box, breaker: int = 15, terms: Terms | None = None, beside: Circuit | None = None, **more: Any
) -> Answer:
    return circuit_load(Circuit(id="1", breaker=breaker, **more), boxes, SHEETS, terms=terms or Terms(), beside=beside)


def finding(answer: Answer, *codes: str) -> Remark:
    return next(remark for remark in answer.remarks if remark.code in codes)


PART = (fed("a", watts(700, continuous=True)), fed("b", watts(900)))
