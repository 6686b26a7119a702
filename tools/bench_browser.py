"""What a person waits for, in real Chromium: from tap to painted answer, and what the first load of a bench weighs.

Beside it a bare page whose button posts to a route that commits one row and answers with one word, by the same library;
the browser's own figures say what layout and style cost an act of each (aim: at most 3 times the bare one).
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from importlib.resources import files
from itertools import count
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from bench import bare, serving
from fastapi import FastAPI
from fastapi.responses import HTMLResponse, Response
from selenium.webdriver import Chrome
from tests.browser.driving import chromium, server

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.store import Store

TAP = """
const done = arguments[0], button = document.getElementById("add-14-2");
const less = document.querySelector("#less-14-2");
const tap = document.querySelectorAll(".cables .letter").length > 8 && less ? less : button;
const begun = performance.now();
document.addEventListener("htmx:after:swap", () => requestAnimationFrame(() => {
  const channel = new MessageChannel();  // runs right after the frame is painted
  channel.port1.onmessage = () => done(performance.now() - begun);
  channel.port2.postMessage(0);
}), { once: true });
tap.click();
"""
HOOKUP = "/jobs/schoolhouse/boxes/front-door/hookup"
ACTS: dict[str, str] = {
    "an end taken apart": "ends[turn % ends.length]",
    "and joined again": "document.querySelector('#undo')",
    "all taken apart": "document.querySelector('form[action$=clear-hookup] button')",
    "proposed and proven": "document.querySelector('form[action$=propose-hookup] button')",
}
"""What is pressed on the hook-up page, in turn: another end each time, so that most states are new."""
PRESS = """
const [turn, done] = arguments, begun = performance.now();
const ends = [...document.querySelectorAll("button[form=apart]")];
document.addEventListener("htmx:after:swap", () => requestAnimationFrame(() => {
  const channel = new MessageChannel();
  channel.port1.onmessage = () => done(performance.now() - begun);
  channel.port2.postMessage(0);
}), { once: true });
(WHAT).click();
"""
WEIGHT = """
return performance.getEntriesByType("resource").concat(performance.getEntriesByType("navigation"))
  .reduce((sum, one) => sum + one.transferSize, 0)
"""


BARE_TAP = """
const done = arguments[0], begun = performance.now();
document.addEventListener("htmx:after:swap", () => requestAnimationFrame(() => {
  const channel = new MessageChannel();
  channel.port1.onmessage = () => done(performance.now() - begun);
  channel.port2.postMessage(0);
}), { once: true });
document.getElementById("act").click();
"""
BARE_PAGE = """<!doctype html><html lang="en"><title>Bare</title><script src="/htmx.js"></script>
<p id="word">0</p><button id="act" hx-post="/word" hx-target="#word" hx-swap="innerHTML">Act</button></html>"""


def bare_page(file: Path) -> FastAPI:
    """A page whose button commits one row and changes one word."""
    app = bare(file)
    script = next(files("nail_count.web").joinpath("static").glob("**/htmx*.js")).read_bytes()  # type: ignore[attr-defined]

    @app.get("/", response_class=HTMLResponse)
    def page() -> str:
        return BARE_PAGE

    @app.get("/htmx.js")
    def htmx() -> Response:
        return Response(script, media_type="text/javascript")

    @app.post("/word", response_class=HTMLResponse)
    def word() -> str:
        app.state.act()
        return str(next(words))

    words = count(1)
    return app


def laid_out(driver: Chrome) -> float:
    """Layout and style so far, by the browser's own figures [ms]."""
    told = driver.execute_cdp_cmd("Performance.getMetrics", {})["metrics"]
    figures = {one["name"]: one["value"] for one in told}
    return 1e3 * float(figures["LayoutDuration"] + figures["RecalcStyleDuration"])


def beside_bare(driver: Chrome, address: str, runs: int = 60) -> None:
    """Acts on a bench and on the bare page in turn, each in a tab of its own."""
    with tempfile.TemporaryDirectory() as scratch, serving(bare_page, Path(scratch) / "bare.sqlite3") as plain:
        tabs = {}
        for name, url in (("bare page", plain.address), ("bench", f"{address}/jobs/schoolhouse/boxes/kitchen-bench")):
            driver.switch_to.new_window("tab")
            driver.get(url)
            driver.execute_cdp_cmd("Performance.enable", {})
            tabs[name] = driver.current_window_handle
        took: dict[str, list[float]] = {name: [] for name in tabs}
        cost = dict.fromkeys(tabs, 0.0)
        for n in range(runs + 10):
            for name, tab in tabs.items():
                driver.switch_to.window(tab)
                before = laid_out(driver)
                ms = float(driver.execute_async_script(BARE_TAP if name == "bare page" else TAP))
                if n >= 10:
                    took[name].append(ms)
                    cost[name] += laid_out(driver) - before
    print(f"  in turn, {runs} acts each:")
    for name in tabs:
        middle = statistics.median(took[name])
        print(f"    {name}: tap to paint {middle:.0f} ms, layout and style {cost[name] / runs:.2f} ms")
    print(f"    layout and style, ratio {cost['bench'] / cost['bare page']:.1f}   (aim: at most 3)")


