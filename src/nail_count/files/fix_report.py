"""What would make boxes hold, as text and as data: for the command and for programs."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..trade.model.answer import Answer
from ..trade.model.job import Job, by_id
from ..trade.search.cheapest import Cheapest
from ..trade.search.ways import Way
from ..trade.search.whole_job import HOUR, Mended, Total
from ..trade.text.format import say


def fix_data(job: Job, rows: Sequence[Mended], sums: Total) -> dict[str, Any]:
    """The run as data."""
    return {
        "boxes": [_row(job, one) for one in rows],
        "total": {
            "minutes": sums.minutes,
            "parts": dict(sums.parts),
            "reused": dict(sums.reused),
            "left_over": dict(sums.left),
            "money": None if sums.money is None else float(round(sums.money, 2)),
            "without_price": list(sums.unpriced),
        },
    }


def _row(job: Job, one: Mended) -> dict[str, Any]:
    ways = one.ways
    return {
        "box": one.box,
        "name": one.name,
        "room": one.room,
        "state": ways.check.state.word,
        "headline": say(ways.check.headline),
        "with_neutral": None if ways.if_there is None else ways.if_there.state.word,
        "ways": [_way(job, way) for way in ways.ways],
        "leaves": [_answer(answer) for answer in ways.leaves],
        "in_the_way": [_answer(answer) for answer in ways.in_the_way],
        "not_offered": [{"kind": ruled.kind, "why": ruled.why} for ruled in ways.ruled],
        "searched": None if ways.found is None else searched(ways.found),
        "reused": list(one.reused),
    }


def _way(job: Job, way: Way) -> dict[str, Any]:
    hour = next((price.each for price in job.prices if price.what == HOUR), None)
    money = way.money(hour)
    return {
        "moves": [{"kind": move.kind, "words": move.words, "minutes": move.minutes} for move in way.moves],
        "minutes": way.minutes,
        "work": way.work,
        "parts": list(way.parts),
        "frees": list(way.frees),
        "money": None if money is None else float(round(money, 2)),
        "look_first": list(way.look),
        "gives_up": way.gives_up or None,
        "hook_up_not_said": list(way.to_hook_up),
        "state": way.check.state.word,
        "changes": [box.id for box in way.boxes],
    }


def _answer(answer: Answer) -> str:
    return f"{say(answer.title)}: {say(answer.headline)}"


def searched(found: Cheapest) -> str:
    """Say how much a search went through, and what that proves.

    >>> searched(Cheapest(frozenset((1,)), 25, 41, 2184))
    'Nothing under 25 min makes it hold. 41 of 2,184 combinations tried, the rest ruled out'
    """
    nothing_under = f"Nothing under {found.minutes} min makes it hold"
    if not found.finished:
        return f"{nothing_under}. The search stopped after {found.checked:,} combinations"
    if found.plan is None and found.unproven:
        return f"None of these changes makes it hold. One comes close, but its hook-up isn’t proven: {found.unproven}"
    if found.plan is None:
        return f"None of these changes makes it hold. {found.checked:,} combinations tried, the rest ruled out"
    rest = f"{found.checked:,} of {found.sets:,} combinations tried, the rest ruled out"
    return f"{nothing_under}. {rest}"


def fix_text(job: Job, rows: Sequence[Mended], sums: Total) -> str:
    """The run as text."""
    names = {id: sheet.name for id, sheet in by_id(job.sheets).items()}
    lines: list[str] = []
    for one in rows:
        row = _row(job, one)
        lines.append(f"{row['name']} ({row['room']}): {row['state']}: {row['headline']}")
        if row["with_neutral"]:
            lines.append(f"  look for the neutral first: with one, it {row['with_neutral']}; without one:")
        for number, way in enumerate(row["ways"], 1):
            money = "" if way["money"] is None else f", {way['money']:.2f}"
            lines.append(f"  {number}. {way['minutes']} min, {way['work']}{money}")
            lines += [f"     {move['words']}" for move in way["moves"]]
            lines += [f"     look first: {look}" for look in way["look_first"]]
            lines += [f"     ask the customer first: {way['gives_up']}"] if way["gives_up"] else []
            lines += [f"     not hooked up yet: {', '.join(way['hook_up_not_said'])}"] * bool(way["hook_up_not_said"])
        lines += [f"  left as it is: {left}" for left in row["leaves"]]
        lines += [f"  in the way: {left}" for left in row["in_the_way"] if left not in row["leaves"]]
        lines += [f"  {row['searched']}"] if row["searched"] else [] if row["with_neutral"] else ["  nothing to do"]
    lines.append(f"In all: {sums.minutes} min")
    for words, counted in (("to buy", sums.parts), ("from leftovers", sums.reused), ("left over", sums.left)):
        if counted:
            lines.append(f"  {words}: {', '.join(f'{n} × {names.get(part, part)}' for part, n in counted)}")
    if sums.money is not None:
        lines.append(f"  parts and time: {float(sums.money):.2f}")
    elif sums.unpriced:
        lines.append(f"  without a price: {', '.join(names.get(part, part) for part in sums.unpriced)}")
    return "\n".join(lines) + "\n"
