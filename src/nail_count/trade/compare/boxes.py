"""The differences between two states of a box, in sentences."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ..model.box import Box
from ..model.contents import Built, Contents
from ..model.datasheet import Datasheet
from ..wiring.hookup.work import arriving
from . import words


def differences(before: Box, after: Box, sheets: Mapping[str, Datasheet]) -> tuple[str, ...]:
    """One sentence for each thing that differs in `after`; () where the two are the same.

    What things are called inside a box does not count, nor when a thing was noted, nor its pictures beyond how many.

    Args:
        before: one state of a box.
        after: another.
        sheets: the sheets the devices of either name, by id.

    >>> from nail_count.trade.model.wire import Cable
    >>> one = Box(id="b", name="Hall", room="Hall")
    >>> other = one.changed(name="Landing", cables=(Cable(id="A", gauge=14, insulated=2),))
    >>> differences(one, other, {})
    ('Name: Hall → Landing', 'Cable A more: 14/2, 1 ground, ends, from the top')
    """
    return tuple(_sentences(before, after, sheets))


def from_found(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[str, ...]:
    """Return how the plan differs from what was found; () where nothing was. A new device of the same model is one.

    Args:
        box: as found and as planned.
        sheets: of everything in it, by id.
    """
    if box.found is None:
        return ()
    planned = box.changed(planned=box.planned.staying(None)) if box.planned else box
    told = differences(box.as_in(box.found), planned, sheets)
    there, new = {(one.gang, one.sheet) for one in box.found.devices}, arriving(box)
    devices = box.planned.devices if box.planned else ()
    alike = [one for one in devices if one.id in new and (one.gang, one.sheet) in there]
    return (*told, *(f"Gang {one.gang}: a new {sheets[one.sheet].name} in place of the old one" for one in alike))


def _sentences(before: Box, after: Box, sheets: Mapping[str, Datasheet]) -> Iterator[str]:
    yield from _things(words.box_facts(before), words.box_facts(after))
    yield from _contents(before, before.contents, after, after.contents, sheets)
    for told in (words.conductor_words, words.reading_words, words.live_words, words.wish_words):
        yield from _things(told(before), told(after))
    for title, was, now in (("found", before.found, after.found), ("built", before.built, after.built)):
        if was and now:
            yield from (f"As {title}: {one}" for one in _contents(before, was, after, now, sheets))
        elif was or now:
            yield f"What was {title}: {'recorded' if was else 'not recorded'} → {'recorded' if now else 'not recorded'}"


def _contents(before: Box, was: Contents, after: Box, now: Contents, sheets: Mapping[str, Datasheet]) -> Iterator[str]:
    """The differences in it at one stage."""
    yield from _things(words.contents_facts(was), words.contents_facts(now))
    yield from _things(words.cable_words(before, was), words.cable_words(after, now))
    yield from _things(words.device_words(was, sheets), words.device_words(now, sheets))
    spliced, joined = words.splice_words(was, sheets), words.splice_words(now, sheets)
    same = set(spliced.values()) & set(joined.values())  # by whatever mark: a proposal makes new marks
    yield from _things(*({id: said for id, said in each.items() if said not in same} for each in (spliced, joined)))
    yield from _things(words.assumed_words(was), words.assumed_words(now))
    if isinstance(was, Built) and isinstance(now, Built):
        yield from _things(words.commissioned_words(was), words.commissioned_words(now))


def _things(before: words.Words, after: words.Words) -> Iterator[str]:
    for name in dict.fromkeys((*before, *after)):
        old, new = before.get(name), after.get(name)
        if old is None:
            yield f"{name} more: {new}"
        elif new is None:
            yield f"{name} gone: {old}"
        elif old != new:
            yield f"{name}: {old} → {new}"