PAINTED = "return performance.getEntriesByName('first-contentful-paint')[0]?.startTime"
PAGES = (
    "", "/panel", "/map", "/progress", "/parts", "/day", "/papers", "/boxes/front-door", "/boxes/front-door/wires",
    "/boxes/front-door/choose", "/boxes/front-door/hookup", "/boxes/front-door/install",
)  # fmt: skip


def first_paints(driver: Chrome, address: str, runs: int = 7) -> None:
    """When each page of the demo first shows something, beside the About page, all in turn."""
    paths = ("/about", *(f"/jobs/schoolhouse{one}" for one in PAGES))
    took: dict[str, list[float]] = {path: [] for path in paths}
    for _ in range(runs + 1):
        for path in paths:
            driver.get(address + path)
            until = time.monotonic() + 5
            while (painted := driver.execute_script(PAINTED)) is None and time.monotonic() < until:
                time.sleep(0.02)
            took[path].append(float(painted))
    about = statistics.median(took["/about"][1:])
    print("  first paint   (aim: at most 1.5 times that of the About page)")
    for path, waits in took.items():
        middle = statistics.median(waits[1:])
        print(f"    {path}: {middle:.0f} ms, {middle / about:.2f}")


def large(folder: Path) -> None:
    """A job of two hundred boxes beside the demo house."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    boxes = tuple(demo.boxes[n % len(demo.boxes)].changed(id=f"b{n}", name=f"Box {n}") for n in range(200))
    engine = open_database(folder / "demo.sqlite3")
    Store(engine).add_job(demo.changed(boxes=boxes), "large")
    engine.dispose()


def taps(driver: Chrome, address: str, path: str, runs: int = 80) -> float:
    """Taps on the tally of one box, measured in the page: the median [ms]."""
    driver.get("about:blank")
    driver.execute_cdp_cmd("Network.clearBrowserCache", {})
    driver.get(address + path)
    weight = driver.execute_script(WEIGHT)
    driver.set_script_timeout(20)
    took = [float(driver.execute_async_script(TAP)) for _ in range(runs)][10:]
    slow = statistics.quantiles(took, n=20)[-1]
    print(f"  {path}: first load {weight / 1000:.0f} kB over the wire")
    middle = statistics.median(took)
    print(f"    tap to painted answer: median {middle:.0f} ms, 95th percentile {slow:.0f} ms, {len(took)} taps")
    return middle


def hookup(driver: Chrome, address: str, bench: float, runs: int = 40) -> None:
    """Acts on the hook-up page, each kind by itself and all of them, beside an act on the bench [ms]."""
    driver.get(address + HOOKUP)
    took: dict[str, list[float]] = {name: [] for name in ACTS}
    for turn in range(runs + 5):
        for name, what in ACTS.items():
            ms = float(driver.execute_async_script(PRESS.replace("WHAT", what), turn))
            if turn >= 5:
                took[name].append(ms)
    print(f"  {HOOKUP}: tap to painted answer")
    took["all"] = [ms for each in took.values() for ms in each]
    for name, waits in took.items():
        slow = statistics.quantiles(waits, n=20)[-1]
        middle = statistics.median(waits)
        beside = f"{middle / bench:.2f} of an act on the bench"
        print(f"    {name}: median {middle:.0f} ms, 95th percentile {slow:.0f} ms, {beside}, {len(waits)} taps")


def main() -> None:
    """Measures a box of the demo house and one of two hundred."""
    print("In Chromium   (aims: 200 kB; median 50 ms, 95th percentile 100 ms)")
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "data"
        large(folder)
        with server(folder) as address, chromium(Path(scratch) / "profile") as driver:
            first_paints(driver, address)
            bench = taps(driver, address, "/jobs/schoolhouse/boxes/kitchen-bench")
            taps(driver, address, "/jobs/large/boxes/b3")
            hookup(driver, address, bench)
            beside_bare(driver, address)


if __name__ == "__main__":
    main()
