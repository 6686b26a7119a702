"""Hook-ups as data and as plain text: what `nail-count hookup` prints."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..trade.assume.usual import Assumption
from ..trade.assume.wired import TO_FIND
from ..trade.model.answer import State
from ..trade.model.job import by_id
from ..trade.plan.install.names import names_of
from ..trade.text.format import and_list, say
from ..trade.text.wires import name_of_splice
from ..trade.wiring.hookup.look import HookUp
from ..trade.wiring.hookup.readings import expected
from ..trade.wiring.hookup.stages import Named, contents_at, ends_of, node_of
from ..trade.wiring.hookup.work import work
from .report import CAUTION, assumed_data


def hookup_data(at: HookUp, rests_on: tuple[Assumption, ...] = ()) -> dict[str, Any]:
    """Return the hook-up of a box as plain data for JSON: plan, proof, readings, work.

    Args:
        at: the hook-up.
        rests_on: what it holds on that nobody has checked; as long as there is any, its state is open.
    """
    ends = ends_of(at.job, at.box, at.stage)
    called = {named.end: named.words for named in ends.values()}
    names = names_of(at.job, at.box)
    return {
        "box": at.box.id,
        "name": at.box.name,
        "room": at.box.room,
        "state": _word(at, rests_on),
        "rests_on": [assumed_data(one) for one in rests_on],
        "states_tried": at.proof.states,
        "breakers": [one for one in at.breakers if one != TO_FIND],
        "splices": [
            {
                "id": splice.id,
                "name": splice.name,
                "ends": [called.get(end, "jumper") for end in splice.ends],
                "connector": splice.connector.size if splice.connector else None,
            }
            for splice in contents_at(at.box, at.stage).splices
            if splice.ends
        ],
        "findings": [
            {
                "code": one.finding.code,
                "rule": one.finding.rule,
                "text": say(one.text),
                "state": one.state,
                "ways_out": list(one.ways),
            }
            for one in at.shown
        ],
        "connectors_too_small": [splice.id for splice in at.overfull],
        "not_said": [say(one.text) for one in at.unsaid],
        "readings": list(_readings(at, ends)),
        "work": [
            {"act": step.act, "splice": step.splice.id, "ends": [names.get(end, "jumper") for end in step.ends]}
            for step in work(at.box, by_id(at.job.sheets), at.seen.wires_in(at.box.id))
        ],
        "caution": CAUTION,
    }


def _readings(at: HookUp, ends: Mapping[str, Named]) -> Iterator[dict[str, Any]]:
    told = expected(at.seen, at.box.id, at.job.terms_at(at.box).voltage)
    for named in ends.values():
        if shows := told.get(node_of(at.box.id, named.end)):
            yield {"point": named.words, "expect": {name: one.says for name, one in shows.items()}}


def _word(at: HookUp, rests_on: tuple[Assumption, ...]) -> str:
    return State.OPEN.word if rests_on and at.state is not State.FAILS else at.state.word


def splices_text(at: HookUp) -> Iterator[str]:
    """Each splice of a hook-up as a line of text."""
    for splice in hookup_data(at)["splices"]:
        held = f"{splice['connector']} connector" if splice["connector"] else "under the screw"
        name = name_of_splice(splice["name"], splice["id"])
        yield f"  {name}: {', '.join(splice['ends'])} ({held})"


def hookup_text(at: HookUp, rests_on: tuple[Assumption, ...] = ()) -> str:
    """Return the same as plain text."""
    data = hookup_data(at, rests_on)
    lines = [f"{at.box.room}: {at.box.name} – {data['state']}, {data['states_tried']} states tried"]
    lines += [f"  Holds if {and_list([one.text for one in rests_on])}."] if rests_on else []
    lines += [f"  off first: {', '.join(data['breakers'])}"] if data["breakers"] else []
    lines += splices_text(at)
    for found in data["findings"]:
        state = f", with {found['state']}" if found["state"] else ""
        lines.append(f"  FAILS {found['text']}{state}. To fix it: {'; '.join(found['ways_out'])}.")
    lines += [f"  FAILS the connector of {id} does not take what meets there." for id in data["connectors_too_small"]]
    lines += [f"  OPEN  {text}." for text in data["not_said"]]
    lines += [f"  {number}. {step['act']}: {', '.join(step['ends'])}" for number, step in enumerate(data["work"], 1)]
    if data["splices"]:
        lines.append("  readings to expect, on a loaded meter to neutral:")
    for reading in data["readings"] if data["splices"] else ():
        lines.append(
            f"    {reading['point']}: {'; '.join(f'{name}: {shows}' for name, shows in reading['expect'].items())}"
        )
    return "\n".join(lines)
