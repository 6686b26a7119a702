"""A page as a few sections: an act sends those that differ from what the page shows, and the server remembers none."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from hashlib import blake2b

from .form_errors import NO_ERRORS, FormErrors


@dataclass(frozen=True)
class Section:
    """One element of a page, rendered by one template from one value."""

    id: str
    """Of the element, unique on the page."""
    template: str
    """Renders one element that bears this id, and the digest where it is compared."""
    view: object
    """What the template shows; two sections with equal views look the same."""
    inside: tuple[Section, ...] = ()
    """Sections within it that often change alone, such as one gang of a box."""
    errors: FormErrors = NO_ERRORS
    """Of a form in it that was refused."""

    @cached_property
    def digest(self) -> str:
        """Return a short name for what the section itself shows, the same in every process.

        >>> one, same, other = Section("count", "", 1), Section("count", "", 1), Section("count", "", 2)
        >>> one.digest == same.digest != other.digest
        True
        """
        shows = (self.view, self.errors, [one.id for one in self.inside])
        return blake2b(repr(shows).encode(), digest_size=9).hexdigest()


def shown_by(header: str) -> dict[str, str]:
    """Read the digest of each section a page shows, by the section's id, as the page's script sends them.

    >>> shown_by("count=8a tally=01 =x junk")
    {'count': '8a', 'tally': '01'}
    """
    pairs = (one.partition("=") for one in header.split())
    return {id: digest for id, _, digest in pairs if id and digest}


def changed(sections: Iterable[Section], shown: Mapping[str, str]) -> Iterator[Section]:
    """Yield the sections that a page does not show as they are now; where one is sent, all inside comes with it.

    Args:
        shown: the digest of each section the page shows, by its id; a section without one is sent.
    """
    for one in sections:
        if one.id not in shown or shown[one.id] != one.digest:
            yield one
        else:
            yield from changed(one.inside, shown)


def with_errors(sections: Sequence[Section], errors: FormErrors, within: Sequence[str]) -> list[Section]:
    """Return the sections with a refused act in the one it was made in; in all of them where that is not known.

    Args:
        within: ids of the elements its form stands in, the innermost first.
    """
    if errors is NO_ERRORS:
        return list(sections)
    named = {one.id for one in every(sections)}
    return _refused(sections, errors, next((id for id in within if id in named), None))


def _refused(sections: Iterable[Section], errors: FormErrors, at: str | None) -> list[Section]:
    return [
        replace(
            one,
            inside=tuple(_refused(one.inside, errors, at)),
            errors=errors if at in (one.id, None) else one.errors,
        )
        for one in sections
    ]


def every(sections: Iterable[Section]) -> Iterator[Section]:
    """Yield the sections and all inside of them."""
    for one in sections:
        yield one
        yield from every(one.inside)
