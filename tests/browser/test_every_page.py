"""Every page there is, at four widths: nothing goes off the side, is cut, is too small to tap or to read, or jumps."""

from __future__ import annotations

import re
import shutil
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from selenium.webdriver import Chrome
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.trade.model.job import Job
from nail_count.web.app import make_app
from tests.web.visitor import Visitor

from .driving import served, view
from .hand import Hand

WIDTHS = ((390, 844), (768, 1024), (1280, 800), (1920, 1080))
HOUSE = "/jobs/schoolhouse"
TARGET, LETTERS = 44, 12
"""A finger's target and the smallest letters [CSS pixels]."""
SEARCHES = ("/day", "/fix")
"""Pages that search for long in a large house; the demo shows how they are laid out."""
STILL = 0.005
"""So much of a page may shift while it loads: rounding, by the browser's own measure."""
LONGEST = 60
"""Letters of a name, at most."""
FILES = re.compile(r"\.(pdf|csv|json|xlsx|svg|png|zip|archive)$|/(photos|static|export|table|take-out/|pdf|live)")
"""Addresses of files, and not of pages."""
MEASURE = """
const [target, letters] = arguments;
const shown = (one) => {
  const box = one.getBoundingClientRect(), style = getComputedStyle(one);
  return box.width > 1 && box.height > 1 && style.visibility !== "hidden" && !one.closest(".sr-only, .skip, svg");
};
const words = (one) => (one.textContent || one.name || "").trim().slice(0, 30);
const called = (one) => `${one.tagName} ${one.id || one.className} ${words(one)}`;
const found = [];
const page = document.documentElement;
if (page.scrollWidth > page.clientWidth) found.push(`${page.scrollWidth} wide`);
for (const one of document.querySelectorAll("main *, header *")) {
  if (!shown(one)) continue;
  const style = getComputedStyle(one), box = one.getBoundingClientRect();
  const own = [...one.childNodes].some((node) => node.nodeType === 3 && node.textContent.trim());
  if (own && parseFloat(style.fontSize) < letters) found.push(`small letters: ${called(one)}`);
  const cut = style.overflowX === "hidden" && one.scrollWidth > one.clientWidth + 1 && !one.title;
  if (own && cut) found.push(`cut: ${called(one)}`);
  for (const node of one.checkVisibility() ? one.childNodes : []) {
    const word = node.nodeType === 3 && /^\\s*([^\\s-]{2,9})\\s*$/.exec(node.textContent);
    if (!word) continue;
    const range = document.createRange(), start = node.textContent.indexOf(word[1]);
    range.setStart(node, start);
    range.setEnd(node, start + word[1].length);
    const lines = new Set([...range.getClientRects()].map((each) => Math.round(each.top)));
    if (lines.size > 1) found.push(`broken word: ${called(one)}`);
  }
  const tapped = "main :is(button:not(.word), summary, select, textarea, input:not([type=hidden]), a.button)";
  if (target && one.matches(tapped)) {
    const label = one.closest("label")?.getBoundingClientRect();
    if (Math.max(box.height, label?.height ?? 0) < target - 0.5 && style.display !== "inline") {
      found.push(`${Math.round(box.height)} high: ${called(one)}`);
    }
  }
}
return found;
"""
EMPTY = """
const half = innerHeight / 2, found = [];
const side = (one) => one.getBoundingClientRect();
const inked = (of) => {  // from where to where something is to be seen in it
  let top = Infinity, bottom = -Infinity;
  const every = document.createTreeWalker(of, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT);
  for (let node = every.nextNode(); node; node = every.nextNode()) {
    const words = node.nodeType === 3;
    if (words ? !node.textContent.trim() : !node.matches("svg, img, input, select, textarea, button")) continue;
    if (!(words ? node.parentElement : node).checkVisibility()) continue;
    const range = document.createRange();
    range.selectNode(node);
    const { top: from, bottom: to, width } = words ? range.getBoundingClientRect() : side(node);
    if (width > 1) { top = Math.min(top, from); bottom = Math.max(bottom, to); }
  }
  return { top, bottom };
};
for (const container of document.querySelectorAll("main, main *:not(svg *)")) {
  const children = [...container.children].filter((one) => one.checkVisibility() && !one.matches(".sr-only")
    && side(one).width > 60 && !["absolute", "sticky"].includes(getComputedStyle(one).position));
  const beside = (one, other) => side(other).left >= side(one).right - 1 || side(other).right <= side(one).left + 1;
  for (const one of children) {
    const own = inked(one);
    if (own.bottom === -Infinity) continue;
    const below = children.filter((other) => other !== one && !beside(one, other) && side(other).top > side(one).top);
    const next = Math.min(...below.map((other) => inked(other).top).filter((top) => top > own.bottom - 1));
    for (const other of children) {
      if (other === one || !beside(one, other)) continue;
      if (side(other).top > own.bottom || side(other).bottom < own.top) continue;
      const gap = Math.min(next, inked(other).bottom) - own.bottom;
      const called = `${one.tagName} ${one.id || one.className}`;
      if (gap > half) found.push(`${Math.round(gap)} empty under ${called}`);
    }
  }
}
return found;
"""
SHIFTS = """
window.shifts = [];
new PerformanceObserver((list) => { for (const one of list.getEntries()) if (!one.hadRecentInput) window.shifts.push(
  [one.value, ...one.sources.map((each) => each.node?.id || each.node?.className || each.node?.nodeName)]); })
  .observe({ type: "layout-shift", buffered: true });
"""


