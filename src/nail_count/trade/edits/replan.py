"""Plan the hook-up of a box again where a fact takes the place of what it was planned on."""

from __future__ import annotations

from ..assume.wired import as_usual
from ..documents import Documents, wired_with
from ..model.splice import Splice
from ..wiring.hookup.propose import Proposal, propose


def replanned(before: Documents, after: Documents, key: str) -> Documents:
    """Return the documents with the hook-up of a box proposed again; as they are where nothing changes in it.

    Only a hook-up that was proposed on assumptions, and that nobody changed since, is proposed again.

    Args:
        before: the documents as they were before the fact was entered.
        after: with the fact.
        key: the box it is about.
    """
    was, box = before.box(key), after.box(key)
    if not any(splice.ends for splice in was.splices) or box.splices != was.splices:
        return after
    usual = as_usual(wired_with(before, was), key)
    made = propose(usual.job, key) if usual.rests_on else None
    if not isinstance(made, Proposal) or _joined(made.splices[key]) != _joined(was.splices):
        return after
    again = propose(as_usual(wired_with(after, box), key).job, key)
    if not isinstance(again, Proposal) or _joined(again.splices[key]) == _joined(was.splices):
        return after
    return after.with_box(box.changed(splices=again.splices[key]))


def _joined(splices: tuple[Splice, ...]) -> frozenset[frozenset[object]]:
    return frozenset(frozenset(splice.ends) for splice in splices if splice.ends)
