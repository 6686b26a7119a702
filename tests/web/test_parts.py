"""Parts as values: what is sent after an act makes the page what it would be, loaded anew."""

from __future__ import annotations

import shutil
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from tempfile import TemporaryDirectory

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nail_count.store.database import open_database
from nail_count.store.snapshots import EditConflict
from nail_count.store.store import Store
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.errors import Rejected
from nail_count.trade.wiring.hookup.stages import Stage
from nail_count.web.form_errors import NO_NOTICE, FormErrors
from nail_count.web.pages.bench.parts import bench_parts
from nail_count.web.pages.hookup.parts import hookup_parts
from nail_count.web.parts import Part, Swap, every, swaps, with_errors
from nail_count.web.shown import MOST_PAGES, Shown
from nail_count.web.templating import render_part
from tests.store import acting


@dataclass
class Element:
    """An element as a browser has it: what is written in it, and the elements in it."""

    id: str
    text: str
    inside: list[Element] = field(default_factory=list)

    def swap(self, swap: Swap) -> None:
        """What the browser's library does with it, to the first element of that name."""
        holder, at = next((one, n) for one in self.all() for n, other in enumerate(one.inside) if other.id == swap.at)
        if swap.how == "drop":
            del holder.inside[at]
            return
        assert swap.part is not None
        new = element(swap.part)
        if swap.how == "renew":
            holder.inside[at] = new
        elif swap.how == "first":
            holder.inside[at].inside.insert(0, new)
        else:
            holder.inside.insert(at + 1, new)

    def all(self) -> Iterator[Element]:
        """It and all inside, in the order of the page."""
        yield self
        for one in self.inside:
            yield from one.all()


def element(part: Part) -> Element:
    """A part as the server renders it."""
    alone = Part(part.id, part.template, part.view, (), part.errors)
    return Element(part.id, written(alone), [element(one) for one in part.inside])


def written(part: Part) -> str:
    """What stands in an element."""
    return str(part.view) if part.template == "plain" else render_part(part, ABOUT)


ABOUT = {"base": "/jobs/house/boxes/hall", "here": "/jobs/house/boxes/hall/hookup", "job": "house", "box": "hall"}


def loaded(parts: Sequence[Part]) -> Element:
    """A page with these parts."""
    return Element("page", "", [element(part) for part in parts])


@st.composite
def any_parts(draw: st.DrawFn, name: str = "p", depth: int = 0) -> Part:
    view = draw(st.integers(0, 2))
    names = draw(st.permutations("abcdefgh"))[: draw(st.integers(0, 8 if depth == 0 else 3))] if depth < 2 else []
    inside = [draw(any_parts(f"{name}{one}", depth + 1)) for one in names]
    return Part(name, "plain", view, tuple(inside))


@given(any_parts(), any_parts())
def test_any_page_becomes_any_other(before: Part, after: Part) -> None:
    page = loaded([before])
    done = swaps([before], [after])
    for swap in done:
        page.swap(swap)
    assert page == loaded([after])
    assert bool(done) == (before != after)


def test_only_what_differs_is_sent() -> None:
    """By hand: one row changed, one gone, one come; the rest of the list, and the list itself, are not sent."""
    rows = [Part(id, "plain", 0) for id in "abcd"]
    before = Part("list", "plain", "list", tuple(rows))
    after = Part("list", "plain", "list", (Part("new", "plain", 0), rows[0], Part("b", "plain", 1), rows[3]))
    sent = [(swap.how, swap.at, swap.part and swap.part.id) for swap in swaps([before], [after])]
    assert sent == [("drop", "c", None), ("first", "list", "new"), ("renew", "b", "b")]
    assert swaps([before], [before]) == ()


def test_where_most_of_a_list_differs_it_is_sent_at_once() -> None:
    """By hand, of ten rows: seven changed go with the list, six do not; all of a list that was empty come at once."""
    for changed, at in ((7, ["list"]), (6, list("abcdef"))):
        before, after = (
            Part(
                "list",
                "plain",
                0,
                tuple(Part(id, "plain", n * (place < changed)) for place, id in enumerate("abcdefghij")),
            )
            for n in (1, 2)
        )
        assert [swap.at for swap in swaps([before], [after])] == at
    full = Part("list", "plain", 0, (Part("a", "plain", 0), Part("b", "plain", 0)))
    assert [(swap.how, swap.at) for swap in swaps([Part("list", "plain", 0)], [full])] == [("renew", "list")]


def test_a_refused_act_stands_in_the_part_it_was_made_in() -> None:
    parts = (Part("a", "plain", 0, (Part("b", "plain", 0),)), Part("c", "plain", 0))
    errors = FormErrors("key", {}, ())
    assert [p.id for p in every(with_errors(parts, errors, ["form", "b", "a"])) if p.errors is errors] == ["b"]
    assert [p.id for p in every(with_errors(parts, errors, ["form"])) if p.errors is errors] == ["a", "b", "c"]