def pages(client: TestClient) -> list[str]:
    """Follow every link from the first page on, and keep one address of each kind of page."""
    kinds: dict[str, str] = {}
    todo, seen = ["/"], {"/"}
    while todo:
        path = todo.pop(0)
        kind = _kind(path)
        if kind in kinds:
            continue
        person = Visitor(client)
        person.go(path)
        kinds[kind] = path
        for link in (one.partition("#")[0] for one in person.page.links):
            parts = urlsplit(link)
            other = parts.path.startswith("/jobs/") and not f"{parts.path}/".startswith(f"{HOUSE}/")
            if link not in seen and not (parts.netloc or other or FILES.search(parts.path)):
                seen.add(link)
                todo.append(link)
    return list(kinds.values())


def _kind(path: str) -> str:
    """The kind of page an address is: its path without keys, and the names of what it asks."""
    parts = urlsplit(path)
    named = re.sub(r"/(jobs|boxes|sheets|goes|left-over)/[^/]+", r"/\1/*", parts.path)
    asked = sorted(re.findall(r"(\w+)=", parts.query))
    return f"{named}?{asked}"


def schoolhouse() -> Job:
    return read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def long_named() -> Job:
    """The demo house with names as long as may be: words, and one without a place to break."""
    job = schoolhouse()
    words = ("Wide workshop switches by the west window " * 2)[:LONGEST].strip()
    boxes = []
    for number, box in enumerate(job.boxes):
        name = ("W" * (LONGEST - 4) if number % 3 == 0 else words[: LONGEST - 4]) + f" {number}"
        boxes.append(box.changed(name=name, room=words if number % 2 else "M" * LONGEST))
    return job.changed(boxes=tuple(boxes))


def many_boxes() -> Job:
    """The demo house twelve times over."""
    job = schoolhouse()
    boxes = [
        box.changed(id=f"{box.id}-{n}", name=f"{box.name} {n}", room=f"{box.room} {n % 3}", wishes=(), planned=None)
        for n in range(13)
        for box in job.boxes
    ]
    return job.changed(boxes=tuple(boxes[:200]), runs=(), ticks=())


@pytest.fixture(scope="module")
def house(driver: Chrome, demo: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[str, list[str]]]:
    """A server with the demo, the same with long names, two hundred boxes, and nothing; and every page of the demo."""
    file = Path(shutil.copy(demo, tmp_path_factory.mktemp("every") / "demo.sqlite3"))
    store = Store(open_database(file))
    empty = schoolhouse().changed(boxes=(), runs=(), ticks=(), name="Empty")
    for key, job in (("long", long_named()), ("many", many_boxes()), ("empty", empty)):
        store.add_job(job, key)
    store.close()
    with TestClient(make_app(file), base_url="http://localhost", client=("127.0.0.1", 50000)) as client:
        every = pages(client)
    with served(file) as address:
        yield address, every
        driver.get("about:blank")
        driver.get_log("browser")  # type: ignore[no-untyped-call]  # of pages left while they still fetched something


def settled(hand: Hand, path: str) -> None:
    """A page with all it fetches for itself."""
    hand.go(path)
    hand.wait(lambda: not hand.all("#guide > .guide-next > a[href*='/next'], #plan[hx-get]"), 30)


def found(hand: Hand, path: str, target: int = 0) -> list[str]:
    """The faults with the page at hand."""
    said: Any = hand.driver.execute_script(MEASURE, target, LETTERS)
    return [f"{path}: {one}" for one in dict.fromkeys(said)]


def empty(hand: Hand, path: str) -> list[str]:
    """Areas taller than half the window where nothing is, beside something; what stays in sight leaves none."""
    said: Any = hand.driver.execute_script(EMPTY)
    return [f"{path}: {one}" for one in dict.fromkeys(said)]


def test_every_page_of_the_demo_fits_and_is_still(driver: Chrome, house: tuple[str, list[str]]) -> None:
    """Loaded on a phone, then as wide as a tablet, a laptop and a large screen."""
    address, every = house
    assert len(every) > 40, every
    hand, wrong = Hand(driver, address), list[str]()
    script = driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": SHIFTS})["identifier"]
    for path in every:
        view(driver, *WIDTHS[0])
        settled(hand, path)
        wrong += found(hand, path, TARGET)
        shifts = driver.execute_script("return window.shifts")
        wrong += [f"{path} jumps: {shifts}"] if sum(one[0] for one in shifts) > STILL else []
        for width in WIDTHS[1:]:
            view(driver, *width)
            wrong += [f"{one} at {width[0]}" for one in [*found(hand, path), *empty(hand, path)]]
    driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", {"identifier": script})
    assert wrong == []


@pytest.mark.parametrize("job", ["long", "many", "empty"])
def test_other_houses_fit_too(driver: Chrome, house: tuple[str, list[str]], job: str) -> None:
    """Names as long as may be, two hundred boxes, none at all: on a phone, then as wide as the others."""
    address, every = house
    hand, wrong = Hand(driver, address), list[str]()
    skipped = {"long": SEARCHES, "many": ("/boxes/", *SEARCHES), "empty": ("/boxes/", "/left-over/", "box=", "kind=")}[
        job
    ]
    for path in every:
        if path.startswith(HOUSE) and not any(one in path for one in skipped):
            view(driver, *WIDTHS[0])
            hand.go(path.replace(HOUSE, f"/jobs/{job}"))
            wrong += found(hand, path)
            for width in WIDTHS[1:]:
                view(driver, *width)
                wrong += [f"{one} at {width[0]}" for one in found(hand, path)]
    assert wrong == []
