"""Answers as data and as plain text: what `nail-count check` prints."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from ..trade.assume.usual import Assumption
from ..trade.assume.verdict import Verdict, verdicts_of
from ..trade.model.answer import Answer, Line, Rule, State
from ..trade.model.job import Job
from ..trade.rules.check import BoxCheck, JobCheck
from ..trade.text.format import amount, each_of, figure, say, sum_up

CAUTION = (
    "Turn off the breaker and verify dead before you touch anything. Local code and licensed work come first. "
    "A count is not a permit."
)

_STANDINGS = {"memory": " (figure from memory of the publication)", "practice": " (common practice)"}
_MARKS = {State.HOLDS: "holds", State.TIGHT: "tight", State.OPEN: "OPEN ", State.FAILS: "FAILS"}


def check_data(job: Job, check: JobCheck) -> dict[str, Any]:
    """All answers of a job as plain data for JSON; figures are numbers, rounded to six decimals."""
    return {
        "job": job.name,
        "code": job.terms.code,
        "state": check.state.word,
        "boxes": [box_data(box, verdict) for box, verdict in zip(check.boxes, verdicts_of(job, check), strict=True)],
        "circuits": [answer_data(circuit) for circuit in check.circuits],
        "to_mend": answer_data(check.fit) if check.fit else None,
        "caution": CAUTION,
    }


def box_data(check: BoxCheck, verdict: Verdict) -> dict[str, Any]:
    """All answers of one box as plain data; where its verdict rests on anything, its state stays open."""
    return {
        "id": check.box.id,
        "name": check.box.name,
        "room": check.box.room,
        "state": check.state.word,
        "verdict": verdict.words,
        "rests_on": [assumed_data(one) for one in verdict.rests_on],
        "binds": str(check.binding.subject),
        "answers": [answer_data(answer) for answer in check.answers],
    }


def assumed_data(one: Assumption) -> dict[str, Any]:
    """One assumption as plain data."""
    return {
        "code": one.code,
        "box": one.box,
        "cables": list(one.cables),
        "value": one.neutral,
        "text": one.text,
        "why": one.why,
        "check": one.check,
    }


def answer_data(answer: Answer) -> dict[str, Any]:
    """One answer as plain data."""
    return {
        "about": answer.about,
        "subject": str(answer.subject),
        "title": say(answer.title),
        "state": answer.state.word,
        "headline": say(answer.headline),
        "unit": answer.unit,
        "total": _number(answer.total),
        "limit": _number(answer.limit),
        "margin": _number(_margin(answer)),
        "lines": [_line_data(line) for line in answer.lines],
        "limit_lines": [_line_data(line) for line in answer.limit_lines],
        "remarks": [
            {
                "code": remark.code,
                "text": say(remark.text),
                "state": remark.state.word,
                "rule": _rule_data(remark.rule),
                "ways": list(remark.ways),
            }
            for remark in answer.remarks
        ],
    }


def _line_data(line: Line) -> dict[str, Any]:
    return {
        "kind": line.kind,
        "what": say(line.what),
        "count": _number(line.count),
        "each": _number(line.each),
        "value": _number(line.value),
        "rule": _rule_data(line.rule),
        "why": say(line.why),
        "parts": [{"id": part.id, "count": _number(part.count)} for part in line.parts],
    }


def _rule_data(rule: Rule) -> dict[str, str]:
    return {"name": rule.name, "standing": rule.standing}


def _margin(answer: Answer) -> Fraction | None:
    """Return how much of a limit is left; None where the answer fails for another reason than the limit."""
    left = answer.margin
    return None if left is not None and answer.state is State.FAILS and left >= 0 else left


def _number(value: Fraction | None) -> float | int | None:
    if value is None:
        return None
    return value.numerator if value.denominator == 1 else round(float(value), 6)


def check_text(job: Job, check: JobCheck, width: int = 78, explain: bool = False) -> str:
    """All answers of a job as text for a terminal, with the caution at the end; `explain` says why each line is so."""
    lines = [job.name, "=" * min(len(job.name), width), ""]
    lines += [*_answer_text(check.fit, explain), ""] if check.fit else []
    for box, verdict in zip(check.boxes, verdicts_of(job, check), strict=True):
        lines += [*_box_text(box, verdict, explain), ""]
    for circuit in check.circuits:
        if circuit.lines or not circuit.state.passes:
            lines += _answer_text(circuit, explain)
    lines += [""] if check.circuits else []
    counts = [f"{sum(box.state == state for box in check.boxes)} {state.word}" for state in State]
    lines += [f"{len(check.boxes)} box{'' if len(check.boxes) == 1 else 'es'}: {', '.join(counts)}.", "", CAUTION]
    return "\n".join(lines)


def _box_text(check: BoxCheck, verdict: Verdict, explain: bool) -> Iterator[str]:
    box = check.box
    yield f"[{_MARKS[check.state]}] {box.room}: {box.name} ({box.id})"
    if verdict.rests_on:
        yield f"  {verdict.words[0].upper()}{verdict.words[1:]}."
    for one in verdict.rests_on:
        yield f"      {one.why} To check: {one.check}"
    for answer in check.answers:
        yield from _answer_text(answer, explain)


def _answer_text(answer: Answer, explain: bool) -> Iterator[str]:
    summed = f"{sum_up(answer)} · " if answer.about not in ("prohibitions", "fit") else ""
    yield f"  {answer.state.word.ljust(6)}{say(answer.title)}: {summed}{say(answer.headline)}"
    for line in (*answer.lines, *(answer.limit_lines if explain else ())):
        yield f"      {_line_text(line, answer.unit)}"
        if explain and line.why:
            yield f"        {say(line.why)}{_STANDINGS.get(line.rule.standing, '')}"
    for remark in answer.remarks:
        ways = f"; to fix it: {', or '.join(remark.ways)}" if remark.ways else ""
        if remark.text != answer.headline or ways:
            yield f"      – {say(remark.text)}{ways} ({remark.rule.name})"


def _line_text(line: Line, unit: str) -> str:
    value = "not known" if line.value is None else amount(line.value, unit)
    sum_of = ""
    if line.each is not None and unit != "share":
        sum_of = f"{figure(line.count)} × {each_of(line)}"
    return f"{say(line.what).ljust(44)[:60]} {sum_of.rjust(12)} = {value}   {line.rule.name}"