def test_a_page_is_remembered_until_many_others_were_sent() -> None:
    shown, parts = Shown(), [Part("a", "plain", 0)]
    first = shown.put(parts)
    assert shown.of(first, ["a"]) == tuple(parts) and shown.of(first, ["b"]) is None and shown.of("", ["a"]) is None
    second = shown.put(parts, instead=first)
    assert shown.of(first, ["a"]) is None and shown.of(second, ["a"])
    for _ in range(MOST_PAGES):
        shown.put(parts)
    assert shown.of(second, ["a"]) is None


ACTS: tuple[tuple[str, dict[str, str]], ...] = (
    ("add-cable", {"gauge": "14", "insulated": "2"}),
    ("add-cable", {"gauge": "12", "insulated": "3", "enters": "left"}),
    ("add-cable", {"gauge": "14", "insulated": "4", "canopy": "true"}),
    ("remove-cable", {"cable": "A"}),
    ("remove-cable", {"cable": "E"}),
    ("put-device", {"gang": "3", "sheet": "fennimar-fan-and-light"}),
    ("put-device", {"gang": "1", "sheet": "ostrel-smart-switch", "name": "Sink"}),
    ("put-device", {"gang": "2", "sheet": "marrowby-blank"}),
    ("swap-gangs", {"one": "1", "other": "2"}),
    ("remove-device", {"device": "d2"}),
    ("add-load", {"device": "d1", "quantity": "3", "each": "9 W", "kind": "led"}),
    ("connect-device", {"device": "d1", "gauge": "12", "name": "Bench"}),
    ("set-volume", {"volume": "18 in3"}),
    ("set-volume", {"volume": "60 in3"}),
    ("set-clamps", {}),
    ("set-gangs", {"gangs": "4"}),
    ("add-module", {"sheet": "tarn-one"}),
    ("connect-module", {"module": "m1", "name": "Under the shelf", "gang": "1"}),
    ("add-barrier", {"after": "1", "material": "metal"}),
    ("set-inside", {"depth": "2 in"}),
    ("set-found", {"neutral": "false"}),
    ("rename", {"name": "Counter", "room": "Scullery", "circuit": "9", "use": "control"}),
    ("put-circuit", {"id": "9", "was": "9", "breaker": "15", "label": "Scullery"}),
    ("undo", {}),
    ("redo", {}),
)
"""On the bench, and elsewhere in the house: what a page shows follows from both."""


JOINING: tuple[tuple[str, dict[str, str]], ...] = (
    ("throw", {"breaker 5": "on"}),
    ("throw", {"breaker 5": "on", "front-door/d1": "1"}),
    ("propose-hookup", {}),
    ("clear-hookup", {}),
    ("take-apart", {"end": "A1"}),
    ("take-apart", {"end": "d1-1"}),
    ("join-ends", {"end": "A1", "to": "d1-1"}),
    ("join-ends", {"end": "A2", "to": "s1"}),
    ("cap-end", {"end": "C1"}),
    ("begin-found", {}),
    ("colors-as-usual", {}),
    ("add-cable", {"gauge": "14", "insulated": "2"}),
    ("remove-device", {"device": "d2"}),
    ("undo", {}),
)
"""On the hook-up's screen, a throw among them, and on the bench beside it."""


@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
@given(
    screen=st.sampled_from(("bench", "hookup", "hookup-found")),
    acts=st.data(),
)
def test_after_any_acts_the_page_patched_is_the_page_loaded_anew(demo: Path, screen: str, acts: st.DataObject) -> None:
    """Part by part, each as it is rendered: what a template shows is in its view, and nothing else."""
    box = "kitchen-bench" if screen == "bench" else "front-door"
    said: dict[str, str] = {}

    def parts(store: Store) -> tuple[Part, ...]:
        if screen == "bench":
            return bench_parts(store.box("schoolhouse", box), NO_NOTICE)
        stage: Stage = "planned" if screen == "hookup" else "found"
        return hookup_parts(store.wired_box("schoolhouse", box), stage=stage, state=said)

    with TemporaryDirectory() as scratch:
        shutil.copy(demo, Path(scratch) / "kept.sqlite3")
        engine = open_database(Path(scratch) / "kept.sqlite3")
        store = Store(engine)
        shown = parts(store)
        page = loaded(shown)
        for name, form in acts.draw(st.lists(st.sampled_from(ACTS if screen == "bench" else JOINING), max_size=8)):
            said = form if name == "throw" else {}
            kept = store.box("schoolhouse", box)
            stage = {"stage": "found"} if screen == "hookup-found" else {}
            try:
                if name in ("undo", "redo"):
                    acting.step_box(store, "schoolhouse", box, "undo" if name == "undo" else "redo", kept.number)
                elif name != "throw":
                    store.act("schoolhouse", EDITS[name].read(form | stage | {"box": box}))
            except (Rejected, EditConflict):
                continue
            now = parts(store)
            for swap in swaps(shown, now):
                page.swap(swap)
            shown = now
            fresh = loaded(now)
            assert [one.id for one in page.all()] == [one.id for one in fresh.all()]
            assert [one.id for one, other in zip(page.all(), fresh.all(), strict=True) if one.text != other.text] == []
        engine.dispose()
