"""Sections as values: what is sent after an act makes the page what it would be, loaded anew."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path
from tempfile import TemporaryDirectory

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from starlette.testclient import TestClient

from nail_count.store.database import open_database
from nail_count.store.snapshots import EditConflict
from nail_count.store.store import Store
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.errors import Rejected
from nail_count.trade.wiring.hookup.stages import Stage
from nail_count.web.app import make_app
from nail_count.web.form_errors import NO_NOTICE, FormErrors
from nail_count.web.pages.bench.sections import bench_sections
from nail_count.web.pages.hookup.sections import hookup_sections
from nail_count.web.sections import Section, changed, every, with_errors
from nail_count.web.templating import render_sections
from tests.store import acting

ABOUT = {"base": "/jobs/house/boxes/hall", "here": "/jobs/house/boxes/hall/hookup", "job": "house", "box": "hall"}
BENCH = "/jobs/schoolhouse/boxes/kitchen-bench"
ALL = {
    "verdict-section", "tally", "front-section", "ledger", "quick-section", "gangs-section", "facts", "history-section",
}  # fmt: skip


def test_a_refused_act_stands_in_the_section_it_was_made_in() -> None:
    sections, errors = (Section("a", "t", 0), Section("b", "t", 0)), FormErrors("key", {}, ())
    assert [one.id for one in with_errors(sections, errors, ["form", "b", "main"]) if one.errors is errors] == ["b"]
    assert [one.id for one in with_errors(sections, errors, ["form"]) if one.errors is errors] == ["a", "b"]
    nested = (Section("outer", "t", 0, (Section("in", "t", 0),)),)
    assert [one.id for one in every(with_errors(nested, errors, ["in", "outer"])) if one.errors is errors] == ["in"]


def test_a_section_is_sent_unless_the_page_shows_it_as_it_is() -> None:
    now = [Section("a", "t", 1), Section("b", "t", 1), Section("c", "t", 1)]
    shown = {"a": now[0].digest, "b": Section("b", "t", 2).digest}
    assert [one.id for one in changed(now, shown)] == ["b", "c"]


def test_what_is_inside_a_section_is_sent_alone_or_with_it() -> None:
    outer, other = (Section("outer", "t", view, (Section("in", "t", 1), Section("too", "t", 1))) for view in (1, 2))
    shown = {"outer": outer.digest, "in": outer.inside[0].digest, "too": "other"}
    assert [one.id for one in changed([outer], shown)] == ["too"]
    assert [one.id for one in changed([other], shown)] == ["outer"]
    fewer = Section("outer", "t", 1, outer.inside[:1])
    assert [one.id for one in changed([fewer], shown)] == ["outer"]


def sent_for(client: TestClient, page: str, **form: str) -> set[str]:
    """The ids of the sections that come for a cable added, from a page that shows what `page` says it shows."""
    shown = re.findall(r'id="([\w-]+)" data-digest="(\w+)"', page)
    revision = re.search(r'id="shown" data-revision="(\d+)"', page)
    assert revision is not None
    headers = {"HX-Request": "true", "X-Sections": " ".join("=".join(one) for one in shown)}
    body = {"gauge": "14", "insulated": "2", "revision": revision[1], "token": os.urandom(8).hex()} | form
    answer = client.post(f"{BENCH}/edit/add-cable", data=body, headers=headers)
    return set(re.findall(r'<hx-partial id="([\w-]+)">', answer.text)) - {"shown"}


def test_after_a_restart_an_act_sends_only_what_differs(demo: Path, tmp_path: Path) -> None:
    """Another program answers the act than the one that sent the page, as after a restart, or behind several."""
    shutil.copy(demo, tmp_path / "kept.sqlite3")
    with TestClient(make_app(tmp_path / "kept.sqlite3"), base_url="http://localhost") as client:
        page = client.get(BENCH).text
    with TestClient(make_app(tmp_path / "kept.sqlite3"), base_url="http://localhost") as client:
        sent = sent_for(client, page)
        assert "verdict-section" in sent and not sent & {"facts", "tally", "other-cable"}
        assert sent_for(client, client.get(BENCH).text.replace("data-digest", "data-none")) == ALL


def test_a_digest_is_the_same_in_every_process(demo: Path, tmp_path: Path) -> None:
    """Nothing in a view depends on the order of a set, or on where an object lies in memory."""
    shutil.copy(demo, tmp_path / "kept.sqlite3")
    code = f"""
from pathlib import Path
from nail_count.store.database import open_database
from nail_count.store.store import Store
from tests.web.test_sections import digests
print(digests(Store(open_database(Path({str(tmp_path / "kept.sqlite3")!r})))))
"""
    told = [
        subprocess.run(
            [sys.executable, "-c", code], env=os.environ | {"PYTHONHASHSEED": hashed}, capture_output=True, text=True,
            check=True, timeout=120,
        ).stdout
        for hashed in ("1", "2")
    ]  # fmt: skip
    assert told[0] == told[1] and len(told[0].split()) > len(ALL)


def digests(store: Store) -> str:
    """Every digest of three screens of a box, each beside its section."""
    wired = store.wired_box("schoolhouse", "front-door")
    sections = [
        *bench_sections(store.box("schoolhouse", "front-door"), NO_NOTICE),
        *hookup_sections(wired, stage="planned", state={}),
        *hookup_sections(wired, stage="found", state={}),
    ]
    return " ".join(f"{one.id}={one.digest}" for one in sections)


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


def written(sections: Iterable[Section]) -> dict[str, str]:
    """Every section as it is rendered, with all inside of it."""
    all_of_them = list(every(sections))
    return dict(zip((one.id for one in all_of_them), map(str, render_sections(all_of_them, ABOUT)), strict=True))


def whole(sections: Iterable[Section]) -> str:
    """The page that these sections make."""
    return "\n".join(map(str, render_sections(sections, ABOUT)))


@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
@given(
    screen=st.sampled_from(("bench", "hookup", "hookup-found")),
    acts=st.data(),
)
def test_after_any_acts_the_page_patched_is_the_page_loaded_anew(demo: Path, screen: str, acts: st.DataObject) -> None:
    """Section by section, each as it is rendered: what a template shows is in its view, and nothing else."""
    box = "kitchen-bench" if screen == "bench" else "front-door"
    said: dict[str, str] = {}

    def sections(store: Store) -> tuple[Section, ...]:
        if screen == "bench":
            return bench_sections(store.box("schoolhouse", box), NO_NOTICE)
        stage: Stage = "planned" if screen == "hookup" else "found"
        return hookup_sections(store.wired_box("schoolhouse", box), stage=stage, state=said)

    with TemporaryDirectory() as scratch:
        shutil.copy(demo, Path(scratch) / "kept.sqlite3")
        engine = open_database(Path(scratch) / "kept.sqlite3")
        store = Store(engine)
        shown = written(sections(store))
        page = whole(sections(store))
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
            now = sections(store)
            digests = dict(re.findall(r'id="([\w-]+)" data-digest="(\w+)"', page))
            assert set(digests) == set(shown)
            for sent in changed(now, digests):
                assert page.count(shown[sent.id]) == 1
                page = page.replace(shown[sent.id], whole([sent]))
            shown = written(now)
            assert page == whole(now)
        engine.dispose()
