"""Every form of every page is tied to the registry of edits: where it goes is there, and takes what it sends."""

from __future__ import annotations

import re
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path

import pytest
from starlette.routing import Match
from starlette.testclient import TestClient

from nail_count.demo.house import put_demo
from nail_count.trade.edits.registry import EDITS
from nail_count.web.app import make_app
from tests.test_whole import SCREENS

HOUSE = "/jobs/schoolhouse"
BESIDE = {"revision", "asked_by", "token"}
"""What every form says of itself."""
BY_OTHER_FORMS = {
    *("add-photo", "set-wish", "set-hub", "start-box", "copy-box", "remove-box", "bring-back"),
    *("say-contents", "say-run", "remove-connector"),
    *("note-serial", "name-in-hub", "note-firmware", "note-setting", "note-pair", "note-watts", "say-built"),
    *("replace-box", "put-lamps", "fit-bypass", "on-one-yoke", "module-behind", "device-for-module", "split-load"),
    *("exchange-devices", "module-to-outlet", "take-cable-out", "pull-cable", "move-splice", "remove-move-price"),
    *("module-at-fixture", "land-onward"),
    *("bring-in", "measure-here", "reveal", "add-sheet", "change-sheet", "mend", "say-usual", "ask-later"),
    "ask-house-later",
    "found-breaker",
    *("confirm-found", "work-over", "own-box", "look-at-wires", "look-at-three-way", "touch-wire", "test-again"),
    "use-measured",
}
"""Those whose forms go to a route of their own, or stand on pages the demo house has no reason to show."""


class Forms(HTMLParser):
    """The forms of a page: where each goes, and the names of its fields."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[tuple[str, str, set[str]]] = []
        self.into: set[str] | None = None

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        said = {name: value or "" for name, value in attrs}
        if tag == "form":
            self.into = set()
            if said.get("method") != "dialog":  # closes a dialog, and goes nowhere
                self.found.append((said.get("method", "get"), said.get("action", ""), self.into))
        elif tag in ("input", "select", "textarea", "button") and said.get("name") and self.into is not None:
            self.into.add(said["name"])

    def handle_endtag(self, tag: str) -> None:
        if tag == "form":
            self.into = None


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    app = make_app(Path(tmp_path_factory.mktemp("data")) / "kept.sqlite3")
    put_demo(app.state.store)
    with TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000)) as made:
        enrich(made)
        yield made


def enrich(client: TestClient) -> None:
    """Every kind of thing into one box, so that every form shows: what the demo's boxes lack."""
    box = f"{HOUSE}/boxes/kitchen-bench"
    for name, said in (
        ("add-ring", {"kind": "plaster ring", "volume": "3", "depth": "1/2"}),
        ("set-gangs", {"gangs": "4"}),
        ("add-connectors", {"count": "2"}),
        ("add-terminal-block", {"count": "1"}),
        ("add-barrier", {"after": "3"}),
        ("add-photo", {"photo": "a" * 32}),
        ("take-reading", {"kind": "volts", "of": "A1", "volts": "120", "on": "5"}),
        ("set-wish", {"what": "bench"}),
        ("add-load", {"device": "d1", "kind": "led", "each": "60 W"}),
        ("set-found", {"neutral": ""}),
    ):
        revision = re.search(r'data-revision="(\d+)"', client.get(box).text)
        assert revision
        answer = client.post(f"{box}/edit/{name}", data=said | {"revision": revision[1]})
        assert answer.status_code == 200, (name, answer.text[:300])


def all_forms(client: TestClient) -> Iterator[tuple[str, str, str, set[str]]]:
    """Page, method, address, fields of every form there is."""
    # Boxes that between them show every form: enriched, hooked up, crowded, found, an outlet, and two more.
    keys = ("kitchen-bench", "front-door", "stair-foot", "washroom", "kitchen-fan", "reading-room", "cloakroom")
    boxes = [f"{HOUSE}/boxes/{key}" for key in keys]
    pages = [f"{box}{screen}" for box in boxes for screen in SCREENS]
    pages += [
        f"{HOUSE}/boxes/stair-foot/best-order",
        f"{HOUSE}/boxes/stair-foot/fix",
        f"{HOUSE}/fixes",
        f"{HOUSE}/prices",
    ]
    pages += [f"{HOUSE}{page}" for page in ("", "/panel", "/panel?at=9", "/panel?circuit=5", "/sheets", "/sheets/new")]
    pages += [
        f"{HOUSE}/parts",
        f"{HOUSE}/parts?kind=device&of=marrowby-rocker-dimmer",
        f"{HOUSE}/day",
        f"{HOUSE}/parts/left-over/ostrel-smart-dimmer",
    ]
    pages += [f"{HOUSE}/sheets/ostrel-wide-dimmer", "/", "/practice", "/about", "/docs", "/tokens"]
    pages += [f"{HOUSE}/bring-in", f"{HOUSE}/bring-in/directory", f"{HOUSE}/take-out"]
    for page in pages:
        answer = client.get(page)
        assert answer.status_code == 200, page
        forms = Forms()
        forms.feed(answer.text)
        for method, action, fields in forms.found:
            yield page, method, action, fields


def test_every_form_goes_to_an_act_there_is_and_sends_only_what_it_takes(client: TestClient) -> None:
    routes = client.app.router.routes  # type: ignore[attr-defined]

    def leads_somewhere(method: str, path: str) -> bool:
        scope = {"type": "http", "method": method.upper(), "path": path, "root_path": "", "headers": []}
        return any(route.matches(scope)[0] is Match.FULL for route in routes)

    found: dict[str, set[str]] = {}
    for page, method, action, fields in all_forms(client):
        path = action.partition("?")[0]
        assert leads_somewhere(method, path), (page, action)
        if edit := re.fullmatch(r".*/edit/([a-z-]+)", path):
            name = edit[1]
            assert name in EDITS, (page, action)
            takes = EDITS[name].model_fields
            assert fields <= set(takes) | BESIDE, (page, name, fields - set(takes) - BESIDE)
            found.setdefault(name, set()).update(fields)
    assert set(EDITS) - set(found) == BY_OTHER_FORMS
