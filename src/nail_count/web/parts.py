"""A screen as a row of parts, each a value: what an act left equal is neither rendered nor sent."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from .form_errors import NO_ERRORS, FormErrors


@dataclass(frozen=True, slots=True)
class Part:
    """One element of a page, with everything that is shown in it."""

    id: str
    """Of the element, unique on the page."""
    template: str
    """What renders it: a template of one element that bears this id."""
    view: object
    """What the template shows; two parts with equal views look the same."""
    inside: tuple[Part, ...] = ()
    """The parts it holds, in order; they are its last elements, and nothing stands between them. Where the same ones
    are always there, its template may put them anywhere."""
    errors: FormErrors = NO_ERRORS
    """Of a form in it that was refused."""

    @property
    def shell(self) -> tuple[object, ...]:
        """All of it but the parts inside."""
        return (self.id, self.template, self.view, self.errors)


How = Literal["renew", "drop", "first", "after"]


@dataclass(frozen=True, slots=True)
class Swap:
    """One change of a page that shows some parts already."""

    how: How
    at: str
    """Which element it is done to: the one renewed or dropped, the one it goes into first, the one it goes after."""
    part: Part | None = None
    """The content; None where one is dropped."""


MANY = 6
MOST = 0.6
"""So many parts changed, and this share of all that stand in one, are sent at once with what they stand in."""


def swaps(before: Sequence[Part], after: Sequence[Part]) -> tuple[Swap, ...]:
    """What makes a page that shows some parts show others.

    The same parts must stand at the top, by id and order; inside of one any may come, go and change places.

    >>> a, b = Part("a", "t", 1), Part("b", "t", 1)
    >>> [(swap.how, swap.at) for swap in swaps([Part("top", "t", 0, (a,))], [Part("top", "t", 0, (a, b))])]
    [('after', 'a')]
    """
    assert [part.id for part in before] == [part.id for part in after], "expected the same parts at the top"
    return tuple(swap for old, new in zip(before, after, strict=True) for swap in _swaps(old, new))


def _swaps(old: Part, new: Part) -> Iterator[Swap]:
    if old == new:  # told at once, in the interpreter's own comparison of values
        return
    if old.shell != new.shell or not _same_order(old.inside, new.inside):
        yield Swap("renew", new.id, new)
        return
    was, ids = {part.id: part for part in old.inside}, {part.id for part in new.inside}
    found = [Swap("drop", id) for id in was if id not in ids]
    whole, at, how = len(found), new.id, "first"
    for part in new.inside:
        if part.id in was:
            inside = tuple(_swaps(was[part.id], part))
            found += inside
            whole += any(swap.at == part.id and swap.how == "renew" for swap in inside)
        else:
            found.append(Swap("after" if how == "after" else "first", at, part))
            whole += 1
        at, how = part.id, "after"
    if (whole > 1 and not was) or (whole >= MANY and whole > MOST * len(ids | set(was))):
        yield Swap("renew", new.id, new)
    else:
        yield from found


def _same_order(old: Iterable[Part], new: Sequence[Part]) -> bool:
    """Whether what stays inside stays in its order, and something stays if anything was there."""
    before, after = [part.id for part in old], [part.id for part in new]
    if before == after:
        return True
    ids = set(after)
    stays = [id for id in before if id in ids]
    known = set(before)
    return stays == [id for id in after if id in known] and bool(stays) == bool(before)


def with_errors(parts: Sequence[Part], errors: FormErrors, within: Sequence[str]) -> tuple[Part, ...]:
    """The parts with a refused act in the one it was made in; in all of them where it is not known which.

    Args:
        parts: of the page.
        errors: the refused act.
        within: ids of the elements its form stands in, the innermost first.
    """
    if errors is NO_ERRORS:
        return tuple(parts)
    named = {part.id for part in every(parts)}
    at = next((id for id in within if id in named), None)
    return tuple(_refused(part, errors, at) for part in parts)


def _refused(part: Part, errors: FormErrors, at: str | None) -> Part:
    inside = tuple(_refused(one, errors, at) for one in part.inside)
    return replace(part, inside=inside, errors=errors if at in (part.id, None) else part.errors)


def every(parts: Iterable[Part]) -> Iterator[Part]:
    """The parts and all inside of them."""
    for part in parts:
        yield part
        yield from every(part.inside)
