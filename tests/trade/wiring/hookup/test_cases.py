"""Worked cases of hook-ups, good and bad, each with its findings and in how many states a lamp burns."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from nail_count.trade.wiring.hookup.network import Gear, GearKind, Input, NetLoad, Network, Source
from nail_count.trade.wiring.hookup.proof import prove

CASES = json.loads((Path(__file__).parent / "cases.json").read_text())
CODES = {
    "does not change its load from every state": "does-not-change",
    "neutral of the load is switched or missing": "neutral-switched",
    "polarity switched at the load": "polarity-switched",
    "not powered": "not-powered",
    "neutral of another circuit": "neutral-of-another",
    "mains on a dry input": "mains-on-dry-input",
    "legs shorted": "legs-shorted",
    "two circuits joined": "circuits-joined",
    "neutrals of two circuits joined": "neutrals-joined",
    "neutral meets ground": "neutral-meets-ground",
    "hot meets ground": "hot-meets-ground",
}


def gear(said: dict[str, Any]) -> Gear:
    """A thing of a case."""
    controls = ((said["controls"],),) if "controls" in said else ()
    id, kind, circuit = said["id"], said["kind"], said.get("circuit")
    if kind == "switch":
        return Gear(id, "switch", ((), ((said["a"], said["b"]),)), ("off", "on"), controls=controls)
    if kind == "threeway":
        ways = tuple(((said["common"], said[one]),) for one in ("t1", "t2"))
        return Gear(id, "three-way", ways, ("up", "down"), controls=controls)
    if kind == "fourway":
        a1, a2, b1, b2 = (said[one] for one in ("a1", "a2", "b1", "b2"))
        four = ((a1, b1), (a2, b2)), ((a1, b2), (a2, b1))
        return Gear(id, "four-way", four, ("straight", "crossed"), controls=controls)
    line, load = said["line"], said.get("load") or said["out"]
    contact = ((), ((line, load),))
    if kind == "twowire":
        return Gear(id, "two-wire", contact, ("off", "on"), line, load, controls=controls, circuit=circuit)
    inputs: tuple[Input, ...] = ()
    if kind == "smart" and said["sense"]:
        inputs = (Input(said["sense"], "signal", (line, load)),)
    if kind == "module":
        inputs = (Input(said["input"], said["input_kind"], ("r.ref",)),)
    as_kind: GearKind = "module" if kind == "module" else "powered"
    return Gear(id, as_kind, contact, ("off", "on"), line, load, said["neutral"], inputs, controls, circuit)


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    network = Network(
        tuple(Source(id, f"{id}.hot", f"{id}.neutral", one["leg"]) for id, one in case["circuits"].items()),
        tuple((one, other) for one, other in case["wires"]),
        gear=tuple(gear(one) for one in case["things"]),
        loads=tuple(NetLoad(one["id"], one["a"], one["b"], one["circuit"]) for one in case["loads"]),
    )
    proof, expected = prove(network), case["expect"]
    assert {(one.code, one.of) for one in proof.findings} == {(CODES[text], of) for text, of in expected["findings"]}
    assert proof.holds is expected["proven"]
    assert (proof.states, proof.burning) == (expected["states"], expected["states_with_a_lamp_burning"])
