"""The inspector's sheets: one page a box, with every line, its rule and what stayed open; one page for the house."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from ...model.answer import Answer, Rule, State
from ...model.box import Box
from ...model.edition import EDITIONS
from ...model.job import Job, by_id
from ...rules.check import BoxCheck, JobCheck, check_box
from ...survey.open_points import open_points
from ...text.format import amount, each_of, figure, say, sum_up
from .as_built import not_done
from .paper import Beside, Drawn, Paper, Para, Section, Table, tabled, told

_MARKS = {"memory": "†", "practice": "‡"}
MARKED = "† A figure from memory of the publication. ‡ Common practice, without a published source."
DONE_ABOUT_IT = "____________________"
NO_WAY_HERE = "see Fix for what to change"


def inspector_paper(job: Job, box: Box) -> Paper:
    """The sheet of one box.

    Args:
        job: the house, as far as it fits together.
        box: one of its boxes.
    """
    check = check_box(box, by_id(job.sheets), job.terms_at(box), job.volts)
    facts = (
        Para(f"{check.state.word.capitalize()}: {say(check.headline)}", "strong"),
        Para(f"Counted by {EDITIONS[job.terms.code].title}. {_fed(job, box)}"),
    )
    others = [
        one for one in (check.depth, check.bulk, *check.ratings, check.prohibitions, check.fit) if one is not None
    ]
    sections = [Section("", facts), *(_counted(answer, box, check) for answer in check.fills)]
    sections += [_of(others), _findings(check)]
    left = "; ".join(_open(job, box, check))
    sections += [told("What stayed open", f"{left[:1].upper()}{left[1:]}." if left else "Nothing.")]
    sections.append(Section("", (Para(MARKED, "small"),)))
    return Paper("inspector", "Inspector’s sheet", job.name, tuple(sections), box.id, f"{box.room}: {box.name}")


def _fed(job: Job, box: Box) -> str:
    known = {one.id: one for one in job.circuits}
    said = []
    for id in box.circuits:
        one = known.get(id)
        kind = f" {one.kind}" if one and one.kind not in (None, "plain") else ""
        said.append(f"breaker {id}{f', {one.breaker} A{kind}' if one else ''}")
    return f"Fed by {' and '.join(said)}." if said else "Which breaker feeds it is not known."


def _counted(answer: Answer, box: Box, check: BoxCheck) -> Section:
    """A count, line by line, each with its rule; drawn as its rail, and the box beside it."""
    rows = tuple(
        (
            str(number), say(line.what), figure(line.count) if line.each is not None else "",
            "" if line.each is None else each_of(line, answer.unit), _value(line.value, answer.unit),
            _rule(line.rule),
        )
        for number, line in enumerate(answer.lines, 1)
    )  # fmt: skip
    limit = tuple(
        ("", say(line.what), "", "", _value(line.value, answer.unit), _rule(line.rule)) for line in answer.limit_lines
    )
    total = ("", "In all", "", "", f"{sum_up(answer)}", answer.state.word)
    table = Table(("No.", "What", "Count", "Each", "Is", "By"), (*rows, *limit, total), (2, 8, 3, 4, 5, 8), True)
    if answer != check.fill:
        return Section(say(answer.title), (table,))
    return Section(say(answer.title), (Drawn("count", box.id), Beside(Drawn("front", box.id), table)))


def _of(answers: Sequence[Answer]) -> Section:
    """All the other answers, each in a line: its sum against its limit, what binds, by which rules."""
    rows = []
    for answer in answers:
        summed = sum_up(answer) if answer.about not in ("prohibitions", "fit") else ""
        rules = dict.fromkeys(_rule(line.rule) for line in (*answer.lines, *answer.limit_lines))
        rows.append((say(answer.title), summed, answer.state.word, say(answer.headline), ", ".join(rules)))
    head = ("Depth, bulk, limits", "Is", "State", "What binds", "By")
    return tabled("Depth, bulk and limits", head, (5, 5, 2, 6, 7), rows, "Nothing of it is known.")


def _findings(check: BoxCheck) -> Section:
    """What does not pass and what was found beside it, with its ways out, and room for what was done about it."""
    rows: dict[str, tuple[str, ...]] = {}
    for answer in check.answers:
        found = [remark for remark in answer.remarks if remark.state > State.TIGHT]
        if answer.state > State.TIGHT and not any(remark.text == answer.headline for remark in found):
            said = f"{say(answer.title)}: {say(answer.headline)}"
            rows[said] = (said, NO_WAY_HERE, "", DONE_ABOUT_IT)
        for remark in found:
            said = say(remark.text)
            rows[said] = (said, "; ".join(remark.ways) or NO_WAY_HERE, _rule(remark.rule), DONE_ABOUT_IT)
    return tabled("Findings", ("Finding", "How to fix it", "By", "Done about it"), (8, 6, 5, 6), rows.values(), "None.")


def _open(job: Job, box: Box, check: BoxCheck) -> Iterator[str]:
    for answer in check.answers:
        if answer.state is State.OPEN:
            yield f"{say(answer.title)}: {say(answer.headline)}"
    for point in open_points(box):
        yield point.sentence
    yield from not_done(job, box.id)


def summary_paper(job: Job, check: JobCheck) -> Paper:
    """The page of the house: every box and every circuit in a line.

    Args:
        job: the house, as far as it fits together.
        check: all its answers.
    """
    counts = {state: sum(one.state is state for one in check.boxes) for state in State}
    said = ", ".join(f"{count} {state.word}" for state, count in counts.items() if count)
    boxes = tuple(
        (
            one.box.room, one.box.name, ", ".join(one.box.circuits) or "?", sum_up(one.fill), one.state.word,
            say(one.headline),
        )
        for one in check.boxes
    )  # fmt: skip
    circuits = tuple(
        (say(one.title), sum_up(one), one.state.word, say(one.headline)) for one in check.circuits if one.lines
    )
    head = ("Room", "Box", "Circuit", "Volume", "State", "What binds")
    counted = f"Counted by {EDITIONS[job.terms.code].title}, {job.terms.voltage} V. Boxes: {said or 'none'}."
    sections = [told("", counted), tabled("Boxes", head, (5, 5, 3, 6, 3, 9), boxes, "None yet.")]
    if circuits:
        of_circuit = ("Circuit", "Draws", "State", "What binds")
        sections.append(tabled("Circuits", of_circuit, (6, 5, 3, 9), circuits, ""))
    if check.fit is not None:
        sections.append(_of([check.fit]))
    return Paper("summary", "Summary for the inspector", job.name, tuple(sections))


def _value(value: Fraction | None, unit: str) -> str:
    return "not known" if value is None else amount(value, unit)


def _rule(rule: Rule) -> str:
    return rule.name + _MARKS.get(rule.standing, "")
